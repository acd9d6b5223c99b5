//! Measuring cells on a tester: a conversation over TCP, its readings kept one by one.

use std::net::SocketAddr;
use std::time::Duration;

use brick_bench::protocol::{LINE_MAX, OhmsBy, Reply, Request};
use brick_bench::tester::Tester;
use brick_core::stock::{Conditions, Kind, Method, TestReading};
use chrono::Utc;
use rocket::tokio::io::{AsyncBufReadExt, AsyncReadExt, AsyncWriteExt, BufReader};
use rocket::tokio::net::tcp::{OwnedReadHalf, OwnedWriteHalf};
use rocket::tokio::net::{TcpListener, TcpStream};
use rocket::tokio::sync::OnceCell;
use rocket::tokio::time::timeout;
use sqlx::PgPool;
use thiserror::Error;
use uuid::Uuid;

use crate::jobs::Job;
use crate::store::stock::{NewReading, StockError, add_readings};

/// How long a tester may take to answer at all, and between two signs of life.
const CONNECT_WITHIN: Duration = Duration::from_secs(3);
const ANSWER_WITHIN: Duration = Duration::from_secs(8);
/// Lines of nonsense in a row after which the tester is given up.
const NONSENSE_MAX: usize = 5;

/// A cell to be measured.
#[derive(Debug, Clone)]
pub struct Subject {
    /// Id in the stock.
    pub id: Uuid,
    /// Label.
    pub label: String,
}

/// What is to be measured.
#[derive(Debug, Clone)]
pub struct Program {
    /// Cell by cell.
    pub cells: Vec<Subject>,
    /// Voltage once.
    pub volts: bool,
    /// Resistance so many times; 0 is not at all.
    pub ohms_times: u32,
    /// Capacity, at a current and down to a cut-off.
    pub capacity: Option<(f64, f64)>,
}

/// Why measuring ended early. What was read before is kept.
#[derive(Debug, Error)]
pub enum TesterError {
    /// No one there.
    #[error("nothing answers at {0}: is the tester's bridge running, and is that its port?")]
    NobodyThere(SocketAddr),
    /// Something else answers.
    #[error("what answers at {0} is no cell tester: it said “{1}”")]
    NotATester(SocketAddr, String),
    /// It hung up.
    #[error("the tester hung up {0}")]
    HungUp(String),
    /// It fell silent.
    #[error("the tester said nothing for 8 s {0}")]
    Silent(String),
    /// It says nothing that is one of the protocol's lines.
    #[error("the tester said {NONSENSE_MAX} lines in a row that mean nothing {0}; the last was “{1}”")]
    Nonsense(String, String),
    /// Someone ended it.
    #[error("ended")]
    Ended,
    /// A reading could not be kept.
    #[error(transparent)]
    Stock(#[from] StockError),
}

/// The simulated tester of this program, started when it is first wanted.
#[derive(Debug, Default)]
pub struct Practice(OnceCell<SocketAddr>);

impl Practice {
    /// Its address on loopback.
    pub async fn address(&self) -> std::io::Result<SocketAddr> {
        let started = self.0.get_or_try_init(async || {
            let listener = TcpListener::bind(("127.0.0.1", 0)).await?;
            let address = listener.local_addr()?;
            rocket::tokio::spawn(Tester::default().serve(listener));
            Ok(address)
        });
        started.await.copied()
    }
}

/// A conversation.
struct Line {
    read: BufReader<OwnedReadHalf>,
    write: OwnedWriteHalf,
    name: String,
}

impl Line {
    async fn open(address: SocketAddr) -> Result<Line, TesterError> {
        let stream = timeout(CONNECT_WITHIN, TcpStream::connect(address)).await;
        let Ok(Ok(stream)) = stream else { return Err(TesterError::NobodyThere(address)) };
        let (read, write) = stream.into_split();
        let mut line = Line { read: BufReader::new(read), write, name: String::new() };
        let first = line.next("before it greeted").await?;
        match Reply::read(&first) {
            Ok(Reply::Greeting { name }) => line.name = name,
            _ => {
                return Err(TesterError::NotATester(
                    address,
                    first.chars().filter(|c| !c.is_control()).take(60).collect(),
                ));
            }
        }
        Ok(line)
    }

    /// The next line, at most so long; a longer one counts as many.
    async fn next(&mut self, during: &str) -> Result<String, TesterError> {
        let mut bytes = vec![];
        let mut limited = (&mut self.read).take(LINE_MAX as u64);
        match timeout(ANSWER_WITHIN, limited.read_until(b'\n', &mut bytes)).await {
            Err(_) => Err(TesterError::Silent(during.to_owned())),
            Ok(Err(_) | Ok(0)) => Err(TesterError::HungUp(during.to_owned())),
            Ok(Ok(_)) => Ok(String::from_utf8_lossy(&bytes).trim_end().to_owned()),
        }
    }

    async fn ask(&mut self, request: &Request, during: &str) -> Result<(), TesterError> {
        let text = format!("{request}\n");
        self.write.write_all(text.as_bytes()).await.map_err(|_| TesterError::HungUp(during.to_owned()))
    }

    /// Asks, and waits for the answer about that cell. `None` where the tester says that it cannot measure it.
    async fn measure(
        &mut self,
        job: &Job,
        request: &Request,
        label: &str,
        from: f64,
        width: f64,
    ) -> Result<Option<Reply>, TesterError> {
        let during = format!("while measuring {label}");
        self.ask(request, &during).await?;
        let mut nonsense = 0;
        let mut stopping = false;
        loop {
            if job.is_stopped() && !stopping {
                // A capacity test takes hours: it is told to end. The others are over in a moment.
                stopping = true;
                self.ask(&Request::Stop, &during).await?;
            }
            let text = self.next(&during).await?;
            match Reply::read(&text) {
                Ok(Reply::Progress { label: of, done_share }) if of == label => {
                    nonsense = 0;
                    job.doing(
                        from + width * done_share,
                        &format!("{label}: {:.0} % of its capacity test", done_share * 100.0),
                    );
                }
                Ok(Reply::Stopped) if stopping => return Err(TesterError::Ended),
                Ok(Reply::Fault { label: of, words }) if of == label || of == "-" => {
                    job.line(format!("{label}: the tester says “{words}”"));
                    return Ok(None);
                }
                Ok(reply) if answers(request, &reply, label) => return Ok(Some(reply)),
                _ => {
                    nonsense += 1;
                    let said: String = text.chars().filter(|c| !c.is_control()).take(60).collect();
                    job.line(format!("{label}: not understood: “{said}”"));
                    if nonsense >= NONSENSE_MAX {
                        return Err(TesterError::Nonsense(during, said));
                    }
                }
            }
        }
    }
}

/// Whether a reply answers a request about that cell.
fn answers(request: &Request, reply: &Reply, label: &str) -> bool {
    match (request, reply) {
        (Request::Volts { .. }, Reply::Volts { label: of, .. })
        | (Request::Ohms { .. }, Reply::Ohms { label: of, .. })
        | (Request::Capacity { .. }, Reply::Capacity { label: of, .. }) => of == label,
        _ => false,
    }
}

/// Measures cell by cell and keeps every reading as it comes. Tells how many were kept, whatever happens.
pub async fn run(job: &Job, pool: &PgPool, address: SocketAddr, program: &Program) -> (usize, Result<(), TesterError>) {
    let mut kept = 0;
    let result = measure_all(job, pool, address, program, &mut kept).await;
    (kept, result)
}

async fn measure_all(
    job: &Job,
    pool: &PgPool,
    address: SocketAddr,
    program: &Program,
    kept: &mut usize,
) -> Result<(), TesterError> {
    let mut line = Line::open(address).await?;
    job.line(format!("{} answers at {address}", line.name));
    let each = 1.0 / program.cells.len().max(1) as f64;
    for (i, cell) in program.cells.iter().enumerate() {
        let begin = i as f64 * each;
        let mut requests = vec![];
        let label = || cell.label.clone();
        if program.volts {
            requests.push(Request::Volts { label: label() });
        }
        requests.extend((0..program.ohms_times).map(|_| Request::Ohms { label: label() }));
        if let Some((rate_a, cutoff_v)) = program.capacity {
            requests.push(Request::Capacity { label: label(), rate_a, cutoff_v });
        }
        let width = each / requests.len().max(1) as f64;
        let mut readings = vec![];
        for (k, request) in requests.iter().enumerate() {
            if job.is_stopped() {
                return Err(TesterError::Ended);
            }
            let at = begin + k as f64 * width;
            job.doing(at, &format!("measuring {}", cell.label));
            match line.measure(job, request, &cell.label, at, width).await? {
                Some(reply) => match reading(&line.name, request, &reply) {
                    Ok(reading) => readings.push(NewReading { cell: cell.id, reading }),
                    Err(why) => job.line(format!("{}: {why}; not kept", cell.label)),
                },
                None => break,
            }
        }
        if !readings.is_empty() {
            add_readings(pool, None, &readings).await?;
            *kept += readings.len();
            job.line(format!("{}: {} readings", cell.label, readings.len()));
        }
    }
    // A tester that hangs up now has done all it was asked.
    let _ = line.ask(&Request::Stop, "at the end").await;
    Ok(())
}

/// A reply as a reading; refused outside the range of its kind.
fn reading(instrument: &str, request: &Request, reply: &Reply) -> Result<TestReading, String> {
    let mut conditions = Conditions { instrument: instrument.to_owned(), ..Conditions::default() };
    let (kind, value) = match (request, reply) {
        (Request::Capacity { rate_a, cutoff_v, .. }, Reply::Capacity { value_ah, .. }) => {
            conditions.rate_a = Some(*rate_a);
            conditions.cutoff_v = Some(*cutoff_v);
            (Kind::CapacityAh, *value_ah)
        }
        (_, Reply::Ohms { value_ohm, by, .. }) => {
            conditions.method = Some(match by {
                OhmsBy::Ac1khz => Method::Ac1khz,
                OhmsBy::DcPulse => Method::DcPulse,
            });
            (Kind::ResistanceOhm, *value_ohm)
        }
        (_, Reply::Volts { value_v, .. }) => (Kind::ArrivalV, *value_v),
        _ => return Err("an answer to another question".to_owned()),
    };
    kind.range().check(value).map_err(|e| e.to_string())?;
    Ok(TestReading { kind, value, conditions, taken_s: Utc::now().timestamp() })
}
