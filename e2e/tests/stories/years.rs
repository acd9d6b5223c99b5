//! Packs and their years: logged by phone, read out, looked ahead, put on paper.

use anyhow::{Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::copy_of;

/// The moment of the entry that is open, as the field for it wants it.
async fn when(b: &Browser, days_ago: u32) -> Result<()> {
    let set = "const field = document.querySelector('[data-testid=entry] input[type=datetime-local]');
        if (!field) return false;
        const then = new Date(Date.now() - arguments[0] * 86400000);
        Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(field, then.toISOString().slice(0, 16));
        field.dispatchEvent(new Event('input', {bubbles: true}));
        return true";
    b.until("the entry to open", async || {
        let done = b.client.execute(set, vec![json!(days_ago)]).await?;
        Ok((done == json!(true)).then_some(()))
    })
    .await
}

async fn rest(b: &Browser, days_ago: u32, volts: [&str; 3]) -> Result<()> {
    b.click_text("Rest voltages").await?;
    when(b, days_ago).await?;
    for (i, v) in volts.iter().enumerate() {
        b.type_into("[data-testid='entry']", &format!("Group {}", i + 1), v).await?;
    }
    b.click_text("1 day").await?;
    b.click_text("Save it").await?;
    b.gone("[data-testid='entry']").await
}

pub async fn a_pack_as_found_is_logged_by_phone_and_its_leaking_group_is_named(b: &Browser) -> Result<()> {
    b.size(360, 740).await?;
    b.open("/packs").await?;
    b.click_text("Add a pack").await?;
    // Refused in place, and nothing typed is lost.
    b.type_into("[data-testid='card']", "Groups in series", "3").await?;
    b.click_text("Save it").await?;
    b.text_is("[data-testid='card'] ul[role='alert']", |t| t.contains("Name: 1 to 120 characters")).await?;
    b.type_into("[data-testid='card']", "Name", "Beach lantern").await?;
    b.type_into("[data-testid='card']", "Capacity when new", "2500 mAh").await?;
    b.click_text("Save it").await?;
    b.text_is("h1", |t| t.contains("Beach lantern")).await?;
    rest(b, 95, ["4.080", "4.081", "4.080"]).await?;
    b.text_is("section.spread, .spread", |t| t.contains("Nothing stands out")).await?;
    rest(b, 65, ["4.082", "4.074", "4.081"]).await?;
    rest(b, 35, ["4.080", "4.062", "4.080"]).await?;
    rest(b, 1, ["4.081", "4.051", "4.080"]).await?;
    b.text_is(".spread", |t| t.contains("Group 2 discharges itself")).await?;
    b.text_is("[aria-label='Due']", |t| t.contains("Group 2 falls behind")).await?;

    // Two taps: what happened, which.
    b.click_text("Event").await?;
    b.click_text("Dropped").await?;
    b.text_is("[aria-label='Due']", |t| t.contains("Was dropped: inspect it")).await?;
    b.click_text("Log the inspection").await?;
    b.click_text("All sound").await?;
    b.until("the look to be enough", async || {
        let due = b.text("[aria-label='Due']").await?;
        Ok((!due.contains("Was dropped")).then_some(()))
    })
    .await?;

    // A figure that cannot be is refused; the field keeps it.
    b.click_text("Charge").await?;
    b.type_into("[data-testid='entry']", "Charged", "2.1 Ah").await?;
    b.type_into("[data-testid='entry']", "Took", "95 min").await?;
    b.click_text("Charger ended it").await?;
    b.text_is(".log li:first-child", |t| t.contains("ended by the charger") && t.contains("2.1 Ah")).await?;

    // What was wrong is struck out and stays in sight.
    b.click(".log li:first-child .line").await?;
    b.type_into(".log li:first-child", "It was wrong because", "that was the torch").await?;
    b.click_text("Strike out").await?;
    b.text_is(".log li.struck", |t| t.contains("that was the torch")).await?;
    let wide = b.script("return document.documentElement.scrollWidth - innerWidth").await?;
    ensure!(wide.as_f64() <= Some(0.0), "scrolls sideways by {wide}");
    b.size(1280, 800).await?;
    b.open("/packs").await?;
    b.press(b.xpath("//a[contains(@class,'pack')][.//b[contains(.,'Beach lantern')]]").await?).await?;
    b.click_text("Delete").await?;
    b.click_text("Undo").await?;
    b.xpath("//a[contains(@class,'pack')][.//b[contains(.,'Beach lantern')]]").await?;
    Ok(())
}

pub async fn another_use_moves_the_forecast_and_label_and_sheet_go_onto_paper(b: &Browser) -> Result<()> {
    b.open("/packs").await?;
    b.press(b.xpath("//a[contains(@class,'pack')][.//b[contains(.,'1. Hedge shears')]]").await?).await?;
    let now = b.text_is("[data-testid='worn']", |t| t.contains("80 % about")).await?;
    b.click("[data-other='half_full']").await?;
    let later = b.text_is("[data-testid='worn']", |t| t != now && t.contains("80 % about")).await?;
    let year = |t: &str| {
        t.split_whitespace().find_map(|w| w.trim_end_matches([',', '.']).parse::<u32>().ok().filter(|y| *y > 2000))
    };
    ensure!(year(&later) >= year(&now), "{now} {later}");
    b.click("[data-other='half_full']").await?;
    b.text_is("[data-testid='worn']", |t| t == now).await?;
    b.click("details summary").await?;
    b.text_is("details ul", |t| t.contains("5 capacity tests") && t.contains("knee")).await?;
    b.text_is(".spread", |t| t.contains("Group 3 discharges itself")).await?;

    b.script("window.print = () => { window.printed = (window.printed ?? 0) + 1 }").await?;
    b.click_text("Print the label").await?;
    b.until("the print", async || Ok((b.script("return window.printed").await? == json!(1)).then_some(()))).await?;
    b.print_media(true).await?;
    let shown = "const seen = e => !!e && e.getClientRects().length > 0;
        return [seen(document.querySelector('.paper svg')), seen(document.querySelector('.paper h1')), seen(document.querySelector('.log'))]";
    ensure!(b.script(shown).await? == json!([true, false, false]), "the label alone");
    b.print_media(false).await?;
    b.click_text("Sheet for the next owner").await?;
    b.until("the print", async || Ok((b.script("return window.printed").await? == json!(2)).then_some(()))).await?;
    b.print_media(true).await?;
    ensure!(b.script(shown).await? == json!([true, true, false]), "label and sheet");
    let paper = b.text(".paper").await?;
    ensure!(
        paper.contains("How to charge it") && paper.contains("16.8 V at its end") && paper.contains("Dropped"),
        "{paper}"
    );
    let height =
        b.script("return document.querySelector('.paper').getBoundingClientRect().height / innerWidth").await?;
    ensure!(height.as_f64() < Some(1.35), "one page of A4 is 1.41 times as high as it is wide: {height}");
    b.print_media(false).await?;
    // A lot names the packs that its cells are in.
    b.open("/stock/inspect").await?;
    b.press(b.xpath("//button[.//b[text()='Scooter pack']]").await?).await?;
    b.text_is("[data-testid='lot-packs']", |t| t.contains("pack 1, Hedge shears") && t.contains("(8)")).await?;
    // On the front page it is told what is due.
    b.open("/").await?;
    b.text_is("[aria-label='Packs that need something']", |t| t.contains("Group 3 falls behind")).await?;
    Ok(())
}

pub async fn a_finished_build_becomes_a_pack_with_a_log(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.click_text("Build").await?;
    b.click_text("Begin the build").await?;
    b.text_is("[data-testid='build-done']", |t| t.starts_with("0 of ")).await?;
    b.click_text("Packs and logs").await?;
    b.click_text("Finished: make it a pack").await?;
    b.text_is("h1", |t| t.contains("Bait boat")).await?;
    b.text_is("header .soft", |t| !t.is_empty()).await?;
    b.click_text("More…").await?;
    b.press(b.xpath("//div[contains(@class,'v-list-item')][.//*[normalize-space(.)='Resistance']]").await?).await?;
    b.type_into("[data-testid='entry']", "Resistance of the whole pack", "45 mΩ").await?;
    b.click_text("Save it").await?;
    b.text_is(".log li:first-child", |t| t.contains("45 mΩ")).await?;
    b.click_text("· open its plan").await?;
    b.click_text("Packs and logs").await?;
    b.text_is("a.pack", |t| t.contains("Bait boat")).await?;
    ensure!(b.count("ul.builds li").await? == 0, "the build is a pack already");
    Ok(())
}
