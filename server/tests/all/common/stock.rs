//! A stock to test with: lots, tables, and what is asked of them.

#![allow(dead_code, reason = "each test file uses its share of these")]

use std::time::Duration;

use rocket::http::{ContentType, Status};
use rocket::local::asynchronous::Client;
use serde_json::{Value, json};

use super::{body, lot, post};

pub async fn make_lot(client: &Client, name: &str, labels: &str) -> String {
    let (status, made) = post(client, "/api/stock/lots", &json!({"lot": lot(name), "labels": labels})).await;
    assert_eq!(status, Status::Created, "{made}");
    made["id"].as_str().unwrap().to_owned()
}

pub async fn get(client: &Client, path: &str) -> Value {
    let response = client.get(path.to_owned()).dispatch().await;
    assert_eq!(response.status(), Status::Ok, "{path}");
    body(response).await
}

pub async fn import(client: &Client, lot: &str, text: &str) -> (Status, Value) {
    let request = client.post(format!("/api/stock/import?lot={lot}&instrument=tester")).header(ContentType::Text);
    let response = request.body(text).dispatch().await;
    (response.status(), body(response).await)
}

/// A table of so many ordinary cells.
pub fn table(from: usize, count: usize) -> String {
    let mut text = "label,volts,resistance_mohm,capacity_mah\n".to_owned();
    for i in from..from + count {
        text += &format!("T{i},{},{},{}\n", 3.7 + (i % 5) as f64 * 0.002, 50 + i % 7, 2100 + (i * 37) % 240);
    }
    text
}

pub async fn ids(client: &Client, query: &str) -> Vec<(String, String)> {
    let window = get(client, &format!("/api/stock/cells?{query}")).await;
    let rows = window["rows"].as_array().unwrap().clone();
    rows.iter().map(|r| (r["label"].as_str().unwrap().to_owned(), r["id"].as_str().unwrap().to_owned())).collect()
}

/// A job as it has ended.
pub async fn ended(client: &Client, job: &Value) -> Value {
    let path = format!("/api/jobs/{}", job["id"].as_str().unwrap());
    for _ in 0..2000 {
        let state = get(client, &path).await;
        if state["stage"] != "working" {
            return state;
        }
        tokio::time::sleep(Duration::from_millis(10)).await;
    }
    panic!("the job never ended")
}
