//! A simulated cell: what it really is follows from its label and a seed, so that it is the same every time.

use fastrand::Rng;

/// Chance of a cell that is not like its fellows, for each way of being bad.
const BAD_CHANCE: f64 = 0.05;
/// Largest share that an ordinary contact adds to a resistance, and a bad one.
const CONTACT: f64 = 0.08;
const BAD_CONTACT: f64 = 0.45;
const BAD_CONTACT_CHANCE: f64 = 0.06;

/// What a simulated cell really is. Typical figures of salvaged 18650 cells, invented.
#[derive(Debug, Clone, PartialEq)]
pub struct TrueCell {
    /// Volts at rest.
    pub rested_v: f64,
    /// Resistance at 1 kHz, without any contact.
    pub resistance_ohm: f64,
    /// Capacity down to 2.5 V.
    pub capacity_ah: f64,
}

impl TrueCell {
    /// The cell of that label in a box of that seed.
    pub fn of(label: &str, seed: u64) -> TrueCell {
        // FNV-1a: a fixed hash, so that no release of a library changes a cell.
        let hash = label
            .bytes()
            .fold(0xcbf2_9ce4_8422_2325_u64 ^ seed, |h, b| (h ^ u64::from(b)).wrapping_mul(0x0100_0000_01b3));
        let mut rng = Rng::with_seed(hash);
        let mut bell = |mean: f64, deviation: f64| {
            // The sum of twelve even shares is near enough to a bell.
            mean + deviation * ((0..12).map(|_| rng.f64()).sum::<f64>() - 6.0)
        };
        let mut cell =
            TrueCell { rested_v: bell(3.72, 0.03), resistance_ohm: bell(0.058, 0.006), capacity_ah: bell(2.15, 0.12) };
        if rng.f64() < BAD_CHANCE {
            cell.rested_v = 0.4 + 1.8 * rng.f64();
        }
        if rng.f64() < BAD_CHANCE {
            cell.resistance_ohm *= 1.8 + rng.f64();
        }
        if rng.f64() < BAD_CHANCE {
            cell.capacity_ah *= 0.4 + 0.3 * rng.f64();
        }
        cell
    }

    /// A resistance as a spring contact lets it be read: never less than it is.
    pub fn read_ohm(&self, rng: &mut Rng) -> f64 {
        let bad = rng.f64() < BAD_CONTACT_CHANCE;
        self.resistance_ohm * (1.0 + rng.f64() * if bad { BAD_CONTACT } else { CONTACT })
    }

    /// Volts as a meter of one millivolt reads them.
    pub fn read_v(&self, rng: &mut Rng) -> f64 {
        ((self.rested_v + (rng.f64() - 0.5) * 0.002) * 1000.0).round() / 1000.0
    }

    /// Capacity at a current down to a cut-off: a little less at more current and at a higher cut-off.
    pub fn capacity_at(&self, rate_a: f64, cutoff_v: f64) -> f64 {
        let lost_share = (0.01 * rate_a / self.capacity_ah + 0.08 * (cutoff_v - 2.5).max(0.0)).min(0.9);
        self.capacity_ah * (1.0 - lost_share)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_box_is_the_same_every_time_and_a_few_of_its_cells_are_bad() {
        let cells: Vec<TrueCell> = (0..400).map(|i| TrueCell::of(&format!("A{i}"), 1)).collect();
        assert_eq!(cells[7], TrueCell::of("A7", 1));
        assert_ne!(cells[7], TrueCell::of("A7", 2));
        let share = |bad: fn(&TrueCell) -> bool| cells.iter().filter(|c| bad(c)).count() as f64 / 400.0;
        for bad in [share(|c| c.rested_v < 2.5), share(|c| c.resistance_ohm > 0.09), share(|c| c.capacity_ah < 1.6)] {
            assert!((0.01..0.12).contains(&bad), "{bad}");
        }
    }

    #[test]
    fn contacts_only_add_and_current_only_takes() {
        let cell = TrueCell::of("A1", 1);
        let mut rng = Rng::with_seed(1);
        let readings: Vec<f64> = (0..200).map(|_| cell.read_ohm(&mut rng)).collect();
        assert!(readings.iter().all(|r| *r >= cell.resistance_ohm && *r <= cell.resistance_ohm * 1.45));
        assert!(readings.iter().any(|r| *r > cell.resistance_ohm * 1.2), "no bad contact in 200");
        assert!(cell.capacity_at(2.0, 2.8) < cell.capacity_at(0.5, 2.8));
        assert!(cell.capacity_at(0.5, 3.0) < cell.capacity_at(0.5, 2.5));
    }
}
