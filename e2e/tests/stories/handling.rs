//! Hands at keys and folds: figures typed one after another, sections folded, a figure with how it is known.

use anyhow::{Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{copy_of, saved, stage};

const ENTER: &str = "\u{e007}";
const ESCAPE: &str = "\u{e00c}";
const DOWN: &str = "\u{e015}";
const FOCUSED: &str = "const at = document.activeElement;
    return (at.closest('.v-input')?.querySelector('label')?.textContent ?? at.textContent).trim()";

/// Waits until the cursor is in the field, or on the link, of that name.
async fn cursor_is_at(b: &Browser, name: &str) -> Result<()> {
    b.until(&format!("the cursor at {name}"), async || {
        let at = b.script(FOCUSED).await?;
        Ok(at.as_str().is_some_and(|at| at.starts_with(name)).then_some(()))
    })
    .await
}

pub async fn figures_are_typed_one_after_another_by_keys_alone(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Device").await?;
    b.type_into("main", "Age", "").await?;
    b.script("document.querySelector(\"[data-at='/device/original/age_days'] input\").focus()").await?;
    b.keys(&format!("900{ENTER}")).await?;
    cursor_is_at(b, "Voltage printed on it").await?;
    b.keys(&format!("14.4{ENTER}")).await?;
    cursor_is_at(b, "Charger label, voltage").await?;
    saved(b).await?;
    b.text_is("[data-section='battery']", |t| t.contains("Old battery")).await?;
    let typed = |at: &str| format!("return document.querySelector(\"[data-at='{at}'] input\").value");
    ensure!(b.script(&typed("/device/original/label_v")).await? == json!("14.4"));

    // Escape takes back what was typed into this field, and nothing else.
    let old = b.script(&typed("/device/original/capacity_ah")).await?;
    b.script("document.querySelector(\"[data-at='/device/original/capacity_ah'] input\").select()").await?;
    b.keys("99999").await?;
    b.text_is("[data-at='/device/original/capacity_ah']", |t| t.contains("outside")).await?;
    b.keys(ESCAPE).await?;
    b.until("the old capacity", async || {
        Ok((b.script(&typed("/device/original/capacity_ah")).await? == old).then_some(()))
    })
    .await?;
    ensure!(b.script(&typed("/device/original/age_days")).await? != json!(""), "the age went with it");

    // Arrows go along the rail; the question mark shows the keys.
    b.script("document.querySelector('.rail a').focus()").await?;
    b.keys(DOWN).await?;
    cursor_is_at(b, "Device").await?;
    b.keys("?").await?;
    b.text_is("[role='dialog']", |t| t.contains("on to the next field")).await?;
    b.keys(ESCAPE).await?;
    b.gone(".v-overlay--active [role='dialog']").await?;
    Ok(())
}

pub async fn a_long_page_is_folded_and_the_rail_leads_into_it(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Device").await?;
    // What is away says in one line what is in it.
    let is_open = |name: &str| format!("return document.querySelector(\"[data-section='{name}']\").open");
    let warmth = b.script("return document.querySelector(\"[data-section='temperatures'] summary\").innerText").await?;
    ensure!(warmth.as_str().is_some_and(|w| w.contains("used at") && w.contains("°C")), "{warmth}");
    ensure!(b.script(&is_open("temperatures")).await? == json!(false), "what is seldom asked is away");
    b.click_text("Temperatures and notes").await?;
    b.until(
        "the section opened",
        async || Ok((b.script(&is_open("temperatures")).await? == json!(true)).then_some(())),
    )
    .await?;
    // What was folded stays so on the way back.
    b.script("document.querySelector(\"[data-section='battery'] summary\").click()").await?;
    b.until("the battery folded", async || Ok((b.script(&is_open("battery")).await? == json!(false)).then_some(())))
        .await?;
    stage(b, "Charging").await?;
    b.css("[data-section='end-volts']").await?;
    stage(b, "Device").await?;
    b.css("[data-at='/device/job']").await?;
    let folded = b.script("return document.querySelector(\"[data-section='battery'] summary\").innerText").await?;
    ensure!(folded.as_str().is_some_and(|f| f.contains("12 in series, NiMH or NiCd, 1.7 Ah")), "{folded}");
    Ok(())
}
