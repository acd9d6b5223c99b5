//! Chemistries: the voltage that matter of each, its typical resistance, its open-circuit curve.

mod ocv;

pub use ocv::{OcvCurve, curve};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A chemistry, of new packs or of originals.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Chemistry {
    /// Lithium-ion with nickel, manganese, cobalt or aluminium, cylindrical.
    LiIon,
    /// Lithium polymer pouch as used in hobby packs.
    LiPo,
    /// Lithium polymer charged to 4.35 V.
    LiHv,
    /// Lithium iron phosphate.
    LiFePo4,
    /// Lithium titanate.
    LiTitanate,
    /// Sodium-ion, layered oxide.
    NaIon,
    /// Nickel metal hydride and nickel cadmium (originals).
    Nickel,
    /// Lead-acid, per 2 V cell (originals).
    LeadAcid,
    /// Alkaline primary cells (originals).
    Alkaline,
}

/// A band of voltage.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct VoltBand {
    /// Low end.
    pub low_v: f64,
    /// High end.
    pub high_v: f64,
}

/// What matters of a chemistry, per cell. A cell's own data sheet wins over these.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct Facts {
    /// Which chemistry.
    pub chemistry: Chemistry,
    /// Its name in words.
    pub name: &'static str,
    /// Short name for tight places.
    pub short: &'static str,
    /// Damage below.
    pub floor_v: f64,
    /// Sensible end of discharge.
    pub cutoff_v: f64,
    /// Nominal.
    pub nominal_v: f64,
    /// Full.
    pub full_v: f64,
    /// Never charge above.
    pub never_above_v: f64,
    /// Storage, where it matters.
    pub storage_v: Option<f64>,
    /// Sensible band of a board's overcharge threshold.
    pub over_charge: Option<VoltBand>,
    /// Sensible band of a board's over-discharge threshold.
    pub over_discharge: Option<VoltBand>,
    /// Typical DCIR times capacity, for a cell not yet chosen. Assumed: from ordinary data sheets, within a factor of two.
    pub typical_ohm_ah: f64,
    /// Whether new packs are built of it.
    pub rechargeable_lithium: bool,
    /// At what temperatures it may be charged.
    pub charge: ChargeTemperatures,
}

/// At what temperatures a chemistry may be charged, and how fast. Common practice, no source; titanate and sodium from memory.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct ChargeTemperatures {
    /// Never below.
    pub least_c: f64,
    /// Below this only slowly: at most `slow_rate_share`.
    pub slow_below_c: f64,
    /// Most between the two, in C.
    pub slow_rate_share: f64,
    /// Never above.
    pub most_c: f64,
    /// What happens below the least, in a sentence.
    pub too_cold: &'static str,
}

const PLATES: &str = "Lithium then plates out as metal, unseen, and the cell stays unsafe.";
const LITHIUM_CHARGE: ChargeTemperatures =
    ChargeTemperatures { least_c: 0.0, slow_below_c: 10.0, slow_rate_share: 0.3, most_c: 45.0, too_cold: PLATES };
/// Titanate has no plating at its voltage: only the electrolyte slows.
const TITANATE_CHARGE: ChargeTemperatures = ChargeTemperatures {
    least_c: -30.0,
    slow_below_c: -10.0,
    slow_rate_share: 1.0,
    most_c: 55.0,
    too_cold: "Its electrolyte then hardly conducts: it heats up and takes no charge.",
};
const SODIUM_CHARGE: ChargeTemperatures = ChargeTemperatures {
    least_c: -10.0,
    slow_below_c: 5.0,
    slow_rate_share: 0.3,
    most_c: 45.0,
    too_cold: "Sodium then plates out on the hard carbon, and the cell loses capacity permanently.",
};

const fn lithium(
    chemistry: Chemistry,
    (name, short): (&'static str, &'static str),
    [floor_v, cutoff_v, nominal_v, full_v, never_above_v, storage_v]: [f64; 6],
    (over_charge, over_discharge): ((f64, f64), (f64, f64)),
    typical_ohm_ah: f64,
) -> Facts {
    Facts {
        chemistry,
        name,
        short,
        floor_v,
        cutoff_v,
        nominal_v,
        full_v,
        never_above_v,
        storage_v: Some(storage_v),
        over_charge: Some(VoltBand { low_v: over_charge.0, high_v: over_charge.1 }),
        over_discharge: Some(VoltBand { low_v: over_discharge.0, high_v: over_discharge.1 }),
        typical_ohm_ah,
        rechargeable_lithium: true,
        charge: match chemistry {
            Chemistry::LiTitanate => TITANATE_CHARGE,
            Chemistry::NaIon => SODIUM_CHARGE,
            _ => LITHIUM_CHARGE,
        },
    }
}

const fn original(
    chemistry: Chemistry,
    (name, short): (&'static str, &'static str),
    [floor_v, cutoff_v, nominal_v, full_v, never_above_v]: [f64; 5],
) -> Facts {
    Facts {
        chemistry,
        name,
        short,
        floor_v,
        cutoff_v,
        nominal_v,
        full_v,
        never_above_v,
        storage_v: None,
        over_charge: None,
        over_discharge: None,
        typical_ohm_ah: 0.1,
        rechargeable_lithium: false,
        charge: LITHIUM_CHARGE,
    }
}

/// Every chemistry. Common practice, no source, but for the 4.25 V of IEC 62133-2 (from memory); the threshold
/// bands of phosphate, titanate and sodium boards are from memory.
pub const TABLE: [Facts; 9] = [
    lithium(
        Chemistry::LiIon,
        ("Li-ion, cylindrical", "Li-ion"),
        [2.50, 3.00, 3.60, 4.20, 4.25, 3.80],
        ((4.25, 4.35), (2.4, 3.0)),
        0.075,
    ),
    lithium(
        Chemistry::LiPo,
        ("LiPo pouch, hobby", "LiPo"),
        [2.70, 3.30, 3.70, 4.20, 4.25, 3.80],
        ((4.25, 4.35), (2.4, 3.0)),
        0.020,
    ),
    lithium(
        Chemistry::LiHv,
        ("High-voltage LiPo", "LiPo 4.35"),
        [2.70, 3.30, 3.80, 4.35, 4.40, 3.85],
        ((4.375, 4.45), (2.5, 3.0)),
        0.020,
    ),
    lithium(
        Chemistry::LiFePo4,
        ("LiFePO4", "LiFePO4"),
        [2.00, 2.80, 3.20, 3.65, 3.75, 3.30],
        ((3.70, 3.90), (2.0, 2.8)),
        0.060,
    ),
    lithium(
        Chemistry::LiTitanate,
        ("Li-titanate", "titanate"),
        [1.50, 1.80, 2.40, 2.80, 2.85, 2.30],
        ((2.85, 2.95), (1.5, 1.9)),
        0.030,
    ),
    lithium(
        Chemistry::NaIon,
        ("Na-ion, layered oxide", "Na-ion"),
        [1.50, 2.00, 3.05, 3.95, 4.05, 3.00],
        ((4.00, 4.15), (1.5, 2.2)),
        0.080,
    ),
    original(Chemistry::Nickel, ("NiMH or NiCd", "nickel"), [0.90, 1.00, 1.20, 1.40, 1.60]),
    original(Chemistry::LeadAcid, ("Lead-acid, 2 V cells", "lead-acid"), [1.75, 1.90, 2.00, 2.13, 2.45]),
    original(Chemistry::Alkaline, ("Alkaline primary", "alkaline"), [0.90, 1.00, 1.50, 1.60, 1.65]),
];

impl Chemistry {
    /// What matters of this chemistry.
    pub fn facts(self) -> &'static Facts {
        &TABLE[self as usize]
    }

    /// How much higher a cell rests after a charge than after a discharge, at the same charge. From memory, for phosphate: 10 to 30 mV;
    /// what a layered oxide shows is within a meter's error.
    pub fn hysteresis_v(self) -> f64 {
        if self == Chemistry::LiFePo4 { 0.02 } else { 0.0 }
    }
}

/// Voltage a cell of an original battery reads freshly off its charger: the highest the device has been run at.
/// Common practice, no source. `None` for chemistries that were charged to a stated voltage.
pub fn fresh_band_v(chemistry: Chemistry) -> (f64, f64) {
    match chemistry {
        Chemistry::Nickel => (1.38, 1.42),
        Chemistry::LeadAcid => (2.13, 2.45),
        Chemistry::Alkaline => (1.55, 1.60),
        lithium => (lithium.facts().full_v, lithium.facts().full_v),
    }
}

/// Kelvin by which a cell must be colder for its resistance to double: the middle of what computed cells show, and its ends.
/// Assumed; `reference/discharge` from 0 to 40 C: 12 K (Ecker 2015) to 30 K (O'Kane 2022). A measured value settles it.
pub const COLD_DOUBLES_K: f64 = 25.0;
/// The steepest and the flattest of them.
pub const COLD_DOUBLES_BAND_K: (f64, f64) = (12.0, 30.0);

/// Factor by which a cell's resistance grows below 25 C: doubles every 25 K colder, not calculated with above.
pub fn cold_factor(temperature_c: f64) -> f64 {
    cold_factor_of(temperature_c, COLD_DOUBLES_K)
}

/// The same for a cell whose resistance doubles every so many kelvin.
pub fn cold_factor_of(temperature_c: f64, doubles_every_k: f64) -> f64 {
    2f64.powf(((25.0 - temperature_c) / doubles_every_k).max(0.0))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_is_in_the_order_of_the_enum_and_each_row_rises() {
        for facts in &TABLE {
            assert_eq!(facts.chemistry.facts().name, facts.name);
            let rising = [facts.floor_v, facts.cutoff_v, facts.nominal_v, facts.full_v, facts.never_above_v];
            assert!(rising.windows(2).all(|w| w[0] < w[1]), "{}", facts.name);
        }
    }

    #[test]
    fn board_thresholds_lie_on_their_side_of_the_cell() {
        for facts in TABLE.iter().filter(|f| f.rechargeable_lithium) {
            let charge_low_v = facts.over_charge.unwrap().low_v;
            let discharge_high_v = facts.over_discharge.unwrap().high_v;
            assert!(charge_low_v > facts.full_v, "{}", facts.name);
            assert!(discharge_high_v <= facts.cutoff_v + 0.2, "{}", facts.name);
        }
    }

    /// Six nickel cells come fresh off the charger at 8.3 to 8.5 V (common practice, no source).
    #[test]
    fn six_nickel_cells_are_fresh_at_8_3_to_8_5_v() {
        let (low_v, high_v) = fresh_band_v(Chemistry::Nickel);
        assert!((6.0 * low_v - 8.28).abs() < 1e-9 && (6.0 * high_v - 8.52).abs() < 1e-9);
    }

    #[test]
    fn resistance_doubles_at_freezing_and_never_falls_below_its_rating() {
        assert!((cold_factor(0.0) - 2.0).abs() < 1e-12);
        assert_eq!(cold_factor(25.0), 1.0);
        assert_eq!(cold_factor(60.0), 1.0);
    }
}
