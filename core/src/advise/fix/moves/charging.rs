//! What is worth trying for findings about charger, supply and host.

use super::{At, Move, put, these, thicker};
use crate::assess::Assessment;
use crate::assess::rule;
use crate::base::quantity::{Unit, show};
use crate::plan::{NodeKind, Plan};
use serde_json::Value;

pub fn moves_for(at: &At<'_>) -> Vec<Move> {
    match at.finding.rule {
        rule::charging::HOST_CHARGES | rule::charging::HOST_REUSED | rule::charging::HOST_OVER_VOLTS => {
            vec![put("/charging/host", "cut_off", "Disconnect its charge circuit")]
        }
        rule::charging::TWO_CHARGERS => vec![put("/charging/host", "cut_off", "Disconnect its charge circuit")],
        rule::charging::HOST_NODE_FED => {
            vec![put("/charging/host_isolated", true, "A diode or a relay keeps the feed off its charge node")]
        }
        rule::charging::POLARITY => {
            vec![put("/charging/plug_v", Value::Null, "I swap the leads of the plug and read it again")]
        }
        rule::charging::UNKNOWN_SIDE => counted_as(at.assessment, at.plan),
        rule::charging::SUPPLY_LOW => {
            these(&[thicker("supply-charger"), at.part(NodeKind::Supply), at.part(NodeKind::Charger)])
        }
        rule::charging::SUPPLY_VOLTS => these(&[at.part(NodeKind::Supply), at.part(NodeKind::Charger)]),
        rule::charging::LOAD_ON => these(&[at.part(NodeKind::Switch)]),
        rule::charging::BALANCING_LONG => these(&[at.part(NodeKind::Board), at.part(NodeKind::Charger)]),
        rule::charging::FUSE_SMALL | rule::charging::FUSE_VOLTS => {
            vec![Move::Nearest { place: at.finding.subject().to_owned() }]
        }
        rule::charging::FAILED_ON_ARRIVAL => these(&[at.subject_part()]),
        rule::charging::OVER_BOARD | rule::charging::ENDED_BY_GUARD => {
            these(&[at.part(NodeKind::Charger), at.part(NodeKind::Board)])
        }
        rule::charging::OVER_JACK => these(&[at.subject_part(), at.part(NodeKind::Charger)]),
        rule::charging::NO_SUPPLY | rule::charging::SUPPLY_WEAK | rule::charging::SUPPLY_BELOW_END => {
            these(&[at.part(NodeKind::Supply), at.part(NodeKind::Charger)])
        }
        rule::charging::NO_CURRENT_LIMIT
        | rule::charging::OLD_CHARGER
        | rule::charging::OVER_VOLTS
        | rule::charging::SLIGHTLY_OVER
        | rule::charging::NEVER_ENDS
        | rule::charging::OTHER_COUNT
        | rule::charging::OVER_CELLS
        | rule::charging::FAST
        | rule::charging::SLOW
        | rule::charging::END_UNSURE
        | rule::charging::RESTARTS
        | rule::charging::BACK_LEAK
        | rule::charging::BELOW_FULL => these(&[at.part(NodeKind::Charger)]),
        rule::charging::OLD_CHARGER_FITS => vec![put("/device/original/charger_fits", false, "I change the jack")],
        rule::charging::FREEZING => these(&[
            Some(put("/environment/charge_min_c", 10.0, "Charge it indoors, from 10 °C")),
            at.part(NodeKind::Board),
        ]),
        rule::charging::COLD_FAST => these(&[
            Some(put("/environment/charge_min_c", 10.0, "Charge it indoors, from 10 °C")),
            at.part(NodeKind::Charger),
        ]),
        rule::charging::HOT => vec![put("/environment/charge_max_c", 45.0, "Charge it in the shade, up to 45 °C")],
        _ => vec![],
    }
}

/// The larger of what a printed current may mean, as the charger's output.
fn counted_as(assessment: &Assessment, plan: &Plan) -> Vec<Move> {
    let Some((i, charge_a)) =
        plan.nodes.iter().position(|n| n.kind == NodeKind::Charger).zip(assessment.figure("charger.output_a"))
    else {
        return vec![];
    };
    let shown = show(charge_a.value, Unit::A);
    let at = format!("/nodes/{i}/part/part/module/charges/output_a");
    vec![put(at, charge_a.value, format!("Use {shown} until it is measured"))]
}
