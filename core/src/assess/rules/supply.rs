//! What feeds the charger, and of which side a printed current is.

use crate::assess::figures::charging::{ARRIVES_V, CHARGER_A, SUPPLY_A, SUPPLY_HAS_A};
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{COMPUTED, above, below};
use crate::plan::NodeKind;

pub fn check(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let (Some(module), Some(charges)) = (workspace.plan.module(NodeKind::Charger), workspace.charges()) else {
        return;
    };
    let name = module.offer.name.clone();
    if charges.output_a.is_none() && charges.printed_a.is_some() && workspace.ledger.value(&CHARGER_A).is_some() {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::UNKNOWN_SIDE,
                subject: "",
                title: "Printed current: input or output?",
                why: "“{$0}” does not say; its charge current may be anything up to {charger.output_a}. Cells, board and supply are judged by the largest. Measure both leads.",
                words: &[&name],
            },
        );
    }
    if charges.own_supply {
        return;
    }
    let l = &workspace.ledger;
    if !workspace.is_open(NodeKind::Supply) && workspace.plan.module(NodeKind::Supply).is_none() {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::NO_SUPPLY,
                subject: "",
                title: "Charger has no supply",
                why: "“{$0}” does not plug into the mains itself: it needs a supply of {supply.needed_w}.",
                words: &[&name],
            },
        );
    }
    if let (Some(needed_a), Some(has_a)) = (l.value(&SUPPLY_A), l.value(&SUPPLY_HAS_A))
        && above(needed_a, has_a)
    {
        // The need rests on a typical efficiency: by less than can be told nothing surely sags.
        let surely = above(needed_a, has_a * (1.0 + COMPUTED));
        f.tell(
            if surely { Severity::Caution } else { Severity::Note },
            rule::charging::SUPPLY_WEAK,
            "Supply too weak for the charger",
            "At the end of constant current it must deliver {supply.needed_a}, and is rated for {supply.output_a}. It sags, and the charger flickers.",
        );
    }
    let Some(supplies) = workspace.supplies() else { return };
    if charges.input_max_v.is_some_and(|most_v| above(supplies.output_v, most_v)) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::charging::SUPPLY_VOLTS,
                subject: "",
                title: "Supply voltage too high for the charger",
                why: "“{$0}” is made for less than its supply gives. It is destroyed, and may damage the cells.",
                words: &[&name],
            },
        );
    } else if matches!((l.value(&ARRIVES_V), charges.input_min_v), (Some(v), Some(least_v)) if below(v, least_v)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::SUPPLY_LOW,
                subject: "",
                title: "Voltage at the charger too low",
                why: "{supply.arrives_v} reaches “{$0}” at the end of constant current, below its minimum input voltage. It flickers or never finishes. Use a shorter or thicker cable, or a higher supply voltage.",
                words: &[&name],
            },
        );
    } else if charges.input_min_v.is_none() && below(supplies.output_v, charges.output_v.value) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::SUPPLY_BELOW_END,
                subject: "",
                title: "Charger may not step up",
                why: "“{$0}” must end at {charger.output_v}, and its supply gives less. Only a charger that steps up does that. Read which input is printed on it.",
                words: &[&name],
            },
        );
    }
}
