//! A server in process, and how its answers are read.

#![allow(dead_code, reason = "each test file uses its share of these")]

pub mod stock;

use dense_brick::Config;
use dense_brick::pairing::Pairing;
use rocket::http::{ContentType, Status};
use rocket::local::asynchronous::{Client, LocalResponse};
use rocket::{Build, Rocket};
use serde_json::{Value, json};
use sqlx::PgPool;

/// A server on that database, asked from this machine.
pub async fn client(pool: PgPool) -> Client {
    serve(pool, false, Pairing::closed(), |rocket| rocket).await
}

/// A server set up as told, with what else it should have.
pub async fn serve(
    pool: PgPool,
    lan: bool,
    pairing: Pairing,
    more: impl FnOnce(Rocket<Build>) -> Rocket<Build>,
) -> Client {
    Client::tracked(more(dense_brick::build(config(lan, 0), pool, pairing, std::sync::Arc::default()))).await.unwrap()
}

fn config(lan: bool, port: u16) -> Config {
    let root = std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("..");
    Config {
        address: "127.0.0.1".parse().unwrap(),
        port,
        web_dir: root.join("no-such-folder"),
        demo_dir: root.join("demo"),
        backups: std::env::temp_dir().join(format!("dense-brick-backups-{}", std::process::id())),
        lan,
        trust_proxy: false,
        handle_signals: false,
    }
}

/// A server on a real socket: its port, and what ends it.
pub async fn listen(pool: PgPool) -> (u16, rocket::Shutdown) {
    listen_behind(pool, std::sync::Arc::default(), Pairing::open()).await
}

/// The same, for what comes through a gate.
pub async fn listen_behind(
    pool: PgPool,
    gate: std::sync::Arc<dense_brick::gate::Gate>,
    pairing: Pairing,
) -> (u16, rocket::Shutdown) {
    let free = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port();
    let rocket = dense_brick::build(config(true, free), pool, pairing, gate).ignite().await.unwrap();
    let stop = rocket.shutdown();
    tokio::spawn(rocket.launch());
    for _ in 0..200 {
        if tokio::net::TcpStream::connect(("127.0.0.1", free)).await.is_ok() {
            return (free, stop);
        }
        tokio::time::sleep(std::time::Duration::from_millis(20)).await;
    }
    panic!("the server does not listen");
}

pub async fn body(response: LocalResponse<'_>) -> Value {
    serde_json::from_str(&response.into_string().await.unwrap_or_default()).unwrap_or(Value::Null)
}

pub async fn post(client: &Client, path: &str, body: &Value) -> (Status, Value) {
    let response = client.post(path.to_owned()).header(ContentType::JSON).body(body.to_string()).dispatch().await;
    let status = response.status();
    (status, self::body(response).await)
}

/// Asks one question about a plan: its answer, or the problem with its status.
pub async fn ask(client: &Client, plan: &Value, question: &Value) -> (Status, Value) {
    let (status, told) = post(client, "/api/answers", &json!({"plan": plan, "questions": [question]})).await;
    if status != Status::Ok {
        return (status, told);
    }
    let reply = &told["replies"][0];
    match reply["problem"]["status"].as_u64() {
        Some(code) => (Status::new(code as u16), reply["problem"].clone()),
        None => (Status::Ok, reply["answer"]["answer"].clone()),
    }
}

/// Every refusal is a problem that says what to do, without a word of SQL or a path of the machine.
pub fn assert_problem(problem: &Value, status: Status) {
    assert_eq!(problem["status"], status.code, "{problem}");
    for word in ["select ", "insert ", "plan_revision", "/home", "/root", "sqlx", "panicked"] {
        assert!(!problem.to_string().to_lowercase().contains(word), "{problem} tells “{word}”");
    }
    assert!(!problem["detail"].as_str().unwrap_or_default().is_empty(), "{problem}");
}

/// A lot of salvaged 18650 cells.
pub fn lot(name: &str) -> Value {
    json!({"name": name, "source": "yard", "cell": {
        "offer": {"name": name}, "chemistry": "li_ion", "origin": "salvaged", "tested": false, "rated_ah": 2.5,
        "size": {"shape": "cylindrical", "diameter_mm": 18.3, "length_mm": 65.2}, "charge_a": 1.25,
        "dcir_ohm": null, "discharge_a": 5.0, "pulse_a": null, "pulse_s": null, "full_v": null, "end_v": null}})
}
