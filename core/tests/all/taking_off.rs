//! Where the wires of the pack sit, as drawn and as solved; strips that are proposed; packs of flat cells.

use brick_core::Plan;
use brick_core::advise::suggest::strips::strip_offers;
use brick_core::assess::{Assessment, assess, network};
use brick_core::physics::brick::{JointWire, Laid, LeadKind, Sharing, Task, arrangements, draw, near};
use brick_core::plan::{CellSize, Choice, Space, Strip, StripMetal, TakeOff, apply};

const JOINT: JointWire = JointWire { ohm_per_mm: 8.3e-6, limit_a: None };

/// The shears' parts in a roomy box, laid out for other counts.
fn laid(series: u32, parallel: u32) -> Plan {
    let path = format!("{}/../demo/plans/hedge-shears.brick.json", env!("CARGO_MANIFEST_DIR"));
    let mut plan = Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap();
    (plan.packs[0].series, plan.packs[0].parallel) = (Some(series), Some(parallel));
    plan.device.compartments.truncate(1);
    plan.device.compartments[0].obstructions.clear();
    plan.device.compartments[0].space = Space::Box { length_mm: 260.0, width_mm: 200.0, depth_mm: 130.0 };
    plan.packs[0].brick.compartment = None;
    lay(&mut plan);
    plan
}

fn lay(plan: &mut Plan) {
    plan.packs[0].brick.layout = None;
    let found = arrangements(&Task::of(plan).unwrap()).into_iter().find(|a| a.fits).unwrap();
    plan.packs[0].brick.layout = Some(found.layout);
}

fn sharing(plan: &Plan, take_off: TakeOff) -> Sharing {
    let laid = Laid::of(plan).unwrap();
    Sharing::of(&laid, plan.packs[0].strip.part().unwrap(), 0.022, JOINT, Some(take_off)).unwrap()
}

/// Middle of a cell on the face.
fn at(plan: &Plan, cell: usize) -> [f64; 2] {
    let laid = Laid::of(plan).unwrap();
    laid.grid.middle_mm(brick_core::physics::brick::Site::from(&laid.layout.cells[cell]))
}

fn apart(plan: &Plan, a: usize, b: usize) -> f64 {
    let ([ax, ay], [bx, by]) = (at(plan, a), at(plan, b));
    (ax - bx).hypot(ay - by)
}

/// Wires sit in the first and the last group; on one side of the brick they are nearer to one another than across it.
#[test]
fn the_wires_sit_where_the_way_says() {
    for (series, parallel) in [(2, 3), (4, 3), (5, 4), (6, 5), (10, 8)] {
        let plan = laid(series, parallel);
        let (first, last) = (0..parallel as usize, ((series - 1) * parallel) as usize..(series * parallel) as usize);
        let ends = |t: TakeOff| {
            let s = sharing(&plan, t);
            let cells = |all: &[brick_core::physics::brick::Terminal]| all.iter().map(|t| t.cell).collect::<Vec<_>>();
            (cells(&s.minus), cells(&s.plus))
        };
        for take_off in TakeOff::ALL {
            let (minus, plus) = ends(take_off);
            assert!(minus.iter().all(|c| first.contains(c)) && plus.iter().all(|c| last.contains(c)));
            let wanted = if take_off == TakeOff::EveryCell { parallel as usize } else { 1 };
            assert_eq!((minus.len(), plus.len()), (wanted, wanted), "{take_off:?} of {series}S{parallel}P");
        }
        let (same, across, middle) = (ends(TakeOff::SameEnd), ends(TakeOff::Diagonal), ends(TakeOff::Middle));
        assert_eq!(same.0, across.0);
        assert!(apart(&plan, same.0[0], same.1[0]) <= apart(&plan, across.0[0], across.1[0]) + 1e-9);
        // The middle cell is nearer to all of its group than an outer one.
        let sum = |cell: usize| first.clone().map(|other| apart(&plan, cell, other)).sum::<f64>();
        assert!(first.clone().all(|cell| sum(middle.0[0]) <= sum(cell) + 1e-9));
    }
}

#[test]
fn what_is_drawn_is_what_is_solved() {
    for take_off in TakeOff::ALL {
        let mut plan = laid(4, 3);
        plan.packs[0].brick.take_off = Some(take_off);
        let solved = sharing(&plan, take_off);
        let laid = Laid::of(&plan).unwrap();
        let drawing = draw(&laid);
        for (kind, cells) in [(LeadKind::Minus, &solved.minus), (LeadKind::Plus, &solved.plus)] {
            let mut found = 0;
            for face in &drawing.faces {
                for lead in face.leads.iter().filter(|l| l.kind == kind) {
                    let spots =
                        [[lead.x1_mm, lead.y1_mm]].into_iter().chain(lead.also.iter().map(|s| [s.x_mm, s.y_mm]));
                    for [x_mm, y_mm] in spots {
                        let under = face.cells.iter().find(|c| (c.x_mm - x_mm).hypot(c.y_mm - y_mm) < 1e-6).unwrap();
                        assert!(cells.iter().any(|t| t.cell == under.cell), "{take_off:?}: {}", under.label);
                        found += 1;
                    }
                }
            }
            assert_eq!(found, cells.len(), "{take_off:?}");
        }
        assert_eq!(network(&plan, None).unwrap().take_offs.iter().filter(|t| t.chosen).count(), 1);
    }
}

fn judged(plan: &Plan) -> Assessment {
    assess(plan).unwrap()
}

/// Each proposal clears the stops of the strips, and no lighter strip of the usual sizes of its metal would.
#[test]
fn the_proposed_strip_is_the_lightest_that_will_do() {
    let plan = laid(4, 3);
    let offers = strip_offers(&plan);
    assert_eq!(offers.len(), 4);
    for offer in offers {
        let with = apply(&plan, &offer.changes).unwrap();
        let strip = with.packs[0].strip.part().unwrap().clone();
        let stops = |plan: &Plan| judged(plan).findings.iter().any(|f| f.rule.starts_with("brick.strip"));
        assert!(!stops(&with), "{}", offer.name);
        assert!((judged(&with).figure("strip.limit_a").unwrap().value / offer.limit_a - 1.0).abs() < 1e-9);
        let (thicknesses_mm, most_layers): (&[f64], u32) = match strip.metal {
            StripMetal::Nickel => (&[0.1, 0.15, 0.2, 0.3], 4),
            StripMetal::NickelPlatedSteel => (&[0.15, 0.2, 0.3], 4),
            StripMetal::Copper => (&[0.1, 0.2, 0.3], 2),
            StripMetal::Aluminium => (&[0.5, 1.0, 2.0], 1),
        };
        let area = |s: &Strip| s.width_mm * s.thickness_mm * f64::from(s.layers);
        let laid = Laid::of(&plan).unwrap();
        for &thickness_mm in thicknesses_mm {
            for width_mm in [4.0, 5.0, 6.0, 8.0, 10.0, 12.0, 15.0, 20.0, 25.0] {
                for layers in 1..=most_layers {
                    let other = Strip { thickness_mm, width_mm, layers, ..strip.clone() };
                    let allowed = strip.metal != StripMetal::Aluminium || width_mm >= 10.0;
                    if allowed
                        && area(&other) < area(&strip) - 1e-9
                        && near(laid.pieces(), &laid.grid, width_mm).is_empty()
                    {
                        let mut lighter = plan.clone();
                        lighter.packs[0].strip = Choice::Chosen { part: other };
                        assert!(
                            stops(&lighter),
                            "{thickness_mm} x {width_mm} x {layers} is lighter than {}",
                            offer.name
                        );
                    }
                }
            }
        }
    }
}

#[test]
fn strips_are_proposed_before_the_cells_are_laid_out_but_not_without_a_current() {
    let mut plan = laid(4, 3);
    plan.packs[0].brick.layout = None;
    let offers = strip_offers(&plan);
    assert_eq!(offers.len(), 4);
    let with = apply(&plan, &offers[0].changes).unwrap();
    assert!(!judged(&with).findings.iter().any(|f| f.rule.starts_with("brick.strip")));
    plan.device.loads.clear();
    assert!(strip_offers(&plan).is_empty());
}

/// Three pouches in series, tabs all on one face: two strips of one pitch carry everything, and the middle one is hottest.
#[test]
fn a_stack_of_pouches_is_a_network_too() {
    let mut plan = laid(3, 1);
    let Choice::Chosen { part: cell } = &mut plan.packs[0].cell else { panic!("a cell") };
    cell.size = CellSize::Pouch { thickness_mm: 8.0, width_mm: 40.0, length_mm: 90.0 };
    lay(&mut plan);
    let laid = Laid::of(&plan).unwrap();
    let report = network(&plan, None).unwrap();
    assert_eq!(report.missing, None);
    let strips: Vec<_> = report.segments.iter().filter(|s| s.strip.is_some()).collect();
    assert_eq!(strips.len(), 2);
    for strip in strips {
        assert!((strip.pack_share - 1.0).abs() < 1e-9);
        // By hand: 6.93e-8 ohm m over one pitch of 8 x 1.08 + 0.5 mm, through 8 x 0.2 mm.
        let pitch_mm = 8.0 * (1.0 + plan.packs[0].brick.clearances.swelling_share) + 0.5;
        assert!((strip.resistance_ohm - 6.93e-8 * pitch_mm / 1000.0 / 1.6e-6).abs() < 1e-9, "{}", strip.resistance_ohm);
    }
    assert_eq!(report.cells[report.hottest.unwrap()].label, "2a");
    assert!(report.take_offs.is_empty(), "one cell in a group leaves nothing to choose");
    assert_eq!(laid.parallel, 1);
}
