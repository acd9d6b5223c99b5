//! The simulated cell tester: a TCP server that measures cells which are not there.

use std::io;
use std::time::Duration;

use fastrand::Rng;
use tokio::io::{AsyncBufReadExt, AsyncWriteExt, BufReader};
use tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use tokio::net::{TcpListener, TcpStream};

use crate::cell::TrueCell;
use crate::protocol::{OhmsBy, Reply, Request};

/// Seconds of a capacity test that pass in a second of the bench: an hour.
const TIME_LAPSE: f64 = 3600.0;
/// Time between two lines of progress.
const PROGRESS_EVERY: Duration = Duration::from_millis(100);
/// Time that a reading of volts or ohms takes.
const READING_TAKES: Duration = Duration::from_millis(15);

/// How a tester goes wrong, for practice and tests.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Trouble {
    /// It does not.
    #[default]
    None,
    /// Hangs up instead of its nth answer.
    HangsUpAt(usize),
    /// Says something that is none of the protocol before every answer.
    Babbles,
    /// Never says anything that is one.
    OnlyBabbles,
    /// Falls silent instead of its nth answer.
    SilentAt(usize),
    /// Has no contact to any cell.
    NoContact,
}

/// A simulated tester.
#[derive(Debug, Clone)]
pub struct Tester {
    /// Name it greets with.
    pub name: String,
    /// Seed of the box of cells.
    pub seed: u64,
    /// How it goes wrong.
    pub trouble: Trouble,
}

impl Default for Tester {
    fn default() -> Self {
        Tester { name: "practice tester".to_owned(), seed: 1, trouble: Trouble::None }
    }
}

impl Tester {
    /// Serves whoever connects, until the listener fails.
    pub async fn serve(self, listener: TcpListener) -> io::Result<()> {
        loop {
            let (stream, _) = listener.accept().await?;
            let tester = self.clone();
            // A program that hangs up ends its own conversation only.
            tokio::spawn(async move { tester.talk(stream).await });
        }
    }

    async fn talk(self, stream: TcpStream) -> io::Result<()> {
        let (read, mut write) = stream.into_split();
        let mut lines = BufReader::new(read).lines();
        say(&mut write, &Reply::Greeting { name: self.name.clone() }).await?;
        let mut rng = Rng::with_seed(self.seed);
        let mut answers = 0;
        while let Some(line) = lines.next_line().await? {
            answers += 1;
            match self.trouble {
                Trouble::HangsUpAt(n) if answers >= n => return Ok(()),
                Trouble::SilentAt(n) if answers >= n => continue,
                Trouble::OnlyBabbles => {
                    write.write_all(b"~~ 0x7f ##\n".repeat(10).as_slice()).await?;
                    continue;
                }
                Trouble::Babbles => write.write_all(b"~~ 0x7f ##\n").await?,
                _ => {}
            }
            match Request::read(&line) {
                Ok(request) => self.answer(request, &mut write, &mut lines, &mut rng).await?,
                Err(nonsense) => {
                    say(&mut write, &Reply::Fault { label: "-".to_owned(), words: nonsense.to_string() }).await?;
                }
            }
        }
        Ok(())
    }

    async fn answer(
        &self,
        request: Request,
        write: &mut OwnedWriteHalf,
        lines: &mut tokio::io::Lines<BufReader<OwnedReadHalf>>,
        rng: &mut Rng,
    ) -> io::Result<()> {
        tokio::time::sleep(READING_TAKES).await;
        let reply = match request {
            Request::Stop => Reply::Stopped,
            Request::Volts { label } | Request::Ohms { label } | Request::Capacity { label, .. }
                if self.trouble == Trouble::NoContact =>
            {
                Reply::Fault { label, words: "no contact".to_owned() }
            }
            Request::Volts { label } => {
                let value_v = TrueCell::of(&label, self.seed).read_v(rng);
                Reply::Volts { label, value_v }
            }
            Request::Ohms { label } => {
                let value_ohm = TrueCell::of(&label, self.seed).read_ohm(rng);
                Reply::Ohms { label, value_ohm, by: OhmsBy::Ac1khz }
            }
            Request::Capacity { label, rate_a, cutoff_v } => {
                let value_ah = TrueCell::of(&label, self.seed).capacity_at(rate_a, cutoff_v);
                let takes_s = value_ah / rate_a * 3600.0 / TIME_LAPSE;
                let steps = (takes_s / PROGRESS_EVERY.as_secs_f64()).ceil().max(1.0) as u32;
                let mut stopped = false;
                for step in 0..steps {
                    let done_share = f64::from(step) / f64::from(steps);
                    say(write, &Reply::Progress { label: label.clone(), done_share }).await?;
                    tokio::select! {
                        () = tokio::time::sleep(PROGRESS_EVERY) => {}
                        line = lines.next_line() => {
                            // Whatever is said during a test ends it; only STOP should be.
                            stopped = true;
                            if line?.is_none() {
                                return Ok(());
                            }
                        }
                    }
                    if stopped {
                        break;
                    }
                }
                if stopped { Reply::Stopped } else { Reply::Capacity { label, value_ah } }
            }
        };
        say(write, &reply).await
    }
}

async fn say(write: &mut OwnedWriteHalf, reply: &Reply) -> io::Result<()> {
    write.write_all(format!("{reply}\n").as_bytes()).await
}
