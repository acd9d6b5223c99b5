//! Feeding the device: options side by side, a converter set up, a gauge re-scaled, two packs switched.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::saved;
use crate::pictures::plan_path;

pub async fn options_are_ordered_and_laid_side_by_side(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Hedge shears").await?;
    b.open(&format!("{plan}/voltage")).await?;
    b.css("[data-option='4S Li-ion, direct'].chosen").await?;
    ensure!(b.count("[data-testid='compare']").await? == 0, "nothing is laid side by side yet");
    for name in ["4S Li-ion, direct", "4S LiPo, direct", "4S Li-ion tool pack on an adapter"] {
        b.click(&format!("[aria-label='Compare {name}']")).await?;
    }
    b.text_is("[data-testid='compare']", |t| {
        t.contains("97.2 %")
            && t.contains("tool packs and their charger are at hand")
            && t.contains("fuse in the adapter")
    })
    .await?;
    ensure!(b.count("[data-testid='compare'] svg").await? == 3, "three packs on one scale");
    b.click_text("Remove 4S LiPo, direct").await?;
    b.text_is("[data-testid='compare']", |t| !t.contains("LiPo")).await?;
    b.select("main", "Order", "lowest voltage").await?;
    b.until("the order to change", async || {
        // What is chosen stays in sight; the others follow in the order asked for.
        let second = b.text(".options li:nth-child(2)").await?;
        Ok((!second.contains("4S LiPo, direct")).then_some(()))
    })
    .await?;
    // What is laid beside can be chosen from there, and undone.
    let choose = "[data-testid='compare'] [aria-label='Choose 4S Li-ion tool pack on an adapter']";
    b.click(choose).await?;
    b.css("[data-option='4S Li-ion tool pack on an adapter'].chosen").await?;
    ensure!(b.count(choose).await? == 0, "what is chosen can be chosen again");
    b.click("[aria-label='Undo']").await?;
    b.css(choose).await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_converter_is_set_up_and_a_fixed_socket_on_it_refused(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Star-tracker mount").await?;
    b.open(&format!("{plan}/voltage")).await?;
    b.text_is("[data-testid='set-up']", |t| {
        t.contains("10.8 V, limit 0.2 A") && t.contains("11.88 V to 12.12 V") && t.contains("Only now wire it in")
    })
    .await?;
    b.text_is("[data-figure='converter.rise_k']", |t| t.contains(" K") && t.contains("assumed")).await?;
    b.click_text("Its figures").await?;
    b.type_into("main", "K/W", "8").await?;
    b.text_is("[data-figure='converter.rise_k']", |t| t.contains(" K") && !t.contains("assumed")).await?;
    b.select("main", "Turned while in use", "yes").await?;
    b.select("main", "Fixed-voltage socket on it", "yes").await?;
    b.text_is("[data-finding='voltage.fixed-socket']", |t| t.contains("adjustable output")).await?;
    b.click_text("Give the socket its own regulator").await?;
    b.until(
        "the stop to go",
        async || Ok((b.count("[data-finding='voltage.fixed-socket']").await? == 0).then_some(())),
    )
    .await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_gauge_is_rescaled_with_one_resistor_and_fed_behind_the_switch(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Metal detector").await?;
    b.open(&format!("{plan}/device")).await?;
    b.click_text("Level of the gauge").await?;
    b.type_into("[data-at='/device/brains/alarms/0']", "At", "8.8").await?;
    b.click("a[href$='/voltage']").await?;
    b.click_text("Change its divider…").await?;
    b.text_is("[data-feed='gauge']", |t| t.contains("Resistor at the top, Resistor at the bottom")).await?;
    b.type_into("[data-feed='gauge']", "Resistor at the top", "100 k").await?;
    b.type_into("[data-feed='gauge']", "Resistor at the bottom", "33 k").await?;
    b.text_is("[data-figure='gauge.ohm']", |t| t.contains("kΩ")).await?;
    b.text_is("[data-feed='gauge']", |t| t.contains("“empty” comes at")).await?;
    b.type_into("[data-feed='gauge']", "Resistor at the top", "5").await?;
    b.text_is("[data-feed='gauge']", |t| t.contains("10 Ω to 100 MΩ")).await?;
    b.type_into("[data-feed='gauge']", "Resistor at the top", "220 k").await?;
    b.select("[data-feed='gauge']", "Resistors at hand", "E96, 1 %").await?;
    b.select("[data-feed='gauge']", "Live while the device is off", "yes").await?;
    b.text_is("[data-finding='voltage.unpowered-pin']", |t| t.contains("unpowered")).await?;
    b.click_text("Connect the divider after the switch").await?;
    b.until("the caution to go", async || {
        Ok((b.count("[data-finding='voltage.unpowered-pin']").await? == 0).then_some(()))
    })
    .await?;
    // Every figure of it opens to its working.
    b.click("[data-figure='gauge.exact_ohm'] .value").await?;
    b.text_is("[data-testid='working']", |t| t.contains("bottom")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn two_switched_packs_are_judged_in_both_positions(b: &Browser) -> Result<()> {
    let plan = plan_path(b, "Bait boat").await?;
    b.open(&format!("{plan}/voltage")).await?;
    b.click_text("Add a second pack…").await?;
    // Nothing is taken for said: how they are used decides.
    b.select("[data-feed='second']", "Used in series", "yes").await?;
    b.select("[data-feed='second']", "Used in parallel", "yes").await?;
    b.text_is("[data-finding='voltage.series-above-device']", |t| t.contains("29.2 V")).await?;
    b.click_text("Leave the series position out").await?;
    b.type_into("[data-feed='second']", "First pack at rest now", "13.3").await?;
    b.type_into("[data-feed='second']", "Second pack at rest now", "13.1").await?;
    b.text_is("[data-figure='switched.apart_v']", |t| t.contains("50 mV")).await?;
    b.text_is("[data-finding='voltage.packs-apart']", |t| t.contains("Charge both full first")).await?;
    b.select("[data-feed='second']", "Switch breaks before it makes", "no").await?;
    b.css("[data-finding='voltage.make-before-break']").await?;
    b.click_text("Use a switch that breaks before it makes").await?;
    b.until("the stop to go", async || {
        Ok((b.count("[data-finding='voltage.make-before-break']").await? == 0).then_some(()))
    })
    .await?;
    // The second pack gets a guard that suits it: on the parts list as a thing of its own.
    b.click("[data-place='second-guard'] [aria-label^='Use ']").await?;
    b.text_is("[data-place='second-guard'] [data-testid='chosen']", |t| !t.is_empty()).await?;
    saved(b).await?;
    b.open(&format!("{plan}/bill")).await?;
    b.text_is("main", |t| t.contains("protection of the second pack")).await?;
    b.open(&format!("{plan}/voltage")).await?;
    b.click_text("One pack only").await?;
    b.until("the panel to close", async || {
        Ok((b.count("[data-finding='voltage.packs-apart']").await? == 0).then_some(()))
    })
    .await?;
    saved(b).await?;
    Ok(())
}
