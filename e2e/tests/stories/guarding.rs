//! Guarding: who acts first when too much current flows.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

pub async fn who_acts_first_is_told_and_changes_with_the_strips_and_the_fuse(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    let case = |name: &str| format!("[data-case='{name}']");
    let overload = b.text_is(&case("overload"), |t| t.contains("27 A")).await?;
    ensure!(overload.contains("first damaged: strips"), "{overload}");
    let short = b.text(&case("dead short")).await?;
    ensure!(short.contains("the board opens within 1 ms"), "{short}");
    ensure!(b.count("[data-curve]").await? == 7, "board, fuse, cells, strips, switch, wire, plug");

    // Thicker strips: then it is the wire that an overload harms first.
    b.click_text("Two layers of strip").await?;
    b.text_is(&case("overload"), |t| t.contains("first damaged: 16 AWG wire")).await?;
    b.click_text("silicone wire 12 AWG").await?;
    b.text_is(&case("overload"), |t| !t.contains("damaged: ")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn an_arrival_test_judges_what_was_read_and_the_plan_counts_on_it(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    b.click("[data-part='board'] summary").await?;
    let test = "[data-part='board'] [data-test='trip']";
    let told = b.text(test).await?;
    ensure!(told.contains("60–90 A"), "{told}");
    b.type_into(test, "As measured", "40").await?;
    b.text_is(test, |t| t.contains("is under 60 A: do not build it in")).await?;
    b.css("[data-finding='protection.failed-on-arrival@board']").await?;
    b.type_into(test, "As measured", "68").await?;
    b.text_is(test, |t| t.contains("As it should be")).await?;
    b.gone("[data-finding='protection.failed-on-arrival@board']").await?;
    b.click_text("Use this reading").await?;
    b.text_is("[data-figure='board.trip_a']", |t| t.contains("68 A")).await?;
    b.click("[data-part='board'] [data-test='marks'] .answer button").await?;
    b.text_is("[data-part='board'] summary", |t| t.contains("2 of 11 done")).await?;
    saved(b).await?;
    // What was read is there when the page is opened anew.
    b.script("location.reload()").await?;
    b.text_is("[data-part='board'] summary", |t| t.contains("2 of 11 done")).await?;
    Ok(())
}

pub async fn more_current_lists_every_link_to_change_the_cheapest_first(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    b.type_into("[data-testid='more-current']", "Continuous current wanted", "25").await?;
    b.click_text("Find out").await?;
    let first = b.text("[data-testid='more-current'] tbody tr:first-child").await?;
    ensure!(first.contains("Fuse") && first.contains("blade fuse 40 A"), "{first}");
    let all = b.text("[data-testid='more-current']").await?;
    ensure!(all.contains("Strips") && all.contains("Plug") && all.contains("Together"), "{all}");
    b.click_text("Change all").await?;
    b.text_is("[data-place='fuse'] [data-testid='chosen']", |t| t == "blade fuse 40 A, 32 V DC").await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_board_of_bare_transistors_is_reckoned_and_re_made_for_the_start(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Protection").await?;
    b.click("[data-place='board'] header button").await?;
    b.click("[data-place='board'] button.textlink").await?;
    b.click("[aria-label^='Use small board for 4 in series']").await?;
    let cold = b.text_is("[data-figure='board.trip_cold_a']", |t| t.contains("15.6 A")).await?;
    ensure!(cold.contains("12.5–18."), "{cold}");
    b.css("[data-finding='protection.trip-in-peak'], [data-follows='protection.trip-in-peak']").await?;
    // 38 A want 38 x 2 x 0.024 x 1.5 / 0.12 = 22.8 pairs.
    b.text_is("[data-figure='board.pairs_needed']", |t| t.contains("23")).await?;
    b.click("[data-place='board'] [data-unfold]").await?;
    b.type_into("[data-place='board']", "MOSFET pairs", "23").await?;
    b.gone("[data-finding='protection.trip-in-peak'], [data-follows='protection.trip-in-peak']").await?;
    saved(b).await?;
    Ok(())
}
