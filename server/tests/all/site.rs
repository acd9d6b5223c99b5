//! The page and its assets: a strict policy with a nonce an answer, nothing outside its folder, no address that falls through.

use crate::common;

use std::path::PathBuf;

use common::body;
use dense_brick::pairing::Pairing;
use dense_brick::{Config, store};
use rocket::http::{Header, Status};
use rocket::local::asynchronous::Client;
use sqlx::PgPool;

/// A front end of one page and one script, as the build leaves it.
fn built() -> PathBuf {
    let folder = std::env::temp_dir().join(format!("dense-brick-site-{}", uuid::Uuid::new_v4()));
    std::fs::create_dir_all(folder.join("assets")).unwrap();
    std::fs::write(folder.join("index.html"), "<script nonce=\"__CSP_NONCE__\"></script>").unwrap();
    for (name, text) in [("a.js", "plain"), ("a.js.gz", "gzipped"), ("a.js.br", "brotli")] {
        std::fs::write(folder.join("assets").join(name), text).unwrap();
    }
    folder
}

async fn client(pool: PgPool, web_dir: PathBuf) -> Client {
    let config = Config {
        address: "127.0.0.1".parse().unwrap(),
        port: 0,
        web_dir,
        demo_dir: PathBuf::from("no-such-folder"),
        backups: std::env::temp_dir(),
        lan: false,
        trust_proxy: false,
        handle_signals: false,
    };
    Client::tracked(dense_brick::build(config, pool, Pairing::closed(), std::sync::Arc::default())).await.unwrap()
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn the_page_runs_only_what_came_with_it(pool: PgPool) {
    let folder = built();
    let client = client(pool, folder.clone()).await;
    let mut nonces = vec![];
    for path in ["/", "/plan/some/path", "/anything"] {
        let response = client.get(path).dispatch().await;
        assert_eq!(response.status(), Status::Ok, "{path}");
        let policy = response.headers().get_one("Content-Security-Policy").unwrap().to_owned();
        assert_eq!(response.headers().get_one("Cache-Control"), Some("no-store"));
        for rule in [
            "default-src 'none'",
            "script-src 'self';",
            "connect-src 'self'",
            "frame-ancestors 'none'",
            "base-uri 'none'",
        ] {
            assert!(policy.contains(rule), "{policy}");
        }
        assert!(!policy.contains("unsafe-eval") && !policy.contains("script-src 'self' 'unsafe"), "{policy}");
        let nonce = policy.split("'nonce-").nth(1).unwrap().split('\'').next().unwrap().to_owned();
        assert!(response.into_string().await.unwrap().contains(&nonce), "the page has the nonce of its policy");
        nonces.push(nonce);
    }
    nonces.sort_unstable();
    nonces.dedup();
    assert_eq!(nonces.len(), 3, "every answer has its own");
    std::fs::remove_dir_all(folder).unwrap();
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn assets_come_in_the_encoding_asked_for_and_from_their_folder_only(pool: PgPool) {
    let folder = built();
    let client = client(pool, folder.clone()).await;
    for (accepts, text, encoding) in
        [("gzip, br", "brotli", Some("br")), ("gzip", "gzipped", Some("gzip")), ("identity", "plain", None)]
    {
        let response = client.get("/assets/a.js").header(Header::new("Accept-Encoding", accepts)).dispatch().await;
        assert_eq!(response.headers().get_one("Content-Encoding"), encoding);
        assert_eq!(response.headers().get_one("Vary"), Some("Accept-Encoding"));
        assert_eq!(response.into_string().await.as_deref(), Some(text));
    }
    for path in [
        "/assets/../index.html",
        "/assets/%2e%2e/index.html",
        "/assets/..%2findex.html",
        "/assets/b.js",
        "/api/../index.html",
    ] {
        let response = client.get(path).dispatch().await;
        let text = response.into_string().await.unwrap_or_default();
        assert!(!text.contains("plain") && !text.contains("__CSP_NONCE__"), "{path}: {text}");
    }
    let missing = client.get("/assets/b.js").dispatch().await;
    assert_eq!(missing.status(), Status::NotFound);
    assert_eq!(body(missing).await["title"], "Not found");
    std::fs::remove_dir_all(folder).unwrap();
}
