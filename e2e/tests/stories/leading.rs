//! A beginner who only follows the next step: what it takes to a plan without stops, counted.

use anyhow::{Context, Result, bail, ensure};
use brick_e2e::Browser;

use super::{FINDINGS, saved};

const MAIN: &str = "main";
const NEXT: &str = "[data-testid='next']";
/// Most steps that a plan may take.
const MOST_STEPS: usize = 40;
/// Fields and clicks that are the goal.
const MOST: (u32, u32) = (15, 25);

/// Kinds of job with the chemistry of the old battery as the list has it, its cells, and what the device draws.
const KINDS: [(&str, &str, &str, &str); 3] = [
    ("motor tool", "NiMH or NiCd", "12", "5 A"),
    ("pump or fan", "lead-acid (2 V cells)", "6", "3 A"),
    ("toy or model", "NiMH or NiCd", "12", "2 A"),
];

pub async fn a_beginner_follows_the_next_step_to_a_plan_without_stops(b: &Browser) -> Result<()> {
    for kind in KINDS {
        follow(b, kind).await.with_context(|| kind.0.to_owned())?;
    }
    Ok(())
}

async fn follow(b: &Browser, (kind, chemistry, cells, draws): (&str, &str, &str, &str)) -> Result<()> {
    b.open("/").await?;
    b.tally();
    b.click_text("New plan").await?;
    b.type_into("main", "Name", "First pack").await?;
    b.select("main", "Kind of job", kind).await?;
    b.click_text("Stage by stage").await?;
    b.css(NEXT).await?;
    let (mut pages, mut followed) = (vec![], vec![]);
    for _ in 0..MOST_STEPS {
        saved(b).await?;
        let next = b.css(NEXT).await?;
        let (says, at) = (next.text().await?, next.attr("data-next-at").await?.unwrap_or_default());
        let class = next.attr("class").await?.unwrap_or_default();
        followed.push(says.clone());
        let done = class.contains("decide") || class.contains("build");
        let known = at.starts_with("/device/original/")
            || ["/device/highest_v", "/device/lowest_v", "/device/loads"].contains(&at.as_str());
        if done || (class.contains("measure") && !known) {
            break;
        }
        // What lies open on the page already is seen without being led to it.
        if at.is_empty() || b.count(&format!("[data-at='{at}']")).await? == 0 {
            b.click(NEXT).await?;
        }
        step(b, &class, &at, (chemistry, cells, draws)).await.with_context(|| format!("{followed:#?}"))?;
        let page = b.script("return location.pathname.split('/').at(-1)").await?.to_string();
        if pages.last() != Some(&page) {
            pages.push(page);
        }
        let before = says;
        b.until("another next step", async || {
            let now = b.css(NEXT).await?.text().await?;
            Ok((now != before).then_some(()))
        })
        .await
        .with_context(|| format!("{followed:#?}"))?;
    }
    b.text_is(FINDINGS, |t| !t.contains("stop")).await.with_context(|| format!("{followed:#?}"))?;
    b.text_is("[data-plate='run.time_s']", |t| t.contains('h') || t.contains("min"))
        .await
        .with_context(|| format!("{followed:#?}"))?;
    let (fields, clicks) = b.tally();
    println!("a beginner, {kind}: {fields} fields, {clicks} clicks, {} pages", pages.len());
    ensure!(fields <= MOST.0 && clicks <= MOST.1, "{fields} fields and {clicks} clicks: {followed:#?}");
    Ok(())
}

/// What a beginner does where the next step leads.
async fn step(b: &Browser, class: &str, at: &str, (chemistry, cells, draws): (&str, &str, &str)) -> Result<()> {
    if class.contains("clear_stop") {
        b.click(".finding.stop :not([inert]) > [data-testid='fix']").await?;
        return Ok(());
    }
    match at {
        "/device/original/chemistry" => b.select(MAIN, "Chemistry", chemistry).await?,
        "/device/original/series" => b.type_into(MAIN, "Cells in series", cells).await?,
        "/device/highest_v" => b.type_into("[data-at='/device/highest_v']", "Maximum", "18 V").await?,
        "/device/lowest_v" => b.type_into("[data-at='/device/lowest_v']", "Minimum", "11 V").await?,
        "/device/loads" => {
            b.click_text("Usual current").await?;
            b.type_into("[data-load='load-1']", "Draws", draws).await?;
        }
        "/packs/0/chemistry" => {
            b.click("li[data-option*='4S Li-ion, direct'] button[aria-label^='Choose']").await?;
        }
        _ => {
            // The list of the place is open where nothing is chosen yet; the best that fits stands first.
            let place = format!("[data-at='{at}'] ol.list li:first-child button[aria-label^='Use']");
            if b.css(&place).await.is_err() {
                bail!("nothing to choose at {at}");
            }
            b.click(&place).await?;
        }
    }
    Ok(())
}
