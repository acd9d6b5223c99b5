//! Where the heat of one cell goes: into itself, into what it is clamped in, into the air.

use super::given::GivenWarmth;

/// A cell and what it is clamped in, each one lump.
///
/// C_1 dT_1/dt = q − k (T_1 − T_2), C_2 dT_2/dt = k (T_1 − T_2) − k_a (T_2 − T_a).
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct TwoLumps {
    paths: GivenWarmth,
    solved: Solved,
    /// Of the cell.
    pub cell_c: f64,
    /// Of what it is clamped in.
    pub jig_c: f64,
}

/// The equations of a step of one length, solved.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Solved {
    step_s: f64,
    stored: [f64; 2],
    /// Middle temperatures for a watt put into each lump.
    per_w: [[f64; 2]; 2],
}

impl Solved {
    /// Implicit midpoint, two equations in two unknowns.
    fn of(p: &GivenWarmth, step_s: f64) -> Solved {
        let stored = [2.0 * p.cell_j_per_k / step_s, 2.0 * p.jig_j_per_k / step_s];
        let k = p.cell_jig_w_per_k;
        let own = [stored[0] + k, stored[1] + k + p.jig_air_w_per_k];
        let determinant = own[0] * own[1] - k * k;
        let per_w = [[own[1] / determinant, k / determinant], [k / determinant, own[0] / determinant]];
        Solved { step_s, stored, per_w }
    }
}

impl TwoLumps {
    /// Both at the temperature of the surroundings.
    pub fn cold(paths: GivenWarmth) -> TwoLumps {
        TwoLumps { solved: Solved::of(&paths, 1.0), paths, cell_c: paths.ambient_c, jig_c: paths.ambient_c }
    }

    /// Longest step over which the heat may be taken as steady: a small part of the time in which either lump follows it.
    pub fn longest_s(&self) -> f64 {
        const SHARE: f64 = 0.05;
        const LEAST_S: f64 = 1.0;
        let p = &self.paths;
        let cell_s = p.cell_j_per_k / p.cell_jig_w_per_k;
        let jig_s = p.jig_j_per_k / (p.cell_jig_w_per_k + p.jig_air_w_per_k);
        (SHARE * cell_s.min(jig_s)).max(LEAST_S)
    }

    /// Lets heat flow for a step.
    #[inline]
    pub fn step(&mut self, heat_w: f64, step_s: f64) {
        if step_s != self.solved.step_s {
            self.solved = Solved::of(&self.paths, step_s);
        }
        let Solved { stored, per_w, .. } = &self.solved;
        let put_in = [
            heat_w + stored[0] * self.cell_c,
            stored[1] * self.jig_c + self.paths.jig_air_w_per_k * self.paths.ambient_c,
        ];
        let middle_c = per_w.map(|row| row[0] * put_in[0] + row[1] * put_in[1]);
        self.cell_c = 2.0 * middle_c[0] - self.cell_c;
        self.jig_c = 2.0 * middle_c[1] - self.jig_c;
    }
}
