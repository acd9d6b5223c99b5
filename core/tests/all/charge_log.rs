//! The first charge as it is logged: who ended it, against charges of a physics model; when to stop at once; what is predicted.

use crate::common;
use crate::reference::{file, number, rows};

use brick_core::build::{
    BuildEvent, ChargeLimits, ChargeLine, EndedBy, Stands, What, charge_watch, ended_by, progress, sheet, stop_at_once,
};
use common::{sound, with};
use serde_json::{Value, json};

const QUARTER_S: f64 = 900.0;

/// Errors of a hand meter on 20 V, and on the range that fits the charge current, as a share of it.
const ERROR_V: f64 = 0.012;
const ERROR_A_SHARE: f64 = 0.01;

struct Charge {
    name: String,
    limits: ChargeLimits,
    /// Every quarter of an hour, and the end.
    lines: Vec<ChargeLine>,
    cc_end_s: f64,
}

/// Eleven charges of six cells, computed with the DFN model (reference/cccv), as somebody with a meter would log them: the
/// last digit of each reading goes up and down by the meter's error.
fn charges() -> Vec<Charge> {
    let cases: Value = serde_json::from_str(&file("cccv/summary.json")).unwrap();
    let cases = cases.as_object().unwrap();
    cases
        .iter()
        .map(|(name, case)| {
            let of = |key: &str| case[key].as_f64().unwrap();
            let points: Vec<[f64; 3]> =
                rows(&format!("cccv/{name}")).iter().map(|r| [number(&r[0]), -number(&r[1]), number(&r[2])]).collect();
            let (end_s, charge_a) = (points.last().unwrap()[0], of("charge_current_a"));
            let at = |t_s: f64, up: f64| {
                let p = points.iter().take_while(|p| p[0] <= t_s).last().unwrap();
                ChargeLine {
                    after_s: t_s,
                    pack_v: Some(p[2] + up * ERROR_V),
                    current_a: Some(p[1] + up * ERROR_A_SHARE * charge_a),
                    ..ChargeLine::default()
                }
            };
            let quarters = (0..).map(|k| f64::from(k) * QUARTER_S).take_while(|t_s| *t_s < end_s);
            let mut lines: Vec<ChargeLine> =
                quarters.enumerate().map(|(k, t_s)| at(t_s, if k % 2 == 0 { 1.0 } else { -1.0 })).collect();
            lines.push(at(end_s, 0.0));
            let limits = ChargeLimits {
                series: 1,
                end_v: of("v_charge"),
                never_v: of("v_charge") + 0.05,
                charge_a,
                tapered_a: (1.2 * of("cutoff_a")).max(0.15 * charge_a),
                takes_s: Some(of("full_s")),
                error_v: ERROR_V,
                error_a: ERROR_A_SHARE * charge_a,
            };
            Charge { name: name.clone(), limits, lines, cc_end_s: of("cc_end_s") }
        })
        .collect()
}

#[test]
fn a_charger_that_tapers_ended_it_and_not_before() {
    let all = charges();
    assert_eq!(all.len(), 11);
    for Charge { name, limits, lines, .. } in &all {
        assert_eq!(ended_by(lines, limits), Some(EndedBy::Charger), "{name}");
        for k in 1..lines.len() - 1 {
            let now = ended_by(&lines[..k], limits);
            let tapered = lines[k - 1].current_a.unwrap() <= limits.tapered_a + limits.error_a;
            assert_eq!(now, tapered.then_some(EndedBy::Charger), "{name}: {:?}", lines[k - 1]);
            assert_eq!(stop_at_once(&lines[k - 1], limits), Vec::<String>::new(), "{name}");
        }
    }
}

/// A board opens in the middle of the charge, or at its end: the charger's volts stand before it, none flows.
#[test]
fn a_board_that_opens_is_told_from_a_charger_that_ends() {
    for Charge { name, limits, mut lines, cc_end_s } in charges() {
        lines.retain(|l| l.after_s < cc_end_s);
        let last = *lines.last().unwrap();
        let opened = |input_v: Option<f64>| ChargeLine {
            after_s: last.after_s + 60.0,
            pack_v: last.pack_v.map(|v| v - 0.03),
            current_a: Some(0.0),
            input_v,
            apart_v: None,
        };
        let with = |line: ChargeLine| [lines.clone(), vec![line]].concat();
        let board = with(opened(Some(limits.end_v + 0.25)));
        assert_eq!(ended_by(&board, &limits), Some(EndedBy::Board), "{name}");
        // Nobody read the other side: it is not guessed.
        let unread = ended_by(&with(opened(None)), &limits);
        assert!(matches!(unread, Some(EndedBy::Early | EndedBy::Unknown)), "{name}: {unread:?}");
    }
}

/// A supply holds its volts and goes on pushing for hours; one that is far too weak is told by the time.
#[test]
fn a_supply_that_goes_on_is_no_charger() {
    for Charge { name, limits, mut lines, .. } in charges() {
        let last = *lines.last().unwrap();
        for hour in 1..=3 {
            lines.push(ChargeLine { after_s: last.after_s + f64::from(hour) * 3600.0, ..last });
        }
        assert_eq!(ended_by(&lines, &limits), Some(EndedBy::Nobody), "{name}");
    }
    let Charge { limits, lines, .. } = charges().swap_remove(0);
    let late = ChargeLine { after_s: 2.5 * limits.takes_s.unwrap(), ..lines[1] };
    assert_eq!(ended_by(&[lines[0], late], &limits), Some(EndedBy::Nobody));
}

/// Common practice, no source: what somebody who stays with it stops at.
#[test]
fn what_means_stop_is_told_with_its_figures() {
    let limits = ChargeLimits {
        series: 4,
        end_v: 16.8,
        never_v: 4.25,
        charge_a: 2.0,
        tapered_a: 0.3,
        takes_s: Some(9000.0),
        error_v: 0.03,
        error_a: 0.02,
    };
    let line = |pack_v: f64, current_a: f64, apart_v: Option<f64>| ChargeLine {
        after_s: 900.0,
        pack_v: Some(pack_v),
        current_a: Some(current_a),
        apart_v,
        input_v: None,
    };
    let stops = |line: ChargeLine| stop_at_once(&line, &limits).join(" ");
    assert_eq!(stops(line(16.4, 2.0, Some(0.02))), "");
    assert!(stops(line(17.1, 0.5, None)).contains("4 cells"));
    // 16.7 V apart by 0.2 V: one of four may be at 4.175 + 0.15.
    assert!(
        stops(line(16.7, 0.5, Some(0.2))).contains("One group may be at 4.3"),
        "{}",
        stops(line(16.7, 0.5, Some(0.2)))
    );
    assert!(stops(line(15.0, 3.1, None)).contains("gives 2 A"));
    assert!(stops(line(15.0, -1.8, None)).contains("is reversed"));
}

fn logged(after_s: f64, pack_v: f64, current_a: f64) -> BuildEvent {
    let line = ChargeLine { after_s, pack_v: Some(pack_v), current_a: Some(current_a), ..ChargeLine::default() };
    BuildEvent {
        step: "charge/start".to_owned(),
        at: "2026-03-02T10:00:00Z".to_owned(),
        happened: What::Logged { line },
    }
}

#[test]
fn the_predicted_course_begins_where_the_log_does() {
    let plan = sound();
    let made = sheet(&plan, &[]).unwrap();
    let watch = |events: &[BuildEvent]| charge_watch(&plan, &made, events).unwrap().unwrap();
    let empty = watch(&[]);
    assert_eq!((empty.missing.clone(), empty.lines.len(), empty.ended), (None, 0, None));
    let at = |t_s: f64| empty.predicted.iter().find(|p| p.t_s >= t_s).copied().unwrap();
    // What the course itself gives after an hour, logged as the first line, shifts it by an hour and no more.
    let hour = at(3600.0);
    let begun = watch(&[logged(0.0, hour.pack_v, hour.current_a)]);
    assert!((empty.full_s.unwrap() - begun.full_s.unwrap() - hour.t_s).abs() < 1.0);
    let now = begun.predicted.iter().min_by(|a, b| a.t_s.abs().total_cmp(&b.t_s.abs())).unwrap();
    assert!((now.pack_v - hour.pack_v).abs() < 1e-9);
    // 2 A for an hour and 1 A at its end: the trapezium holds 1.5 Ah. A line typed anew takes the place of the older.
    let twice = watch(&[logged(0.0, 14.0, 2.0), logged(3600.0, 15.0, 9.0), logged(3600.0, 15.0, 1.0)]);
    assert!((twice.charged_ah - 1.5).abs() < 1e-12 && twice.lines.len() == 2);
    // A charge that the device's own circuit does is not judged by a charger's figures.
    let host = with(&plan, &[("charging/host", json!("charges_pack"))]);
    assert_eq!(charge_watch(&host, &sheet(&host, &[]).unwrap(), &[]).unwrap(), None);
}

#[test]
fn a_line_that_means_stop_shuts_what_follows() {
    let plan = sound();
    let made = sheet(&plan, &[]).unwrap();
    let stands = |events: &[BuildEvent]| {
        let state = progress(&made, events).steps.into_iter().find(|s| s.key == "charge/start").unwrap();
        (state.stands, state.says.join(" "))
    };
    let (stands_now, _) = stands(&[logged(0.0, 18.5, 1.0)]);
    // Whatever comes before it is not done: it stays shut, and the line is kept all the same.
    assert_eq!(stands_now, Stands::Shut);
    let opened = |step: &str| BuildEvent {
        step: step.to_owned(),
        at: "2026-03-02T09:00:00Z".to_owned(),
        happened: What::Opened { reason: "done on another sheet".to_owned() },
    };
    let mut events: Vec<BuildEvent> =
        made.steps.iter().take_while(|s| s.key != "charge/start").map(|s| opened(&s.key)).collect();
    events.push(logged(0.0, 18.5, 1.0));
    let (wrong, says) = stands(&events);
    assert_eq!(wrong, Stands::Wrong, "{says}");
    assert!(says.contains("18.5 V"), "{says}");
    events.push(logged(0.0, 15.5, 1.0));
    assert_ne!(stands(&events).0, Stands::Wrong, "typed anew for the same moment");
}
