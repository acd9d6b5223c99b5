//! What is worth trying for findings about matching the voltage, and what ends the discharge.

use super::{At, Move, cell, other_voltage, put, these, wired, without_jumper};
use crate::advise::fix::placing::load_through_board;
use crate::advise::suggest::{SECOND_GUARD, SECOND_PACK, SELECTOR};
use crate::assess::Assessment;
use crate::assess::{rule, subject};
use crate::base::quantity::{Unit, show};
use crate::plan::{Beside, ChangeOver, Converter, FedFrom, NodeKind, Plan, SecondPack};
use serde_json::{Value, json};

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::voltage::FULL_ABOVE_DEVICE
        | rule::voltage::FULL_IN_TOLERANCE
        | rule::voltage::LOADED_BELOW_DEVICE
        | rule::voltage::OVER_TOUCH_LIMIT
        | rule::voltage::FASTER_MOTOR
        | rule::voltage::CHARGE_UNUSED => other_voltage().to_vec(),
        rule::voltage::NOTHING_USABLE => {
            [these(&[Some(Move::MoreParallel), cell(at.plan)]), other_voltage().to_vec()].concat()
        }
        rule::voltage::NO_GUARD => {
            let guarded = at.plan.nodes.iter().find(|n| n.kind == NodeKind::Board && n.module().is_some());
            match guarded.and_then(|board| without_jumper(at.plan, &board.id)) {
                // A board is there: what leads past it goes, and no buzzer takes its place.
                Some(jumper) => vec![jumper],
                None => these(&[
                    wired(load_through_board(at.plan).filter(|_| guarded.is_some()), "Feed the load through the board"),
                    at.part(NodeKind::Board),
                    at.part(NodeKind::CutOff),
                    at.part(NodeKind::Alarm),
                ]),
            }
        }
        rule::voltage::ALARM_ONLY | rule::voltage::GUARD_BELOW_FLOOR | rule::voltage::LAST_RESORT_GUARD => {
            these(&[at.part(NodeKind::Board), at.part(NodeKind::CutOff)])
        }
        rule::voltage::CONVERTER_INPUT_HIGH
        | rule::voltage::CONVERTER_INPUT_LOW
        | rule::voltage::CONVERTER_INPUT_CURRENT
        | rule::voltage::CONVERTER_OUTPUT_CURRENT
        | rule::voltage::CONVERTER_HEAT
        | rule::voltage::BOOST_OVERFED
        | rule::voltage::BUCK_HEADROOM
        | rule::voltage::OUTPUT_ABOVE_DEVICE
        | rule::voltage::OUTPUT_BELOW_DEVICE => {
            [these(&[at.part(NodeKind::Converter)]), other_voltage().to_vec()].concat()
        }
        rule::voltage::FIXED_SOCKET | rule::voltage::SOCKET_STARVES if !subject(&at.finding.key).is_empty() => {
            these(&[fed_by_battery(at)])
        }
        rule::voltage::FIXED_SOCKET => {
            these(&[converter_put(at.plan, "fixed_socket", false, "Give the socket its own regulator")])
        }
        rule::voltage::ADJUSTER_ABOVE_DEVICE => {
            these(&[converter_put(at.plan, "adjustable", false, "Fix its set-point"), at.part(NodeKind::Converter)])
        }
        rule::voltage::CONVERTER_INPUT_PEAK
        | rule::voltage::CONVERTER_OUTPUT_PEAK
        | rule::voltage::CONVERTER_HOT
        | rule::voltage::HEAT_UNPLACED => [these(&[at.part(NodeKind::Converter)]), other_voltage().to_vec()].concat(),
        rule::voltage::ADJUSTER_OPEN => {
            let clamp = converter_put(at.plan, "adjuster_clamped", true, "End resistors or a clamp");
            let stays = converter_put(at.plan, "adjuster_on_leads", false, "Leave the adjuster on the module");
            if subject(&at.finding.key).is_empty() { these(&[clamp, stays]) } else { these(&[stays]) }
        }
        rule::voltage::DIVIDER_DRAINS | rule::voltage::UNPOWERED_PIN => {
            vec![put("/feed/gauge/always_on", false, "Connect the divider after the switch")]
        }
        rule::voltage::SELECTOR_SMALL => these(&[Some(Move::Part { place: SELECTOR.to_owned() })]),
        rule::voltage::GAUGE_AFTER => {
            vec![put("/feed/gauge/after_shown_v", Value::Null, "Check the resistor, then read the gauge again")]
        }
        rule::voltage::GAUGE_OFF => {
            vec![put("/feed/gauge/in_hand_ohm", Value::Null, "Use the nearest value of the series")]
        }
        rule::voltage::HOLD_UP_SMALL => these(&[hold_up(at.assessment)]),
        rule::voltage::CHANGE_OVER_TOO_LOW => vec![
            put("/feed/change_over/by", "ideal_diode", "Use an ideal diode"),
            put("/feed/change_over/by", "relay", "Use a relay"),
        ],
        rule::voltage::COMPARATOR_BLIND | rule::voltage::COMPARATOR_CHATTER => comparator(at.plan, at.assessment),
        rule::voltage::MAKE_BEFORE_BREAK => {
            vec![put("/feed/second/break_before_make", true, "Use a switch that breaks before it makes")]
        }
        // What is said of the packs stays; a part is added, first where the plan has none.
        rule::voltage::PACKS_UNEQUAL | rule::voltage::SECOND_UNGUARDED | rule::voltage::SECOND_GUARD => {
            let second = Move::Part { place: SECOND_GUARD.to_owned() };
            these(&[Some(second), at.part(NodeKind::Board)])
        }
        rule::voltage::PARALLEL_OTHER_COUNTS => {
            let series = at.plan.main_pack().and_then(|p| p.series);
            let alike = series.map(|n| put("/feed/second/series", n, format!("Use a second pack of {n} in series")));
            let out = put("/feed/second/used_in_parallel", false, "Leave the parallel position out");
            these(&[alike, Some(out)])
        }
        rule::voltage::OTHER_CHEMISTRIES => {
            let alone = SecondPack {
                used_in_series: Some(false),
                used_in_parallel: Some(false),
                used_alone: Some(true),
                ..at.plan.feed.second.clone().unwrap_or_default()
            };
            let value = serde_json::to_value(alone).unwrap_or_default();
            let one_at_a_time = put("/feed/second", value, "Use the two packs one at a time");
            let other = Move::Part { place: SECOND_PACK.to_owned() };
            vec![one_at_a_time, other, put("/feed/second", Value::Null, "Leave out the second pack")]
        }
        rule::voltage::SERIES_ABOVE_DEVICE => {
            vec![put("/feed/second/used_in_series", false, "Leave the series position out")]
        }
        rule::voltage::PARALLEL_NEVER_RUNS => {
            vec![put("/feed/second/used_in_parallel", false, "Leave the parallel position out")]
        }
        rule::voltage::SET_POINT_OFF | rule::voltage::SET_POINT_UNREAD => set_point(at.plan),
        rule::voltage::STANDBY_DRAIN => these(&[at.part(NodeKind::Switch)]),
        _ => vec![],
    }
}

fn converter_put(plan: &Plan, field: &str, value: bool, label: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.kind == NodeKind::Converter)?;
    Some(put(format!("/nodes/{i}/part/part/module/converts/{field}"), value, label))
}

/// The consumer of a finding on the battery, behind a regulator of its own: at its own voltage, else at the set-point.
fn fed_by_battery(at: &At<'_>) -> Option<Move> {
    let id = subject(&at.finding.key);
    let i = at.plan.feed.beside.iter().position(|b| b.id == id)?;
    let set_v = at.plan.module(NodeKind::Converter)?.converts.as_ref()?.output_v;
    let own_v = at.plan.feed.beside[i].own_v.unwrap_or(set_v);
    let consumer = Beside { fed: FedFrom::Battery, own_v: Some(own_v), ..at.plan.feed.beside[i].clone() };
    let label = format!("Connect it to the battery through its own {} regulator", show(own_v, Unit::V));
    Some(put(format!("/feed/beside/{i}"), serde_json::to_value(consumer).ok()?, label))
}

/// A capacitor a fifth over what is needed: they are sold that much under their print.
fn hold_up(assessment: &Assessment) -> Option<Move> {
    const ROOM: f64 = 1.2;
    let farad = assessment.figure("change.hold_up_f")?.value * ROOM;
    let shown = show(farad, Unit::F);
    Some(put("/feed/change_over/hold_up_f", farad, format!("Use a capacitor of {shown}")))
}

/// The comparator as its two states need it, in one change: either alone may still be wrong.
fn comparator(plan: &Plan, assessment: &Assessment) -> Vec<Move> {
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let (Some(change), Some(threshold_v), Some(hysteresis_v)) =
        (&plan.feed.change_over, value("comparator.threshold_v"), value("comparator.hysteresis_v"))
    else {
        return vec![];
    };
    let set = ChangeOver { threshold_v: Some(threshold_v), hysteresis_v: Some(hysteresis_v), ..change.clone() };
    let shown = |v: f64| show(v, Unit::V);
    vec![put(
        "/feed/change_over",
        json!(set),
        format!("Set it to {} ± {}", shown(threshold_v), shown(hysteresis_v / 2.0)),
    )]
}

/// Count on the reading, or take the converter out and set it before it is connected again.
fn set_point(plan: &Plan) -> Vec<Move> {
    let Some(i) = plan.nodes.iter().position(|n| n.kind == NodeKind::Converter) else {
        return vec![];
    };
    let Some(c) = plan.nodes[i].module().and_then(|m| m.converts.as_ref()) else {
        return vec![];
    };
    let at = format!("/nodes/{i}/part/part/module/converts");
    let mut moves = vec![];
    if let Some(read) = &c.set_point_v {
        let shown = show(read.value, Unit::V);
        moves.push(put(format!("{at}/output_v"), read.value, format!("Plan with the {shown} that was read")));
    }
    let anew = Converter { set_point_v: None, wired_in: false, ..c.clone() };
    moves.push(put(at, json!(anew), "Take it out, set it and read it first"));
    moves
}
