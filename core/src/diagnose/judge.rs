//! How well each fault explains the readings: Bayes' rule over laws that are linear in what is not known.
//!
//! The voltage of the groups share one unknown level and differ by little; resistance of the cells and draw of the device are
//! known to a share; the meter has its error. All of that is taken as normal, so that the probability of the readings is that
//! of one multivariate normal for each fault.

use std::cell::OnceCell;

use super::faults::Variant;
use super::kind::FaultKind;
use super::network::{Laws, Network};
use super::points::{At, Taken};
use super::stories::Story;

/// Sound groups of one pack stand so near each other.
const APART_V: f64 = 0.015;
/// A group far below the others: how far, and how much that varies. Assumed.
const LOW_V: f64 = 0.4;
const LOW_WIDTH_V: f64 = 0.2;
/// A dead group has hardly any voltage. Assumed.
const DEAD_V: f64 = 0.25;
const DEAD_WIDTH_V: f64 = 0.3;
/// Joints, contacts and wires of which it is not known the resistance lose some ten millivolts under load. Common practice.
const UNDER_LOAD_V: f64 = 0.02;
/// An error limit of a meter as a standard deviation: between an even spread and a normal one.
const OF_LIMIT: f64 = 0.6;
/// How finely anything is known at all.
const LEAST_V: f64 = 0.004;

/// What is known of the groups before they are read.
#[derive(Debug, Clone)]
pub(super) struct Level {
    /// The likeliest voltage of each.
    pub group_v: Vec<f64>,
    /// How far all of them together may be off.
    pub together_v: f64,
}

/// Makes the network of a fault in a condition.
pub(super) type Maker<'m> = dyn Fn(&Variant, At) -> Option<Network> + 'm;

/// The networks of one fault, each made once it is asked for, with how it stands after the readings so far.
pub(super) struct Hypothesis<'m> {
    pub variant: Variant,
    /// What may lie behind it, each with its share; together they are one.
    pub stories: Vec<Story>,
    make: &'m Maker<'m>,
    networks: [OnceCell<Option<Network>>; 3],
    /// Logarithm of prior times likelihood.
    pub weight: f64,
    seen: Seen,
}

/// The readings so far as this fault has them.
struct Seen {
    /// Each as a row: its loadings on everything unknown, and its own variance.
    rows: Vec<Row>,
    /// Lower triangle of the covariance's Cholesky factor.
    factor: Vec<Vec<f64>>,
    /// Factor⁻¹ (readings − mean).
    whitened: Vec<f64>,
}

/// One reading as a fault predicts it.
#[derive(Debug, Clone)]
struct Row {
    mean_v: f64,
    loads: Vec<f64>,
    variance: f64,
}

/// A prediction: what is likely to be read, and how sure that is.
#[derive(Debug, Clone, Copy)]
pub(super) struct Prediction {
    pub mean_v: f64,
    pub deviation_v: f64,
}

impl<'m> Hypothesis<'m> {
    /// `stories` with their weights after all that was seen and answered.
    pub fn new(variant: Variant, make: &'m Maker<'m>, mut stories: Vec<Story>) -> Hypothesis<'m> {
        let seen = Seen { rows: vec![], factor: vec![], whitened: vec![] };
        let sum = stories.iter().map(|s| s.share).sum::<f64>().max(f64::MIN_POSITIVE);
        stories.iter_mut().for_each(|s| s.share /= sum);
        Hypothesis { variant, stories, make, networks: Default::default(), weight: (variant.prior * sum).ln(), seen }
    }

    /// Takes a reading into account.
    pub fn take(&mut self, taken: &Taken, level: &Level, error_v: f64) {
        let row = self.row(&taken.red, &taken.black, taken.condition, level, error_v);
        self.weight += self.seen.add(row, taken.volts);
    }

    /// What the next reading would be.
    pub fn predict(&self, red: &str, black: &str, at: At, level: &Level, error_v: f64) -> Prediction {
        let row = self.row(red, black, at, level, error_v);
        let known = self.seen.known(&row);
        let mean_v = row.mean_v + known.iter().zip(&self.seen.whitened).map(|(k, w)| k * w).sum::<f64>();
        let left = row.whole() - known.iter().map(|k| k * k).sum::<f64>();
        Prediction { mean_v, deviation_v: left.max(LEAST_V * LEAST_V).sqrt() }
    }

    fn row(&self, red: &str, black: &str, at: At, level: &Level, error_v: f64) -> Row {
        let network = self.networks[at as usize].get_or_init(|| (self.make)(&self.variant, at)).as_ref();
        let laws = network.and_then(|n| n.laws(red, black)).filter(|_| self.variant.fault.kind != FaultKind::Other);
        let width = 4 + level.group_v.len();
        let Some(laws) = laws else {
            // What nothing explains may read anything a pack has.
            let all_v: f64 = level.group_v.iter().sum();
            return Row { mean_v: 0.0, loads: vec![0.0; width], variance: all_v * all_v };
        };
        self.of_laws(&laws, at, level, error_v)
    }

    fn of_laws(&self, laws: &Laws, at: At, level: &Level, error_v: f64) -> Row {
        let mut group_v = level.group_v.clone();
        let mut shared: Vec<f64> = vec![level.together_v; group_v.len()];
        let mut own: Vec<f64> = vec![APART_V; group_v.len()];
        if let Some(k) = self.variant.fault.at.and_then(|k| k.checked_sub(1)).filter(|k| *k < group_v.len()) {
            match self.variant.fault.kind {
                FaultKind::GroupReversed => (group_v[k], shared[k]) = (-group_v[k], -shared[k]),
                FaultKind::GroupDead => (group_v[k], shared[k], own[k]) = (DEAD_V, 0.0, DEAD_WIDTH_V),
                FaultKind::GroupLow => (group_v[k], own[k]) = (group_v[k] - LOW_V, LOW_WIDTH_V),
                _ => {}
            }
        }
        let sign = match self.variant.fault.kind {
            FaultKind::LeadsSwapped => -1.0,
            FaultKind::MeterScale => self.variant.size,
            FaultKind::MeterRange | FaultKind::LeadSocket => 0.0,
            _ => 1.0,
        };
        let mean_v = laws.law.at(&group_v);
        let mut loads = vec![sign * laws.law.of_group.iter().zip(&shared).map(|(c, v)| c * v).sum::<f64>()];
        for more in [&laws.more_ohm, &laws.more_draw, &laws.more_leak] {
            loads.push(more.as_ref().map_or(0.0, |law| sign * (law.at(&group_v) - mean_v)));
        }
        loads.extend(laws.law.of_group.iter().zip(&own).map(|(c, v)| sign * c * v));
        let model_v = if at == At::Rest { 0.0 } else { UNDER_LOAD_V };
        let meter_v = OF_LIMIT * error_v;
        let variance = meter_v * meter_v + model_v * model_v + LEAST_V * LEAST_V;
        Row { mean_v: sign * mean_v, loads, variance }
    }
}

impl Row {
    fn with(&self, other: &Row) -> f64 {
        self.loads.iter().zip(&other.loads).map(|(a, b)| a * b).sum()
    }

    fn whole(&self) -> f64 {
        self.with(self) + self.variance
    }
}

impl Seen {
    /// Factor⁻¹ times the covariance of a row with the readings so far.
    fn known(&self, row: &Row) -> Vec<f64> {
        let mut known: Vec<f64> = vec![];
        for (i, earlier) in self.rows.iter().enumerate() {
            let explained: f64 = self.factor[i].iter().zip(&known).map(|(f, k)| f * k).sum();
            known.push((row.with(earlier) - explained) / self.factor[i][i]);
        }
        known
    }

    /// Adds a reading; gives the logarithm of its density after those before it.
    fn add(&mut self, row: Row, volts: f64) -> f64 {
        let mut known = self.known(&row);
        let left = (row.whole() - known.iter().map(|k| k * k).sum::<f64>()).max(LEAST_V * LEAST_V);
        let expected_v = row.mean_v + known.iter().zip(&self.whitened).map(|(k, w)| k * w).sum::<f64>();
        let off = (volts - expected_v) / left.sqrt();
        known.push(left.sqrt());
        self.factor.push(known);
        self.whitened.push(off);
        self.rows.push(row);
        -0.5 * (off * off + left.ln() + (2.0 * std::f64::consts::PI).ln())
    }
}

/// Probabilities of all, of weights that are logarithms.
pub(super) fn probabilities(all: &[Hypothesis<'_>]) -> Vec<f64> {
    let most = all.iter().map(|h| h.weight).fold(f64::NEG_INFINITY, f64::max);
    let raw: Vec<f64> = all.iter().map(|h| (h.weight - most).exp()).collect();
    let sum: f64 = raw.iter().sum();
    raw.into_iter().map(|p| p / sum).collect()
}
