//! Laying the brick: arrangements, edits by hand, welding step by step, sheets to print.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;

use super::{FACE, FINDINGS, copy_of, new_plan, saved, stage};

/// Middle of a cell of the first face, on the page; brought into view first.
async fn middle_of(b: &Browser, label: &str) -> Result<(f64, f64)> {
    let found = b
        .script(&format!(
            "const cell = document.querySelector(\"{FACE} [data-label='{label}']\");
             document.querySelector('{FACE}').scrollIntoView({{block: 'center'}});
             const r = cell.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]"
        ))
        .await?;
    let at = |k: usize| found[k].as_f64().context("a cell has a place");
    Ok((at(0)?, at(1)?))
}

/// Takes a cell up by a click; another one if answers moved the page just then, which is let go again.
async fn take_up(b: &Browser, label: &str) -> Result<()> {
    b.until(&format!("cell {label} in hand"), async || {
        let (x, y) = middle_of(b, label).await?;
        b.click_at(x, y).await?;
        if b.text_is(".tools b", |t| !t.is_empty()).await? == label {
            return Ok(Some(()));
        }
        b.click_text("Let go").await?;
        Ok(None)
    })
    .await
}

pub async fn a_cell_is_dragged_a_short_refused_and_the_rest_laid_out_anew(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    let before = b.text(FINDINGS).await?;
    ensure!(b.count(&format!("{FACE} [data-cell]")).await? == 8);

    // Dragged far from its fellow: two groups fall apart, and both are told.
    let (from, to) = (middle_of(b, "1a").await?, middle_of(b, "4b").await?);
    b.drag(from, to).await?;
    b.xpath("//aside//*[contains(.,'Group not joined by strips')]").await?;
    ensure!(b.text(FINDINGS).await? != before);
    let moved = middle_of(b, "1a").await?;
    ensure!((moved.0 - to.0).abs() < 2.0 && (moved.1 - to.1).abs() < 2.0, "{moved:?} is not {to:?}");

    // Held where it is, while the rest is laid out round it.
    take_up(b, "1a").await?;
    b.click_text("Lock").await?;
    b.css(&format!("{FACE} .lock")).await?;
    b.click_text("Search a better one").await?;
    b.until("no group apart", async || {
        let apart = b.script("return document.body.textContent.includes('Group not joined by strips')").await?;
        Ok((apart == false).then_some(()))
    })
    .await?;
    let held = middle_of(b, "1a").await?;
    ensure!((held.0 - moved.0).abs() < 2.0, "the locked cell went from {moved:?} to {held:?}");

    // One cell of a pair turned over would join plus to minus: nothing is changed.
    take_up(b, "2a").await?;
    b.click_text("Turn over").await?;
    b.text_is("[data-testid='edit-refused']", |t| t.contains("short") && t.contains("group 2")).await?;
    b.click_text("Turn group 2").await?;
    b.xpath("//aside//*[contains(.,'Two groups do not meet on one face')]").await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_brick_is_welded_step_by_step_with_every_other_face_covered(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.click_text("Weld step by step").await?;
    let mut lit = 0;
    let mut last = String::new();
    for _ in 0..60 {
        let step = b.text("[data-testid='weld-step']").await?;
        let now = b.count(".strip.lit").await?;
        lit += now;
        if now > 0 {
            ensure!(b.count(".drawn figure:not(.covered)").await? == 1, "while “{step}”");
        }
        let next = b.css("[data-testid='weld-step'] .next").await?;
        if next.attr("disabled").await?.is_some() {
            last = step;
            break;
        }
        next.click().await?;
        b.text_is("[data-testid='weld-step']", |t| t != step).await?;
    }
    ensure!(last.contains("pack plus"), "the last step is “{last}”");
    ensure!(lit == b.count("line.strip").await?, "{lit} strips were welded");
    Ok(())
}

pub async fn the_sheets_are_opened_and_measured(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    b.css("[data-sheet='face-bottom']").await?;
    for sheet in ["face-top", "face-bottom", "label", "holes-handle"] {
        let told = b
            .script(&format!(
                "const link = document.querySelector(\"[data-sheet='{sheet}']\");
                 const r = new XMLHttpRequest(); r.open('GET', link.href, false); r.send();
                 const page = new DOMParser().parseFromString(r.responseText, 'image/svg+xml').documentElement;
                 const rule = page.querySelector('#rule');
                 const scale = parseFloat(page.getAttribute('width')) / page.getAttribute('viewBox').split(' ')[2];
                 return [page.getAttribute('width'), (rule.getAttribute('x2') - rule.getAttribute('x1')) * scale,
                         page.querySelectorAll('.cell').length, page.querySelectorAll('.turn').length]"
            ))
            .await?;
        let faces = sheet.starts_with("face");
        ensure!(told[0] == "210mm" && told[1] == 50.0, "{sheet}: {told}");
        ensure!(told[2] == if faces { 8 } else { 0 }, "{sheet}: {told}");
        ensure!(told[3] == i32::from(sheet == "face-bottom"), "{sheet}: {told}");
    }
    Ok(())
}

pub async fn a_place_too_small_is_told_with_ways_out_until_the_brick_fits(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Device").await?;
    b.type_into("[data-at='/device/compartments/0'] .row", "Depth", "69 mm").await?;
    b.xpath("//aside//*[contains(.,'Brick does not fit')]").await?;
    stage(b, "Brick").await?;
    b.xpath("//h3[contains(text(),'None fits')]").await?;
    b.click_text("No foam round it").await?;
    b.css("li.chosen [aria-label='fine'], li.chosen .fine, li.chosen").await?;
    b.until("the brick fits", async || {
        let wrong = b.script("return document.body.textContent.includes('Brick does not fit')").await?;
        Ok((wrong == false).then_some(()))
    })
    .await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_blank_plan_says_what_the_brick_waits_for(b: &Browser) -> Result<()> {
    new_plan(b, "Kite winch").await?;
    stage(b, "Brick").await?;
    b.xpath("//*[contains(text(),'Measure the place for the pack first')]").await?;
    ensure!(b.count("svg.face").await? == 0);
    Ok(())
}

pub async fn things_find_their_place_beside_the_brick(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.css("[data-testid='bay'] [data-at]").await?;
    let switch = b
        .script(
            "return [...document.querySelectorAll(\"[data-testid='bay'] [data-at]\")]
                .find(row => row.textContent.includes('switch'))?.dataset.at ?? ''",
        )
        .await?;
    let row = format!("[data-testid='bay'] [data-at='{}']", switch.as_str().unwrap_or_default());
    for (side, size) in [("Length", "20"), ("Width", "10"), ("Height", "8")] {
        b.type_into(&row, side, size).await?;
    }
    b.text_is("[data-testid='bay'] table", |t| t.contains("switch") && t.contains("mm")).await?;
    b.css("[data-testid='bay'] svg .part").await?;
    // Too long for any corner: told, and put outside by its button.
    b.type_into(&row, "Length", "900").await?;
    b.text_is("[data-finding^='brick.thing-unplaced']", |t| t.contains("finds no place")).await?;
    b.click_text("Put it outside").await?;
    b.gone("[data-finding^='brick.thing-unplaced']").await?;
    // Or in another compartment, which is drawn by itself.
    stage(b, "Device").await?;
    b.click_text("Compartment").await?;
    let new = "[data-at='/device/compartments/1']";
    b.type_into(new, "Place", "stern").await?;
    for (side, size) in [("Length", "1000"), ("Width", "60"), ("Depth", "60")] {
        b.type_into(new, side, size).await?;
    }
    b.script("document.activeElement.blur()").await?;
    stage(b, "Brick").await?;
    b.select(&row, "It sits", "in “stern”").await?;
    b.text_is("[data-testid='bay'] [data-bay]", |t| t.contains("stern") && t.contains("switch")).await?;
    ensure!(b.count("[data-testid='bay'] [data-bay] .brick").await? == 0, "the brick is not in the stern");
    b.select(&row, "It sits", "on the lead").await?;
    b.gone("[data-testid='bay'] [data-bay]").await?;
    saved(b).await?;
    Ok(())
}
