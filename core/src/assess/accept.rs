//! Cautions accepted by name, and the figure that decides whether the acceptance still holds.

use super::bench::Bench;
use super::finding::{Deciding, Finding};
use super::ledger::Ledger;

/// How far the deciding figure may worsen before a caution must be accepted anew.
const MAY_WORSEN: f64 = 0.05;

/// The direction in which a figure gets worse.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Worse {
    Up,
    Down,
}

/// Deciding figure of each caution that has one; `@` takes the finding's subject.
const DECIDING: &[(&str, &str, Worse)] = &[
    ("voltage.full-in-tolerance", "pack.full_v", Worse::Up),
    ("voltage.charge-unused", "run.usable_share", Worse::Down),
    ("voltage.faster-motor", "device.speed_change", Worse::Up),
    ("voltage.last-resort-guard", "guard.pack_v", Worse::Down),
    ("voltage.converter-heat", "converter.heat_w", Worse::Up),
    ("voltage.converter-hot", "converter.hottest_c", Worse::Up),
    ("voltage.converter-input-peak", "load.peak_a", Worse::Up),
    ("voltage.converter-output-peak", "output.peak_a", Worse::Up),
    ("voltage.adjuster-above-device", "output.most_v", Worse::Up),
    ("cells.peak-unstated", "load.peak_a", Worse::Up),
    ("voltage.divider-drains", "gauge.flat_days", Worse::Down),
    ("voltage.hold-up-small", "change.hold_up_f", Worse::Up),
    ("voltage.packs-apart", "switched.apart_v", Worse::Up),
    ("voltage.packs-unequal", "switched.left_ah", Worse::Up),
    ("voltage.standby-drain", "pack.flat_days", Worse::Down),
    ("brick.uneven-sharing", "brick.uneven", Worse::Up),
    ("brick.hottest-cell", "brick.hottest_c", Worse::Up),
    ("brick.spring-contacts", "cell.continuous_a", Worse::Up),
    ("cells.group-spread", "groups.spread_share", Worse::Up),
    ("cells.join-unequal", "groups.apart_v", Worse::Up),
    ("cells.doubtful-claim", "cell.rated_ah", Worse::Up),
    ("protection.trip-in-load", "load.continuous_a", Worse::Up),
    ("protection.trip-in-peak", "load.peak_a", Worse::Up),
    ("protection.trip-above-cells", "board.trip_a", Worse::Up),
    ("protection.trip-above-strips", "board.trip_a", Worse::Up),
    ("protection.trip-not-as-stated", "board.trip_warm_a", Worse::Up),
    ("protection.trickle-above-bleed", "board.trickle_a", Worse::Up),
    ("protection.fuse-far", "fuse.unguarded_mm", Worse::Up),
    ("protection.short-too-late", "pack.short_a", Worse::Up),
    ("protection.no-balancing", "load.continuous_a", Worse::Up),
    ("protection.no-temperature", "load.continuous_a", Worse::Up),
    ("protection.bleed-weak", "board.bleed_a", Worse::Down),
    ("protection.reserve-drains", "pack.reserve_days", Worse::Down),
    ("protection.fuse-nuisance", "load.continuous_a", Worse::Up),
    ("protection.fuse-peak", "load.peak_a", Worse::Up),
    ("protection.fuse-oversized", "fuse.rating_a", Worse::Up),
    ("protection.cutoff-chatter", "cutoff.rebound_v", Worse::Up),
    ("charging.groups-apart", "balance.apart_ah", Worse::Up),
    ("charging.balancing-long", "balance.level_s", Worse::Up),
    ("charging.slightly-over", "charge.per_cell_v", Worse::Up),
    ("charging.ended-by-guard", "charge.per_cell_v", Worse::Up),
    ("charging.fast", "charge.c_rate", Worse::Up),
    ("charging.unknown-side", "charger.output_a", Worse::Up),
    ("charging.end-unsure", "charge.per_cell_v", Worse::Up),
    ("charging.restarts", "charge.restart_v", Worse::Down),
    ("charging.slow", "charge.time_s", Worse::Up),
    ("charging.back-leak", "charge.back_days", Worse::Down),
    ("charging.supply-low", "supply.arrives_v", Worse::Down),
    ("charging.supply-below-end", "charger.output_v", Worse::Up),
    ("charging.supply-weak", "supply.needed_a", Worse::Up),
    ("charging.cold-fast", "charge.c_rate", Worse::Up),
    ("charging.freezing", "charge.coldest_c", Worse::Down),
    ("charging.hot", "charge.hottest_c", Worse::Up),
    ("wiring.drop", "wire.drop_share", Worse::Up),
    ("wiring.connector-peak", "load.peak_a", Worse::Up),
    ("wiring.switch-peak", "load.peak_a", Worse::Up),
    ("wiring.thinner-than-before", "wire.area_mm2@", Worse::Down),
    ("run.shorter-than-before", "run.time_s", Worse::Down),
    ("run.shorter-than-wanted", "run.time_s", Worse::Down),
];

fn entry(rule: &str) -> Option<(&'static str, Worse)> {
    DECIDING.iter().find(|(r, ..)| *r == rule).map(|&(_, figure, worse)| (figure, worse))
}

/// The figure that decides about a finding of that rule and key, with its value now.
pub fn deciding(ledger: &Ledger, rule: &str, key: &str) -> Option<Deciding> {
    let (figure, _) = entry(rule)?;
    let subject = super::finding::subject(key);
    let figure = if figure.ends_with('@') { format!("{figure}{subject}") } else { figure.to_owned() };
    let value = ledger.get(&figure)?.value;
    Some(Deciding { figure, value })
}

/// The reason a caution was accepted with, unless its deciding figure has worsened by more than 5 % since.
pub fn reason(bench: &Bench<'_>, finding: &Finding) -> Option<String> {
    let acceptance = bench.plan.accepted.iter().find(|a| a.finding == finding.key)?;
    let holds = match (acceptance.deciding_value, &finding.deciding, entry(&finding.rule)) {
        (Some(then), Some(now), Some((_, worse))) => {
            let by = match worse {
                Worse::Up => now.value - then,
                Worse::Down => then - now.value,
            };
            !crate::base::limit::above(by, MAY_WORSEN * then.abs())
        }
        _ => true,
    };
    holds.then(|| acceptance.reason.clone())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::assess::figures;

    #[test]
    fn every_deciding_figure_is_one_that_exists() {
        let known: Vec<&str> = figures::all().into_iter().map(|d| d.id).collect();
        for &(rule, figure, _) in DECIDING {
            assert!(known.contains(&figure.trim_end_matches('@')), "{rule} rests on {figure}, which no stage enters");
        }
    }
}
