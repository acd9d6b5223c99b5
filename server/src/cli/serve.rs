//! `dense-brick serve`.

use anyhow::Context;

use super::Serve;
use crate::{Config, store};

/// Opens the database, loads the demo if asked, serves until a signal ends it.
pub async fn run(serve: Serve) -> anyhow::Result<()> {
    let pool = store::open(&serve.database_url).await.context("the database cannot be opened")?;
    if serve.load_demo && store::demo::load(&pool, &store::demo::read(&serve.demo)?).await? {
        println!("Demo data loaded.");
    }
    let config = Config {
        address: serve.address,
        port: serve.port,
        web_dir: serve.web,
        demo_dir: serve.demo,
        handle_signals: true,
    };
    let rocket = crate::build(config, pool.clone()).ignite().await?;
    println!("Dense Brick is at http://{}:{}", serve.address, serve.port);
    rocket.launch().await?;
    pool.close().await;
    Ok(())
}
