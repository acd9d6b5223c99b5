//! `dense-brick serve`.

use std::net::{IpAddr, Ipv4Addr};
use std::path::PathBuf;
use std::sync::Arc;
use std::time::Duration;

use anyhow::Context;
use chrono::Utc;
use rocket::fairing::AdHoc;
use sd_notify::NotifyState;
use sqlx::PgPool;
use tokio::net::TcpListener;

use super::Serve;
use crate::certificate::Certificate;
use crate::gate::Gate;
use crate::pairing::Pairing;
use crate::store::backup;
use crate::{Config, store};

/// Opens the database, loads the demo if asked, serves until a signal ends it.
pub async fn run(serve: Serve) -> anyhow::Result<()> {
    let pool = store::open(&serve.database_url, &serve.backups).await.context("the database cannot be opened")?;
    if serve.load_demo && store::demo::load(&pool, &store::demo::read(&serve.demo)?).await? {
        println!("Demo data loaded.");
    }
    let serve_backups = serve.backups.clone();
    let lan = if serve.lan { addresses() } else { vec![] };
    let config = Config {
        address: IpAddr::V4(Ipv4Addr::LOCALHOST),
        // The server's own port, which only the gate need know.
        port: 0,
        web_dir: serve.web,
        demo_dir: serve.demo,
        backups: serve.backups,
        lan: serve.lan,
        trust_proxy: serve.trust_proxy,
        handle_signals: true,
    };
    let mut doors = vec![(listen(IpAddr::V4(Ipv4Addr::LOCALHOST), serve.port).await?, None)];
    let mut told = vec![format!("Dense Brick is at http://127.0.0.1:{}", serve.port)];
    let pairing = if serve.lan { Pairing::open() } else { Pairing::closed() };
    if let Some(code) = pairing.code() {
        let certificate = Certificate::kept(&serve.certificate, &lan).context("the certificate cannot be made")?;
        let port = serve.lan_port.unwrap_or(serve.port + 1);
        for &address in &lan {
            doors.push((listen(address, port).await?, Some(certificate.acceptor()?)));
            told.push(format!("On the phone at the bench open https://{address}:{port}"));
        }
        told.push(format!(
            "It will warn once that it does not know the certificate; its SHA-256 fingerprint is\n  {}",
            certificate.fingerprint()
        ));
        told.push(format!("Then type this code there; it is shown only here, and only once: {code}"));
    }
    let gate = Arc::new(Gate::default());
    let behind = gate.clone();
    // Opened and told once the server listens, not before.
    let opening = AdHoc::on_liftoff("Gate", move |rocket| {
        let server_port = rocket.config().port;
        Box::pin(async move {
            for (listener, tls) in doors {
                rocket::tokio::spawn(behind.clone().open(listener, tls, server_port));
            }
            told.iter().for_each(|line| println!("{line}"));
            // Does nothing where no service manager started it.
            if let Err(error) = sd_notify::notify(&[NotifyState::Ready]) {
                tracing::warn!(%error, "the service manager was not notified");
            }
        })
    });
    let keeping = rocket::tokio::spawn(keep_daily(pool.clone(), serve_backups));
    crate::build(config, pool.clone(), pairing, gate).attach(opening).launch().await?;
    keeping.abort();
    pool.close().await;
    Ok(())
}

async fn listen(address: IpAddr, port: u16) -> anyhow::Result<TcpListener> {
    let told = || format!("{address}:{port} cannot be listened on; is another program there?");
    TcpListener::bind((address, port)).await.with_context(told)
}

/// How often it is looked whether a day has gone by.
const LOOK_S: u64 = 600;

/// Keeps a backup a day, and tells of one that could not be written or restored on trial.
async fn keep_daily(pool: PgPool, folder: PathBuf) {
    loop {
        if !backup::is_kept_daily(&folder, Utc::now()) {
            match backup::daily(&pool, &folder).await {
                // Only what a backup has is dropped.
                Ok(_) => match store::purge::purge(&pool).await {
                    Ok(purged) => tracing::info!(?purged, "removed what was deleted long ago"),
                    Err(error) => tracing::warn!(%error, "purge"),
                },
                Err(error) => {
                    let minutes = LOOK_S / 60;
                    eprintln!("dense-brick: today's backup failed: {error}. It is tried again in {minutes} minutes.");
                }
            }
        }
        rocket::tokio::time::sleep(Duration::from_secs(LOOK_S)).await;
    }
}

/// Addresses of this machine on its networks.
fn addresses() -> Vec<IpAddr> {
    let found = if_addrs::get_if_addrs().unwrap_or_default();
    found.into_iter().map(|i| i.ip()).filter(|ip| ip.is_ipv4() && !ip.is_loopback()).collect()
}
