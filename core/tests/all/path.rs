//! The path and the graph: ceilings, the weakest link, ways of the current.

use crate::common;

use brick_core::assess::{Severity, assess};
use brick_core::plan::{NodeKind, StateName};
use common::{chosen, known, module, offer, sound, with};
use serde_json::json;

#[test]
fn links_stand_in_the_order_the_current_meets_them() {
    let path = assess(&sound()).unwrap().path;
    let order: Vec<&str> = path.links.iter().map(|l| l.id.as_str()).collect();
    assert_eq!(order, ["cells", "strips", "board", "fuse", "switch", "lead", "plug"]);
    let charge: Vec<&str> = path.charge.iter().map(|l| l.id.as_str()).collect();
    assert_eq!(charge, ["charger", "jack", "board", "cells"]);
}

#[test]
fn the_weakest_link_has_the_largest_demand_over_limit() {
    let path = assess(&sound()).unwrap().path;
    let used = |id: &str| path.links.iter().find(|l| l.id == id).unwrap().used.unwrap();
    // 9 A are 80 % of what a 15 A blade carries continuously; the 20 A start is nearer to what it withstands for 0.4 s: between
    // 135 % (0.75 s) and 160 % (0.25 s) of the rating, so 20.25 to 24 A.
    assert!((20.0 / 24.0..20.0 / 20.25).contains(&used("fuse")), "{}", used("fuse"));
    assert_eq!(path.weakest.as_deref(), Some("fuse"));
    assert!(path.links.iter().all(|l| l.used.unwrap() <= used("fuse")));
}

#[test]
fn a_peak_counts_against_what_a_link_bears_for_that_long() {
    let path = assess(&sound()).unwrap().path;
    let limit = |id: &str| path.links.iter().find(|l| l.id == id).unwrap().peaks[0].limit_a.unwrap();
    // Two cells of 35 A for 5 s; a trip of 70 A, 20 % low; a connector only its continuous rating.
    assert!((limit("cells") - 70.0).abs() < 1e-9);
    assert!((limit("board") - 56.0).abs() < 1e-9);
    assert!((limit("plug") - 30.0).abs() < 1e-9);
    // IEC 60364-5-54, silicone: 132 x 1.309 mm2 / sqrt(0.4 s).
    assert!((limit("lead") - 132.0 * 1.309 / 0.4f64.sqrt()).abs() < 0.5, "{}", limit("lead"));
    let long = with(&sound(), &[("device/loads/1/duration_s", json!(8.0))]);
    let path = assess(&long).unwrap().path;
    let cells = path.links.iter().find(|l| l.id == "cells").unwrap();
    assert_eq!(cells.peaks[0].limit_a, Some(40.0), "the pulse rating ends after 5 s");
}

#[test]
fn behind_a_converter_limits_are_referred_to_the_battery_side() {
    let buck = module(
        "converter",
        json!({"converts": {"topology": "buck", "output_v": 6.0, "wired_in": false, "efficiency": 0.9}}),
    );
    let plan = with(
        &sound(),
        &[
            ("converter", buck),
            (
                "runs/6/wire",
                json!({"state": "chosen", "part": {"offer": offer("device lead"), "insulation": "silicone",
            "size": {"standard": "awg", "awg": 16}, "bundled": false}}),
            ),
            ("runs/6/length_mm", json!(100.0)),
        ],
    );
    let assessment = assess(&plan).unwrap();
    let limit = |id: &str| assessment.path.links.iter().find(|l| l.id == id).unwrap().continuous_a.unwrap();
    // The same wire carries more current at 6 V than the battery gives for it at 12 V: 6 / (0.9 x 12).
    let ratio = limit("converter-device") / limit("lead");
    assert!((ratio - 6.0 / (0.9 * 12.0)).abs() < 1e-9, "{ratio}");
    // 9 A at 6 V are 54 W; at 90 % from 12 V they are 5 A.
    assert!((assessment.figure("load.usual_a").unwrap().value - 5.0).abs() < 1e-9);
}

#[test]
fn a_link_that_is_over_its_limit_carries_its_finding() {
    let path = assess(&with(&sound(), &[("plug/continuous_a", json!(8.0))])).unwrap().path;
    let plug = path.links.iter().find(|l| l.id == "plug").unwrap();
    assert_eq!(plug.severity, Some(Severity::Stop));
    assert_eq!(path.weakest.as_deref(), Some("plug"));
}

#[test]
fn a_part_decided_against_is_passed_through_like_wire() {
    let plan = with(&sound(), &[("fuse", json!({"state": "none"}))]);
    let way = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let ids: Vec<&str> = way.nodes.iter().map(|n| n.id.as_str()).collect();
    assert_eq!(ids, ["pack", "board", "switch", "plug", "device"]);
}

#[test]
fn an_open_part_breaks_the_circuit_only_where_it_is_there() {
    let plan = sound();
    let way = |state| plan.path(NodeKind::Pack, NodeKind::Device, state).nodes.len();
    assert!(way(StateName::Running) > 0);
    assert_eq!(way(StateName::Charging), 0, "the switch is open while charging");
    assert_eq!(way(StateName::Tripped), 0, "the board is open");
    let without = with(&sound(), &[("switch", json!({"state": "none"}))]);
    assert!(!without.path(NodeKind::Pack, NodeKind::Device, StateName::Charging).nodes.is_empty());
}

#[test]
fn a_ring_in_the_graph_does_not_trap_the_search() {
    let mut document = serde_json::to_value(sound()).unwrap();
    let ring = json!({"id": "ring", "from": "plug", "to": "board", "wire": {"state": "none"}, "length_mm": null});
    document["runs"].as_array_mut().unwrap().push(ring);
    let plan: brick_core::Plan = serde_json::from_value(document).unwrap();
    let way = plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running);
    assert!(way.nodes.len() >= 3 && way.connections.len() >= 2);
    assert!(assess(&plan).is_ok());
}

#[test]
fn the_nameplate_sums_what_is_priced_and_counts_what_is_not() {
    let assessment = assess(&sound()).unwrap();
    let plate = &assessment.nameplate;
    let value = |id: &str| assessment.figure(id).unwrap().value;
    assert_eq!(plate.counts, "4S2P");
    assert_eq!(plate.designation.as_deref(), Some("4INR19/66-2"));
    // Eight cells at 1, seven parts at 1, ten strips of 20 mm at 1 a metre, 0.6 m of wire at 1 a metre.
    assert!((value("plate.cost") - (8.0 + 6.0 + 0.2 + 0.6)).abs() < 1e-9, "{}", value("plate.cost"));
    assert_eq!((value("plate.days"), value("plate.unpriced")), (3.0, 0.0));
    for id in ["plate.cost", "plate.mass_g", "plate.weakest_a", "pack.full_v", "run.time_s"] {
        assert!(plate.figures.contains(&id), "{id} is not on the plate");
    }
    let fuse = chosen(
        "fuse",
        json!({"offer": {"name": "found in a drawer"}, "style": "blade", "rating_a": 15.0, "dc_v": 32.0, "breaking_a": 1000.0}),
    );
    let unpriced = assess(&with(&sound(), &[("fuse", fuse)])).unwrap();
    assert_eq!(unpriced.figure("plate.unpriced").unwrap().value, 1.0);
}

#[test]
fn a_stage_says_how_far_it_is_and_what_to_find_out_first() {
    let plan = with(
        &sound(),
        &[("cell/dcir_ohm", json!(null)), ("cell/discharge_a", json!(null)), ("device/highest_v", known(16.0))],
    );
    let assessment = assess(&plan).unwrap();
    let stage = |i: usize| &assessment.stages[i];
    assert_eq!(format!("{:?}", stage(1).verdict), "Stop", "voltage");
    let asks: Vec<&str> = stage(2).to_find_out.iter().map(|q| q.what.as_str()).collect();
    assert!(asks[0].starts_with("Continuous rating") && asks[1].starts_with("DCIR"), "{asks:?}");
    assert!(assessment.figure("pack.ohm").unwrap().assumed, "a typical resistance stands in, and says so");
    assert!(assessment.figure("run.time_s").unwrap().assumed);
}

/// Every ceiling that is drawn is a figure: it opens to its working, and the drawing shows what the ledger says.
#[test]
fn every_limit_of_the_path_is_a_figure_and_says_who_set_it() {
    let assessment = assess(&sound()).unwrap();
    let value = |id: &Option<String>| id.as_deref().and_then(|id| assessment.figure(id)).map(|f| f.value);
    assert_eq!(assessment.path.links.len(), 7);
    for link in &assessment.path.links {
        assert_eq!(value(&link.figure), link.continuous_a, "{}", link.id);
        assert!(link.continuous_a.is_none() || link.set_by != "nothing stated", "{}", link.id);
        assert_eq!(value(&Some(format!("link.used@{}", link.id))), link.used);
        for peak in &link.peaks {
            assert_eq!(value(&peak.figure), peak.limit_a, "{} for {}", link.id, peak.load);
        }
    }
    for link in &assessment.path.charge {
        assert_eq!(value(&link.figure), link.limit_a, "{}", link.id);
    }
}

/// 5 A behind a step-down to 9 V of 90 % are 9 / (0.9 x 12) = 0.833 times that at a pack that ends at 12 V.
#[test]
fn limits_behind_a_converter_are_referred_to_the_battery() {
    let converter = module(
        "converter",
        json!({"converts": {"topology": "buck", "output_v": 9.0, "wired_in": false, "efficiency": 0.9}}),
    );
    let plan =
        with(&sound(), &[("converter", converter), ("runs/6/wire", with_wire()), ("runs/6/length_mm", json!(100.0))]);
    let assessment = assess(&plan).unwrap();
    let behind = assessment.path.links.iter().find(|l| l.id == "converter-device").unwrap();
    let own_a = assessment.figure("wire.limit_a@converter-device").unwrap().value;
    assert!((behind.continuous_a.unwrap() / own_a - 9.0 / (0.9 * 12.0)).abs() < 1e-9);
}

fn with_wire() -> serde_json::Value {
    json!({"state": "chosen", "part": {"offer": {"name": "silicone 18 AWG"}, "insulation": "silicone",
        "size": {"standard": "awg", "awg": 18}, "bundled": false}})
}
