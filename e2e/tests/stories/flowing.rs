//! What flows in the brick: overloaded strips, take-off, heat, proposed strips, files.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{FACE, copy_of, new_plan, saved, stage, take_best};

const FLOW: &str = "[data-testid='flow']";

/// Whether the page says something anywhere.
async fn says(b: &Browser, words: &str) -> Result<bool> {
    Ok(b.script(&format!("return document.body.textContent.includes({words:?})")).await? == true)
}

pub async fn overloaded_strips_are_red_until_a_fix_thickens_them(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    b.css("line[data-over]").await?;
    ensure!(b.count("line[data-over]").await? == 8, "every strip across, and both ends");
    ensure!(says(b, "Series strips overloaded").await?);
    let flow = b.text_is(FLOW, |t| t.contains("hard cutting") && t.contains("Weakest")).await?;
    ensure!(flow.contains("13.6 A") && flow.contains("of 6.83 A"), "{flow}");
    // The hottest cell is one of the middle groups, and marked on both faces.
    let hottest = b.css("path[data-hottest]").await?.attr("data-hottest").await?.unwrap_or_default();
    ensure!(["2a", "2b", "3a", "3b"].contains(&hottest.as_str()), "{hottest}");
    ensure!(b.count(&format!("path[data-hottest='{hottest}']")).await? == 2);
    b.click_text("Currents").await?;
    b.text_is(&format!("{FACE} .currents"), |t| t.contains("9.04 A")).await?;

    b.click_text("Two layers of strip").await?;
    b.until("no strip over its current", async || Ok((b.count("line[data-over]").await? == 0).then_some(()))).await?;
    ensure!(!says(b, "Series strips overloaded").await?);
    b.text_is(FLOW, |t| t.contains("27.3 A") && !t.contains("out of date")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn the_current_is_taken_off_elsewhere_and_shares_otherwise(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    let way = |name: &str| format!("[data-take-off='{name}']");
    b.text_is(&way("same_end"), |t| t.contains("104")).await?;
    ensure!(b.text(&way("every_cell")).await?.contains("100 %"));
    ensure!(b.count("[data-take-off]").await? == 3, "of two cells the middle one is an end");
    let share = "[data-figure='brick.most_share'] .whole";
    let before = b.text(share).await?;
    b.click("[aria-label='Use: take off from every cell']").await?;
    b.text_is(&way("every_cell"), |t| t.contains("chosen")).await?;
    b.text_is(share, |t| t != before && t == "1").await?;
    // The wire of pack plus is drawn on both cells of its group.
    b.until("a lead over two cells", async || {
        Ok((b.count(".lead path").await? > b.count(".lead circle").await?).then_some(()))
    })
    .await?;
    b.click_text("Closest to the edges instead").await?;
    b.text_is(share, |t| t == before).await?;
    saved(b).await?;
    Ok(())
}

pub async fn heat_is_looked_at_after_another_time_and_bad_joints_are_told(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    let row = "[data-level='usual']";
    b.text_is(row, |t| t.contains("22 min") && t.contains("47 °C")).await?;
    // The middle cells are the hottest, and the drawing says how warm each is.
    b.click_text("Temperature").await?;
    let warm = b.text_is(&format!("{FACE} .warmth"), |t| t.matches("°C").count() == 8).await?;
    ensure!(warm.contains("58.1 °C"), "{warm}");
    b.type_into(FLOW, "Show a continuous level after", "3 h").await?;
    b.text_is(row, |t| t.contains("3 h") && !t.contains("47 °C")).await?;
    b.type_into(FLOW, "Show a continuous level after", "400 years").await?;
    b.text_is(FLOW, |t| t.contains("after") && (t.contains("does not fit here"))).await?;

    b.select("main", "Cells are joined by", "soldered to bare cell ends").await?;
    b.xpath("//aside//*[contains(.,'Soldering on bare cells')]").await?;
    b.click_text("I weld strips").await?;
    b.until("no caution on soldering", async || Ok((!says(b, "damages it in seconds: the seal").await?).then_some(())))
        .await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_strip_is_proposed_for_each_metal_and_taken(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    let offers = "[data-strip-offer]";
    b.css(offers).await?;
    ensure!(b.count(offers).await? == 4, "one of each metal");
    b.click("[data-strip-offer^='copper'] button").await?;
    b.text_is("[data-strip-offer^='copper']", |t| t.contains("chosen")).await?;
    b.text_is("[data-place='strip'] [data-testid='chosen']", |t| t.starts_with("copper strip")).await?;
    b.until("no strip over its current", async || Ok((b.count("line[data-over]").await? == 0).then_some(()))).await?;
    saved(b).await?;
    Ok(())
}

pub async fn the_files_are_read_back_and_the_holder_waits_for_its_gap(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    b.css("[data-file='strips.dxf']").await?;
    let fetched = |name: &str| {
        format!(
            "const r = new XMLHttpRequest(); r.open('GET', document.querySelector(\"[data-file='{name}']\").href, false);
             r.overrideMimeType('text/plain; charset=x-user-defined'); r.send(); return [r.status, r.responseText]"
        )
    };
    let netlist = b.script(&fetched("network.cir")).await?;
    ensure!(netlist[1].as_str().is_some_and(|t| t.contains("Iload pack 0") && t.ends_with(".end\n")), "{netlist}");
    let strips = b.script(&fetched("strips.csv")).await?;
    ensure!(strips[1].as_str().is_some_and(|t| t.lines().count() == 15), "{strips}");
    b.text_is("[data-refused='holder.stl']", |t| t.contains("1 mm between cells")).await?;
    b.click("[data-testid='files'] summary").await?;
    b.type_into("[data-testid='files']", "Between cells", "1.2 mm").await?;
    b.css("[data-file='holder.stl']").await?;
    let holder = b.script(&fetched("holder.stl")).await?;
    ensure!(holder[0] == 200 && holder[1].as_str().is_some_and(|t| t.chars().count() > 84), "no STL");
    b.type_into("[data-testid='files']", "Lip over the cell’s end", "8 mm").await?;
    b.text_is("[data-refused='holder.stl']", |t| t.contains("leaves no opening")).await?;
    Ok(())
}

pub async fn a_cell_typed_by_hand_is_laid_out_and_solved(b: &Browser) -> Result<()> {
    new_plan(b, "Deck lamp").await?;
    b.click_text("Usual current").await?;
    b.type_into("[data-load='load-1']", "Draws", "6 A").await?;
    b.click_text("Compartment").await?;
    for (side, size) in [("Length", "120 mm"), ("Width", "95 mm"), ("Depth", "90 mm")] {
        b.type_into("[data-at='/device/compartments/0'] .row", side, size).await?;
    }
    stage(b, "Cells").await?;
    let cell = "[data-place='cell']";
    b.click_text("Type by hand").await?;
    b.text_is(cell, |t| t.contains("It counts once these are typed: Chemistry, Size, Origin, Capacity")).await?;
    b.select(cell, "Chemistry", "Li-ion, cylindrical").await?;
    b.select(cell, "Origin", "new, data sheet").await?;
    b.select(cell, "Shape", "round").await?;
    b.type_into(cell, "Cell diameter", "-3 mm").await?;
    b.text_is(cell, |t| t.contains("outside")).await?;
    b.type_into(cell, "Cell diameter", "26.3").await?;
    b.type_into(cell, "Cell length", "65.6 mm").await?;
    // A draft until its capacity is there: only then a cell of the plan.
    let drafted =
        b.script("return document.querySelector('[data-place=\"cell\"] [data-testid=chosen]') === null").await?;
    ensure!(drafted == true, "a cell without a capacity counts already");
    b.type_into(cell, "Capacity", "2.5 Ah").await?;
    b.css("[data-place='cell'] [data-testid='chosen']").await?;
    b.type_into(cell, "DCIR", "24 mohm").await?;
    b.type_into("main", "In series", "3").await?;
    b.type_into("main", "In parallel", "3").await?;

    stage(b, "Brick").await?;
    b.click_text("Lay out").await?;
    b.css(FACE).await?;
    let diameter = b.css(&format!("{FACE} .cell > circle")).await?.attr("r").await?.unwrap_or_default();
    ensure!(diameter == "13.15", "drawn with a radius of {diameter}");
    b.text_is(FLOW, |t| t.contains("Choose the strip first")).await?;
    take_best(b, "strip").await?;
    // Three abreast, taken off at one side: the cells of a group share unevenly, but nothing is overloaded.
    b.text_is(FLOW, |t| t.contains("Weakest") && t.contains("usual")).await?;
    ensure!(b.count("[data-take-off]").await? == 4, "of three cells the middle one is a way of its own");
    ensure!(b.count("line[data-over]").await? == 0);
    saved(b).await?;
    Ok(())
}

pub async fn the_brick_is_turned_in_space_and_drawn_apart(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    let loaded = "return performance.getEntriesByType('resource').some(r => r.name.includes('BrickInSpace') && r.name.endsWith('.js'))";
    b.script("performance.clearResourceTimings()").await?;
    ensure!(b.script(loaded).await? == false, "nobody has asked for it yet");
    b.click_text("In 3D").await?;
    let frame = "[data-testid='space'] .frame";
    let drawn = async |than: i64| {
        b.until("the brick to be drawn anew", async || {
            let now = b.css(frame).await?.attr("data-drawn").await?.and_then(|n| n.parse::<i64>().ok()).unwrap_or(0);
            Ok((now > than).then_some(now))
        })
        .await
    };
    let first = drawn(0).await?;
    let said = b.css(frame).await?.attr("aria-label").await?.unwrap_or_default();
    ensure!(said == "The brick in 3D: 8 cells, 14 strips", "{said}");
    ensure!(b.script(&format!("return document.querySelector(\"{frame} canvas\").width > 200")).await? == true);
    b.click_text("Turn left").await?;
    let turned = drawn(first).await?;
    b.script("document.querySelector(\"[data-testid='space'] .v-slider-thumb\").focus()").await?;
    b.keys("\u{e014}\u{e014}\u{e014}").await?;
    drawn(turned).await?;
    b.click_text("In 3D").await?;
    b.until("the view to close", async || Ok((b.count(frame).await? == 0).then_some(()))).await?;
    Ok(())
}
