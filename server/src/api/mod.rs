//! The API: one file a resource.

mod asked;
mod assess;
mod backup;
mod bill;
mod body;
mod brick;
mod brick_files;
mod demo;
mod diagram;
mod download;
pub mod grouping;
mod health;
mod jobs;
mod measure;
mod pairing;
mod parts;
mod photos;
mod plan_list;
mod plans;
mod quantity;
mod questions;
mod reference;
mod run;
mod stock;
mod tester;

use rocket::http::Status;
use rocket::{Catcher, Request, Route, catch, catchers, routes};
use utoipa::openapi::path::{Operation, ParameterIn, PathItem};
use utoipa::openapi::{Content, Ref, RefOr, ResponseBuilder};
use utoipa::{Modify, OpenApi};

use crate::Problem;

/// The API document and the routes, from one list: what answers is described, and what is described answers.
macro_rules! api {
    (paired [$($($route:ident)::+,)+] open [$($($open:ident)::+,)+]) => {
        /// The whole API as OpenAPI.
        #[derive(OpenApi)]
        #[openapi(
            info(title = "Dense Brick", description = "Plans for multi-cell lithium packs"),
            paths($($($route)::+,)+ $($($open)::+,)+),
            components(schemas(Problem)),
            modifiers(&Refusals)
        )]
        struct Api;

        /// Routes under `/api` that are there for whoever may use the program.
        pub fn routes() -> Vec<Route> {
            asked::once(routes![$($($route)::+,)+])
        }

        /// Routes under `/api` that are there for everybody: to be paired.
        pub fn open_routes() -> Vec<Route> {
            routes![$($($open)::+,)+]
        }
    };
}

api! {
    paired [
        assess::assess,
        backup::download_backup,
        backup::restore_backup,
        bill::bill_file,
        brick::edit_brick,
        brick::plan_sheet,
        brick::plan_sheets,
        brick::search_brick,
        brick_files::plan_file,
        brick_files::plan_files,
        demo::load,
        diagram::diagram_file,
        grouping::group_cells,
        grouping::reserve_cells,
        health::health,
        jobs::job,
        jobs::job_events,
        jobs::stop_job,
        measure::load_log,
        measure::reading,
        measure::recharge,
        measure::ways_to_read,
        pairing::paired_browsers,
        pairing::put_out,
        parts::add_part,
        parts::change_part,
        parts::import_parts,
        parts::listing,
        parts::parts,
        parts::parts_file,
        parts::remove_part,
        parts::restore_part,
        photos::keep_photo,
        photos::photo,
        plan_list::list,
        plans::create,
        plans::duplicate,
        plans::export,
        plans::import,
        plans::read,
        plans::remove,
        plans::restore,
        plans::revision,
        plans::revisions,
        plans::save,
        quantity::parse,
        questions::answer_questions,
        reference::reference,
        run::fit_own_cell,
        run::run_file,
        run::run_map,
        run::run_plan,
        stock::cells::cells,
        stock::cells::change_states,
        stock::cells::look_at_cell,
        stock::cells::points,
        stock::cells::stock_cell,
        stock::files::cells_file,
        stock::files::import_cells,
        stock::files::readings_file,
        stock::lots::create_lot,
        stock::lots::lot,
        stock::lots::lots,
        stock::lots::remove_lot,
        stock::lots::restore_lot,
        stock::lots::update_lot,
        stock::readings::restore_reading,
        stock::readings::strike_reading,
        stock::readings::type_readings,
        tester::measure_cells,
    ]
    open [pairing::pair,]
}

/// The refusals that any route of a kind may give, said once: what stands at each route is what it alone answers.
struct Refusals;

impl Modify for Refusals {
    fn modify(&self, document: &mut utoipa::openapi::OpenApi) {
        for path in document.paths.paths.values_mut() {
            let in_path = path.parameters.clone().unwrap_or_default();
            for operation in operations(path) {
                let parameters = operation.parameters.iter().flatten().chain(&in_path);
                let mut answers = vec![
                    ("401", "this browser is not paired"),
                    ("403", "another site, or another name of this machine"),
                    ("405", "this address is there for another method"),
                    ("503", "the database is away; nothing was changed"),
                ];
                if operation.request_body.is_some() {
                    answers.push(("400", "the body is not what it says it is"));
                    answers.push(("413", "the body is too large"));
                    answers.push(("422", "a value cannot stand; `errors` names its field"));
                }
                let parameters = parameters.filter_map(|p| if let RefOr::T(p) = p { Some(p) } else { None });
                for parameter in parameters {
                    match parameter.parameter_in {
                        ParameterIn::Path => {
                            answers.push(("404", "there is no such thing"));
                            answers.push(("422", "a part of the address has the wrong form"));
                        }
                        _ => answers.push(("422", "a value cannot stand; `errors` names its field")),
                    }
                }
                for (status, words) in answers {
                    let unsaid = || RefOr::T(ResponseBuilder::new().description(words).build());
                    operation.responses.responses.entry(status.to_owned()).or_insert_with(unsaid);
                }
                for (status, answer) in &mut operation.responses.responses {
                    if let RefOr::T(answer) = answer
                        && status.starts_with(['4', '5'])
                    {
                        let problem = RefOr::T(Content::new(Some(Ref::from_schema_name("Problem"))));
                        answer.content = [("application/problem+json".to_owned(), problem)].into_iter().collect();
                    }
                }
            }
        }
    }
}

fn operations(path: &mut PathItem) -> impl Iterator<Item = &mut Operation> {
    [&mut path.get, &mut path.put, &mut path.post, &mut path.delete].into_iter().flatten()
}

/// The OpenAPI document as text, ending in a newline.
pub fn openapi() -> anyhow::Result<String> {
    Ok(Api::openapi().to_pretty_json()? + "\n")
}

/// Catchers under `/api`.
pub fn catchers() -> Vec<Catcher> {
    catchers![refused]
}

/// Whether some route has this address, for another method.
fn is_known(request: &Request<'_>) -> bool {
    let asked: Vec<&str> = request.uri().path().segments().collect();
    request.rocket().routes().filter(|route| route.uri.base() == "/api").any(|route| {
        let known: Vec<&str> = route.uri.path().split('/').filter(|piece| !piece.is_empty()).collect();
        known.len() == asked.len() && known.iter().zip(&asked).all(|(k, a)| k.starts_with('<') || k == a)
    })
}

/// Whatever no route answered, as a problem.
#[catch(default)]
fn refused(status: Status, request: &Request<'_>) -> Problem {
    match status.code {
        404 if is_known(request) => {
            Problem::new(Status::MethodNotAllowed, "Not allowed", "This address of the API is not used that way.")
        }
        404 => Problem::new(status, "Not found", "There is nothing at this address of the API."),
        422 => {
            Problem::new(status, "Unusable address", "A part of this address has the wrong form, for example an id.")
        }
        500 => Problem::fault(&format!("a route failed at {} {}", request.method(), request.uri().path())),
        _ => Problem::new(status, status.reason_lossy(), "The request cannot be answered as it is."),
    }
}
