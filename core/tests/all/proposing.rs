//! Whole plans from a survey: each without a stop, the best by its wish, none dominated, and what is refused with its reason.

mod jobs;

use crate::common;

use std::collections::HashSet;

use brick_core::advise::bill::bill;
use brick_core::advise::propose::{Merits, Proposal, Proposals, StockLot, Watcher, Wish, Wishes, propose};
use brick_core::advise::suggest::{options, suggest};
use brick_core::assess::{Severity, assess};
use brick_core::base::chemistry::Chemistry;
use brick_core::base::progress::{Progress, Unwatched};
use brick_core::parts::catalogue::{ItemPart, typical};
use brick_core::physics::device::jobs::template;
use brick_core::physics::grouping::Candidate;
use brick_core::plan::{CellSize, Change, Choice, EachCell, Job, NodeKind, ReadyKind, Topology, apply};
use brick_core::{Catalogue, Plan};
use common::known;
use serde_json::{Value, json};

fn amps(value: f64) -> Value {
    json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(value)}}])
}

fn with_start(usual: f64, start: f64) -> Value {
    json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": known(usual)}},
        {"id": "start", "name": "start", "draw": {"as": "current", "value_a": known(start)}, "duration_s": 0.4}])
}

fn survey(job: Job, answers: &[(&str, Value)]) -> Plan {
    let changes: Vec<Change> = answers.iter().map(|(at, value)| Change::put(format!("/{at}"), value)).collect();
    apply(&template(job, "Level"), &changes).unwrap()
}

fn old(chemistry: &str, series: u32) -> [(&'static str, Value); 2] {
    [("device/original/chemistry", json!(chemistry)), ("device/original/series", json!(series))]
}

fn shears() -> Plan {
    let mut answers = old("nickel", 12).to_vec();
    answers.extend([("device/wanted_run_s", json!(1500.0)), ("device/loads", with_start(9.0, 30.0))]);
    survey(Job::MotorTool, &answers)
}

fn proposed(survey: &Plan, wishes: &Wishes) -> Proposals {
    propose(survey, &typical(), &[], wishes, &Unwatched).unwrap()
}

fn best(found: &Proposals, wish: Wish) -> &Proposal {
    found.proposals.iter().find(|p| p.wishes.contains(&wish)).unwrap_or_else(|| panic!("no {wish:?}"))
}

fn stops(plan: &Plan) -> Vec<String> {
    let stop = |f: &&brick_core::assess::Finding| f.severity == Severity::Stop && f.accepted.is_none();
    assess(plan).unwrap().findings.iter().filter(stop).map(|f| f.key.clone()).collect()
}

/// Nothing is left open that the plan needs, nothing in it is a stop, and taking it over makes exactly it.
fn is_whole(survey: &Plan, p: &Proposal) {
    assert_eq!(stops(&p.plan), Vec::<String>::new(), "{}", p.name);
    assert_eq!(apply(survey, &p.changes).unwrap(), p.plan, "{}", p.name);
    let needed = [NodeKind::Board, NodeKind::Fuse, NodeKind::Charger];
    let open = p.plan.nodes.iter().filter(|n| needed.contains(&n.kind) && matches!(n.part, Choice::Undecided));
    assert_eq!(open.map(|n| n.id.as_str()).collect::<Vec<_>>(), Vec::<&str>::new(), "{}", p.name);
    let pack = &p.plan.packs[0];
    let cell = pack.cell.part().map(|c| &c.offer.name);
    let made_of = cell.or(pack.ready.part().map(|r| &r.offer.name));
    assert_eq!(made_of, Some(&p.made_of), "{}", p.name);
    let counted = format!("{}S", pack.series.unwrap());
    let chemistry = pack.chemistry.unwrap().facts().short;
    assert!(p.name.starts_with(&counted) && p.name.contains(chemistry), "{} of {counted} {chemistry}", p.name);
    assert!(p.merits.run_s.is_some() || p.plan.device.loads.is_empty(), "{} runs for an unknown time", p.name);
    let stays = pack.ready.part().is_some_and(|r| r.kind == ReadyKind::Kept);
    assert!(p.merits.mass_g.is_some() || stays, "{} weighs nothing known", p.name);
    says_nothing_for_the_maker(survey, p);
}

/// What only the maker can say stays as typed: the device, where it is used, how it is wired, what is accepted.
fn says_nothing_for_the_maker(survey: &Plan, p: &Proposal) {
    let (mut device, after) = (survey.device.clone(), &p.plan.device);
    // Worked out of what was typed, and said.
    (device.original.series, device.loads) = (after.original.series, after.loads.clone());
    assert_eq!(&device, after, "{}", p.name);
    assert_eq!(survey.environment, p.plan.environment, "{}", p.name);
    assert_eq!(survey.accepted, p.plan.accepted, "{}", p.name);
}

fn series(plan: &Plan) -> u32 {
    plan.packs[0].series.unwrap()
}

fn converter(plan: &Plan) -> Option<Topology> {
    plan.module(NodeKind::Converter).and_then(|m| m.converts.as_ref()).map(|c| c.topology)
}

fn board_a(plan: &Plan) -> f64 {
    plan.module(NodeKind::Board).and_then(|m| m.protects.as_ref()).and_then(|p| p.continuous_a).unwrap_or(0.0)
}

/// A plain Pareto filter leaves every proposal: none is worse than another in run, mass, price, lines, welds and cautions at once.
fn none_is_beaten(name: &str, found: &[Proposal]) {
    let scales = |p: &Proposal| {
        let m = &p.merits;
        let less = |v: Option<f64>| -v.unwrap_or(f64::MAX);
        [
            m.run_s.unwrap_or(0.0),
            less(m.mass_g),
            less(m.price),
            -(m.to_buy as f64),
            -f64::from(m.welded),
            -(p.cautions.len() as f64),
        ]
    };
    for a in found {
        let beaten = found.iter().find(|b| scales(b).iter().zip(&scales(a)).all(|(x, y)| x > y));
        assert!(beaten.is_none(), "{name}: {} is beaten by {}", a.name, beaten.unwrap().name);
    }
}

/// The same survey gives the same proposals, whatever runs beside it.
#[test]
fn proposals_are_the_same_again() {
    let told = |found: &Proposals| serde_json::to_string(found).unwrap();
    let survey = shears();
    assert_eq!(told(&proposed(&survey, &Wishes::default())), told(&proposed(&survey, &Wishes::default())));
}

/// A catalogue so small that every combination can be tried: two cells, two boards, a fuse, a plug, a switch, a wire, a strip, two chargers.
fn small() -> Catalogue {
    let offered = |mut item: Value, price: f64, days: f64| {
        let part = item["part"].as_object_mut().unwrap();
        let kind = part["kind"].as_str().unwrap().to_owned();
        part[&kind]["offer"]["price"] = json!(price);
        part[&kind]["offer"]["arrives_days"] = json!(days);
        item
    };
    let wanted = [
        ("typical-cell-power-cell-18650-2-5-ah", 4.0, 6.0),
        ("typical-cell-power-cell-21700-4-0-ah", 7.0, 2.0),
        ("typical-board-li-ion-4s-30", 13.0, 7.0),
        ("typical-board-li-ion-4s-60", 25.0, 2.0),
        ("typical-fuse-bolt-20", 2.0, 2.0),
        ("typical-fuse-bolt-25", 3.0, 2.0),
        ("typical-plug-60", 3.0, 1.0),
        ("typical-switch-60", 9.0, 3.0),
        ("typical-wire-silicone-12", 2.0, 1.0),
        ("typical-strip-30x10-2", 3.0, 3.0),
        ("typical-charger-li-ion-4s-200", 15.0, 4.0),
        ("typical-jack-5", 1.0, 2.0),
    ];
    let all = serde_json::to_value(typical()).unwrap();
    let find = |id: &str| {
        all["items"].as_array().unwrap().iter().find(|i| i["id"] == id).unwrap_or_else(|| panic!("{id}")).clone()
    };
    let items: Vec<Value> = wanted.iter().map(|&(id, price, days)| offered(find(id), price, days)).collect();
    Catalogue::from_json(&json!({"items": items}).to_string()).unwrap()
}

/// Every combination of the small catalogue for four Li-ion in series, direct, judged by `assess`: what the plans without a stop come to.
fn every_combination(survey: &Plan, catalogue: &Catalogue) -> Vec<(usize, Merits)> {
    let way = options(survey).unwrap().options.into_iter().find(|o| o.name == "4S Li-ion, direct").unwrap();
    let mut plans = vec![apply(survey, &way.changes).unwrap()];
    let widen = |plans: Vec<Plan>, place: &str| -> Vec<Plan> {
        plans
            .iter()
            .flat_map(|plan| {
                let found = suggest(plan, catalogue, place).unwrap();
                if found.is_empty() {
                    return vec![plan.clone()];
                }
                found.into_iter().map(|s| apply(plan, &s.changes).unwrap()).collect()
            })
            .collect()
    };
    for place in ["cell", "strip", "board", "fuse", "plug", "switch", "lead", "charger", "jack"] {
        plans = widen(plans, place);
    }
    let merits = |plan: Plan| {
        let assessment = assess(&plan).unwrap();
        if assessment.findings.iter().any(|f| f.severity == Severity::Stop) {
            return None;
        }
        let bill = bill(&plan, catalogue).unwrap();
        let cautions = assessment.findings.iter().filter(|f| f.severity == Severity::Caution).count();
        let merits = Merits {
            run_s: assessment.figure("run.time_s").map(|f| f.value),
            run_low_s: None,
            run_high_s: None,
            mass_g: assessment.figure("plate.mass_g").map(|f| f.value),
            price: Some(bill.to_buy_price),
            unpriced: bill.unpriced,
            arrives_days: bill.arrives_days,
            to_buy: bill.to_buy_lines,
            welded: 0,
            at_hand: 0.0,
        };
        Some((cautions, merits))
    };
    plans.into_iter().filter_map(merits).collect()
}

/// Every combination through `assess` proves that the best of each wish was found, of those that run as long as is wanted.
#[test]
fn the_best_by_each_wish_is_the_best_of_all_combinations() {
    let (survey, catalogue) = (shears(), small());
    let all = every_combination(&survey, &catalogue);
    assert!(all.len() > 4, "{}", all.len());
    let found = propose(&survey, &catalogue, &[], &Wishes::default(), &Unwatched).unwrap();
    // Of those that run as long as is wanted, with no more cautions than the proposal has.
    let least = |of: fn(&Merits) -> f64, most: usize| {
        let fair = all.iter().filter(|(cautions, m)| *cautions <= most && m.run_s.unwrap() >= 0.9 * 1500.0);
        fair.map(|(_, m)| of(m)).fold(f64::MAX, f64::min)
    };
    for (wish, of) in [
        (Wish::Cheapest, (|m: &Merits| m.price.unwrap()) as fn(&Merits) -> f64),
        (Wish::Soonest, |m: &Merits| m.arrives_days.unwrap()),
        (Wish::Lightest, |m: &Merits| m.mass_g.unwrap()),
    ] {
        let proposal = best(&found, wish);
        let (got, least) = (of(&proposal.merits), least(of, proposal.cautions.len()));
        // Place by place the better part is taken; what that may miss of the best is a fiftieth.
        assert!(got <= 1.02 * least + 1e-9, "{wish:?}: {got} where {least} is the best");
    }
}

/// Wishes are kept: no cell is welded, nothing is cut, the charger is fed from USB; and the wanted one comes first.
#[test]
fn what_must_be_so_is_so() {
    let survey = shears();
    let found = proposed(&survey, &Wishes { no_welding: true, ..Wishes::default() });
    assert!(
        !found.proposals.is_empty()
            && found.proposals.iter().all(|p| p.merits.welded == 0 && p.plan.packs[0].cell.part().is_none())
    );
    let found = proposed(&survey, &Wishes { reversible: true, ..Wishes::default() });
    assert!(found.proposals.iter().all(|p| p.plan.feed.outside.is_some()), "outside on a plug or adapter");
    let found = proposed(&survey, &Wishes { usb: true, ..Wishes::default() });
    for p in &found.proposals {
        let charges = p.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref()).unwrap();
        assert!(!charges.own_supply, "{}", p.name);
    }
    for wish in [Wish::Simplest, Wish::Longest, Wish::Lightest] {
        let found = proposed(&survey, &Wishes { first: Some(wish), ..Wishes::default() });
        assert!(found.proposals[0].wishes.contains(&wish), "{wish:?}: {:?}", found.proposals[0].wishes);
    }
}

/// What is chosen already stays: a maker's board, the chemistry and count.
#[test]
fn what_the_survey_has_chosen_is_kept() {
    let parts = typical();
    let board = parts.items.iter().find(|i| i.id == "typical-board-li-ion-4s-60").unwrap();
    let ItemPart::Module { module } = &board.part else { panic!("no module") };
    let mut survey = shears();
    survey.packs[0].chemistry = Some(Chemistry::LiIon);
    survey.packs[0].series = Some(4);
    let node = survey.nodes.iter_mut().find(|n| n.kind == NodeKind::Board).unwrap();
    node.part = Choice::chosen(brick_core::plan::Part::Module { module: module.clone() });
    let found = proposed(&survey, &Wishes::default());
    assert!(!found.proposals.is_empty());
    for p in &found.proposals {
        assert_eq!((p.plan.packs[0].chemistry, series(&p.plan)), (Some(Chemistry::LiIon), 4), "{}", p.name);
        assert!((board_a(&p.plan) - 60.0).abs() < 1e-9, "{}", p.name);
    }
}

/// A plan that is finished has one way, its own; afresh it is as its survey.
#[test]
fn from_the_survey_alone_what_was_chosen_counts_for_nothing() {
    let finished = common::sound();
    let kept = proposed(&finished, &Wishes::default());
    assert!(kept.proposals.iter().all(|p| p.plan.packs[0].cell == finished.packs[0].cell), "its cells stay");
    let afresh = proposed(&finished, &Wishes { afresh: true, ..Wishes::default() });
    let made_of: HashSet<&str> = afresh.proposals.iter().map(|p| p.made_of.as_str()).collect();
    assert!(made_of.len() > 1, "{made_of:?}");
    for p in &afresh.proposals {
        is_whole(&finished, p);
        assert_eq!(p.plan.device.loads, finished.device.loads);
    }
}

/// Every demo plan, as it is and from its survey alone, with parts and tested cells at hand, gets whole plans and nothing else.
#[test]
fn nothing_but_whole_plans_is_proposed() {
    let read = |file: &std::path::Path| std::fs::read_to_string(file).unwrap();
    let demo = std::path::Path::new("../demo");
    let catalogue = Catalogue::from_json(&read(&demo.join("catalogue.json"))).unwrap().with_typical();
    let mut files: Vec<_> = demo.join("plans").read_dir().unwrap().map(|f| f.unwrap().path()).collect();
    files.sort();
    assert!(files.len() >= 4, "{files:?}");
    let mut seen = 0;
    for file in files {
        let plan = Plan::from_json(&read(&file)).unwrap();
        for (afresh, no_welding) in [(false, false), (true, false), (true, true)] {
            let wishes = Wishes { afresh, no_welding, ..Wishes::default() };
            let found = propose(&plan, &catalogue, &[stock(40)], &wishes, &Unwatched).unwrap();
            for p in &found.proposals {
                is_whole(&plan, p);
                seen += 1;
            }
            none_is_beaten(&file.display().to_string(), &found.proposals);
            each_looks_different(&found.proposals);
            for r in &found.refusals {
                assert!(r.why.is_some() || r.look_for.is_some(), "{}: {}: no reason", file.display(), r.title.text);
            }
        }
    }
    assert!(seen > 20, "{seen}");
}

/// Two proposals that a maker could not tell apart are one.
fn each_looks_different(found: &[Proposal]) {
    let looks = |p: &Proposal| {
        let m = &p.merits;
        let shown = |v: Option<f64>| v.map(|v| format!("{v:.1}"));
        (p.name.clone(), p.made_of.clone(), m.to_buy, shown(m.run_s), shown(m.mass_g), shown(m.price))
    };
    let all: Vec<_> = found.iter().map(looks).collect();
    let once: HashSet<_> = all.iter().collect();
    assert_eq!(once.len(), all.len(), "{all:?}");
}

/// Own cells, and the maker's priced parts among the typical ones: what is cheapest and what is there soonest come to the same parts.
#[test]
fn what_comes_to_the_same_is_proposed_once() {
    let demo = std::fs::read_to_string("../demo/catalogue.json").unwrap();
    let catalogue = Catalogue::from_json(&demo).unwrap().with_typical();
    for (series, draws_a) in [(10, 8.0), (12, 8.0), (10, 4.0), (6, 5.0), (12, 3.0)] {
        let mut answers = old("lead_acid", series).to_vec();
        answers.extend([("device/loads", amps(draws_a)), ("device/wanted_run_s", json!(3600.0))]);
        let found =
            propose(&survey(Job::MotorTool, &answers), &catalogue, &[stock(40)], &Wishes::default(), &Unwatched);
        each_looks_different(&found.unwrap().proposals);
    }
}

/// One whole plan is shown while the others are looked for.
#[test]
fn the_first_is_shown_long_before_the_end() {
    struct Sees(std::sync::Mutex<(f64, Vec<(f64, Proposals)>)>);
    impl Progress for Sees {
        fn step(&self, done_share: f64) -> bool {
            self.0.lock().unwrap().0 = done_share;
            true
        }
    }
    impl Watcher for Sees {
        fn first(&self, found: Proposals) {
            let mut seen = self.0.lock().unwrap();
            let at = seen.0;
            seen.1.push((at, found));
        }
    }
    let (survey, sees) = (shears(), Sees(std::sync::Mutex::default()));
    let all = propose(&survey, &typical(), &[], &Wishes::default(), &sees).unwrap();
    let (_, shown) = sees.0.into_inner().unwrap();
    let [(at, first)] = &shown[..] else { panic!("{} times", shown.len()) };
    assert!(*at < 0.5 && first.proposals.len() == 1 && all.proposals.len() > 1, "{at}");
    is_whole(&survey, &first.proposals[0]);
}

fn stock(count: usize) -> StockLot {
    let cell = serde_json::from_value(json!({"offer": {"name": "scanner cells", "price": 0.0, "arrives_days": 0.0, "mass_g": 45.0}, "chemistry": "li_ion",
        "size": {"shape": "cylindrical", "diameter_mm": 18.3, "length_mm": 65.2}, "origin": "salvaged", "tested": true, "rated_ah": 2.4,
        "dcir_ohm": known(0.03), "discharge_a": 15.0, "pulse_a": 20.0, "pulse_s": 5.0, "charge_a": 1.2}))
    .unwrap();
    let candidate = |i: usize| Candidate {
        label: format!("C{i:02}"),
        capacity_ah: Some(2.2 + 0.01 * (i * 7 % 20) as f64),
        resistance_ohm: Some(0.03 + 0.0002 * (i * 3 % 10) as f64),
        rested_v: Some(3.7),
        drop_v: None,
        keep_with: None,
        lot: Some("scanner packs".to_owned()),
        locked: None,
        excluded: None,
    };
    StockLot { cell, cells: (0..count).map(|i| (Some(format!("id-{i}")), candidate(i))).collect() }
}

/// Own tested cells are grouped as they stand, each with its id for the reservation; too few of them are refused.
#[test]
fn own_tested_cells_are_used_first() {
    let survey = shears();
    let found = propose(&survey, &typical(), &[stock(30)], &Wishes::default(), &Unwatched).unwrap();
    let own = best(&found, Wish::AtHand);
    is_whole(&survey, own);
    let groups = &own.plan.packs[0].groups;
    assert_eq!(groups.len(), series(&own.plan) as usize);
    let ids: Vec<&str> = groups.iter().flat_map(|g| &g.cells).filter_map(|c| c.stock_id.as_deref()).collect();
    assert_eq!(ids.len(), groups.iter().map(|g| g.cells.len()).sum::<usize>(), "every cell has its id");
    assert_eq!(ids.iter().collect::<HashSet<_>>().len(), ids.len(), "no cell twice");
    assert!(own.why.text.contains("of your tested cells"), "{}", own.why.text);
    let few = propose(&survey, &typical(), &[stock(3)], &Wishes::default(), &Unwatched).unwrap();
    assert!(few.proposals.iter().all(|p| p.plan.packs[0].groups.is_empty()), "three cells make no four in series");
}

/// Own cells that would not fit in the wanted count are grouped again in the count that fits, each group whole.
#[test]
fn own_cells_are_grouped_as_the_place_allows() {
    let mut answers = old("nickel", 12).to_vec();
    answers.extend([("device/wanted_run_s", json!(10_800.0)), ("device/loads", amps(2.0))]);
    let roomy = survey(Job::MotorTool, &answers);
    let bay = json!([{"id": "bay", "name": "bay", "space": {"shape": "box", "length_mm": 60.0, "width_mm": 50.0, "depth_mm": 80.0}}]);
    let tight = common::with(&roomy, &[("device/compartments", bay)]);
    let parallel = |survey: &Plan| {
        let found = propose(survey, &typical(), &[stock(40)], &Wishes::default(), &Unwatched).unwrap();
        let own = found.proposals.iter().find(|p| !p.plan.packs[0].groups.is_empty()).expect("own cells are used");
        is_whole(survey, own);
        let pack = &own.plan.packs[0];
        assert!(pack.groups.iter().all(|g| Some(g.cells.len()) == pack.parallel.map(|p| p as usize)), "{}", own.name);
        pack.parallel.unwrap()
    };
    // 2 A for 3 h are 6 Ah: three of 2.3 Ah; beside them lies no more than one row of four.
    assert_eq!((parallel(&roomy), parallel(&tight)), (3, 1));
}

/// Without a board for phosphate the way is refused with the figures to look for: what it must carry, and where it may trip.
#[test]
fn a_missing_part_is_said_with_its_figures() {
    let mut catalogue = typical();
    catalogue.items.retain(|i| !matches!(&i.part, ItemPart::Module { module } if module.protects.as_ref().is_some_and(|p| p.chemistry == Some(Chemistry::LiFePo4))));
    catalogue.items.retain(|i| !matches!(i.part, ItemPart::Pack { .. }));
    let found = propose(&shears(), &catalogue, &[], &Wishes::default(), &Unwatched).unwrap();
    let refused = found.refusals.iter().find(|r| r.name == "4S LiFePO4, direct").unwrap();
    let look_for = refused.look_for.as_ref().unwrap();
    // 9 A and a quarter in hand are 12 A; the start of 30 A must not trip it.
    for figure in ["4S LiFePO4 board", "3.65 V per cell", "at least 12 A", "trips at 35–48 A", "0.4 s"] {
        assert!(look_for.contains(figure), "{look_for}: no {figure}");
    }
}

/// A way that a stop refuses says it with both figures.
#[test]
fn refusals_say_the_deciding_figures() {
    let answers = [("device/lowest_v", known(11.0)), ("device/highest_v", known(13.8)), ("device/loads", amps(1.0))];
    let found = proposed(&survey(Job::Pump, &answers), &Wishes::default());
    let refused = found.refusals.iter().find(|r| r.name == "4S LiFePO4, direct").unwrap();
    let why = &refused.why.as_ref().unwrap().text;
    assert!(why.contains("14.6 V") && why.contains("13.8 V"), "{why}");
}

/// From the battery alone something is proposed, and it says which measurement would overturn it; without it, what is asked first.
#[test]
fn what_is_not_known_is_carried() {
    let found = proposed(&shears(), &Wishes::default());
    assert!(found.proposals.iter().all(|p| p.provisional.is_some()), "the highest voltage is only assumed");
    assert!(found.assumed.is_empty());
    let bare = survey(Job::MotorTool, &[("device/loads", amps(5.0))]);
    let mut unknown = bare.clone();
    unknown.device.original.chemistry = None;
    let found = proposed(&unknown, &Wishes::default());
    assert!(found.proposals.is_empty() && found.missing.unwrap().contains("maximum voltage"));
    let timeless = survey(Job::MotorTool, &[old("nickel", 12).to_vec(), vec![("device/loads", amps(5.0))]].concat());
    let found = proposed(&timeless, &Wishes::default());
    assert!(found.assumed.iter().any(|a| a.contains("30 min")));
    assert!(
        found.proposals.iter().all(|p| p.plan.device.wanted_run_s.is_none()),
        "no wish is put into the maker's mouth"
    );
}

/// Five answers are enough: the volts printed on the battery tell its cells, its capacity and how long it ran the current; by hand 2.4 Ah in
/// 24 min are 6 A, and 14.4 V of nickel are twelve cells.
#[test]
fn five_answers_are_enough() {
    let answers = [
        ("device/original/chemistry", json!("nickel")),
        ("device/original/label_v", json!(14.4)),
        ("device/original/capacity_ah", known(2.4)),
        ("device/original/run_s", known(1440.0)),
        ("device/wanted_run_s", json!(1800.0)),
    ];
    let survey = survey(Job::MotorTool, &answers);
    let found = proposed(&survey, &Wishes::default());
    for said in ["12 cells in series", "mean of 6 A"] {
        assert!(found.assumed.iter().any(|a| a.contains(said)), "{said}: {:?}", found.assumed);
    }
    assert!(!found.proposals.is_empty());
    for p in &found.proposals {
        assert_eq!(p.plan.device.original.series, Some(12));
        is_whole(&survey, p);
    }
}

/// What does not fit its compartment is no proposal; what fits has its layout.
#[test]
fn what_is_proposed_fits() {
    let mut tight = shears();
    let bay = |length_mm: f64| json!([{"id": "bay", "name": "bay", "space": {"shape": "box", "length_mm": length_mm, "width_mm": 45.0, "depth_mm": 80.0}}]);
    tight = common::with(&tight, &[("device/compartments", bay(95.0))]);
    let found = proposed(&tight, &Wishes::default());
    let welded: Vec<&Proposal> = found.proposals.iter().filter(|p| p.merits.welded > 0).collect();
    assert!(!welded.is_empty());
    for p in welded {
        assert!(p.plan.packs[0].brick.layout.is_some(), "{} has no layout", p.name);
    }
    let none = common::with(&shears(), &[("device/compartments", bay(20.0))]);
    assert!(
        proposed(&none, &Wishes::default()).proposals.iter().all(|p| p.merits.welded == 0),
        "no cell fits into 20 mm"
    );
}

/// Ended by whoever watches, it ends with what it has.
#[test]
fn it_can_be_ended() {
    struct Ends;
    impl Progress for Ends {
        fn step(&self, _: f64) -> bool {
            false
        }
    }
    impl Watcher for Ends {}
    let found = propose(&shears(), &typical(), &[], &Wishes::default(), &Ends).unwrap();
    assert!(found.proposals.is_empty());
}

/// The parts that ship can stand, each id once; and every pack of up to fourteen in series gets a proposal, in every chemistry, below 60 V.
#[test]
fn the_typical_parts_serve_every_pack() {
    let parts = typical();
    let ids: HashSet<&str> = parts.items.iter().map(|i| i.id.as_str()).collect();
    assert_eq!(ids.len(), parts.items.len(), "an id twice");
    let read = Catalogue::from_json(&serde_json::to_string(&parts).unwrap()).unwrap();
    assert_eq!(read, parts);
    assert!(parts.items.iter().all(|i| i.note.contains("typical") && i.offer().price.is_none()));
    for chemistry in [
        Chemistry::LiIon,
        Chemistry::LiPo,
        Chemistry::LiHv,
        Chemistry::LiFePo4,
        Chemistry::LiTitanate,
        Chemistry::NaIon,
    ] {
        for count in [1, 2, 4, 7, 10, 13, 14] {
            let facts = chemistry.facts();
            let n = f64::from(count);
            if facts.full_v * n > 60.0 {
                continue;
            }
            let answers = [
                ("device/lowest_v", known(facts.cutoff_v * n * 0.9)),
                ("device/highest_v", known(facts.full_v * n * 1.02)),
                ("device/loads", amps(1.5)),
                ("packs/0/chemistry", serde_json::to_value(chemistry).unwrap()),
                ("packs/0/series", json!(count)),
            ];
            let found = proposed(&survey(Job::ToyOrModel, &answers), &Wishes::default());
            let why: Vec<&str> = found.refusals.iter().map(|r| r.title.text.as_str()).collect();
            assert!(!found.proposals.is_empty(), "{count}S {}: {why:?}", facts.short);
        }
    }
}
