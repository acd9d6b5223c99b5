//! The real interface in a real browser: two houses, each with a server, a database and a browser, take the stories in turn.
//!
//! Which house tells a story follows from its place in the list, so that a story meets the same ones before it every time.

mod pictures;
mod stories;

use std::sync::Arc;

use anyhow::{Context, Result};
use brick_e2e::Browser;
use dense_brick::certificate::Certificate;
use dense_brick::gate::Gate;
use dense_brick::pairing::Pairing;
use dense_brick::{Config, store};
use libtest_mimic::{Arguments, Failed, Trial};
use rocket::Shutdown;
use tokio::runtime::Runtime;
use tokio::sync::Mutex;

/// How many houses there are: as many as the smallest machine has cores.
const HOUSES: usize = 2;
/// How many stories stand at the door of a house at most.
const WAITING: usize = 8;

/// What a story of another device has to know of its house.
#[derive(Debug, Clone)]
struct Doors {
    /// Code that pairs a browser with its server.
    code: String,
    /// Where a phone of the workshop's network finds that server. The address is one for documentation, RFC 5737.
    phone: String,
}

tokio::task_local! {
    /// Those of the house in which a story is told.
    static DOORS: Doors;
}

/// The application and the browser that looks at it.
struct House {
    browser: Browser,
    shutdown: Shutdown,
    doors: Doors,
}

/// A house once it is needed; one story at a time.
type Lot = Arc<Mutex<Option<House>>>;

/// Tells a story in a house, which is opened for the first one.
async fn tell(number: usize, lot: &Lot, name: &str, story: impl AsyncFnOnce(&Browser) -> Result<()>) -> Result<()> {
    let mut lot = lot.lock().await;
    if lot.is_none() {
        *lot = Some(open(number).await?);
    }
    let house = lot.as_ref().context("the house is open")?;
    let browser = &house.browser;
    // As every story finds it, whatever became of the one before.
    browser.size(1280, 800).await?;
    let told = DOORS.scope(house.doors.clone(), story(browser)).await;
    let calm = calm(browser, name).await;
    told.and(calm)
}

fn main() {
    let arguments = Arguments::from_args();
    let runtime = Arc::new(Runtime::new().expect("a runtime can be made at the start of a program"));
    let lots: [Lot; HOUSES] = Default::default();
    let mut trials: Vec<Trial> = vec![];
    macro_rules! story {
        ($room:ident, $name:ident) => {
            let number = trials.len() % HOUSES;
            let (runtime, lot) = (runtime.clone(), lots[number].clone());
            trials.push(Trial::test(stringify!($name), move || {
                let story = async |b: &Browser| stories::$room::$name(b).await;
                runtime.block_on(tell(number, &lot, stringify!($name), story)).map_err(failed)
            }));
        };
    }
    story!(planning, a_stranger_plans_a_leaf_blower_from_a_blank_page_to_a_saved_plan_without_stops);
    story!(planning, the_demo_shows_a_sound_plan_and_one_with_stops);
    story!(planning, bad_figures_are_refused_in_place_with_the_allowed_range);
    for job in stories::jobs::JOBS {
        let number = trials.len() % HOUSES;
        let (runtime, lot) = (runtime.clone(), lots[number].clone());
        trials.push(Trial::test(format!("job: {}", job.name), move || {
            let story = async |b: &Browser| stories::jobs::enter(b, job).await;
            runtime.block_on(tell(number, &lot, job.name, story)).map_err(failed)
        }));
    }
    story!(surveying, an_instrument_is_surveyed_from_its_template_with_a_meter_and_a_log);
    story!(surveying, the_contacts_of_a_device_are_read_and_wired);
    story!(surveying, a_device_is_proved_on_a_bench_supply_step_by_step);
    story!(surveying, a_wire_is_photographed_and_metered_before_it_comes_off);
    story!(surveying, a_run_is_read_from_its_recharge);
    story!(surveying, a_compartment_with_its_obstructions_and_openings_is_measured);
    story!(handling, figures_are_typed_one_after_another_by_keys_alone);
    story!(handling, the_cursor_waits_in_the_first_field_and_is_taken_from_no_other);
    story!(handling, a_long_page_is_folded_and_the_rail_leads_into_it);
    story!(handling, the_diagram_is_whole_at_every_width_and_grows_under_two_fingers);
    story!(handling, who_goes_on_does_not_wait_for_the_rest_of_a_long_page);
    story!(handling, what_clears_a_finding_stays_in_its_place_while_it_is_looked_for_again);
    story!(feeding, options_are_ordered_and_laid_side_by_side);
    story!(feeding, a_converter_is_set_up_and_a_fixed_socket_on_it_refused);
    story!(feeding, a_gauge_is_rescaled_with_one_resistor_and_fed_behind_the_switch);
    story!(feeding, two_switched_packs_are_judged_in_both_positions);
    story!(everybody, every_view_fits_a_phone_and_has_no_serious_accessibility_fault);
    story!(stocking, a_box_of_two_hundred_cells_becomes_a_picking_list);
    story!(stocking, readings_are_typed_cell_by_cell_and_pasted_as_a_column);
    story!(stocking, cells_are_grouped_for_a_plan_reserved_and_given_back);
    story!(stocking, a_tester_measures_picked_cells_and_its_trouble_is_told);
    story!(stocking, a_lot_is_sorted_filtered_changed_deleted_and_taken_back);
    story!(stocking, nothing_is_sent_while_a_field_shows_what_was_refused);
    story!(stocking, a_cell_keeps_its_history_and_the_schools_are_weighed);
    story!(laying, a_cell_is_dragged_a_short_refused_and_the_rest_laid_out_anew);
    story!(laying, a_brick_is_welded_step_by_step_with_every_other_face_covered);
    story!(laying, the_sheets_are_opened_and_measured);
    story!(laying, a_place_too_small_is_told_with_ways_out_until_the_brick_fits);
    story!(laying, things_find_their_place_beside_the_brick);
    story!(laying, a_blank_plan_says_what_the_brick_waits_for);
    story!(guarding, who_acts_first_is_told_and_changes_with_the_strips_and_the_fuse);
    story!(guarding, an_arrival_test_judges_what_was_read_and_the_plan_counts_on_it);
    story!(guarding, more_current_lists_every_link_to_change_the_cheapest_first);
    story!(charging, groups_read_at_rest_are_weighed_in_charge_and_by_the_three_schools);
    story!(charging, a_charge_module_is_tested_on_a_capacitor_before_it_sees_a_cell);
    story!(guarding, a_board_of_bare_transistors_is_reckoned_and_re_made_for_the_start);
    story!(charging, the_old_charger_is_refused_and_a_module_is_fed_and_timed);
    story!(charging, an_end_below_full_is_chosen_from_the_table);
    story!(charging, jack_and_plug_are_read_and_a_turned_plug_stops_the_plan);
    story!(charging, a_device_with_a_charge_circuit_has_it_followed_or_cut_off);
    story!(running, a_run_is_changed_by_what_is_turned_and_says_who_ends_it);
    story!(running, a_weak_group_ends_the_run_and_is_left_behind_by_the_charge);
    story!(running, a_cell_is_fitted_to_its_log_and_a_bad_log_refused);
    story!(taking, charging_is_added_to_a_pack_that_stays);
    story!(taking, a_hobby_pack_is_taken_as_it_comes_and_left_again);
    story!(taking, one_module_is_taken_into_both_its_places);
    story!(taking, cells_in_holders_are_judged_with_one_reversed_and_with_few);
    story!(building, the_parts_list_says_what_to_buy_and_what_it_is_weighed_against);
    story!(building, a_build_is_led_step_by_step_and_a_wrong_tap_shuts_the_plug);
    story!(proving, the_shears_are_built_from_the_first_screw_to_the_label_on_laptop_and_phone);
    story!(odd, swapped_taps_are_found_from_the_reading_of_a_build);
    story!(odd, it_dies_after_ten_seconds_in_the_low_setting);
    story!(odd, a_blank_plan_says_what_a_diagnosis_waits_for);
    story!(odd, a_weak_supply_is_found_from_a_flickering_lamp);
    story!(odd, a_reading_of_the_diagram_is_asked_for_its_cause_and_nonsense_refused);
    story!(years, a_pack_as_found_is_logged_by_phone_and_its_leaking_group_is_named);
    story!(years, another_use_moves_the_forecast_and_label_and_sheet_go_onto_paper);
    story!(years, a_finished_build_becomes_a_pack_with_a_log);
    story!(building, plans_are_put_in_order_by_what_lies_in_the_drawer);
    story!(building, what_somebody_will_do_later_is_foreseen_and_the_warnings_print);
    story!(building, the_diagram_says_what_a_meter_reads_in_every_condition);
    story!(building, the_wiring_is_asked_and_what_is_missing_told);
    story!(parts, a_seller_s_text_is_read_with_its_contradictions_and_becomes_a_part);
    story!(parts, a_part_is_changed_deleted_and_taken_back_and_a_wrong_figure_is_refused);
    story!(parts, a_sheet_with_a_bad_line_is_refused_whole_and_a_good_one_taken);
    story!(parts, a_board_is_chosen_by_its_merits_and_placed_on_the_charge_side);
    story!(flowing, overloaded_strips_are_red_until_a_fix_thickens_them);
    story!(flowing, the_current_is_taken_off_elsewhere_and_shares_otherwise);
    story!(flowing, heat_is_looked_at_after_another_time_and_bad_joints_are_told);
    story!(flowing, a_strip_is_proposed_for_each_metal_and_taken);
    story!(flowing, the_files_are_read_back_and_the_holder_waits_for_its_gap);
    story!(flowing, the_brick_is_turned_in_space_and_drawn_apart);
    story!(flowing, a_cell_typed_by_hand_is_laid_out_and_solved);
    story!(keeping, plans_are_renamed_deleted_and_taken_back);
    story!(keeping, two_tabs_cannot_overwrite_each_other);
    story!(keeping, work_goes_on_while_the_program_is_away_and_is_saved_when_it_is_back);
    story!(keeping, a_save_whose_answer_is_lost_is_known_as_ones_own);
    story!(keeping, a_paired_browser_is_listed_and_put_out);
    story!(keeping, a_revision_is_found_in_the_history_and_gone_back_to);
    story!(keeping, an_edit_is_undone_and_done_again);
    story!(judging, every_figure_opens_to_its_working);
    story!(judging, a_working_leads_to_the_field_it_rests_on);
    story!(judging, every_stop_is_cleared_by_its_buttons_undone_exported_and_assessed_alike);
    story!(judging, a_caution_is_accepted_by_name_and_taken_back);
    story!(everybody, figures_follow_the_persons_decimal_mark_and_wire_size);
    story!(keeping, a_backup_is_taken_and_restored_on_the_screen);
    story!(everybody, the_keyboard_alone_opens_a_plan_edits_it_and_finds_the_emergency_card);
    story!(proposing, five_answers_lead_to_a_whole_plan);
    story!(proposing, wishes_are_kept_and_two_are_laid_side_by_side);
    story!(leading, a_beginner_follows_the_next_step_to_a_plan_without_stops);
    story!(jobs, the_job_in_the_middle_takes_few_fields_and_clicks);
    if let Ok(folder) = std::env::var("BRICK_PICTURES") {
        let (runtime, lot) = (runtime.clone(), lots[0].clone());
        trials.push(Trial::test("pictures", move || {
            let story = async |b: &Browser| pictures::take(b, &root().join(&folder)).await;
            runtime.block_on(tell(0, &lot, "pictures", story)).map_err(failed)
        }));
    }
    // More threads than houses: while a long story is told in one, those for the other need not wait for it.
    let arguments = Arguments { test_threads: Some(WAITING * HOUSES), ..arguments };
    let conclusion = libtest_mimic::run(&arguments, trials);
    for lot in lots {
        let Some(house) = runtime.block_on(lot.lock()).take() else { continue };
        house.shutdown.notify();
        // The tests are over: a driver that does not answer any more changes nothing about them.
        let _ = runtime.block_on(house.browser.close());
    }
    conclusion.exit();
}

fn failed(error: anyhow::Error) -> Failed {
    Failed::from(format!("{error:#}"))
}

/// Stories in which a refusal is asked for: figures that cannot be, stale saves, files and addresses that are none.
const ASKS_FOR_REFUSALS: &[&str] = &[
    "bad_figures_are_refused_in_place_with_the_allowed_range",
    "an_instrument_is_surveyed_from_its_template_with_a_meter_and_a_log",
    "a_box_of_two_hundred_cells_becomes_a_picking_list",
    "a_run_is_read_from_its_recharge",
    "a_wire_is_photographed_and_metered_before_it_comes_off",
    "cells_are_grouped_for_a_plan_reserved_and_given_back",
    "readings_are_typed_cell_by_cell_and_pasted_as_a_column",
    "a_tester_measures_picked_cells_and_its_trouble_is_told",
    "nothing_is_sent_while_a_field_shows_what_was_refused",
    "a_cell_is_dragged_a_short_refused_and_the_rest_laid_out_anew",
    "a_cell_is_fitted_to_its_log_and_a_bad_log_refused",
    "a_pack_as_found_is_logged_by_phone_and_its_leaking_group_is_named",
    "a_sheet_with_a_bad_line_is_refused_whole_and_a_good_one_taken",
    "a_backup_is_taken_and_restored_on_the_screen",
    "two_tabs_cannot_overwrite_each_other",
    "a_save_whose_answer_is_lost_is_known_as_ones_own",
    "every_stop_is_cleared_by_its_buttons_undone_exported_and_assessed_alike",
    "cells_in_holders_are_judged_with_one_reversed_and_with_few",
    "the_diagram_says_what_a_meter_reads_in_every_condition",
];

/// Fails when the page wrote an error to its console; a refused request is one, unless the story asks for it.
async fn calm(browser: &Browser, story: &str) -> Result<()> {
    let errors = browser.console_errors().await?;
    let asked = ASKS_FOR_REFUSALS.contains(&story);
    // A story may cut the line; the browser reports each.
    let by_design = |e: &&String| {
        e.contains("ERR_BLOCKED_BY_CLIENT") || asked && (e.contains("status of 422") || e.contains("status of 409"))
    };
    let real: Vec<_> = errors.iter().filter(|e| !by_design(e)).collect();
    anyhow::ensure!(real.is_empty(), "the console says {real:?}");
    Ok(())
}

/// Folder of the project.
fn root() -> std::path::PathBuf {
    std::path::Path::new(env!("CARGO_MANIFEST_DIR")).join("..")
}

/// Starts the application on a database of its own, with the demo, and the browser.
async fn open(number: usize) -> Result<House> {
    let url = std::env::var("DATABASE_URL").context("DATABASE_URL is not set; run ./test")?;
    let name = format!("dense_brick_browser_{number}");
    let admin = sqlx::PgPool::connect(&url).await?;
    for statement in [format!("drop database if exists {name} with (force)"), format!("create database {name}")] {
        sqlx::query(sqlx::AssertSqlSafe(statement)).execute(&admin).await?;
    }
    let (server, _) = url.rsplit_once('/').context("DATABASE_URL names no database")?;
    let pool = store::open(&format!("{server}/{name}"), &std::env::temp_dir()).await?;
    let root = root();
    let demo = store::demo::read(&root.join("demo"))?;
    store::demo::load(&pool, &demo).await?;
    let web_dir = root.join("web/dist");
    anyhow::ensure!(web_dir.join("index.html").exists(), "the front end is not built; run ./test");
    let listener = std::net::TcpListener::bind("127.0.0.1:0")?;
    let port = listener.local_addr()?.port();
    drop(listener);
    let config = Config {
        address: "127.0.0.1".parse()?,
        port,
        web_dir,
        demo_dir: root.join("demo"),
        backups: std::env::temp_dir().join(format!("dense-brick-browser-{}-{number}", std::process::id())),
        lan: true,
        trust_proxy: false,
        handle_signals: false,
    };
    let pairing = Pairing::open();
    let code = pairing.code().context("no code")?;
    let gate = Arc::new(Gate::default());
    let rocket = dense_brick::build(config, pool, pairing, gate.clone()).ignite().await?;
    let shutdown = rocket.shutdown();
    tokio::spawn(rocket.launch());
    let kept = std::env::temp_dir().join(format!("dense-brick-certificate-{}-{number}", std::process::id()));
    let door = tokio::net::TcpListener::bind("127.0.0.1:0").await?;
    let phone = format!("https://192.0.2.7:{}", door.local_addr()?.port());
    let certificate = Certificate::kept(&kept, &["192.0.2.7".parse()?])?;
    tokio::spawn(gate.open(door, Some(certificate.acceptor()?), port));
    let browser = Browser::start(&format!("http://127.0.0.1:{port}")).await?;
    Ok(House { browser, shutdown, doors: Doors { code, phone } })
}
