//! The sheets to print, read back: sizes in millimetres on A4, every label, nothing outside the page.

use brick_core::Plan;
use brick_core::assess::assess;
use brick_core::physics::brick::{Laid, Task, arrangements};
use brick_core::plan::{CellGroup, ChosenCell};
use brick_core::print::sheets::{Sheet, sheets};
use roxmltree::{Document, Node};

fn demo(name: &str) -> Plan {
    let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
    Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn pages(plan: &Plan) -> Vec<Sheet> {
    sheets(plan, &assess(plan).unwrap(), "2026-11-25")
}

fn number(node: Node<'_, '_>, name: &str) -> f64 {
    node.attribute(name).unwrap_or_else(|| panic!("no {name}")).parse().unwrap()
}

/// Millimetres a unit of the drawing stands for, through every nested window up to the page.
fn mm_per_unit(node: Node<'_, '_>) -> f64 {
    node.ancestors()
        .filter(|n| n.has_tag_name("svg"))
        .map(|n| {
            let length = n.attribute("width").unwrap();
            let width_mm: f64 = length.trim_end_matches("mm").parse().unwrap();
            let view: Vec<f64> = n.attribute("viewBox").unwrap().split(' ').map(|v| v.parse().unwrap()).collect();
            width_mm / view[2]
        })
        .product()
}

fn classed<'a>(page: &'a Document<'_>, class: &str) -> Vec<Node<'a, 'a>> {
    let has = |n: &Node<'_, '_>| n.attribute("class").is_some_and(|c| c.split(' ').any(|c| c == class));
    page.descendants().filter(has).collect()
}

const DEMO: [&str; 4] = ["bait-boat", "hedge-shears", "metal-detector", "star-tracker-mount"];

#[test]
fn every_page_is_a4_with_a_rule_of_fifty_millimetres() {
    for name in DEMO {
        let plan = demo(name);
        let pages = pages(&plan);
        let mut names: Vec<&str> = pages.iter().map(|s| s.name.as_str()).collect();
        assert!(names.contains(&"face-top") && names.contains(&"face-bottom") && names.contains(&"label"), "{names:?}");
        names.dedup();
        assert_eq!(names.len(), pages.len());
        for sheet in &pages {
            let page = Document::parse(&sheet.svg).unwrap_or_else(|e| panic!("{name} {}: {e}", sheet.name));
            let root = page.root_element();
            assert_eq!((root.attribute("width"), root.attribute("height")), (Some("210mm"), Some("297mm")));
            let rule = page.descendants().find(|n| n.attribute("id") == Some("rule")).unwrap();
            let length_mm = (number(rule, "x2") - number(rule, "x1")) * mm_per_unit(rule);
            assert!((length_mm - 50.0).abs() < 1e-9, "{length_mm}");
        }
    }
}

/// The cells of the demo's shears are 18.4 mm across and lie 18.9 mm apart: so the print must say.
#[test]
fn cells_and_strips_have_their_true_size_on_paper() {
    let plan = demo("hedge-shears");
    let pages = pages(&plan);
    let top = pages.iter().find(|s| s.name == "face-top").unwrap();
    let page = Document::parse(&top.svg).unwrap();
    let cells = classed(&page, "cell");
    assert_eq!(cells.len(), 8);
    let circle = |label: &str| {
        let cell = cells.iter().find(|c| c.attribute("data-label") == Some(label)).unwrap();
        let circle = cell.children().find(|n| n.has_tag_name("circle")).unwrap();
        let scale = mm_per_unit(circle);
        [number(circle, "cx") * scale, number(circle, "cy") * scale, 2.0 * number(circle, "r") * scale]
    };
    let ([ax, ay, a_mm], [bx, by, _]) = (circle("1a"), circle("1b"));
    assert!((a_mm - 18.4).abs() < 1e-6);
    assert!(((ax - bx).hypot(ay - by) - 18.9).abs() < 1e-6);
    for strip in classed(&page, "strip") {
        assert!((number(strip, "stroke-width") * mm_per_unit(strip) - 8.0).abs() < 1e-9);
    }
    // The written dimensions are those of the drawing.
    let laid = Laid::of(&plan).unwrap();
    let widest_mm = laid.grid.size_mm()[0];
    let dimension = classed(&page, "dimension")[0];
    assert!((number(dimension, "x2") - number(dimension, "x1") - widest_mm).abs() < 1e-9);
    assert!(page.descendants().any(|n| n.text().map(str::trim) == Some("75.1 mm")));
}

#[test]
fn a_face_larger_than_a_page_is_told_on_several_and_none_of_it_is_lost() {
    let mut plan = demo("star-tracker-mount");
    (plan.packs[0].series, plan.packs[0].parallel) = (Some(16), Some(10));
    plan.device.compartments[0].space =
        brick_core::plan::Space::Box { length_mm: 420.0, width_mm: 260.0, depth_mm: 90.0 };
    let found = arrangements(&Task::of(&plan).unwrap()).into_iter().find(|a| a.fits && a.layout.layers == 1).unwrap();
    plan.packs[0].brick.layout = Some(found.layout);
    let pages = pages(&plan);
    let top: Vec<&Sheet> = pages.iter().filter(|s| s.name.starts_with("face-top-")).collect();
    assert!(top.len() > 1);
    let mut seen = std::collections::HashSet::new();
    for sheet in top {
        let page = Document::parse(&sheet.svg).unwrap();
        let window = page.descendants().filter(|n| n.has_tag_name("svg")).nth(1).unwrap();
        let view: Vec<f64> = window.attribute("viewBox").unwrap().split(' ').map(|v| v.parse().unwrap()).collect();
        assert!((mm_per_unit(window) - 1.0).abs() < 1e-9);
        for cell in classed(&page, "cell") {
            let circle = cell.children().find(|n| n.has_tag_name("circle")).unwrap();
            let (x, y) = (number(circle, "cx"), number(circle, "cy"));
            if (view[0]..=view[0] + view[2]).contains(&x) && (view[1]..=view[1] + view[3]).contains(&y) {
                seen.insert(cell.attribute("data-label").unwrap().to_owned());
            }
        }
    }
    assert_eq!(seen.len(), 160);
}

#[test]
fn holes_are_drawn_at_their_diameter() {
    let plan = demo("bait-boat");
    let pages = pages(&plan);
    let sheet = pages.iter().find(|s| s.name == "holes-tray").unwrap();
    let page = Document::parse(&sheet.svg).unwrap();
    let holes: Vec<f64> = classed(&page, "drill").into_iter().map(|n| 2.0 * number(n, "r") * mm_per_unit(n)).collect();
    let wanted: Vec<f64> = plan.device.compartments[0].openings.iter().map(|o| o.hole_mm).collect();
    assert_eq!(holes, wanted);
}

/// IEC 61960-3 for four 18.4 x 65.2 mm cells in series, two in parallel; 4 x 3.6 V and 14.4 V x 5.0 Ah by hand.
#[test]
fn the_label_says_what_the_pack_is_and_what_it_must_not_suffer() {
    let mut plan = demo("hedge-shears");
    plan.name = format!("Shears <&> \"hedge\" {}", "long".repeat(24));
    let pages = pages(&plan);
    let label = pages.iter().find(|s| s.name == "label").unwrap();
    let page = Document::parse(&label.svg).unwrap();
    let text: String = page.descendants().filter_map(|n| n.text()).collect::<Vec<_>>().join(" ");
    for words in
        ["4INR19/66-2", "14.4 V", "5 Ah", "72 Wh", "2026-11-25", "16.8 V", "freezing", "Do not short", "Shears <&>"]
    {
        assert!(text.contains(words), "“{words}” in {text}");
    }
}

#[test]
fn chosen_cells_of_the_stock_stand_on_the_print() {
    let mut plan = demo("hedge-shears");
    let cell = |label: String| ChosenCell {
        stock_id: None,
        label,
        lot: None,
        capacity_ah: None,
        resistance_ohm: None,
        rested_v: None,
    };
    plan.packs[0].groups =
        (0..4).map(|g| CellGroup { cells: vec![cell(format!("K{g}1")), cell(format!("K{g}2"))] }).collect();
    let pages = pages(&plan);
    let top = pages.iter().find(|s| s.name == "face-top").unwrap();
    assert!(top.svg.contains("1a K01") && top.svg.contains("4b K32"));
}

#[test]
fn a_plan_without_a_layout_prints_no_face() {
    let plan = Plan::blank("pump");
    assert!(pages(&plan).is_empty());
}

#[test]
fn a_pack_whose_counts_are_open_has_no_label() {
    let mut plan = demo("metal-detector");
    assert!(pages(&plan).iter().any(|s| s.name == "label"));
    plan.packs[0].parallel = None;
    assert!(pages(&plan).iter().all(|s| s.name != "label"));
}
