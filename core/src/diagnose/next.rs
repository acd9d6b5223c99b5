//! The reading that tells most for least trouble, and never a dangerous one.

use std::collections::BTreeMap;

use super::asked::QUESTIONS;
use super::faults::CircuitFault;
use super::judge::{Hypothesis, Level, Prediction, probabilities};
use super::kind::FaultKind;
use super::points::{At, Taken};
use super::questions::OddQuestion;
use super::symptoms::Symptom;

/// Causes less likely than this are left out of the choice.
const HARDLY: f64 = 2e-3;
/// Less than this, in bits, is no reason to take another reading.
const LEAST_BITS: f64 = 0.02;
/// The same for an answer: one is sooner forgotten than a reading.
const LEAST_ANSWER_BITS: f64 = 0.04;
/// Probed under load, bare joints over this are left alone. Common practice, no source.
const BARE_LIVE_V: f64 = 30.0;
/// A charger is not plugged into a pack of which a group may be reversed, dead or low, this likely.
const HARMS: f64 = 0.05;
/// No source is read while the red lead is in a socket for amperes this likely.
const SHORTS: f64 = 0.15;
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

/// The next reading of those that are worth taking, with its bits for its trouble; none where no other would tell anything, and
/// none while the red lead may be in a socket for amperes.
pub(super) fn choose(
    all: &[Hypothesis<'_>],
    candidates: &[(String, String, At)],
    taken: &[Taken],
    level: &Level,
    error_v: &dyn Fn(f64) -> f64,
) -> Option<(f64, (String, String, At))> {
    let probability = probabilities(all);
    let any_of = |kinds: &[FaultKind]| -> f64 {
        let of = |h: &Hypothesis<'_>| kinds.contains(&h.variant.fault.kind);
        all.iter().zip(&probability).filter(|(h, _)| of(h)).map(|(_, p)| p).sum()
    };
    let harmed = any_of(&[FaultKind::GroupReversed, FaultKind::GroupDead, FaultKind::GroupLow]);
    if any_of(&[FaultKind::LeadSocket]) > SHORTS {
        return None;
    }
    let pack_v: f64 = level.group_v.iter().sum();
    let allowed = |(red, black, at): &&(String, String, At)| {
        let bare = red.starts_with('B') && black.starts_with('B');
        let fresh = !taken.iter().any(|t| t.red == *red && t.black == *black && t.condition == *at);
        fresh && !(*at == At::Charging && harmed > HARMS) && !(*at != At::Rest && bare && pack_v > BARE_LIVE_V)
    };
    let likely: Vec<(&Hypothesis<'_>, f64)> =
        all.iter().zip(probability.iter().copied()).filter(|(_, p)| *p > HARDLY).collect();
    // Variants of one fault are one cause: each fault has a number.
    let mut faults: Vec<CircuitFault> = likely.iter().map(|(h, _)| h.variant.fault).collect();
    faults.sort_unstable();
    faults.dedup();
    let number = |h: &Hypothesis<'_>| faults.binary_search(&h.variant.fault).unwrap_or(0);
    let before = entropy(likely.iter().map(|(h, p)| (h.variant.fault, *p)));
    let worth = |(red, black, at): &(String, String, At)| {
        let predicted: Vec<Predicted> = likely
            .iter()
            .map(|(h, p)| {
                // The error of the meter is that at what it would show.
                let rough = h.predict(red, black, *at, level, 0.0).mean_v;
                let read = h.predict(red, black, *at, level, error_v(rough));
                Predicted { fault: number(h), p: *p, read }
            })
            .collect();
        (before - expected(&predicted, faults.len())) / trouble(*at)
    };
    let scored = candidates.iter().filter(allowed).map(|c| (worth(c), c));
    scored.max_by(|a, b| a.0.total_cmp(&b.0)).filter(|(bits, _)| *bits > LEAST_BITS).map(|(bits, c)| (bits, c.clone()))
}

/// The question that tells most for its trouble, with its bits for that; none where no answer would tell anything.
pub(super) fn ask(
    all: &[Hypothesis<'_>],
    probability: &[f64],
    asked: &[&OddQuestion],
    seen: &[Symptom],
) -> Option<(f64, &'static OddQuestion)> {
    type Behind = (CircuitFault, FaultKind);
    let mut of: BTreeMap<Behind, f64> = BTreeMap::new();
    for (h, p) in all.iter().zip(probability) {
        h.stories.iter().for_each(|s| *of.entry((h.variant.fault, s.kind)).or_default() += p * s.share);
    }
    let before = entropy(of.iter().map(|(behind, p)| (*behind, *p)));
    let worth = |question: &'static OddQuestion| {
        let after: f64 = (0..question.answers.len())
            .map(|answer| {
                let joint = || of.iter().map(|(behind, p)| (*behind, p * question.likelihood(answer, behind.1)));
                joint().map(|(_, p)| p).sum::<f64>() * entropy(joint())
            })
            .sum();
        (before - after) / question.trouble
    };
    let open = QUESTIONS.iter().filter(|q| q.fits(seen) && !asked.iter().any(|a| a.id == q.id));
    open.map(|q| (worth(q), q)).max_by(|a, b| a.0.total_cmp(&b.0)).filter(|(bits, _)| *bits > LEAST_ANSWER_BITS)
}

/// What one of the likely variants predicts of a reading.
struct Predicted {
    /// Number of its fault.
    fault: usize,
    p: f64,
    read: Prediction,
}

/// Entropy of the causes after a reading, in bits, over what may be read.
fn expected(predicted: &[Predicted], faults: usize) -> f64 {
    let mut after = vec![0.0; faults];
    let mut sum = 0.0;
    for Predicted { p, read, .. } in predicted {
        for (off, share) in LOOKED_AT {
            let volts = read.mean_v + off * read.deviation_v;
            after.fill(0.0);
            predicted.iter().for_each(|other| after[other.fault] += other.p * density(&other.read, volts));
            sum += p * share * bits(after.iter().copied());
        }
    }
    sum
}

fn density(prediction: &Prediction, volts: f64) -> f64 {
    let off = (volts - prediction.mean_v) / prediction.deviation_v;
    (-0.5 * off * off).exp() / prediction.deviation_v
}

/// Entropy of causes, in bits; variants of one cause are one.
fn entropy<C: Ord>(weights: impl Iterator<Item = (C, f64)>) -> f64 {
    let mut of: BTreeMap<C, f64> = BTreeMap::new();
    weights.for_each(|(cause, w)| *of.entry(cause).or_default() += w);
    bits(of.values().copied())
}

/// Entropy of weights that need not sum to one, in bits.
fn bits(weights: impl Iterator<Item = f64> + Clone) -> f64 {
    let sum: f64 = weights.clone().sum();
    if sum <= 0.0 {
        return 0.0;
    }
    weights.filter(|w| *w > 0.0).map(|w| -(w / sum) * (w / sum).log2()).sum()
}
