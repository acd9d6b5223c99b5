//! Measuring: logs of a load, the error of a reading, ways to read a current.

use brick_core::base::quantity::Unit;
use brick_core::base::range;
use brick_core::base::table::LineError;
use brick_core::physics::bench::{MeanDraw, Recharge, Way, mean_draw, ways};
use brick_core::physics::device::{levels, log};
use brick_core::physics::meters::{Judged, judge};
use brick_core::plan::{FieldError, Meter};
use rocket::data::ToByteUnit;
use rocket::serde::json::Json;
use rocket::{Data, FromForm, post};
use serde::Deserialize;
use utoipa::{IntoParams, ToSchema};

use crate::Problem;
use crate::api::http::asked::{Asked, given};
use crate::api::http::body::{Body, read_text};
use crate::work::work;

/// Largest log that is taken.
const LOG_MIB: u64 = 8;

/// What is known of a log besides its text.
#[derive(Debug, FromForm, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LogQuery {
    /// Time from line to line, where there is no column of times.
    #[param(value_type = Option<f64>)]
    interval_s: Option<Asked<f64>>,
    /// End of the meter's range.
    #[param(value_type = Option<f64>)]
    range_a: Option<Asked<f64>>,
    /// Name of the meter.
    meter: Option<String>,
}

/// Find the levels in a series of ammeter readings; every bad line is told, and nothing is half taken.
#[utoipa::path(context_path = "/api", params(LogQuery), request_body(content = String, content_type = "text/plain"),
    responses((status = 200, body = levels::LoadReading), (status = 422, body = Problem)))]
#[post("/load-log?<query..>", data = "<data>")]
pub async fn read_load_log(query: LogQuery, data: Data<'_>) -> Result<Json<levels::LoadReading>, Problem> {
    let interval_s = given("interval_s", query.interval_s, "a number of seconds")?;
    let range_a = given("range_a", query.range_a, "a number of amperes")?;
    check("/interval_s", interval_s, &range::DURATION)?;
    check("/range_a", range_a, &range::CURRENT)?;
    let text = read_text(data, LOG_MIB.mebibytes()).await?;
    let found = work(move || {
        let log = log::read(&text, interval_s).map_err(|errors| {
            let told = |e: LineError| FieldError {
                field: format!("/text/{}", e.line),
                message: format!("line {}: {}", e.line, e.reason),
            };
            Problem::fields(errors.into_iter().map(told).collect())
        })?;
        Ok::<_, Problem>(levels::find(&log, range_a, query.meter.as_deref()))
    });
    found.await.map(Json)
}

fn check(field: &str, value: Option<f64>, range: &range::Range) -> Result<(), Problem> {
    let error = value.and_then(|value| range.check(value).err());
    error.map_or(Ok(()), |e| Err(Problem::fields(vec![FieldError { field: field.to_owned(), message: e.to_string() }])))
}

/// A reading and the meter it was read on.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadingRequest {
    /// The meter.
    meter: Meter,
    /// As read, in the unit of core.
    reading: f64,
    /// What the field needs.
    unit: Unit,
}

/// The error that a meter leaves on a reading; refused beyond its range, or when it reads something else.
#[utoipa::path(context_path = "/api", request_body = ReadingRequest,
    responses((status = 200, body = Judged), (status = 422, body = Problem)))]
#[post("/reading", data = "<request>")]
pub fn judge_reading(request: Result<Body<ReadingRequest>, Problem>) -> Result<Json<Judged>, Problem> {
    let ReadingRequest { meter, reading, unit } = request?.0;
    let refuse = |e: brick_core::physics::meters::ReadingError| {
        Problem::fields(vec![FieldError { field: "/reading".to_owned(), message: e.to_string() }])
    };
    judge(&meter, reading, unit).map(Json).map_err(refuse)
}

/// The meters at hand and a current that is to be read.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WaysRequest {
    /// The meters.
    meters: Vec<Meter>,
    /// About how much flows.
    current_a: f64,
    /// Voltage it flows at, where they are known.
    pack_v: Option<f64>,
}

/// Ways to read a current with the meters at hand, the most exact first.
#[utoipa::path(context_path = "/api", request_body = WaysRequest,
    responses((status = 200, body = Vec<Way>), (status = 422, body = Problem)))]
#[post("/ways", data = "<request>")]
pub fn find_ways_to_read(request: Result<Body<WaysRequest>, Problem>) -> Result<Json<Vec<Way>>, Problem> {
    let WaysRequest { meters, current_a, pack_v } = request?.0;
    check("/current_a", Some(current_a), &range::CURRENT)?;
    check("/pack_v", pack_v, &range::DEVICE_VOLTS)?;
    Ok(Json(ways(&meters, current_a, pack_v)))
}

/// What a run drew on the mean, from what the recharge after it put back.
#[utoipa::path(context_path = "/api", request_body = Recharge,
    responses((status = 200, body = MeanDraw), (status = 422, body = Problem)))]
#[post("/recharge", data = "<request>")]
pub fn find_mean_draw(request: Result<Body<Recharge>, Problem>) -> Result<Json<MeanDraw>, Problem> {
    mean_draw(&request?.0).map(Json).map_err(Problem::fields)
}
