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
    b.type_into("main", "A new pack or device costs", "500").await?;
    b.text_is("[data-testid='saved-price']", |t| t.contains("less")).await?;
    b.type_into("main", "A new pack or device costs", "20").await?;
    b.text_is("[data-testid='saved-price']", |t| t.contains("more")).await?;
    b.click_text("Add a consumable").await?;
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
    b.select("main", "Sort by", "what is at hand").await?;
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
    b.select(form, "It has its own supply", "no").await?;
    b.css("[data-finding='wiring.meter-not-isolated']").await?;
    b.select(form, "Every pin read against pack minus", "no").await?;
    b.css("[data-finding='wiring.tap-order']").await?;
    b.select(form, "Each has its own fuse", "no").await?;
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
    let (over, behind) = (reading("across the board’s MOSFETs"), reading("board, output"));
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
    b.click_text("What could go wrong").await?;
    let old = b.text_is("[data-misuse='old-charger']", |t| t.contains("nothing prevents it yet")).await?;
    ensure!(old.contains("Made for nickel") && old.contains("Never use the old charger"), "{old}");
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

/// Does every step of the open build until one is reached: each reading in the middle of its band, each question yes.
pub const UNTIL: &str = "
    const key = arguments[0];
    const ask = (method, path, body) => {
        const r = new XMLHttpRequest(); r.open(method, path, false);
        r.send(body ? JSON.stringify(body) : undefined);
        if (r.status >= 300) throw new Error(r.responseText);
        return JSON.parse(r.responseText);
    };
    const plan = location.pathname.split('/')[2];
    const path = `/api/builds/${ask('GET', `/api/plans/${plan}/builds`)[0].id}`;
    const say = (step, happened) => ask('POST', `${path}/events`, {
        key: crypto.randomUUID(), event: { step, at: new Date().toISOString(), happened },
    });
    let build = ask('GET', path);
    for (const { key: step } of build.sheet.steps) {
        if (step === key) break;
        const asks = build.sheet.steps.find(s => s.key === step).asks.map(a => a.key);
        for (const wanted of asks) {
            const { expects: e } = build.sheet.steps.find(s => s.key === step).asks.find(a => a.key === wanted);
            const { ends } = build.sheet.steps.find(s => s.key === step);
            const value = ends ? (wanted === 'end-current' ? ends.tapered_a / 2 : ends.end_v) : e.low == null ? 1 : e.high == null ? e.low * 2 : (e.low + e.high) / 2;
            build = say(step, e.as === 'yes' ? { what: 'answered', ask: wanted, yes: true } : { what: 'read', ask: wanted, value });
        }
        build = say(step, { what: 'done' });
    }
    return build.sheet.steps.find(s => s.key === key).asks.map(a => (a.expects.low + a.expects.high) / 2);
";

/// Types a reading in place and leaves the field with Enter.
pub async fn type_reading(b: &Browser, ask: &str, text: &str) -> Result<()> {
    let field = b.css(&format!("[data-ask='{ask}'] input")).await?;
    // All of it is chosen first, so that what is typed takes its place.
    field.send_keys("\u{e009}a\u{e000}").await?;
    field.send_keys(&format!("{text}\u{e007}")).await?;
    Ok(())
}

pub async fn a_build_is_led_step_by_step_and_a_wrong_tap_shuts_the_plug(b: &Browser) -> Result<()> {
    copy_of(b, "Bait boat").await?;
    b.click_text("Build").await?;
    b.click_text("Begin the build").await?;
    b.text_is("[data-testid='build-done']", |t| t.starts_with("0 of ")).await?;
    // The first step by hand; the space bar, or a foot switch, leaves it.
    b.text_is(".step h1", |t| t.contains("lead block")).await?;
    b.click_text("Note…").await?;
    b.type_into("form.words", "Note", "blades are bent").await?;
    b.click_text("Save it").await?;
    b.text_is(".step .rows", |t| t.contains("blades are bent")).await?;
    b.click("[data-row='brick/groups']").await?;
    b.text_is("[data-testid='shut']", |t| t.contains("First:")).await?;
    ensure!(b.count("[data-ask='group-1'] input:disabled").await? == 1, "a shut step takes no reading");

    // The others as a bench would answer them.
    let middles = b.client.execute(UNTIL, vec!["board/taps".into()]).await?;
    let middles: Vec<f64> = middles.as_array().into_iter().flatten().filter_map(|v| v.as_f64()).collect();
    ensure!(middles.len() == 4, "{middles:?}");
    // What happened elsewhere is seen here without looking again.
    b.text_is("[data-row='board/minus']", |_| true).await?;
    b.css("[data-row='board/minus'].done").await?;
    b.click("[data-row='board/taps']").await?;
    b.gone("[data-testid='shut']").await?;

    // Two pins exchanged: each reads what the other should.
    for (pin, v) in [("tap-1", middles[1]), ("tap-2", middles[0]), ("tap-3", middles[2]), ("tap-4", middles[3])] {
        type_reading(b, pin, &format!("{v:.2}")).await?;
    }
    b.text_is("[data-testid='wrong']", |t| t.contains("pin B1") && t.contains("Move the pins")).await?;
    b.css("[data-row='board/plug'].shut").await?;
    ensure!(b.count(".step .buttons button:disabled").await? == 1, "what is wrong cannot be done");
    type_reading(b, "tap-1", "four").await?;
    b.text_is("[data-ask='tap-1']", |t| t.contains("is not a reading in V")).await?;

    // The server goes away: what is typed waits, and goes by itself.
    b.block(&["*/api/builds/*"]).await?;
    type_reading(b, "tap-1", &format!("{:.0} mV", middles[0] * 1000.0)).await?;
    b.text_is("[data-testid='build-away']", |t| t.contains("waits in this browser")).await?;
    b.text_is("[data-ask='tap-1']", |t| t.contains("not sent yet")).await?;
    b.block(&[]).await?;
    b.gone("[data-testid='build-away']").await?;
    type_reading(b, "tap-2", &format!("{:.2}", middles[1])).await?;
    b.gone("[data-testid='wrong']").await?;
    b.text_is("[data-ask='tap-1']", |t| t.contains("before:")).await?;
    b.click_text("Done, next").await?;
    b.text_is(".step h1", |t| t.starts_with("Plug in the taps")).await?;
    b.css("[data-row='board/plug'].open").await?;

    // Gone on with for a reason; then the plan changes under it.
    b.click_text("Go on anyway…").await?;
    b.type_into("form.words", "Why it is safe to go on", "B+ comes with the last tap here").await?;
    b.click_text("Save and go on").await?;
    b.css("[data-row='board/plug'].opened").await?;
    stage(b, "Charging").await?;
    b.click_text("Build").await?;
    b.text_is("[data-testid='build-done']", |t| !t.starts_with("0 of ")).await?;
    b.text_is(".step", |t| t.contains("Read the board’s output")).await?;
    Ok(())
}
