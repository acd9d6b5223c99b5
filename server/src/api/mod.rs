//! The API: one file a resource.

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
use utoipa::OpenApi;

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
    components(schemas(Problem))
)]
struct Api;

/// The OpenAPI document as text, ending in a newline.
pub fn openapi() -> anyhow::Result<String> {
    Ok(Api::openapi().to_pretty_json()? + "\n")
}

/// Routes under `/api` that are there for whoever may use the program.
pub fn routes() -> Vec<Route> {
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

/// Whatever no route answered, as a problem.
#[catch(default)]
fn refused(status: Status, request: &Request<'_>) -> Problem {
    match status.code {
        404 => Problem::new(status, "Not found", "There is nothing at this address of the API."),
        422 => {
            Problem::new(status, "Unusable address", "A part of this address has the wrong form, for example an id.")
        }
        500 => Problem::fault(&format!("a route failed at {} {}", request.method(), request.uri().path())),
        _ => Problem::new(status, status.reason_lossy(), "The request cannot be answered as it is."),
    }
}
