//! The makers' stories, each told on the screen.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use crate::pictures::plan_path;

const VIEWS: [&str; 9] = ["path", "device", "voltage", "cells", "brick", "protection", "charging", "wiring", "run"];
const FINDINGS: &str = "[data-testid='finding-count']";
const COUNTS: &str = "[data-testid='counts']";
const SAVED: &str = "[data-testid='saved']";

/// Makes a blank plan and lands on its device stage.
async fn new_plan(b: &Browser, name: &str) -> Result<()> {
    b.open("/").await?;
    b.click_text("New plan").await?;
    b.type_into(".v-dialog", "Name", name).await?;
    b.click_text("Start").await?;
    b.text_is("[data-testid='plan-name']", |t| t == name).await?;
    Ok(())
}

/// Goes to a stage by the rail.
async fn stage(b: &Browser, title: &str) -> Result<()> {
    let link = b.xpath(&format!("//nav[@aria-label='Stages']//a[.//b[text()='{title}']]")).await?;
    link.click().await?;
    b.css("main h2").await?;
    Ok(())
}

/// Takes the best part that the list of a place offers, and waits until the plan has it.
async fn take_best(b: &Browser, place: &str) -> Result<String> {
    let list = format!("[data-place='{place}'] ol.list");
    let toggle = format!("[data-place='{place}'] header button");
    if b.css(&toggle).await?.attr("aria-expanded").await?.as_deref() == Some("false") {
        b.click(&toggle).await?;
    }
    let name = b.text(&format!("{list} li:first-child .words b")).await?;
    b.click(&format!("{list} li:first-child button[aria-label^='Take']")).await?;
    b.text_is(&format!("[data-place='{place}'] [data-testid='chosen']"), |t| t == name).await?;
    Ok(name)
}

/// Decides that a place stays empty.
async fn decide_none(b: &Browser, place: &str, words: &str) -> Result<()> {
    b.click(&format!("[data-place='{place}'] button[aria-label^='More for']")).await?;
    let entry = format!("//div[contains(@class,'v-overlay--active')]//*[normalize-space(text())='Decide: {words}']");
    b.xpath(&entry).await?.click().await?;
    b.text_is(&format!("[data-place='{place}'] .now"), |t| t == words).await?;
    Ok(())
}

async fn save(b: &Browser) -> Result<()> {
    b.click_text("Save").await?;
    b.text_is(SAVED, |t| t.starts_with("saved, revision")).await?;
    Ok(())
}

pub async fn a_stranger_plans_a_leaf_blower_from_a_blank_page_to_a_saved_plan_without_stops(b: &Browser) -> Result<()> {
    new_plan(b, "Leaf blower").await?;
    b.select("main", "Kind of device", "fan, pump, propeller").await?;
    b.type_into("main", "Run time wanted", "12 min").await?;
    b.select("main", "Chemistry", "NiMH or NiCd").await?;
    b.type_into("main", "Cells in series", "15").await?;
    b.css("[data-testid='counts']").await?;
    b.type_into("main", "Highest", "21,3 V").await?;
    b.type_into("main", "Lowest", "13").await?;
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
    decide_none(b, "supply", "the charger plugs into the wall itself").await?;
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
    save(b).await?;

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
    b.text_is(FINDINGS, |t| t.starts_with("4 stops")).await?;
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
        ("Highest", "9999", "0.1 V to 500 V"),
        ("Highest", "twelve", "not a figure"),
        ("Highest", "12 A", "use V"),
        ("Highest", "1,200", "1200"),
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
    b.type_into("main", "Highest", "9.0").await?;
    b.text_is("main .problem", |t| t.contains("below the highest")).await?;
    b.click_text("Undo").await?;
    b.until("the message to go", async || Ok((b.count("main .problem").await? == 0).then_some(()))).await?;
    Ok(())
}

pub async fn plans_are_renamed_deleted_and_taken_back(b: &Browser) -> Result<()> {
    new_plan(b, "Garden pump").await?;
    b.open("/").await?;
    b.click_text("Rename Garden pump").await?;
    b.type_into(".v-dialog", "Name", "Pond pump").await?;
    b.click_text("Rename").await?;
    b.click_text("Delete Pond pump").await?;
    let gone = "//li[contains(@class,'plan')][.//b[normalize-space(.)='Pond pump']]";
    b.until("the plan to go", async || {
        Ok(b.client.find(fantoccini::Locator::XPath(gone)).await.is_err().then_some(()))
    })
    .await?;
    b.click_text("Undo").await?;
    b.xpath(gone).await.context("the deletion was not taken back")?;
    Ok(())
}

pub async fn two_tabs_cannot_overwrite_each_other(b: &Browser) -> Result<()> {
    new_plan(b, "Shared torch").await?;
    let address = b.client.current_url().await?;
    let first = b.client.window().await?;
    let second = b.client.new_window(true).await?.handle;
    b.client.switch_to_window(second).await?;
    b.client.goto(address.as_str()).await?;
    b.type_into("main", "Highest", "6 V").await?;
    save(b).await?;
    b.client.close_window().await?;
    b.client.switch_to_window(first).await?;
    b.type_into("main", "Highest", "7 V").await?;
    b.click_text("Save").await?;
    b.text_is("#conflict-title", |t| t == "This plan was saved elsewhere").await?;
    b.click_text("Take what is stored").await?;
    b.text_is(SAVED, |t| t == "saved, revision 2").await?;
    b.until("the stored figure", async || {
        let shown = b.script("return [...document.querySelectorAll('main input')].map(e => e.value)").await?;
        Ok(shown.as_array().is_some_and(|v| v.contains(&json!("6"))).then_some(()))
    })
    .await?;
    Ok(())
}

pub async fn an_edit_is_undone_and_done_again(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/cells")).await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    b.type_into("main", "In parallel", "3").await?;
    b.text_is(COUNTS, |t| t == "4S3P").await?;
    b.click_text("Undo").await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    b.click_text("Redo").await?;
    b.text_is(COUNTS, |t| t == "4S3P").await?;
    b.click_text("All plans").await?;
    b.click_text("Leave without saving").await?;
    b.css("li.plan").await?;
    b.open(&format!("{plan}/cells")).await?;
    b.text_is(COUNTS, |t| t == "4S2P").await?;
    Ok(())
}

pub async fn every_figure_opens_to_its_working(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Bait boat").await?;
    let mut opened = 0;
    for view in VIEWS {
        b.open(&format!("{plan}/{view}")).await?;
        b.css(COUNTS).await?;
        let figures = b
            .script("return [...document.querySelectorAll('[data-figure]')].filter(e => e.querySelector('.value')).map(e => e.dataset.figure)")
            .await?;
        for figure in figures.as_array().into_iter().flatten().filter_map(|v| v.as_str()) {
            b.click(&format!("[data-figure='{figure}'] .value")).await?;
            let working = b.text_is("[data-testid='working']", |t| t.contains("Source:")).await?;
            ensure!(working.lines().count() >= 4, "{figure} opens to “{working}”");
            b.script("document.querySelector(\"[data-testid='working'] .v-btn\").click()").await?;
            b.until(
                "the working to close",
                async || Ok((b.count("[data-testid='working']").await? == 0).then_some(())),
            )
            .await?;
            opened += 1;
        }
    }
    ensure!(opened >= 40, "only {opened} figures were found");
    Ok(())
}

pub async fn every_view_fits_a_phone_and_has_no_serious_accessibility_fault(b: &Browser) -> Result<()> {
    let checker =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../web/node_modules/axe-core/axe.min.js"))?;
    let plan = plan_path(b, "Hedge shears").await?;
    let mut views = vec!["/".to_owned()];
    views.extend(VIEWS.iter().map(|v| format!("{plan}/{v}")));
    let mut faults = vec![];
    for (theme, width, height) in [("light", 1280, 800), ("dark", 1280, 800), ("light", 360, 740)] {
        b.size(width, height).await?;
        b.script(&format!("localStorage.setItem('dense-brick.theme', '{theme}')")).await?;
        for view in &views {
            b.open(view).await?;
            b.css(if view == "/" { "li.plan" } else { COUNTS }).await?;
            if view.ends_with("voltage") {
                b.css("[data-option]").await?;
            }
            let wide = b
                .script("const s = document.querySelector('.stage-area') ?? document.documentElement; return [document.documentElement.scrollWidth - innerWidth, s.scrollWidth - s.clientWidth]")
                .await?;
            if wide.as_array().into_iter().flatten().any(|w| w.as_f64().unwrap_or(1.0) > 0.0) {
                faults.push(format!("{view} at {width} px scrolls sideways by {wide}"));
            }
            b.script(&checker).await?;
            let run = "const done = arguments[0];
                axe.run(document, {resultTypes: ['violations']}).then(r => done(r.violations
                    .filter(v => v.impact === 'serious' || v.impact === 'critical')
                    .map(v => v.id + ': ' + v.nodes.slice(0, 4).map(n => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '')).join(' / '))))";
            let found = b.client.execute_async(run, vec![]).await?;
            faults.extend(found.as_array().into_iter().flatten().map(|f| format!("{view} {theme} {width}: {f}")));
        }
    }
    b.size(1280, 800).await?;
    b.script("localStorage.clear()").await?;
    ensure!(faults.is_empty(), "{}", faults.join("\n"));
    Ok(())
}
