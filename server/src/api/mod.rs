//! The API, in the order of the work: plans, device, cells, brick, diagram, run, parts, bill, build, packs; and the program itself.

mod bill;
mod brick;
pub mod build;
pub mod cells;
mod device;
mod diagram;
mod http;
mod packs;
mod parts;
mod plans;
mod program;
mod run;

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
            http::asked::once(routes![$($($route)::+,)+])
        }

        /// Routes under `/api` that are there for everybody: to be paired.
        pub fn open_routes() -> Vec<Route> {
            routes![$($($open)::+,)+]
        }
    };
}

api! {
    paired [
        bill::export_bill,
        brick::edit::draw_sheet,
        brick::edit::edit_brick,
        brick::edit::list_sheets,
        brick::edit::search_brick,
        brick::files::list_part_files,
        brick::files::write_part_file,
        build::begin_build,
        build::export_build,
        build::follow_newest,
        build::keep_event,
        build::list_builds,
        build::read_build,
        build::watch_build,
        cells::grouping::group_cells,
        cells::grouping::reserve_cells,
        cells::stock::cells::change_states,
        cells::stock::cells::inspect_cell,
        cells::stock::cells::list_cells,
        cells::stock::cells::list_points,
        cells::stock::cells::read_cell,
        cells::stock::files::export_cells,
        cells::stock::files::export_readings,
        cells::stock::files::import_cells,
        cells::stock::lots::create_lot,
        cells::stock::lots::list_lots,
        cells::stock::lots::read_lot,
        cells::stock::lots::remove_lot,
        cells::stock::lots::restore_lot,
        cells::stock::lots::update_lot,
        cells::stock::readings::restore_reading,
        cells::stock::readings::strike_reading,
        cells::stock::readings::type_readings,
        cells::tester::measure_cells,
        device::find_mean_draw,
        device::find_ways_to_read,
        device::judge_reading,
        device::read_load_log,
        diagram::draw_diagram,
        packs::calendar::export_calendar,
        packs::calendar::export_pack_calendar,
        packs::change_card,
        packs::create_pack,
        packs::export_log,
        packs::file::export_pack,
        packs::file::import_pack,
        packs::import_log,
        packs::keep_entry,
        packs::list::list_packs,
        packs::make_pack,
        packs::paper::draw_label,
        packs::paper::write_hand_on,
        packs::read_pack,
        packs::remove_pack,
        packs::restore_pack,
        parts::add_part,
        parts::change_part,
        parts::export_parts,
        parts::import_parts,
        parts::list_parts,
        parts::read_seller_text,
        parts::remove_part,
        parts::restore_part,
        plans::assess::assess,
        plans::list::list_plans,
        plans::photos::keep_photo,
        plans::photos::send_photo,
        plans::propose::propose_plans,
        plans::questions::answer_questions,
        plans::saved::create_plan,
        plans::saved::duplicate_plan,
        plans::saved::export_plan,
        plans::saved::import_plan,
        plans::saved::list_revisions,
        plans::saved::read_plan,
        plans::saved::read_revision,
        plans::saved::remove_plan,
        plans::saved::restore_plan,
        plans::saved::save_plan,
        program::backup::download_backup,
        program::backup::restore_backup,
        program::demo::load_demo,
        program::health::tell_health,
        program::jobs::read_job,
        program::jobs::stop_job,
        program::jobs::watch_job,
        program::pairing::list_browsers,
        program::pairing::put_browser_out,
        program::quantity::read_quantity,
        program::reference::read_reference,
        run::export_run,
        run::fit_own_cell,
        run::map_run,
        run::run_plan,
    ]
    open [program::pairing::pair,]
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
                    ("503", "the database is not reachable; nothing was changed"),
                ];
                if operation.request_body.is_some() {
                    answers.push(("400", "the body is not what it claims to be"));
                    answers.push(("413", "the body is too large"));
                    answers.push(("422", "a value is not valid; `errors` names its field"));
                }
                let parameters = parameters.filter_map(|p| if let RefOr::T(p) = p { Some(p) } else { None });
                for parameter in parameters {
                    match parameter.parameter_in {
                        ParameterIn::Path => {
                            answers.push(("404", "not found"));
                            answers.push(("422", "a part of the address has the wrong form"));
                        }
                        _ => answers.push(("422", "a value is not valid; `errors` names its field")),
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
        _ => Problem::new(status, status.reason_lossy(), "The request cannot be answered in this form."),
    }
}
