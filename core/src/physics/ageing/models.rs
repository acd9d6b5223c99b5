//! The published models, with their own figures.
//!
//! Formulas and figures as the open library blast-lite 1.1.1 gives them, which fitted those that their authors did not. The
//! potential of the graphite is that of Safari and Delacourt 2011 over the stoichiometry of Schimpe et al. 2018.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::pattern::Stress;
use super::trajectory::{Axis, Trajectory};
use crate::base::piecewise::Piecewise;

/// Temperature that two of the models count in.
const REFERENCE_K: f64 = 273.15 + 45.0;

/// A published model of how cells age.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum AgeingModel {
    /// Schmalstieg et al. 2014: 2 Ah, nickel-manganese-cobalt 1:1:1 over graphite.
    Nmc111,
    /// Naumann et al. 2018 and 2020: 3 Ah, phosphate over graphite.
    Lfp,
    /// Keil et al. 2016 and Preger et al. 2020: 3.2 Ah, nickel-cobalt-aluminium over graphite.
    Nca,
    /// Wildfeuer et al. 2022: 2.5 Ah power cell, nickel-cobalt-aluminium over graphite with silicon.
    NcaSilicon,
    /// EVERLASTING report D2.3, 2020: 3.5 Ah energy cell, nickel-rich over graphite with silicon.
    Nmc811,
    /// Bank et al. 2020: 10 Ah, nickel-manganese-cobalt over titanate.
    Titanate,
}

impl AgeingModel {
    /// Every model.
    pub const ALL: [AgeingModel; 6] = [
        AgeingModel::Nmc111,
        AgeingModel::Lfp,
        AgeingModel::Nca,
        AgeingModel::NcaSilicon,
        AgeingModel::Nmc811,
        AgeingModel::Titanate,
    ];
    /// Those of lithium-ion with nickel, manganese, cobalt or aluminium.
    pub const LITHIUM_ION: [AgeingModel; 4] =
        [AgeingModel::Nmc111, AgeingModel::Nca, AgeingModel::NcaSilicon, AgeingModel::Nmc811];

    /// Name in files: the chemistry, the first author of the measurements, the year.
    pub fn key(self) -> &'static str {
        match self {
            AgeingModel::Nmc111 => "nmc111_schmalstieg2014",
            AgeingModel::Lfp => "lfp_naumann2018",
            AgeingModel::Nca => "nca_keil2016_preger2020",
            AgeingModel::NcaSilicon => "nca_wildfeuer2022",
            AgeingModel::Nmc811 => "nmc811_everlasting2020",
            AgeingModel::Titanate => "nmc_lto_bank2020",
        }
    }

    /// Where it was published.
    pub fn source(self) -> &'static str {
        match self {
            AgeingModel::Nmc111 => "Schmalstieg et al., J. Power Sources 257 (2014) 325",
            AgeingModel::Lfp => {
                "Naumann et al., J. Energy Storage 17 (2018) 153 and J. Power Sources 451 (2020) 227666"
            }
            AgeingModel::Nca => {
                "Keil et al., J. Electrochem. Soc. 163 (2016) A1872 and Preger et al., J. Electrochem. Soc. 167 (2020) 120532"
            }
            AgeingModel::NcaSilicon => "Wildfeuer et al., J. Power Sources (2022), doi:10.1016/j.jpowsour.2022.232498",
            AgeingModel::Nmc811 => "EVERLASTING project, report D2.3 (2020)",
            AgeingModel::Titanate => "Bank et al., J. Power Sources (2020), doi:10.1016/j.jpowsour.2020.228566",
        }
    }

    /// How a cell under that stress loses capacity: mechanisms, always the same in number and order.
    pub(super) fn mechanisms(self, stress: &Stress) -> Vec<(Axis, Trajectory)> {
        match self {
            AgeingModel::Nmc111 => nmc111(stress),
            AgeingModel::Lfp => lfp(stress),
            AgeingModel::Nca => arrhenius(stress, &NCA),
            AgeingModel::NcaSilicon => nca_silicon(stress),
            AgeingModel::Nmc811 => arrhenius(stress, &NMC811),
            AgeingModel::Titanate => titanate(stress),
        }
    }
}

/// Open-circuit voltage over state of charge of the cells that Schmalstieg et al. measured.
const NMC111_OCV: [(f64, f64); 21] = [
    (0.0, 3.331),
    (0.0449, 3.4116),
    (0.0993, 3.4903),
    (0.1538, 3.5472),
    (0.1901, 3.575),
    (0.2445, 3.6055),
    (0.2989, 3.6264),
    (0.3534, 3.6421),
    (0.4078, 3.6576),
    (0.4441, 3.6702),
    (0.4803, 3.6868),
    (0.5166, 3.7083),
    (0.5529, 3.7344),
    (0.6073, 3.7811),
    (0.698, 3.8669),
    (0.7706, 3.9348),
    (0.825, 3.9914),
    (0.8794, 4.052),
    (0.9157, 4.0878),
    (0.9702, 4.136),
    (1.0, 4.162),
];
/// First capacity of those cells.
const NMC111_AH: f64 = 2.15;

fn nmc111(stress: &Stress) -> Vec<(Axis, Trajectory)> {
    let curve = Piecewise::through(NMC111_OCV.to_vec()).unwrap_or_else(|| Piecewise::constant(3.7));
    let on_shelf = stress.mean(|soc| 7.543 * curve.at(soc) - 23.75) * 1e6 * (-6976.0 / stress.kelvin).exp();
    let rms_v = stress.mean(|soc| curve.at(soc).powi(2)).sqrt();
    let in_use = 7.348e-3 * (rms_v - 3.667).powi(2) + 7.6e-4 + 4.081e-3 * stress.dod;
    // Published over the ampere-hours that went in and out.
    let p = 0.5;
    vec![
        (Axis::Days, Trajectory::Power { k: on_shelf.max(0.0), p: 0.75 }),
        (Axis::FullCycles, Trajectory::Power { k: in_use * (2.0 * NMC111_AH).powf(p), p }),
    ]
}

/// Potential of the graphite against lithium at a state of charge of the cell, V.
fn graphite_v(soc: f64) -> f64 {
    let x = 8.5e-3 + soc * (0.78 - 8.5e-3);
    0.6379 + 0.5416 * (-305.5309 * x).exp() + 0.044 * (-(x - 0.1958) / 0.1088).tanh()
        - 0.1978 * ((x - 1.0571) / 0.0854).tanh()
        - 0.6875 * ((x + 0.0117) / 0.0529).tanh()
        - 0.0175 * ((x - 0.5692) / 0.0875).tanh()
}

fn lfp(stress: &Stress) -> Vec<(Axis, Trajectory)> {
    let t = stress.kelvin;
    let end = stress.mean(|soc| {
        let root = graphite_v(soc).sqrt();
        0.989_687_151_293_590 * (-2_881_067.560_193_24 / (t * t) * root).exp() * (8_742.063_091_572_61 / t * root).exp()
    });
    let power = stress.mean(|soc| {
        let u = graphite_v(soc);
        let (third, fourth) = (u.cbrt(), u.powf(0.25));
        0.000_332_850_281_062_177
            * (734_553_185_711.369 / t.powi(4) * third
                - 2.821_615_756_207_80e-6 * t.powi(3) * fourth
                - 3_284_991_315.451_21 / t.powi(3) * third
                + 0.001_272_275_936_572_90 * t.powi(2) * fourth)
                .exp()
    });
    let in_use = (-6.812_605_793_728_75e-6
        + 2.596_159_731_608_44e-5 * stress.dod
        + 2.115_597_103_072_95e-6 * (stress.dod.powi(2) * stress.mean_c.powi(3)).exp())
    .abs();
    let p = 1.128_477_593_343_55;
    // The settling of new cells that it also has shows only above three full cycles a day.
    vec![
        (Axis::Days, Trajectory::Towards { y: end, k: 0.000_130_510_034_211_874, p: power }),
        (Axis::FullCycles, Trajectory::Power { k: in_use.powf(p), p }),
    ]
}

/// Figures of a model whose rates go with the temperature as Arrhenius has it, and with charge and depth.
struct Arrhenius {
    shelf: [f64; 3],
    shelf_p: f64,
    cycle: [f64; 5],
    cycle_p: f64,
}

const NCA: Arrhenius = Arrhenius {
    shelf: [75.4, -3.34e3, 353.0],
    shelf_p: 0.512,
    cycle: [1.86e-6, 4.74e-11, 0.000_177, 3.34e-11, 2.81e-9],
    cycle_p: 0.699,
};
const NMC811: Arrhenius = Arrhenius {
    shelf: [0.0353, -1.03e3, 57.7],
    shelf_p: 0.743,
    cycle: [1.77e-7, 8.08e-13, 2.21e-7, 2.25e3, 1.14e4],
    cycle_p: 0.695,
};

fn arrhenius(stress: &Stress, of: &Arrhenius) -> Vec<(Axis, Trajectory)> {
    let t = stress.kelvin;
    let [a, b, c] = of.shelf;
    let on_shelf = a * (b / t).exp() * stress.mean(|soc| (c * soc / t).exp());
    let [a, b, c, d, e] = of.cycle;
    let in_use = (a + b * stress.mean_c + c * stress.dod) * ((d / t).exp() + (-e / t).exp());
    vec![
        (Axis::Days, Trajectory::Power { k: on_shelf, p: of.shelf_p }),
        (Axis::FullCycles, Trajectory::Power { k: in_use, p: of.cycle_p }),
    ]
}

/// Days and full cycles that the rates of the model of Wildfeuer et al. count in.
const WILDFEUER_DAYS: f64 = 5e3;
const WILDFEUER_CYCLES: f64 = 1e5;
/// Least end of its cycling loss: below the measured ones the fit goes negative.
const WILDFEUER_LEAST: f64 = 0.15;

fn nca_silicon(stress: &Stress) -> Vec<(Axis, Trajectory)> {
    let t = stress.kelvin / REFERENCE_K;
    // The potential of the graphite against that at about half charge.
    let u = |soc: f64| graphite_v(soc) / 0.123;
    let shelf_end = stress
        .mean(|soc| 0.00748 * (8.9 * t.powi(2) / u(soc).cbrt()).exp() * (-4.87 * t.powi(2) / u(soc).sqrt()).exp());
    let shelf_p = stress.mean(|soc| {
        1.01 * (-0.133 * t.powi(3) + 1.22 * t.powi(3) * soc.powi(3) - 0.56 * t.powi(2) / u(soc).powi(3)).exp()
    });
    let (charge, discharge) = (stress.charge_c, stress.discharge_c);
    let colder = 1.0 / t.powi(3);
    let cycle_end = stress
        .mean(|soc| {
            5.49 - 64.9 * charge.sqrt() * colder * soc
                + 21.3 * (charge.sqrt() * colder * soc).exp()
                + 0.000_801 * (discharge * colder * soc.sqrt()).exp()
        })
        .max(WILDFEUER_LEAST);
    let cycle_p = (0.422
        + 2.64 * (discharge * colder * stress.high_soc.sqrt()).exp()
        + 0.006_27 * (stress.dod.sqrt() * charge.sqrt() * t.powi(3) * stress.low_soc.powi(2)).exp()
        - 0.0342 * t.powi(2) * stress.low_soc
        + 1.29 * stress.dod.sqrt() * discharge.sqrt() / t * charge.sqrt()
        - 2.14 * (stress.dod.sqrt() * charge.powi(3) * t * discharge.sqrt()).exp())
    .abs();
    vec![
        (Axis::Days, Trajectory::Towards { y: shelf_end, k: 3.41 / WILDFEUER_DAYS, p: shelf_p }),
        (Axis::FullCycles, Trajectory::Towards { y: cycle_end, k: 0.479 / WILDFEUER_CYCLES, p: cycle_p }),
    ]
}

/// On the shelf it gains a little; the small loss that it also has passes within weeks and is left out.
fn titanate(stress: &Stress) -> Vec<(Axis, Trajectory)> {
    let t = stress.kelvin / REFERENCE_K;
    let gain = stress.mean(|soc| 3.11e11 * (-34.8 / t).exp() * (1.07 * soc / t).exp());
    let in_use = (1.29 + 7.83e-5 * stress.mean_c + 4.02 * stress.dod.powi(3)) * (-8.33 / t).exp();
    vec![
        (Axis::Days, Trajectory::Power { k: -gain, p: 0.473 }),
        (Axis::FullCycles, Trajectory::Power { k: in_use, p: 0.526 }),
    ]
}
