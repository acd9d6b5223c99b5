//! The reading that tells most for least trouble, and never a dangerous one.

use std::collections::BTreeMap;

use super::faults::{CircuitFault, FaultKind};
use super::judge::{Hypothesis, Level, Prediction, probabilities};
use super::points::{At, Taken};

/// Causes less likely than this are left out of the choice.
const HARDLY: f64 = 2e-3;
/// Less than this, in bits, is no reason to take another reading.
const LEAST_BITS: f64 = 0.02;
/// Probed under load, bare joints over this are left alone. Common practice, no source.
const BARE_LIVE_V: f64 = 30.0;
/// A charger is not plugged into a pack of which a group may be reversed, dead or low, this likely.
const HARMS: f64 = 0.05;
/// Where the density of a prediction is looked at, in deviations, and how much each counts.
const LOOKED_AT: [(f64, f64); 3] = [(-1.22, 0.3), (0.0, 0.4), (1.22, 0.3)];

/// Trouble of a reading against one at rest: the device is started, a charger is fetched.
fn trouble(at: At) -> f64 {
    match at {
        At::Rest => 1.0,
        At::On => 1.05,
        At::Charging => 1.2,
    }
}

/// The next reading of those that are worth taking; none where no other would tell anything.
pub(super) fn choose<'c>(
    all: &[Hypothesis],
    candidates: &'c [(String, String, At)],
    taken: &[Taken],
    level: &Level,
    error_v: &dyn Fn(f64) -> f64,
) -> Option<&'c (String, String, At)> {
    let probability = probabilities(all);
    let harmed: f64 = all
        .iter()
        .zip(&probability)
        .filter(|(h, _)| {
            matches!(h.variant.fault.kind, FaultKind::GroupReversed | FaultKind::GroupDead | FaultKind::GroupLow)
        })
        .map(|(_, p)| p)
        .sum();
    let pack_v: f64 = level.group_v.iter().sum();
    let allowed = |(red, black, at): &&(String, String, At)| {
        let bare = red.starts_with('B') && black.starts_with('B');
        let fresh = !taken.iter().any(|t| t.red == *red && t.black == *black && t.condition == *at);
        fresh && !(*at == At::Charging && harmed > HARMS) && !(*at != At::Rest && bare && pack_v > BARE_LIVE_V)
    };
    let likely: Vec<(&Hypothesis, f64)> =
        all.iter().zip(probability.iter().copied()).filter(|(_, p)| *p > HARDLY).collect();
    let before = entropy(likely.iter().map(|(h, p)| (h.variant.fault, *p)));
    let worth = |(red, black, at): &(String, String, At)| {
        let predicted: Vec<(CircuitFault, f64, Prediction)> = likely
            .iter()
            .map(|(h, p)| {
                // The error of the meter is that at what it would show.
                let rough = h.predict(red, black, *at, level, 0.0).mean_v;
                (h.variant.fault, *p, h.predict(red, black, *at, level, error_v(rough)))
            })
            .collect();
        (before - expected(&predicted)) / trouble(*at)
    };
    let scored = candidates.iter().filter(allowed).map(|c| (worth(c), c));
    scored.max_by(|a, b| a.0.total_cmp(&b.0)).filter(|(bits, _)| *bits > LEAST_BITS).map(|(_, c)| c)
}

/// Entropy of the causes after a reading, in bits, over what may be read.
fn expected(predicted: &[(CircuitFault, f64, Prediction)]) -> f64 {
    let mut sum = 0.0;
    for (_, p, prediction) in predicted {
        for (off, share) in LOOKED_AT {
            let volts = prediction.mean_v + off * prediction.deviation_v;
            let after = predicted.iter().map(|(fault, p, other)| (*fault, p * density(other, volts)));
            sum += p * share * entropy(after);
        }
    }
    sum
}

fn density(prediction: &Prediction, volts: f64) -> f64 {
    let off = (volts - prediction.mean_v) / prediction.deviation_v;
    (-0.5 * off * off).exp() / prediction.deviation_v
}

/// Entropy of causes, in bits; variants of one cause are one.
fn entropy(weights: impl Iterator<Item = (CircuitFault, f64)>) -> f64 {
    let mut of: BTreeMap<CircuitFault, f64> = BTreeMap::new();
    weights.for_each(|(fault, w)| *of.entry(fault).or_default() += w);
    let sum: f64 = of.values().sum();
    if sum <= 0.0 {
        return 0.0;
    }
    of.values().filter(|w| **w > 0.0).map(|w| -(w / sum) * (w / sum).log2()).sum()
}
