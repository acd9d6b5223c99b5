//! Building: the parts list, and how the wiring is done.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

use super::{copy_of, saved, stage};

pub async fn the_parts_list_says_what_to_buy_and_what_it_is_weighed_against(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.click_text("Parts list").await?;
    let total = b.text_is("[data-testid='bill-total']", |t| t.contains("to buy")).await?;
    ensure!(total.contains('€'), "{total}");
    let cells = b.text("[data-part^='phosphate']").await?;
    ensure!(cells.contains("cell") && cells.contains('8'), "{cells}");
    b.type_into("main", "A bought pack or device costs", "500").await?;
    b.text_is("[data-testid='saved-price']", |t| t.contains("less")).await?;
    b.type_into("main", "A bought pack or device costs", "20").await?;
    b.text_is("[data-testid='saved-price']", |t| t.contains("more")).await?;
    b.click_text("Something that is used up").await?;
    b.type_into("[data-extra='0']", "Price of one", "4.5").await?;
    b.text_is("[data-part='polyimide tape']", |t| t.contains("4.50")).await?;
    b.type_into("[data-extra='0']", "How many", "-3").await?;
    b.text_is("[data-extra='0']", |t| t.contains("How many: -3 is outside 0.01 to 10000")).await?;
    saved(b).await?;
    let csv = b
        .script(
            "const r = new XMLHttpRequest();
             r.open('GET', document.querySelector('a[href$=bill-file]').href, false); r.send(); return r.responseText",
        )
        .await?;
    let csv = csv.as_str().unwrap_or_default();
    ensure!(csv.starts_with("name,count,") && csv.contains("polyimide tape,1,pieces,4.5"), "{csv}");
    Ok(())
}

pub async fn plans_are_put_in_order_by_what_lies_in_the_drawer(b: &Browser) -> Result<()> {
    b.open("/").await?;
    b.css("li.plan").await?;
    b.select("main", "In order of", "what is at hand").await?;
    let shares = "return [...document.querySelectorAll('li.plan [data-at-hand]')].map(e => Number(e.dataset.atHand))";
    let shares = b.script(shares).await?;
    let shares: Vec<f64> = shares.as_array().into_iter().flatten().filter_map(|v| v.as_f64()).collect();
    ensure!(shares.len() > 1 && shares.windows(2).all(|w| w[0] >= w[1]), "{shares:?}");
    Ok(())
}

pub async fn the_wiring_is_asked_and_what_is_missing_told(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    stage(b, "Wiring").await?;
    let form = "[data-testid='wiring-work']";
    b.select(form, "Something holds every lead", "no").await?;
    b.css("[data-finding='wiring.no-strain-relief']").await?;
    b.click_text("I clamp or tie every lead").await?;
    b.gone("[data-finding='wiring.no-strain-relief']").await?;
    b.select(form, "There is a panel meter", "yes").await?;
    b.select(form, "It has a supply of its own", "no").await?;
    b.css("[data-finding='wiring.meter-not-isolated']").await?;
    b.select(form, "Every pin read against pack minus", "no").await?;
    b.css("[data-finding='wiring.tap-order']").await?;
    b.select(form, "Each has a fuse of its own", "no").await?;
    b.css("[data-finding='wiring.taps-unfused']").await?;
    b.type_into(form, "The longest, one way", "0").await?;
    b.text_is(form, |t| t.contains("The longest, one way:") && t.contains("1 mm")).await?;
    saved(b).await?;
    Ok(())
}

pub async fn the_diagram_says_what_a_meter_reads_in_every_condition(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.click_text("Diagram").await?;
    for part in ["pack", "board", "fuse", "device", "charger"] {
        b.css(&format!("[data-testid='diagram'] [data-block='{part}']")).await?;
    }
    let reading = |what: &str| format!("[data-reading='{what}']");
    let (over, behind) = (reading("over the board’s transistors"), reading("board, way out"));
    b.text_is(&over, |t| t.contains("mV")).await?;
    b.click("input[value='tripped']").await?;
    b.text_is(&over, |t| t.contains("14.6 V")).await?;
    b.text_is(&behind, |t| t.ends_with(" 0 V")).await?;
    b.click("input[value='half']").await?;
    b.text_is(&over, |t| t.contains("13.") && !t.contains("14.6 V")).await?;
    // A wire says where the probes go; it stays when it is clicked.
    b.script(
        "const wires = [...document.querySelectorAll('.reach.along')].filter(w => w.dataset.node === '2');
         wires[0].dispatchEvent(new MouseEvent('click', { bubbles: true }))",
    )
    .await?;
    let told = b.text_is("[data-testid='meter']", |t| t.contains("red probe here")).await?;
    ensure!(told.contains("B2") && told.contains("black on B0, pack minus"), "{told}");
    b.css("[data-probe='red']").await?;
    b.css("[data-probe='black']").await?;
    // What is told of the plan is drawn.
    stage(b, "Wiring").await?;
    b.select("[data-testid='wiring-work']", "There is a panel meter", "yes").await?;
    saved(b).await?;
    b.click_text("Diagram").await?;
    b.css("[data-block='meter']").await?;
    b.click("input[value='charging']").await?;
    b.text_is(&reading("output of the charger"), |t| t.contains("14.6 V")).await?;
    let page = b
        .script(
            "const r = new XMLHttpRequest();
             r.open('GET', document.querySelector('[data-testid=diagram-file]').href, false); r.send(); return r.responseText",
        )
        .await?;
    let page = page.as_str().unwrap_or_default();
    ensure!(page.starts_with("<svg") && page.contains("Being charged, switched off."), "{page}");
    ensure!(page.contains("what the panel meter shows"), "the saved plan has its meter");
    let refused = b
        .script(
            "const r = new XMLHttpRequest(), href = document.querySelector('[data-testid=diagram-file]').href;
             r.open('GET', href.replace('charging', 'resting'), false); r.send(); return r.status + r.responseText",
        )
        .await?;
    let refused = refused.as_str().unwrap_or_default();
    ensure!(refused.starts_with("422") && refused.contains("/condition") && refused.contains("tripped"), "{refused}");
    Ok(())
}

pub async fn what_somebody_will_do_later_is_foreseen_and_the_warnings_print(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    b.click_text("Later…").await?;
    let old = b.text_is("[data-misuse='old-charger']", |t| t.contains("nothing prevents it yet")).await?;
    ensure!(old.contains("Made for nickel") && old.contains("Never the old charger"), "{old}");
    b.click_text("I change the jack").await?;
    b.css("[data-misuse='old-charger'][data-prevented='by_design']").await?;
    b.css("[data-misuse='larger-fuse'][data-prevented='by_label']").await?;
    saved(b).await?;
    let sheet = b
        .script(
            "const r = new XMLHttpRequest();
             r.open('GET', document.querySelector('a[href$=warnings]').href, false); r.send(); return r.responseText",
        )
        .await?;
    ensure!(sheet.as_str().is_some_and(|s| s.contains("no larger") && s.contains("<svg")), "{sheet}");
    Ok(())
}
