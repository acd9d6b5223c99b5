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
    report("keystroke to new figures in the browser", keystrokes(&format!("http://127.0.0.1:{port}")).await?);
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

/// Types a parallel count again and again and waits for the nameplate to follow.
async fn keystrokes(base: &str) -> Result<Vec<Duration>> {
    const KEYSTROKES: usize = 60;
    let b = Browser::start(base).await?;
    b.open("/").await?;
    let link = b.xpath("//a[contains(@class,'open')][.//b[text()='Hedge shears']]").await?;
    let address = link.attr("href").await?.context("a plan without an address")?;
    b.open(&address.replace("/path", "/cells")).await?;
    b.css("[data-testid='counts']").await?;
    let script = "const [digit, done] = arguments;
        const field = document.querySelector('[data-at=\"/packs/0/parallel\"] input');
        const plate = document.querySelector('[data-testid=counts]');
        const started = performance.now();
        new MutationObserver((_, o) => { o.disconnect(); requestAnimationFrame(() => done(performance.now() - started)) })
            .observe(plate, {characterData: true, childList: true, subtree: true});
        field.focus(); field.value = digit; field.dispatchEvent(new Event('input', {bubbles: true}))";
    let mut times = vec![];
    for i in 0..KEYSTROKES {
        let digit = serde_json::json!(["3", "4"][i % 2]);
        let took_ms = b.client.execute_async(script, vec![digit]).await?.as_f64().context("no time")?;
        times.push(Duration::from_secs_f64(took_ms / 1000.0));
        tokio::time::sleep(Duration::from_millis(300)).await;
    }
    b.close().await?;
    Ok(times)
}

fn report(what: &str, mut times: Vec<Duration>) {
    times.sort_unstable();
    let at = |share: f64| times[((times.len() - 1) as f64 * share) as usize];
    println!("{what:<42} {:>10.2?} {:>10.2?} {:>10}", at(0.5), at(0.99), times.len());
}
