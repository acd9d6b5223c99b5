//! Twenty savers, and troubles while they save: the server killed, the database killed, frozen, its disk full. In the
//! end every plan must hold what was acknowledged last, or something newer of the same saver. `scripts/trials/kills`
//! runs it. Bounded: it ends by itself.

use std::path::{Path, PathBuf};
use std::process::{Child, Command, Stdio};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, AtomicUsize, Ordering};
use std::time::Duration;

use anyhow::{Context, Result, bail, ensure};
use http::{Method, Request};
use http_body_util::BodyExt;
use hyper_util::client::legacy::Client;
use hyper_util::client::legacy::connect::HttpConnector;
use hyper_util::rt::TokioExecutor;
use serde_json::{Value, json};
use tokio::time::{sleep, timeout};

const SAVERS: usize = 20;
const TROUBLES: usize = 20;
/// How long a save waits for its answer before it is sent again.
const ANSWER: Duration = Duration::from_secs(8);
/// How long the whole may take to be well again.
const WELL_AGAIN: Duration = Duration::from_secs(60);

type Http = Client<HttpConnector, String>;

#[derive(Default)]
struct Counts {
    acknowledged: AtomicUsize,
    again: AtomicUsize,
    refused: AtomicUsize,
}

/// What a saver sent last and what was last acknowledged, as numbers in the plan's notes.
struct Told {
    path: String,
    sent: usize,
    acknowledged: usize,
}

#[rocket::main]
async fn main() -> Result<()> {
    let cluster = PathBuf::from(std::env::var("TRIAL_CLUSTER").context("run scripts/trials/kills")?);
    let scratch = PathBuf::from(std::env::var("TRIAL_SCRATCH").context("run scripts/trials/kills")?);
    let disk = std::env::var("TRIAL_DISK").ok().filter(|d| !d.is_empty()).map(PathBuf::from);
    let port = std::net::TcpListener::bind("127.0.0.1:0")?.local_addr()?.port();
    let base = format!("http://127.0.0.1:{port}");
    let http: Http = Client::builder(TokioExecutor::new()).build_http();
    let mut server = Server { port, scratch, child: None };
    server.keep_running()?;
    well(&http, &base, &mut server).await?;

    let (counts, over) = (Arc::new(Counts::default()), Arc::new(AtomicBool::new(false)));
    let savers: Vec<_> = (0..SAVERS)
        .map(|number| tokio::spawn(save(http.clone(), base.clone(), number, counts.clone(), over.clone())))
        .collect();
    for trouble in 0..TROUBLES {
        // Uneven pauses, the same every time.
        sleep(Duration::from_millis(700 + 391 * (trouble as u64 % 7))).await;
        match trouble % 4 {
            0 => server.kill()?,
            1 => signal("KILL", &[postmaster(&cluster)?])?,
            2 => {
                let all = processes_in(&cluster)?;
                signal("STOP", &all)?;
                sleep(Duration::from_secs(2)).await;
                signal("CONT", &all)?;
            }
            _ => match &disk {
                Some(disk) => fill(disk).await?,
                None => server.kill()?,
            },
        }
        well(&http, &base, &mut server).await.with_context(|| format!("after trouble {trouble}"))?;
    }
    over.store(true, Ordering::Relaxed);
    let mut lost = 0;
    for saver in savers {
        let told = saver.await??;
        let (status, plan) = ask(&http, Method::GET, &format!("{base}{}", told.path), None).await?;
        ensure!(status == 200, "{} answered {status}", told.path);
        let stored: usize = plan["plan"]["notes"].as_str().unwrap_or_default().parse().unwrap_or(0);
        if stored < told.acknowledged || stored > told.sent {
            println!("LOST: {} holds {stored}, acknowledged {}, sent {}", told.path, told.acknowledged, told.sent);
            lost += 1;
        }
    }
    server.kill()?;
    let of = |count: &AtomicUsize| count.load(Ordering::Relaxed);
    println!(
        "{TROUBLES} troubles{}, {SAVERS} savers: {} saves acknowledged, {} sent again, {} answered otherwise, {lost} lost",
        if disk.is_some() { ", a full disk among them" } else { "" },
        of(&counts.acknowledged),
        of(&counts.again),
        of(&counts.refused),
    );
    ensure!(lost == 0, "saves were lost");
    Ok(())
}

/// The program, started again whenever it has ended.
struct Server {
    port: u16,
    scratch: PathBuf,
    child: Option<Child>,
}

impl Server {
    fn keep_running(&mut self) -> Result<()> {
        let ended = match &mut self.child {
            Some(child) => child.try_wait()?.is_some(),
            None => true,
        };
        if ended {
            let child = Command::new("target/debug/dense-brick")
                .args(["serve", "--port", &self.port.to_string()])
                .args(
                    ["--backups", "backups", "--logs", "logs", "--certificate", "certificate"]
                        .map(|a| if a.starts_with("--") { a.into() } else { self.scratch.join(a).into_os_string() }),
                )
                .stdout(Stdio::null())
                .stderr(Stdio::null())
                .spawn()?;
            self.child = Some(child);
        }
        Ok(())
    }

    fn kill(&mut self) -> Result<()> {
        if let Some(mut child) = self.child.take() {
            child.kill()?;
            child.wait()?;
        }
        Ok(())
    }
}

/// Waits until program and database answer again.
async fn well(http: &Http, base: &str, server: &mut Server) -> Result<()> {
    let waiting = async {
        loop {
            server.keep_running()?;
            if ask(http, Method::GET, &format!("{base}/api/health"), None).await.is_ok_and(|(status, _)| status == 200)
            {
                return anyhow::Ok(());
            }
            sleep(Duration::from_millis(100)).await;
        }
    };
    timeout(WELL_AGAIN, waiting).await.context("it did not become well again")?
}

async fn ask(http: &Http, method: Method, address: &str, body: Option<&Value>) -> Result<(u16, Value)> {
    let request = Request::builder().method(method).uri(address).header("content-type", "application/json");
    let request = request.body(body.map(Value::to_string).unwrap_or_default())?;
    let answer = timeout(ANSWER, async {
        let answer = http.request(request).await?;
        let status = answer.status().as_u16();
        anyhow::Ok((status, answer.into_body().collect().await?.to_bytes()))
    });
    let (status, bytes) = answer.await??;
    Ok((status, serde_json::from_slice(&bytes).unwrap_or(Value::Null)))
}

/// One saver: counts up in the notes of a plan of its own, each number saved until it is acknowledged.
async fn save(http: Http, base: String, number: usize, counts: Arc<Counts>, over: Arc<AtomicBool>) -> Result<Told> {
    let mut plan = loop {
        let body = json!({"name": format!("Saver {number}")});
        if let Ok((201, made)) = ask(&http, Method::POST, &format!("{base}/api/plans"), Some(&body)).await {
            break made;
        }
        sleep(Duration::from_millis(100)).await;
    };
    let mut told =
        Told { path: format!("/api/plans/{}", plan["id"].as_str().context("no id")?), sent: 0, acknowledged: 0 };
    while !over.load(Ordering::Relaxed) {
        told.sent += 1;
        let key = format!("00000000-0000-4000-8000-{number:06}{:06}", told.sent);
        plan["plan"]["notes"] = json!(told.sent.to_string());
        let body = json!({"revision": plan["revision"], "edit": plan["edit"], "key": key, "plan": plan["plan"]});
        loop {
            match ask(&http, Method::PUT, &format!("{base}{}", told.path), Some(&body)).await {
                Ok((200, saved)) => {
                    counts.acknowledged.fetch_add(1, Ordering::Relaxed);
                    told.acknowledged = told.sent;
                    plan = saved;
                    break;
                }
                Ok((503, _)) | Err(_) => {
                    counts.again.fetch_add(1, Ordering::Relaxed);
                }
                Ok((status, answer)) => {
                    counts.refused.fetch_add(1, Ordering::Relaxed);
                    bail!("a save was answered {status}: {answer}");
                }
            }
            sleep(Duration::from_millis(100)).await;
        }
        sleep(Duration::from_millis(20)).await;
    }
    Ok(told)
}

/// The database's first process.
fn postmaster(cluster: &Path) -> Result<u32> {
    let text = std::fs::read_to_string(cluster.join("postmaster.pid"))?;
    text.lines().next().context("an empty pid file")?.trim().parse().context("no pid")
}

/// Processes that work in the cluster's folder.
fn processes_in(cluster: &Path) -> Result<Vec<u32>> {
    let mut found = vec![];
    for entry in std::fs::read_dir("/proc")? {
        let entry = entry?;
        if let Ok(pid) = entry.file_name().to_string_lossy().parse()
            && std::fs::read_link(entry.path().join("cwd")).is_ok_and(|cwd| cwd == cluster)
        {
            found.push(pid);
        }
    }
    Ok(found)
}

fn signal(name: &str, pids: &[u32]) -> Result<()> {
    // One that has ended meanwhile needs no signal.
    Command::new("kill").arg(format!("-{name}")).args(pids.iter().map(u32::to_string)).status()?;
    Ok(())
}

/// Fills the disk to the last byte for a while.
async fn fill(disk: &Path) -> Result<()> {
    let filler = disk.join("filler");
    let from = "if=/dev/zero";
    Command::new("dd").args([from, &format!("of={}", filler.display()), "bs=64k"]).stderr(Stdio::null()).status()?;
    sleep(Duration::from_secs(4)).await;
    std::fs::remove_file(filler)?;
    Ok(())
}
