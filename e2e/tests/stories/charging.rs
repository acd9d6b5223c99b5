//! Charging: who may charge the pack, how full, from what; what was read at its contacts; groups brought level.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

pub async fn the_old_charger_is_refused_and_a_module_is_fed_and_timed(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Charging").await?;
    let old = b.text_is("[data-way='old_charger'][data-stands='refused']", |t| t.contains("planned")).await?;
    ensure!(old.contains("Made for nickel") && old.contains("past the 16.8 V"), "{old}");
    b.css("[data-way='converter'][data-stands='refused']").await?;
    ensure!(b.count("[data-testid='charge-course']").await? == 0, "a refused charger has no course");

    b.click("[data-place='charger'] header button").await?;
    b.click("[data-place='charger'] button.textlink").await?;
    b.click("[aria-label='Use charge module, 4 series, from 20 V']").await?;
    b.css("[data-finding='charging.no-supply']").await?;
    b.gone("[data-finding='charging.old-charger']").await?;
    b.click("[data-place='supply'] header button").await?;
    b.click("[aria-label='Use wall supply, 20 V, 3.25 A']").await?;
    b.gone("[data-finding='charging.no-supply']").await?;
    // 16.8 V x 2 A / 0.92 from 20 V.
    b.text_is("[data-figure='supply.needed_a']", |t| t.contains("1.83 A")).await?;
    let last = b.text_is("[data-set-by='cells']", |t| t.contains("limit of the cells")).await?;
    ensure!(last.contains('%'), "{last}");
    b.css("[data-testid='feeds']").await?;
    ensure!(b.count("[data-enough='true']").await? == 2, "the two profiles of 20 V");

    // Too few volts never charge, whatever the current.
    b.click("[data-place='supply'] header button").await?;
    b.click("[aria-label='Use wall supply, 12 V, 3 A']").await?;
    b.css("[data-finding='charging.supply-low']").await?;
    saved(b).await?;
    Ok(())
}

pub async fn an_end_below_full_is_chosen_from_the_table(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Charging").await?;
    b.click("[data-place='charger'] header button").await?;
    b.click("[aria-label='Use wall charger, 4 series Li-ion, 16.8 V, 2 A']").await?;
    let row = "[data-testid='end-volts'] tbody tr:nth-child(3)";
    let told = b.text_is(row, |t| t.contains("16.4 V") && t.contains("Use this")).await?;
    ensure!(told.contains("× 2") && told.contains("10"), "{told}");
    b.click(&format!("{row} button")).await?;
    b.text_is(row, |t| t.contains("planned")).await?;
    b.text_is("[data-figure='charger.output_v']", |t| t.contains("16.4 V")).await?;
    b.css("[data-finding='charging.below-full']").await?;
    saved(b).await?;
    Ok(())
}

pub async fn jack_and_plug_are_read_and_a_turned_plug_stops_the_plan(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    stage(b, "Charging").await?;
    let panel = "[data-testid='contacts']";
    b.text_is(panel, |t| t.contains("The board is closed")).await?;
    b.type_into(panel, "At the charger’s plug, red inside", "-14.61").await?;
    b.text_is(panel, |t| t.contains("minus is inside")).await?;
    b.css("[data-finding='charging.polarity']").await?;
    b.click_text("I swap the leads of the plug and read it again").await?;
    b.gone("[data-finding='charging.polarity']").await?;
    // A diode's volts are missing behind the board: one of its transistors is off.
    b.type_into(panel, "After the board", "12.7").await?;
    b.text_is(panel, |t| t.contains("one of its two MOSFETs is off")).await?;
    b.type_into(panel, "After the board", "900").await?;
    b.text_is(panel, |t| t.contains("-500 V to 500 V")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_device_with_a_charge_circuit_has_it_followed_or_cut_off(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    stage(b, "Device").await?;
    b.select("main", "Kind of job", "instrument with its own charger").await?;
    b.select("main", "It charges its battery itself", "yes").await?;
    b.css("[data-finding='charging.host-charges']").await?;
    stage(b, "Charging").await?;
    b.select("main", "The device’s own charge circuit", "it charges the pack").await?;
    b.css("[data-finding='charging.host-reused']").await?;
    b.select("main", "The device’s own charge circuit", "followed: it only tells that there is mains").await?;
    b.css("[data-finding='charging.host-node-fed']").await?;
    b.select("main", "A diode or relay keeps the new supply off it", "yes").await?;
    b.gone("[data-finding='charging.host-node-fed']").await?;
    b.gone("[data-finding='charging.host-reused']").await?;
    saved(b).await?;
    Ok(())
}

pub async fn groups_read_at_rest_are_weighed_in_charge_and_by_the_three_schools(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Charging").await?;
    b.click("[data-place='charger'] header button").await?;
    b.click("[aria-label='Use wall charger, 4 series Li-ion, 16.8 V, 2 A']").await?;
    let panel = "[data-testid='balance']";
    for (i, volts) in ["3.905", "3.900", "3.901", "3.86"].into_iter().enumerate() {
        b.type_into(panel, &format!("Group {}, B{i} to B{}", i + 1, i + 1), volts).await?;
        // The next group is asked once this one stands in the plan.
        b.until("the reading to be kept", async || {
            Ok((b.count(&format!("{panel} .v-text-field")).await? >= (i + 2).min(4)).then_some(()))
        })
        .await?;
    }
    b.text_is("[data-figure='balance.apart_v']", |t| t.contains("45 mV")).await?;
    b.text_is("[data-testid='to-move']", |t| t.contains("Ah must leave") || t.contains("mAh must leave")).await?;
    let bleeders = b.text("[data-school='bleeders']").await?;
    ensure!(bleeders.contains("0.1 A") && bleeders.contains("apart at the end"), "{bleeders}");
    b.css("[data-finding='charging.balancing-long']").await?;
    b.type_into(panel, "Group 4, B3 to B4", "3.902").await?;
    b.gone("[data-finding='charging.balancing-long']").await?;
    b.type_into(panel, "Group 4, B3 to B4", "9").await?;
    // Two cells on one tap: told as that, and nothing is levelled.
    b.css("[data-finding='wiring.tap-misplaced@group-4']").await?;
    b.text_is(panel, |t| t.contains("balancing is not the answer")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_charge_module_is_tested_on_a_capacitor_before_it_sees_a_cell(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    stage(b, "Charging").await?;
    b.click("[data-part='charger'] summary").await?;
    let told = b.text("[data-part='charger'] .needs").await?;
    ensure!(told.contains("a capacitor of 10 mF") && told.contains("200 Ω"), "{told}");
    // What lies in the drawer instead: 1 kilohm and 4.7 mF are 4.7 s.
    b.type_into("[data-part='charger'] .own", "Resistor at hand", "1k").await?;
    b.type_into("[data-part='charger'] .own", "Capacitor at hand", "4700u").await?;
    b.text_is("[data-part='charger'] .needs", |t| t.contains("a capacitor of 4.7 mF") && t.contains("1 kΩ")).await?;
    b.text_is("[data-part='charger'] [data-test='rise']", |t| t.contains("3.76 s – 2 min")).await?;
    let end = "[data-part='charger'] [data-test='end']";
    b.type_into(end, "As measured", "14.63").await?;
    b.text_is(end, |t| t.contains("0.205 % over 14.6 V")).await?;
    b.type_into(end, "As measured", "15.1").await?;
    b.text_is(end, |t| t.contains("do not build it in")).await?;
    b.css("[data-finding='charging.failed-on-arrival@charger']").await?;
    b.type_into(end, "As measured", "14.63").await?;
    b.gone("[data-finding='charging.failed-on-arrival@charger']").await?;
    b.click_text("Use this reading").await?;
    b.text_is("[data-figure='charger.output_v']", |t| t.contains("14.63 V")).await?;
    saved(b).await?;
    Ok(())
}
