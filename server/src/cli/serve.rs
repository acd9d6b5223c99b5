//! `dense-brick serve`.

use std::net::{IpAddr, Ipv4Addr};
use std::path::PathBuf;
use std::time::Duration;

use anyhow::Context;
use chrono::Utc;
use rocket::fairing::AdHoc;
use sqlx::PgPool;

use super::Serve;
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
    let loopback = IpAddr::V4(Ipv4Addr::LOCALHOST);
    let everywhere = IpAddr::V4(Ipv4Addr::UNSPECIFIED);
    let config = Config {
        address: if serve.lan { everywhere } else { loopback },
        port: serve.port,
        web_dir: serve.web,
        demo_dir: serve.demo,
        backups: serve.backups,
        lan: serve.lan,
        trust_proxy: serve.trust_proxy,
        handle_signals: true,
    };
    let keeping = rocket::tokio::spawn(keep_daily(pool.clone(), serve_backups));
    let pairing = if serve.lan { Pairing::open() } else { Pairing::closed() };
    let code = pairing.code();
    let port = serve.port;
    // Told once the port is ours, not before.
    let told = AdHoc::on_liftoff("Address", move |_| {
        Box::pin(async move {
            println!("Dense Brick is at http://{loopback}:{port}");
            if let Some(code) = code {
                for address in addresses() {
                    println!("On the phone at the bench open http://{address}:{port}");
                }
                println!("and type this code there; it is shown only here, and only once: {code}");
            }
        })
    });
    crate::build(config, pool.clone(), pairing).attach(told).launch().await?;
    keeping.abort();
    pool.close().await;
    Ok(())
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
                    Ok(purged) => tracing::info!(?purged, "dropped what was deleted long ago"),
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
