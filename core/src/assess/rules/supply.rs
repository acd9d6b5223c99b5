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
                title: "Is the printed current that of the input or of the output?",
                why: "“{$0}” does not say; its charge current may be anything up to {charger.output_a}. Cells, board and supply are judged by the most: measure both leads.",
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
                title: "Nothing feeds the charger",
                why: "“{$0}” does not plug into the wall itself: it wants a supply of {supply.needed_w}.",
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
            "The supply is too weak for the charger",
            "At the top of the charge it must give {supply.needed_a}, and has {supply.output_a}: it sags, and the charger flickers.",
        );
    }
    let Some(supplies) = workspace.supplies() else { return };
    if charges.input_max_v.is_some_and(|most_v| above(supplies.output_v, most_v)) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::charging::SUPPLY_VOLTS,
                subject: "",
                title: "The supply has more volts than the charger bears",
                why: "“{$0}” is made for less than its supply gives: it dies, and may take the cells along.",
                words: &[&name],
            },
        );
    } else if matches!((l.value(&ARRIVES_V), charges.input_min_v), (Some(v), Some(least_v)) if below(v, least_v)) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::SUPPLY_LOW,
                subject: "",
                title: "Too few volts reach the charger",
                why: "{supply.arrives_v} reach “{$0}” at the top of the charge, less than it works from: it flickers or never gets there. A shorter or thicker cable, or more volts.",
                words: &[&name],
            },
        );
    } else if charges.input_min_v.is_none() && below(supplies.output_v, charges.output_v.value) {
        f.add(
            Severity::Caution,
            Says {
                rule: rule::charging::SUPPLY_BELOW_END,
                subject: "",
                title: "Does the charger step up?",
                why: "“{$0}” must end at {charger.output_v}, and its supply gives less. Only a charger that steps up does that: read which input is printed on it.",
                words: &[&name],
            },
        );
    }
}
