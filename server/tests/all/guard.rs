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
}
