//! Measuring cells of the stock on a tester.

use std::net::{IpAddr, SocketAddr};

use brick_core::base::range::{CELL_VOLTS, CURRENT};
use brick_core::plan::FieldError;
use rocket::http::Status;
use rocket::serde::json::Json;
use rocket::{State, post};
use serde::Deserialize;
use sqlx::PgPool;
use utoipa::ToSchema;
use uuid::Uuid;

use crate::Problem;
use crate::api::http::body::Body;
use crate::jobs::{JobStage, JobState, Jobs};
use crate::store::stock as store;
use crate::tester::{Practice, Program, Subject, TesterError, run};

/// Most cells of one run, and most repeats of a resistance.
const CELLS_MAX: usize = 500;
const TIMES_MAX: u32 = 10;

/// What is to be measured, and on which tester.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct TesterRun {
    /// Address of a tester's bridge on this machine, as 127.0.0.1:7070; the simulated one if absent.
    address: Option<String>,
    /// The cells, in this order.
    cells: Vec<Uuid>,
    /// Voltage as they came.
    volts: bool,
    /// Resistance so many times; 0 is not at all.
    ohms_times: u32,
    /// Current of a capacity test; none if absent.
    rate_a: Option<f64>,
    /// Voltage down to which it goes.
    cutoff_v: Option<f64>,
}

/// An address on this machine: what a tester says must not come from anywhere else.
fn loopback(text: &str) -> Option<SocketAddr> {
    let plain = text.trim().replace("localhost", "127.0.0.1");
    plain.parse::<SocketAddr>().ok().filter(|a| match a.ip() {
        IpAddr::V4(ip) => ip.is_loopback(),
        IpAddr::V6(ip) => ip.is_loopback(),
    })
}

/// Measure cells on a tester: a job; every reading is kept as it comes.
#[utoipa::path(context_path = "/api", request_body = TesterRun,
    responses((status = 202, body = JobState), (status = 404, body = Problem), (status = 422, body = Problem),
        (status = 429, body = Problem)))]
#[post("/tester/runs", data = "<wanted>")]
pub async fn measure_cells(
    wanted: Result<Body<TesterRun>, Problem>,
    pool: &State<PgPool>,
    jobs: &State<Jobs>,
    practice: &State<Practice>,
) -> Result<(Status, Json<JobState>), Problem> {
    let wanted = wanted?.0;
    let mut errors = vec![];
    let mut refuse = |field: &str, message: String| errors.push(FieldError { field: field.to_owned(), message });
    if wanted.cells.is_empty() || wanted.cells.len() > CELLS_MAX {
        refuse("/cells", format!("1 to {CELLS_MAX} cells at once"));
    }
    if wanted.ohms_times > TIMES_MAX {
        refuse("/ohms_times", format!("0 to {TIMES_MAX} times"));
    }
    if let Some(Err(e)) = wanted.rate_a.map(|a| CURRENT.check(a)) {
        refuse("/rate_a", e.to_string());
    }
    match (wanted.rate_a, wanted.cutoff_v) {
        (Some(_), None) => refuse("/cutoff_v", "say down to which voltage the capacity is tested".to_owned()),
        (_, Some(v)) => {
            if let Err(e) = CELL_VOLTS.check(v) {
                refuse("/cutoff_v", e.to_string());
            }
        }
        _ => {}
    }
    if !wanted.volts && wanted.ohms_times == 0 && wanted.rate_a.is_none() {
        refuse("/volts", "choose something to measure".to_owned());
    }
    let address = match wanted.address.as_deref().map(loopback) {
        None => practice.address().await.map_err(|e| Problem::fault(&e))?,
        Some(Some(address)) => address,
        Some(None) => {
            refuse("/address", "an address of this machine with its port, as 127.0.0.1:7070".to_owned());
            SocketAddr::from(([127, 0, 0, 1], 0))
        }
    };
    if !errors.is_empty() {
        return Err(Problem::fields(errors));
    }
    let found = store::chosen(pool, &wanted.cells).await?;
    let label = |id: &Uuid| found.iter().find(|c| c.id == *id).map(|c| Subject { id: *id, label: c.label.clone() });
    let cells: Vec<Subject> =
        wanted.cells.iter().map(label).collect::<Option<_>>().ok_or_else(|| Problem::not_found("cell"))?;
    let capacity = wanted.rate_a.zip(wanted.cutoff_v);
    let program = Program { cells, volts: wanted.volts, ohms_times: wanted.ohms_times, capacity };
    let job = jobs.open("connecting")?;
    let state = job.state();
    let pool = pool.inner().clone();
    let told_of = job.clone();
    let task = rocket::tokio::spawn(async move {
        let (kept, result) = run(&job, &pool, address, &program).await;
        let told = format!("{kept} readings are kept.");
        match result {
            Ok(()) => job.end(JobStage::Done, |s| s.doing = told),
            Err(TesterError::Ended) => job.end(JobStage::Stopped, |s| s.doing = told),
            Err(error) => {
                let problem = Problem::new(Status::BadGateway, "Measuring ended early", format!("{error}. {told}"));
                job.end(JobStage::Failed, |s| {
                    s.doing = told;
                    s.problem = Some(problem);
                });
            }
        }
    });
    told_of.ends_with(task);
    Ok((Status::Accepted, Json(state)))
}

#[cfg(test)]
mod tests {
    use super::loopback;

    #[test]
    fn only_addresses_of_this_machine_are_taken() {
        for text in ["127.0.0.1:7070", "localhost:7070", "[::1]:7070", " 127.0.0.2:80 "] {
            assert!(loopback(text).is_some(), "{text}");
        }
        for text in ["192.168.1.5:7070", "0.0.0.0:7070", "127.0.0.1", "example:7070", "", "localhost.example:7070"] {
            assert!(loopback(text).is_none(), "{text}");
        }
    }
}
