//! From the parts list to a working device: every kind of job gives a sheet whose order harms nothing, whose bands hold what a
//! sound pack reads, and whose gates shut behind what does not.

use crate::common;

use std::collections::{BTreeSet, HashMap, HashSet};

use brick_core::Plan;
use brick_core::build::{
    BuildAsk, BuildEvent, BuildSheet, BuildStep, Counts, Expects, Found, Phase, Stands, What, admit, again, progress,
    sheet,
};
use brick_core::plan::{Change, apply};
use common::{jobs, sound, with};
use serde::Deserialize;
use serde_json::json;

fn demo(name: &str) -> Plan {
    let path = format!("{}/../demo/plans/{name}.brick.json", env!("CARGO_MANIFEST_DIR"));
    Plan::from_json(&std::fs::read_to_string(path).unwrap()).unwrap()
}

fn event(step: &str, happened: What) -> BuildEvent {
    BuildEvent { step: step.to_owned(), at: "2026-03-02T10:00:00Z".to_owned(), happened }
}

fn read(step: &str, ask: &str, value: f64) -> BuildEvent {
    event(step, What::Read { ask: ask.to_owned(), value, meter: None })
}

/// What a bench would answer: the middle of each band, yes to each question.
fn answers(ask: &BuildAsk, step: &BuildStep) -> BuildEvent {
    let at = step.key.as_str();
    // A charger that tapers at its end, behind a board that is closed.
    if let (Some(limits), false) = (&step.ends, ask.expects == Expects::Yes) {
        let value = if ask.key == "end-current" { limits.tapered_a / 2.0 } else { limits.end_v };
        return read(at, &ask.key, value);
    }
    let step = at;
    match &ask.expects {
        Expects::Yes => event(step, What::Answered { ask: ask.key.clone(), yes: true }),
        Expects::Unknown { .. } => read(step, &ask.key, 1.0),
        Expects::Band { low, high, .. } => {
            let value = match (low, high) {
                (Some(low), Some(high)) => (low + high) / 2.0,
                (Some(low), None) => low * 2.0,
                (None, high) => high.unwrap_or(0.0),
            };
            read(step, &ask.key, value)
        }
    }
}

/// Does every step until one is reached, taking each event through the gate.
fn until(plan: &Plan, key: &str) -> Vec<BuildEvent> {
    let mut events: Vec<BuildEvent> = vec![];
    let order: Vec<String> = sheet(plan, &[]).unwrap().steps.into_iter().map(|s| s.key).collect();
    for at in order.iter().take_while(|k| *k != key) {
        let mut now = sheet(plan, &events).unwrap();
        for i in 0..now.step(at).unwrap().asks.len() {
            let step = now.step(at).unwrap();
            let event = answers(&step.asks[i], step);
            admit(&now, &events, &event).unwrap_or_else(|e| panic!("{}: {at}: {event:?}: {e:?}", plan.name));
            events.push(event);
            if at == "brick/groups" {
                // What is predicted of the whole pack moves with its groups.
                now = sheet(plan, &events).unwrap();
            }
        }
        let done = event(at, What::Done);
        admit(&now, &events, &done).unwrap_or_else(|e| panic!("{}: {at}: {e:?}", plan.name));
        events.push(done);
    }
    events
}

fn place(sheet: &BuildSheet, key: &str) -> usize {
    sheet.steps.iter().position(|s| s.key == key).unwrap_or_else(|| panic!("{}: no {key}", sheet.plan))
}

fn stands(sheet: &BuildSheet, events: &[BuildEvent], key: &str) -> Stands {
    progress(sheet, events).steps.into_iter().find(|s| s.key == key).unwrap().stands
}

/// All jobs: no step before what it needs, never two faces bare, nothing live without a word on what can hurt, every band the right
/// way round, every reading with what to do otherwise.
#[test]
fn every_kind_of_job_gives_a_sheet_in_an_order_that_harms_nothing() {
    for (name, plan) in jobs::plans() {
        let made = sheet(&plan, &[]).unwrap_or_else(|e| panic!("{name}: {e:?}"));
        let mut before: HashSet<&str> = HashSet::new();
        let mut phase = Phase::Apart;
        for step in &made.steps {
            assert!(step.needs.iter().all(|key| before.contains(key.as_str())), "{name}: {} comes too early", step.key);
            assert!(before.insert(&step.key), "{name}: {} is there twice", step.key);
            assert!(step.phase >= phase, "{name}: {} is out of its phase", step.key);
            phase = step.phase;
            assert!(step.bare.len() <= 1, "{name}: {} bares {:?}", step.key, step.bare);
            let words = step.title.split_whitespace().count();
            assert!(!step.title.is_empty() && words <= 22 && !step.why.is_empty(), "{name}: {}", step.title);
            let solders =
                step.key.starts_with("lead/") || step.key == "board/minus" || step.key.starts_with("brick/weld");
            assert!(!solders || !step.hazard.is_empty(), "{name}: {} is done on live cells", step.key);
            assert!(step.asks.is_empty() || !step.if_not.is_empty() || step.key == "label", "{name}: {}", step.key);
            let keys: BTreeSet<&str> = step.asks.iter().map(|a| a.key.as_str()).collect();
            assert_eq!(keys.len(), step.asks.len(), "{name}: {} asks twice by one key", step.key);
            for ask in &step.asks {
                if let Expects::Band { low: Some(low), high: Some(high), because, .. } = &ask.expects {
                    assert!(low < high && !because.is_empty(), "{name}: {} {}: {low} to {high}", step.key, ask.key);
                }
            }
        }
        assert!(made.steps.len() > 8, "{name}: only {} steps", made.steps.len());
        let first_power = made.steps.iter().filter(|s| s.phase == Phase::FirstPower).count();
        assert!(first_power >= 3, "{name}: {first_power} steps of first power");
    }
}

/// What a kind of job has of its own is led through as well: both positions of a selector, a change-over, a gauge with its
/// alarms, a cut-off that is set, water kept out; and nothing is asked that the plan has no place for.
#[test]
fn what_only_some_jobs_have_is_proved_there_and_not_elsewhere() {
    let step = |plan: &Plan, key: &str| sheet(plan, &[]).unwrap().steps.into_iter().find(|s| s.key == key);
    let place = |plan: &Plan, key: &str| place(&sheet(plan, &[]).unwrap(), key);
    let asked = |step: &BuildStep, what: &str| step.asks.iter().any(|a| a.what.contains(what));

    let second = json!({"series": 4, "capacity_ah": 4.0, "used_in_series": true, "used_in_parallel": true});
    let two = with(&sound(), &[("feed/second", second)]);
    let selector = step(&two, "power/selector").unwrap();
    let volts: Vec<f64> = selector
        .asks
        .iter()
        .filter_map(|a| if let Expects::Band { high: Some(high), .. } = a.expects { Some(high) } else { None })
        .collect();
    assert_eq!(volts.len(), 2);
    assert!((volts[0] / volts[1] - 2.0).abs() < 0.1, "in series twice as much: {volts:?}");
    assert!(step(&sound(), "power/selector").is_none() && step(&sound(), "power/change-over").is_none());

    let over = with(&sound(), &[("feed/change_over", json!({"by": "relay"}))]);
    assert!(asked(&step(&over, "power/change-over").unwrap(), "restarts"));

    let alarms = json!([{"name": "low", "at_v": common::known(12.0)}, {"name": "last", "at_v": common::known(11.0)}]);
    let gauge = with(&sound(), &[("device/brains/alarms", alarms)]);
    let functions = step(&gauge, "functions").unwrap();
    assert!(asked(&functions, "shows full") && asked(&functions, "“low”") && asked(&functions, "“last”"));
    assert!(!asked(&step(&sound(), "functions").unwrap(), "shows full"));

    let wet = with(&sound(), &[("device/surroundings/wet", json!(true))]);
    assert!(asked(&step(&wet, "together").unwrap(), "Gaskets"));
    assert!(!asked(&step(&sound(), "together").unwrap(), "Gaskets"));

    // A supply and the pack are never on one lead.
    assert!(place(&sound(), "power/device-limited") < place(&sound(), "power/pack"));
}

/// A pack that comes whole is looked at and read, and nothing in it is joined.
#[test]
fn a_pack_that_comes_whole_is_not_built() {
    for (outside, groups) in [("plug", 4), ("adapter", 0)] {
        let made = sheet(&with(&sound(), &[("feed/outside", json!(outside))]), &[]).unwrap();
        let keys: Vec<&str> = made.steps.iter().map(|s| s.key.as_str()).collect();
        let joins = |key: &&&str| {
            let own = key.starts_with("brick/") && **key != "brick/groups";
            own || ["cells/volts", "board/minus", "board/plug", "board/taps"].contains(*key)
        };
        assert_eq!(keys.iter().find(joins), None, "{outside}: {keys:?}");
        assert!(keys.contains(&"board/out") && keys.contains(&"power/pack"), "{outside}: {keys:?}");
        let read = made.steps.iter().find(|s| s.key == "brick/groups").unwrap();
        let of_groups = read.asks.iter().filter(|a| a.what.starts_with("group")).count();
        assert_eq!((of_groups, read.asks.len()), (groups, groups + 1), "{outside}");
    }
}

/// A fuse that carries less than the board trips at is not in the way of the test.
#[test]
fn the_trip_is_proved_where_the_fuse_does_not_blow_first() {
    let how = |plan: &Plan| {
        let steps = sheet(plan, &[]).unwrap().steps;
        steps.into_iter().find(|s| s.key == "trips/over-current").unwrap().how[0].clone()
    };
    let trip_a = |a: f64| with(&sound(), &[("board/protects/trip_a", common::known(a))]);
    assert!(how(&trip_a(60.0)).starts_with("Before the fuse"), "{}", how(&trip_a(60.0)));
    assert!(how(&trip_a(2.0)).starts_with("Behind the fuse"), "{}", how(&trip_a(2.0)));
}

/// One cell in series has no group to add up and no tap to read.
#[test]
fn a_single_group_is_not_told_of_taps_and_sums() {
    let (_, plan) = jobs::plans().into_iter().find(|(name, _)| name.contains("up to three cells in parallel")).unwrap();
    let made = sheet(&plan, &[]).unwrap();
    for step in made.steps.iter().filter(|s| matches!(s.phase, Phase::Brick | Phase::Board)) {
        let words = [&step.title, &step.why, &step.if_not].into_iter().chain(&step.how).cloned().collect::<Vec<_>>();
        let told = words.join(" ");
        let mut single = told.split(|c: char| !c.is_alphabetic());
        assert!(!single.any(|w| ["tap", "taps", "Tap", "sum", "Sum"].contains(&w)), "{told}");
    }
}

/// Whoever reads what is predicted gets from the first screw to the label, through every gate.
#[test]
fn every_plan_without_a_stop_can_be_built_to_its_end() {
    let mut built = 0;
    let named = [("sound", sound()), ("bait boat", demo("bait-boat")), ("star tracker", demo("star-tracker-mount"))];
    for (name, plan) in named.into_iter().chain(jobs::plans()) {
        let made = sheet(&plan, &[]).unwrap();
        if !made.stops.is_empty() || made.undecided.iter().any(|u| u.shuts.is_some()) {
            continue;
        }
        let events = until(&plan, "nothing is called so");
        let made = sheet(&plan, &events).unwrap();
        let now = progress(&made, &events);
        assert_eq!((now.done, now.next), (made.steps.len(), None), "{name}");
        built += 1;
    }
    assert!(built >= 3, "only {built} could be built");
}

#[test]
fn a_board_gets_its_minus_first_and_its_taps_are_read_before_the_plug_goes_in() {
    let made = sheet(&sound(), &[]).unwrap();
    let order = [
        "cells/volts",
        "brick/groups",
        "board/minus",
        "board/taps",
        "board/plug",
        "board/out",
        "power/continuity",
        "power/pack",
        "power/fuse",
        "power/load",
        "charge/start",
        "charge/end",
        "charge/groups",
        "functions",
        "run/timed",
        "together",
        "label",
        "storage",
    ];
    let places: Vec<usize> = order.iter().map(|key| place(&made, key)).collect();
    assert!(places.is_sorted(), "{order:?} {places:?}");
    let solder = made.steps.iter().rposition(|s| s.key.starts_with("lead/")).unwrap();
    assert!(solder < place(&made, "power/continuity"), "nothing is powered before the last lead is on");
}

#[test]
fn a_stop_in_the_plan_shuts_everything_that_joins() {
    let plan = with(&sound(), &[("board", json!({"state": "none"}))]);
    let made = sheet(&plan, &[]).unwrap();
    assert!(!made.stops.is_empty());
    let state = progress(&made, &[]);
    for (step, state) in made.steps.iter().zip(&state.steps) {
        if step.phase > Phase::Cells {
            assert_eq!(state.stands, Stands::Shut, "{}", step.key);
            let refused = admit(&made, &[], &event(&step.key, What::Opened { reason: "in a hurry".to_owned() }));
            assert!(refused.is_err(), "{} opens although the plan has a stop", step.key);
        }
    }
    let free = made.steps.iter().zip(&state.steps).filter(|(step, _)| step.phase == Phase::Arrival);
    assert!(free.clone().count() > 0 && free.clone().all(|(_, s)| s.stands == Stands::Open), "parts can be tested");
}

#[test]
fn a_pack_without_a_decided_guard_is_not_powered() {
    let plan = with(&sound(), &[("board", json!({"state": "open"})), ("charger", json!({"state": "open"}))]);
    let made = sheet(&plan, &[]).unwrap();
    let state = progress(&made, &[]);
    let at = place(&made, "power/continuity");
    assert!(
        state.steps[at].says.contains(&"Decide in the plan first: board.".to_owned()),
        "{:?}",
        state.steps[at].says
    );
    let charge = place(&made, "charge/start");
    assert!(state.steps[charge].says.iter().any(|s| s.contains("charger")));
}

#[test]
fn a_wrong_tap_shuts_the_plug_until_it_is_right_or_a_reason_is_written() {
    let plan = sound();
    let mut events = until(&plan, "board/taps");
    let made = sheet(&plan, &events).unwrap();
    let taps = made.step("board/taps").unwrap();
    for ask in &taps.asks {
        events.push(answers(ask, made.step("board/taps").unwrap()));
    }
    // Two pins exchanged: each shows what the other should.
    let middle = |ask: &BuildAsk| match &ask.expects {
        Expects::Band { low: Some(low), high: Some(high), .. } => (low + high) / 2.0,
        other => panic!("{other:?}"),
    };
    let [one, two] = [middle(&taps.asks[0]), middle(&taps.asks[1])];
    events.push(read("board/taps", "tap-1", two));
    events.push(read("board/taps", "tap-2", one));
    assert_eq!(stands(&made, &events, "board/taps"), Stands::Wrong);
    assert_eq!(stands(&made, &events, "board/plug"), Stands::Shut);
    let done = event("board/taps", What::Done);
    assert!(admit(&made, &events, &done).unwrap_err().fields[0].message.contains("predicted"));
    let plugged = event("board/plug", What::Done);
    assert_eq!(admit(&made, &events, &plugged).unwrap_err().title, "Not yet");

    let mut opened = events.clone();
    opened.push(event("board/taps", What::Opened { reason: "the pins are numbered from the other end".to_owned() }));
    assert_eq!(stands(&made, &opened, "board/taps"), Stands::Opened);
    assert_eq!(stands(&made, &opened, "board/plug"), Stands::Open);
    // A reading after that shuts it again.
    opened.push(read("board/taps", "tap-1", two));
    assert_eq!(stands(&made, &opened, "board/taps"), Stands::Wrong);

    events.push(read("board/taps", "tap-1", one));
    events.push(read("board/taps", "tap-2", two));
    events.push(done);
    let state = progress(&made, &events).steps.into_iter().find(|s| s.key == "board/taps").unwrap();
    assert_eq!(state.stands, Stands::Done);
    assert_eq!(state.asks[0].before.len(), 2, "what was read before is still there");
    assert_eq!(stands(&made, &events, "board/plug"), Stands::Open);
}

#[test]
fn a_step_undone_shuts_what_rests_on_it_and_keeps_what_was_read() {
    let plan = sound();
    let mut events = until(&plan, "power/continuity");
    let made = sheet(&plan, &events).unwrap();
    assert_eq!(stands(&made, &events, "power/continuity"), Stands::Open);
    events.push(event("board/taps", What::Undone));
    let now = progress(&made, &events);
    assert_eq!(now.next.as_deref(), Some("board/taps"));
    let taps = now.steps.iter().find(|s| s.key == "board/taps").unwrap();
    assert!(taps.asks.iter().all(|a| a.value.is_none() && a.before.len() == 1));
    assert!(admit(&made, &events, &read("board/plug", "cool", 1.0)).is_err(), "a question is not read");
}

#[test]
fn cells_of_a_group_that_are_apart_are_not_joined() {
    let plan = demo("hedge-shears");
    let mut events = until(&plan, "cells/volts");
    let made = sheet(&plan, &events).unwrap();
    let step = made.step("cells/volts").unwrap();
    assert!(step.together.is_some(), "the demo has cells in parallel");
    for ask in &step.asks {
        let v = if ask.key == "cell-2-1" { 3.71 } else { 3.62 };
        events.push(read("cells/volts", &ask.key, v));
    }
    let state = progress(&made, &events).steps.into_iter().find(|s| s.key == "cells/volts").unwrap();
    assert_eq!(state.stands, Stands::Wrong);
    assert!(state.says[0].contains("3.62 V to 3.71 V"), "{:?}", state.says);
    events.push(read("cells/volts", "cell-2-1", 3.63));
    assert_eq!(stands(&made, &events, "cells/volts"), Stands::Open);
}

#[test]
fn a_reading_that_no_bench_shows_and_words_without_end_are_refused_by_name() {
    let made = sheet(&sound(), &[]).unwrap();
    let done = until(&sound(), "brick/groups");
    let refused = |event: BuildEvent| admit(&made, &done, &event).unwrap_err().fields[0].clone();
    for value in [f64::NAN, f64::INFINITY, 7e6] {
        let error = refused(read("brick/groups", "group-1", value));
        assert_eq!(error.field, "/value");
        assert!(error.message.contains("600"), "{}", error.message);
    }
    assert_eq!(refused(read("brick/groups", "group-77", 3.7)).field, "/ask");
    assert_eq!(refused(read("brick/nowhere", "group-1", 3.7)).field, "/step");
    assert_eq!(refused(event("brick/groups", What::Note { text: " ".to_owned() })).field, "/text");
    assert_eq!(refused(event("brick/groups", What::Opened { reason: "x".repeat(3000) })).field, "/reason");
}

#[test]
fn another_board_in_the_plan_undoes_what_was_done_on_the_first() {
    let plan = sound();
    let events = until(&plan, "power/continuity");
    let built = sheet(&plan, &[]).unwrap();
    assert!(again(&built, &built, &events).is_empty());
    let other = with(&plan, &[("charger/charges/output_a", json!(0.7))]);
    let keys: Vec<String> = again(&built, &sheet(&other, &[]).unwrap(), &events).into_iter().map(|a| a.key).collect();
    assert!(keys.iter().all(|k| k.starts_with("arrival/")), "the charger was only tested on arrival so far: {keys:?}");
    let other = with(&plan, &[("board/protects/trip_a/value", json!(31.0))]);
    let keys: Vec<String> = again(&built, &sheet(&other, &[]).unwrap(), &events).into_iter().map(|a| a.key).collect();
    assert!(keys.contains(&"arrival/board".to_owned()), "{keys:?}");
}

/// A trip that was read is counted on in the plan; its own step, whose band moves along, is not done again.
#[test]
fn a_reading_that_the_plan_counts_on_is_not_taken_again() {
    let plan = sound();
    let events = until(&plan, "run/timed");
    let built = sheet(&plan, &[]).unwrap();
    let ask = &built.step("trips/over-current").unwrap().asks[0];
    let Some(Counts::Figure { place, at }) = &ask.counts else { panic!("{ask:?}") };
    let index = plan.nodes.iter().position(|n| n.id == *place).unwrap();
    let at = format!("/nodes/{index}{at}");
    let document = serde_json::to_value(&plan).unwrap();
    let stated = document.pointer(&format!("{at}/value")).and_then(serde_json::Value::as_f64);
    assert_eq!(stated, Some(70.0), "it is the board's stated trip");
    let counted = apply(&plan, &[Change::put(at.clone(), json!({"value": 64.0, "how": "measured"}))]).unwrap();
    let read_64: Vec<BuildEvent> = [events.clone(), vec![read("trips/over-current", "trip", 64.0)]].concat();
    let keys = |events: &[BuildEvent]| -> Vec<String> {
        again(&built, &sheet(&counted, &[]).unwrap(), events).into_iter().map(|a| a.key).collect()
    };
    assert!(!keys(&read_64).contains(&"trips/over-current".to_owned()), "{:?}", keys(&read_64));
    // Read at 36 A, it does not fit a plan that counts on 64 A.
    let read_36: Vec<BuildEvent> = [events, vec![read("trips/over-current", "trip", 36.0)]].concat();
    assert!(keys(&read_36).contains(&"trips/over-current".to_owned()));
}

/// The contacts that the Charging stage compares are read in the build, and every place that is counted on is one of the plan.
#[test]
fn readings_at_the_contacts_are_counted_on_where_the_plan_keeps_them() {
    let plan = sound();
    let steps = sheet(&plan, &[]).unwrap().steps;
    let counted: Vec<String> = steps
        .iter()
        .flat_map(|s| &s.asks)
        .filter_map(|a| if let Some(Counts::Plan { at }) = &a.counts { Some(at.clone()) } else { None })
        .collect();
    for name in ["cells_v", "out_v", "jack_v", "plug_v"] {
        assert!(counted.contains(&format!("/charging/{name}")), "{name} in {counted:?}");
    }
    let changes: Vec<Change> =
        counted.iter().map(|at| Change::put(at.clone(), json!({"value": 14.5, "how": "measured"}))).collect();
    let read = apply(&plan, &changes).unwrap();
    assert_eq!(read.charging.plug_v.as_ref().map(|k| k.value), Some(14.5));
    assert!(read.check().is_ok());
}

/// A small reading is not lost in the last digits of a large range: what is to be found out stays to be found out.
#[test]
fn the_error_of_the_meter_leaves_a_band_that_can_be_missed() {
    for plan in [sound(), demo("bait-boat"), demo("hedge-shears")] {
        let made = sheet(&plan, &[]).unwrap();
        let mut bands = 0;
        for step in made.steps.iter().filter(|s| s.phase == Phase::Arrival) {
            for ask in &step.asks {
                let Expects::Band { low: Some(low), high: Some(high), .. } = &ask.expects else { continue };
                bands += 1;
                assert!(*low > -0.5 * high, "{}: {} {} reads {low} to {high}", plan.name, step.key, ask.key);
            }
        }
        assert!(bands > 5, "{}: {bands}", plan.name);
    }
}

#[derive(Deserialize)]
struct Case {
    id: String,
    series: u32,
    pack: String,
    fault: Fault,
    readings: Vec<Reading>,
}

#[derive(Deserialize)]
struct Fault {
    kind: String,
}

#[derive(Deserialize)]
struct Reading {
    red: String,
    black: String,
    condition: String,
    shown_v: f64,
}

/// Nothing, or something that does not touch the taps at rest.
const ELSEWHERE: [&str; 9] = [
    "healthy",
    "group_low",
    "joint_resistive",
    "cell_missing",
    "fuse_open",
    "switch_open",
    "board_open",
    "charger_reversed",
    "charger_limited",
];

/// A circuit solved by another program and read by a meter with its error (`reference/SOURCES.md`, faults): on sound packs the
/// taps lie in their bands, on packs with exchanged taps they do not.
#[test]
fn sound_packs_of_another_program_lie_in_their_bands_and_exchanged_taps_do_not() {
    let cases: Vec<Case> = serde_json::from_str(include_str!("../../../reference/faults/readings.json")).unwrap();
    let (mut inside, mut asked, mut found, mut faulty) = (0, 0, 0, 0);
    for case in &cases {
        let chemistry = if case.pack.contains("LiFePO4") { "li_fe_po4" } else { "li_ion" };
        let changes = [("packs/0/series", json!(case.series)), ("packs/0/chemistry", json!(chemistry))];
        let alarm = common::module("cell alarm", json!({"alarms": {"at_cell_v": 3.0}}));
        let plan = with(&Plan::blank("Reference"), &[&changes[..], &[("alarm", alarm)]].concat());
        let shown = |red: &str, black: &str| {
            let at = |r: &&Reading| r.red == red && r.black == black && r.condition == "rest";
            case.readings.iter().find(at).map(|r| r.shown_v)
        };
        let mut events = vec![];
        for k in 1..=case.series {
            // Groups on their joints: of a pack with exchanged taps they are sound.
            let Some(v) = shown(&format!("B{k}"), &format!("B{}", k - 1)) else { continue };
            events.push(read("brick/groups", &format!("group-{k}"), v));
        }
        let made = sheet(&plan, &events).unwrap();
        let taps = made.step("board/taps").unwrap();
        let readings: HashMap<&str, f64> = (1..=case.series)
            .filter_map(|k| Some((taps.asks[k as usize - 1].key.as_str(), shown(&format!("T{k}"), "T0")?)))
            .collect();
        let outside = taps.asks.iter().filter(|a| match (&a.expects, readings.get(a.key.as_str())) {
            (Expects::Band { low: Some(low), high: Some(high), .. }, Some(v)) => v < low || v > high,
            (other, _) => panic!("{}: {other:?}", case.id),
        });
        let outside = outside.count();
        if ELSEWHERE.contains(&case.fault.kind.as_str()) {
            asked += taps.asks.len();
            inside += taps.asks.len() - outside;
        } else if case.fault.kind == "taps_swapped" {
            faulty += 1;
            found += usize::from(outside > 0);
        }
    }
    assert!(asked > 20 && faulty > 1, "{asked} {faulty}");
    assert!(inside * 100 >= asked * 99, "{inside} of {asked} lie in their bands");
    assert_eq!(found, faulty, "exchanged taps that are seen");
}

/// What the survey proves on a bench supply is asked in the build too, counts where the survey keeps it, and is not asked anew of who
/// has read it there.
#[test]
fn the_proving_of_the_survey_and_that_of_the_build_are_one() {
    let plan = sound();
    let limited = |plan: &Plan| sheet(plan, &[]).unwrap().step("power/device-limited").unwrap().clone();
    let fields = |plan: &Plan| limited(plan).asks.into_iter().map(|a| a.key).collect::<Vec<_>>();
    assert_eq!(fields(&plan), ["limit_a", "idle_a", "lives", "draw_a", "stops_at_v", "ran_at_v"]);
    for ask in limited(&plan).asks {
        let (at, value) = match ask.counts.unwrap() {
            Counts::Plan { at } => (at, common::known(1.0)),
            Counts::Bare { at } if ask.expects == Expects::Yes => (at, json!(true)),
            Counts::Bare { at } => (at, json!(1.0)),
            other => panic!("{}: {other:?}", ask.key),
        };
        let counted = apply(&plan, &[Change::put(at.clone(), value.clone())]).unwrap();
        counted.check().unwrap();
        let number = |v: &serde_json::Value| v.get("value").unwrap_or(v).clone();
        let kept = serde_json::to_value(&counted).unwrap().pointer(&at).map(number);
        assert_eq!(kept, Some(number(&value)), "{}", ask.key);
    }

    let events = until(&plan, "power/device-limited");
    let stands = |plan: &Plan, events: &[BuildEvent], key: &str| {
        let made = sheet(plan, events).unwrap();
        let steps = progress(&made, events).steps;
        let step = steps.into_iter().find(|s| s.key == "power/device-limited").unwrap();
        let ask = step.asks.into_iter().find(|a| a.key == key).unwrap();
        (step.stands, ask.value, ask.from_plan)
    };
    let surveyed =
        |field: &str, value: f64| with(&plan, &[(format!("device/proving/{field}").as_str(), common::known(value))]);
    assert_eq!(stands(&plan, &events, "stops_at_v"), (Stands::Open, None, false));
    assert_eq!(stands(&surveyed("stops_at_v", 9.0), &events, "stops_at_v"), (Stands::Open, Some(9.0), true));
    // What cannot be is wrong whoever read it, and nothing goes on behind it; what is read anew counts.
    assert_eq!(stands(&surveyed("stops_at_v", 15.0), &events, "stops_at_v"), (Stands::Wrong, Some(15.0), true));
    let anew: Vec<BuildEvent> = [events.clone(), vec![read("power/device-limited", "stops_at_v", 9.5)]].concat();
    assert_eq!(stands(&surveyed("stops_at_v", 15.0), &anew, "stops_at_v"), (Stands::Open, Some(9.5), false));
    // What its old leads drew while it was off says nothing of new ones, which may be reversed.
    assert_eq!(stands(&surveyed("idle_a", 0.002), &events, "idle_a"), (Stands::Open, None, false));
    let reversed: Vec<BuildEvent> = [events, vec![read("power/device-limited", "idle_a", 1.0)]].concat();
    assert_eq!(stands(&surveyed("idle_a", 0.002), &reversed, "idle_a"), (Stands::Wrong, Some(1.0), false));
    // Alive once is not alive on new leads.
    let lived = limited(&with(&plan, &[("device/proving/lives", json!(true))]));
    assert_eq!(lived.asks[2].earlier.yes, None);

    // No bench supply gives forty amperes.
    let strong = json!([{"id": "usual", "name": "usual", "draw": {"as": "current", "value_a": common::known(40.0)}}]);
    let strong = with(&plan, &[("device/loads", strong)]);
    assert_eq!(fields(&strong), ["limit_a", "idle_a", "lives"]);
    // Where nothing says from which volts to start, it is still powered from little.
    let blank = with(&plan, &[("device/original/chemistry", json!(null)), ("device/highest_v", json!(null))]);
    assert_eq!(fields(&blank), ["lives"]);
}

/// A part that was tested before the build began is tested: its outcome stands until the part is another one.
#[test]
fn a_test_on_arrival_that_the_plan_has_is_not_done_again() {
    let plan = sound();
    let made = sheet(&plan, &[]).unwrap();
    let (step, ask) = made
        .steps
        .iter()
        .flat_map(|s| s.asks.iter().map(move |a| (s, a)))
        .find(|(s, a)| s.phase == Phase::Arrival && matches!(a.expects, Expects::Band { high: Some(_), .. }))
        .unwrap();
    let (Some(Counts::Arrival { place, test, part }), Expects::Band { low, high, .. }) = (&ask.counts, &ask.expects)
    else {
        panic!("{ask:?}")
    };
    let state = |part: &str, value: f64| {
        let tested = json!([{"place": place, "test": test, "part": part, "reading": common::known(value)}]);
        let made = sheet(&with(&plan, &[("arrivals", tested)]), &[]).unwrap();
        let steps = progress(&made, &[]).steps;
        let of_step = steps.into_iter().find(|s| s.key == step.key).unwrap();
        of_step.asks.into_iter().find(|a| a.key == ask.key).unwrap()
    };
    let right = (low.unwrap_or(0.0) + high.unwrap()) / 2.0;
    assert_eq!((state(part, right).found, state(part, right).from_plan), (Found::Right, true));
    assert_eq!(state(part, 3.0 * high.unwrap()).found, Found::Wrong);
    assert_eq!(state("another part", right).found, Found::Open);
}
