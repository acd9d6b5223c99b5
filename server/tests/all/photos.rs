//! Photographs over the API: three formats in, one out; what is no picture stays out; they travel with a backup.

use crate::common;

use std::io::Cursor;

use common::{assert_problem, body, client, post};
use dense_brick::store;
use image::{ImageFormat, Rgb, RgbImage};
use rocket::http::{ContentType, Status};
use serde_json::json;
use sqlx::PgPool;

fn picture(format: ImageFormat) -> Vec<u8> {
    let mut file = Cursor::new(vec![]);
    let wires = |x, _| if x % 32 < 16 { Rgb([180, 60, 40]) } else { Rgb([30, 30, 30]) };
    RgbImage::from_fn(320, 200, wires).write_to(&mut file, format).unwrap();
    file.into_inner()
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn each_format_is_kept_and_given_out_as_a_jpeg_under_its_hash(pool: PgPool) {
    let client = client(pool.clone()).await;
    for format in [ImageFormat::Png, ImageFormat::Jpeg, ImageFormat::WebP] {
        let response = client.post("/api/photos").body(picture(format)).dispatch().await;
        assert_eq!(response.status(), Status::Created, "{format:?}");
        let kept = body(response).await;
        assert_eq!((&kept["width_px"], &kept["height_px"]), (&json!(320), &json!(200)));
        let response = client.get(format!("/api/photos/{}", kept["sha256"].as_str().unwrap())).dispatch().await;
        assert_eq!((response.status(), response.content_type()), (Status::Ok, Some(ContentType::JPEG)));
        assert!(response.headers().get_one("Cache-Control").unwrap().contains("immutable"));
        let jpeg = response.into_bytes().await.unwrap();
        let seen = image::load_from_memory_with_format(&jpeg, ImageFormat::Jpeg).unwrap().to_rgb8();
        assert!(seen.get_pixel(8, 100).0[0] > 150 && seen.get_pixel(24, 100).0[0] < 60, "{format:?}");
    }
    // The same file twice is one photograph.
    client.post("/api/photos").body(picture(ImageFormat::Png)).dispatch().await;
    client.post("/api/photos").body(picture(ImageFormat::Png)).dispatch().await;
    let count: i64 = sqlx::query_scalar("select count(*) from photo").fetch_one(&pool).await.unwrap();
    assert!((1..=3).contains(&count), "{count}");
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn what_is_no_picture_is_refused_and_nothing_is_kept(pool: PgPool) {
    let client = client(pool.clone()).await;
    let png = picture(ImageFormat::Png);
    let cut = png[..png.len() - 40].to_vec();
    for (file, told) in
        [(b"a note called photo.png".to_vec(), "not a PNG, JPEG or WebP"), (vec![], "not a PNG"), (cut, "damaged")]
    {
        let response = client.post("/api/photos").body(file).dispatch().await;
        assert_eq!(response.status(), Status::UnprocessableEntity, "{told}");
        let problem = body(response).await;
        assert_problem(&problem, Status::UnprocessableEntity);
        assert!(problem["detail"].as_str().unwrap().contains(told), "{problem}");
    }
    let large = client.post("/api/photos").body(vec![0; 16 * 1024 * 1024 + 1]).dispatch().await;
    assert_eq!(large.status(), Status::PayloadTooLarge);
    let problem = body(large).await;
    assert!(problem["detail"].as_str().unwrap().contains("16 MiB"), "{problem}");
    let count: i64 = sqlx::query_scalar("select count(*) from photo").fetch_one(&pool).await.unwrap();
    assert_eq!(count, 0);
    for name in ["0".repeat(64), "..%2F..%2Fetc%2Fpasswd".to_owned(), "none".to_owned()] {
        let response = client.get(format!("/api/photos/{name}")).dispatch().await;
        assert_eq!(response.status(), Status::NotFound, "{name}");
        assert_problem(&body(response).await, Status::NotFound);
    }
}

#[sqlx::test(migrator = "store::MIGRATOR")]
async fn a_photograph_travels_with_the_backup_and_its_name_with_the_plan(pool: PgPool) {
    let client = client(pool.clone()).await;
    let kept = body(client.post("/api/photos").body(picture(ImageFormat::WebP)).dispatch().await).await;
    let sha256 = kept["sha256"].as_str().unwrap().to_owned();
    let (_, made) = post(&client, "/api/plans", &json!({"name": "Kite reel", "job": "motor_tool"})).await;
    let mut plan = made["plan"].clone();
    plan["device"]["photos"] = json!([{"sha256": sha256, "shows": "battery plug", "step": "connector"}]);
    let path = format!("/api/plans/{}", made["id"].as_str().unwrap());
    let save = json!({"revision": made["revision"], "edit": made["edit"], "plan": plan, "apart": false});
    let response = client.put(&path).header(ContentType::JSON).body(save.to_string()).dispatch().await;
    assert_eq!(response.status(), Status::Ok, "{:?}", response.into_string().await);
    let text = client.get("/api/backup").dispatch().await.into_string().await.unwrap();

    sqlx::query("delete from photo").execute(&pool).await.unwrap();
    assert_eq!(client.get(format!("/api/photos/{sha256}")).dispatch().await.status(), Status::NotFound);
    assert_eq!(client.post("/api/restore").body(text.clone()).dispatch().await.status(), Status::Ok);
    assert_eq!(client.get(format!("/api/photos/{sha256}")).dispatch().await.status(), Status::Ok);
    let again = body(client.get(&path).dispatch().await).await;
    assert_eq!(again["plan"]["device"]["photos"][0]["shows"], "battery plug");

    // A picture that is not the one its name says is refused with the whole backup.
    let forged = crate::backup::first_version(&text, |w| w["tables"]["photo"][0]["sha256"] = json!("0".repeat(64)));
    let response = client.post("/api/restore").body(forged).dispatch().await;
    assert_eq!(response.status(), Status::UnprocessableEntity);
    assert!(body(response).await["detail"].as_str().unwrap().contains("photo named by its hash"));
}
