//! Which finding follows from which: one cause is one finding, and what comes of it is folded under it.

use super::finding::Finding;

/// A rule, and those it may follow from, the first that is found. Where both speak of one of several, they must speak of the
/// same one.
const FOLLOWS: &[(&str, &[&str])] = &[
    (
        "voltage.nothing-usable",
        &[
            "wiring.drop-below-device",
            "voltage.loaded-below-device",
            "voltage.converter-input-low",
            "cells.over-rating",
        ],
    ),
    (
        "voltage.charge-unused",
        &["voltage.nothing-usable", "wiring.drop-below-device", "voltage.loaded-below-device", "voltage.buck-headroom"],
    ),
    ("voltage.faster-motor", &["voltage.full-above-device", "voltage.series-above-device"]),
    ("voltage.full-above-device", &["voltage.series-above-device"]),
    ("voltage.loaded-below-device", &["voltage.parallel-never-runs"]),
    ("voltage.converter-hot", &["voltage.converter-heat", "voltage.converter-output-current"]),
    ("voltage.heat-unplaced", &["voltage.converter-hot"]),
    ("voltage.last-resort-guard", &["protection.ends-too-low"]),
    ("voltage.converter-input-peak", &["voltage.converter-output-peak"]),
    ("voltage.second-unguarded", &["voltage.no-guard", "voltage.packs-unequal"]),
    (
        "run.shorter-than-wanted",
        &["voltage.nothing-usable", "voltage.charge-unused", "wiring.drop-below-device", "voltage.loaded-below-device"],
    ),
    (
        "run.shorter-than-before",
        &["voltage.nothing-usable", "voltage.charge-unused", "wiring.drop-below-device", "voltage.loaded-below-device"],
    ),
    ("run.brown-out", &["voltage.nothing-usable", "voltage.loaded-below-device", "cells.peak-over-rating"]),
    ("run.cell-too-hot", &["cells.over-rating"]),
    ("brick.hottest-cell", &["cells.over-rating"]),
    ("brick.share-over-rating", &["brick.uneven-sharing"]),
    ("brick.strip-over-peak", &["brick.strip-over-current"]),
    ("brick.too-many-cells", &["brick.cell-too-large"]),
    ("protection.fuse-above-strips", &["brick.strip-over-current", "brick.strip-over-peak"]),
    ("protection.trip-above-strips", &["brick.strip-over-current", "brick.strip-over-peak"]),
    ("protection.fuse-above-wire", &["wiring.wire-over-current", "wiring.wire-over-peak"]),
    ("protection.fuse-above-connector", &["wiring.connector-over-current"]),
    ("protection.trip-in-load", &["protection.board-over-current", "protection.board-contradicts"]),
    ("protection.trip-in-peak", &["protection.board-over-current", "protection.trip-in-load"]),
    (
        "protection.short-too-late",
        &["protection.fuse-above-wire", "protection.fuse-above-strips", "protection.no-over-current"],
    ),
    ("protection.other-series", &["protection.other-chemistry"]),
    ("protection.reserve-drains", &["voltage.guard-below-floor", "voltage.no-guard"]),
    ("wiring.drop", &["wiring.drop-below-device"]),
    ("wiring.wire-over-peak", &["wiring.wire-over-current"]),
    ("wiring.thinner-than-before", &["wiring.wire-over-current"]),
    ("charging.ended-by-guard", &["charging.over-volts", "charging.slightly-over", "charging.end-unsure"]),
    ("charging.fast", &["charging.cold-fast", "charging.over-cells"]),
    ("charging.cold-fast", &["charging.over-cells"]),
    ("charging.readings-disagree", &["wiring.tap-misplaced"]),
    ("device.alarm-not-rescaled", &["device.gauge-blind"]),
];

/// Ties every finding to the one it follows from, if that is there too. None is tied to one that follows from itself.
pub fn tie(found: &mut [Finding]) {
    let causes: Vec<Option<String>> = found.iter().map(|f| cause(found, f)).collect();
    for (finding, cause) in found.iter_mut().zip(causes) {
        finding.follows = cause;
    }
}

fn cause(found: &[Finding], finding: &Finding) -> Option<String> {
    let (_, causes) = FOLLOWS.iter().find(|(rule, _)| *rule == finding.rule)?;
    let suits = |cause: &Finding| {
        let (own, its) = (finding.subject(), cause.subject());
        own.is_empty() || its.is_empty() || own == its
    };
    // What is worse than its cause, or accepted where that is not, stands by itself.
    let stands = |cause: &Finding| cause.severity >= finding.severity && cause.accepted.is_none();
    causes
        .iter()
        .find_map(|rule| found.iter().find(|f| f.rule == *rule && suits(f) && stands(f)))
        .map(|cause| cause.key.clone())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_follows_from_itself_by_any_way_round() {
        for (rule, _) in FOLLOWS {
            let (mut reached, mut next) = (vec![], vec![*rule]);
            while let Some(at) = next.pop() {
                for cause in FOLLOWS.iter().find(|(r, _)| *r == at).map_or(&[][..], |(_, causes)| causes) {
                    assert_ne!(cause, rule, "{rule} leads back to itself");
                    if !reached.contains(cause) {
                        reached.push(*cause);
                        next.push(cause);
                    }
                }
            }
        }
    }
}
