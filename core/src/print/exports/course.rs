//! The course of a run as a table, with the column names of the open Battery Data Format: charge is positive there (from
//! memory), so a discharge is written as negative.

use crate::base::table::written;
use crate::physics::run::RunPoint;

/// The course as CSV: time, voltage of the pack, current, temperature, as that format names them; then what it has no name for.
pub fn run_csv(points: &[RunPoint]) -> String {
    const HEAD: [&str; 9] = [
        "Test Time / s",
        "Voltage / V",
        "Current / A",
        "Temperature T1 / degC",
        "Power at the device / W",
        "Voltage at the device / V",
        "Weakest group / V",
        "Strongest group / V",
        "State of charge / 1",
    ];
    let row = |p: &RunPoint| {
        let numbers = [
            (p.t_s, 3),
            (p.pack_v, 5),
            (-p.current_a, 5),
            (p.hottest_c, 3),
            (p.power_w, 4),
            (p.feed_v, 5),
            (p.weakest_v, 5),
            (p.strongest_v, 5),
            (p.soc, 6),
        ];
        numbers.iter().map(|(value, places)| format!("{value:.places$}")).collect()
    };
    let head = HEAD.iter().map(|h| (*h).to_owned()).collect();
    written(std::iter::once(head).chain(points.iter().map(row))).unwrap_or_default()
}
