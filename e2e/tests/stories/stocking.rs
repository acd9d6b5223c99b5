//! The cell bench: a box of cells becomes groups, with readings in between.

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::new_plan;

const TOTAL: &str = "[data-testid='total']";
const GROUPS: &str = "[data-testid='groups'] li";

/// Makes a lot on the screen and lands on its cells.
async fn new_lot(b: &Browser, name: &str, labels: &str) -> Result<()> {
    b.open("/stock").await?;
    b.click_text("New lot").await?;
    b.type_into(".lot-dialog", "Name", name).await?;
    b.type_into(".lot-dialog", "Resistance when new", "45 m").await?;
    if !labels.is_empty() {
        b.type_into(".lot-dialog", "Labels on the cells", labels).await?;
    }
    b.click_text("Make the lot").await?;
    b.text_is(".lot.here .name b", |t| t == name).await?;
    Ok(())
}

/// A file for the chooser, gone with its guard.
struct Table(std::path::PathBuf);

impl Table {
    fn of(name: &str, text: &str) -> Result<Table> {
        let path = std::env::temp_dir().join(format!("dense-brick-{name}-{}.csv", std::process::id()));
        std::fs::write(&path, text)?;
        Ok(Table(path))
    }
}

impl Drop for Table {
    fn drop(&mut self) {
        // A file that is gone already is as good.
        let _ = std::fs::remove_file(&self.0);
    }
}

/// Two hundred cells as a spreadsheet gives them out; a few are bad in ways of their own.
fn two_hundred() -> String {
    let mut text = "label;volts;resistance_mohm;capacity_mah;self_discharge_mv;rest_days;method\n".to_owned();
    for i in 1..=200 {
        let volts = if i == 17 { "1,92".to_owned() } else { format!("3,7{}", i % 5) };
        let ohm = if i == 40 { 140 } else { 52 + (i * 13) % 17 };
        let lost = if i == 88 { 44 } else { 5 + i % 4 };
        text += &format!("F{i:03};{volts};{ohm};{};{lost};7;AC 1 kHz\n", 2060 + (i * 37) % 310);
    }
    text
}

pub async fn a_box_of_two_hundred_cells_becomes_a_picking_list(b: &Browser) -> Result<()> {
    new_lot(b, "Field lamps", "").await?;
    b.text_is(TOTAL, |t| t == "0 cells").await?;
    b.click_text("Import a table").await?;
    let bad = two_hundred().replace("F003;3,73", "F003;many").replace("F005;3,70;", "F005;3,70;-");
    let bad = Table::of("bad", &bad)?;
    b.choose_file("cells-file", &bad.0).await?;
    b.click_text("Import").await?;
    let told = b.text_is("[data-testid='bad-lines']", |t| t.contains("line 4") && t.contains("line 6")).await?;
    ensure!(told.contains("“many” is not a number"), "{told}");
    let good = Table::of("good", &two_hundred())?;
    b.choose_file("cells-file", &good.0).await?;
    b.click_text("Import").await?;
    b.text_is("[data-testid='brought']", |t| t.starts_with("200 new cells, 0 known ones, 800 readings")).await?;
    b.click_text("Close").await?;
    b.text_is(TOTAL, |t| t == "200 cells").await?;

    // Which to scrap, and why.
    b.click_text("Inspection").await?;
    b.text_is("[data-testid='bad-cells']", |t| {
        t.contains("below the minimum") && t.contains("high self-discharge") && t.contains("resistance far above")
    })
    .await?;
    b.click_text("F017").await?;
    b.text_is("[data-testid='cell-verdict']", |t| t.contains("scrap")).await?;
    let working = "//aside//article[contains(.,'Below the minimum')]//summary";
    b.press(b.xpath(working).await?).await?;
    b.text_is("aside .judgement.stop details", |t| t.contains("read < floor") && t.contains("1.92 V")).await?;
    b.click_text("Close the cell").await?;
    // A click on a point opens its cell.
    let point = "const r = [...document.querySelectorAll('.scatter svg path')].map(p => p.getBoundingClientRect())
            .find(r => r.width > 5 && r.width < 14);
        return document.querySelector('aside') || !r ? null : [r.x + r.width / 2, r.y + r.height / 2]";
    let (mut last, mut seen) = (json!(null), 0);
    // The plot widens once the cell beside it is closed: a point is clicked where it has come to rest.
    let at = b
        .until("a point at rest", async || {
            let now = b.script(point).await?;
            seen = if now == last { seen + 1 } else { 0 };
            last = now.clone();
            Ok((!now.is_null() && seen > 10).then_some(now))
        })
        .await?;
    b.click_at(at[0].as_f64().context("x")?, at[1].as_f64().context("y")?).await?;
    b.text_is("[data-testid='cell-label']", |t| t.starts_with('F')).await?;
    b.click_text("Close the cell").await?;

    b.click_text("Grouping").await?;
    b.type_into("main", "In series", "4").await?;
    b.type_into("main", "In parallel", "4").await?;
    b.click_text("Find the groups").await?;
    b.until("four groups", async || Ok((b.count(GROUPS).await? == 4).then_some(()))).await?;
    b.text_is("[data-testid='limits']", |t| t.contains("ends the run with 9.")).await?;
    ensure!(b.count("[data-testid='picking'] li").await? == 16, "the list has not 16 cells");
    let list = b.text("[data-testid='picking'] ol").await?;
    ensure!(["F017", "F088"].iter().all(|bad| !list.contains(bad)), "scrap is on the list: {list}");
    // Printed, the list stands alone on the paper.
    b.script("window.printed = 0; window.print = () => window.printed++").await?;
    b.click_text("Print").await?;
    ensure!(b.script("return window.printed").await? == json!(1), "nothing was printed");
    b.print_media(true).await?;
    let seen = "return ['.lots', '.top', '.ask', '[data-testid=schools]', '[data-testid=picking] li']
        .map(s => !!document.querySelector(s)?.getClientRects().length)";
    let seen = b.script(seen).await;
    b.print_media(false).await?;
    ensure!(seen? == json!([false, false, false, false, true]), "the paper shows other things too");
    Ok(())
}

pub async fn readings_are_typed_cell_by_cell_and_pasted_as_a_column(b: &Browser) -> Result<()> {
    new_lot(b, "Radio packs", "Q1-Q12").await?;
    b.text_is(TOTAL, |t| t == "12 cells").await?;
    b.select(".reading", "I am reading", "Resistance").await?;
    b.type_into(".reading", "Instrument", "bench meter").await?;
    let focused = async || b.script("return document.activeElement.getAttribute('aria-label')").await;
    let first = b.css("[data-row='0'] input.value").await?;
    b.client.execute("arguments[0].focus()", vec![serde_json::to_value(&first)?]).await?;
    b.keys("62 m\u{e007}").await?;
    b.until("the next cell", async || Ok((focused().await? == json!("Reading of Q2")).then_some(()))).await?;
    b.keys("0,058\u{e007}").await?;
    b.until("the next cell", async || Ok((focused().await? == json!("Reading of Q3")).then_some(()))).await?;
    b.text_is("[data-row='1'] .resistance_ohm", |t| t == "58 mΩ").await?;
    // A wrong figure is refused in place and stays.
    b.keys("1,200\u{e007}").await?;
    b.text_is("[data-testid='refused']", |t| t.contains("1,200")).await?;
    ensure!(focused().await? == json!("Reading of Q3"), "the cursor left the refused figure");
    // A column from a spreadsheet fills downwards, all of it or nothing.
    let paste = |text: &str| {
        format!(
            "const d = new DataTransfer(); d.setData('text', {});
             document.querySelector(\"[data-row='2'] input.value\").dispatchEvent(new ClipboardEvent('paste',
                {{clipboardData: d, bubbles: true, cancelable: true}}))",
            json!(text)
        )
    };
    b.script(&paste("61 m\n60 m\nsixty\n")).await?;
    b.text_is("[data-testid='refused']", |t| t.contains("Q5") && !t.contains("Q4")).await?;
    b.text_is("[data-row='3'] .resistance_ohm", |t| t == "–").await?;
    b.script(&paste("61 m\n60 m\n59 m\n")).await?;
    b.text_is("[data-row='4'] .resistance_ohm", |t| t == "59 mΩ").await?;
    b.until("the cell after them", async || Ok((focused().await? == json!("Reading of Q6")).then_some(()))).await?;
    // What was read by mistake is struck out and taken back.
    b.click_text("Q1").await?;
    b.click_text("Strike out").await?;
    b.text_is("[data-row='0'] .resistance_ohm", |t| t == "–").await?;
    b.click_text("Restore").await?;
    b.text_is("[data-row='0'] .resistance_ohm", |t| t == "62 mΩ").await?;
    // Seen: a swollen cell is scrap.
    let swollen = b.xpath("//aside//label[contains(.,'Swollen')]/input").await?;
    b.press(swollen).await?;
    b.text_is("[data-testid='cell-verdict']", |t| t.contains("scrap")).await?;
    b.click_text("Close the cell").await?;
    b.select(".reading", "I am reading", "nothing: just look").await?;
    b.select(".tools", "Verdict", "scrap").await?;
    b.text_is(TOTAL, |t| t == "1 cell").await?;
    b.press(b.css("[aria-label='Pick Q1']").await?).await?;
    b.type_into(".picked", "Why, for the history", "swollen").await?;
    b.click_text("Retire").await?;
    b.text_is("[data-row='0'] .state", |t| t == "retired").await?;
    Ok(())
}

pub async fn cells_are_grouped_for_a_plan_reserved_and_given_back(b: &Browser) -> Result<()> {
    new_plan(b, "Creek winch").await?;
    b.open(&format!("{}/cells", plan_address(b).await?)).await?;
    b.click_text("Choose and group them in the cell stock").await?;
    b.press(b.xpath("//nav[@aria-label='Lots']//button[.//b[text()='Scooter pack']]").await?).await?;
    b.type_into("main", "In series", "3").await?;
    b.type_into("main", "In parallel", "2").await?;
    b.click_text("Find the groups").await?;
    b.until("three groups", async || Ok((b.count(GROUPS).await? == 3).then_some(()))).await?;
    // One is held, one left out by hand, and the rest solved round them.
    let first = b.text(&format!("{GROUPS}:first-child .piece button")).await?;
    let other = b.text(&format!("{GROUPS}:nth-child(2) .piece button")).await?;
    b.click(&format!("{GROUPS}:first-child .piece button")).await?;
    b.click_text("hold it in group 1").await?;
    b.click(&format!("{GROUPS}:nth-child(2) .piece button")).await?;
    b.click_text("leave it out").await?;
    b.click_text("Solve again").await?;
    b.text_is("[data-testid='groups']", |t| !t.contains(&other)).await?;
    b.text_is(&format!("{GROUPS}:first-child"), |t| t.contains(&first)).await?;
    b.click_text("Reserve").await?;
    b.css("[data-testid='reserved']").await?;
    b.click_text("Open the plan").await?;
    b.text_is("[data-testid='stock-cells']", |t| t.contains(&first)).await?;
    b.text_is("[data-testid='plan-name']", |t| t == "Creek winch").await?;
    b.text_is("[data-figure='groups.weakest_ah'] .value", |t| t.contains("Ah")).await?;
    let reserved = "return fetch('/api/stock/cells?state=reserved').then(r => r.json()).then(w => w.total)";
    ensure!(b.script(reserved).await? == json!(6), "six cells are not reserved");
    b.click_text("release them").await?;
    b.until("the cells to be free", async || Ok((b.script(reserved).await? == json!(0)).then_some(()))).await?;
    Ok(())
}

/// Address of the plan that is open.
async fn plan_address(b: &Browser) -> Result<String> {
    let path = b.script("return location.pathname.split('/').slice(0, 3).join('/')").await?;
    Ok(path.as_str().context("no address")?.to_owned())
}

pub async fn a_tester_measures_picked_cells_and_its_trouble_is_told(b: &Browser) -> Result<()> {
    new_lot(b, "Torch cells", "W1-W3").await?;
    b.css("[data-row='2'] .label").await?;
    b.press(b.css("[aria-label='Pick all']").await?).await?;
    b.text_is(".picked b", |t| t == "3 picked").await?;
    b.click_text("Measure on a tester").await?;
    b.press(b.xpath("//label[contains(.,'bridge at')]/input").await?).await?;
    b.type_into(".tester", "Address", "192.0.2.7:7070").await?;
    b.click_text("Measure").await?;
    b.text_is("[data-testid='tester-problem']", |t| t.contains("an address of this machine")).await?;
    b.type_into(".tester", "Address", "127.0.0.1:9").await?;
    b.click_text("Measure").await?;
    b.text_is("[data-testid='tester-problem']", |t| t.contains("nothing answers at 127.0.0.1:9")).await?;
    b.press(b.xpath("//label[contains(.,'Practice tester')]/input").await?).await?;
    b.click_text("Measure").await?;
    b.text_is("[data-testid='tester-job'] .state", |t| t.contains("12 readings are kept")).await?;
    b.click_text("Close").await?;
    b.text_is("[data-row='2'] .arrival_v", |t| t.ends_with(" V")).await?;
    Ok(())
}

pub async fn a_lot_is_sorted_filtered_changed_deleted_and_taken_back(b: &Browser) -> Result<()> {
    b.open("/stock").await?;
    b.press(b.xpath("//nav[@aria-label='Lots']//button[.//b[text()='Scooter pack']]").await?).await?;
    b.text_is(TOTAL, |t| t == "40 cells").await?;
    let heading = "//div[@role='columnheader' or @role='row']//button[normalize-space(.)='Capacity']";
    b.press(b.xpath(heading).await?).await?;
    b.text_is("[data-row='0'] .capacity_ah", |t| t.ends_with(" Ah")).await?;
    let sorted = |text: &str| text.trim_end_matches(" Ah").parse::<f64>();
    let lowest = sorted(&b.text("[data-row='0'] .capacity_ah").await?)?;
    b.press(b.xpath(heading).await?).await?;
    b.text_is("[data-row='0'] .capacity_ah", |t| sorted(t).is_ok_and(|v| v > lowest)).await?;
    b.css("[aria-sort='descending']").await?;
    b.select(".tools", "Verdict", "scrap").await?;
    b.text_is(TOTAL, |t| t != "40 cells" && t.ends_with(" cells")).await?;
    b.text_is("[data-row='0'] .verdict svg", |_| true).await?;
    b.select(".tools", "Verdict", "any verdict").await?;

    // Another claim, another judgement: 2.9 Ah becomes 6.8 Ah, and the lot is condemned.
    b.click_text("Change Scooter pack").await?;
    b.type_into(".lot-dialog", "Capacity", "6.8 Ah").await?;
    b.click_text("Save").await?;
    b.text_is("[data-row='0'] .why", |t| t == "Whole lot rejected").await?;
    b.click_text("Change Scooter pack").await?;
    b.type_into(".lot-dialog", "Capacity", "2.9 Ah").await?;
    b.click_text("Save").await?;
    b.text_is("[data-row='0'] .why", |t| t != "Whole lot rejected").await?;

    b.click_text("Change Scooter pack").await?;
    b.click_text("Delete the lot").await?;
    let gone = "return ![...document.querySelectorAll('.lot b')].some(e => e.textContent === 'Scooter pack')";
    b.until("the lot to go", async || Ok((b.script(gone).await? == json!(true)).then_some(()))).await?;
    b.click_text("Undo").await?;
    b.xpath("//nav[@aria-label='Lots']//b[text()='Scooter pack']").await.context("the deletion was not taken back")?;
    Ok(())
}

pub async fn nothing_is_sent_while_a_field_shows_what_was_refused(b: &Browser) -> Result<()> {
    let disabled = async |words: &str| {
        let script = format!(
            "return [...document.querySelectorAll('button')].find(e => e.textContent.trim() === {})?.disabled",
            json!(words)
        );
        b.script(&script).await
    };
    // A lot: a figure that no cell has, a day and labels that are none; each is named.
    b.open("/stock").await?;
    b.click_text("New lot").await?;
    b.type_into(".lot-dialog", "Capacity", "35 kAh").await?;
    b.until("the button to wait", async || Ok((disabled("Make the lot").await? == json!(true)).then_some(()))).await?;
    b.type_into(".lot-dialog", "Capacity", "3,5 Ah").await?;
    b.type_into(".lot-dialog", "Came on", "31.12.2025").await?;
    b.type_into(".lot-dialog", "Labels on the cells", "G1-G4 g2").await?;
    b.click_text("Make the lot").await?;
    b.text_is(".lot-dialog ul[role='alert']", |t| {
        t.contains("Name: 1 to 120") && t.contains("Came on: a day as") && t.contains("Labels: “g2” is named twice")
    })
    .await?;
    b.type_into(".lot-dialog", "Name", "Garden lamps").await?;
    b.type_into(".lot-dialog", "Came on", "2025-12-31").await?;
    b.type_into(".lot-dialog", "Labels on the cells", "G1-G4").await?;
    b.click_text("Make the lot").await?;
    b.text_is(TOTAL, |t| t == "4 cells").await?;

    // Readings: not under conditions that cannot be, not more than there are cells.
    b.select(".reading", "I am reading", "Capacity").await?;
    b.type_into(".reading", "Down to", "28 V").await?;
    let first = b.css("[data-row='0'] input.value").await?;
    b.client.execute("arguments[0].focus()", vec![serde_json::to_value(&first)?]).await?;
    b.keys("2,1\u{e007}").await?;
    b.text_is("[data-testid='refused']", |t| t.contains("conditions above")).await?;
    b.type_into(".reading", "Down to", "2.8 V").await?;
    let paste = "const d = new DataTransfer(); d.setData('text', '2.1\\n2.2\\n2.3\\n2.4\\n2.5');
        document.querySelector(\"[data-row='0'] input.value\").dispatchEvent(new ClipboardEvent('paste',
            {clipboardData: d, bubbles: true, cancelable: true}))";
    // As soon as core has read the mended condition.
    b.until("the condition to stand", async || {
        b.script(paste).await?;
        Ok((!b.text("[data-testid='refused']").await?.contains("conditions above")).then_some(()))
    })
    .await?;
    b.text_is("[data-testid='refused']", |t| t.contains("5 readings, but only 4 cells")).await?;
    b.text_is("[data-row='0'] .capacity_ah", |t| t == "–").await?;
    b.script(&paste.replace("\\n2.5", "")).await?;
    b.text_is("[data-row='3'] .capacity_ah", |t| t == "2.4 Ah").await?;
    b.select(".reading", "I am reading", "nothing: just look").await?;

    // A grouping: the figure behind a refused one is not taken for it.
    b.click_text("Grouping").await?;
    b.type_into("main", "In series", "2").await?;
    b.type_into("main", "In parallel", "0").await?;
    b.until("the button to wait", async || Ok((disabled("Find the groups").await? == json!(true)).then_some(())))
        .await?;
    b.type_into("main", "In parallel", "3").await?;
    b.click_text("Find the groups").await?;
    b.text_is("[data-testid='group-problem']", |t| t.contains("6 cells are needed; 4 can be chosen")).await?;
    b.type_into("main", "In parallel", "2").await?;
    b.click_text("Find the groups").await?;
    b.until("two groups", async || Ok((b.count(GROUPS).await? == 2).then_some(()))).await?;
    Ok(())
}

pub async fn a_cell_keeps_its_history_and_the_schools_are_weighed(b: &Browser) -> Result<()> {
    new_lot(b, "Drone packs", "").await?;
    b.click_text("Import a table").await?;
    let mut text = "label,volts,resistance_mohm,capacity_mah,keep_with\n".to_owned();
    for i in 1..=8 {
        text += &format!("D{i},{},{},{},pair {}\n", if i == 4 { 3.62 } else { 3.70 }, 50 + i, 2300 + i, (i + 1) / 2);
    }
    let table = Table::of("drone", &text)?;
    b.choose_file("cells-file", &table.0).await?;
    b.click_text("Import").await?;
    b.css("[data-testid='brought']").await?;
    b.click_text("Close").await?;
    b.press(b.css("[aria-label='Pick D8']").await?).await?;
    b.type_into(".picked", "Why, for the history", "lent out").await?;
    b.click_text("Retire").await?;
    b.text_is("[data-row='7'] .state", |t| t == "retired").await?;
    b.press(b.css("[aria-label='Pick D8']").await?).await?;
    b.click_text("Return to stock").await?;
    b.text_is("[data-row='7'] .state", |t| t == "tested").await?;
    b.click_text("D8").await?;
    b.text_is("aside", |t| t.contains("new → tested") && t.contains("tested → retired") && t.contains("lent out"))
        .await?;
    // It parted from the fellow it aged with.
    b.click_text("D4").await?;
    b.text_is("aside .judgement.caution", |t| t.contains("Apart from its partner") && t.contains("D3")).await?;
    b.click_text("Close the cell").await?;
    b.click_text("Grouping").await?;
    b.type_into("main", "In series", "4").await?;
    b.type_into("main", "In parallel", "2").await?;
    b.click_text("Find the groups").await?;
    b.text_is("[data-testid='schools']", |t| {
        t.contains("Every cell is new not D1") && t.contains("The two of a pair rest within 30 mV not D3, D4")
    })
    .await?;
    b.text_is("[data-testid='bring-first']", |t| t.contains("D4") || t.contains("D3")).await?;
    // Pairs stay together in whatever groups are found.
    let pairs = "return [...document.querySelectorAll('[data-testid=groups] li')].every(g => {
        const n = [...g.querySelectorAll('.piece')].map(p => Number(p.textContent.trim().slice(1)));
        return Math.ceil(n[0] / 2) === Math.ceil(n[1] / 2) })";
    ensure!(b.script(pairs).await? == json!(true), "a pair was parted");
    Ok(())
}
