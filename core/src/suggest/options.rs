//! Every pack that could feed the device, weighed and ranked.

use serde::Serialize;
use utoipa::ToSchema;

use crate::assess::{Assessment, Severity, Stage, assess_at_face_value};
use crate::chemistry::Chemistry;
use crate::phrase::Phrase;
use crate::plan::{Change, Choice, Converts, FieldError, Module, Node, NodeKind, Offer, Part, Plan, Topology, apply};
use crate::quantity::{Unit, show};
use crate::voltage::{Candidate, FeedPath, candidates};

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
    /// Pack volts at the sensible end.
    pub empty_v: f64,
    /// Nominal pack volts.
    pub nominal_v: f64,
    /// Full pack volts.
    pub full_v: f64,
    /// Pack volts at the sensible end under the usual load at the coldest use.
    pub loaded_empty_v: Option<f64>,
    /// Usable share of the charge.
    pub usable_share: Option<f64>,
    /// Motor speed against the old battery.
    pub speed_change: Option<f64>,
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
    /// Lowest volts of the device, as known or assumed.
    pub lowest_v: Option<f64>,
    /// Highest volts of the device, as known or assumed.
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
/// own volts; fewer cells.
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
    let mut found: Vec<VoltageOption> =
        reference_v.map_or_else(Vec::new, |v| candidates(v).into_iter().filter_map(|c| weigh(plan, c, v)).collect());
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
            "Enter the chemistry and cells of the old battery, or the highest volts of the device, first.".to_owned()
        }),
        options: found,
    })
}

fn weigh(plan: &Plan, candidate: Candidate, output_v: f64) -> Option<VoltageOption> {
    let changes = changes(plan, candidate, output_v)?;
    let trial = apply(plan, &changes).ok()?;
    let assessment = assess_at_face_value(&trial).ok()?;
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let facts = candidate.chemistry.facts();
    let output_v = candidate.path.topology().map(|_| output_v);
    let chosen = plan
        .main_pack()
        .is_some_and(|p| p.chemistry == Some(candidate.chemistry) && p.series == Some(candidate.series))
        && topology_now(plan) == candidate.path.topology();
    let against: Vec<_> = assessment.findings.iter().filter(|f| f.stage == Stage::Voltage && speaks(&f.rule)).collect();
    let worst = against.iter().map(|f| f.severity).max();
    let mut reasons: Vec<Phrase> = against.iter().map(|f| f.title.clone()).collect();
    reasons.extend(for_it(&assessment, candidate, worst));
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
        usable_share: value("run.usable_share"),
        speed_change: value("device.speed_change"),
        worst,
        reasons,
        chosen,
        changes,
    })
}

/// Whether a rule speaks about the choice of volts, rather than about parts chosen elsewhere.
fn speaks(rule: &str) -> bool {
    !matches!(
        rule,
        "voltage.no-guard"
            | "voltage.alarm-only"
            | "voltage.guard-below-floor"
            | "voltage.last-resort-guard"
            | "voltage.other-packs"
            | "voltage.set-point-unread"
            | "voltage.set-point-off"
    )
}

/// What speaks for an option, or what it costs.
fn for_it(assessment: &Assessment, candidate: Candidate, worst: Option<Severity>) -> Vec<Phrase> {
    let value = |id: &str| assessment.figure(id).map(|f| f.value);
    let mut reasons = vec![];
    match candidate.path {
        FeedPath::Direct if worst.is_none() => reasons.push(Phrase::words("fits the window whole")),
        FeedPath::Direct => {}
        _ => {
            let heat = Phrase::words("constant volts");
            reasons.push(match value("converter.heat_w") {
                Some(heat_w) => heat.text("; ").value(heat_w, Unit::W).text(" of heat"),
                None => heat.text("; losses and standby"),
            });
        }
    }
    if candidate.path == FeedPath::Direct
        && let Some(speed) = value("device.speed_change")
        && speed.abs() >= 0.005
    {
        let sign = if speed > 0.0 { "+" } else { "−" };
        reasons.push(Phrase::words(format!("speed {sign}{}", show(speed.abs(), Unit::Share))));
    }
    if matches!(candidate.chemistry, Chemistry::LiPo | Chemistry::LiHv) {
        reasons.push(Phrase::words("a pouch wants a shell"));
    }
    reasons
}

fn topology_now(plan: &Plan) -> Option<Topology> {
    plan.module(NodeKind::Converter).and_then(|m| m.converts.as_ref()).map(|c| c.topology)
}

/// The changes that choose a candidate. A cell, board or charger of another kind stays: its stage then says so.
fn changes(plan: &Plan, candidate: Candidate, output_v: f64) -> Option<Vec<Change>> {
    let converter = plan.nodes.iter().position(|n| n.kind == NodeKind::Converter)?;
    let mut changes =
        vec![Change::put("/packs/0/chemistry", candidate.chemistry), Change::put("/packs/0/series", candidate.series)];
    if plan.main_pack()?.cell.part().is_some_and(|c| c.chemistry != candidate.chemistry) {
        changes.push(Change::put("/packs/0/cell", Choice::<crate::plan::Cell>::Open));
    }
    if topology_now(plan) != candidate.path.topology() {
        let part =
            candidate.path.topology().map_or(Choice::None, |topology| Choice::chosen(converter_of(topology, output_v)));
        let node = Node { part, ..plan.nodes[converter].clone() };
        changes.push(Change::put(format!("/nodes/{converter}"), node));
    }
    Some(changes)
}

/// A converter of which only its kind and set point are decided.
fn converter_of(topology: Topology, output_v: f64) -> Part {
    let kind = match topology {
        Topology::Buck => "step-down converter",
        Topology::Boost => "step-up converter",
        Topology::BuckBoost => "step-up-down converter",
    };
    Part::Module {
        module: Box::new(Module {
            offer: Offer { name: format!("{kind}, set to {}", show(output_v, Unit::V)), ..Offer::default() },
            converts: Some(Converts {
                topology,
                output_v,
                set_point_v: None,
                wired_in: false,
                input_min_v: None,
                input_max_v: None,
                input_a: None,
                output_a: None,
                efficiency: None,
                dropout_v: None,
                sheds_w: None,
            }),
            ..Module::default()
        }),
    }
}
