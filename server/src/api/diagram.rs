//! The wiring diagram of a saved plan as an A4 page.

use brick_core::plan::FieldError;
use brick_core::print::diagram::{Condition, Held, Shown, diagram, svg};
use rocket::http::Status;
use rocket::{FromForm, State, get};
use serde::de::DeserializeOwned;
use sqlx::PgPool;
use utoipa::IntoParams;
use uuid::Uuid;

use crate::api::http::asked::{Asked, given};
use crate::api::http::download::{Svg, file_stem};
use crate::work::work;
use crate::{Problem, store};

/// What the page is to show.
#[derive(Debug, FromForm, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct DiagramQuery {
    /// The condition, as `Condition` names it; at rest without it.
    condition: Option<String>,
    /// What the cells hold, as `Held` names it; full without it.
    held: Option<String>,
    /// Whether a second pack is set in series with the first.
    #[param(value_type = Option<bool>)]
    in_series: Option<Asked<bool>>,
}

/// The diagram of a saved plan as an A4 page in SVG, with what the meter should show.
#[utoipa::path(context_path = "/api", params(("id" = Uuid, Path), DiagramQuery),
    responses((status = 200, description = "SVG", body = String, content_type = "image/svg+xml"),
        (status = 404, body = Problem), (status = 409, body = Problem), (status = 422, body = Problem)))]
#[get("/plans/<id>/diagram-file?<query..>")]
pub async fn draw_diagram(id: Uuid, query: DiagramQuery, pool: &State<PgPool>) -> Result<Svg, Problem> {
    let shown = Shown {
        condition: named::<Condition>("/condition", query.condition)?,
        held: named::<Held>("/held", query.held)?,
        in_series: given("in_series", query.in_series, "true or false")?,
    };
    let plan = store::plans::get(pool, id).await?.ok_or_else(|| Problem::not_found("plan"))?.document.0;
    let name = format!("{}-wiring.svg", file_stem(&plan.name));
    let drawn = work(move || diagram(&plan, shown)).await?.ok_or_else(|| {
        let why = "Choose the chemistry and the series count first.";
        Problem::new(Status::Conflict, "There is no diagram yet", why)
    })?;
    Ok(Svg { name, text: svg(&drawn) })
}

/// A word of a list; absent is the usual one.
fn named<T: DeserializeOwned + Default>(field: &str, word: Option<String>) -> Result<T, Problem> {
    let Some(word) = word else { return Ok(T::default()) };
    serde_json::from_value(word.into()).map_err(|e| {
        let field = field.to_owned();
        Problem::fields(vec![FieldError { field, message: e.to_string() }])
    })
}
