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

/// The whole API as OpenAPI.
#[derive(OpenApi)]
#[openapi(
    info(title = "Dense Brick", description = "Plans for multi-cell lithium packs"),
    paths(
        assess::assess,
        assess::coordination,
        assess::arrivals,
        assess::balance_groups,
        assess::charge_of_pack,
        assess::later_on,
        bill::bill_of,
        bill::bill_file,
        assess::places_of_board,
        assess::raise_current,
        assess::voltage_options,
        assess::suggest,
        assess::fixes,
        backup::download_backup,
        backup::restore_backup,
        brick::brick_arrangements,
        brick::brick_drawing,
        brick::edit_brick,
        brick::search_brick,
        brick::plan_sheets,
        brick::plan_sheet,
        brick::brick_network,
        brick_files::plan_files,
        brick_files::plan_file,
        demo::load,
        diagram::diagram_of,
        diagram::diagram_file,
        grouping::group_cells,
        grouping::reserve_cells,
        jobs::job,
        jobs::job_events,
        jobs::stop_job,
        health::health,
        measure::load_log,
        measure::proving,
        measure::reading,
        measure::recharge,
        measure::set_up,
        measure::ways_to_read,
        parts::parts,
        parts::add_part,
        parts::change_part,
        parts::remove_part,
        parts::restore_part,
        parts::parts_file,
        parts::import_parts,
        parts::listing,
        photos::keep_photo,
        photos::photo,
        plan_list::list,
        plans::import,
        plans::duplicate,
        plans::export,
        plans::revisions,
        plans::revision,
        plans::create,
        plans::read,
        plans::save,
        plans::remove,
        plans::restore,
        pairing::pair,
        pairing::paired_browsers,
        pairing::put_out,
        quantity::parse,
        reference::reference,
        run::run_plan,
        run::fill_pack,
        run::run_map,
        run::run_file,
        run::fit_own_cell,
        stock::cells::cells,
        stock::files::cells_file,
        stock::cells::change_states,
        stock::lots::create_lot,
        stock::files::import_cells,
        stock::cells::look_at_cell,
        stock::lots::lot,
        stock::lots::lots,
        stock::cells::points,
        stock::files::readings_file,
        stock::lots::remove_lot,
        stock::lots::restore_lot,
        stock::readings::restore_reading,
        stock::cells::stock_cell,
        stock::readings::strike_reading,
        stock::readings::type_readings,
        stock::lots::update_lot,
        tester::measure_cells,
    ),
    components(schemas(Problem)),
    modifiers(&Refusals)
)]
struct Api;

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

/// Routes under `/api` that are there for whoever may use the program.
pub fn routes() -> Vec<Route> {
    asked::once(all())
}

fn all() -> Vec<Route> {
    routes![
        assess::assess,
        assess::coordination,
        assess::arrivals,
        assess::balance_groups,
        assess::charge_of_pack,
        assess::later_on,
        bill::bill_of,
        bill::bill_file,
        assess::places_of_board,
        assess::raise_current,
        assess::voltage_options,
        assess::suggest,
        assess::fixes,
        backup::download_backup,
        backup::restore_backup,
        brick::brick_arrangements,
        brick::brick_drawing,
        brick::edit_brick,
        brick::search_brick,
        brick::plan_sheets,
        brick::plan_sheet,
        brick::brick_network,
        brick_files::plan_files,
        brick_files::plan_file,
        demo::load,
        diagram::diagram_of,
        diagram::diagram_file,
        grouping::group_cells,
        grouping::reserve_cells,
        jobs::job,
        jobs::job_events,
        jobs::stop_job,
        measure::load_log,
        measure::proving,
        measure::reading,
        measure::recharge,
        measure::set_up,
        measure::ways_to_read,
        health::health,
        pairing::paired_browsers,
        pairing::put_out,
        parts::parts,
        parts::add_part,
        parts::change_part,
        parts::remove_part,
        parts::restore_part,
        parts::parts_file,
        parts::import_parts,
        parts::listing,
        photos::keep_photo,
        photos::photo,
        plan_list::list,
        plans::import,
        plans::duplicate,
        plans::export,
        plans::revisions,
        plans::revision,
        plans::create,
        plans::read,
        plans::save,
        plans::remove,
        plans::restore,
        quantity::parse,
        reference::reference,
        run::run_plan,
        run::fill_pack,
        run::run_map,
        run::run_file,
        run::fit_own_cell,
        stock::cells::cells,
        stock::files::cells_file,
        stock::cells::change_states,
        stock::lots::create_lot,
        stock::files::import_cells,
        stock::cells::look_at_cell,
        stock::lots::lot,
        stock::lots::lots,
        stock::cells::points,
        stock::files::readings_file,
        stock::lots::remove_lot,
        stock::lots::restore_lot,
        stock::readings::restore_reading,
        stock::cells::stock_cell,
        stock::readings::strike_reading,
        stock::readings::type_readings,
        stock::lots::update_lot,
        tester::measure_cells,
    ]
}

/// Routes under `/api` that are there for everybody: to be paired.
pub fn open_routes() -> Vec<Route> {
    routes![pairing::pair]
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
