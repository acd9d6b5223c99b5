//! A whole build on the screen: every step by hand, on the laptop and the phone together.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use serde_json::Value;

use super::building::type_reading;
use super::{copy_of, saved};

/// Clears every stop of the open plan with the first of its buttons.
pub(super) async fn clear_stops(b: &Browser) -> Result<()> {
    for _ in 0..6 {
        let stops =
            b.script("return [...document.querySelectorAll('.finding.stop')].map(e => e.dataset.finding)").await?;
        let Some(key) = stops.as_array().and_then(|k| k.first()).and_then(Value::as_str).map(str::to_owned) else {
            break;
        };
        b.click(&format!("[data-finding='{key}'] :not([inert]) > [data-testid='fix']")).await?;
        b.gone(&format!("[data-finding='{key}']")).await?;
    }
    saved(b).await?;
    Ok(())
}

/// The open build as the server has it.
pub(super) async fn build(b: &Browser) -> Result<Value> {
    b.script(
        "const get = (path) => { const r = new XMLHttpRequest(); r.open('GET', path, false); r.send(); return JSON.parse(r.responseText); };
         const plan = location.pathname.split('/')[2];
         return get(`/api/builds/${get(`/api/plans/${plan}/builds`)[0].id}`)",
    )
    .await
}

/// What a sound bench reads where something is asked: the middle of the band.
pub(super) fn bench(step: &Value, ask: &Value) -> Option<f64> {
    let expects = &ask["expects"];
    if expects["as"] == "yes" {
        return None;
    }
    if let (Some(end_v), Some(tapered_a)) = (step["ends"]["end_v"].as_f64(), step["ends"]["tapered_a"].as_f64()) {
        return Some(if ask["key"] == "end-current" { tapered_a / 2.0 } else { end_v });
    }
    Some(match (expects["low"].as_f64(), expects["high"].as_f64()) {
        // Not quite what was stated, so that there is something to count on.
        (Some(low), Some(high)) if step["phase"] == "hand_over" => low + 0.4 * (high - low),
        (Some(low), Some(high)) => (low + high) / 2.0,
        (Some(low), None) => low * 2.0,
        (None, Some(high)) => high,
        (None, None) => 1.0,
    })
}

/// A step and what it asks, as they are predicted by now.
async fn again(b: &Browser, step: &Value, ask: &Value) -> Result<(Value, Value)> {
    b.until("the readings of the groups to be kept", async || {
        let now = build(b).await?;
        let state =
            now["progress"]["steps"].as_array().into_iter().flatten().find(|s| s["key"] == step["key"]).cloned();
        let open = state.iter().flat_map(|s| s["asks"].as_array().into_iter().flatten());
        if open.filter(|a| a["key"] != ask["key"]).any(|a| a["found"] != "right") {
            return Ok(None);
        }
        let find =
            |list: &Value, key: &Value| list.as_array().into_iter().flatten().find(|s| s["key"] == *key).cloned();
        let step = find(&now["sheet"]["steps"], &step["key"]);
        Ok(step.and_then(|step| find(&step["asks"], &ask["key"]).map(|ask| (step, ask))))
    })
    .await
}

/// Answers everything that the step on the screen asks.
pub(super) async fn answer(b: &Browser, step: &Value) -> Result<()> {
    for ask in step["asks"].as_array().into_iter().flatten() {
        let key = ask["key"].as_str().context("an ask has a key")?;
        // What the whole pack should read follows the groups, once they are read.
        let sum = key.starts_with("pack") && step["key"] == "brick/groups";
        let (step, ask) = if sum { again(b, step, ask).await? } else { (step.clone(), ask.clone()) };
        match bench(&step, &ask) {
            Some(value) => type_reading(b, key, &format!("{value:.5}")).await?,
            None => b.click(&format!("[data-ask='{key}'] .answers button")).await?,
        }
    }
    Ok(())
}

async fn log_line(b: &Browser, minutes: u32, volts: f64, amperes: f64) -> Result<()> {
    let log = "[data-testid='charge-log']";
    b.css(&format!("{log} form input")).await?.send_keys(&minutes.to_string()).await?;
    for (field, value) in [("pack_v", volts), ("current_a", amperes), ("apart_v", 12.0)] {
        b.css(&format!("[data-log='{field}']")).await?.send_keys(&value.to_string()).await?;
    }
    b.click_text("Save the line").await?;
    Ok(())
}

pub async fn the_shears_are_built_from_the_first_screw_to_the_label_on_laptop_and_phone(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    clear_stops(b).await?;
    b.click_text("Build").await?;
    b.click_text("Begin the build").await?;
    b.text_is("[data-testid='build-done']", |t| t.starts_with("0 of ")).await?;
    let phone = Browser::start_on_network(&crate::DOORS.with(|doors| doors.phone.clone())).await?;
    // Closed however the story ends: a browser that nobody closes goes on by itself.
    let told = together(b, &phone).await;
    phone.close().await?;
    told?;
    b.open("/").await?;
    b.click_text("Remove 127.0.0.1").await?;
    b.text_is("[data-testid='paired']", |t| t.contains("is removed")).await?;
    Ok(())
}

/// The phone is let in by the code, over an encrypted page: only there a browser lends its screen lock.
async fn pair(b: &Browser, phone: &Browser) -> Result<()> {
    phone.size(360, 720).await?;
    let plan = b.client.current_url().await?.path().to_owned();
    phone.open(&plan).await?;
    phone.css("form input").await?.send_keys(&crate::DOORS.with(|doors| doors.code.clone())).await?;
    phone.click_text("Pair").await?;
    phone.css(".step h1").await?;
    let asked = "const done = arguments[0];
        if (!isSecureContext) done('not a secure page');
        else navigator.wakeLock.request('screen').then((lock) => done(lock.type), (error) => done(String(error)))";
    let lock = phone.client.execute_async(asked, vec![]).await?;
    ensure!(lock == "screen", "the screen may go dark: {lock}");
    Ok(())
}

/// A photograph that the phone takes of its step is on the laptop as well.
async fn photograph(b: &Browser, phone: &Browser) -> Result<()> {
    let picture = crate::root().join("docs/screenshots/path.png").canonicalize()?;
    let camera = phone.css("[aria-label='Photograph of this step']").await?;
    ensure!(camera.attr("capture").await?.as_deref() == Some("environment"), "the camera is not asked for");
    camera.send_keys(&picture.display().to_string()).await?;
    phone.css(".photos img").await?;
    let seen = "const i = document.querySelector('.photos img'); return !!i && i.complete && i.naturalWidth > 100";
    b.until("the photograph on the laptop", async || Ok((b.script(seen).await? == true).then_some(()))).await
}

async fn together(b: &Browser, phone: &Browser) -> Result<()> {
    pair(b, phone).await?;
    photograph(b, phone).await?;

    let keys: Vec<String> = build(b).await?["sheet"]["steps"]
        .as_array()
        .into_iter()
        .flatten()
        .filter_map(|s| s["key"].as_str().map(str::to_owned))
        .collect();
    for key in &keys {
        b.css(&format!(".step[data-step='{key}']")).await.with_context(|| format!("{key} is not the next step"))?;
        let now = build(b).await?;
        let step = now["sheet"]["steps"].as_array().into_iter().flatten().find(|s| s["key"] == *key).cloned();
        let step = step.with_context(|| format!("the sheet lost {key}"))?;
        match key.as_str() {
            "brick/groups" => {
                // One group reads far too little: the gate behind it stays shut, on the phone as well.
                type_reading(b, "group-2", "1.2").await?;
                b.text_is("[data-testid='wrong']", |t| t.contains("group 2")).await?;
                phone.click_text("Steps").await?;
                phone.css("[data-row='brick/groups'].wrong").await?;
                phone.css("[data-row='brick/cover'].shut").await?;
                phone.click_text("Steps").await?;
            }
            "board/taps" => {
                // The server is away for one reading.
                b.block(&["*/api/builds/*"]).await?;
                answer(b, &step).await?;
                b.text_is("[data-testid='build-away']", |t| t.contains("wait")).await?;
                b.block(&[]).await?;
                b.gone("[data-testid='build-away']").await?;
            }
            "charge/start" => {
                // Somebody stands at the charger with the phone; the laptop sees each line.
                phone.click_text("Steps").await?;
                phone.click("[data-row='charge/start']").await?;
                phone.css(".step[data-step='charge/start']").await?;
                phone.gone(".card.listed").await?;
                let charge_a = step["logs"]["charge_a"].as_f64().context("the charger's current is known")?;
                log_line(phone, 5, 14.9, charge_a).await.context("on the phone")?;
                b.text_is("[data-testid='charge-lines']", |t| t.contains("14.9 V")).await?;
                log_line(b, 20, 15.2, 5.0).await?;
                b.text_is("[data-testid='charge-stop']", |t| t.contains("5 A flow")).await?;
                // It was typed wrong: the same minute anew.
                log_line(b, 20, 15.2, charge_a).await?;
                b.gone("[data-testid='charge-stop']").await?;
                b.css("[data-testid='charge-log'] .chart svg").await?;
            }
            _ => {}
        }
        answer(b, &step).await.with_context(|| format!("answering {key}"))?;
        if let Err(error) = b.click_text("Done, next").await {
            return Err(error.context(format!("{key}: {}", b.text(".step").await?)));
        }
    }
    let total = keys.len();
    b.text_is("[data-testid='build-done']", |t| t.starts_with(&format!("{total} of {total} "))).await?;
    phone.click_text("Steps").await?;
    phone.css("[data-row='label'].done").await?;

    // The trip that was read is counted on in the plan; nothing that was done is touched by it.
    b.click("[data-row='trips/over-current']").await?;
    b.click_text("Use this in the plan").await?;
    b.text_is("[data-testid='build-changed']", |t| t.contains("Nothing you have done is changed")).await?;
    // What the device drew on the bench supply is what the survey keeps of its proving.
    b.click("[data-row='power/device-limited']").await?;
    b.click("[data-ask='idle_a'] .count").await?;
    b.gone("[data-ask='idle_a'] .count").await?;
    b.click("[data-ask='lives'] .count").await?;
    b.gone("[data-ask='lives'] .count").await?;
    saved(b).await?;
    let proving = b
        .script(
            "const r = new XMLHttpRequest(); r.open('GET', `/api/plans/${location.pathname.split('/')[2]}`, false);
             r.send(); return JSON.parse(r.responseText).plan.device.proving",
        )
        .await?;
    ensure!(proving["lives"] == true && proving["idle_a"]["how"] == "measured", "{proving}");
    let record = b
        .script(
            "const r = new XMLHttpRequest();
             r.open('GET', document.querySelector('a[href$=file]').href, false); r.send(); return r.responseText",
        )
        .await?;
    let record: Value = serde_json::from_str(record.as_str().unwrap_or_default())?;
    ensure!(
        record["format"] == "dense-brick/build" && record["build"]["charge"]["ended"].is_null(),
        "{}",
        record["build"]["charge"]
    );
    let events = record["events"].as_array().map_or(0, Vec::len);
    ensure!(events > 2 * total, "{events} events of {total} steps");
    Ok(())
}
