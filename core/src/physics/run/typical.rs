//! What is usual of a cell of each chemistry, scaled to the resistance that was measured on this one.
//!
//! The shape of R0 over the state of charge comes from computed pulses of published cells (`reference/hppc`); RC pair and
//! diffusion were fitted to those pulses and to one slow discharge (0.5 C, `reference/discharge`), and judged on the
//! faster ones: `core/tests/all/cell_model.rs` says how far they are met.

use super::cell::{CellModel, Pair};
use crate::base::chemistry::{COLD_DOUBLES_K, Chemistry, curve};
use crate::base::piecewise::Piecewise;
use crate::base::source::Source;

/// Charge that comes out again of what went in. Common practice, no source: over 0.99 for every lithium cell, 0.999 for
/// a good one.
const COULOMB_EFFICIENCY: f64 = 0.999;

/// Shapes of a chemistry's cell, against the DC resistance read after 10 s at half charge, as data sheets and makers
/// mostly state it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Typical {
    /// R0 at SOC 0.1, 0.2 ... 1.0.
    pub r0_per_dcir: [f64; 10],
    /// Resistance of the RC pair against R0.
    pub pair_per_r0: f64,
    /// Time of the RC pair.
    pub pair_s: f64,
    /// Lag of diffusion, t_d.
    pub diffusion_s: f64,
    /// Where the shapes come from.
    pub source: Source,
}

/// Chen et al. 2020, cylindrical NMC 811: R0 23.4 milliohm at half charge, 29.8 after 10 s.
const LI_ION: Typical = Typical {
    r0_per_dcir: [0.951, 0.866, 0.821, 0.797, 0.786, 0.787, 0.799, 0.827, 0.877, 0.979],
    pair_per_r0: 0.93,
    pair_s: 83.0,
    diffusion_s: 72.0,
    source: Source::Chen2020,
};
/// Ai et al. 2020, LCO pouch: R0 40.9 milliohm at half charge, 46.1 after 10 s.
const LIPO: Typical = Typical {
    r0_per_dcir: [1.234, 1.056, 0.967, 0.916, 0.887, 0.874, 0.876, 0.892, 0.928, 0.998],
    pair_per_r0: 0.48,
    pair_s: 70.0,
    diffusion_s: 80.0,
    source: Source::Ai2020,
};
/// Prada et al. 2013, phosphate: R0 29.7 milliohm at half charge, 31.0 after 10 s. Its graphite diffuses far slower than
/// that of a power cell on the bench, so pair and lag are not its own but the usual ones of the two above: assumed.
const PHOSPHATE: Typical = Typical {
    r0_per_dcir: [1.288, 1.120, 1.033, 0.984, 0.959, 0.950, 0.958, 0.984, 1.035, 1.184],
    pair_per_r0: 0.5,
    pair_s: 75.0,
    diffusion_s: 75.0,
    source: Source::Prada2013,
};
/// Where nothing is published here: one resistance, and pair and lag as usual. Assumed.
const OTHER: Typical =
    Typical { r0_per_dcir: [0.85; 10], pair_per_r0: 0.5, pair_s: 75.0, diffusion_s: 75.0, source: Source::Assumed };

/// What is usual of a chemistry's cell.
pub fn typical(chemistry: Chemistry) -> &'static Typical {
    match chemistry {
        Chemistry::LiIon => &LI_ION,
        Chemistry::LiPo => &LIPO,
        Chemistry::LiFePo4 => &PHOSPHATE,
        _ => &OTHER,
    }
}

impl Typical {
    /// A cell of a capacity and of a DC resistance at 25 C.
    pub fn cell(&self, chemistry: Chemistry, capacity_ah: f64, dcir_ohm: f64) -> CellModel {
        let tenths = (1..=10).zip(self.r0_per_dcir);
        let points = tenths.map(|(tenth, share)| (f64::from(tenth) / 10.0, share * dcir_ohm)).collect();
        let r0 = Piecewise::through(points).unwrap_or_else(|| Piecewise::constant(dcir_ohm));
        CellModel {
            curve: curve(chemistry).clone(),
            capacity_ah,
            pairs: vec![Pair { ohm: r0.times(self.pair_per_r0), tau_s: self.pair_s }],
            r0,
            diffusion_s: self.diffusion_s,
            doubles_every_k: Some(COLD_DOUBLES_K),
            coulomb_efficiency: COULOMB_EFFICIENCY,
        }
    }
}
