//! What a series of ammeter readings says of the load: running level, hard use, peaks, duty, and what the sampling hides.

use serde::Serialize;
use utoipa::ToSchema;

use super::LONG_S;
use super::log::{LoadLog, Sample};
use crate::plan::{Draw, How, Known, Load};

/// Below this share of the running level the device is off. Common practice, no source: a meter's noise and a lamp.
const OFF_SHARE: f64 = 0.05;
/// Above this multiple of the running level a stretch is a level of its own.
const ABOVE_RUN: f64 = 1.3;
/// Sampling slower than this can miss a start peak altogether: one lasts tens of milliseconds. Common practice.
const SLOW_S: f64 = 0.02;
/// Readings in a row at the very same maximum that betray the end of a meter's range.
const STUCK_COUNT: usize = 3;
/// Share of its range from which a meter that stands still stands at its end.
const RANGE_END: f64 = 0.98;
/// Most points handed out for drawing: for each step of time its lowest and its highest reading.
const DRAWN: usize = 600;

/// A level found above the running one.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Excursion {
    /// Largest reading of the peaks; mean of a long level.
    pub current_a: f64,
    /// Longest stretch.
    pub duration_s: f64,
    /// How often it came.
    pub count: usize,
    /// Mean time from one to the next; absent if it came once.
    pub every_s: Option<f64>,
}

/// What a log says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LoadReading {
    /// Readings.
    pub sample_count: usize,
    /// From the first reading to the last.
    pub span_s: f64,
    /// Usual time from one to the next.
    pub interval_s: f64,
    /// Whether the currents were negative and have been turned.
    pub flipped: bool,
    /// Where the meter stood at the end of its range, if it did: every larger current is hidden.
    pub stuck_at_a: Option<f64>,
    /// Current while it runs: the middle reading by time.
    pub run_a: f64,
    /// Share of the time it is on.
    pub duty: f64,
    /// Mean over the whole log: the charge it takes per hour, in ampere-hours.
    pub mean_a: f64,
    /// RMS over the whole log.
    pub rms_a: f64,
    /// Level longer than a peak, if there is one.
    pub hard: Option<Excursion>,
    /// Peaks, if there are any.
    pub peak: Option<Excursion>,
    /// Whether the true peak may be larger than the largest reading.
    pub peak_is_lower_bound: bool,
    /// What the sampling and the meter hide, in sentences.
    pub hides: Vec<String>,
    /// The levels as the plan takes them.
    pub levels: Vec<Load>,
    /// Points to draw.
    pub drawn: Vec<Sample>,
}

/// Finds the levels of a log. `range_a` is the end of the meter's range, `meter` its name, where they are known.
pub fn find(log: &LoadLog, range_a: Option<f64>, meter: Option<&str>) -> LoadReading {
    let samples = &log.samples;
    let steps = steps(samples);
    let interval_s = median(steps.clone());
    let span_s = samples[samples.len() - 1].time_s;
    let whole_s: f64 = steps.iter().sum();
    let weighted = |power: i32| -> f64 {
        samples.iter().zip(&steps).map(|(s, dt)| s.current_a.powi(power) * dt).sum::<f64>() / whole_s
    };
    let stuck_at_a = stuck(samples, range_a);
    let run_a = running(samples, &steps);
    let on_s: f64 = samples.iter().zip(&steps).filter(|(s, _)| s.current_a > OFF_SHARE * run_a).map(|(_, dt)| dt).sum();
    let (long, short): (Vec<Stretch>, Vec<Stretch>) =
        stretches(samples, &steps, ABOVE_RUN * run_a).into_iter().partition(|s| s.duration_s > LONG_S);
    let hard = excursion(&long, |s| s.mean_a);
    let peak = excursion(&short, |s| s.largest_a);
    let peak_is_lower_bound = interval_s > SLOW_S || stuck_at_a.is_some();
    let mut reading = LoadReading {
        sample_count: samples.len(),
        span_s,
        interval_s,
        flipped: log.flipped,
        stuck_at_a,
        run_a,
        duty: on_s / whole_s,
        mean_a: weighted(1),
        rms_a: weighted(2).sqrt(),
        hard,
        peak,
        peak_is_lower_bound,
        hides: vec![],
        levels: vec![],
        drawn: thinned(samples),
    };
    reading.hides = hides(&reading);
    reading.levels = levels(&reading, meter);
    reading
}

/// Time each reading stands for: until the next; the last as long as the one before.
fn steps(samples: &[Sample]) -> Vec<f64> {
    let mut steps: Vec<f64> = samples.windows(2).map(|w| w[1].time_s - w[0].time_s).collect();
    steps.push(*steps.last().unwrap_or(&1.0));
    steps
}

fn median(mut values: Vec<f64>) -> f64 {
    values.sort_unstable_by(f64::total_cmp);
    values[values.len() / 2]
}

/// The middle current by time, of the time in which something flows.
fn running(samples: &[Sample], steps: &[f64]) -> f64 {
    let most_a = samples.iter().map(|s| s.current_a).fold(0.0, f64::max);
    let mut on: Vec<(f64, f64)> = samples
        .iter()
        .zip(steps)
        .filter(|(s, _)| s.current_a > 0.02 * most_a)
        .map(|(s, dt)| (s.current_a, *dt))
        .collect();
    on.sort_unstable_by(|a, b| a.0.total_cmp(&b.0));
    let half_s = on.iter().map(|(_, dt)| dt).sum::<f64>() / 2.0;
    let mut passed_s = 0.0;
    for (current_a, dt) in &on {
        passed_s += dt;
        if passed_s >= half_s {
            return *current_a;
        }
    }
    0.0
}

/// The end of the range at which the meter stood still.
fn stuck(samples: &[Sample], range_a: Option<f64>) -> Option<f64> {
    let most_a = samples.iter().map(|s| s.current_a).fold(0.0, f64::max);
    let mut longest = 0;
    let mut now = 0;
    for s in samples {
        now = if s.current_a == most_a { now + 1 } else { 0 };
        longest = longest.max(now);
    }
    // Without the range a steady load looks the same: only a maximum well above the rest is suspect.
    let suspect = match range_a {
        Some(range_a) => most_a >= RANGE_END * range_a,
        None => most_a > 1.5 * median(samples.iter().map(|s| s.current_a).collect()),
    };
    (most_a > 0.0 && longest >= STUCK_COUNT && suspect).then_some(most_a)
}

/// A stretch of readings above a level.
struct Stretch {
    begin_s: f64,
    duration_s: f64,
    largest_a: f64,
    mean_a: f64,
}

fn stretches(samples: &[Sample], steps: &[f64], above_a: f64) -> Vec<Stretch> {
    let mut found: Vec<Stretch> = vec![];
    let mut open = false;
    for (s, dt) in samples.iter().zip(steps) {
        if s.current_a <= above_a || above_a <= 0.0 {
            open = false;
            continue;
        }
        match found.last_mut().filter(|_| open) {
            Some(stretch) => {
                let charge = stretch.mean_a * stretch.duration_s + s.current_a * dt;
                stretch.duration_s += dt;
                stretch.mean_a = charge / stretch.duration_s;
                stretch.largest_a = stretch.largest_a.max(s.current_a);
            }
            None => {
                found.push(Stretch { begin_s: s.time_s, duration_s: *dt, largest_a: s.current_a, mean_a: s.current_a });
                open = true;
            }
        }
    }
    found
}

fn excursion(stretches: &[Stretch], current: impl Fn(&Stretch) -> f64) -> Option<Excursion> {
    let (first, last) = (stretches.first()?, stretches.last()?);
    let count = stretches.len();
    Some(Excursion {
        current_a: stretches.iter().map(current).fold(0.0, f64::max),
        duration_s: stretches.iter().map(|s| s.duration_s).fold(0.0, f64::max),
        count,
        every_s: (count > 1).then(|| (last.begin_s - first.begin_s) / (count - 1) as f64),
    })
}

fn hides(r: &LoadReading) -> Vec<String> {
    use crate::base::quantity::{Unit, show};
    let mut hides = vec![];
    if r.interval_s > SLOW_S {
        let every = show(r.interval_s, Unit::S);
        hides.push(format!(
            "A reading every {every} can miss a start peak: the true peak is at least the largest reading, perhaps several times that."
        ));
    }
    if let Some(at_a) = r.stuck_at_a {
        hides.push(format!(
            "The meter stood still at {}, the end of its range: the real current is not known. Use a larger range, or a shunt.",
            show(at_a, Unit::A)
        ));
    }
    if r.flipped {
        hides.push("The currents were negative and have been reversed: discharge is positive here.".to_owned());
    }
    if r.duty < 0.9 {
        hides.push(format!(
            "It ran {} of the time; the run time is calculated for running without a pause.",
            show(r.duty, Unit::Share)
        ));
    }
    hides
}

fn levels(r: &LoadReading, meter: Option<&str>) -> Vec<Load> {
    let level = |id: &str, name: &str, current_a: f64, how: How| Load {
        id: id.to_owned(),
        name: name.to_owned(),
        draw: Draw::Current { value_a: Known { value: current_a, how, error: None, meter: meter.map(str::to_owned) } },
        duration_s: None,
        every_s: None,
    };
    let mut levels = vec![];
    if r.run_a > 0.0 {
        levels.push(level("usual", "running, from the log", r.run_a, How::Measured));
    }
    for (id, name, found, how) in [
        ("hard", "hard use, from the log", &r.hard, How::Measured),
        ("peak", "peak, from the log", &r.peak, if r.peak_is_lower_bound { How::LowerBound } else { How::Measured }),
    ] {
        if let Some(e) = found {
            // A stretch cannot come more often than it lasts.
            let every_s = e.every_s.map(|every_s| every_s.max(e.duration_s));
            levels.push(Load { duration_s: Some(e.duration_s), every_s, ..level(id, name, e.current_a, how) });
        }
    }
    levels
}

/// The log for drawing: of each step of time its lowest and its highest reading, so that no peak is lost.
fn thinned(samples: &[Sample]) -> Vec<Sample> {
    if samples.len() <= DRAWN {
        return samples.to_vec();
    }
    let mut drawn = vec![];
    for chunk in samples.chunks(samples.len().div_ceil(DRAWN / 2)) {
        let low = chunk.iter().min_by(|a, b| a.current_a.total_cmp(&b.current_a));
        let high = chunk.iter().max_by(|a, b| a.current_a.total_cmp(&b.current_a));
        let mut both: Vec<Sample> = low.into_iter().chain(high).copied().collect();
        both.sort_unstable_by(|a, b| a.time_s.total_cmp(&b.time_s));
        drawn.extend(both);
    }
    drawn
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A winch: off for 2 s, then starts of 20 A falling to 4 A with a time constant of 30 ms, 10 s each, a hard pull
    /// of 9 A for 15 s in the third.
    fn winch(time_s: f64) -> f64 {
        let begun_s = time_s - 2.0;
        if begun_s < 0.0 {
            return 0.0;
        }
        let (cycle, within_s) = ((begun_s / 30.0).floor(), begun_s % 30.0);
        if within_s >= 28.0 {
            return 0.0;
        }
        let hard = if cycle == 2.0 && (10.0..25.0).contains(&within_s) { 5.0 } else { 0.0 };
        4.0 + hard + 16.0 * (-within_s / 0.03).exp()
    }

    fn sampled(every_s: f64, count: usize) -> LoadLog {
        let samples = (0..count).map(|i| {
            let time_s = i as f64 * every_s;
            // A slow hand meter reads between two instants, as it happens.
            Sample { time_s, current_a: winch(time_s + 0.17 * every_s) }
        });
        LoadLog { samples: samples.collect(), flipped: false }
    }

    #[test]
    fn a_fast_log_gives_the_peak_with_its_length_and_the_levels() {
        let r = find(&sampled(0.001, 100_000), None, Some("logger"));
        assert!((r.run_a - 4.0).abs() < 0.01, "{}", r.run_a);
        let peak = r.peak.as_ref().unwrap();
        assert!((peak.current_a - 20.0).abs() < 0.2, "{}", peak.current_a);
        // 16 e^(-t / 30 ms) falls to 1.2 A, 30 % of the running level, after 78 ms.
        assert!((peak.duration_s - 0.078).abs() < 0.003, "{}", peak.duration_s);
        assert_eq!(peak.count, 4);
        assert!((peak.every_s.unwrap() - 30.0).abs() < 0.01);
        let hard = r.hard.as_ref().unwrap();
        assert!((hard.current_a - 9.0).abs() < 0.01 && (hard.duration_s - 15.0).abs() < 0.01, "{hard:?}");
        assert!(!r.peak_is_lower_bound && r.stuck_at_a.is_none());
        assert!(r.hides.iter().all(|h| !h.contains("start peak")), "{:?}", r.hides);
        assert_eq!(r.levels.len(), 3);
        assert_eq!(
            r.drawn.iter().map(|s| s.current_a).fold(0.0, f64::max),
            r.peak.unwrap().current_a,
            "no peak is lost"
        );
        assert!(r.drawn.len() <= 2 * DRAWN);
    }

    #[test]
    fn a_slow_log_finds_the_same_levels_and_says_that_it_may_miss_the_peak() {
        let r = find(&sampled(0.5, 200), None, None);
        assert!((r.run_a - 4.0).abs() < 0.05, "{}", r.run_a);
        assert!((r.hard.as_ref().unwrap().current_a - 9.0).abs() < 0.05);
        // 0.085 s after each start the peak has fallen to 4.9 A: below the threshold, so no peak is seen at all.
        assert!(r.peak.as_ref().is_none_or(|p| p.current_a < 10.0), "{:?}", r.peak);
        assert!(r.peak_is_lower_bound);
        assert!(r.hides.iter().any(|h| h.contains("can miss a start peak")));
    }

    #[test]
    fn charge_and_duty_agree_with_the_exact_integral() {
        let r = find(&sampled(0.001, 92_000), None, None);
        // Three cycles of 28 s of 30: 3 x 28 x 4 A + 15 s x 5 A + 3 x 16 A x 0.03 s, over 92 s.
        let exact_a = (3.0 * 28.0 * 4.0 + 75.0 + 3.0 * 16.0 * 0.03) / 92.0;
        assert!((r.mean_a - exact_a).abs() < 0.002 * exact_a, "{} against {exact_a}", r.mean_a);
        assert!((r.duty - 84.0 / 92.0).abs() < 0.001, "{}", r.duty);
        assert!(r.rms_a > r.mean_a);
    }

    #[test]
    fn a_meter_stuck_at_its_range_end_is_recognised_and_a_steady_load_is_not() {
        let cut = |most_a: f64| {
            let mut log = sampled(0.001, 100_000);
            log.samples.iter_mut().for_each(|s| s.current_a = s.current_a.min(most_a));
            log
        };
        let r = find(&cut(10.0), Some(10.0), None);
        assert_eq!(r.stuck_at_a, Some(10.0));
        assert!(r.peak_is_lower_bound && r.hides.iter().any(|h| h.contains("end of its range")));
        assert!(r.levels.iter().any(|l| super::super::reading(&l.draw).how == How::LowerBound));
        assert_eq!(
            find(&cut(10.0), None, None).stuck_at_a,
            Some(10.0),
            "well above the rest, it is suspect without the range"
        );
        let steady = LoadLog {
            samples: (0..100).map(|i| Sample { time_s: f64::from(i), current_a: 3.0 }).collect(),
            flipped: false,
        };
        let r = find(&steady, Some(10.0), None);
        assert_eq!((r.stuck_at_a, r.peak, r.hard), (None, None, None));
        assert_eq!((r.run_a, r.duty), (3.0, 1.0));
    }

    #[test]
    fn a_device_that_never_ran_has_no_levels() {
        let idle = LoadLog {
            samples: (0..10).map(|i| Sample { time_s: f64::from(i), current_a: 0.0 }).collect(),
            flipped: false,
        };
        let r = find(&idle, None, None);
        assert_eq!((r.run_a, r.levels.len()), (0.0, 0));
        assert!(r.mean_a == 0.0 && r.duty == 0.0);
    }
}
