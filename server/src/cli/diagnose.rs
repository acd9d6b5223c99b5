//! `dense-brick diagnose`: which fault explains readings, and what to read next.

use std::path::PathBuf;

use anyhow::{Context, anyhow, bail};
use brick_core::Plan;
use brick_core::diagnose::{Answered, Evidence, Symptom, diagnose, read_taken};
use brick_core::plan::FieldError;

use super::read_input;

/// What to diagnose.
#[derive(Debug, clap::Args)]
pub struct Diagnose {
    /// A *.brick.json file, or - for standard input.
    plan: PathBuf,
    /// A CSV table with the columns red, black, condition (rest, on, charging) and volts. Points: B0..Bn joints, T0..Tn pins of
    /// the tap plug, Pm the board's output minus, F and S behind fuse and switch, Dp and Dm at the device, Jp and Jm at the jack.
    readings: Option<PathBuf>,
    /// What is seen: dead, dies-after-seconds, dies-early, slow, starts-hard, hot, fuse-blows, chatters,
    /// drops-out-at-change-over, lamp-flickers, green-at-once, never-green, never-full, charges-slowly, no-output-until-charged,
    /// board-never-opens, gauge-stuck, gauge-wrong, display-dances, flat-after-a-week.
    #[arg(long, value_parser = symptom)]
    symptom: Vec<Symptom>,
    /// An answer to a question that was asked, as setting=weak.
    #[arg(long, value_parser = answered)]
    answer: Vec<Answered>,
}

fn symptom(word: &str) -> Result<Symptom, String> {
    let name =
        |s: &Symptom| serde_json::to_value(s).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
    let all = Symptom::ALL;
    all.iter().find(|s| name(s) == word).copied().ok_or_else(|| {
        if ["smell", "swelling", "hiss"].contains(&word) {
            return "smell, swelling or a hiss is not diagnosed: take the pack outdoors at once and keep away"
                .to_owned();
        }
        format!("one of {}", all.iter().map(name).collect::<Vec<_>>().join(", "))
    })
}

fn answered(text: &str) -> Result<Answered, String> {
    let (question, answer) = text.split_once('=').ok_or("question=answer, as setting=weak")?;
    Ok(Answered { question: question.to_owned(), answer: answer.to_owned() })
}

/// Prints the diagnosis as JSON.
pub fn run(wanted: &Diagnose) -> anyhow::Result<()> {
    let text = read_input(&wanted.plan)?;
    let plan = Plan::from_json(&text).with_context(|| wanted.plan.display().to_string())?;
    let table = match &wanted.readings {
        Some(path) => {
            read_taken(&read_input(path)?).map_err(|errors| anyhow!("{}:\n{}", path.display(), lines(&errors)))?
        }
        None => vec![],
    };
    let (at_line, readings): (Vec<usize>, Vec<_>) = table.into_iter().unzip();
    let evidence = Evidence { readings, seen: wanted.symptom.clone(), answers: wanted.answer.clone() };
    match diagnose(&plan, &evidence) {
        Ok(found) => println!("{}", serde_json::to_string_pretty(&found)?),
        Err(errors) => bail!("{}", errors.iter().map(|e| placed(e, &at_line)).collect::<Vec<_>>().join("\n")),
    }
    Ok(())
}

/// What is wrong with a reading, by its line in the table.
fn placed(error: &FieldError, at_line: &[usize]) -> String {
    let in_table = error.field.strip_prefix("/readings/").and_then(|rest| {
        let (index, field) = rest.split_once('/')?;
        Some(format!("line {}, {field}: {}", at_line.get(index.parse::<usize>().ok()?)?, error.message))
    });
    in_table.unwrap_or_else(|| error.to_string())
}

fn lines(errors: &[impl ToString]) -> String {
    errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}
