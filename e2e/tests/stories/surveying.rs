//! Surveying: kinds of job, meters and their errors, logs of a load.

use anyhow::{Result, ensure};
use brick_e2e::Browser;
use serde_json::json;

use super::{FINDINGS, copy_of, saved, stage};

pub async fn an_instrument_is_surveyed_from_its_template_with_a_meter_and_a_log(b: &Browser) -> Result<()> {
    b.open("/").await?;
    b.click_text("New plan").await?;
    b.type_into("main", "Name", "Field meter").await?;
    b.select("main", "Kind of job", "instrument with its own charger").await?;
    b.text_is("main", |t| t.contains("charges the new pack its own way")).await?;
    b.click_text("Stage by stage").await?;
    b.text_is("[data-testid='plan-name']", |t| t == "Field meter").await?;

    // Only what this kind needs is asked, until everything is wanted.
    b.css("[data-at='/device/brains/charges_itself']").await?;
    ensure!(b.count("[data-section='withstand']").await? == 0, "a field meter is asked what it must withstand");
    b.click_text("Ask everything").await?;
    b.text_is("[data-section='withstand']", |t| t.contains("What it must withstand")).await?;
    b.click_text("Ask only what this kind needs").await?;

    // A reading that names its meter gets the error of its manual; one beyond the range is refused in place.
    b.click_text("DC voltage range").await?;
    b.css("[data-meter='meter-1']").await?;
    b.type_into("main", "Maximum", "14.40").await?;
    b.click("[data-at='/device/highest_v'] .how").await?;
    for chosen in ["measured", "hand meter, 20 V"] {
        let entry =
            format!("//*[@data-testid='how-known']//*[contains(@class,'v-list-item')][normalize-space(.)='{chosen}']");
        b.press(b.xpath(&entry).await?).await?;
    }
    b.keys("\u{e00c}").await?;
    // ±(0.5 % of 14.40 V + 2 x 10 mV) = 0.092 V.
    b.text_is("[data-at='/device/highest_v']", |t| t.contains("± 92 mV")).await?;
    b.type_into("[data-at='/device/highest_v']", "Maximum", "24").await?;
    b.text_is("[data-at='/device/highest_v']", |t| t.contains("beyond its range of 20 V")).await?;
    b.type_into("[data-at='/device/highest_v']", "Maximum", "14.40").await?;
    b.type_into("main", "How would I read about", "30").await?;
    b.text_is("[data-testid='ways']", |t| t.contains("AWG copper wire")).await?;
    // A meter that is renamed stays the meter of its readings.
    b.type_into("[data-meter='meter-1']", "Meter and range", "shed meter").await?;
    b.text_is("[data-at='/device/highest_v']", |t| t.contains("shed meter")).await?;

    // The device's own charger is a caution of its own.
    b.select("main", "It charges its battery itself", "yes").await?;
    b.text_is("[data-finding='charging.host-charges']", |t| t.contains("has its own charge circuit")).await?;

    // A log of half a second: the levels are found, the peak is at least what was read.
    b.click_text("From a log of readings…").await?;
    b.css("#log-title").await?;
    let log: String =
        (0..120).map(|i| format!("{};{}\n", f64::from(i) / 2.0, if i % 40 == 3 { "3,5" } else { "0,8" })).collect();
    let paste = "const [text] = arguments; const area = document.querySelector('.v-dialog textarea');
        area.value = text; area.dispatchEvent(new Event('input', {bubbles: true}))";
    b.client.execute(paste, vec![json!(log.replace("0,8\n1", "0,8 lamps\n1"))]).await?;
    b.text_is("[data-testid='log-problem']", |t| t.contains("line ") && t.contains("is not a current")).await?;
    b.client.execute(paste, vec![json!(log)]).await?;
    b.text_is("[data-testid='log-levels']", |t| t.contains("0.8 A") && t.contains("at least 3.5 A")).await?;
    b.text_is(".v-dialog", |t| t.contains("can miss a start peak")).await?;
    b.click_text("Use these levels").await?;
    b.css("[data-load='usual']").await?;
    b.css("[data-load='peak']").await?;
    b.text_is(FINDINGS, |t| t.contains("caution")).await?;
    saved(b).await?;
    let page = b.script("return document.querySelectorAll('main .problem').length").await?;
    ensure!(page == 0, "something stands in the way");
    Ok(())
}

/// Two contacts of a device are read: one that its charger feeds is judged and answered by its button, and the diagram says which wire goes to it.
pub async fn the_contacts_of_a_device_are_read_and_wired(b: &Browser) -> Result<()> {
    copy_of(b, "Hedge shears").await?;
    stage(b, "Device").await?;
    let section = "[data-section='contacts']";
    b.click(&format!("{section} summary")).await?;
    for _ in 0..2 {
        b.click_text("Contact").await?;
    }
    let plus = "[data-at='/device/contacts/0']";
    b.type_into(plus, "Which one", "outer spring").await?;
    b.type_into(plus, "Off", "-12.3").await?;
    b.text_is("[data-finding^='device.contact-reversed']", |t| t.contains("below battery minus")).await?;
    b.type_into(plus, "Off", "12.3").await?;
    b.gone("[data-finding^='device.contact-reversed']").await?;
    b.type_into(plus, "Charger connected", "17.4").await?;
    b.text_is("[data-finding^='device.contact-charges']", |t| t.contains("outer spring")).await?;
    b.press(
        b.xpath("//*[starts-with(@data-finding,'device.contact-charges')]//button[contains(.,'up to 17.4')]").await?,
    )
    .await?;
    b.gone("[data-finding^='device.contact-charges']").await?;
    b.text_is("[data-at='/device/brains/charges_itself']", |t| t.contains("yes")).await?;
    saved(b).await?;
    b.script("document.querySelector(\"a[href$='/diagram']\").click()").await?;
    b.text_is("[data-thing='device']", |t| {
        t.contains("outer spring") && t.contains("plus of the load") && t.contains("12.3 V off")
    })
    .await?;
    Ok(())
}

pub async fn a_compartment_with_its_obstructions_and_openings_is_measured(b: &Browser) -> Result<()> {
    super::new_plan(b, "Garden lamp").await?;
    b.click_text("Compartment").await?;
    for (side, size) in [("Length", "12 cm"), ("Width", "70 mm"), ("Depth", "40")] {
        b.type_into("[data-at='/device/compartments/0']", side, size).await?;
    }
    // It is a place once the last side is left.
    b.script("document.activeElement.blur()").await?;
    b.click_text("Something in the way").await?;
    let post = "[data-at='/device/compartments/0/obstructions/0']";
    b.type_into(post, "In the way", "screw post").await?;
    for (measure, size) in
        [("Length", "8"), ("Width", "8"), ("Depth", "30"), ("From the end", "0"), ("From the side", "62")]
    {
        b.type_into(post, measure, size).await?;
    }
    b.text_is("[data-at='/device/compartments/0']", |t| t.contains("once all six are measured")).await?;
    b.type_into(post, "From the floor", "0").await?;
    b.script("document.activeElement.blur()").await?;
    b.gone("[aria-label='Drop what is being measured']").await?;
    b.click_text("Opening wanted").await?;
    b.select("[data-at='/device/compartments/0/openings/0']", "Opening for", "charge jack").await?;
    b.type_into("[data-at='/device/compartments/0/openings/0']", "Hole", "7,9").await?;
    b.script("document.activeElement.blur()").await?;
    b.gone("[aria-label='Drop the opening']").await?;
    b.type_into("[data-at='/device/compartments/0']", "Wall", "2000").await?;
    b.text_is("[data-at='/device/compartments/0']", |t| t.contains("0.01 mm to 1000 mm")).await?;
    b.type_into("[data-at='/device/compartments/0']", "Wall", "2.5").await?;
    b.select("main", "Rain or splash", "yes").await?;
    b.select("main", "It has vents", "yes").await?;
    b.css("[data-finding='device.vented-in-the-wet']").await?;
    saved(b).await?;
    let script = "const done = arguments[0];
        fetch('/api' + location.pathname.replace('/plan/', '/plans/').split('/').slice(0, 3).join('/'))
            .then(r => r.json()).then(o => done(o.plan.device.compartments[0]))";
    let kept = b.client.execute_async(script, vec![]).await?;
    ensure!(kept["space"]["length_mm"] == 120, "{kept}");
    ensure!(kept["openings"][0]["hole_mm"] == 7.9 && kept["openings"][0]["wall_mm"] == 2.5, "{kept}");
    ensure!(kept["obstructions"][0]["name"] == "screw post", "{kept}");
    Ok(())
}

pub async fn a_device_is_proved_on_a_bench_supply_step_by_step(b: &Browser) -> Result<()> {
    let plan = crate::pictures::plan_path(b, "Metal detector").await?;
    b.open(&format!("{plan}/device")).await?;
    b.css("[data-finding='device.highest-assumed']").await?;
    b.click_text("Test it on a bench supply…").await?;
    // Only the first step is open; each opens the next.
    b.text_is("[data-step='limit_a']", |t| t.contains("Set the supply to 12 V")).await?;
    ensure!(b.count("[data-step] input").await? == 1, "a later step is open");
    b.type_into("[data-step='limit_a']", "Current limit", "1 A").await?;
    b.type_into("[data-step='idle_a']", "Reading", "0").await?;
    b.select("[data-step='lives']", "It works", "yes").await?;
    b.type_into("[data-step='draw_a']", "Reading", "240 mA").await?;
    b.type_into("[data-step='stops_at_v']", "Reading", "12.5").await?;
    b.text_is("[data-step='stops_at_v'] .said", |t| t.contains("impossible")).await?;
    ensure!(b.count("[data-step='ran_at_v'] input").await? == 0, "a stop leaves the next step open");
    b.type_into("[data-step='stops_at_v']", "Reading", "8.1").await?;
    b.type_into("[data-step='ran_at_v']", "Reading", "12.4").await?;
    b.text_is("[data-step='ran_at_v'] .said", |t| t.contains("Tested up to 12.4 V")).await?;
    b.click_text("Use what was measured").await?;
    b.until("the assumption to go", async || {
        Ok((b.count("[data-finding='device.highest-assumed']").await? == 0).then_some(()))
    })
    .await?;
    saved(b).await?;
    Ok(())
}

pub async fn a_wire_is_photographed_and_metered_before_it_comes_off(b: &Browser) -> Result<()> {
    b.open("/").await?;
    b.click_text("New plan").await?;
    b.type_into("main", "Name", "Tide gauge").await?;
    b.select("main", "Kind of job", "instrument with its own charger").await?;
    b.click_text("Stage by stage").await?;
    b.text_is("[data-testid='plan-name']", |t| t == "Tide gauge").await?;
    b.text_is("[data-step='connector']", |t| t.contains("Photograph it first") && t.contains("Meter it first")).await?;
    b.text_is("[data-step='connector'] [data-testid='last-reversible']", |t| t.contains("Do every test")).await?;

    // What is no picture is refused by name, whatever it is called.
    let folder = std::env::temp_dir().join(format!("dense-brick-photos-{}", std::process::id()));
    std::fs::create_dir_all(&folder)?;
    let note = folder.join("plug.png");
    std::fs::write(&note, "red left, black right")?;
    b.choose_file("photo-of-connector", &note).await?;
    b.text_is("[data-testid='photo-refused']", |t| t.contains("plug.png: this is not a PNG, JPEG or WebP")).await?;

    let picture = crate::root().join("docs/screenshots/path.png").canonicalize()?;
    b.choose_file("photo-of-connector", &picture).await?;
    b.css("[data-step='connector'] [data-testid='photo'] img").await?;
    b.type_into("[data-step='connector'] [data-testid='photo']", "Shows", "red nearest the hinge").await?;
    b.until("the picture to be drawn", async || {
        let script = "const i = document.querySelector('[data-step=connector] img'); i.scrollIntoView();
            return i.complete && i.naturalWidth > 100";
        Ok((b.script(script).await? == true).then_some(()))
    })
    .await?;
    b.select("[data-step='connector']", "That wire is", "live when on").await?;
    b.until("the prompts to go", async || Ok((b.count("[data-step='connector'] .says").await? == 0).then_some(())))
        .await?;

    // The cut without a way back, done before the device was proved, is a caution.
    b.click("[data-step='cut'] .v-selection-control input").await?;
    b.css("[data-finding='device.no-way-back-unproved']").await?;
    b.css("[data-finding='device.pulled-unseen@cut']").await?;
    saved(b).await?;
    b.client.refresh().await?;
    b.css("[data-step='connector'] [data-testid='photo'] img").await?;
    std::fs::remove_dir_all(folder)?;
    Ok(())
}

pub async fn a_run_is_read_from_its_recharge(b: &Browser) -> Result<()> {
    super::new_plan(b, "Reading lamp").await?;
    b.select("main", "Chemistry", "alkaline primary").await?;
    b.click_text("From a recharge…").await?;
    b.type_into(".v-dialog", "Recharged", "2").await?;
    b.type_into(".v-dialog", "It had run for", "4 h").await?;
    b.text_is("[data-testid='recharge-problem']", |t| t.contains("alkaline cells are not recharged")).await?;
    b.click_text("Cancel").await?;
    b.select("main", "Chemistry", "NiMH or NiCd").await?;
    b.click_text("From a recharge…").await?;
    b.type_into(".v-dialog", "Recharged", "2").await?;
    b.type_into(".v-dialog", "It had run for", "4 h").await?;
    // 2 Ah x 0.8 / 4 h, good to 0.1 / 0.8.
    b.text_is("[data-testid='recharge-drew']", |t| t.contains("0.4 A") && t.contains("13 %")).await?;
    b.click_text("Use it as a level").await?;
    b.text_is("[data-load='mean-run']", |t| t.contains("± 50 mA")).await?;
    saved(b).await?;
    Ok(())
}
