//! Packs that are taken as a whole: charging added to one that stays, a hobby pack on a plug; one module at two places.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{FINDINGS, copy_of, saved, stage, take_best};

/// Begins a plan of a kind of job.
async fn begin(b: &Browser, name: &str, job: &str) -> Result<()> {
    b.open("/").await?;
    b.click_text("New plan").await?;
    b.type_into("main", "Name", name).await?;
    b.select("main", "Kind of job", job).await?;
    b.click_text("Stage by stage").await?;
    b.text_is("[data-testid='plan-name']", |t| t == name).await?;
    Ok(())
}

/// Whether no finding of the plan is a stop.
async fn without_stops(b: &Browser) -> Result<()> {
    b.text_is(FINDINGS, |t| !t.contains("stop")).await?;
    Ok(())
}

pub async fn charging_is_added_to_a_pack_that_stays(b: &Browser) -> Result<()> {
    b.tally();
    begin(b, "Survey level", "charging added to a pack that stays").await?;
    b.type_into("main", "Maximum", "8.4").await?;
    stage(b, "Cells").await?;
    // This kind of job takes the pack as it is; nothing of cells and strips is asked.
    b.click("[data-place='ready'] header button:nth-of-type(2)").await?;
    b.select("[data-place='ready']", "Kind of pack", "the device’s own, which stays").await?;
    b.type_into("[data-place='ready']", "Cells in series", "2").await?;
    b.type_into("[data-place='ready']", "Capacity on the label", "2.6").await?;
    b.text_is("[data-place='ready'] [data-testid='chosen']", |t| t.contains("ready pack")).await?;
    ensure!(b.count("[data-place='cell'], [data-at='/packs/0/parallel']").await? == 0, "cells are asked for");
    b.text_is("main", |t| t.contains("has protection inside")).await?;
    stage(b, "Brick").await?;
    b.text_is("[data-testid='comes-whole']", |t| t.contains("no layout and no welding")).await?;
    ensure!(b.count("[data-place='strip']").await? == 0, "strips are asked for");
    stage(b, "Protection").await?;
    let board = take_best(b, "board").await?;
    ensure!(board.contains("2 series"), "{board}");
    b.text_is("[data-finding='protection.charge-side-only']", |t| t.contains("charge only")).await?;
    stage(b, "Charging").await?;
    take_best(b, "charger").await?;
    take_best(b, "jack").await?;
    // The lead that leaves the pack has a fuse, judged by what the charge asks.
    let fuse = take_best(b, "charge-fuse").await?;
    ensure!(fuse.contains('A'), "{fuse}");
    without_stops(b).await?;
    let (fields, clicks) = b.tally();
    println!("charging added to a pack that stays: {fields} fields, {clicks} clicks");
    ensure!(fields <= 35 && clicks <= 45, "{fields} fields and {clicks} clicks");
    super::jobs::keep((fields, clicks));
    // Three wires at the pack, each with what it reads before it is soldered; turned over they stand the other way round.
    b.click("a[href$='/diagram']").await?;
    let wires = b.text("[data-thing='board'] table").await?;
    for wire in ["pack minus", "between group 1 and 2", "pack plus", "the load stays on pack minus"] {
        ensure!(wires.contains(wire), "{wire} is not among {wires}");
    }
    b.text_is("[data-thing='board'] svg g:first-of-type .name", |t| t == "B−").await?;
    b.click("[data-thing='board'] input[type='checkbox']").await?;
    b.text_is("[data-thing='board'] svg g:first-of-type .name", |t| t == "P+").await?;
    // What stays is not bought.
    b.click("a[href$='/bill']").await?;
    b.text_is("main", |t| t.contains(&board) && !t.contains("my ready pack")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_hobby_pack_is_taken_as_it_comes_and_left_again(b: &Browser) -> Result<()> {
    b.tally();
    begin(b, "Handheld vacuum", "ready pack on a plug").await?;
    stage(b, "Cells").await?;
    b.click("[data-place='ready'] [aria-label^='Use 3S 2.2 Ah hobby pack']").await?;
    b.text_is("[data-place='ready'] [data-testid='chosen']", |t| t.starts_with("3S 2.2 Ah")).await?;
    // The counts are those of the pack, on the plate at once.
    b.text_is("[data-testid='counts']", |t| t.contains("3S1P")).await?;
    b.text_is("[data-figure='cells.limit_a']", |t| t.contains("27.5 A")).await?;
    b.click("[data-place='ready'] [data-unfold]").await?;
    b.type_into("[data-place='ready']", "Cells in series", "4").await?;
    b.text_is("[data-testid='counts']", |t| t.contains("4S1P")).await?;
    b.click("[aria-label='Undo']").await?;
    b.text_is("[data-testid='counts']", |t| t.contains("3S1P")).await?;
    // Built of cells after all: the pack is left, and cells are asked for.
    let (fields, clicks) = b.tally();
    println!("ready pack on a plug: {fields} fields, {clicks} clicks to the pack");
    b.click("[data-testid='pack-ways'] label:first-of-type input").await?;
    b.css("[data-place='cell']").await?;
    b.css("[data-at='/packs/0/parallel']").await?;
    saved(b).await?;
    Ok(())
}

pub async fn one_module_is_taken_into_both_its_places(b: &Browser) -> Result<()> {
    begin(b, "Reading lamp", "power bank").await?;
    stage(b, "Cells").await?;
    b.type_into("main", "In series", "1").await?;
    stage(b, "Protection").await?;
    b.click("[data-place='board'] [aria-label^='Use charge-and-protect module']").await?;
    b.text_is("[data-place='board'] [data-testid='chosen']", |t| t.starts_with("charge-and-protect")).await?;
    stage(b, "Charging").await?;
    b.text_is("[data-place='charger']", |t| {
        t.contains("charge-and-protect") && t.contains("the same module as the board")
    })
    .await?;
    b.click("a[href$='/bill']").await?;
    b.text_is("main", |t| t.matches("charge-and-protect module, one cell").count() == 1).await?;
    b.client.back().await?;
    // Another charger for this place alone leaves the board as it is.
    b.click_text("Another one").await?;
    b.text_is("[data-place='charger']", |t| t.contains("not decided yet")).await?;
    stage(b, "Protection").await?;
    b.text_is("[data-place='board'] [data-testid='chosen']", |t| t.starts_with("charge-and-protect")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn cells_in_holders_are_judged_with_one_reversed_and_with_few(b: &Browser) -> Result<()> {
    copy_of(b, "Metal detector").await?;
    stage(b, "Cells").await?;
    b.type_into("main", "In parallel", "3").await?;
    b.click_text("Add cell holders…").await?;
    b.text_is("[data-feed='holder']", |t| t.contains("Minimum number of cells")).await?;
    b.type_into("[data-feed='holder']", "Minimum number of cells", "1").await?;
    b.text_is("[data-figure='holder.reversed_a']", |t| t.contains(" A")).await?;
    // Nobody has said yet what stands before each cell.
    b.css("[data-finding='cells.holder-reversed']").await?;
    b.select("[data-feed='holder']", "Protection per cell", "nothing").await?;
    b.text_is("[data-finding='cells.holder-reversed']", |t| t.contains("until it vents")).await?;
    b.click_text("Add an ideal diode per cell").await?;
    b.gone("[data-finding='cells.holder-reversed']").await?;
    b.type_into("[data-feed='holder']", "Minimum number of cells", "7").await?;
    b.text_is(".problem[role='alert']", |t| t.contains("it has 3 holders")).await?;
    b.click("[aria-label='Undo']").await?;
    saved(b).await?;
    Ok(())
}
