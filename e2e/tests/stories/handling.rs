//! Hands at keys and folds: figures typed one after another, sections folded, a figure with how it is known.

use anyhow::{Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{copy_of, plan_path, saved, stage};

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

/// Opens the form that a button opens, goes to a field as soon as it is there, and says where the cursor is a little later.
const GOES_TO_A_FIELD: &str = "const [opens, label, done] = arguments;
    const field = () => [...document.querySelectorAll('.v-input')].find(f => f.querySelector('label')?.textContent.trim() === label);
    [...document.querySelectorAll('button, a')].find(b => b.textContent.trim() === opens).click();
    const look = () => {
        if (!field()) return requestAnimationFrame(look);
        field().querySelector('input').focus();
        setTimeout(() => done(document.activeElement.closest('.v-input')?.querySelector('label')?.textContent), 600);
    };
    requestAnimationFrame(look)";

pub async fn the_cursor_waits_in_the_first_field_and_is_taken_from_no_other(b: &Browser) -> Result<()> {
    for (page, opens, first, other) in
        [("/packs", "Add a pack", "Name", "Capacity when new"), ("/", "New plan", "Name", "Run time you want")]
    {
        b.open(page).await?;
        b.click_text(opens).await?;
        cursor_is_at(b, first).await?;
        b.open(page).await?;
        b.css("h1").await?;
        let at = b.client.execute_async(GOES_TO_A_FIELD, vec![json!(opens), json!(other)]).await?;
        ensure!(at == json!(other), "{page}: the cursor went from “{other}” to {at}");
    }
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

/// Width of the drawing beside the width of its frame, and how far the frame was enlarged.
const DRAWN: &str = "const pane = document.querySelector(\"[data-testid='diagram']\");
    const box = pane.querySelector('svg').getBoundingClientRect();
    return [box.width / pane.clientWidth, box.height / box.width, Number(pane.dataset.zoom)]";

async fn drawn(b: &Browser) -> Result<[f64; 3]> {
    b.css("[data-testid='diagram'] svg").await?;
    let told = b.script(DRAWN).await?;
    Ok([0, 1, 2].map(|i| told[i].as_f64().unwrap_or_default()))
}

pub async fn the_diagram_is_whole_at_every_width_and_grows_under_two_fingers(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    for (width, height) in [(1920, 1080), (1280, 800), (768, 1024), (360, 800)] {
        b.size(width, height).await?;
        b.open(&format!("{plan}/diagram")).await?;
        let [share, _, zoom] = drawn(b).await?;
        ensure!(share <= 1.001 && (zoom - 1.0).abs() < 1e-9, "{width}: {share} of the frame, {zoom}");
    }
    // On its side it is as wide as the phone and longer than that.
    let [_, flat, _] = drawn(b).await?;
    ensure!(flat < 1.0, "{flat}");
    b.click("[aria-label='Turn the drawing']").await?;
    b.until("the drawing turned", async || {
        let [share, tall, _] = drawn(b).await?;
        Ok((share <= 1.001 && tall > 1.0).then_some(()))
    })
    .await?;
    b.click("[aria-label='Turn the drawing']").await?;
    let middle =
        "const pane = document.querySelector(\"[data-testid='diagram']\"); pane.scrollIntoView({block: 'center'});
        const box = pane.getBoundingClientRect(); return [box.left + box.width / 2, box.top + box.height / 2]";
    let at = b.script(middle).await?;
    let at = (at[0].as_f64().unwrap_or_default(), at[1].as_f64().unwrap_or_default());
    b.pinch(at, 60.0, 180.0).await?;
    b.until("the drawing enlarged", async || {
        let [share, _, zoom] = drawn(b).await?;
        Ok((share > 2.0 && zoom > 2.0).then_some(()))
    })
    .await?;
    b.click_text("Whole drawing").await?;
    b.until("all of it again", async || Ok((drawn(b).await?[0] <= 1.001).then_some(()))).await?;
    b.size(1280, 800).await
}

pub async fn who_goes_on_does_not_wait_for_the_rest_of_a_long_page(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/path")).await?;
    b.css("[data-testid='counts']").await?;
    // Goes on as soon as the head of the long page is there, to a page that has to be fetched, and counts the sections that are
    // made until that is there.
    let script = "const done = arguments[0];
        const link = to => [...document.querySelectorAll('.rail a')].find(a => a.textContent.includes(to));
        const folds = () => [...document.querySelectorAll('main details.fold')];
        const told = { sections: 0, made: 0 };
        let left = false;
        new MutationObserver((_, observer) => {
            told.sections = Math.max(told.sections, folds().length);
            told.made = Math.max(told.made, folds().filter(fold => fold.childElementCount > 1).length);
            if (!left && told.sections) { left = true; link('Parts list').click() }
            if (left && !folds().length) { observer.disconnect(); done(told) }
        }).observe(document.querySelector('main'), {childList: true, subtree: true});
        link('Device').click()";
    b.slow_network(400).await?;
    let told = b.client.execute_async(script, vec![]).await;
    b.slow_network(0).await?;
    let told = told?;
    ensure!(told["sections"].as_u64().is_some_and(|n| n > 5) && told["made"] == 0, "{told}");

    // Who comes back gets all of it.
    stage(b, "Device").await?;
    b.until("every section to be made", async || {
        let bare = "return [...document.querySelectorAll('main details.fold')].filter(fold => fold.childElementCount < 2).length";
        Ok((b.script(bare).await? == 0).then_some(()))
    })
    .await
}

pub async fn what_clears_a_finding_stays_in_its_place_while_it_is_looked_for_again(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Device").await?;
    b.css(".finding :not([inert]) > [data-testid='fix']").await?;
    let watch = "const fixes = () => document.querySelectorAll('.finding [data-testid=fix]').length;
        window.told = { before: fixes(), least: fixes(), put_away: false };
        new MutationObserver(() => {
            told.least = Math.min(told.least, fixes());
            told.put_away ||= document.querySelector('.finding [inert]') !== null;
        }).observe(document.querySelector('.findings'), {childList: true, subtree: true, attributes: true})";
    b.script(watch).await?;
    b.type_into("[data-at='/device/original/age_days']", "Age", "800 days").await?;
    saved(b).await?;
    b.gone(".finding [inert]").await?;
    let told = b.script("return told").await?;
    ensure!(told["put_away"] == true, "they could be pressed while they were of the plan before: {told}");
    ensure!(told["before"].as_u64().is_some_and(|n| n > 0) && told["least"] == told["before"], "{told}");
    Ok(())
}
