//! `dense-brick diagnose`: which fault explains readings, and what to read next.

use std::path::PathBuf;

use anyhow::{Context, anyhow, bail};
use brick_core::Plan;
use brick_core::diagnose::{Symptom, diagnose, read_taken};

use super::read_input;

/// What to diagnose.
#[derive(Debug, clap::Args)]
pub struct Diagnose {
    /// A *.brick.json file, or - for standard input.
    plan: PathBuf,
    /// A CSV table with the columns red, black, condition (rest, on, charging) and volts. Points: B0..Bn joints, T0..Tn pins of
    /// the tap plug, Pm the board's output minus, F and S behind fuse and switch, Dp and Dm at the device, Jp and Jm at the jack.
    readings: PathBuf,
    /// What is seen: dead, dies-after-seconds, dies-early, slow, hot, lamp-flickers, green-at-once, never-green, charges-slowly,
    /// no-output-until-charged, fuse-blows, display-dances, flat-after-a-week.
    #[arg(long, value_parser = symptom)]
    symptom: Vec<Symptom>,
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

/// Prints the diagnosis as JSON.
pub fn run(wanted: &Diagnose) -> anyhow::Result<()> {
    let text = read_input(&wanted.plan)?;
    let plan = Plan::from_json(&text).with_context(|| wanted.plan.display().to_string())?;
    let taken = read_taken(&read_input(&wanted.readings)?)
        .map_err(|errors| anyhow!("{}:\n{}", wanted.readings.display(), lines(&errors)))?;
    match diagnose(&plan, &taken, &wanted.symptom) {
        Ok(found) => println!("{}", serde_json::to_string_pretty(&found)?),
        Err(errors) => bail!("{}", lines(&errors)),
    }
    Ok(())
}

fn lines(errors: &[impl ToString]) -> String {
    errors.iter().map(ToString::to_string).collect::<Vec<_>>().join("\n")
}
