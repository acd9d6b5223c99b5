//! Judging: every figure shows its working, every stop names its fix.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{COUNTS, FINDINGS, VIEWS, saved};
use crate::pictures::plan_path;

pub async fn every_figure_opens_to_its_working(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Bait boat").await?;
    let mut opened = 0;
    for view in VIEWS {
        b.open(&format!("{plan}/{view}")).await?;
        b.css(COUNTS).await?;
        if view == "path" {
            b.click_text("Show the values and what sets them").await?;
        }
        // Figures of the screen, of the nameplate (the same on every view), and the limits of the path: all open the same
        // drawer.
        let plate = if view == VIEWS[0] { "button[data-plate], " } else { "" };
        let mark = format!(
            "let n = 0; document.querySelectorAll('{plate}[data-figure] .value, main table button:not(.v-btn), button.bar')
            .forEach(e => e.dataset.opens = n++); return n"
        );
        let count = b.script(&mark).await?.as_u64().unwrap_or(0);
        for figure in 0..count {
            b.click(&format!("[data-opens='{figure}']")).await?;
            let working = b.text_is("[data-testid='working']", |t| t.contains("Source")).await?;
            ensure!(working.lines().count() >= 4, "{figure} opens to “{working}”");
            b.click("[data-testid='working'] [aria-label='Close the calculation']").await?;
            b.until(
                "the working to close",
                async || Ok((b.count("[data-testid='working']").await? == 0).then_some(())),
            )
            .await?;
            opened += 1;
        }
    }
    ensure!(opened >= 80, "only {opened} figures were found");
    Ok(())
}

pub async fn a_working_leads_to_the_field_it_rests_on(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Bait boat").await?;
    b.open(&format!("{plan}/path")).await?;
    b.click("[data-plate='pack.wh']").await?;
    b.text_is("[data-testid='working']", |t| t.contains("Energy")).await?;
    b.click_text("Capacity").await?;
    b.text_is("[data-testid='working'] h2", |t| t == "Capacity").await?;
    b.click_text("Capacity of a cell, where it is typed").await?;
    b.until("the cursor in the field", async || {
        let label = "const i = document.activeElement.closest('.v-input'); return i ? i.textContent : ''";
        let label = b.script(label).await?;
        Ok(label.as_str().is_some_and(|t| t.contains("Capacity")).then_some(()))
    })
    .await?;
    ensure!(b.client.current_url().await?.path().ends_with("/cells"), "it led elsewhere");
    // An option that is not chosen shows how its figures would come about.
    b.open(&format!("{plan}/voltage")).await?;
    b.click("[data-option]:not(.chosen) button.usable").await?;
    b.text_is("[data-testid='working']", |t| t.contains("if this were chosen")).await?;
    Ok(())
}

pub async fn every_stop_is_cleared_by_its_buttons_undone_exported_and_assessed_alike(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/path")).await?;
    let begun = b.text_is(FINDINGS, |t| t.contains("3 stops")).await?;
    let mut steps = 0;
    loop {
        let keys =
            b.script("return [...document.querySelectorAll('.finding.stop')].map(e => e.dataset.finding)").await?;
        let Some(key) = keys.as_array().and_then(|k| k.first()).and_then(|k| k.as_str()).map(str::to_owned) else {
            break;
        };
        ensure!(b.text(&format!("[data-finding='{key}'] p")).await?.len() > 20, "{key} does not say why");
        b.click(&format!("[data-finding='{key}'] :not([inert]) > [data-testid='fix']")).await?;
        let gone = format!("[data-finding='{key}']");
        b.until(&format!("{key} to go"), async || Ok((b.count(&gone).await? == 0).then_some(()))).await?;
        steps += 1;
        ensure!(steps <= 6, "the stops do not end");
    }
    b.text_is(FINDINGS, |t| !t.contains("stop") && t.contains("caution")).await?;
    saved(b).await?;

    // Out as a file, and assessed on the command line: the same answer as on the screen.
    let script = "const done = arguments[0];
        const path = '/api' + location.pathname.replace('/plan/', '/plans/').split('/').slice(0, 3).join('/');
        Promise.all([fetch(path + '/file').then(r => r.text()), fetch(path).then(r => r.json())
            .then(o => fetch('/api/assess', {method: 'POST', body: JSON.stringify(o.plan)})).then(r => r.json())]).then(done)";
    let both = b.client.execute_async(script, vec![]).await?;
    let file = std::env::temp_dir().join(format!("shears-{}.brick.json", std::process::id()));
    let exported = both[0].as_str().context("no file")?.replacen("Hedge shears", "Mended shears", 1);
    std::fs::write(&file, &exported)?;
    let out = std::process::Command::new(program()?).arg("assess").arg(&file).output()?;
    ensure!(out.status.success(), "{}", String::from_utf8_lossy(&out.stderr));
    let told: serde_json::Value = serde_json::from_slice(&out.stdout)?;
    ensure!(plain(&told) == plain(&both[1]), "the command line assesses otherwise");

    // Every fix is one step of undo.
    for _ in 0..steps {
        b.click_text("Undo").await?;
    }
    b.text_is(FINDINGS, |t| t == begun).await?;
    saved(b).await?;

    // The file comes back as a plan of its own, without stops.
    b.open("/").await?;
    b.css("li.plan").await?;
    b.choose_file("import", &file).await?;
    b.text_is(FINDINGS, |t| !t.contains("stop") && t.contains("caution")).await?;
    std::fs::write(&file, exported.replacen("\"series\": 4", "\"series\": 99", 1))?;
    b.open("/").await?;
    b.css("li.plan").await?;
    b.choose_file("import", &file).await?;
    b.text_is("[role='alert']", |t| t.contains("/packs/0/series") && t.contains("1 to 24")).await?;
    std::fs::remove_file(&file)?;
    Ok(())
}

/// JSON with every number as a float: a browser writes 5.0 as 5.
fn plain(value: &serde_json::Value) -> serde_json::Value {
    match value {
        serde_json::Value::Number(n) => json!(n.as_f64()),
        serde_json::Value::Array(items) => items.iter().map(plain).collect(),
        serde_json::Value::Object(map) => map.iter().map(|(k, v)| (k.clone(), plain(v))).collect(),
        other => other.clone(),
    }
}

/// The program as it was built beside these tests.
fn program() -> Result<std::path::PathBuf> {
    let tests = std::env::current_exe()?;
    let built = tests.ancestors().nth(2).context("no folder of the build")?.join("dense-brick");
    ensure!(built.exists(), "{} is not built; run ./test", built.display());
    Ok(built)
}

pub async fn a_caution_is_accepted_by_name_and_taken_back(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/path")).await?;
    let card = "[data-finding='protection.fuse-peak'], [data-finding='run.shorter-than-before'], [data-finding='wiring.thinner-than-before@lead']";
    let key = b.css(card).await?.attr("data-finding").await?.context("no caution")?;
    b.click(&format!("[data-finding='{key}'] [aria-label^='Accept']")).await?;
    b.css("#accept-title").await?;
    let disabled = "return [...document.querySelectorAll('.v-dialog button')].find(e => e.textContent.trim() === 'Accept').disabled";
    ensure!(b.script(disabled).await? == json!(true), "a caution is accepted without a reason");
    b.type_into(".v-dialog", "Why it is acceptable", "seldom, and I watch it").await?;
    b.click_text("Accept").await?;
    b.text_is(&format!("[data-finding='{key}'].accepted"), |t| t.contains("Accepted: seldom, and I watch it")).await?;
    b.text_is(FINDINGS, |t| t.contains("1 accepted")).await?;
    b.click_text("Withdraw").await?;
    b.text_is(FINDINGS, |t| !t.contains("accepted")).await?;
    saved(b).await?;
    Ok(())
}
