//! What is known of how the cells of a chemistry age: the published models of its kin, and how far cells are from them.

use super::models::AgeingModel;
use crate::base::chemistry::Chemistry;

/// A model among those of a chemistry.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Member {
    /// The model.
    pub model: AgeingModel,
    /// How likely a cell is of its kind, before anything was measured.
    pub weight: f64,
}

/// How far a cell is from its model: standard deviation of the logarithm of the loss, where it loses more and where it loses less.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Scatter {
    /// Of those that lose more.
    pub more: f64,
    /// Of those that lose less: large cells for cars hardly age at all.
    pub less: f64,
}

/// Between cells and models of one chemistry. Chosen so that the four models of lithium-ion, left out one after the other, and six
/// sets that are not used at all lie in the 90 % band in more than four cases of five (`core/tests/all/ageing.rs`).
const KIN: Scatter = Scatter { more: 0.6, less: 1.0 };

impl Scatter {
    /// A neighbour's models say less.
    fn wider(self, times: f64) -> Scatter {
        Scatter { more: self.more * times, less: self.less * times }
    }

    /// Loss against the model's, so many standard deviations from the middle.
    pub fn factor(self, away: f64) -> f64 {
        (away * if away > 0.0 { self.more } else { self.less }).exp()
    }
}

/// How a chemistry ages, as far as it is known.
#[derive(Debug, Clone, PartialEq)]
pub struct Family {
    /// Its models.
    pub members: Vec<Member>,
    /// How far a cell is from its model.
    pub scatter: Scatter,
    /// What is to be said where the models are a neighbour's.
    pub neighbour: Option<&'static str>,
}

/// The models of a chemistry; `None` where none of any kin is published with figures.
pub fn family(chemistry: Chemistry) -> Option<Family> {
    let equal = |models: &[AgeingModel]| {
        models.iter().map(|&model| Member { model, weight: 1.0 / models.len() as f64 }).collect::<Vec<_>>()
    };
    let of = |models: &[AgeingModel], scatter, neighbour| Some(Family { members: equal(models), scatter, neighbour });
    match chemistry {
        Chemistry::LiIon => of(&AgeingModel::LITHIUM_ION, KIN, None),
        Chemistry::LiPo => of(
            &AgeingModel::LITHIUM_ION,
            KIN.wider(1.2),
            Some("Cobalt pouches have no model of their own here: those of lithium-ion are used, with a wider band."),
        ),
        Chemistry::LiHv => of(
            &AgeingModel::LITHIUM_ION,
            KIN.wider(1.4),
            Some(
                "Pouches charged to 4.35 V age faster than the models of lithium-ion that stand in for them: the band is wide.",
            ),
        ),
        Chemistry::LiFePo4 => of(&[AgeingModel::Lfp], KIN, None),
        Chemistry::LiTitanate => of(
            &[AgeingModel::Titanate, AgeingModel::Lfp],
            KIN,
            Some(
                "Titanate was measured on one cell only; phosphate, which ages faster, stands beside it for the others.",
            ),
        ),
        Chemistry::NaIon => of(
            &[AgeingModel::Lfp, AgeingModel::Nmc111],
            KIN.wider(1.4),
            Some(
                "Sodium-ion has no model of its own here: those of phosphate and of lithium-ion are used, with a wide band.",
            ),
        ),
        Chemistry::Nickel | Chemistry::LeadAcid | Chemistry::Alkaline => None,
    }
}

/// A share of the first capacity with its loss so many times as large. A gain, as titanate's on the shelf, stays what it is.
pub fn lost_times(share: f64, factor: f64) -> f64 {
    if share < 1.0 { 1.0 - factor * (1.0 - share) } else { share }
}

/// Steps of the grid over the scatter, and how many standard deviations it spans to either side.
const STEPS: i32 = 20;
const SPAN: f64 = 3.0;
/// Share of the cells below and above the band.
const TAIL: f64 = 0.05;

impl Family {
    /// What 90 % of cells of the chemistry are between, where its models say these shares of the first capacity: low and high.
    pub fn band(&self, shares: &[f64]) -> (f64, f64) {
        let mut said: Vec<(f64, f64)> = vec![];
        for (member, share) in self.members.iter().zip(shares) {
            for i in -STEPS..=STEPS {
                let away = SPAN * f64::from(i) / f64::from(STEPS);
                let share = lost_times(*share, self.scatter.factor(away));
                said.push((share.max(0.0), member.weight * (-0.5 * away * away).exp()));
            }
        }
        said.sort_by(|a, b| a.0.total_cmp(&b.0));
        (quantile(&said, TAIL), quantile(&said, 1.0 - TAIL))
    }
}

/// The value below which so much of the weight lies, between the middles of neighbours. `sorted`: values with weights, ascending;
/// 0 of nothing.
pub fn quantile(sorted: &[(f64, f64)], of: f64) -> f64 {
    let whole: f64 = sorted.iter().map(|v| v.1).sum();
    let wanted = of * whole;
    let mut below = 0.0;
    let mut last: Option<(f64, f64)> = None;
    for &(value, weight) in sorted {
        let middle = below + weight / 2.0;
        if middle >= wanted {
            let Some((at, before)) = last else { return value };
            return before + (value - before) * (wanted - at) / (middle - at);
        }
        last = Some((middle, value));
        below += weight;
    }
    sorted.last().map_or(0.0, |v| v.0)
}

#[cfg(test)]
mod tests {
    use super::quantile;

    #[test]
    fn a_quantile_lies_between_its_neighbours() {
        let equal: Vec<(f64, f64)> = (0..=100).map(|i| (f64::from(i), 1.0)).collect();
        assert!((quantile(&equal, 0.5) - 50.0).abs() < 1e-9);
        assert!((quantile(&equal, 0.05) - 4.55).abs() < 1e-9);
        assert_eq!((quantile(&[], 0.5), quantile(&[(7.0, 0.1)], 0.95)), (0.0, 7.0));
        // All the weight on one of two.
        assert!((quantile(&[(1.0, 1e-9), (2.0, 1.0)], 0.3) - 2.0).abs() < 0.5);
    }
}
