//! Where the heat of one cell goes: into itself, into what it is clamped in, into the air.

use super::given::GivenWarmth;

/// A cell and what it is clamped in, each one lump.
///
/// C_1 dT_1/dt = q − k (T_1 − T_2), C_2 dT_2/dt = k (T_1 − T_2) − k_a (T_2 − T_a).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TwoLumps {
    paths: GivenWarmth,
    /// Of the cell.
    pub cell_c: f64,
    /// Of what it is clamped in.
    pub jig_c: f64,
}

impl TwoLumps {
    /// Both at the temperature of the surroundings.
    pub fn cold(paths: GivenWarmth) -> TwoLumps {
        TwoLumps { paths, cell_c: paths.ambient_c, jig_c: paths.ambient_c }
    }

    /// Lets heat flow for a step: implicit midpoint, two equations in two unknowns.
    pub fn step(&mut self, heat_w: f64, step_s: f64) {
        let p = &self.paths;
        let (stored_1, stored_2) = (2.0 * p.cell_j_per_k / step_s, 2.0 * p.jig_j_per_k / step_s);
        let k = p.cell_jig_w_per_k;
        let (own_1, own_2) = (stored_1 + k, stored_2 + k + p.jig_air_w_per_k);
        let (in_1, in_2) = (heat_w + stored_1 * self.cell_c, stored_2 * self.jig_c + p.jig_air_w_per_k * p.ambient_c);
        let determinant = own_1 * own_2 - k * k;
        let middle_1 = (in_1 * own_2 + k * in_2) / determinant;
        let middle_2 = (in_2 * own_1 + k * in_1) / determinant;
        self.cell_c = 2.0 * middle_1 - self.cell_c;
        self.jig_c = 2.0 * middle_2 - self.jig_c;
    }
}
