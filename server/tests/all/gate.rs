//! The gate on real sockets: who asks, what is encrypted, and what is closed.

use std::net::{IpAddr, Ipv4Addr};
use std::sync::Arc;
use std::time::Duration;

use crate::common;

use dense_brick::certificate::Certificate;
use dense_brick::gate::{Gate, Limits};
use dense_brick::pairing::Pairing;
use dense_brick::store;
use serde_json::json;
use sqlx::PgPool;
use tokio::io::{AsyncRead, AsyncReadExt, AsyncWrite, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio_rustls::TlsConnector;
use tokio_rustls::rustls::pki_types::{CertificateDer, ServerName};
use tokio_rustls::rustls::{ClientConfig, RootCertStore, crypto::ring};

/// Opens a door and tells its address.
async fn door(gate: &Arc<Gate>, address: IpAddr, certificate: Option<&Certificate>, server_port: u16) -> (IpAddr, u16) {
    let listener = TcpListener::bind((address, 0)).await.unwrap();
    let port = listener.local_addr().unwrap().port();
    let tls = certificate.map(|c| c.acceptor().unwrap());
    tokio::spawn(gate.clone().open(listener, tls, server_port));
    (address, port)
}

async fn ask(mut socket: impl AsyncRead + AsyncWrite + Unpin, request: &str) -> String {
    socket.write_all(request.as_bytes()).await.unwrap();
    let mut answer = vec![];
    // A side that breaks off has said what it had to say.
    let _ = socket.read_to_end(&mut answer).await;
    String::from_utf8_lossy(&answer).into_owned()
}

fn get(path: &str, host: &str, more: &str) -> String {
    format!("GET {path} HTTP/1.1\r\nHost: {host}\r\n{more}Connection: close\r\n\r\n")
}

async fn encrypted(to: (IpAddr, u16), certificate: &Certificate) -> tokio_rustls::client::TlsStream<TcpStream> {
    let mut roots = RootCertStore::empty();
    roots.add(CertificateDer::from(certificate.der().to_vec())).unwrap();
    let config = ClientConfig::builder_with_provider(Arc::new(ring::default_provider()))
        .with_safe_default_protocol_versions()
        .unwrap()
        .with_root_certificates(roots)
        .with_no_client_auth();
    let socket = TcpStream::connect(to).await.unwrap();
    TlsConnector::from(Arc::new(config)).connect(ServerName::from(to.0), socket).await.unwrap()
}

/// An address of this machine on a network, if it has one: what connects to it comes from it, as a phone would.
fn network_address() -> Option<IpAddr> {
    let found = if_addrs::get_if_addrs().unwrap_or_default();
    found.into_iter().map(|i| i.ip()).find(|ip| ip.is_ipv4() && !ip.is_loopback())
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn over_the_network_all_is_encrypted_and_only_paired_browsers_are_served(pool: PgPool) {
    let Some(here) = network_address() else {
        println!("this machine is on no network: nothing to test");
        return;
    };
    let folder = tempfile::tempdir().unwrap();
    let certificate = Certificate::kept(folder.path(), &[here]).unwrap();
    let (gate, pairing) = (Arc::new(Gate::default()), Pairing::open());
    let code = pairing.code().unwrap();
    let (server, stop) = common::listen_behind(pool, gate.clone(), pairing).await;
    let lan = door(&gate, here, Some(&certificate), server).await;
    let home = door(&gate, IpAddr::V4(Ipv4Addr::LOCALHOST), None, server).await;

    let plain = ask(TcpStream::connect(lan).await.unwrap(), &get("/api/plans", &here.to_string(), "")).await;
    assert!(plain.starts_with("HTTP/1.1 400") && plain.contains("https://"), "{plain}");
    let host = format!("{here}:{}", lan.1);
    for claims in ["", "X-Forwarded-For: 127.0.0.1\r\n", "X-Real-IP: 127.0.0.1\r\nForwarded: for=127.0.0.1\r\n"] {
        let told = ask(encrypted(lan, &certificate).await, &get("/api/plans", &host, claims)).await;
        assert!(told.starts_with("HTTP/1.1 401"), "{claims} {told}");
    }
    let body = json!({ "code": code }).to_string();
    let pair = format!(
        "POST /api/pair HTTP/1.1\r\nHost: {host}\r\nContent-Length: {}\r\nConnection: close\r\n\r\n{body}",
        body.len()
    );
    let paired = ask(encrypted(lan, &certificate).await, &pair).await;
    assert!(paired.starts_with("HTTP/1.1 204"), "{paired}");
    let cookie = paired.lines().find_map(|l| l.to_lowercase().starts_with("set-cookie:").then(|| &l[11..])).unwrap();
    assert!(cookie.contains("Secure") && cookie.contains("HttpOnly"), "{cookie}");
    let token = format!("Cookie: {}\r\n", cookie.split(';').next().unwrap().trim());
    let served = ask(encrypted(lan, &certificate).await, &get("/api/plans", &host, &token)).await;
    assert!(served.starts_with("HTTP/1.1 200"), "{served}");
    // This machine needs no pairing, unless a proxy stands between.
    let own = ask(TcpStream::connect(home).await.unwrap(), &get("/api/paired", "localhost", "")).await;
    assert!(own.starts_with("HTTP/1.1 200") && own.contains(&here.to_string()), "{own}");
    let proxied = get("/api/paired", "localhost", "X-Forwarded-For: 192.168.7.9\r\n");
    let told = ask(TcpStream::connect(home).await.unwrap(), &proxied).await;
    assert!(told.starts_with("HTTP/1.1 401"), "{told}");
    stop.notify();
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn half_a_request_and_silence_are_closed_and_hold_nobody_up(pool: PgPool) {
    let limits = Limits {
        head_within: Duration::from_secs(1),
        idle: Duration::from_secs(3),
        of_this_machine: 40,
        ..Limits::default()
    };
    let gate = Arc::new(Gate::with(limits));
    let (server, stop) = common::listen_behind(pool, gate.clone(), Pairing::closed()).await;
    let home = door(&gate, IpAddr::V4(Ipv4Addr::LOCALHOST), None, server).await;
    let mut slow = vec![];
    for i in 0..200 {
        let mut socket = TcpStream::connect(home).await.unwrap();
        // Nothing, half a head, or a head without the body it promises.
        let half =
            ["", "GET /api/plans HTT", "POST /api/plans HTTP/1.1\r\nHost: localhost\r\nContent-Length: 90\r\n\r\n{"]
                [i % 3];
        let _ = socket.write_all(half.as_bytes()).await;
        slow.push(socket);
    }
    for mut socket in slow {
        // Ended by the gate, not by us: reading comes to an end.
        let mut rest = vec![];
        let _ = socket.read_to_end(&mut rest).await;
    }
    let served = ask(TcpStream::connect(home).await.unwrap(), &get("/api/health", "localhost", "")).await;
    assert!(served.starts_with("HTTP/1.1 200"), "{served}");
    stop.notify();
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_backup_that_takes_longer_than_silence_may_last_still_comes_whole(pool: PgPool) {
    let gate = Arc::new(Gate::with(Limits { idle: Duration::from_millis(500), ..Limits::default() }));
    let (server, stop) = common::listen_behind(pool.clone(), gate.clone(), Pairing::closed()).await;
    let home = door(&gate, IpAddr::V4(Ipv4Addr::LOCALHOST), None, server).await;
    // A table that nobody may read for a while: the server waits for it and sends nothing.
    let mut holding = pool.begin().await.unwrap();
    sqlx::query("lock table photo in access exclusive mode").execute(&mut *holding).await.unwrap();
    let request = get("/api/backup", "localhost", "");
    let release = async {
        tokio::time::sleep(Duration::from_secs(2)).await;
        holding.rollback().await.unwrap();
    };
    let (told, ()) = tokio::join!(ask(TcpStream::connect(home).await.unwrap(), &request), release);
    assert!(told.starts_with("HTTP/1.1 200") && told.contains("\"sha256\""), "{told}");
    stop.notify();
}
