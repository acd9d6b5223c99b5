//! How long edits take over HTTP, alone and with fifty people at once, and from a keystroke to the figures on the
//! screen, all on this machine's loopback. Prints a table for docs/performance.md; `scripts/measure` runs it. Bounded: it ends by itself.

use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Context, Result, ensure};
use brick_e2e::Browser;
use dense_brick::pairing::Pairing;
use dense_brick::{Config, store};
use http::Request;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use serde_json::{Value, json};

const ALONE: usize = 2000;
const PEOPLE: usize = 50;
const SECONDS: usize = 20;

type Http = Client<HttpConnector, String>;

#[rocket::main]
async fn main() -> Result<()> {
    let url = std::env::var("DATABASE_URL").context("DATABASE_URL is not set; run scripts/measure")?;
    let pool = store::open(&url, &std::env::temp_dir()).await?;
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    let listener = std::net::TcpListener::bind("127.0.0.1:0")?;
    let port = listener.local_addr()?.port();
    drop(listener);
    store::demo::load(&pool, &store::demo::read(&root.join("demo"))?).await?;
    let config = Config {
        address: "127.0.0.1".parse()?,
        port,
        web_dir: root.join("web/dist"),
        demo_dir: root.join("demo"),
        backups: std::env::temp_dir(),
        lan: false,
        trust_proxy: false,
        handle_signals: false,
    };
    let rocket = dense_brick::build(config, pool, Pairing::closed(), std::sync::Arc::default()).ignite().await?;
    let shutdown = rocket.shutdown();
    tokio::spawn(rocket.launch());
    let http: Http = Client::builder(TokioExecutor::new()).build_http();
    let address = format!("http://127.0.0.1:{port}/api/assess");
    let small = std::fs::read_to_string(root.join("demo/plans/hedge-shears.brick.json"))?;
    let mut largest: serde_json::Value = serde_json::from_str(&small)?;
    (largest["packs"][0]["series"], largest["packs"][0]["parallel"]) = (16.into(), 10.into());
    let largest = largest.to_string();
    while edit(&http, &address, &small).await.is_err() {
        tokio::time::sleep(Duration::from_millis(50)).await;
    }

    println!("{:<42} {:>10} {:>10} {:>10}", "edits over HTTP", "median", "99th", "edits");
    let mut times = vec![];
    for _ in 0..ALONE {
        times.push(edit(&http, &address, &largest).await?);
    }
    report("one client, 16S10P, one after another", times);

    let people = (0..PEOPLE).map(|person| {
        let (http, address, small) = (http.clone(), address.clone(), small.clone());
        tokio::spawn(async move {
            // Spread over the second, as people are.
            tokio::time::sleep(Duration::from_millis((person * 1000 / PEOPLE) as u64)).await;
            let mut clock = tokio::time::interval(Duration::from_secs(1));
            let mut times = vec![];
            for _ in 0..SECONDS {
                clock.tick().await;
                times.push(edit(&http, &address, &small).await?);
            }
            anyhow::Ok(times)
        })
    });
    let mut times = vec![];
    for person in people.collect::<Vec<_>>() {
        times.extend(person.await??);
    }
    report("fifty clients, 4S2P, one edit a second each", times);
    let base = format!("http://127.0.0.1:{port}");
    let plain = Browser::start_without_graphics(&base).await?;
    report("keystroke to new figures in the browser", keystrokes(&plain, &FEW_FIELDS).await?);
    report("the same on the longest page", keystrokes(&plain, &MANY_FIELDS).await?);
    report("from one stage to the next, on the screen", view_changes(&plain).await?);
    plain.close().await?;
    let emulated = Browser::start(&base).await?;
    report("keystroke, graphics card emulated", keystrokes(&emulated, &FEW_FIELDS).await?);
    report("stage to stage, graphics card emulated", view_changes(&emulated).await?);
    emulated.close().await?;
    let flawed = flawed(&http, &base, &small).await?;
    let (figures, fixes, requests) = flawed_edits(&base, &flawed).await?;
    report("edit with many findings: its figures", figures);
    report("edit with many findings: all fixes", fixes);
    println!("requests of one such edit, its save among them: {requests}");
    shutdown.notify();
    Ok(())
}

/// One edit: the plan out, the whole assessment back.
async fn edit(http: &Http, address: &str, plan: &str) -> Result<Duration> {
    let request = Request::post(address).header("content-type", "application/json").body(plan.to_owned())?;
    let started = Instant::now();
    let answer = http.request(request).await?;
    ensure!(answer.status() == 200, "answered {}", answer.status());
    let mut body = answer.into_body();
    while let Some(frame) = http_body_util::BodyExt::frame(&mut body).await {
        frame?;
    }
    Ok(started.elapsed())
}

/// A field that is typed into: its page, its place in the plan, and two texts in turn.
struct Typed {
    page: &'static str,
    at: &'static str,
    texts: [&'static str; 2],
}

const FEW_FIELDS: Typed = Typed { page: "/cells", at: "/packs/0/parallel", texts: ["3", "4"] };
const MANY_FIELDS: Typed = Typed { page: "/device", at: "/device/lowest_v", texts: ["11.2", "11.5"] };

/// Types a figure again and again and waits for the nameplate to follow.
async fn keystrokes(b: &Browser, typed: &Typed) -> Result<Vec<Duration>> {
    const KEYSTROKES: usize = 60;
    b.open("/").await?;
    let link = b.xpath("//a[contains(@class,'open')][.//b[text()='Hedge shears']]").await?;
    let address = link.attr("href").await?.context("a plan without an address")?;
    b.open(&address.replace("/path", typed.page)).await?;
    b.css("[data-testid='counts']").await?;
    b.css(&format!("[data-at='{}'] input", typed.at)).await?;
    let script = "const [at, text, done] = arguments;
        const field = document.querySelector(`[data-at='${at}'] input`);
        const plate = document.querySelector('.plate');
        const started = performance.now();
        new MutationObserver((_, o) => { o.disconnect(); requestAnimationFrame(() => done(performance.now() - started)) })
            .observe(plate, {characterData: true, childList: true, subtree: true});
        field.focus(); field.value = text; field.dispatchEvent(new Event('input', {bubbles: true}))";
    let mut times = vec![];
    for i in 0..KEYSTROKES {
        let arguments = vec![json!(typed.at), json!(typed.texts[i % 2])];
        let took_ms = b.client.execute_async(script, arguments).await?.as_f64().context("no time")?;
        times.push(Duration::from_secs_f64(took_ms / 1000.0));
        tokio::time::sleep(Duration::from_millis(300)).await;
    }
    Ok(times)
}

/// Goes along the rail again and again: from the click to the head of the stage on the screen, its first visit among them.
async fn view_changes(b: &Browser) -> Result<Vec<Duration>> {
    const ROUNDS: usize = 7;
    b.open("/").await?;
    let link = b.xpath("//a[contains(@class,'open')][.//b[text()='Hedge shears']]").await?;
    b.open(&link.attr("href").await?.context("a plan without an address")?).await?;
    b.css("[data-testid='counts']").await?;
    let script = "const [stage, done] = arguments;
        const link = [...document.querySelectorAll('.rail .stage')].find(a => a.querySelector('b').textContent === stage);
        const head = () => document.querySelector('main h2')?.textContent;
        const [before, started] = [head(), performance.now()];
        const observer = new MutationObserver(() => {
            if (!head() || head() === before) return;
            observer.disconnect();
            requestAnimationFrame(() => done(performance.now() - started));
        });
        observer.observe(document.querySelector('main'), {childList: true, subtree: true, characterData: true});
        link.click()";
    let stages = ["Device", "Voltage", "Cells", "Brick", "Protection", "Charging", "Wiring", "Run", "Path"];
    let mut times = vec![];
    for stage in stages.into_iter().cycle().take(ROUNDS * stages.len()) {
        let took_ms = b.client.execute_async(script, vec![json!(stage)]).await?.as_f64().context("no time")?;
        times.push(Duration::from_secs_f64(took_ms / 1000.0));
        tokio::time::sleep(Duration::from_millis(300)).await;
    }
    Ok(times)
}

/// Most findings that an edit is measured with have a card, and each card its fixes.
const FINDINGS: usize = 12;

/// The hedge shears with parts that do not suit, kept as a plan of its own; its address.
async fn flawed(http: &Http, base: &str, sound: &str) -> Result<String> {
    let mut plan: Value = serde_json::from_str(sound)?;
    plan["name"] = "Measured shears".into();
    plan["environment"]["charge_min_c"] = (-5.0).into();
    plan["wiring"]["strain_relief"] = false.into();
    for node in plan["nodes"].as_array_mut().into_iter().flatten() {
        let wrong = match node["kind"].as_str() {
            Some("fuse") => json!({"fuse": {"rating_a": 40.0, "dc_v": null}}),
            Some("board") => json!({"module": {"protects": {"bleed_a": 0.0, "continuous_a": 4.0}}}),
            Some("switch") => json!({"switch": {"continuous_a": 2.0, "dc_v": null}}),
            Some("connector") => json!({"connector": {"continuous_a": 3.0, "keyed": false, "live_pins_bare": true}}),
            Some("charger") => json!({"module": {"charges": {"output_a": 9.0}}}),
            _ => continue,
        };
        merge(&mut node["part"]["part"], &wrong);
    }
    let text = plan.to_string();
    let assessment: Value = serde_json::from_slice(&post(http, &format!("{base}/api/assess"), &text).await?)?;
    let findings = assessment["findings"].as_array().context("no findings")?;
    let cards = findings.iter().filter(|f| f["severity"] != "note" && f["follows"].is_null()).count();
    ensure!(cards >= FINDINGS, "only {cards} findings");
    let kept: Value = serde_json::from_slice(&post(http, &format!("{base}/api/plans/import"), &text).await?)?;
    Ok(format!("/plan/{}/protection", kept["id"].as_str().context("no id")?))
}

fn merge(into: &mut Value, from: &Value) {
    match (into.as_object_mut(), from.as_object()) {
        (Some(into), Some(from)) => from.iter().for_each(|(key, value)| merge(&mut into[key], value)),
        _ => *into = from.clone(),
    }
}

async fn post(http: &Http, address: &str, body: &str) -> Result<Vec<u8>> {
    let request = Request::post(address).header("content-type", "application/json").body(body.to_owned())?;
    let answer = http.request(request).await?;
    ensure!(answer.status().is_success(), "{address} answered {}", answer.status());
    Ok(http_body_util::BodyExt::collect(answer.into_body()).await?.to_bytes().to_vec())
}

/// Switches the board between two answers again and again: times to its figures and to the fixes of every card, and how
/// many requests one such edit makes until it is saved.
async fn flawed_edits(base: &str, address: &str) -> Result<(Vec<Duration>, Vec<Duration>, u64)> {
    const EDITS: usize = 60;
    let b = Browser::start(base).await?;
    b.open(address).await?;
    b.css("[data-testid='fix']").await?;
    b.click("[data-place='fuse'] [data-unfold]").await?;
    let field = b.css("[data-at$='/part/part/fuse/rating_a'] input").await?;
    // Typed and read by core first, so that what is timed is the edit.
    let script = "const [field, digit, done] = arguments;
        const figure = () => document.querySelector('[data-figure=\"fuse.carries_a\"] .value')?.textContent;
        const before = figure();
        const told = { };
        let were = false;
        const started = performance.now();
        const look = () => {
            if (told.figures === undefined && figure() !== before) told.figures = performance.now() - started;
            const away = document.querySelector('[inert] > [data-testid=fix]') !== null;
            were ||= away;
            if (told.figures !== undefined && were && !away) {
                observer.disconnect();
                told.fixes = performance.now() - started;
                done(told);
            }
        };
        const observer = new MutationObserver(look);
        observer.observe(document.body, {characterData: true, childList: true, subtree: true, attributes: true});
        field.focus(); field.value = digit; field.dispatchEvent(new Event('input', {bubbles: true}));
        field.dispatchEvent(new Event('change', {bubbles: true})); field.blur()";
    let (mut figures, mut fixes, mut requests) = (vec![], vec![], 0);
    for i in 0..EDITS {
        b.script("performance.clearResourceTimings()").await?;
        let digit = json!(["41", "42"][i % 2]);
        let told = b.client.execute_async(script, vec![serde_json::to_value(&field)?, digit]).await?;
        let time = |of: &str| told[of].as_f64().map(|ms| Duration::from_secs_f64(ms / 1000.0)).context("no time");
        figures.push(time("figures")?);
        fixes.push(time("fixes")?);
        // Until it is saved.
        tokio::time::sleep(Duration::from_millis(1300)).await;
        let asked = "return performance.getEntriesByType('resource').filter(e => e.name.includes('/api/') && !e.name.endsWith('/api/quantity')).length";
        requests = b.script(asked).await?.as_u64().context("no count")?.max(requests);
    }
    b.close().await?;
    Ok((figures, fixes, requests))
}

fn report(what: &str, mut times: Vec<Duration>) {
    times.sort_unstable();
    let at = |share: f64| times[((times.len() - 1) as f64 * share) as usize];
    println!("{what:<42} {:>10.2?} {:>10.2?} {:>10}", at(0.5), at(0.99), times.len());
}
