//! Parts that failed their tests on arrival.

use crate::assess::arrival;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::plan::NodeKind;

pub fn check(f: &mut Findings<'_, '_>) {
    for (node, part, test, words) in arrival::failed(f.workspace) {
        let charges = matches!(node.kind, NodeKind::Charger | NodeKind::Supply);
        f.add(
            Severity::Stop,
            Says {
                rule: if charges { rule::charging::FAILED_ON_ARRIVAL } else { rule::protection::FAILED_ON_ARRIVAL },
                subject: &node.id,
                title: "A part failed its arrival test",
                why: "“{$0}”, {$1}: {$2}",
                words: &[part, &test.to_lowercase(), &words],
            },
        );
    }
}
