//! The makers' stories, each told on the screen; one file for what a group of them is about.

pub mod building;
pub mod charging;
pub mod everybody;
pub mod feeding;
pub mod flowing;
pub mod guarding;
pub mod handling;
pub mod jobs;
pub mod judging;
pub mod keeping;
pub mod laying;
pub mod leading;
pub mod odd;
pub mod parts;
pub mod planning;
pub mod proposing;
pub mod proving;
pub mod running;
pub mod stocking;
pub mod surveying;
pub mod taking;
pub mod years;

use anyhow::{Context, Result};
use brick_e2e::Browser;

use crate::pictures::plan_path;

pub const VIEWS: [&str; 9] = ["path", "device", "voltage", "cells", "brick", "protection", "charging", "wiring", "run"];
pub const FINDINGS: &str = "[data-testid='finding-count']";
pub const COUNTS: &str = "[data-testid='counts']";
pub const SAVED: &str = "[data-testid='saved']";

pub const FACE: &str = ".drawn figure:first-child svg.face";

/// A copy of a demo plan, opened at its brick: what is done to it troubles no other story.
pub async fn copy_of(b: &Browser, name: &str) -> Result<()> {
    let path = plan_path(b, name).await?;
    let id = path.rsplit('/').next().context("a plan has an id")?.to_owned();
    let made = b
        .script(&format!(
            "const r = new XMLHttpRequest(); r.open('POST', '/api/plans/{id}/duplicate', false); r.send();
             return JSON.parse(r.responseText).id"
        ))
        .await?;
    b.open(&format!("/plan/{}/brick", made.as_str().context("a copy has an id")?)).await?;
    b.css(FACE).await?;
    Ok(())
}

/// Makes a blank plan and lands on its device stage.
pub async fn new_plan(b: &Browser, name: &str) -> Result<()> {
    b.open("/").await?;
    b.click_text("New plan").await?;
    b.type_into("main", "Name", name).await?;
    b.click_text("Stage by stage").await?;
    b.text_is("[data-testid='plan-name']", |t| t == name).await?;
    Ok(())
}

/// Goes to a stage by the rail.
pub async fn stage(b: &Browser, title: &str) -> Result<()> {
    let link = b.xpath(&format!("//nav[@aria-label='Stages']//a[.//b[text()='{title}']]")).await?;
    b.press(link).await?;
    b.xpath(&format!("//nav[@aria-label='Stages']//a[@aria-current='page'][.//b[text()='{title}']]")).await?;
    b.css("main h2").await?;
    Ok(())
}

/// Takes the best part that the list of a place offers, and waits until the plan has it.
pub async fn take_best(b: &Browser, place: &str) -> Result<String> {
    let list = format!("[data-place='{place}'] ol.list");
    unfold(b, place).await?;
    let name = b.text(&format!("{list} li:first-child .words b")).await?;
    b.click(&format!("{list} li:first-child button[aria-label^='Use']")).await?;
    b.text_is(&format!("[data-place='{place}'] [data-testid='chosen']"), |t| t == name).await?;
    Ok(name)
}

/// Opens the list of a place.
pub async fn unfold(b: &Browser, place: &str) -> Result<()> {
    let toggle = format!("[data-place='{place}'] header button");
    if b.css(&toggle).await?.attr("aria-expanded").await?.as_deref() == Some("false") {
        b.click(&toggle).await?;
    }
    Ok(())
}

/// Decides that a place stays empty.
pub async fn decide_none(b: &Browser, place: &str, words: &str) -> Result<()> {
    b.click(&format!("[data-place='{place}'] button[aria-label^='More for']")).await?;
    let entry = format!("//div[contains(@class,'v-overlay--active')]//*[normalize-space(text())='Decide: {words}']");
    b.press(b.xpath(&entry).await?).await?;
    b.text_is(&format!("[data-place='{place}'] .now"), |t| t == words).await?;
    Ok(())
}

/// Waits until the plan has saved itself.
pub async fn saved(b: &Browser) -> Result<String> {
    b.text_is(SAVED, |t| t.starts_with("saved, revision")).await
}
