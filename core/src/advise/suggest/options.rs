//! Every pack that could feed the device, weighed and ranked.

use crate::assess::rule::{self, Rule};
use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{Severity, VoltsOnly, assess_at_face_value, volts_only};
use crate::base::chemistry::{self, Chemistry};
use crate::base::limit;
use crate::base::phrase::Phrase;
use crate::base::quantity::{Unit, show};
use crate::physics::converter::TYPICAL_OWN_W;
use crate::physics::protection::drain_days;
use crate::physics::voltage::{Candidate, FeedPath, School, candidates};
use crate::plan::{
    Change, Choice, Converter, DeviceKind, Feed, FieldError, Job, Module, NodeKind, Offer, Outside, Part, Plan,
    SecondPack, StateName, Topology,
};

/// One way to feed the device.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct VoltageOption {
    /// In words: "4S Li-ion, direct".
    pub name: String,
    /// Chemistry.
    pub chemistry: Chemistry,
    /// Its short name.
    pub chemistry_name: &'static str,
    /// Groups in series.
    pub series: u32,
    /// Path to the device.
    pub path: FeedPath,
    /// Set point of its converter.
    pub output_v: Option<f64>,
    /// Pack voltage at the sensible end.
    pub empty_v: f64,
    /// Nominal pack voltage.
    pub nominal_v: f64,
    /// Full pack voltage.
    pub full_v: f64,
    /// Pack voltage at the sensible end under the usual load at the coldest use.
    pub loaded_empty_v: Option<f64>,
    /// Usable share of the charge.
    pub usable_share: Option<f64>,
    /// Loaded voltage of the full pack.
    pub loaded_full_v: Option<f64>,
    /// Motor speed and stall current against the old battery.
    pub speed_change: Option<f64>,
    /// Current of a fan or pump against the old battery.
    pub fan_current_change: Option<f64>,
    /// Share of the pack's energy that reaches the device.
    pub efficiency: f64,
    /// Heat to shed.
    pub heat_w: Option<f64>,
    /// Days until what runs on at rest has emptied a full pack; absent where nothing does, or no cell is chosen.
    pub standby_days: Option<f64>,
    /// What it takes besides cells, board, fuse and charger.
    pub parts: Vec<&'static str>,
    /// Whether the device can be put back as it was.
    pub reversible: bool,
    /// The school it belongs to.
    pub school: School,
    /// When it is the better one.
    pub better_when: &'static str,
    /// How bad its worst finding is; absent is fine.
    pub worst: Option<Severity>,
    /// What speaks against it, or for it.
    pub reasons: Vec<Phrase>,
    /// Whether the plan has it now.
    pub chosen: bool,
    /// The changes to the plan that choose it.
    pub changes: Vec<Change>,
}

/// All options for a device.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct VoltageOptions {
    /// Minimum voltage of the device, as known or assumed.
    pub lowest_v: Option<f64>,
    /// Maximum voltage of the device, as known or assumed.
    pub highest_v: Option<f64>,
    /// Whether the lowest is only assumed.
    pub lowest_assumed: bool,
    /// Whether the highest is only assumed.
    pub highest_assumed: bool,
    /// What is missing before options can be weighed; absent when there are options.
    pub missing: Option<String>,
    /// The options, best first.
    pub options: Vec<VoltageOption>,
}

/// Weighs every candidate by trying it in the plan, best first.
///
/// Order: no finding before note, caution, stop; direct before regulated; more usable charge; nearer to the device's
/// own voltage; fewer cells.
pub fn options(plan: &Plan) -> Result<VoltageOptions, Vec<FieldError>> {
    let now = assess_at_face_value(plan)?;
    let figure = |id: &str| now.figure(id);
    let value = |id: &str| figure(id).map(|f| f.value);
    let (lowest_v, highest_v) = (value("device.lowest_v"), value("device.highest_v"));
    let lives_at = |v: &f64| lowest_v.is_none_or(|low| *v >= low) && highest_v.is_none_or(|high| *v <= high);
    // The old battery's volts say what the device was built for, unless the survey says it cannot live there.
    let reference_v = value("original.nominal_v")
        .filter(lives_at)
        .or_else(|| Some((lowest_v? + highest_v?) / 2.0))
        .or_else(|| highest_v.map(|v| v * 0.85));
    // What is turned in use is made by a converter: no pack's own volts are.
    let turned = plan.device.job == Some(Job::BenchSupply);
    let suits = |c: &Candidate| !turned || c.path.school() == School::Regulated;
    let mut found: Vec<VoltageOption> = reference_v.map_or_else(Vec::new, |v| {
        let mut weighed = candidates(v);
        // In holders side by side every cell is one in series, however far it is raised.
        let raised = Candidate { chemistry: Chemistry::LiIon, series: 1, path: FeedPath::Boost };
        if plan.feed.holder.is_some() && v > Chemistry::LiIon.facts().full_v && !weighed.contains(&raised) {
            weighed.push(raised);
        }
        weighed.into_iter().filter(suits).filter_map(|c| weigh(plan, c, v)).collect()
    });
    let distance = |o: &VoltageOption| reference_v.map_or(0.0, |v| (o.output_v.unwrap_or(o.nominal_v) - v).abs());
    found.sort_by(|a, b| {
        let rank = |o: &VoltageOption| (o.worst, o.path != FeedPath::Direct);
        let usable = |o: &VoltageOption| o.usable_share.unwrap_or(0.0);
        // A hundredth of a volt nearer is no reason for more cells.
        let hundredths = |o: &VoltageOption| (distance(o) * 100.0).round() as i64;
        // A tenth of the charge is worth more than being nearer; nine tenths are as good as all.
        let tenths = |o: &VoltageOption| ((usable(o) * 10.0).round() as i64).min(9);
        rank(a)
            .cmp(&rank(b))
            .then(tenths(b).cmp(&tenths(a)))
            .then(hundredths(a).cmp(&hundredths(b)))
            .then(a.series.cmp(&b.series))
    });
    Ok(VoltageOptions {
        lowest_v,
        highest_v,
        lowest_assumed: figure("device.lowest_v").is_some_and(|f| f.assumed),
        highest_assumed: figure("device.highest_v").is_some_and(|f| f.assumed),
        missing: reference_v.is_none().then(|| {
            "Enter the chemistry and cells of the old battery, or the maximum voltage of the device, first.".to_owned()
        }),
        options: found,
    })
}

fn weigh(plan: &Plan, candidate: Candidate, output_v: f64) -> Option<VoltageOption> {
    let trial = with(plan, candidate, output_v)?;
    let volts = volts_only(&trial)?;
    let value = |id: &str| volts.value(id);
    let facts = candidate.chemistry.facts();
    let output_v = candidate.path.topology().map(|_| output_v);
    let chosen = plan
        .main_pack()
        .is_some_and(|p| p.chemistry == Some(candidate.chemistry) && p.series == Some(candidate.series))
        && topology_now(plan) == candidate.path.topology()
        && plan.feed.second.is_some() == (candidate.path == FeedPath::Switched)
        && plan.feed.outside == outside(candidate.path);
    let against: Vec<_> = volts.findings.iter().filter(|f| speaks(f.rule)).collect();
    let mut worst = against.iter().map(|f| f.severity).max();
    let mut reasons: Vec<Phrase> = against.iter().map(|f| f.title.clone()).collect();
    let usable_share = value("run.usable_share").or_else(|| above_the_lowest(&volts, candidate));
    if let Some(share) = usable_share.filter(|share| limit::below(*share, MOSTLY) && worst < Some(Severity::Caution)) {
        worst = Some(Severity::Caution);
        reasons.push(Phrase::words("only ").value(share, Unit::Share).text(" of the charge can be used"));
    }
    // A motor starts with several times its current, which a converter must bear, and needs no constant volts.
    if plan.device.kind == DeviceKind::Motor
        && candidate.path.school() == School::Regulated
        && worst < Some(Severity::Caution)
    {
        worst = Some(Severity::Caution);
        reasons.push(Phrase::words(
            "the converter must deliver the motor's start current, and a motor needs no constant voltage",
        ));
    }
    reasons.extend(for_it(&volts, candidate, worst));
    Some(VoltageOption {
        name: format!("{}S {}{}", candidate.series, facts.short, candidate.path.words()),
        chemistry: candidate.chemistry,
        chemistry_name: facts.short,
        series: candidate.series,
        path: candidate.path,
        output_v,
        empty_v: value("pack.empty_v")?,
        nominal_v: value("pack.nominal_v")?,
        full_v: value("pack.full_v")?,
        loaded_empty_v: value("run.loaded_empty_v"),
        loaded_full_v: value("run.loaded_full_v"),
        usable_share,
        speed_change: value("device.speed_change"),
        fan_current_change: value("device.current_change"),
        efficiency: candidate.path.topology().and_then(|_| value("converter.efficiency")).unwrap_or(1.0),
        heat_w: value("converter.heat_w"),
        standby_days: standby_days(&trial, &volts),
        parts: candidate.path.parts().to_vec(),
        reversible: candidate.path.is_reversible(),
        school: candidate.path.school(),
        better_when: candidate.path.better_when(),
        worst,
        reasons,
        chosen,
        changes: changes(plan, &trial),
    })
}

/// Share of the charge without any load, from full down to what the device or the converter needs: what can be said before
/// anything is known of its current.
fn above_the_lowest(volts: &VoltsOnly, candidate: Candidate) -> Option<f64> {
    let curve = chemistry::curve(candidate.chemistry);
    let full_v = volts.value("pack.full_v")? / f64::from(candidate.series);
    // The run ends at the voltage of the line, in which two packs may stand in series.
    let in_line = volts.value("line.full_v")? / full_v;
    let ends_v = volts.value("pack.cutoff_v")? / in_line;
    Some((curve.soc(full_v) - curve.soc(ends_v)).clamp(0.0, 1.0))
}

/// Days in which what runs on at rest empties a full pack: what is stated, and a converter that no switch takes off.
fn standby_days(trial: &Plan, volts: &VoltsOnly) -> Option<f64> {
    let at_rest = trial.path(NodeKind::Pack, NodeKind::Device, StateName::Rest);
    let unstated = at_rest
        .nodes
        .iter()
        .filter_map(|n| n.module())
        .any(|module| module.converts.is_some() && module.standby_a.is_none());
    let own_a = if unstated { TYPICAL_OWN_W / volts.value("pack.nominal_v")? } else { 0.0 };
    let idle_a = own_a + volts.value("pack.standby_a").unwrap_or(0.0);
    (idle_a > 0.0).then_some(drain_days(volts.value("pack.ah")?, idle_a))
}

/// Share of the charge that a choice of voltage should let out. Common practice, no source.
const MOSTLY: f64 = 0.85;

/// Whether a rule speaks about the choice of voltage, rather than about parts chosen elsewhere.
fn speaks(rule: Rule) -> bool {
    !matches!(
        rule,
        rule::voltage::NO_GUARD
            | rule::voltage::ALARM_ONLY
            | rule::voltage::GUARD_BELOW_FLOOR
            | rule::voltage::LAST_RESORT_GUARD
            | rule::voltage::OTHER_PACKS
            | rule::voltage::SECOND_UNGUARDED
            | rule::voltage::PACKS_UNREAD
            | rule::voltage::SET_POINT_UNREAD
            | rule::voltage::SET_POINT_OFF
    )
}

/// What speaks for an option, or what it costs.
fn for_it(volts: &VoltsOnly, candidate: Candidate, worst: Option<Severity>) -> Vec<Phrase> {
    let value = |id: &str| volts.value(id);
    let mut reasons = vec![];
    match candidate.path {
        FeedPath::Direct if worst.is_none() => reasons.push(Phrase::words("its whole range fits")),
        FeedPath::Direct => {}
        FeedPath::Switched => reasons.push(Phrase::words("two settings, twice the charge in parallel")),
        FeedPath::OutsidePack => reasons.push(Phrase::words("nothing has to be cut")),
        FeedPath::ToolPack => reasons.push(Phrase::words("nothing to weld; its charger exists")),
        FeedPath::Buck | FeedPath::Boost | FeedPath::BuckBoost => {
            let heat = Phrase::words("constant voltage");
            reasons.push(match value("converter.heat_w") {
                Some(heat_w) => heat.text("; ").value(heat_w, Unit::W).text(" of heat"),
                None => heat.text("; losses and standby"),
            });
        }
    }
    if candidate.path.school() == School::Direct
        && let Some(speed) = value("device.speed_change")
        && speed.abs() >= 0.005
    {
        let sign = if speed > 0.0 { "+" } else { "−" };
        reasons.push(Phrase::words(format!("speed {sign}{}", show(speed.abs(), Unit::Share))));
    }
    if matches!(candidate.chemistry, Chemistry::LiPo | Chemistry::LiHv) {
        reasons.push(Phrase::words("a pouch needs a shell"));
    }
    reasons
}

fn topology_now(plan: &Plan) -> Option<Topology> {
    plan.module(NodeKind::Converter).and_then(|m| m.converts.as_ref()).map(|c| c.topology)
}

fn outside(path: FeedPath) -> Option<Outside> {
    match path {
        FeedPath::OutsidePack => Some(Outside::Plug),
        FeedPath::ToolPack => Some(Outside::Adapter),
        _ => None,
    }
}

/// The plan with a candidate chosen. A cell, board or charger of another kind stays: its stage then says so.
fn with(plan: &Plan, candidate: Candidate, output_v: f64) -> Option<Plan> {
    let mut trial = plan.clone();
    let pack = trial.packs.first_mut()?;
    (pack.chemistry, pack.series) = (Some(candidate.chemistry), Some(candidate.series));
    if pack.ready.part().is_some_and(|r| (r.chemistry, r.series) != (candidate.chemistry, candidate.series)) {
        pack.leave_ready();
    }
    if pack.cell.part().is_some_and(|c| c.chemistry != candidate.chemistry) {
        pack.cell = Choice::Undecided;
    }
    if topology_now(plan) != candidate.path.topology() {
        let converter = trial.nodes.iter_mut().find(|n| n.kind == NodeKind::Converter)?;
        converter.part =
            candidate.path.topology().map_or(Choice::None, |topology| Choice::chosen(converter_of(topology, output_v)));
    }
    let second = SecondPack { used_in_series: Some(true), used_in_parallel: Some(true), ..SecondPack::default() };
    let switched = candidate.path == FeedPath::Switched;
    trial.feed = Feed {
        second: switched.then(|| plan.feed.second.clone().unwrap_or(second)),
        outside: outside(candidate.path),
        ..trial.feed
    };
    Some(trial)
}

/// The changes that make a plan what a trial of it is: only the places that a choice of voltage may touch.
fn changes(plan: &Plan, trial: &Plan) -> Vec<Change> {
    let (before, pack) = (&plan.packs[0], &trial.packs[0]);
    let mut changes =
        vec![Change::put("/packs/0/chemistry", pack.chemistry), Change::put("/packs/0/series", pack.series)];
    if before.ready != pack.ready {
        changes.push(Change::put("/packs/0/ready", &pack.ready));
    }
    if before.cell != pack.cell {
        changes.push(Change::put("/packs/0/cell", &pack.cell));
    }
    for (i, (node, now)) in plan.nodes.iter().zip(&trial.nodes).enumerate() {
        if node != now {
            changes.push(Change::put(format!("/nodes/{i}"), now));
        }
    }
    if plan.feed != trial.feed {
        changes.push(Change::put("/feed", &trial.feed));
    }
    changes
}

/// A converter of which only its kind and set-point are decided.
fn converter_of(topology: Topology, output_v: f64) -> Part {
    let kind = match topology {
        Topology::Buck => "step-down converter",
        Topology::Boost => "step-up converter",
        Topology::BuckBoost => "step-up-down converter",
    };
    Part::Module {
        module: Box::new(Module {
            offer: Offer { name: format!("{kind}, set to {}", show(output_v, Unit::V)), ..Offer::default() },
            converts: Some(Converter::to(topology, output_v)),
            ..Module::default()
        }),
    }
}
