//! What the device draws when: its levels one after another, or a recorded series over and over.

use crate::physics::device::Together;

/// What a device asks for at its terminals.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Asks {
    /// A current.
    Current(f64),
    /// A power.
    Power(f64),
    /// A resistance.
    Resistance(f64),
    /// Several consumers side by side.
    Several(Together),
}

impl Asks {
    /// So much more of it, in current.
    pub fn times(self, factor: f64) -> Asks {
        match self {
            Asks::Current(a) => Asks::Current(a * factor),
            Asks::Power(w) => Asks::Power(w * factor),
            Asks::Resistance(ohm) => Asks::Resistance(ohm / factor),
            Asks::Several(t) => Asks::Several(Together {
                current_a: t.current_a * factor,
                power_w: t.power_w * factor,
                siemens: t.siemens * factor,
            }),
        }
    }

    /// The same with others beside it.
    pub fn beside(self, others: Together) -> Asks {
        if others.is_nothing() {
            return self;
        }
        let own = match self {
            Asks::Current(current_a) => Together { current_a, ..Together::default() },
            Asks::Power(power_w) => Together { power_w, ..Together::default() },
            Asks::Resistance(ohm) => Together { siemens: 1.0 / ohm, ..Together::default() },
            Asks::Several(together) => together,
        };
        Asks::Several(own.and(others))
    }
}

/// A level of the load.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Level {
    /// What it asks for.
    pub asks: Asks,
    /// How long; absent is without an end.
    pub duration_s: Option<f64>,
    /// How often it comes; absent is now and then.
    pub every_s: Option<f64>,
}

/// What is asked for over a time.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Stretch {
    /// What is asked for; absent is nothing.
    pub asks: Option<Asks>,
    /// Place of its level, or of its reading in a series.
    pub level: Option<usize>,
    /// Until when it stays so.
    pub until_s: f64,
}

/// The load over time.
#[derive(Debug, Clone, PartialEq)]
pub enum Pattern {
    /// Levels: the first continuous, interrupted by those that come every so often, the largest first where two meet.
    /// Levels that come now and then are not in it: they may come at any time, and are looked at for each moment.
    Levels(Vec<Level>),
    /// Readings of a current, each until the next; after the last it begins again.
    Recorded {
        /// Times from 0 and currents.
        readings: Vec<(f64, f64)>,
        /// Length of the whole.
        whole_s: f64,
    },
}

impl Pattern {
    /// A recorded series; its last reading lasts as long as the one before. `None` for fewer than two readings.
    pub fn recorded(readings: Vec<(f64, f64)>) -> Option<Pattern> {
        let [.., before, last] = readings[..] else { return None };
        let whole_s = last.0 + (last.0 - before.0);
        (whole_s > 0.0).then_some(Pattern::Recorded { readings, whole_s })
    }

    /// What is asked for at a time.
    pub fn at(&self, time_s: f64) -> Stretch {
        match self {
            Pattern::Levels(levels) => at_level(levels, time_s),
            Pattern::Recorded { readings, whole_s } => {
                // A round that ends a rounding error early has ended.
                let begins_s = (time_s / whole_s + 1e-9).floor() * whole_s;
                let k = readings.partition_point(|r| r.0 <= time_s - begins_s + 1e-9).max(1) - 1;
                let until_s = begins_s + readings.get(k + 1).map_or(*whole_s, |next| next.0);
                Stretch { asks: Some(Asks::Current(readings[k].1)), level: Some(k), until_s }
            }
        }
    }

    /// The same with every current so many times as large.
    pub fn times(&self, factor: f64) -> Pattern {
        match self {
            Pattern::Levels(levels) => {
                Pattern::Levels(levels.iter().map(|l| Level { asks: l.asks.times(factor), ..*l }).collect())
            }
            Pattern::Recorded { readings, whole_s } => Pattern::Recorded {
                readings: readings.iter().map(|&(t, a)| (t, a * factor)).collect(),
                whole_s: *whole_s,
            },
        }
    }

    /// Levels that may come at any time: what they ask for and how long.
    pub fn now_and_then(&self) -> impl Iterator<Item = (usize, Asks, f64)> {
        let levels: &[Level] = if let Pattern::Levels(levels) = self { levels } else { &[] };
        let any_time = |(k, l): (usize, &Level)| Some((k, l.asks, l.duration_s.filter(|_| l.every_s.is_none())?));
        levels.iter().enumerate().filter_map(any_time)
    }
}

/// Each level that comes every so often begins after those before it in the list, at the end of the usual use.
fn at_level(levels: &[Level], time_s: f64) -> Stretch {
    let mut now: Option<usize> = levels.iter().position(|l| l.duration_s.is_none());
    let mut until_s = f64::INFINITY;
    let size = |k: usize| match levels[k].asks {
        Asks::Current(size) | Asks::Power(size) => size,
        Asks::Resistance(ohm) => 1.0 / ohm,
        // Which is larger is asked of levels to which the same was added.
        Asks::Several(t) => t.at_a(1.0),
    };
    let mut interrupted: Option<usize> = None;
    let mut before_s = 0.0;
    for (k, level) in levels.iter().enumerate() {
        let (Some(duration_s), Some(every_s)) = (level.duration_s, level.every_s) else { continue };
        let every_s = every_s.max(duration_s);
        // Counted back from the end of its period, so that the usual use comes first.
        let begins_s = (every_s - duration_s - before_s).rem_euclid(every_s);
        before_s += duration_s;
        let round = ((time_s - begins_s) / every_s + 1e-9).floor();
        let since_s = time_s - begins_s - round * every_s;
        let ends_s = begins_s + round * every_s + duration_s;
        // A level cut by the start, from the round before it, has not begun.
        if round >= 0.0 && since_s < duration_s - 1e-9 {
            until_s = until_s.min(ends_s);
            if interrupted.is_none_or(|other| size(k) > size(other)) {
                interrupted = Some(k);
            }
        } else {
            until_s = until_s.min(begins_s + (round + 1.0) * every_s);
        }
    }
    now = interrupted.or(now);
    Stretch { asks: now.map(|k| levels[k].asks), level: now, until_s }
}

#[cfg(test)]
mod tests {
    use super::*;

    const USUAL: Level = Level { asks: Asks::Current(2.0), duration_s: None, every_s: None };

    fn burst(a: f64, duration_s: f64, every_s: f64) -> Level {
        Level { asks: Asks::Current(a), duration_s: Some(duration_s), every_s: Some(every_s) }
    }

    /// Charge over a time, by walking from change to change.
    fn charge_as(pattern: &Pattern, over_s: f64) -> f64 {
        let (mut t, mut sum, mut changes) = (0.0, 0.0, 0);
        while t < over_s {
            let now = pattern.at(t);
            let until_s = now.until_s.min(over_s);
            assert!(until_s > t, "it goes on at {t} s");
            if let Some(Asks::Current(a)) = now.asks {
                sum += a * (until_s - t);
            }
            t = until_s;
            changes += 1;
            assert!(changes < 10_000);
        }
        sum
    }

    #[test]
    fn a_burst_every_minute_takes_its_share_of_the_time() {
        let pattern = Pattern::Levels(vec![USUAL, burst(10.0, 6.0, 60.0)]);
        assert!((charge_as(&pattern, 3600.0) - 3600.0 * (0.9 * 2.0 + 0.1 * 10.0)).abs() < 1e-6);
        assert_eq!(pattern.at(0.0).level, Some(0), "the usual use comes first");
        assert_eq!(pattern.at(55.0).level, Some(1));
    }

    #[test]
    fn two_bursts_follow_one_another() {
        let pattern = Pattern::Levels(vec![USUAL, burst(10.0, 6.0, 60.0), burst(20.0, 3.0, 60.0)]);
        assert!((charge_as(&pattern, 600.0) - 600.0 / 60.0 * (51.0 * 2.0 + 60.0 + 60.0)).abs() < 1e-6);
    }

    #[test]
    fn a_level_that_comes_now_and_then_is_not_in_the_pattern() {
        let rare = Level { asks: Asks::Current(40.0), duration_s: Some(0.4), every_s: None };
        let pattern = Pattern::Levels(vec![USUAL, rare]);
        assert_eq!(
            pattern.at(123.0),
            Stretch { asks: Some(Asks::Current(2.0)), level: Some(0), until_s: f64::INFINITY }
        );
        assert_eq!(pattern.now_and_then().collect::<Vec<_>>(), [(1, Asks::Current(40.0), 0.4)]);
    }

    #[test]
    fn a_recorded_series_begins_again() {
        let pattern = Pattern::recorded(vec![(0.0, 1.0), (10.0, 3.0), (15.0, 0.0)]).unwrap();
        assert!((charge_as(&pattern, 40.0) - 2.0 * (10.0 + 15.0)).abs() < 1e-9);
        assert_eq!(pattern.at(25.0).asks, Some(Asks::Current(1.0)).filter(|_| pattern.at(25.0).until_s == 30.0));
        assert_eq!(Pattern::recorded(vec![(0.0, 1.0)]), None);
    }
}
