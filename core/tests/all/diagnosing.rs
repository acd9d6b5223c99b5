//! Why it reads that: packs with a hidden fault, solved by another program and read by a meter with its error.

use crate::common;

use brick_core::Plan;
use brick_core::diagnose::{At, Cause, Diagnosis, Evidence, Taken, diagnose};
use common::{board, charger, known, sound, with};
use serde::Deserialize;
use serde_json::{Value, json};

#[derive(Deserialize)]
struct Case {
    id: String,
    pack: String,
    series: u32,
    parallel: u32,
    group_ohm: f64,
    full_v: f64,
    device_ohm: f64,
    fault: Hidden,
    readings: Vec<Shown>,
}

#[derive(Deserialize)]
struct Hidden {
    kind: String,
    #[serde(default)]
    at: Option<usize>,
}

#[derive(Deserialize)]
struct Shown {
    red: String,
    black: String,
    condition: At,
    shown_v: f64,
}

/// The plan that a pack of the reference is built from. Nothing is known of what its groups hold.
fn plan_of(case: &Case, charge_a: f64) -> Plan {
    let chemistry = if case.pack.contains("LiFePO4") { "li_fe_po4" } else { "li_ion" };
    let cell_ohm = case.group_ohm * f64::from(case.parallel);
    let changes: Vec<(&str, Value)> = vec![
        ("packs/0/series", json!(case.series)),
        ("packs/0/parallel", json!(case.parallel)),
        ("packs/0/chemistry", json!(chemistry)),
        ("cell/chemistry", json!(chemistry)),
        ("cell/dcir_ohm", known(cell_ohm)),
        ("board", board(case.series)),
        ("charger", charger(case.full_v, charge_a)),
        (
            "device/loads",
            json!([{"id": "usual", "name": "usual", "draw": {"as": "resistance", "value_ohm": known(case.device_ohm)}}]),
        ),
    ];
    with(&sound(), &changes)
}

fn cases() -> Vec<Case> {
    serde_json::from_str(include_str!("../../../reference/faults/readings.json")).unwrap()
}

fn read(taken: &[Taken]) -> Evidence {
    Evidence { readings: taken.to_vec(), ..Evidence::default() }
}

/// Reads only what is asked for next, from the output at rest on.
fn followed(case: &Case, charge_a: f64, most: usize) -> (Vec<Taken>, Diagnosis) {
    let plan = plan_of(case, charge_a);
    let shown = |red: &str, black: &str, at: At| {
        let found = case.readings.iter().find(|r| r.red == red && r.black == black && r.condition == at);
        let volts =
            found.unwrap_or_else(|| panic!("{}: {red} {black} {at:?} is no reading of the reference", case.id)).shown_v;
        Taken { red: red.to_owned(), black: black.to_owned(), condition: at, volts }
    };
    let mut taken = vec![shown(&format!("B{}", case.series), "Pm", At::Rest)];
    loop {
        let now = diagnose(&plan, &read(&taken)).unwrap_or_else(|e| panic!("{}: {e:?}", case.id));
        match &now.next {
            Some(next) if taken.len() < most => taken.push(shown(&next.red, &next.black, next.condition)),
            _ => return (taken, now),
        }
    }
}

/// What the diagnosis says first, and where the true fault stands.
struct Outcome {
    first: (String, Option<usize>),
    sure: f64,
    rank: Option<usize>,
}

fn outcome(case: &Case, charge_a: f64) -> Outcome {
    let (_, end) = followed(case, charge_a, 5);
    let named = |c: &Cause| (serde_json::to_value(c.fault).unwrap().as_str().unwrap().to_owned(), c.at);
    let truth = (case.fault.kind.clone(), case.fault.at);
    Outcome {
        first: named(&end.hypotheses[0]),
        sure: end.hypotheses[0].probability,
        rank: end.hypotheses.iter().position(|c| named(c) == truth),
    }
}

/// Voltages alone cannot tell the first two. A cell that is missing shows as some ten millivolts of one group under load: five
/// readings do not come to every group.
const UNSEEN: [&str; 3] = ["meter_scale", "charger_limited", "cell_missing"];

/// Holds the outcomes of many cases against what must be reached; gives how often the first was right, by how sure it was.
fn judged(cases: &[Case], charge_a: f64) -> Vec<(f64, bool)> {
    let (mut right, mut told, mut wrong) = (0, 0, vec![]);
    let mut sureness = vec![];
    for case in cases {
        let found = outcome(case, charge_a);
        let hit = found.rank == Some(0);
        if !hit && found.sure > 0.9 {
            wrong.push(format!("{}: {:?} is given {:.2}", case.id, found.first, found.sure));
        }
        match case.fault.kind.as_str() {
            kind if UNSEEN.contains(&kind) => {}
            _ => {
                told += 1;
                right += usize::from(hit);
                if !hit {
                    println!("{}: {:?} at {:.2}, the truth is {:?}", case.id, found.first, found.sure, found.rank);
                }
                sureness.push((found.sure, hit));
            }
        }
        if case.fault.kind == "healthy" && !hit {
            wrong.push(format!("{}: a sound pack is called {:?}", case.id, found.first));
        }
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
    assert!(right * 100 >= told * 95, "{right} of {told} are found within five readings");
    sureness
}

/// 24 packs with one hidden fault each, solved by ngspice (`reference/SOURCES.md`, faults). Their charger gives several amperes:
/// a plan that states far less must not take a sound one for reversed.
#[test]
fn the_hidden_fault_is_found_by_the_readings_that_are_asked_for() {
    for stated_a in [2.0, 0.4] {
        judged(&cases(), stated_a);
    }
}

mod generated {
    //! More packs of the same kind: the netlist of the reference, solved here by nodal equations with a plain elimination.

    use super::{At, Case, Hidden, Shown};

    const OPEN_OHM: f64 = 1e9;

    struct Random(u64);

    impl Random {
        /// From 0 to 1 (Knuth's MMIX generator).
        fn next(&mut self) -> f64 {
            self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (self.0 >> 11) as f64 / (1u64 << 53) as f64
        }

        fn between(&mut self, low: f64, high: f64) -> f64 {
            low + (high - low) * self.next()
        }
    }

    /// Pack, series, parallel, ohms of a group, full volts, ohms of the device, ohms of the board's inputs.
    const PACKS: [(&str, u32, u32, f64, f64, f64, f64); 6] = [
        ("2S1P Li-ion", 2, 1, 0.05, 8.4, 5.0, 8e5),
        ("3S1P Li-ion", 3, 1, 0.045, 12.6, 9.0, 1e6),
        ("4S2P Li-ion", 4, 2, 0.011, 16.8, 1.75, 4e5),
        ("4S2P LiFePO4", 4, 2, 0.006, 14.6, 3.1, 5e5),
        ("6S3P Li-ion", 6, 3, 0.008, 25.2, 1.6, 6e5),
        ("5S1P Li-ion", 5, 1, 0.03, 21.0, 4.0, 7e5),
    ];

    const KINDS: [&str; 17] = [
        "healthy",
        "taps_swapped",
        "tap_open",
        "group_reversed",
        "group_dead",
        "group_low",
        "link_open",
        "joint_resistive",
        "cell_missing",
        "fuse_open",
        "switch_open",
        "board_open",
        "plug_reversed",
        "charger_reversed",
        "charger_limited",
        "meter_scale",
        "leads_swapped",
    ];

    pub fn cases(rounds: usize) -> Vec<Case> {
        let mut all = vec![];
        for round in 0..rounds {
            for (k, kind) in KINDS.into_iter().enumerate() {
                let mut random = Random((1 + 1000 * round + k) as u64);
                let parallel = |p: &&(&str, u32, u32, f64, f64, f64, f64)| kind != "cell_missing" || p.2 > 1;
                let packs: Vec<_> = PACKS.iter().filter(parallel).collect();
                let pack = packs[(k + round) % packs.len()];
                all.push(case(kind, pack, format!("{kind} {round}"), &mut random));
            }
        }
        all
    }

    fn case(kind: &str, pack: &(&str, u32, u32, f64, f64, f64, f64), id: String, random: &mut Random) -> Case {
        let &(name, series, parallel, group_ohm, full_v, device_ohm, board_ohm) = pack;
        let n = series as usize;
        let level_v = if name.contains("LiFePO4") { random.between(3.25, 3.33) } else { random.between(3.6, 4.1) };
        let group_v: Vec<f64> = (0..n).map(|_| level_v + random.between(-0.008, 0.008)).collect();
        let place = 1 + (random.next() * n as f64) as usize;
        let at = match kind {
            "taps_swapped" => Some((random.next() * n as f64) as usize),
            "tap_open" => Some((random.next() * (n + 1) as f64) as usize),
            "group_reversed" | "group_dead" | "group_low" | "link_open" | "joint_resistive" | "cell_missing" => {
                Some(place)
            }
            _ => None,
        };
        let size = match kind {
            "group_low" => random.between(0.25, 0.6),
            "joint_resistive" => random.between(0.12, 0.3),
            "meter_scale" => random.between(1.06, 1.1),
            _ => 0.0,
        };
        let made = Made { kind, at, size, group_v, group_ohm, parallel, full_v, device_ohm, board_ohm };
        let mut readings = vec![];
        for (red, black, condition) in probes(n) {
            let mut v = made.reads(&red, &black, condition);
            if kind == "leads_swapped" {
                v = -v;
            }
            if kind == "meter_scale" {
                v *= size;
            }
            let step = [-0.01, 0.0, 0.01][(random.next() * 3.0) as usize];
            let shown_v = ((v * (1.0 + random.between(-0.005, 0.005)) + step) * 100.0).round() / 100.0;
            readings.push(Shown { red, black, condition, shown_v });
        }
        let fault = Hidden { kind: kind.to_owned(), at };
        Case { id, pack: name.to_owned(), series, parallel, group_ohm, full_v, device_ohm, fault, readings }
    }

    fn probes(n: usize) -> Vec<(String, String, At)> {
        let b = |k: usize| format!("B{k}");
        let t = |k: usize| format!("T{k}");
        let word = |w: &str| w.to_owned();
        let mut all = vec![];
        for k in 1..=n {
            all.push((b(k), b(k - 1), At::Rest));
            all.push((t(k), t(k - 1), At::Rest));
            if k > 1 {
                all.push((t(k), t(0), At::Rest));
            }
            all.push((b(k), b(k - 1), At::On));
            all.push((b(k), b(k - 1), At::Charging));
        }
        for (red, black) in [(b(n), b(0)), (b(n), word("Pm")), (word("F"), word("Pm")), (word("Jp"), word("Jm"))] {
            if n > 1 || black != b(0) {
                all.push((red, black, At::Rest));
            }
        }
        for (red, black) in
            [("Dp", "Dm"), ("S", "Pm"), ("F", "Pm"), ("+", "Pm"), ("+", "B0"), ("Pm", "B0"), ("+", "F"), ("F", "S")]
        {
            let named = |w: &str| if w == "+" { b(n) } else { word(w) };
            all.push((named(red), named(black), At::On));
        }
        for (red, black) in [(word("Jp"), word("Jm")), (b(n), b(0)), (word("Pm"), b(0))] {
            all.push((red, black, At::Charging));
        }
        all
    }

    struct Made<'k> {
        kind: &'k str,
        at: Option<usize>,
        size: f64,
        group_v: Vec<f64>,
        group_ohm: f64,
        parallel: u32,
        full_v: f64,
        device_ohm: f64,
        board_ohm: f64,
    }

    /// Nodes by name, conductances between them, and currents into them.
    #[derive(Default)]
    struct Nodal {
        names: Vec<String>,
        g: Vec<(usize, usize, f64)>,
        i: Vec<(usize, f64)>,
    }

    impl Nodal {
        fn node(&mut self, name: &str) -> usize {
            self.names.iter().position(|n| n == name).unwrap_or_else(|| {
                self.names.push(name.to_owned());
                self.names.len() - 1
            })
        }

        fn ohm(&mut self, a: &str, b: &str, ohm: f64) {
            let (a, b) = (self.node(a), self.node(b));
            self.g.push((a, b, 1.0 / ohm));
        }

        fn source(&mut self, plus: &str, minus: &str, emf_v: f64, ohm: f64) {
            self.ohm(plus, minus, ohm);
            let (plus, minus) = (self.node(plus), self.node(minus));
            self.i.extend([(plus, emf_v / ohm), (minus, -emf_v / ohm)]);
        }

        /// Volts of every node against the first, by elimination with the largest pivot.
        fn solve(&self) -> Vec<f64> {
            let n = self.names.len();
            let mut m = vec![vec![0.0; n + 1]; n];
            for &(a, b, g) in &self.g {
                m[a][a] += g;
                m[b][b] += g;
                m[a][b] -= g;
                m[b][a] -= g;
            }
            for (k, row) in m.iter_mut().enumerate() {
                row[k] += if k == 0 { 1.0 } else { 1e-12 };
            }
            self.i.iter().for_each(|&(node, a)| m[node][n] += a);
            for k in 0..n {
                let pivot = (k..n).max_by(|a, b| m[*a][k].abs().total_cmp(&m[*b][k].abs())).unwrap();
                m.swap(k, pivot);
                let (above, below) = m.split_at_mut(k + 1);
                for row in below {
                    let f = row[k] / above[k][k];
                    row.iter_mut().zip(&above[k]).skip(k).for_each(|(x, y)| *x -= f * y);
                }
            }
            let mut v = vec![0.0; n];
            for k in (0..n).rev() {
                let known: f64 = (k + 1..n).map(|j| m[k][j] * v[j]).sum();
                v[k] = (m[k][n] - known) / m[k][k];
            }
            v
        }
    }

    impl Made<'_> {
        fn is(&self, kind: &str, at: usize) -> bool {
            self.kind == kind && self.at == Some(at)
        }

        /// The reading with the meter's ten megohms in the circuit.
        fn reads(&self, red: &str, black: &str, condition: At) -> f64 {
            let n = self.group_v.len();
            let mut c = Nodal::default();
            c.node("B0");
            let b = |k: usize| format!("B{k}");
            let t = |k: usize| format!("T{k}");
            for k in 1..=n {
                let (mut emf_v, mut ohm) = (self.group_v[k - 1], self.group_ohm);
                if self.is("group_dead", k) {
                    (emf_v, ohm) = (0.15, 1.0);
                }
                if self.is("group_low", k) {
                    emf_v -= self.size;
                }
                if self.is("cell_missing", k) {
                    ohm *= f64::from(self.parallel) / f64::from(self.parallel - 1);
                }
                if self.is("group_reversed", k) {
                    emf_v = -emf_v;
                }
                let link = match () {
                    () if self.is("link_open", k) => OPEN_OHM,
                    () if self.is("joint_resistive", k) => self.size,
                    () => 0.0008,
                };
                c.ohm(&b(k - 1), &format!("g{k}"), link);
                c.source(&b(k), &format!("g{k}"), emf_v, ohm);
            }
            let mut pins: Vec<usize> = (0..=n).collect();
            if let ("taps_swapped", Some(at)) = (self.kind, self.at) {
                pins.swap(at, at + 1);
            }
            for (i, pin) in pins.into_iter().enumerate() {
                c.ohm(&b(pin), &t(i), if self.is("tap_open", i) { OPEN_OHM } else { 0.03 });
                if i > 0 {
                    c.ohm(&t(i), &t(i - 1), self.board_ohm);
                }
            }
            let on = condition == At::On;
            let open = |kind: &str, ohm: f64| if self.kind == kind { OPEN_OHM } else { ohm };
            c.ohm("B0", "Pm", if self.kind == "board_open" { 3e6 } else { 0.012 });
            c.ohm(&b(n), "F", open("fuse_open", 0.004));
            c.ohm("F", "S", if on { open("switch_open", 0.008) } else { OPEN_OHM });
            let (plus, minus) = if self.kind == "plug_reversed" { ("Dm", "Dp") } else { ("Dp", "Dm") };
            c.ohm("S", plus, 0.006);
            c.ohm("Pm", minus, 0.006);
            c.ohm("Dp", "Dm", if on { self.device_ohm } else { 2e5 });
            c.ohm(&b(n), "Jp", 0.01);
            c.ohm("Pm", "Jm", 0.01);
            match (condition, self.kind) {
                (At::Charging, "charger_reversed") => c.source("Jm", "Jp", self.full_v, 6.0),
                (At::Charging, "charger_limited") => c.source("Jp", "Jm", self.full_v, 30.0),
                (At::Charging, _) => c.source("Jp", "Jm", self.full_v, 0.4),
                _ => c.ohm("Jp", "Jm", 5e7),
            }
            c.ohm(red, black, 1e7);
            let v = c.solve();
            v[c.node(red)] - v[c.node(black)]
        }
    }
}

/// The netlist of this file reads as ngspice does.
#[test]
fn the_generated_packs_read_as_those_of_the_reference() {
    let ours = generated::cases(1);
    let healthy = ours.iter().find(|c| c.fault.kind == "healthy").unwrap();
    let all = healthy.readings.iter().find(|r| r.red == format!("B{}", healthy.series) && r.black == "Pm").unwrap();
    assert!((all.shown_v / healthy.full_v - 0.9).abs() < 0.12, "{}", all.shown_v);
    assert_eq!(ours.len(), 17);
}

/// Others of the same kind: a rule that fits only the packs of the reference is found out here. Causes that are given some
/// eight in ten are right about as often.
#[test]
fn other_packs_with_other_faults_are_told_as_well_and_probabilities_mean_what_they_say() {
    let sureness = judged(&generated::cases(6), 2.0);
    let sure: Vec<&(f64, bool)> = sureness.iter().filter(|(p, _)| (0.6..0.95).contains(p)).collect();
    let right = sure.iter().filter(|(_, hit)| *hit).count() as f64 / sure.len().max(1) as f64;
    let said = sure.iter().map(|(p, _)| p).sum::<f64>() / sure.len().max(1) as f64;
    println!("{} given 0.6 to 0.95, {said:.2} on the mean, {right:.2} right", sure.len());
    assert!(sure.len() > 4 && right > said - 0.15, "{right} of {} were right, {said} was said", sure.len());
}

/// What a build predicts, against the same packs: on a sound one every reading between two points of the circuit lies in its band,
/// at rest as read by a meter, and running and charging as far as the plan knows what loses volts there.
#[test]
fn a_sound_pack_reads_what_a_build_predicts_at_every_point() {
    use brick_core::build::{BuildEvent, Expects, What, sheet};
    let mut read = 0;
    for case in cases().iter().filter(|c| c.fault.kind == "healthy") {
        let plan = plan_of(case, 2.0);
        let shown = |red: &str, black: &str, at: At| {
            case.readings.iter().find(|r| r.red == red && r.black == black && r.condition == at).map(|r| r.shown_v)
        };
        let groups = (1..=case.series).map(|k| {
            let value = shown(&format!("B{k}"), &format!("B{}", k - 1), At::Rest).expect("every group is read");
            let happened = What::Read { ask: format!("group-{k}"), value, meter: None };
            BuildEvent { step: "brick/groups".into(), at: "2026-11-28T10:00:00Z".into(), happened }
        });
        let events: Vec<BuildEvent> = groups.collect();
        for step in sheet(&plan, &events).unwrap().steps {
            for ask in &step.asks {
                let (Some(between), Expects::Band { low, high, .. }) = (&ask.between, &ask.expects) else { continue };
                // Full groups are read after a charge.
                let Some(v) = shown(&between.red, &between.black, between.condition) else { continue };
                if step.key == "charge/groups" {
                    continue;
                }
                let inside = low.is_none_or(|l| v >= l) && high.is_none_or(|h| v <= h);
                assert!(inside, "{}: {} {} reads {v}, predicted {low:?} to {high:?}", case.id, step.key, ask.what);
                read += 1;
            }
        }
    }
    assert!(read >= 12, "only {read} readings were compared");
}
