//! Planning: from a blank page to a plan without stops.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{COUNTS, FINDINGS, SAVED, decide_none, new_plan, saved, stage, take_best};
use crate::pictures::plan_path;

pub async fn a_stranger_plans_a_leaf_blower_from_a_blank_page_to_a_saved_plan_without_stops(b: &Browser) -> Result<()> {
    new_plan(b, "Leaf blower").await?;
    b.select("main", "Kind of device", "fan, pump, propeller").await?;
    b.type_into("main", "Run time you want", "12 min").await?;
    b.select("main", "Chemistry", "NiMH or NiCd").await?;
    b.type_into("main", "Cells in series", "15").await?;
    b.css("[data-testid='counts']").await?;
    b.type_into("main", "Maximum", "21,3 V").await?;
    b.type_into("main", "Minimum", "13").await?;
    b.click_text("Usual current").await?;
    b.type_into("[data-load='load-1']", "Draws", "8 A").await?;
    b.click_text("Start or stall peak").await?;
    b.type_into("[data-load='load-2']", "Draws", "17000 mA").await?;
    b.type_into("[data-load='load-2']", "Lasts", "400 ms").await?;

    stage(b, "Voltage").await?;
    b.click_text("Choose 5S Li-ion, direct").await?;
    b.text_is("li.chosen .words b", |t| t == "5S Li-ion, direct").await?;

    stage(b, "Cells").await?;
    take_best(b, "cell").await?;
    b.text_is(COUNTS, |t| t.starts_with("5S") && !t.contains('?')).await?;
    b.text_is("[data-testid='proposal']", |t| t.contains("decides") || t.contains("enough")).await?;

    stage(b, "Brick").await?;
    take_best(b, "strip").await?;

    stage(b, "Protection").await?;
    let board = take_best(b, "board").await?;
    ensure!(board.contains("5 series"), "the best board is {board}");
    take_best(b, "fuse").await?;

    stage(b, "Charging").await?;
    let charger = take_best(b, "charger").await?;
    ensure!(charger.contains("21.0 V"), "the best charger is {charger}");
    decide_none(b, "supply", "the charger plugs into the mains").await?;
    take_best(b, "jack").await?;

    stage(b, "Wiring").await?;
    take_best(b, "lead").await?;
    b.type_into("main", "Length, one way", "0.3 m").await?;
    take_best(b, "plug").await?;
    take_best(b, "switch").await?;

    stage(b, "Run").await?;
    b.css(".chart svg").await?;
    b.text_is("[data-figure='run.time_s'] .value", |t| t.contains("min")).await?;
    b.text_is(FINDINGS, |t| !t.contains("stop")).await?;
    saved(b).await?;

    b.click_text("All plans").await?;
    let row = b.xpath("//li[contains(@class,'plan')][.//b[normalize-space(.)='Leaf blower']]").await?.text().await?;
    ensure!(row.contains("5S") && !row.contains("stop"), "the list says {row}");
    b.open(&format!("{}/cells", plan_path(b, "Leaf blower").await?)).await?;
    b.text_is(COUNTS, |t| t.starts_with("5S") && !t.contains('?')).await?;
    b.text_is(SAVED, |t| t == "saved, revision 2").await?;
    Ok(())
}

pub async fn the_demo_shows_a_sound_plan_and_one_with_stops(b: &Browser) -> Result<()> {
    let sound = plan_path(b, "Bait boat").await?;
    b.open(&format!("{sound}/path")).await?;
    b.text_is(FINDINGS, |t| !t.is_empty() && !t.contains("stop") && !t.contains("caution")).await?;
    b.css("[data-link='cells']").await?;
    let flawed = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{flawed}/path")).await?;
    b.text_is(FINDINGS, |t| t.starts_with("3 stops")).await?;
    b.css("[data-finding='brick.strip-over-current']").await?;
    // A link leads to its stage.
    b.click("[data-link='fuse']").await?;
    b.css("[data-place='fuse']").await?;
    Ok(())
}

pub async fn bad_figures_are_refused_in_place_with_the_allowed_range(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Bait boat").await?;
    b.open(&format!("{plan}/device")).await?;
    b.css(COUNTS).await?;
    for (label, typed, told) in [
        ("Maximum", "9999", "0.1 V to 500 V"),
        ("Maximum", "twelve", "not a figure"),
        ("Maximum", "12 A", "use V"),
        ("Maximum", "1,200", "1200"),
        ("Cells in series", "2.5", "whole number"),
        ("Cells in series", "0", "1 to 48"),
        ("Coldest use", "", "a figure is needed"),
    ] {
        b.type_into("main", label, typed).await?;
        b.until(&format!("“{typed}” to be refused with “{told}”"), async || {
            let said = b
                .script(
                    "return [...document.querySelectorAll('.v-messages__message')].map(e => e.textContent).join('|')",
                )
                .await?;
            let said = said.as_str().unwrap_or_default().to_owned();
            Ok((said.contains(told) && said.contains(label)).then_some(()))
        })
        .await?;
    }
    // Nothing refused has reached the plan.
    ensure!(b.text(SAVED).await?.starts_with("saved"), "a refused figure changed the plan");
    b.type_into("main", "Maximum", "9.0").await?;
    b.text_is("main .problem", |t| t.contains("below the maximum")).await?;
    b.click_text("Undo").await?;
    b.until("the message to go", async || Ok((b.count("main .problem").await? == 0).then_some(()))).await?;
    Ok(())
}
