//! Who may talk to the program: this machine, paired browsers, no other site; and what a panic looks like from outside.

use crate::common;

use common::{assert_problem, body, client, serve};
use dense_brick::pairing::Pairing;
use dense_brick::store;
use rocket::http::{Header, Status};
use rocket::{get, routes};
use serde_json::json;
use sqlx::PgPool;

const PHONE: &str = "192.168.7.9:50000";

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn another_site_can_neither_read_nor_write(pool: PgPool) {
    let client = client(pool).await;
    let header = |name: &'static str, value: &'static str| Header::new(name, value);
    for (host, origin, status) in [
        ("localhost:8100", None, 200),
        ("127.0.0.1:8100", Some("http://127.0.0.1:8100"), 200),
        ("[::1]:8100", Some("http://[::1]:8100"), 200),
        // A name that an attacker points at this machine.
        ("brick.attacker.example:8100", None, 403),
        ("127.0.0.1.attacker.example", None, 403),
        ("192.168.7.2:8100", None, 403),
        // A page of another site, or of another port, that writes.
        ("127.0.0.1:8100", Some("http://attacker.example"), 403),
        ("127.0.0.1:8100", Some("http://127.0.0.1:9999"), 403),
        ("127.0.0.1:8100", Some("null"), 403),
    ] {
        let mut request = client.get("/api/plans").header(header("Host", host));
        if let Some(origin) = origin {
            request = request.header(header("Origin", origin));
        }
        let response = request.dispatch().await;
        assert_eq!(response.status().code, status, "{host} {origin:?}");
        if status == 403 {
            assert_problem(&body(response).await, Status::Forbidden);
        }
    }
    let response = client.post("/api/restore").header(header("Host", "127.0.0.1:8100"));
    let response = response.header(header("Origin", "http://attacker.example")).body("{}").dispatch().await;
    assert_eq!(response.status(), Status::Forbidden);
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn over_the_network_only_a_paired_browser_is_served(pool: PgPool) {
    let pairing = Pairing::open();
    let code = pairing.code().unwrap();
    let client = serve(pool, true, pairing, |rocket| rocket).await;
    let host = || Header::new("Host", "192.168.7.2:8100");
    let from_phone = |path: &'static str| client.get(path).header(host()).remote(PHONE.parse().unwrap());

    let unpaired = from_phone("/api/plans").dispatch().await;
    assert_eq!(unpaired.status(), Status::Unauthorized);
    assert_problem(&body(unpaired).await, Status::Unauthorized);
    // A header that claims to come from this machine proves nothing.
    let forged = from_phone("/api/plans").header(Header::new("X-Real-IP", "127.0.0.1"));
    let forged = forged.header(Header::new("X-Forwarded-For", "127.0.0.1")).dispatch().await;
    assert_eq!(forged.status(), Status::Unauthorized);
    let named =
        client.get("/api/plans").header(Header::new("Host", "workshop.example:8100")).remote(PHONE.parse().unwrap());
    assert_eq!(named.dispatch().await.status(), Status::Forbidden, "a name may be made to point here");

    let pair = |code: &str| {
        let request = client.post("/api/pair").header(host()).remote(PHONE.parse().unwrap());
        request.body(json!({"code": code}).to_string())
    };
    let wrong = pair("AAAA-AAAA").dispatch().await;
    assert_eq!(wrong.status(), Status::Forbidden);
    assert_problem(&body(wrong).await, Status::Forbidden);
    let right = pair(&code).dispatch().await;
    assert_eq!(right.status(), Status::NoContent);
    let cookie = right.cookies().get("brick-pairing").unwrap().clone();
    assert_eq!(cookie.http_only(), Some(true));
    assert_eq!(cookie.same_site(), Some(rocket::http::SameSite::Strict));
    assert_eq!(from_phone("/api/plans").dispatch().await.status(), Status::Ok, "the cookie is kept");
    let other = from_phone("/api/plans").cookie(("brick-pairing", "a-guess")).dispatch().await;
    assert_eq!(other.status(), Status::Unauthorized, "another browser is not paired by that");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn without_lan_no_code_pairs_and_the_network_is_refused(pool: PgPool) {
    let client = client(pool).await;
    let request = client.get("/api/plans").remote(PHONE.parse().unwrap());
    assert_eq!(request.dispatch().await.status(), Status::Unauthorized);
    let pair = client.post("/api/pair").remote(PHONE.parse().unwrap()).body(json!({"code": ""}).to_string());
    assert_eq!(pair.dispatch().await.status(), Status::Forbidden);
}

/// Ways to write one address that a router may take for the same.
fn spellings(path: &str) -> Vec<String> {
    let rest = path.strip_prefix("/api").unwrap();
    let all_percent: String =
        path.bytes().map(|b| if b == b'/' { "/".to_owned() } else { format!("%{b:02x}") }).collect();
    vec![
        path.to_owned(),
        format!("/{path}"),
        format!("//{path}/"),
        format!("{path}/"),
        format!("{path}?"),
        format!("/%61pi{rest}"),
        format!("/%61%70%69/{rest}"),
        all_percent,
        format!("/API{rest}"),
        format!("/Api{rest}"),
        format!("/./api{rest}"),
        format!("/assets/../api{rest}"),
        format!("/assets/%2e%2e/api{rest}"),
        format!("/api/.{rest}"),
        format!("/api%2f{}", rest.trim_start_matches('/')),
        format!("http://127.0.0.1{path}"),
        format!("http://localhost//api{rest}"),
    ]
}

/// The status line and body of a request written byte by byte, as no client library would write it.
async fn raw(port: u16, request: &str) -> (u16, String) {
    use tokio::io::{AsyncReadExt, AsyncWriteExt};
    let mut socket = tokio::net::TcpStream::connect(("127.0.0.1", port)).await.unwrap();
    socket.write_all(request.as_bytes()).await.unwrap();
    let mut answer = vec![];
    socket.read_to_end(&mut answer).await.unwrap();
    let text = String::from_utf8_lossy(&answer).into_owned();
    let status = text.split(' ').nth(1).and_then(|s| s.parse().ok()).unwrap_or(0);
    (status, text)
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn no_spelling_of_any_route_lets_an_unpaired_peer_in(pool: PgPool) {
    let canary = "Kite reel that nobody may see";
    let client = client(pool.clone()).await;
    let (_, plan) = common::post(&client, "/api/plans", &json!({"name": canary})).await;
    let (port, stop) = common::listen(pool.clone()).await;
    let document: serde_json::Value = serde_json::from_str(&dense_brick::api::openapi().unwrap()).unwrap();
    let mut tried = 0;
    for (path, methods) in document["paths"].as_object().unwrap() {
        if path == "/api/pair" {
            continue;
        }
        let real = path.replace("{id}", plan["id"].as_str().unwrap());
        let real =
            real.split('{').map(|piece| piece.split_once('}').map_or(piece.to_owned(), |(_, rest)| format!("1{rest}")));
        let real: String = real.collect();
        for method in methods.as_object().unwrap().keys() {
            for spelt in spellings(&real) {
                let method = method.to_uppercase();
                // A peer behind a proxy on this machine is not this machine, and this is the one peer a test can be.
                let (status, text) = raw(port, &format!(
                    "{method} {spelt} HTTP/1.1\r\nHost: 127.0.0.1:8100\r\nVia: 1.1 bench\r\nContent-Type: application/json\r\n\
                     Content-Length: 2\r\nConnection: close\r\n\r\n{{}}")).await;
                let page = status == 200 && method == "GET" && text.contains("text/html");
                let not_built = status == 503 && text.contains("front end is not built");
                assert!(
                    page || not_built || matches!(status, 400 | 401 | 403 | 404 | 405 | 414),
                    "{method} {spelt}: {}",
                    text.lines().next().unwrap_or_default()
                );
                assert!(!text.contains(canary), "{method} {spelt} tells what is stored");
                tried += 1;
            }
        }
    }
    assert!(tried > 1000, "{tried}");
    let plans = store::plans::list(&pool).await.unwrap();
    assert_eq!((plans.len(), plans[0].edit), (1, 1), "nothing was changed");
    // The same request without the proxy is from this machine.
    let (status, text) =
        raw(port, "GET //api/plans HTTP/1.1\r\nHost: 127.0.0.1:8100\r\nConnection: close\r\n\r\n").await;
    assert!(status == 200 && text.contains(canary));
    stop.notify();
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_paired_browser_is_listed_and_can_be_put_out(pool: PgPool) {
    let pairing = Pairing::open();
    let code = pairing.code().unwrap();
    let client = serve(pool, true, pairing, |rocket| rocket).await;
    let host = || Header::new("Host", "192.168.7.2:8100");
    let pair = client.post("/api/pair").header(host()).header(Header::new("User-Agent", "bench phone"));
    let paired = pair.remote(PHONE.parse().unwrap()).body(json!({"code": code}).to_string()).dispatch().await;
    assert_eq!(paired.status(), Status::NoContent);
    let from_phone = || client.get("/api/plans").header(host()).remote(PHONE.parse().unwrap()).dispatch();
    assert_eq!(from_phone().await.status(), Status::Ok);
    let listed = body(client.get("/api/paired").dispatch().await).await;
    assert_eq!(
        (listed[0]["browser"].as_str(), listed[0]["address"].as_str()),
        (Some("bench phone"), Some("192.168.7.9"))
    );
    let one = format!("/api/paired/{}", listed[0]["id"].as_str().unwrap());
    assert_eq!(client.delete(one.clone()).dispatch().await.status(), Status::NoContent);
    assert_eq!(from_phone().await.status(), Status::Unauthorized);
    assert_eq!(client.delete(one).dispatch().await.status(), Status::NotFound);
}

#[get("/api/fall-over")]
fn fall_over() -> &'static str {
    panic!("select * from the kitchen at /root/secret")
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_panic_in_a_route_is_a_problem_with_an_id_and_without_its_words(pool: PgPool) {
    let client = serve(pool, false, Pairing::closed(), |rocket| rocket.mount("/", routes![fall_over])).await;
    let response = client.get("/api/fall-over").dispatch().await;
    assert_eq!(response.status(), Status::InternalServerError);
    let problem = body(response).await;
    assert_problem(&problem, Status::InternalServerError);
    assert_eq!(problem["id"].as_str().unwrap().len(), 36);
    assert!(!problem.to_string().contains("kitchen"));
    assert_eq!(client.get("/api/health").dispatch().await.status(), Status::Ok, "the server goes on");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn every_answer_carries_its_headers(pool: PgPool) {
    let client = client(pool).await;
    let response = client.get("/api/plans").dispatch().await;
    let header = |name: &str| response.headers().get_one(name).unwrap_or_default().to_owned();
    assert_eq!(header("X-Content-Type-Options"), "nosniff");
    assert_eq!(header("Referrer-Policy"), "no-referrer");
    assert_eq!(header("Cache-Control"), "no-store");
    assert_eq!(header("X-Frame-Options"), "DENY");
    let other = client.get("/api/plans").dispatch().await;
    assert_eq!(header("X-Request-Id").len(), 36);
    assert_ne!(other.headers().get_one("X-Request-Id"), response.headers().get_one("X-Request-Id"));
    for path in ["/api/plans", "/api/no-such-thing", "//api/plans", "/refused", "/", "/assets/none.js"] {
        let response = client.get(path).dispatch().await;
        let policy = response.headers().get_one("Content-Security-Policy").unwrap_or_default().to_owned();
        assert!(policy.contains("default-src 'none'") && policy.contains("frame-ancestors 'none'"), "{path}: {policy}");
    }
}
