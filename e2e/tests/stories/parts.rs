//! Parts of one's own: typed in, pasted from a seller, taken in from a sheet, and chosen in a plan with their reasons.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

const DIALOG: &str = ".v-overlay--active .v-card";

pub async fn a_seller_s_text_is_read_with_its_contradictions_and_becomes_a_part(b: &Browser) -> Result<()> {
    b.open("/parts").await?;
    b.css("[data-testid='parts'] li").await?;
    b.click_text("Paste a seller’s text").await?;
    let text = "4S 30A lithium protection board for lathes, continuous working current 15 A, balance current 60 mA";
    b.type_into(DIALOG, "The text", text).await?;
    b.click_text("Read it").await?;
    let current = b.text("[data-proposed='/protects/continuous_a']").await?;
    ensure!(current.contains("15 A") && current.contains("perhaps"), "{current}");
    let doubts = b.text("[data-testid='doubts']").await?;
    ensure!(doubts.contains("30 A") && doubts.contains("ten minutes"), "{doubts}");
    let unstated = b.text("[data-testid='unstated']").await?;
    ensure!(unstated.contains("Trip current") && unstated.contains("Arrival test"), "{unstated}");
    b.click_text("Make a part of it").await?;
    b.type_into(DIALOG, "Pieces at hand", "2").await?;
    b.click_text("Add it").await?;
    b.type_into("main", "Find", "lathes").await?;
    let row = b.text_is("[data-testid='parts']", |t| t.contains("for lathes") && !t.contains("alarm")).await?;
    ensure!(row.contains("2 at hand") && row.contains("doubtful: continuous current"), "{row}");
    Ok(())
}

pub async fn a_part_is_changed_deleted_and_taken_back_and_a_wrong_figure_is_refused(b: &Browser) -> Result<()> {
    b.open("/parts").await?;
    b.click_text("New part").await?;
    b.select(DIALOG, "What it is", "fuse").await?;
    b.type_into(DIALOG, "Name", "blade for the mast lamp").await?;
    b.type_into(DIALOG, "Rating", "4 kA").await?;
    b.text_is(DIALOG, |t| t.contains("Rating:") && t.contains("1000 A")).await?;
    ensure!(b.count(&format!("{DIALOG} button[disabled]")).await? > 0, "a refused figure must not be sent");
    b.type_into(DIALOG, "Rating", "4").await?;
    // How it is built decides what it carries for good: nobody is taken to have said so.
    b.text_is("[data-testid='still-needed']", |t| t.contains("Style") && !t.contains("Rating")).await?;
    b.select(DIALOG, "Style", "blade").await?;
    b.click_text("Add it").await?;
    let row = "[data-part='blade-for-the-mast-lamp']";
    b.text_is(row, |t| t.contains("rating 4 A")).await?;
    b.click(&format!("{row} button.open")).await?;
    b.type_into(DIALOG, "Rating", "5").await?;
    b.click_text("Save the change").await?;
    b.text_is(row, |t| t.contains("rating 5 A")).await?;
    b.click("[aria-label='Delete blade for the mast lamp']").await?;
    b.gone(row).await?;
    b.click_text("Undo").await?;
    b.css(row).await?;
    Ok(())
}

pub async fn a_sheet_with_a_bad_line_is_refused_whole_and_a_good_one_taken(b: &Browser) -> Result<()> {
    b.open("/parts").await?;
    b.click_text("Import a sheet").await?;
    b.type_into(DIALOG, "Paste from a spreadsheet", "id,kind,name,rating_a\nshed-fuse,fuse,shed fuse,lots\n").await?;
    b.click_text("Import").await?;
    b.text_is("[data-testid='bad-lines']", |t| t.contains("line 2: rating_a")).await?;
    b.type_into(DIALOG, "Paste from a spreadsheet", "id,kind,name,rating_a\nshed-fuse,fuse,shed fuse,3\n").await?;
    b.click_text("Import").await?;
    b.text_is("[data-testid='brought']", |t| t.starts_with("1 new")).await?;
    b.click_text("Close").await?;
    b.css("[data-part='shed-fuse']").await?;
    Ok(())
}

pub async fn a_board_is_chosen_by_its_merits_and_placed_on_the_charge_side(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    b.click("[data-place='board'] header button").await?;
    let list = b.text("[data-place='board'] ol.list").await?;
    ensure!(list.contains("carries 30 A of 18 A") && list.contains("from cut-off to cell damage"), "{list}");
    b.click("[data-testid='board-places'] label:nth-of-type(2) input").await?;
    b.css("[data-finding='protection.charge-side-only']").await?;
    b.click("[data-testid='board-places'] label:nth-of-type(1) input").await?;
    b.gone("[data-finding='protection.charge-side-only']").await?;
    saved(b).await?;
    Ok(())
}
