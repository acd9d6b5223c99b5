//! From five answers to a whole plan: proposals, what cannot be, and "Use this".

use anyhow::{Context, Result, bail, ensure};
use brick_e2e::Browser;

use super::{COUNTS, saved};

/// A kind of job as a maker knows it: kind, battery by its picture, the voltage printed on it, what it draws, how long.
const KINDS: [(&str, &str, &str, &str, &str); 3] = [
    ("motor tool", "nickel", "14.4", "6 A", "20 min"),
    ("pump or fan", "lead_acid", "12", "3 A", "1 h"),
    ("handheld with a gauge", "alkaline", "6", "0.2 A", "10 h"),
];
const PROPOSALS: &str = "[data-testid='proposals']";
/// So often the usual wait is begun again.
const PATIENCE: u32 = 4;
/// Fields and clicks from the first page to a whole plan.
const MOST: (u32, u32) = (8, 12);

/// Waits while plans are put together, beside another house at the same work, until all are there, more than so many. The first is shown before.
async fn proposed(b: &Browser, more_than: usize) -> Result<()> {
    for _ in 0..PATIENCE {
        let there = async || {
            let all = b.text("main h2").await?.ends_with("to convert it");
            Ok((all && b.count(&format!("{PROPOSALS} li")).await? > more_than).then_some(()))
        };
        if b.until("proposals", there).await.is_ok() {
            return Ok(());
        }
    }
    bail!("no more than {more_than} proposals")
}

pub async fn five_answers_lead_to_a_whole_plan(b: &Browser) -> Result<()> {
    for kind in KINDS {
        answered(b, kind).await.with_context(|| kind.0.to_owned())?;
    }
    Ok(())
}

async fn answered(b: &Browser, (kind, battery, volts, draws, run): (&str, &str, &str, &str, &str)) -> Result<()> {
    b.open("/").await?;
    b.tally();
    b.click_text("New plan").await?;
    b.type_into("main", "Name", "Tide clock").await?;
    b.select("main", "Kind of job", kind).await?;
    b.click(&format!("[data-picture='{battery}']")).await?;
    b.click("[data-picture='keyed_plug']").await?;
    b.type_into("main", "Voltage printed on it", volts).await?;
    b.type_into("main", "Usual current", draws).await?;
    b.type_into("main", "Run time you want", run).await?;
    b.click_text("Propose whole plans").await?;
    proposed(b, 0).await?;
    let count = b.count(&format!("{PROPOSALS} li")).await?;
    ensure!((2..=6).contains(&count), "{count} proposals");
    b.text_is("[data-testid='assumed']", |t| t.contains("cells in series")).await?;
    let name = b.text("[data-proposal='A'] .name b").await?;
    b.click_text("Use this").await?;
    saved(b).await?;
    // One change, that Undo takes back.
    b.text_is(COUNTS, |t| name.contains(t.split('P').next().unwrap_or_default())).await?;
    b.css("[aria-label='Undo']:not([disabled])").await?;
    b.text_is(super::FINDINGS, |t| !t.contains("stop")).await?;
    let (fields, clicks) = b.tally();
    let kept = "const r = new XMLHttpRequest();
        r.open('GET', '/api/plans/' + location.pathname.split('/')[2], false); r.send();
        return JSON.parse(r.responseText).plan.device.connector";
    ensure!(b.script(kept).await? == "small keyed plug", "the plug that was shown is not in the plan");
    println!("five answers, {kind}: {fields} fields, {clicks} clicks, {count} proposals, {name}");
    ensure!(fields <= MOST.0 && clicks <= MOST.1, "{fields} fields and {clicks} clicks");
    Ok(())
}

pub async fn wishes_are_kept_and_two_are_laid_side_by_side(b: &Browser) -> Result<()> {
    let plan = super::plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/propose")).await?;
    proposed(b, 0).await?;
    b.press(b.xpath("//label[contains(., 'From the survey alone')]/input").await?).await?;
    proposed(b, 2).await?;
    b.click("[data-proposal='A'] .lay input").await?;
    b.click("[data-proposal='B'] .lay input").await?;
    b.text_is("[data-testid='compare-proposals']", |t| t.contains("board") && t.contains("runs")).await?;
    b.press(b.xpath("//label[contains(., 'No welding')]/input").await?).await?;
    b.until("packs alone", async || {
        let said =
            b.script("return [...document.querySelectorAll('[data-proposal] .say')].map(e => e.textContent)").await?;
        let said: Vec<String> = said.as_array().into_iter().flatten().map(|t| t.to_string()).collect();
        Ok((!said.is_empty() && said.iter().all(|t| t.contains("No welding"))).then_some(()))
    })
    .await?;
    b.click("[data-proposal='A'] .act .textlink").await?;
    b.text_is("[data-proposal='A'] .parts", |t| t.contains("pack") && t.contains("charger")).await?;
    Ok(())
}
