//! Heat of a laid brick against figures worked by hand, and what must hold in any brick.

use brick_core::Plan;
use brick_core::assess::{assess, network};
use brick_core::physics::brick::{HeatPaths, JointWire, Laid, Sharing, Task, arrangements};
use brick_core::plan::Clearances;

const JOINT: JointWire = JointWire { ohm_per_mm: 8.3e-6, limit_a: None };

fn plan() -> Plan {
    let path = format!("{}/../reference/network/five_staggered.brick.json", env!("CARGO_MANIFEST_DIR"));
    let mut plan = Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap();
    plan.packs[0].groups.clear();
    plan
}

/// The pack laid out on the first arrangement that fits.
fn laid(series: u32, parallel: u32, clear: Clearances) -> Plan {
    let mut plan = plan();
    (plan.packs[0].series, plan.packs[0].parallel) = (Some(series), Some(parallel));
    plan.packs[0].brick.clearances = clear;
    let layout = arrangements(&Task::of(&plan).unwrap()).into_iter().find(|a| a.fits).unwrap().layout;
    plan.packs[0].brick.layout = Some(layout);
    plan
}

fn steady_k(plan: &Plan, current_a: f64) -> Vec<f64> {
    let laid = Laid::of(plan).unwrap();
    let strip = plan.packs[0].strip.part().unwrap();
    let sharing = Sharing::of(&laid, strip, 0.022, JOINT, None).unwrap();
    let paths = HeatPaths::of(&laid, strip, &sharing, Some(45.0)).unwrap();
    let heat_w: Vec<f64> = sharing.heat_w_per_a2().into_iter().map(|w| w * current_a * current_a).collect();
    paths.steady_k(&heat_w).unwrap()
}

/// By hand, one cell of 18.4 x 65.2 mm in a wrap of 0.5 mm (0.2 W/(m K)) in still air (10 W/(m² K)): side pi x 18.4 x
/// 65.2 = 3768.9 mm² through 0.0025 + 0.1 m² K/W, 0.036770 W/K; two ends of 265.90 mm² with 1 mm more of plastic,
/// 0.1075 m² K/W, 0.004947 W/K. 5 A through 22 milliohm make 0.55 W: 0.55 / 0.041717 = 13.184 K.
#[test]
fn a_single_cell_settles_where_it_does_by_hand() {
    let bare = Clearances { padding_mm: 0.0, shell_mm: 0.0, wrap_mm: 0.5, ends_mm: 1.0, ..Clearances::default() };
    let mut plan = laid(1, 1, bare);
    let cell = plan.packs[0].cell.part().unwrap().size.clone();
    let brick_core::plan::CellSize::Cylindrical { diameter_mm, length_mm } = cell else { panic!("a round cell") };
    assert_eq!((diameter_mm, length_mm), (18.4, 65.2));
    let rise_k = steady_k(&plan, 5.0)[0];
    assert!((rise_k - 13.184).abs() < 0.01, "{rise_k}");
    // 1 mm of foam (0.04 W/(m K)) adds 0.025 m² K/W on both ways: 0.029560 + 0.004014 W/K, 16.382 K.
    plan.packs[0].brick.clearances.padding_mm = 1.0;
    let rise_k = steady_k(&plan, 5.0)[0];
    assert!((rise_k - 16.382).abs() < 0.01, "{rise_k}");
}

#[test]
fn cells_inside_run_hottest_and_padding_makes_all_hotter() {
    let mut plan = laid(5, 5, Clearances::default());
    let report = network(&plan, None).unwrap();
    let layout = plan.packs[0].brick.layout.clone().unwrap();
    let hottest = layout.cells[report.hottest.unwrap()];
    let inside = |at: u32, count: u32| at > 0 && at + 1 < count;
    assert!(inside(hottest.column, layout.columns) && inside(hottest.row, layout.rows), "{hottest:?}");
    let before_k = steady_k(&plan, 10.0);
    plan.packs[0].brick.clearances.padding_mm = 5.0;
    assert!(steady_k(&plan, 10.0).iter().zip(&before_k).all(|(a, b)| a > b));
}

#[test]
fn a_longer_time_is_never_cooler_and_ends_at_the_steady_rise() {
    let plan = laid(4, 2, Clearances::default());
    let after = |seconds: f64| network(&plan, Some(seconds)).unwrap().levels[0].clone();
    let mut last_c = plan.environment.use_max_c;
    for seconds in [60.0, 600.0, 3600.0, 36_000.0, 86_400.0] {
        let level = after(seconds);
        assert!(level.after_c.unwrap() >= last_c, "{seconds}: {level:?}");
        last_c = level.after_c.unwrap();
    }
    let steady_c = after(60.0).steady_c.unwrap();
    assert!((last_c - steady_c).abs() < 0.05, "{last_c} against {steady_c}");
}

/// Twice the current, four times the rise; a hotter day shifts everything.
#[test]
fn rise_goes_with_the_current_squared() {
    let plan = laid(4, 3, Clearances::default());
    let (one, two) = (steady_k(&plan, 6.0), steady_k(&plan, 12.0));
    assert!(one.iter().zip(&two).all(|(a, b)| (b / a - 4.0).abs() < 1e-9));
    let mut hot = plan.clone();
    hot.environment.use_max_c += 10.0;
    let of = |plan: &Plan| assess(plan).unwrap().figure("brick.hottest_steady_c").unwrap().value;
    assert!((of(&hot) - of(&plan) - 10.0).abs() < 1e-9);
}
