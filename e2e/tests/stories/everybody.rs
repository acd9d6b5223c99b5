//! Everybody: the decimal mark, the keyboard, the phone, the dark shop.

use anyhow::{Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{COUNTS, VIEWS};
use crate::pictures::plan_path;

pub async fn figures_follow_the_persons_decimal_mark_and_wire_size(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/path")).await?;
    b.text_is("[data-link='lead']", |_| true).await?;
    b.click_text("Preferences").await?;
    b.select(".v-dialog", "Decimal mark", "comma: 14,4 V").await?;
    b.select(".v-dialog", "Wire sizes", "mm²").await?;
    b.click_text("Close").await?;
    b.text_is("nav[aria-label='Stages']", |t| t.contains("drop 0,")).await?;
    b.text_is("svg.corridor", |t| t.contains("0,4 s") && t.contains("1,31 mm²")).await?;
    b.script("localStorage.clear()").await?;
    Ok(())
}

pub async fn the_keyboard_alone_opens_a_plan_edits_it_and_finds_the_emergency_card(b: &Browser) -> Result<()> {
    const TAB: &str = "\u{e004}";
    const BACK: &str = "\u{e008}\u{e004}\u{e000}";
    const ENTER: &str = "\u{e007}";
    const ESCAPE: &str = "\u{e00c}";
    b.open("/").await?;
    b.css("li.plan").await?;
    let reach_by = async |key: &str, what: &str, script: &str| -> Result<()> {
        for _ in 0..200 {
            b.keys(key).await?;
            if b.script(&format!("const e = document.activeElement; return {script}")).await? == json!(true) {
                let shown = "const s = getComputedStyle(document.activeElement); return s.outlineStyle !== 'none' || !!document.activeElement.closest('.v-field--focused')";
                ensure!(b.script(shown).await? == json!(true), "{what}: the focus is not seen");
                return Ok(());
            }
        }
        anyhow::bail!("the keyboard does not reach {what}")
    };
    let reach = async |what: &str, script: &str| reach_by(TAB, what, script).await;
    reach("the plan", "!!e.closest('a.open') && e.textContent.includes('Bait boat')").await?;
    b.keys(ENTER).await?;
    b.css("[data-link='cells']").await?;
    reach("the cells stage", "e.matches('nav a') && e.textContent.startsWith('Cells')").await?;
    b.keys(ENTER).await?;
    b.css("[data-place='cell']").await?;
    reach("the parallel count", "e.matches('input') && e.closest('.v-input')?.textContent.includes('In parallel')")
        .await?;
    b.keys("\u{e009}a\u{e000}").await?;
    b.keys("3").await?;
    b.text_is(COUNTS, |t| t.ends_with("3P")).await?;
    reach_by(BACK, "undo", "e.getAttribute('aria-label') === 'Undo'").await?;
    b.keys(ENTER).await?;
    b.text_is(COUNTS, |t| !t.ends_with("3P")).await?;
    b.open(&format!("{}/path", plan_path(b, "Bait boat").await?)).await?;
    b.css(COUNTS).await?;
    reach("a figure of the nameplate", "e.dataset.plate === 'pack.ah'").await?;
    b.keys(ENTER).await?;
    b.css("[data-testid='working']").await?;
    b.keys(ESCAPE).await?;
    b.until("the working to close", async || Ok((b.count("[data-testid='working']").await? == 0).then_some(())))
        .await?;
    reach("the emergency card", "e.getAttribute('aria-label')?.startsWith('Smoke')").await?;
    b.keys(ENTER).await?;
    b.text_is("#emergency-title", |t| t.contains("do this now")).await?;
    b.keys(ESCAPE).await?;
    Ok(())
}

/// Serious faults that the accessibility checker finds on the page as it stands.
async fn serious_faults(b: &Browser, checker: &str, whereabouts: &str) -> Result<Vec<String>> {
    b.script(checker).await?;
    // Colours that still change are neither the old ones nor the new: what changes is brought to its end.
    let run = "const done = arguments[0];
        document.getAnimations().filter(a => a instanceof CSSTransition).forEach(a => a.finish());
        new Promise(r => requestAnimationFrame(r)).then(() => axe.run(document, {resultTypes: ['violations']})).then(r => done(r.violations
            .filter(v => v.impact === 'serious' || v.impact === 'critical')
            .map(v => v.id + ': ' + v.nodes.slice(0, 4).map(n => n.target.join(' ') + ' ' + (n.any[0]?.message ?? '')).join(' / '))))";
    let found = b.client.execute_async(run, vec![]).await?;
    Ok(found.as_array().into_iter().flatten().map(|f| format!("{whereabouts}: {f}")).collect())
}

pub async fn every_view_fits_a_phone_and_has_no_serious_accessibility_fault(b: &Browser) -> Result<()> {
    let checker =
        std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../web/node_modules/axe-core/axe.min.js"))?;
    let plan = plan_path(b, "Hedge shears").await?;
    let mut views = vec!["/".to_owned()];
    views.extend(
        VIEWS.iter().chain(&["diagram", "bill", "build", "later", "made", "propose"]).map(|v| format!("{plan}/{v}")),
    );
    let pack = b
        .script("const r = new XMLHttpRequest(); r.open('GET', '/api/packs', false); r.send(); return JSON.parse(r.responseText)[0].id")
        .await?;
    views.push(format!("/packs/{}", pack.as_str().unwrap_or_default()));
    views.extend(["/packs", "/parts", "/stock", "/stock/inspect", "/stock/group", "/new"].map(str::to_owned));
    let mut faults = vec![];
    for (width, height) in [(1920, 1080), (1280, 800), (768, 1024), (360, 740)] {
        b.size(width, height).await?;
        for view in &views {
            b.open(view).await?;
            b.css(match view.as_str() {
                "/" => "li.plan",
                "/new" => "[data-picture]",
                "/parts" => "[data-testid='parts'] li",
                "/stock" => "[data-row='5'] .label button",
                "/packs" => "a.pack",
                v if v.starts_with("/packs/") => ".chart svg",
                "/stock/inspect" => ".scatter svg",
                "/stock/group" => ".lot .name",
                _ => COUNTS,
            })
            .await?;
            if view == "/stock" {
                b.select(".reading", "I am reading", "Resistance").await?;
                b.click("[data-row='5'] .label button").await?;
                b.css("[data-testid='cell-verdict']").await?;
            } else if view == "/stock/group" {
                b.press(b.xpath("//button[.//b[text()='Scooter pack']]").await?).await?;
                b.click_text("Find the groups").await?;
                b.css("[data-testid='schools']").await?;
            }
            if view.ends_with("build") {
                let mut begun = false;
                b.until("the build", async || {
                    // Asked for once: the button may still stand there while the build is on its way. Another story may begin
                    // one of the same plan between a look and a click.
                    let begin =
                        "const button = document.querySelector('.empty button'); button?.click(); return !!button";
                    begun = begun || b.script(begin).await? == true;
                    Ok((b.count("[data-row='cells/volts']").await? > 0).then_some(()))
                })
                .await?;
                // On a phone the list is behind a button.
                b.script("document.querySelector(\"[data-row='cells/volts']\").click()").await?;
                b.css("[data-step='cells/volts'] [data-ask]").await?;
            }
            if view.ends_with("protection") {
                b.click("[data-part='board'] summary").await?;
            }
            if view.ends_with("voltage") {
                b.css("[data-option]").await?;
                for name in ["4S Li-ion, direct", "4S LiPo, direct"] {
                    b.click(&format!("[aria-label='Compare {name}']")).await?;
                }
                b.css("[data-testid='compare']").await?;
            }
            let tall = b
                .script("return document.querySelector('.stage-area') ? document.documentElement.scrollHeight - innerHeight : 0")
                .await?;
            if width == 1280 && tall.as_f64() != Some(0.0) {
                faults.push(format!("{view}: the page itself scrolls by {tall} behind its frame"));
            }
            let wide = b
                .script("const s = document.querySelector('.stage-area') ?? document.documentElement; return [document.documentElement.scrollWidth - innerWidth, s.scrollWidth - s.clientWidth]")
                .await?;
            if wide.as_array().into_iter().flatten().any(|w| w.as_f64().unwrap_or(1.0) > 0.0) {
                faults.push(format!("{view} at {width} px scrolls sideways by {wide}"));
            }
            let set = b.script(include_str!("layout.js")).await?;
            faults.extend(set.as_array().into_iter().flatten().map(|fault| format!("{view} at {width} px: {fault}")));
            // As if it were chosen in another tab: a page follows without being opened anew.
            for theme in ["dark", "light"] {
                b.script(&format!(
                    "const [key, newValue] = ['dense-brick.theme', '{theme}'];
                     localStorage.setItem(key, newValue); dispatchEvent(new StorageEvent('storage', {{ key, newValue }}))"
                ))
                .await?;
                b.css(&format!("[data-theme='{theme}']")).await?;
                faults.extend(serious_faults(b, &checker, &format!("{view} {theme} {width}")).await?);
            }
        }
    }
    b.script("localStorage.setItem('dense-brick.theme', 'dark')").await?;
    // What lies over a view is a view of its own.
    for (what, opens, shows) in [
        ("working", "[data-plate='pack.ah']", "[data-testid='working']"),
        ("history", "[aria-label='History']", "[data-revision='1']"),
        ("preferences", "[aria-label='Preferences']", "#preferences-title"),
        ("emergency card", "[aria-label^='Smoke']", "#emergency-title"),
        ("accepting", "[aria-label^='Accept']", "#accept-title"),
    ] {
        b.open(&format!("{plan}/path")).await?;
        b.css("[data-testid='next']").await?;
        if ["history", "preferences"].contains(&what) {
            b.click("[aria-label='Plan tools']").await?;
        }
        if what == "accepting" {
            b.click(".findings .head").await?;
        }
        b.click(opens).await?;
        b.css(shows).await?;
        faults.extend(serious_faults(b, &checker, &format!("{what} dark 360")).await?);
    }
    b.size(1280, 800).await?;
    b.script("localStorage.clear()").await?;
    ensure!(faults.is_empty(), "{}", faults.join("\n"));
    Ok(())
}
