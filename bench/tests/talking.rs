//! The simulated tester talked to over TCP, as a bridge to a real one would be.

use std::time::Duration;

use brick_bench::cell::TrueCell;
use brick_bench::protocol::{LINE_MAX, OhmsBy, Reply, Request};
use brick_bench::tester::{Tester, Trouble};
use proptest::prelude::*;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader, Lines};
use tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use tokio::net::{TcpListener, TcpStream};
use tokio::time::timeout;

/// A conversation, greeted.
struct Talk {
    read: Lines<BufReader<OwnedReadHalf>>,
    write: OwnedWriteHalf,
}

impl Talk {
    async fn with(tester: Tester) -> Talk {
        let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
        let address = listener.local_addr().unwrap();
        tokio::spawn(tester.serve(listener));
        Talk::at(address).await
    }

    async fn at(address: std::net::SocketAddr) -> Talk {
        let (read, write) = TcpStream::connect(address).await.unwrap().into_split();
        let mut talk = Talk { read: BufReader::new(read).lines(), write };
        assert!(matches!(talk.next().await, Some(Ok(Reply::Greeting { .. }))));
        talk
    }

    /// The next line; `None` when the tester hung up.
    async fn next(&mut self) -> Option<Result<Reply, String>> {
        let line =
            timeout(Duration::from_secs(5), self.read.next_line()).await.expect("the tester fell silent").unwrap()?;
        assert!(line.len() <= LINE_MAX, "{line}");
        Some(Reply::read(&line).map_err(|nonsense| nonsense.0))
    }

    async fn say(&mut self, text: &str) {
        self.write.write_all(format!("{text}\n").as_bytes()).await.unwrap();
    }

    async fn ask(&mut self, request: &Request) -> Reply {
        self.say(&request.to_string()).await;
        self.next().await.expect("an answer").expect("a line of the protocol")
    }
}

fn label(text: &str) -> String {
    text.to_owned()
}

#[tokio::test]
async fn it_measures_what_its_cells_really_are_within_its_errors() {
    let mut talk = Talk::with(Tester { seed: 3, ..Tester::default() }).await;
    for name in ["A1", "pack 3 %", "Ä-7"] {
        let cell = TrueCell::of(name, 3);
        match talk.ask(&Request::Volts { label: label(name) }).await {
            Reply::Volts { label, value_v } => {
                assert_eq!(label, name);
                assert!((value_v - cell.rested_v).abs() <= 0.0016, "{value_v} of {}", cell.rested_v);
            }
            other => panic!("{other}"),
        }
        match talk.ask(&Request::Ohms { label: label(name) }).await {
            Reply::Ohms { value_ohm, by: OhmsBy::Ac1khz, .. } => {
                assert!((cell.resistance_ohm - 1e-5..=cell.resistance_ohm * 1.46).contains(&value_ohm), "{value_ohm}");
            }
            other => panic!("{other}"),
        }
    }
}

#[tokio::test]
async fn a_capacity_test_tells_its_progress_and_ends_with_the_value() {
    let mut talk = Talk::with(Tester::default()).await;
    // An hour of the test passes in a second.
    talk.say("CAPACITY A1 8 2.8").await;
    let mut last_share = -1.0;
    loop {
        match talk.next().await.unwrap().unwrap() {
            Reply::Progress { done_share, .. } => {
                assert!(done_share > last_share && done_share <= 1.0);
                last_share = done_share;
            }
            Reply::Capacity { value_ah, .. } => {
                assert!((value_ah - TrueCell::of("A1", 1).capacity_at(8.0, 2.8)).abs() < 1e-3);
                break;
            }
            other => panic!("{other}"),
        }
    }
    assert!(last_share > 0.3, "it told nothing on the way");
}

#[tokio::test]
async fn a_capacity_test_is_stopped_and_the_next_question_answered() {
    let mut talk = Talk::with(Tester::default()).await;
    talk.say("CAPACITY A1 0.05 2.8").await;
    assert!(matches!(talk.next().await, Some(Ok(Reply::Progress { .. }))));
    talk.say("STOP").await;
    loop {
        match talk.next().await.unwrap().unwrap() {
            Reply::Progress { .. } => {}
            Reply::Stopped => break,
            other => panic!("{other}"),
        }
    }
    assert!(matches!(talk.ask(&Request::Volts { label: label("A1") }).await, Reply::Volts { .. }));
}

#[tokio::test]
async fn what_it_does_not_understand_is_a_fault_and_no_end() {
    let mut talk = Talk::with(Tester::default()).await;
    for line in ["HELLO", "CAPACITY A1 0 2.8", "", "VOLTS"] {
        talk.say(line).await;
        match talk.next().await.unwrap().unwrap() {
            Reply::Fault { label, words } => {
                assert!(label == "-" && words.contains("no line of the protocol"), "{words}")
            }
            other => panic!("{other}"),
        }
    }
    assert!(matches!(talk.ask(&Request::Ohms { label: label("A1") }).await, Reply::Ohms { .. }));
}

#[tokio::test]
async fn two_programs_talk_to_it_at_once_and_neither_disturbs_the_other() {
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let address = listener.local_addr().unwrap();
    tokio::spawn(Tester::default().serve(listener));
    let (mut one, mut other) = (Talk::at(address).await, Talk::at(address).await);
    one.say("CAPACITY A1 4 2.8").await;
    assert!(matches!(other.ask(&Request::Volts { label: label("A2") }).await, Reply::Volts { .. }));
    drop(other);
    loop {
        if let Reply::Capacity { .. } = one.next().await.expect("one was hung up on").unwrap() {
            break;
        }
    }
}

#[tokio::test]
async fn each_trouble_is_as_it_says() {
    let with = |trouble| Talk::with(Tester { trouble, ..Tester::default() });
    let mut hangs_up = with(Trouble::HangsUpAt(2)).await;
    hangs_up.ask(&Request::Volts { label: label("A1") }).await;
    hangs_up.say("VOLTS A1").await;
    assert!(hangs_up.next().await.is_none());
    let mut babbles = with(Trouble::Babbles).await;
    babbles.say("VOLTS A1").await;
    assert!(babbles.next().await.unwrap().is_err());
    assert!(matches!(babbles.next().await, Some(Ok(Reply::Volts { .. }))));
    let mut only = with(Trouble::OnlyBabbles).await;
    only.say("VOLTS A1").await;
    for _ in 0..5 {
        assert!(only.next().await.unwrap().is_err());
    }
    let mut loose = with(Trouble::NoContact).await;
    assert!(
        matches!(loose.ask(&Request::Ohms { label: label("A1") }).await, Reply::Fault { words, .. } if words == "no contact")
    );
    let mut silent = with(Trouble::SilentAt(1)).await;
    silent.say("VOLTS A1").await;
    assert!(timeout(Duration::from_millis(300), silent.read.next_line()).await.is_err());
}

proptest! {
    /// No line, however it came about, breaks the reader; what is read is written as something that reads the same.
    #[test]
    fn any_line_is_read_or_refused(line in "(VALUE |VOLTS |OHMS |CAPACITY |PROGRESS |FAULT |STOP|BRICK-TESTER 1 |AC1KHZ|\\PC| ){0,8}") {
        if let Ok(reply) = Reply::read(&line) {
            let again = Reply::read(&reply.to_string());
            prop_assert!(again.is_ok(), "{} of {line}", reply);
        }
        if let Ok(request) = Request::read(&line) {
            prop_assert_eq!(Request::read(&request.to_string()), Ok(request));
        }
    }

    /// A label of any letters survives the way there and back.
    #[test]
    fn any_label_survives(text in "[A-Za-z0-9 %#/äöü–-]{1,40}") {
        let request = Request::Volts { label: text.clone() };
        prop_assert_eq!(Request::read(&request.to_string()), Ok(request));
        let reply = Reply::Volts { label: text, value_v: 3.7 };
        prop_assert_eq!(Reply::read(&reply.to_string()), Ok(reply));
    }
}
