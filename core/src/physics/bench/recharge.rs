//! What a run drew, from what the recharge put back: a way round a missing ammeter.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::chemistry::Chemistry;
use crate::base::range::{self, Range};
use crate::physics::meters::product_error_share;
use crate::plan::{Draw, FieldError, How, Known, Load};

/// What a recharge put back, and where it was read.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "as", rename_all = "snake_case", deny_unknown_fields)]
pub enum PutBack {
    /// Charge, counted at the battery.
    Charge {
        /// Ampere-hours.
        charge_ah: f64,
    },
    /// Energy, counted at the battery.
    Energy {
        /// Watt-hours.
        energy_wh: f64,
    },
    /// Energy, counted where the charger is plugged in.
    SupplyEnergy {
        /// Watt-hours.
        energy_wh: f64,
    },
}

/// A run and the recharge after it, both from full to full.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Recharge {
    /// What it put back.
    pub put_back: PutBack,
    /// How long the device had run.
    pub run_s: f64,
    /// Chemistry of the battery that was run down.
    pub chemistry: Option<Chemistry>,
    /// Error of the counter, as a share.
    pub error_share: Option<f64>,
}

/// What a run drew on the mean.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MeanDraw {
    /// The level as a plan takes it.
    pub level: Load,
    /// Share of what was put back that the run had taken.
    pub returned_share: f64,
    /// Error either way, as a share.
    pub error_share: f64,
}

/// Mean draw of a run: what was put back × the share of it that the run had taken / time.
///
/// Share returned, common practice, no source: charge into lithium 0.99 to 1; into nickel 0.7 to 0.9, into lead 0.8 to
/// 0.9; energy at the battery about a tenth less than charge; a charger passes on 0.75 to 0.95 of what it is fed. The
/// halves of these spans and the counter's error add.
///
/// Refuses values outside their ranges, and cells that cannot be recharged.
pub fn mean_draw(recharge: &Recharge) -> Result<MeanDraw, Vec<FieldError>> {
    let (field, range, put_back) = match recharge.put_back {
        PutBack::Charge { charge_ah } => ("/put_back/charge_ah", &range::BATTERY_AH, charge_ah),
        PutBack::Energy { energy_wh } | PutBack::SupplyEnergy { energy_wh } => {
            ("/put_back/energy_wh", &range::ENERGY, energy_wh)
        }
    };
    let mut errors = vec![];
    let mut check = |field: &str, range: &Range, value: f64| {
        errors.extend(range.check(value).err().map(|e| FieldError { field: field.to_owned(), message: e.to_string() }));
    };
    check(field, range, put_back);
    check("/run_s", &range::RUN_TIME, recharge.run_s);
    check("/error_share", &range::TOLERANCE, recharge.error_share.unwrap_or(0.0));
    if recharge.chemistry == Some(Chemistry::Alkaline) {
        let message = "alkaline cells are not recharged: measure the current another way".to_owned();
        errors.push(FieldError { field: "/chemistry".to_owned(), message });
    }
    if !errors.is_empty() {
        return Err(errors);
    }
    let accepted = accepts(recharge.chemistry);
    let spans: &[(f64, f64)] = match recharge.put_back {
        PutBack::Charge { .. } => &[accepted],
        PutBack::Energy { .. } => &[accepted, VOLTS_LOST],
        PutBack::SupplyEnergy { .. } => &[accepted, VOLTS_LOST, CHARGER],
    };
    let returned_share: f64 = spans.iter().map(|(low, high)| (low + high) / 2.0).product();
    let mut shares: Vec<f64> = spans.iter().map(|(low, high)| (high - low) / (high + low)).collect();
    shares.extend(recharge.error_share);
    let error_share = product_error_share(&shares);
    let mean = put_back * returned_share / (recharge.run_s / SECONDS_PER_HOUR);
    let known = Known { value: mean, how: How::Computed, error: Some(mean * error_share), meter: None };
    let draw = match recharge.put_back {
        PutBack::Charge { .. } => Draw::Current { value_a: known },
        PutBack::Energy { .. } | PutBack::SupplyEnergy { .. } => Draw::Power { value_w: known },
    };
    let level =
        Load { id: "mean-run".to_owned(), name: "mean of a run".to_owned(), draw, duration_s: None, every_s: None };
    Ok(MeanDraw { level, returned_share, error_share })
}

const SECONDS_PER_HOUR: f64 = 3600.0;
/// Mean voltage discharging against mean voltage charging.
const VOLTS_LOST: (f64, f64) = (0.85, 0.97);
/// What a charger passes on.
const CHARGER: (f64, f64) = (0.75, 0.95);

/// Share of the charge that a chemistry takes in; the widest span where it is not known.
fn accepts(chemistry: Option<Chemistry>) -> (f64, f64) {
    match chemistry {
        Some(Chemistry::Nickel) => (0.7, 0.9),
        Some(Chemistry::LeadAcid) => (0.8, 0.9),
        None => (0.7, 1.0),
        Some(_) => (0.98, 1.0),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn recharge(put_back: PutBack, chemistry: Option<Chemistry>, error_share: Option<f64>) -> Recharge {
        Recharge { put_back, run_s: 3.0 * SECONDS_PER_HOUR, chemistry, error_share }
    }

    /// Common practice, no source: 0.8 Ah that ran 3 h predicts 8.25 h from 2.2 Ah.
    #[test]
    fn what_ran_three_hours_predicts_what_a_larger_pack_runs() {
        let read = recharge(PutBack::Charge { charge_ah: 0.8 }, Some(Chemistry::LiIon), None);
        let drew = mean_draw(&read).unwrap();
        let Draw::Current { value_a } = drew.level.draw else { panic!("a charge gives amperes") };
        let hours = 2.2 / value_a.value;
        assert!((hours - 8.25).abs() <= 8.25 * drew.error_share * 1.01, "{hours}");
        assert!(drew.error_share < 0.02, "lithium gives back what it was given");
        assert_eq!(value_a.how, How::Computed);
    }

    /// Worked by hand: 24 Wh at the wall in 3 h; 0.85 (nickel 0.8, voltage 0.91, charger 0.85) of 8 W.
    #[test]
    fn energy_at_the_wall_is_cut_by_charger_volts_and_charge() {
        let read = recharge(PutBack::SupplyEnergy { energy_wh: 24.0 }, Some(Chemistry::Nickel), Some(0.02));
        let drew = mean_draw(&read).unwrap();
        assert!((drew.returned_share - 0.8 * 0.91 * 0.85).abs() < 1e-12);
        let Draw::Power { value_w } = drew.level.draw else { panic!("an energy gives watts") };
        assert!((value_w.value - 8.0 * 0.8 * 0.91 * 0.85).abs() < 1e-9, "{}", value_w.value);
        let share = 0.1 / 0.8 + 0.06 / 0.91 + 0.1 / 0.85 + 0.02;
        assert!(
            (drew.error_share - share).abs() < 1e-12 && (value_w.error.unwrap() - value_w.value * share).abs() < 1e-12
        );
    }

    #[test]
    fn the_less_is_known_the_wider_the_answer() {
        let error = |put_back, chemistry| mean_draw(&recharge(put_back, chemistry, None)).unwrap().error_share;
        let (charge, energy) = (PutBack::Charge { charge_ah: 2.0 }, PutBack::Energy { energy_wh: 24.0 });
        assert!(error(charge, None) > error(charge, Some(Chemistry::Nickel)));
        assert!(error(energy, Some(Chemistry::LiIon)) > error(charge, Some(Chemistry::LiIon)));
    }

    #[test]
    fn what_cannot_be_is_refused_by_name() {
        let bad = Recharge {
            run_s: 0.0,
            ..recharge(PutBack::Charge { charge_ah: -1.0 }, Some(Chemistry::Alkaline), Some(7.0))
        };
        let fields: Vec<String> = mean_draw(&bad).unwrap_err().into_iter().map(|e| e.field).collect();
        assert_eq!(fields, ["/put_back/charge_ah", "/run_s", "/error_share", "/chemistry"]);
    }
}
