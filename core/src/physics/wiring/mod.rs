//! Wires: cross-section, resistance, ampacity, short-time limit.

use std::f64::consts::PI;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::piecewise::Piecewise;
use crate::plan::{Insulation, Wire, WireSize};

/// Resistivity of annealed copper at 20 C, in ohm metres. IEC 60028.
const COPPER_OHM_M: f64 = 1.7241e-8;
/// Its rise per kelvin. IEC 60028.
const COPPER_PER_K: f64 = 0.003_93;
/// Temperature rise that a wire is allowed in the open. Common practice, no source.
pub const WIRE_RISE_K: f64 = 30.0;
/// Share of its open-air current that a wire is rated for in a bundle or a closed case. Common practice, no source.
pub const BUNDLED_SHARE: f64 = 0.5;

/// How much longer the strands of a wire are than the wire: 2 to 3 %. Common practice, no source.
const STRANDED: f64 = 1.03;
/// Conductor temperature that the heat balance is carried on to at most: there the insulation is the trouble, not the drop.
const HOTTEST_RISE_K: f64 = 120.0;

/// IEC 60228 class 5, highest resistance at 20 C in ohm per km (from memory): cross-section in mm2, resistance.
const IEC_60228_CLASS_5: [(f64, f64); 19] = [
    (0.5, 39.0),
    (0.75, 26.0),
    (1.0, 19.5),
    (1.5, 13.3),
    (2.5, 7.98),
    (4.0, 4.95),
    (6.0, 3.30),
    (10.0, 1.91),
    (16.0, 1.21),
    (25.0, 0.780),
    (35.0, 0.554),
    (50.0, 0.386),
    (70.0, 0.272),
    (95.0, 0.206),
    (120.0, 0.161),
    (150.0, 0.129),
    (185.0, 0.106),
    (240.0, 0.0801),
    (300.0, 0.0641),
];

/// What short silicone leads carry in the open, by AWG. Common practice, no source.
const RULE_OF_THUMB_A: [(i32, f64); 5] = [(20, 8.0), (18, 13.0), (16, 20.0), (14, 30.0), (12, 40.0)];

/// Diameter of an AWG conductor: d = 0.127 mm x 92^((36 - n) / 39). ASTM B258.
pub fn awg_diameter_mm(awg: i32) -> f64 {
    0.127 * 92f64.powf(f64::from(36 - awg) / 39.0)
}

/// Copper cross-section of a wire size.
pub fn area_mm2(size: &WireSize) -> f64 {
    match *size {
        WireSize::Awg { awg } => PI / 4.0 * awg_diameter_mm(awg).powi(2),
        WireSize::Metric { area_mm2 } => area_mm2,
    }
}

/// Resistance of one metre of solid annealed copper of that cross-section at 20 C, R = rho / A. IEC 60028.
pub fn solid_ohm_per_m(size: &WireSize) -> f64 {
    COPPER_OHM_M / (area_mm2(size) * 1e-6)
}

/// Resistance of one metre of wire at 20 C.
///
/// AWG: stranded copper of that cross-section. Metric: the highest of IEC 60228, class 5; between its sizes and beyond them
/// as much above solid copper as its nearest sizes are.
pub fn ohm_per_m(size: &WireSize) -> f64 {
    match *size {
        WireSize::Awg { .. } => STRANDED * solid_ohm_per_m(size),
        WireSize::Metric { area_mm2 } => over_solid(area_mm2) * solid_ohm_per_m(size),
    }
}

/// How much more than solid copper IEC 60228 allows a class 5 conductor of a cross-section.
fn over_solid(area_mm2: f64) -> f64 {
    let share = |(area_mm2, ohm_per_km): (f64, f64)| {
        (area_mm2.ln(), ohm_per_km / 1000.0 / solid_ohm_per_m(&WireSize::Metric { area_mm2 }))
    };
    let shares = Piecewise::through(IEC_60228_CLASS_5.map(share).to_vec());
    shares.map_or(1.0, |shares| shares.at(area_mm2.ln()))
}

/// Temperature of a conductor at a continuous current: the rise goes with its square, as far as the heat balance holds.
pub fn conductor_c(wire: &Wire, current_a: f64, ambient_c: f64) -> f64 {
    let share = if wire.bundled { BUNDLED_SHARE } else { 1.0 };
    let full_a = share * ampacity_open_a(&wire.size, ambient_c);
    ambient_c + (WIRE_RISE_K * (current_a / full_a).powi(2)).min(HOTTEST_RISE_K)
}

/// Factor from the resistance at 20 C to that at a temperature. IEC 60028.
pub fn copper_factor(temperature_c: f64) -> f64 {
    1.0 + COPPER_PER_K * (temperature_c - 20.0)
}

/// Resistance of a wire one way, at a conductor temperature.
pub fn wire_ohm(size: &WireSize, length_mm: f64, temperature_c: f64) -> f64 {
    ohm_per_m(size) * length_mm / 1000.0 * copper_factor(temperature_c)
}

/// Current that warms a wire by [`WIRE_RISE_K`] above air of `ambient_c`, alone or in a bundle.
///
/// Heat balance of a metre: I^2 R = h pi D dT, h by free convection (Churchill and Chu 1975) and radiation; where
/// the trade has a rule of thumb for the size, the lower of the two. Outer diameter assumed 1.2 d + 1.2 mm.
pub fn ampacity_a(wire: &Wire, ambient_c: f64) -> f64 {
    let best_a = ampacity_open_a(&wire.size, ambient_c).min(rule_of_thumb_a(&wire.size));
    if wire.bundled { best_a * BUNDLED_SHARE } else { best_a }
}

/// The trade's rule between its sizes and beyond them, by cross-section: thinner wire never carries more. A straight line
/// between the logarithms of both; beyond the table as free convection goes, with the power 3/4 of the cross-section.
pub fn rule_of_thumb_a(size: &WireSize) -> f64 {
    const BEYOND: f64 = 0.75;
    let points = RULE_OF_THUMB_A.map(|(awg, a)| (area_mm2(&WireSize::Awg { awg }).ln(), a.ln()));
    let x = area_mm2(size).ln();
    let (first, last) = (points[0], points[points.len() - 1]);
    let within = points.windows(2).find(|w| (w[0].0..=w[1].0).contains(&x));
    let ln_a = match within {
        Some(w) => w[0].1 + (w[1].1 - w[0].1) / (w[1].0 - w[0].0) * (x - w[0].0),
        None => {
            let end = if x < first.0 { first } else { last };
            end.1 + BEYOND * (x - end.0)
        }
    };
    ln_a.exp()
}

/// Current that warms a wire in the open by [`WIRE_RISE_K`], by its heat balance alone.
pub fn ampacity_open_a(size: &WireSize, ambient_c: f64) -> f64 {
    warms_a(size, ambient_c, WIRE_RISE_K)
}

/// Current that warms a wire in the open by so many kelvin.
fn warms_a(size: &WireSize, ambient_c: f64, rise_k: f64) -> f64 {
    let copper_mm = (4.0 * area_mm2(size) / PI).sqrt();
    let outer_m = (1.2 * copper_mm + 1.2) / 1000.0;
    let heat_w_per_m = film_w_per_m2k(outer_m, ambient_c, rise_k) * PI * outer_m * rise_k;
    (heat_w_per_m / (ohm_per_m(size) * copper_factor(ambient_c + rise_k))).sqrt()
}

/// Heat transfer from a horizontal cylinder to still air, W/m2K.
///
/// Nu = (0.60 + 0.387 Ra^(1/6) / (1 + (0.559 / Pr)^(9/16))^(8/27))^2, Churchill and Chu 1975; radiation at
/// emissivity 0.9. Properties of air taken at 50 C.
fn film_w_per_m2k(diameter_m: f64, ambient_c: f64, rise_k: f64) -> f64 {
    const VISCOSITY_M2_PER_S: f64 = 1.80e-5;
    const DIFFUSIVITY_M2_PER_S: f64 = 2.55e-5;
    const CONDUCTIVITY_W_PER_MK: f64 = 0.0278;
    const STEFAN_BOLTZMANN: f64 = 5.670e-8;
    let film_kelvin = ambient_c + 273.15 + rise_k / 2.0;
    let rayleigh = 9.81 / film_kelvin * rise_k * diameter_m.powi(3) / (VISCOSITY_M2_PER_S * DIFFUSIVITY_M2_PER_S);
    let prandtl = VISCOSITY_M2_PER_S / DIFFUSIVITY_M2_PER_S;
    let fit = (1.0 + (0.559 / prandtl).powf(9.0 / 16.0)).powf(8.0 / 27.0);
    let nusselt = (0.60 + 0.387 * rayleigh.powf(1.0 / 6.0) / fit).powi(2);
    nusselt * CONDUCTIVITY_W_PER_MK / diameter_m + 0.9 * 4.0 * STEFAN_BOLTZMANN * film_kelvin.powi(3)
}

/// Current a wire can carry for a short time from hot: I = k S / sqrt(t), never less than its ampacity.
///
/// See [`short_time_k`].
pub fn short_time_a(wire: &Wire, duration_s: f64, ambient_c: f64) -> f64 {
    (pulse_a2s(wire) / duration_s).sqrt().max(ampacity_a(wire, ambient_c))
}

/// I²t of a short pulse that a wire withstands from hot: (k S)². IEC 60364-4-43 (from memory).
pub fn pulse_a2s(wire: &Wire) -> f64 {
    (short_time_k(wire.insulation) * area_mm2(&wire.size)).powi(2)
}

/// k in A s^½ / mm²: 115 for PVC, from 70 to 160 C; 132 for silicone rubber, from 180 to 350 C. IEC 60364-5-54, annex A (from memory).
pub fn short_time_k(insulation: Insulation) -> f64 {
    match insulation {
        Insulation::Pvc => 115.0,
        Insulation::Silicone => 132.0,
    }
}

/// A wire size in words.
pub fn size_name(size: &WireSize) -> String {
    match *size {
        WireSize::Awg { awg } if awg <= 0 => format!("{}/0 AWG", 1 - awg),
        WireSize::Awg { awg } => format!("{awg} AWG"),
        WireSize::Metric { area_mm2 } => format!("{area_mm2} mm²"),
    }
}

/// A cross-section in both systems, for screens that show one or the other.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BothSizes {
    /// Cross-section.
    pub area_mm2: f64,
    /// The gauge, or the nearest to a metric size: "14 AWG".
    pub awg: String,
    /// Whether the wire is of that gauge, not only near it.
    pub is_awg: bool,
}

/// A wire size in both systems. The nearest gauge: n = 36 - 39 ln(d / 0.127 mm) / ln 92, rounded. ASTM B258.
pub fn both_sizes(size: &WireSize) -> BothSizes {
    let area_mm2 = area_mm2(size);
    let (awg, is_awg) = match *size {
        WireSize::Awg { awg } => (awg, true),
        WireSize::Metric { .. } => {
            let diameter_mm = (4.0 * area_mm2 / PI).sqrt();
            ((36.0 - 39.0 * (diameter_mm / 0.127).ln() / 92f64.ln()).round() as i32, false)
        }
    };
    BothSizes { area_mm2, awg: size_name(&WireSize::Awg { awg }), is_awg }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Offer;

    fn wire(awg: i32) -> Wire {
        Wire { offer: Offer::default(), size: WireSize::Awg { awg }, insulation: Insulation::Silicone, bundled: false }
    }

    /// NFPA 70, table 310.17 (from memory): single insulated copper conductors in free air of 30 C, with conductors of 60, 75 and 90 C:
    /// the heat balance lies between 5 % below and 20 % above. The table rounds to 5 A and is made for thicker insulation.
    #[test]
    fn the_heat_balance_agrees_with_a_table_for_conductors_in_free_air() {
        const TABLE: [(i32, [f64; 3]); 10] = [
            (14, [25.0, 30.0, 35.0]),
            (12, [30.0, 35.0, 40.0]),
            (10, [40.0, 50.0, 55.0]),
            (8, [60.0, 70.0, 80.0]),
            (6, [80.0, 95.0, 105.0]),
            (4, [105.0, 125.0, 140.0]),
            (2, [140.0, 170.0, 190.0]),
            (0, [195.0, 230.0, 260.0]),
            (-1, [225.0, 265.0, 300.0]),
            (-3, [300.0, 360.0, 405.0]),
        ];
        for (awg, row) in TABLE {
            for (told_a, rise_k) in row.into_iter().zip([30.0, 45.0, 60.0]) {
                let share = warms_a(&WireSize::Awg { awg }, 30.0, rise_k) / told_a;
                assert!((0.95..1.2).contains(&share), "{awg} AWG, {rise_k} K: {share} of {told_a} A");
            }
        }
    }

    /// The computed ampacity for 30 K stands within 40 % of the trade's rule (common practice, no source).
    #[test]
    fn computed_ampacity_agrees_with_the_rule_of_thumb() {
        for (awg, rule_a) in RULE_OF_THUMB_A {
            let computed_a = ampacity_open_a(&WireSize::Awg { awg }, 25.0);
            assert!((computed_a / rule_a - 1.0).abs() < 0.4, "{awg} AWG: {computed_a} A against {rule_a} A");
            assert!(ampacity_a(&wire(awg), 25.0) <= rule_a);
        }
    }

    #[test]
    fn thicker_wire_carries_more_and_a_bundle_halves_it() {
        for awg in 1..30 {
            let (thick, thin) = (WireSize::Awg { awg: awg - 1 }, WireSize::Awg { awg });
            assert!(ampacity_open_a(&thick, 35.0) > ampacity_open_a(&thin, 35.0));
        }
        let bundled = Wire { bundled: true, ..wire(14) };
        assert!((ampacity_a(&bundled, 25.0) * 2.0 - ampacity_a(&wire(14), 25.0)).abs() < 1e-12);
    }

    /// From 40 AWG to 4/0, and over the metric sizes, whose highest resistance the standard sets higher: less copper never carries
    /// more.
    #[test]
    fn thinner_wire_never_carries_more() {
        let metric = [0.08, 0.14, 0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0];
        let gauges: Vec<WireSize> = (-3..=40).rev().map(|awg| WireSize::Awg { awg }).collect();
        let metric: Vec<WireSize> = metric.map(|area_mm2| WireSize::Metric { area_mm2 }).to_vec();
        for c in [10.0, 25.0, 35.0, 60.0] {
            for pair in gauges.windows(2).chain(metric.windows(2)) {
                let carries = |size: &WireSize| ampacity_a(&Wire { size: size.clone(), ..wire(20) }, c);
                assert!(carries(&pair[0]) <= carries(&pair[1]) * (1.0 + 1e-9), "{pair:?} at {c} °C");
            }
        }
        // 22 AWG: below the 8 A of 20 AWG (common practice, no source: 5 to 7 A for short silicone leads).
        assert!((4.5..7.0).contains(&ampacity_a(&wire(22), 25.0)), "{}", ampacity_a(&wire(22), 25.0));
    }

    /// (132 x 2.5 mm2)^2 = I^2 t, so 330 A for one second. Worked by hand.
    #[test]
    fn a_short_time_limit_follows_i_squared_t() {
        let metric = Wire { size: WireSize::Metric { area_mm2: 2.5 }, ..wire(14) };
        assert!((short_time_a(&metric, 1.0, 35.0) - 330.0).abs() < 1e-9);
        let pvc = Wire { insulation: Insulation::Pvc, ..metric.clone() };
        assert!((short_time_a(&pvc, 4.0, 35.0) - 143.75).abs() < 1e-9);
        assert_eq!(short_time_a(&metric, 1e5, 35.0), ampacity_a(&metric, 35.0));
    }

    /// k = 226 √ln(1 + (end − begin) / (234.5 + begin)) for copper, IEC 60364-5-54, annex A (from memory).
    #[test]
    fn the_short_time_constants_follow_from_copper() {
        for (insulation, begin_c, end_c) in [(Insulation::Pvc, 70.0, 160.0), (Insulation::Silicone, 180.0, 350.0)] {
            let k = 226.0 * (1.0f64 + (end_c - begin_c) / (234.5 + begin_c)).ln().sqrt();
            assert!((short_time_k(insulation) - k).abs() < 0.6, "{insulation:?}: {k}");
        }
    }

    /// No jump between the sizes of the standard and those beside them; 25 mm² has its 0.78 milliohm a metre.
    #[test]
    fn resistance_falls_steadily_over_all_cross_sections() {
        let ohm = |area_mm2: f64| ohm_per_m(&WireSize::Metric { area_mm2 });
        assert!((ohm(25.0) - 0.78e-3).abs() < 1e-9 && (ohm(0.75) - 26e-3).abs() < 1e-9);
        let mut area_mm2 = 0.05;
        while area_mm2 < 400.0 {
            let falls = ohm(area_mm2 * 1.01) / ohm(area_mm2);
            assert!((0.98..0.9985).contains(&falls), "{area_mm2} mm²: {falls}");
            area_mm2 *= 1.01;
        }
    }

    /// At its own limit a wire is 30 K above the air, at half of it a quarter of that; a bundle is as warm at half the current.
    #[test]
    fn a_conductor_warms_with_the_square_of_its_current() {
        let full_a = ampacity_open_a(&wire(16).size, 35.0);
        assert!((conductor_c(&wire(16), full_a, 35.0) - 65.0).abs() < 1e-9);
        assert!((conductor_c(&wire(16), full_a / 2.0, 35.0) - 42.5).abs() < 1e-9);
        assert!((conductor_c(&Wire { bundled: true, ..wire(16) }, full_a / 2.0, 35.0) - 65.0).abs() < 1e-9);
        assert_eq!(conductor_c(&wire(30), 50.0, 35.0), 155.0);
    }

    #[test]
    fn doubling_the_length_doubles_the_resistance() {
        let size = WireSize::Awg { awg: 18 };
        assert!((wire_ohm(&size, 800.0, 35.0) / wire_ohm(&size, 400.0, 35.0) - 2.0).abs() < 1e-12);
        assert!(wire_ohm(&size, 400.0, 60.0) > wire_ohm(&size, 400.0, 20.0));
    }

    #[test]
    fn sizes_are_named_as_the_trade_writes_them() {
        assert_eq!(size_name(&WireSize::Awg { awg: 14 }), "14 AWG");
        assert_eq!(size_name(&WireSize::Awg { awg: -3 }), "4/0 AWG");
        assert_eq!(size_name(&WireSize::Metric { area_mm2: 0.75 }), "0.75 mm²");
        // ASTM B258: 18 AWG has 0.823 mm2, 19 AWG 0.653.
        let both = both_sizes(&WireSize::Metric { area_mm2: 0.75 });
        assert_eq!((both.awg.as_str(), both.is_awg, both.area_mm2), ("18 AWG", false, 0.75));
        assert!(both_sizes(&WireSize::Awg { awg: 14 }).is_awg);
    }
}
