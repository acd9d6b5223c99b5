//! Cells: claims that cannot be, counts in parallel, the designation.

mod holders;

pub use holders::{CONTACTS_OHM, SideBySide};

use crate::base::chemistry::Chemistry;
use crate::plan::{Cell, CellOrigin, CellSize};

/// Most energy in a litre of any cell on sale. Common practice, no source, as of 2026.
pub const DENSEST_WH_PER_L: f64 = 900.0;
/// Share of a hobby label's C rating that counts for continuous use. Common practice, no source.
const HOBBY_SHARE: f64 = 0.5;

/// How long a pulse rating without a stated time is taken to hold. Common practice, no source: data sheets mean some seconds.
const UNSTATED_PULSE_S: f64 = 2.0;

/// What to think of a claimed capacity.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Claim {
    /// Nothing speaks against it.
    Plausible,
    /// Above what is usual; the figure is the most one should believe.
    Doubtful {
        /// Usual best.
        usual_ah: f64,
    },
    /// No cell of this size has it.
    Impossible {
        /// Best there is.
        most_ah: f64,
    },
}

/// Nominal diameter and length, chemistry class, most that is usual, most there is. Common practice, no source, 2026.
const CLAIMS: [(f64, f64, bool, f64, f64); 7] = [
    (18.0, 65.0, false, 3.6, 4.1),
    (21.0, 70.0, false, 5.5, 6.0),
    (14.0, 50.0, false, 1.0, 1.0),
    (16.0, 34.0, false, 0.85, 0.85),
    (26.0, 65.0, false, 6.0, 6.0),
    (18.0, 65.0, true, 2.0, 2.0),
    (26.0, 65.0, true, 4.0, 4.0),
];

/// Whether a claimed capacity can be, by the size of the cell.
pub fn judge_claim(cell: &Cell) -> Claim {
    let CellSize::Cylindrical { diameter_mm, length_mm } = cell.size else {
        return Claim::Plausible;
    };
    let phosphate = match cell.chemistry {
        Chemistry::LiFePo4 => true,
        Chemistry::LiIon => false,
        _ => return Claim::Plausible,
    };
    // A protection cap makes a cell up to 5 mm longer.
    let found = CLAIMS.iter().find(|&&(d, l, p, ..)| {
        p == phosphate && (diameter_mm - d).abs() < 0.8 && (-0.5..=5.0).contains(&(length_mm - l))
    });
    match found {
        Some(&(.., most_ah)) if crate::base::limit::above(cell.rated_ah, most_ah) => Claim::Impossible { most_ah },
        Some(&(.., usual_ah, _)) if crate::base::limit::above(cell.rated_ah, usual_ah) => Claim::Doubtful { usual_ah },
        _ => Claim::Plausible,
    }
}

/// Outer volume of a cell in litres.
pub fn volume_l(size: &CellSize) -> f64 {
    const MM3_PER_L: f64 = 1e6;
    match *size {
        CellSize::Cylindrical { diameter_mm, length_mm } => {
            std::f64::consts::PI / 4.0 * diameter_mm * diameter_mm * length_mm / MM3_PER_L
        }
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => thickness_mm * width_mm * length_mm / MM3_PER_L,
    }
}

/// Continuous current that counts for one cell: its rating, half of it when it is a hobby label.
pub fn counted_a(cell: &Cell) -> Option<f64> {
    let share = if cell.origin == CellOrigin::Hobby { HOBBY_SHARE } else { 1.0 };
    cell.discharge_a.map(|a| a * share)
}

/// Current one cell can give for a peak: its pulse rating if the rated pulse is long enough, else its continuous one. `None`
/// where no pulse rating is stated: unstated is unknown, not the continuous one.
pub fn counted_peak_a(cell: &Cell, duration_s: f64) -> Option<f64> {
    let pulse_a = cell.pulse_a?;
    if cell.pulse_s.unwrap_or(UNSTATED_PULSE_S) >= duration_s {
        Some(counted_a(cell).map_or(pulse_a, |continuous_a| continuous_a.max(pulse_a)))
    } else {
        counted_a(cell)
    }
}

/// What decided a parallel count.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Decided {
    /// The run time wanted.
    Run,
    /// The current each cell must give.
    Current,
    /// Neither asks for more than one.
    Neither,
}

impl Decided {
    /// Why there are so many, in words.
    pub fn why(self) -> &'static str {
        match self {
            Decided::Run => "the run time decides",
            Decided::Current => "the current decides",
            Decided::Neither => "one is enough",
        }
    }
}

/// Cells in parallel for the energy wanted and for the current, and which of the two decided.
///
/// n = ceil(need / what one string gives). A small slack keeps 2.0000001 from becoming 3.
pub fn parallel_count(wanted_per_string: Option<f64>, current_per_string: Option<f64>) -> Option<(u32, Decided)> {
    let count = |need: f64| (need - 1e-9).ceil().clamp(1.0, 1e6) as u32;
    let run = wanted_per_string.map(count);
    let current = current_per_string.map(count);
    let most = run.max(current)?;
    let decided = if most == 1 {
        Decided::Neither
    } else if current.is_some_and(|c| run.is_none_or(|r| c >= r)) {
        Decided::Current
    } else {
        Decided::Run
    };
    Some((most, decided))
}

/// Designation of a pack: series, the cell's letters and rounded size, parallel. IEC 61960-3 (from memory).
///
/// The maximum size is rounded up: 18.3 x 65.2 mm is 19/66. Sodium has no form there: `None`.
pub fn designation(cell: &Cell, series: u32, parallel: u32) -> Option<String> {
    let chemistry = match cell.chemistry {
        Chemistry::LiIon => "IN",
        Chemistry::LiPo | Chemistry::LiHv => "IC",
        Chemistry::LiFePo4 => "IF",
        // T stands for the titanium of the negative; the positive is nickel manganese cobalt in most of them.
        Chemistry::LiTitanate => "TN",
        _ => return None,
    };
    let up = |mm: f64| (mm - 1e-9).ceil();
    let size = match cell.size {
        CellSize::Cylindrical { diameter_mm, length_mm } => format!("R{}/{}", up(diameter_mm), up(length_mm)),
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => {
            format!("P{}/{}/{}", up(thickness_mm), up(width_mm), up(length_mm))
        }
    };
    let before = if series > 1 { series.to_string() } else { String::new() };
    let after = if parallel > 1 { format!("-{parallel}") } else { String::new() };
    Some(format!("{before}{chemistry}{size}{after}"))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::Offer;

    fn cell(rated_ah: f64, diameter_mm: f64, length_mm: f64, chemistry: Chemistry) -> Cell {
        Cell {
            offer: Offer::default(),
            chemistry,
            size: CellSize::Cylindrical { diameter_mm, length_mm },
            origin: CellOrigin::New,
            tested: true,
            rated_ah,
            dcir_ohm: None,
            discharge_a: Some(10.0),
            pulse_a: Some(20.0),
            pulse_s: Some(5.0),
            charge_a: None,
            full_v: None,
            end_v: None,
        }
    }

    /// Common practice, no source: limits of claims by size.
    #[test]
    fn a_9_9_ah_claim_on_an_18650_is_impossible_and_3_8_doubtful() {
        let judge = |ah, d, l, c| judge_claim(&cell(ah, d, l, c));
        assert_eq!(judge(9.9, 18.3, 65.0, Chemistry::LiIon), Claim::Impossible { most_ah: 4.1 });
        assert_eq!(judge(3.8, 18.6, 69.0, Chemistry::LiIon), Claim::Doubtful { usual_ah: 3.6 });
        assert_eq!(judge(3.6, 18.3, 65.0, Chemistry::LiIon), Claim::Plausible);
        assert_eq!(judge(2.5, 18.3, 65.0, Chemistry::LiFePo4), Claim::Impossible { most_ah: 2.0 });
        assert_eq!(judge(5.0, 21.5, 70.5, Chemistry::LiIon), Claim::Plausible);
        assert_eq!(judge(5.8, 21.5, 70.5, Chemistry::LiIon), Claim::Doubtful { usual_ah: 5.5 });
    }

    /// IEC 61960-3 (from memory): INR19/66, four in series and two in parallel 4INR19/66-2.
    #[test]
    fn the_designation_follows_iec_61960() {
        let c = cell(2.5, 18.4, 65.2, Chemistry::LiIon);
        assert_eq!(designation(&c, 1, 1).unwrap(), "INR19/66");
        assert_eq!(designation(&c, 4, 2).unwrap(), "4INR19/66-2");
        assert_eq!(designation(&cell(1.0, 18.4, 65.2, Chemistry::NaIon), 4, 2), None);
    }

    /// I = C x Ah: 20 C on 1.0 Ah is 20 A; hobby labels are halved for continuous use. Common practice, no source.
    #[test]
    fn a_hobby_label_of_20_a_is_counted_as_10() {
        let hobby =
            Cell { origin: CellOrigin::Hobby, discharge_a: Some(20.0), ..cell(1.0, 18.0, 65.0, Chemistry::LiPo) };
        assert_eq!(counted_a(&hobby), Some(10.0));
    }

    #[test]
    fn a_pulse_rating_counts_only_for_pulses_as_short_as_it_states() {
        let c = cell(2.5, 18.3, 65.0, Chemistry::LiIon);
        assert_eq!(counted_peak_a(&c, 0.4), Some(20.0));
        assert_eq!(counted_peak_a(&c, 8.0), Some(10.0));
    }

    #[test]
    fn the_larger_need_decides_the_parallel_count() {
        assert_eq!(parallel_count(Some(1.4), Some(2.6)), Some((3, Decided::Current)));
        assert_eq!(parallel_count(Some(3.4), Some(2.6)), Some((4, Decided::Run)));
        assert_eq!(parallel_count(Some(2.0), None), Some((2, Decided::Run)));
        assert_eq!(parallel_count(Some(0.3), Some(0.2)), Some((1, Decided::Neither)));
        assert_eq!(parallel_count(None, None), None);
    }
}
