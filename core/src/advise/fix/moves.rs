//! Which changes are worth trying for which rule, the smallest first.

use crate::assess::rule;
use serde_json::{Value, json};

use super::placing::{charge_through_board, load_through_board};
use crate::assess::{Assessment, Finding};
use crate::plan::{Change, NodeKind, Plan, StateName, Step};

/// A kind of change; `tries` makes it concrete.
#[derive(Debug, Clone, PartialEq)]
pub enum Move {
    /// One place of the document takes another value.
    Put { at: String, value: Value, label: String },
    /// Another part of the catalogue at a place.
    Part { place: String },
    /// The part of the catalogue nearest in size to the one that is there: fuses and wires.
    Nearest { place: String },
    /// More cells in parallel.
    MoreParallel,
    /// A higher threshold of the cut-off board: the run ends earlier, and cooler.
    HigherCutOff,
    /// More layers of the same strip.
    MoreLayers,
    /// More of the same strip side by side.
    MoreStrips,
    /// The current taken off elsewhere.
    TakeOff,
    /// Another layout of the cells.
    Layout,
    /// What would make the brick smaller: less foam, a smaller cell, fewer of them.
    SmallerBrick,
    /// Another way to match the voltage, direct or through a converter, with the parts that suit it.
    Voltage { regulated: bool },
}

fn put(at: impl Into<String>, value: impl Into<Value>, label: impl Into<String>) -> Move {
    Move::Put { at: at.into(), value: value.into(), label: label.into() }
}

/// The moves for a finding. A rule without an entry has no fix but the maker's own work.
pub fn of(plan: &Plan, assessment: &Assessment, finding: &Finding) -> Vec<Move> {
    let subject = finding.subject();
    let part = |kind: NodeKind| node_of(plan, kind).map(|place| Move::Part { place });
    let nearest = |kind: NodeKind| node_of(plan, kind).map(|place| Move::Nearest { place });
    let these = |moves: &[Option<Move>]| moves.iter().flatten().cloned().collect::<Vec<_>>();
    let cell = || Some(Move::Part { place: "cell".to_owned() });
    let strip = || Some(Move::Part { place: "strip".to_owned() });
    let subject_part = || Some(Move::Part { place: subject.to_owned() });
    let thicker = |run: &str| Some(Move::Nearest { place: run.to_owned() });
    let voltage = || [Move::Voltage { regulated: false }, Move::Voltage { regulated: true }];
    match finding.rule {
        rule::device::OLD_CELLS_FIT => {
            vec![put("/device/original/cells_fit", false, "I block the bay or cut its wire")]
        }
        rule::device::SOFT_START_BYPASSED => {
            vec![put("/device/brains/soft_start_kept", true, "Feed it through the soft start")]
        }
        rule::device::LOWER_SETTING_NEVER_RUNS => {
            vec![put("/device/brains/selector", false, "Leave the lower setting out")]
        }
        rule::device::WET_OPEN_BOARD | rule::device::CHEMICALS_OPEN_PACK => {
            vec![put("/device/surroundings/vented", false, "I close the compartment")]
        }
        rule::device::KNOCKS_UNHELD => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::device::GAUGE_BLIND => vec![put("/feed/gauge_led", true, "I lead its sense wire to the pack")],
        rule::device::VENTED_IN_THE_WET => vec![put("/device/surroundings/vented", false, "I close the air holes")],
        rule::charging::HOST_CHARGES | rule::charging::HOST_REUSED | rule::charging::HOST_OVER_VOLTS => {
            vec![put("/charging/host", "cut_off", "I cut its charge circuit off")]
        }
        rule::charging::TWO_CHARGERS => vec![put("/charging/host", "cut_off", "I cut its charge circuit off")],
        rule::charging::HOST_NODE_FED => {
            vec![put("/charging/host_isolated", true, "A diode or a relay keeps the feed off its charge node")]
        }
        rule::charging::POLARITY => {
            vec![put("/charging/plug_v", Value::Null, "I swap the leads of the plug and read it again")]
        }
        rule::charging::UNKNOWN_SIDE => counted_as(assessment, plan),
        rule::charging::SUPPLY_LOW => {
            these(&[thicker("supply-charger"), part(NodeKind::Supply), part(NodeKind::Charger)])
        }
        rule::charging::SUPPLY_VOLTS => these(&[part(NodeKind::Supply), part(NodeKind::Charger)]),
        rule::voltage::FULL_ABOVE_DEVICE
        | rule::voltage::FULL_IN_TOLERANCE
        | rule::voltage::LOADED_BELOW_DEVICE
        | rule::voltage::OVER_TOUCH_LIMIT
        | rule::voltage::FASTER_MOTOR
        | rule::voltage::CHARGE_UNUSED => voltage().to_vec(),
        rule::voltage::NOTHING_USABLE => [these(&[Some(Move::MoreParallel), cell()]), voltage().to_vec()].concat(),
        rule::voltage::NO_GUARD => {
            let guarded = plan.nodes.iter().find(|n| n.kind == NodeKind::Board && n.module().is_some());
            match guarded.and_then(|board| without_jumper(plan, &board.id)) {
                // A board is there: what leads past it goes, and no buzzer takes its place.
                Some(jumper) => vec![jumper],
                None => these(&[
                    wired(load_through_board(plan).filter(|_| guarded.is_some()), "Feed the load through the board"),
                    part(NodeKind::Board),
                    part(NodeKind::CutOff),
                    part(NodeKind::Alarm),
                ]),
            }
        }
        rule::voltage::ALARM_ONLY | rule::voltage::GUARD_BELOW_FLOOR | rule::voltage::LAST_RESORT_GUARD => {
            these(&[part(NodeKind::Board), part(NodeKind::CutOff)])
        }
        rule::voltage::CONVERTER_INPUT_HIGH
        | rule::voltage::CONVERTER_INPUT_LOW
        | rule::voltage::CONVERTER_INPUT_CURRENT
        | rule::voltage::CONVERTER_OUTPUT_CURRENT
        | rule::voltage::CONVERTER_HEAT
        | rule::voltage::BOOST_OVERFED
        | rule::voltage::BUCK_HEADROOM
        | rule::voltage::OUTPUT_ABOVE_DEVICE
        | rule::voltage::OUTPUT_BELOW_DEVICE => [these(&[part(NodeKind::Converter)]), voltage().to_vec()].concat(),
        rule::voltage::FIXED_SOCKET => {
            these(&[converter_put(plan, "fixed_socket", false, "The socket gets a regulator of its own")])
        }
        rule::voltage::ADJUSTER_ABOVE_DEVICE => these(&[
            converter_put(plan, "adjustable", false, "Fix its set point, so that nobody turns it"),
            part(NodeKind::Converter),
        ]),
        rule::voltage::CONVERTER_INPUT_PEAK
        | rule::voltage::CONVERTER_OUTPUT_PEAK
        | rule::voltage::CONVERTER_HOT
        | rule::voltage::HEAT_UNPLACED => [these(&[part(NodeKind::Converter)]), voltage().to_vec()].concat(),
        rule::voltage::ADJUSTER_OPEN => {
            these(&[converter_put(plan, "adjuster_clamped", true, "End resistors or a clamp")])
        }
        rule::voltage::DIVIDER_DRAINS | rule::voltage::UNPOWERED_PIN => {
            vec![put("/feed/gauge/always_on", false, "Feed the divider behind the switch")]
        }
        rule::voltage::HOLD_UP_SMALL => these(&[hold_up(assessment)]),
        rule::voltage::CHANGE_OVER_TOO_LOW => vec![
            put("/feed/change_over/by", "ideal_diode", "A transistor driven as a diode"),
            put("/feed/change_over/by", "relay", "A relay"),
        ],
        rule::voltage::COMPARATOR_BLIND | rule::voltage::COMPARATOR_CHATTER => comparator(plan, assessment),
        rule::voltage::MAKE_BEFORE_BREAK => {
            vec![put("/feed/second/break_before_make", true, "A switch that breaks before it makes")]
        }
        rule::voltage::PARALLEL_OTHER_COUNTS => {
            let series = plan.main_pack().and_then(|p| p.series);
            let alike = series.map(|n| put("/feed/second/series", n, format!("A second pack of {n} in series")));
            let out = put("/feed/second/used_in_parallel", false, "Leave the parallel position out");
            these(&[alike, Some(out)])
        }
        rule::voltage::SERIES_ABOVE_DEVICE => {
            vec![put("/feed/second/used_in_series", false, "Leave the series position out")]
        }
        rule::voltage::PARALLEL_NEVER_RUNS => {
            vec![put("/feed/second/used_in_parallel", false, "Leave the parallel position out")]
        }
        rule::voltage::SET_POINT_OFF | rule::voltage::SET_POINT_UNREAD => set_point(plan),
        rule::voltage::STANDBY_DRAIN | rule::charging::LOAD_ON => these(&[part(NodeKind::Switch)]),
        rule::cells::OTHER_CHEMISTRY | rule::cells::IMPOSSIBLE_CLAIM | rule::cells::IMPOSSIBLE_DENSITY => {
            these(&[cell()])
        }
        rule::cells::GROUPS_FOR_OTHER_COUNTS => vec![put("/packs/0/groups", json!([]), "Release the chosen cells")],
        rule::cells::PULSE_BELOW_CONTINUOUS => {
            vec![put("/packs/0/cell/part/pulse_a", Value::Null, "Count on the continuous rating alone")]
        }
        rule::cells::PEAK_UNSTATED => these(&[Some(Move::MoreParallel), cell()]),
        rule::cells::DOUBTFUL_CLAIM => these(&[believed(assessment), cell()]),
        rule::cells::SALVAGED_UNTESTED => {
            these(&[Some(put("/packs/0/cell/part/tested", true, "I have tested every cell")), cell()])
        }
        rule::cells::OVER_RATING | rule::cells::PEAK_OVER_RATING | rule::run::BROWN_OUT => {
            these(&[Some(Move::MoreParallel), cell()])
        }
        rule::run::SHORTER_THAN_BEFORE | rule::run::SHORTER_THAN_WANTED => these(&[Some(Move::MoreParallel), cell()]),
        rule::brick::STRIP_OVER_CURRENT | rule::brick::STRIP_OVER_PEAK => {
            these(&[Some(Move::MoreLayers), Some(Move::TakeOff), Some(Move::MoreStrips), strip(), Some(Move::Layout)])
        }
        rule::brick::UNEVEN_SHARING => vec![Move::TakeOff, Move::MoreLayers, Move::Layout],
        rule::brick::SHARE_OVER_RATING => vec![Move::TakeOff, Move::MoreLayers, Move::MoreParallel],
        rule::brick::HOTTEST_CELL | rule::run::CELL_TOO_HOT => {
            these(&[Some(Move::MoreParallel), cell(), Some(Move::HigherCutOff)])
        }
        rule::brick::SOLDERED_ON_CELLS | rule::brick::SPRING_CONTACTS | rule::brick::LOOSE_CELLS => {
            vec![put("/packs/0/brick/joined_by", "welded", "I weld strips")]
        }
        rule::brick::CELL_TOO_LARGE => these(&[cell()]),
        rule::brick::DOES_NOT_FIT | rule::brick::TOO_MANY_CELLS => vec![Move::Layout, Move::SmallerBrick],
        rule::brick::LAYOUT_FOR_OTHER_COUNTS
        | rule::brick::SHORT
        | rule::brick::GROUP_APART
        | rule::brick::OTHER_FACE => {
            vec![Move::Layout]
        }
        rule::brick::STRIPS_NEAR => these(&[strip(), Some(wider_gap(plan))]),
        rule::brick::NEIGHBOURS_BARE => vec![wider_gap(plan)],
        rule::brick::NO_ROOM_FOR_BOARD => {
            vec![put("/packs/0/brick/clearances/board_elsewhere", true, "The board sits somewhere else")]
        }
        rule::brick::NO_ROOM_FOR_SWELLING => {
            vec![put("/packs/0/brick/clearances/swelling_share", 0.08, "Keep 8 % for swelling")]
        }
        rule::brick::POUCH_WITHOUT_SHELL => {
            vec![put("/packs/0/brick/clearances/shell_mm", 1.5, "A shell of 1.5 mm round it")]
        }
        rule::protection::NO_OVER_CURRENT => {
            let jumper = ["fuse", "board"].map(|id| without_jumper(plan, id));
            these(&[jumper[0].clone(), jumper[1].clone(), part(NodeKind::Fuse), part(NodeKind::Board)])
        }
        rule::protection::OUT_REVERSED => {
            vec![put("/charging/out_v", Value::Null, "I swap the leads and read it again")]
        }
        rule::protection::REARM_BELOW => these(&[rearm(plan, assessment), part(NodeKind::CutOff)]),
        rule::protection::BYPASSED => these(&[without_jumper(plan, subject)]),
        rule::protection::BOARD_CONTRADICTS | rule::protection::ENDS_TOO_LOW => these(&[part(NodeKind::Board)]),
        rule::protection::CHARGER_ROUND_BOARD => {
            these(&[wired(charge_through_board(plan), "Charge through the board")])
        }
        rule::protection::CHARGE_SIDE_ONLY => {
            these(&[wired(load_through_board(plan), "Feed the load through the board")])
        }
        rule::protection::OTHER_SERIES
        | rule::protection::OTHER_CHEMISTRY
        | rule::protection::BOARD_OVER_CURRENT
        | rule::protection::TRIP_IN_LOAD
        | rule::protection::TRIP_IN_PEAK
        | rule::protection::NO_TEMPERATURE
        | rule::protection::WANTS_WAKING
        | rule::protection::STARTS_AGAIN
        | rule::protection::RESERVE_DRAINS => these(&[part(NodeKind::Board)]),
        rule::protection::NO_BALANCING | rule::protection::BLEED_WEAK | rule::charging::BALANCING_LONG => {
            these(&[part(NodeKind::Board), part(NodeKind::Charger)])
        }
        rule::protection::TRIP_ABOVE_CELLS => these(&[part(NodeKind::Board), part(NodeKind::Fuse)]),
        rule::protection::TRIP_ABOVE_STRIPS => {
            these(&[part(NodeKind::Fuse), Some(Move::MoreLayers), part(NodeKind::Board)])
        }
        rule::protection::TRIP_NOT_AS_STATED => these(&[
            board_put(plan, "trip_a", Value::Null, "Count on its detector and transistors"),
            part(NodeKind::Board),
        ]),
        rule::protection::TRICKLE_ABOVE_BLEED => {
            these(&[board_put(plan, "trickle_a", Value::Null, "Leave the way round it out"), part(NodeKind::Board)])
        }
        rule::protection::FUSE_FAR => these(&[fuse_at_the_pack(plan)]),
        rule::protection::SHORT_TOO_LATE => {
            let wires = plan.runs.iter().filter(|r| r.wire.part().is_some()).map(|r| thicker(&r.id));
            let wires: Vec<_> = wires.collect();
            [these(&[nearest(NodeKind::Fuse), part(NodeKind::Board), Some(Move::MoreLayers)]), these(&wires)].concat()
        }
        rule::protection::FAILED_ON_ARRIVAL | rule::charging::FAILED_ON_ARRIVAL => these(&[subject_part()]),
        rule::protection::CUTOFF_CHATTER => these(&[rearm(plan, assessment), part(NodeKind::CutOff)]),
        rule::protection::FUSE_VOLTS | rule::protection::FUSE_NOT_DC | rule::protection::FUSE_BREAKING => {
            these(&[nearest(NodeKind::Fuse)])
        }
        rule::protection::FUSE_ABOVE_STRIPS => {
            these(&[nearest(NodeKind::Fuse), Some(Move::MoreLayers), Some(Move::MoreStrips), strip()])
        }
        rule::protection::FUSE_ABOVE_WIRE => these(&[nearest(NodeKind::Fuse), thicker(subject)]),
        rule::protection::FUSE_ABOVE_CONNECTOR => these(&[nearest(NodeKind::Fuse), subject_part()]),
        rule::protection::FUSE_NUISANCE | rule::protection::FUSE_PEAK | rule::protection::FUSE_OVERSIZED => {
            these(&[nearest(NodeKind::Fuse)])
        }
        rule::charging::OVER_BOARD | rule::charging::ENDED_BY_GUARD => {
            these(&[part(NodeKind::Charger), part(NodeKind::Board)])
        }
        rule::charging::OVER_JACK => these(&[subject_part(), part(NodeKind::Charger)]),
        rule::charging::NO_SUPPLY | rule::charging::SUPPLY_WEAK | rule::charging::SUPPLY_BELOW_END => {
            these(&[part(NodeKind::Supply), part(NodeKind::Charger)])
        }
        rule::charging::NO_CURRENT_LIMIT
        | rule::charging::OLD_CHARGER
        | rule::charging::OVER_VOLTS
        | rule::charging::SLIGHTLY_OVER
        | rule::charging::OTHER_COUNT
        | rule::charging::OVER_CELLS
        | rule::charging::FAST
        | rule::charging::SLOW
        | rule::charging::END_UNSURE
        | rule::charging::RESTARTS
        | rule::charging::BACK_LEAK
        | rule::charging::BELOW_FULL => these(&[part(NodeKind::Charger)]),
        rule::charging::OLD_CHARGER_FITS => vec![put("/device/original/charger_fits", false, "I change the jack")],
        rule::charging::FREEZING => these(&[
            Some(put("/environment/charge_min_c", 10.0, "Charge it indoors, from 10 °C")),
            part(NodeKind::Board),
        ]),
        rule::charging::COLD_FAST => these(&[
            Some(put("/environment/charge_min_c", 10.0, "Charge it indoors, from 10 °C")),
            part(NodeKind::Charger),
        ]),
        rule::charging::HOT => vec![put("/environment/charge_max_c", 45.0, "Charge it in the shade, up to 45 °C")],
        rule::run::OVER_60 => vec![put("/environment/use_max_c", 45.0, "Keep it below 45 °C")],
        rule::wiring::PLUGS_SWAP => vec![put("/wiring/plugs_swap", false, "Plugs of two kinds, or a switch")],
        rule::wiring::NO_STRAIN_RELIEF => vec![put("/wiring/strain_relief", true, "I clamp or tie every lead")],
        rule::wiring::METER_NOT_ISOLATED => {
            vec![put("/wiring/meter_isolated", true, "The meter gets a supply of its own")]
        }
        rule::wiring::TAP_ORDER => {
            vec![put("/wiring/taps/order_read", true, "I have read every pin against pack minus")]
        }
        rule::wiring::CHARGE_WIRE => these(&[thicker(subject)]),
        rule::wiring::WIRE_OVER_CURRENT | rule::wiring::WIRE_OVER_PEAK | rule::wiring::THINNER_THAN_BEFORE => {
            these(&[thicker(subject)])
        }
        rule::wiring::DROP | rule::wiring::DROP_BELOW_DEVICE => {
            let behind = subject == "behind"
                || assessment.figure("output.arrives_v").is_some()
                    && subject.is_empty()
                    && finding.rule == rule::wiring::DROP_BELOW_DEVICE;
            these(&[worst_run(plan, assessment, behind).as_deref().and_then(thicker)])
        }
        rule::wiring::BARE_LIVE_PINS => these(&[swap_halves(plan, subject), subject_part()]),
        rule::wiring::CONNECTOR_OVER_CURRENT
        | rule::wiring::CONNECTOR_PEAK
        | rule::wiring::CONNECTOR_VOLTS
        | rule::wiring::UNKEYED
        | rule::wiring::SWITCH_OVER_CURRENT
        | rule::wiring::SWITCH_PEAK
        | rule::wiring::SWITCH_VOLTS
        | rule::wiring::SWITCH_NOT_DC => these(&[subject_part()]),
        _ => vec![],
    }
}

/// The runs that lead past a node taken out.
fn without_jumper(plan: &Plan, id: &str) -> Option<Move> {
    let line = plan.way(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let past = plan.avoiding(NodeKind::Pack, NodeKind::Device, StateName::Running, |n| n.id == id)?;
    let jumpers: Vec<&str> =
        past.runs.iter().map(|r| r.id.as_str()).filter(|id| line.runs.iter().all(|r| r.id != *id)).collect();
    let kept: Vec<_> = plan.runs.iter().filter(|r| !jumpers.contains(&r.id.as_str())).collect();
    (!jumpers.is_empty()).then(|| put("/runs", json!(kept), "Take out the wire that leads past it"))
}

/// A gap that has room for a sheet and keeps strips apart.
fn wider_gap(plan: &Plan) -> Move {
    let gap_mm = plan.main_pack().map_or(0.0, |p| p.brick.clearances.gap_mm);
    put("/packs/0/brick/clearances/gap_mm", gap_mm.max(0.0) + 0.5, "Lay the cells 0.5 mm wider apart")
}

/// The place whose part a stop is about, for exchanging it along with a changed voltage.
pub fn place_of(plan: &Plan, assessment: &Assessment, stop: &Finding) -> Option<String> {
    of(plan, assessment, stop).into_iter().find_map(|m| match m {
        Move::Part { place } | Move::Nearest { place } => Some(place),
        _ => None,
    })
}

/// A place in a word: "board", "charger", "wire".
pub fn place_word(plan: &Plan, place: &str) -> String {
    match plan.node(place).map(|n| n.kind) {
        Some(NodeKind::Pack | NodeKind::Device) => place,
        Some(kind) => kind.word(),
        None if plan.runs.iter().any(|r| r.id == place) => "wire",
        None => place,
    }
    .to_owned()
}

fn node_of(plan: &Plan, kind: NodeKind) -> Option<String> {
    plan.nodes.iter().find(|n| n.kind == kind).map(|n| n.id.clone())
}

fn board_put(plan: &Plan, field: &str, value: Value, label: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.kind == NodeKind::Board)?;
    Some(put(format!("/nodes/{i}/part/part/module/protects/{field}"), value, label))
}

/// The fuse a hand's width from the pack: what is cut off the wire before it is added to the first wire behind it.
fn fuse_at_the_pack(plan: &Plan) -> Option<Move> {
    const NEAR_MM: f64 = 100.0;
    let line = plan.way(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let mut runs = plan.runs.clone();
    let (mut before, mut room_mm, mut moved_mm) = (true, NEAR_MM, 0.0);
    for step in &line.steps {
        match step {
            Step::Node(node) => before &= node.fuse().is_none(),
            Step::Run(run) => {
                let run = runs.iter_mut().find(|r| r.id == run.id)?;
                let Some(length_mm) = run.length_mm.as_mut().filter(|_| run.wire.part().is_some()) else { continue };
                if before {
                    let kept_mm = length_mm.min(room_mm).max(1.0);
                    (room_mm, moved_mm) = (room_mm - kept_mm, moved_mm + *length_mm - kept_mm);
                    *length_mm = kept_mm;
                } else {
                    *length_mm += moved_mm;
                    moved_mm = 0.0;
                }
            }
        }
    }
    Some(put("/runs", json!(runs), "Set the fuse within 100 mm of the pack"))
}

/// The larger of what a printed current may mean, as the charger's output.
fn counted_as(assessment: &Assessment, plan: &Plan) -> Vec<Move> {
    let Some((i, charge_a)) =
        plan.nodes.iter().position(|n| n.kind == NodeKind::Charger).zip(assessment.figure("charger.output_a"))
    else {
        return vec![];
    };
    let shown = crate::base::quantity::show(charge_a.value, crate::base::quantity::Unit::A);
    let at = format!("/nodes/{i}/part/part/module/charges/output_a");
    vec![put(at, charge_a.value, format!("Count on {shown} until it is measured"))]
}

fn converter_put(plan: &Plan, field: &str, value: bool, label: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.kind == NodeKind::Converter)?;
    Some(put(format!("/nodes/{i}/part/part/module/converts/{field}"), value, label))
}

/// The cut-off board set to close again half as much again beyond the rebound: it grows with age and cold.
fn rearm(plan: &Plan, assessment: &Assessment) -> Option<Move> {
    const ROOM: f64 = 1.5;
    let i = plan.nodes.iter().position(|n| n.module().is_some_and(|m| m.cuts_off.is_some()))?;
    let opens_v = plan.nodes[i].module()?.cuts_off.as_ref()?.at_v;
    let closes_v = opens_v + ROOM * assessment.figure("cutoff.rebound_v")?.value;
    let shown = crate::base::quantity::show(closes_v, crate::base::quantity::Unit::V);
    let at = format!("/nodes/{i}/part/part/module/cuts_off/rearm_v");
    Some(put(at, closes_v, format!("Set it to close again at {shown}")))
}

/// A capacitor a fifth over what is needed: they are sold that much under their print.
fn hold_up(assessment: &Assessment) -> Option<Move> {
    const ROOM: f64 = 1.2;
    let farad = assessment.figure("change.hold_up_f")?.value * ROOM;
    let shown = crate::base::quantity::show(farad, crate::base::quantity::Unit::F);
    Some(put("/feed/change_over/hold_up_f", farad, format!("A capacitor of {shown}")))
}

/// The comparator as its two states want it, in one change: either alone may still be wrong.
fn comparator(plan: &Plan, assessment: &Assessment) -> Vec<Move> {
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let (Some(change), Some(threshold_v), Some(hysteresis_v)) =
        (&plan.feed.change_over, value("comparator.threshold_v"), value("comparator.hysteresis_v"))
    else {
        return vec![];
    };
    let set =
        crate::plan::ChangeOver { threshold_v: Some(threshold_v), hysteresis_v: Some(hysteresis_v), ..change.clone() };
    let shown = |v: f64| crate::base::quantity::show(v, crate::base::quantity::Unit::V);
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
        let shown = crate::base::quantity::show(read.value, crate::base::quantity::Unit::V);
        moves.push(put(format!("{at}/output_v"), read.value, format!("Plan with the {shown} as read")));
    }
    let anew = crate::plan::Converts { set_point_v: None, wired_in: false, ..c.clone() };
    moves.push(put(at, json!(anew), "Take it out, set it and read it first"));
    moves
}

fn believed(assessment: &Assessment) -> Option<Move> {
    let believed_ah = assessment.figure("cell.believed_ah")?.value;
    let shown = crate::base::quantity::show(believed_ah, crate::base::quantity::Unit::Ah);
    Some(put("/packs/0/cell/part/rated_ah", believed_ah, format!("Count on {shown}")))
}

fn wired(change: Option<Change>, label: &str) -> Option<Move> {
    change.map(|change| put(change.at, change.value, label))
}

fn swap_halves(plan: &Plan, node: &str) -> Option<Move> {
    let i = plan.nodes.iter().position(|n| n.id == node)?;
    plan.nodes[i].connector()?;
    Some(put(format!("/nodes/{i}/part/part/connector/live_pins_bare"), false, "Swap the halves"))
}

/// The run that loses most, before or behind the converter.
fn worst_run(plan: &Plan, assessment: &Assessment, behind: bool) -> Option<String> {
    let line = plan.way(NodeKind::Pack, NodeKind::Device, StateName::Running);
    let converts = |step: &Step<'_>| matches!(step, Step::Node(n) if n.kind == NodeKind::Converter);
    let at = line.steps.iter().position(converts).unwrap_or(line.steps.len());
    let side = if behind { &line.steps[at..] } else { &line.steps[..at] };
    let runs = side.iter().filter_map(|step| if let Step::Run(run) = step { Some(run.id.as_str()) } else { None });
    let drops = runs.filter_map(|id| Some((assessment.figure(&format!("wire.ohm@{id}"))?.value, id)));
    drops.max_by(|a, b| a.0.total_cmp(&b.0)).map(|(_, run)| run.to_owned())
}
