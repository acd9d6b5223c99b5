//! The series link between two groups: resistance, continuous and short-time limit of its strips.

use crate::plan::{Strip, StripMetal};

/// Figures of a strip's metal.
struct Metal {
    resistivity_ohm_m: f64,
    density_kg_m3: f64,
    heat_j_per_kgk: f64,
    conducts_w_per_mk: f64,
    /// Current a square millimetre carries continuously. Common practice, no source.
    rule_a_per_mm2: f64,
}

/// Temperature rise a strip is allowed. Common practice, no source.
pub const STRIP_RISE_K: f64 = 30.0;
/// Heat transfer from a flat strip on a pack to still air, convection and radiation. Assumed.
pub const FILM_W_PER_M2K: f64 = 10.0;

/// Resistivity, density and heat capacity: reference/tables/materials; conductivity of heat: handbook of chemistry and
/// physics, that of steel approximate (from memory). The rule for nickel is the mean of 5 A on
/// 0.15 x 8 mm and 7 A on 0.2 x 8 mm; the others follow at equal heat, I as 1 / sqrt(rho).
fn metal(of: StripMetal) -> Metal {
    const NICKEL_RULE_A_PER_MM2: f64 = 4.27;
    const NICKEL_OHM_M: f64 = 6.93e-8;
    let (resistivity_ohm_m, density_kg_m3, heat_j_per_kgk, conducts_w_per_mk) = match of {
        StripMetal::Nickel => (NICKEL_OHM_M, 8908.0, 444.0, 90.9),
        StripMetal::NickelPlatedSteel => (1.4e-7, 7850.0, 490.0, 50.0),
        StripMetal::Copper => (1.7241e-8, 8890.0, 385.0, 398.0),
        StripMetal::Aluminium => (2.8264e-8, 2703.0, 897.0, 230.0),
    };
    Metal {
        resistivity_ohm_m,
        density_kg_m3,
        heat_j_per_kgk,
        conducts_w_per_mk,
        rule_a_per_mm2: NICKEL_RULE_A_PER_MM2 * (NICKEL_OHM_M / resistivity_ohm_m).sqrt(),
    }
}

/// Cross-section of all strips of one series link together.
pub fn link_area_mm2(strip: &Strip) -> f64 {
    strip.width_mm * strip.thickness_mm * f64::from(strip.layers) * f64::from(strip.side_by_side)
}

/// Resistance of one series link at 20 C: R = rho l / A.
pub fn link_ohm(strip: &Strip) -> f64 {
    strip_ohm_per_mm(strip) * strip.length_mm
}

/// Resistance of a millimetre of all strips of a link together, at 20 C.
pub fn strip_ohm_per_mm(strip: &Strip) -> f64 {
    metal(strip.metal).resistivity_ohm_m / 1000.0 / (link_area_mm2(strip) * 1e-6)
}

/// Heat that all strips of a link together conduct, times their length: W mm/K.
pub fn strip_w_per_k_mm(strip: &Strip) -> f64 {
    metal(strip.metal).conducts_w_per_mk * link_area_mm2(strip) * 1e-6 * 1000.0
}

/// Mass of a cubic millimetre of a strip's metal.
pub fn metal_g_per_mm3(of: StripMetal) -> f64 {
    metal(of).density_kg_m3 * 1e-6
}

/// Continuous current of one series link.
///
/// The lower of the rule of thumb (amperes a square millimetre) and the current that warms a strip by
/// [`STRIP_RISE_K`]: I^2 rho / A = h p dT for each metre.
pub fn link_limit_a(strip: &Strip) -> f64 {
    let m = metal(strip.metal);
    let one_mm2 = strip.width_mm * strip.thickness_mm * f64::from(strip.layers);
    let perimeter_m = 2.0 * (strip.width_mm + strip.thickness_mm * f64::from(strip.layers)) / 1000.0;
    let ohm_per_m = m.resistivity_ohm_m / (one_mm2 * 1e-6);
    let computed_a = (FILM_W_PER_M2K * perimeter_m * STRIP_RISE_K / ohm_per_m).sqrt();
    f64::from(strip.side_by_side) * computed_a.min(m.rule_a_per_mm2 * one_mm2)
}

/// Current one series link can carry for a short time: it warms by [`STRIP_RISE_K`] more without losing heat.
///
/// I^2 t = A^2 c d dT / rho; never less than the continuous limit.
pub fn link_short_time_a(strip: &Strip, duration_s: f64) -> f64 {
    (link_pulse_a2s(strip) / duration_s).sqrt().max(link_limit_a(strip))
}

/// I²t of a short pulse that warms one series link by [`STRIP_RISE_K`]: A² c d dT / rho.
pub fn link_pulse_a2s(strip: &Strip) -> f64 {
    let m = metal(strip.metal);
    (link_area_mm2(strip) * 1e-6).powi(2) * m.heat_j_per_kgk * m.density_kg_m3 * STRIP_RISE_K / m.resistivity_ohm_m
}

/// Mass of the strips of one series link.
pub fn link_mass_g(strip: &Strip) -> f64 {
    link_area_mm2(strip) * strip.length_mm * 1e-9 * metal(strip.metal).density_kg_m3 * 1000.0
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Offer;

    fn strip(metal: StripMetal, thickness_mm: f64) -> Strip {
        Strip {
            offer: Offer::default(),
            metal,
            width_mm: 8.0,
            thickness_mm,
            layers: 1,
            side_by_side: 1,
            length_mm: 20.0,
        }
    }

    /// 0.15 x 8 mm carries about 5 A, 0.2 x 8 mm about 7 A; plated steel about 70 %. Common practice, no source.
    #[test]
    fn nickel_carries_what_the_trade_gives_it() {
        assert!((link_limit_a(&strip(StripMetal::Nickel, 0.15)) - 5.0).abs() < 0.3);
        assert!((link_limit_a(&strip(StripMetal::Nickel, 0.20)) - 7.0).abs() < 0.3);
        let share =
            link_limit_a(&strip(StripMetal::NickelPlatedSteel, 0.2)) / link_limit_a(&strip(StripMetal::Nickel, 0.2));
        assert!((share - 0.7).abs() < 0.01, "{share}");
    }

    /// By hand: 6.93e-8 x 0.02 / 1.6e-6 = 0.866 milliohm.
    #[test]
    fn resistance_is_resistivity_times_length_over_cross_section() {
        assert!((link_ohm(&strip(StripMetal::Nickel, 0.2)) - 0.000_866_25).abs() < 1e-12);
    }

    #[test]
    fn two_layers_bear_twice_by_the_rule_and_a_short_peak_more_than_a_long_one() {
        let one = strip(StripMetal::Nickel, 0.1);
        let two = Strip { layers: 2, ..one.clone() };
        assert!((link_limit_a(&two) / link_limit_a(&one) - 2.0).abs() < 1e-9);
        assert!(link_short_time_a(&one, 0.4) > link_short_time_a(&one, 4.0));
        assert_eq!(link_short_time_a(&one, 1e6), link_limit_a(&one));
    }

    /// By hand: 1.6e-6 x sqrt(444 x 8908 x 30 / (6.93e-8 x 0.4)) = 104.7 A.
    #[test]
    fn a_stall_of_0_4_s_is_borne_by_heat_capacity_alone() {
        assert!((link_short_time_a(&strip(StripMetal::Nickel, 0.2), 0.4) - 104.7).abs() < 0.1);
    }
}
