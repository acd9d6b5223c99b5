//! What a service manager is told.

use std::os::unix::net::UnixDatagram;
use std::process::{Command, Stdio};
use std::time::Duration;

use sqlx::PgPool;

/// sd_notify(3): a datagram to the socket that the environment names. It comes once the address answers.
#[sqlx::test(migrations = false)]
async fn the_service_manager_is_told_when_the_address_answers(pool: PgPool) {
    let folder = tempfile::tempdir().unwrap();
    let at = folder.path().join("notify");
    let manager = UnixDatagram::bind(&at).unwrap();
    manager.set_read_timeout(Some(Duration::from_secs(60))).unwrap();
    let name: String = sqlx::query_scalar("select current_database()").fetch_one(&pool).await.unwrap();
    let url = std::env::var("DATABASE_URL").unwrap();
    let (server, _) = url.rsplit_once('/').unwrap();
    let port = std::net::TcpListener::bind("127.0.0.1:0").unwrap().local_addr().unwrap().port();
    let mut program = Command::new(env!("CARGO_BIN_EXE_dense-brick"))
        .args(["serve", "--port", &port.to_string()])
        .arg("--backups")
        .arg(folder.path().join("backups"))
        .arg("--logs")
        .arg(folder.path().join("logs"))
        .env("DATABASE_URL", format!("{server}/{name}"))
        .env("NOTIFY_SOCKET", &at)
        .stdout(Stdio::null())
        .spawn()
        .unwrap();
    let mut said = [0; 64];
    let told = manager.recv(&mut said);
    let answers = std::net::TcpStream::connect(("127.0.0.1", port));
    program.kill().unwrap();
    program.wait().unwrap();
    assert_eq!(String::from_utf8_lossy(&said[..told.unwrap()]).trim(), "READY=1");
    answers.unwrap();
}
