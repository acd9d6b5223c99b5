//! A fuse in the charge lead: it carries the charge, and opens at the voltage of the full pack.

use crate::assess::figures::charging::CHARGER_A;
use crate::assess::figures::voltage::FULL_V;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::above;
use crate::base::quantity::{Unit, show};
use crate::physics::protection::fuse_carries_a;

pub fn check(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let on_line = |id: &str| workspace.line.nodes.iter().any(|n| n.id == id);
    for node in workspace.charge_path.nodes.iter().filter(|n| !on_line(&n.id)) {
        let Some(fuse) = node.fuse() else { continue };
        let l = &workspace.ledger;
        let carries_a = fuse_carries_a(fuse, workspace.air_c());
        if l.value(&CHARGER_A).is_some_and(|charge_a| above(charge_a, carries_a)) {
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::charging::FUSE_SMALL,
                    subject: &node.id,
                    title: "Charge fuse too small for the charger",
                    why: "The charger gives {charger.output_a}; “{$0}” carries {$1} continuously and blows during the charge.",
                    words: &[&fuse.offer.name, &show(carries_a, Unit::A)],
                },
            );
        }
        let short_of = matches!((fuse.dc_v, l.value(&FULL_V)), (Some(dc_v), Some(full_v)) if above(full_v, dc_v));
        if short_of || fuse.dc_v.is_none() {
            let rated = fuse.dc_v.map_or_else(|| "no DC voltage".to_owned(), |v| show(v, Unit::V));
            f.add(
                Severity::Stop,
                Says {
                    rule: rule::charging::FUSE_VOLTS,
                    subject: &node.id,
                    title: "Charge fuse not rated for this voltage",
                    why: "The full pack at {pack.full_v} feeds a short in the lead; “{$0}” is rated for {$1}. The arc would keep burning.",
                    words: &[&fuse.offer.name, &rated],
                },
            );
        }
    }
}
