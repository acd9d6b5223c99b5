//! Running: what the pack does under its load, what would change it, how its groups fill, a cell fitted to its log.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

/// The key of an arrow to the right.
const RIGHT: &str = "\u{e014}";

/// Answer of a variant, counted from 1, in the row of that test id.
fn answer(row: &str, variant: usize) -> String {
    format!("[data-testid='answers'] tr td[data-testid='{row}']:nth-of-type({variant})")
}

/// Minutes of a run as it is shown.
async fn minutes(b: &Browser, variant: usize) -> Result<f64> {
    let told = b.text(&format!("{} b", answer("runs", variant))).await?;
    let number = |word: &str| told.split(word).next().and_then(|t| t.split_whitespace().last()?.parse::<f64>().ok());
    let hours = number(" h").filter(|_| told.contains(" h")).map(|hours| 60.0 * hours);
    hours.or_else(|| number(" min")).with_context(|| format!("no minutes in “{told}”"))
}

/// Moves a slider by so many of its steps, with the keyboard.
async fn turn(b: &Browser, slider: &str, steps: usize) -> Result<()> {
    b.css(&format!("#turn-{slider}")).await?;
    b.script(&format!("document.querySelector('#turn-{slider}').focus()")).await?;
    b.keys(&RIGHT.repeat(steps)).await
}

pub async fn a_run_is_changed_by_what_is_turned_and_says_who_ends_it(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Run").await?;
    let says = b.text_is(&answer("ends", 1), |t| t.contains("opens the discharge")).await?;
    ensure!(says.contains("group") && says.contains("3 V"), "{says}");
    let planned = minutes(b, 1).await?;

    // A higher cut-off ends it earlier, and by itself.
    turn(b, "cutoff", 8).await?;
    b.text_is(&answer("ends", 2), |t| t.contains("cut-off opens: the pack is at 13.6 V")).await?;
    ensure!(minutes(b, 2).await? < 0.8 * planned, "a higher cut-off runs shorter");
    b.click_text("Keep for comparison").await?;

    // One more cell in parallel lengthens it; the plan takes it over.
    turn(b, "parallel", 1).await?;
    b.text_is("[data-testid='answers'] th:nth-of-type(3)", |t| t == "3 parallel").await?;
    ensure!(minutes(b, 3).await? > 1.3 * planned, "more cells run longer");
    b.click_text("Put it into the plan").await?;
    b.text_is("[data-testid='counts']", |t| t == "4S3P").await?;
    b.until("the planned run to be that of three", async || Ok((minutes(b, 1).await? > 1.3 * planned).then_some(())))
        .await?;
    b.click("[aria-label^='Remove ']").await?;
    b.until("one variant to be left", async || Ok((b.count("[data-testid='runs']").await? == 1).then_some(()))).await?;

    for kind in ["Groups", "Current", "Power", "Temperature", "Charge"] {
        b.click_text(kind).await?;
        b.css(&format!("[data-testid='course'] [aria-label^='{kind} over time'] svg")).await?;
    }
    b.click_text("Show the values").await?;
    b.text_is("[data-testid='course'] table tbody tr:last-child", |t| t.contains("min")).await?;
    b.click_text("Draw the map").await?;
    b.text_is("[data-testid='map'] table", |t| t.contains("× 3") && t.contains("board")).await?;
    saved(b).await?;
    Ok(())
}

/// One group is read lower than the others: it ends the run in its name, and the charge leaves it behind.
pub async fn a_weak_group_ends_the_run_and_is_left_behind_by_the_charge(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    stage(b, "Run").await?;
    b.css(&answer("runs", 1)).await?;
    let full = minutes(b, 1).await?;
    stage(b, "Charging").await?;
    let fill = "[data-testid='fill']";
    b.text_is(fill, |t| t.contains("The charger ends it") && t.contains("80 % is in")).await?;
    for (group, v) in [(1, "3.33"), (2, "3.33"), (3, "3.20"), (4, "3.33")] {
        b.type_into("[data-testid='balance']", &format!("Group {group}, B{} to B{group}", group - 1), v).await?;
    }
    b.click(&format!("{fill} input[type='checkbox']")).await?;
    let told = b.text_is(&format!("{fill} [data-testid='fill-says']"), |t| t.contains("opens on group")).await?;
    ensure!(!told.contains("group 3"), "the low group is not the first that is full: {told}");
    stage(b, "Run").await?;
    b.click("[data-testid='starts'] input").await?;
    b.text_is(&answer("ends", 1), |t| t.contains("group 3")).await?;
    ensure!(minutes(b, 1).await? < 0.5 * full, "a weak group ends it early");
    saved(b).await?;
    Ok(())
}

pub async fn a_cell_is_fitted_to_its_log_and_a_bad_log_refused(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Run").await?;
    b.css(&answer("runs", 1)).await?;
    let before = minutes(b, 1).await?;
    let folder = std::env::temp_dir().join(format!("dense-brick-log-{}", std::process::id()));
    std::fs::create_dir_all(&folder)?;
    let (good, bad) = (folder.join("good.csv"), folder.join("bad.csv"));
    // A tired cell: 2 Ah from 4.1 V down to 2.8 V at 2 A.
    let lines: String =
        (0..240).map(|k| format!("{},{:.4},-2\n", k * 15, 4.1 - 1.3 * (f64::from(k) / 239.0))).collect();
    std::fs::write(&good, format!("Test Time / s,Voltage / V,Current / A\n{lines}"))?;
    std::fs::write(&bad, "Test Time / s,Voltage / V,Current / A\n0,4.1,2\n15,41,2\n")?;
    let panel = "[data-testid='own-cell']";
    b.choose_file("own-log", &bad).await?;
    b.text_is(panel, |t| t.contains("line 3") && t.contains("0.5 to 5")).await?;
    b.choose_file("own-log", &good).await?;
    b.text_is(&format!("{panel} [data-testid='own-fit']"), |t| t.contains("240 lines")).await?;
    b.text_is(&format!("{panel} [data-testid='own-says']"), |t| t.contains("Good") && t.contains("in the plan"))
        .await?;
    // The same file again is no second discharge; one at three times the current is, and the first stays until it comes. At 6 A
    // the cell loses 0.2 V more, so that it is at its end after 85 % of the charge.
    b.choose_file("own-second", &good).await?;
    b.text_is(panel, |t| t.contains("hardly faster")).await?;
    let lines: String = (0..204).map(|k| format!("{},{:.4},-6\n", k * 5, 3.9 - 1.3 * (f64::from(k) / 240.0))).collect();
    std::fs::write(&bad, format!("Test Time / s,Voltage / V,Current / A\n{lines}"))?;
    b.choose_file("own-second", &bad).await?;
    b.text_is(&format!("{panel} [data-testid='own-says']"), |t| t.contains("from the faster discharge")).await?;
    b.click_text("Discard it").await?;
    // The data sheet's curve does as well.
    b.click_text("Paste a data sheet’s curve…").await?;
    b.type_into(".v-dialog", "Current of that curve", "0.5").await?;
    let points: String = (0..12).map(|k| format!("{},{:.3}\n", k * 200, 4.15 - 0.118 * f64::from(k))).collect();
    b.type_into(".v-dialog", "Charge and voltage, one point per line", &format!("capacity_mah,voltage_v\n{points}"))
        .await?;
    b.click_text("Use this curve").await?;
    b.text_is(&format!("{panel} [data-testid='own-fit']"), |t| t.contains("12 lines")).await?;
    b.choose_file("own-log", &good).await?;
    b.text_is(&format!("{panel} [data-testid='own-fit']"), |t| t.contains("240 lines")).await?;
    b.click_text("Put it into the plan").await?;
    b.text_is(&format!("{panel} [data-testid='fitted']"), |t| t.contains("its own curve")).await?;
    b.until("the run to be that of the tired cell", async || Ok((minutes(b, 1).await? < 0.9 * before).then_some(())))
        .await?;
    b.click_text("Remove it").await?;
    b.gone(&format!("{panel} [data-testid='fitted']")).await?;
    saved(b).await?;
    std::fs::remove_dir_all(folder)?;
    Ok(())
}
