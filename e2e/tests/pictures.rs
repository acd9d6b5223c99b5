//! Pictures of every main view, made from the demo data: `BRICK_PICTURES=folder`.

use std::path::Path;

use anyhow::{Context, Result};
use brick_e2e::Browser;

use crate::stories::building::{UNTIL, type_reading};

const STAGES: [&str; 9] = ["path", "device", "voltage", "cells", "brick", "protection", "charging", "wiring", "run"];

/// Takes the pictures kept in docs/screenshots.
pub async fn take(b: &Browser, folder: &Path) -> Result<()> {
    std::fs::create_dir_all(folder)?;
    b.open("/").await?;
    b.script("localStorage.clear()").await?;
    b.open("/").await?;
    b.css("li.plan").await?;
    save(b, folder, "plans").await?;
    let sound = plan_path(b, "Bait boat").await?;
    let flawed = plan_path(b, "Hedge shears").await?;
    for stage in STAGES {
        let plan = if matches!(stage, "run" | "charging") { &sound } else { &flawed };
        b.open(&format!("{plan}/{stage}")).await?;
        b.css("[data-testid='counts']").await?;
        if plan == &flawed {
            b.css("[data-testid='fix']").await?;
        }
        if stage == "voltage" {
            b.css("[data-option]").await?;
        }
        if stage == "protection" {
            b.css("[data-curve]").await?;
            b.script("document.querySelector('[data-testid=who-acts]').scrollIntoView()").await?;
        }
        if stage == "charging" {
            b.css("[data-testid='charge-course'] svg").await?;
            b.script("document.querySelector('[data-testid=fill]').scrollIntoView()").await?;
            b.css("[data-testid='fill'] .chart svg").await?;
        }
        if stage == "run" {
            b.css(".chart svg").await?;
        }
        save(b, folder, stage).await?;
    }
    b.open(&format!("{flawed}/diagram")).await?;
    b.click("input[value='tripped']").await?;
    b.text_is("[data-testid='meter']", |t| t.contains("has opened")).await?;
    save(b, folder, "diagram").await?;
    b.open("/packs").await?;
    b.click("a.pack").await?;
    b.css(".chart svg").await?;
    save(b, folder, "pack").await?;
    b.open(&format!("{flawed}/path")).await?;
    b.click("[data-finding='brick.strip-over-current'] :not([inert]) > [data-testid='fix']").await?;
    b.text_is("[data-testid='saved']", |t| t == "saved, revision 2").await?;
    b.click_text("History").await?;
    b.css("[data-revision='1']").await?;
    b.click_text("Go back to revision 1").await?;
    b.text_is("[data-testid='saved']", |t| t == "saved, revision 3").await?;
    b.open(&format!("{flawed}/propose")).await?;
    b.css("[data-proposal]").await?;
    b.press(b.xpath("//label[contains(., 'From the survey alone')]/input").await?).await?;
    b.css("[data-proposal='C']").await?;
    save(b, folder, "propose").await?;
    workspace(b, folder).await?;
    b.open(&format!("{sound}/bill")).await?;
    b.css("[data-testid='bill-total']").await?;
    save(b, folder, "bill").await?;
    b.open(&format!("{sound}/build")).await?;
    b.click_text("Begin the build").await?;
    b.css("[data-row='board/taps']").await?;
    let middles = b.client.execute(UNTIL, vec!["board/taps".into()]).await?;
    let middles: Vec<f64> = middles.as_array().into_iter().flatten().filter_map(|v| v.as_f64()).collect();
    b.css("[data-row='board/minus'].done").await?;
    b.click("[data-row='board/taps']").await?;
    for (pin, read) in [(1, 1), (2, 0), (3, 2)] {
        type_reading(b, &format!("tap-{pin}"), &format!("{:.2}", middles[read])).await?;
    }
    b.css("[data-testid='wrong']").await?;
    save(b, folder, "build").await?;
    b.click("[data-ask='tap-1'] [data-testid='why']").await?;
    b.css("[data-testid='cause']").await?;
    save(b, folder, "odd").await?;
    b.size(360, 740).await?;
    b.open("/stock").await?;
    b.press(b.xpath("//button[.//b[text()='Scooter pack']]").await?).await?;
    b.select(".reading", "I am reading", "Resistance").await?;
    b.css("[data-row='4'] input.value").await?;
    b.script("document.querySelector('.tools').scrollIntoView()").await?;
    save(b, folder, "phone-readings").await?;
    b.size(1280, 800).await?;
    b.script("localStorage.clear()").await?;
    Ok(())
}

/// The screens of the cell bench.
async fn workspace(b: &Browser, folder: &Path) -> Result<()> {
    b.open("/stock").await?;
    b.press(b.xpath("//button[.//b[text()='Scanner packs']]").await?).await?;
    b.click("[data-row='6'] .label button").await?;
    b.css("[data-testid='cell-verdict']").await?;
    save(b, folder, "bench-cells").await?;
    b.click_text("Close the cell").await?;
    b.click_text("Grouping").await?;
    b.click_text("Find the groups").await?;
    b.css("[data-testid='schools']").await?;
    save(b, folder, "bench-grouping").await?;
    Ok(())
}

/// Address of the plan of that name, from the list of plans.
pub async fn plan_path(b: &Browser, name: &str) -> Result<String> {
    b.open("/").await?;
    let link = b.xpath(&format!("//a[contains(@class,'open')][.//b[normalize-space(.)='{name}']]")).await?;
    let href = link.attr("href").await?.context("a plan without an address")?;
    Ok(href.trim_end_matches("/path").to_owned())
}

async fn save(b: &Browser, folder: &Path, name: &str) -> Result<()> {
    Ok(std::fs::write(folder.join(format!("{name}.png")), b.picture().await?)?)
}
