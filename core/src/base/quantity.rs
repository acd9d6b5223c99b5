//! Units, and figures as a person writes them: "76 mΩ", "2.5 Ah", "6.7 h", "85 %".
//!
//! The only place with 1000 or 3600. Inside core there is one unit a quantity: milli and kilo live here.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The one unit of each quantity inside core.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum Unit {
    /// Volt.
    V,
    /// Ampere.
    A,
    /// Ohm.
    Ohm,
    /// Ampere-hour.
    Ah,
    /// Watt-hour.
    Wh,
    /// Watt.
    W,
    /// Second.
    S,
    /// Degree Celsius, a temperature.
    C,
    /// Kelvin, a difference of temperatures.
    K,
    /// Farad.
    F,
    /// Millimetre.
    Mm,
    /// Square millimetre.
    Mm2,
    /// Gram.
    G,
    /// A share of one; shown in per cent.
    Share,
    /// A ratio without unit.
    Ratio,
    /// A count.
    Count,
    /// Day.
    Days,
    /// Money, in the plan's currency.
    Money,
    /// Watt-hour per litre.
    WhPerL,
    /// Joule per kelvin.
    JPerK,
}

impl Unit {
    /// The symbol written behind a value; empty where there is none.
    pub fn symbol(self) -> &'static str {
        match self {
            Unit::V => "V",
            Unit::A => "A",
            Unit::Ohm => "Ω",
            Unit::Ah => "Ah",
            Unit::Wh => "Wh",
            Unit::W => "W",
            Unit::S => "s",
            Unit::C => "°C",
            Unit::K => "K",
            Unit::F => "F",
            Unit::Mm => "mm",
            Unit::Mm2 => "mm²",
            Unit::G => "g",
            Unit::Share => "%",
            Unit::Days => "days",
            Unit::WhPerL => "Wh/L",
            Unit::JPerK => "J/K",
            Unit::Ratio | Unit::Count | Unit::Money => "",
        }
    }

    /// Unit words a maker may type, with the factor to the unit of core.
    pub(super) fn suffixes(self) -> &'static [(&'static str, f64)] {
        match self {
            Unit::V => &[("v", 1.0), ("mv", 1e-3), ("kv", 1e3), ("volt", 1.0), ("volts", 1.0)],
            Unit::A => &[("a", 1.0), ("ma", 1e-3), ("ua", 1e-6), ("ka", 1e3), ("amp", 1.0), ("amps", 1.0)],
            Unit::Ohm => &[
                ("ohm", 1.0),
                ("ohms", 1.0),
                ("mohm", 1e-3),
                ("milliohm", 1e-3),
                ("kohm", 1e3),
                ("ω", 1.0),
                ("mω", 1e-3),
                ("kω", 1e3),
                ("r", 1.0),
            ],
            Unit::Ah => &[("ah", 1.0), ("mah", 1e-3)],
            Unit::Wh => &[("wh", 1.0), ("mwh", 1e-3), ("kwh", 1e3)],
            Unit::W => &[("w", 1.0), ("mw", 1e-3), ("kw", 1e3), ("watt", 1.0), ("watts", 1.0)],
            Unit::S => &[
                ("s", 1.0),
                ("ms", 1e-3),
                ("us", 1e-6),
                ("sec", 1.0),
                ("min", 60.0),
                ("h", 3600.0),
                ("hr", 3600.0),
                ("d", 86400.0),
                ("days", 86400.0),
            ],
            Unit::C => &[("c", 1.0), ("°c", 1.0)],
            Unit::K => &[("k", 1.0)],
            Unit::F => &[("f", 1.0), ("mf", 1e-3), ("uf", 1e-6), ("µf", 1e-6), ("μf", 1e-6), ("nf", 1e-9)],
            Unit::Mm => &[("mm", 1.0), ("cm", 10.0), ("m", 1000.0)],
            Unit::Mm2 => &[("mm2", 1.0), ("mm²", 1.0), ("sqmm", 1.0)],
            Unit::G => &[("g", 1.0), ("kg", 1000.0)],
            Unit::Share => &[("%", 0.01)],
            Unit::Days => &[
                ("d", 1.0),
                ("day", 1.0),
                ("days", 1.0),
                ("weeks", 7.0),
                ("week", 7.0),
                ("year", 365.0),
                ("years", 365.0),
            ],
            Unit::WhPerL => &[("wh/l", 1.0)],
            Unit::JPerK => &[("j/k", 1.0)],
            Unit::Ratio | Unit::Count | Unit::Money => &[],
        }
    }

    /// What a lone SI prefix does; a lone m is milli except where lengths are typed.
    pub(super) fn lone_prefix(self, suffix: &str) -> Option<f64> {
        if !matches!(self, Unit::V | Unit::A | Unit::Ohm | Unit::Ah | Unit::Wh | Unit::W | Unit::F) {
            return None;
        }
        match suffix {
            "m" => Some(1e-3),
            "u" | "µ" | "μ" => Some(1e-6),
            "k" => Some(1e3),
            _ => None,
        }
    }
}

/// A value with its unit, in the size a person would write: 0.076 Ω as "76 mΩ", 24 000 s as "6.7 h", 0.278 days as "6.7 h".
pub fn show(value: f64, unit: Unit) -> String {
    match unit {
        Unit::Share => format!("{} %", significant(value * 100.0)),
        Unit::S => show_time(value),
        Unit::Days => show_time(value * DAY_S),
        Unit::Ohm if value.abs() >= 1e6 => format!("{} MΩ", significant(value / 1e6)),
        Unit::Ohm if value.abs() >= 1e3 => format!("{} kΩ", significant(value / 1e3)),
        Unit::G if value.abs() >= 1e3 => format!("{} kg", significant(value / 1e3)),
        Unit::Ohm | Unit::A | Unit::V | Unit::W | Unit::F if value != 0.0 && value.abs() < 0.1 => {
            if value.abs() < 1e-4 {
                format!("{} µ{}", significant(value * 1e6), unit.symbol())
            } else {
                format!("{} m{}", significant(value * 1e3), unit.symbol())
            }
        }
        // Volts such as 14.45 keep their second decimal: meters show it.
        Unit::V if (1.0..100.0).contains(&value.abs()) => format!("{} V", trimmed(value, 2)),
        Unit::Ratio | Unit::Count | Unit::Money => significant(value),
        // No more than three digits of what is calculated or metered; a length is typed to the millimetre.
        Unit::A | Unit::V | Unit::W | Unit::Ah | Unit::Wh if value.abs() >= 1e3 => {
            let size = 10f64.powf(value.abs().log10().floor() - 2.0);
            format!("{} {}", trimmed((value / size).round() * size, 0), unit.symbol())
        }
        _ => format!("{} {}", significant(value), unit.symbol()),
    }
}

/// A value with its unit to the last digit, where rounding would make another number of it: 500.4 A, 999999 A.
pub fn show_exactly(value: f64, unit: Unit) -> String {
    let (size, symbol) = if unit == Unit::Share { (100.0, "%") } else { (1.0, unit.symbol()) };
    format!("{} {symbol}", trimmed(value * size, 9)).trim_end().to_owned()
}

/// A range with its unit said once: "25–30 min", "0–45 °C"; twice where the sizes differ: "40 s – 2 min", "−5 °C to 35 °C".
pub fn show_range(low: f64, high: f64, unit: Unit) -> String {
    let (from, to) = (show(low, unit), show(high, unit));
    if from == to {
        return to;
    }
    if low < 0.0 {
        return format!("{from} to {to}");
    }
    match (from.split_once(' '), to.split_once(' ')) {
        (Some((number, of)), Some((_, also))) if of == also => format!("{number}–{to}"),
        (None, None) => format!("{from}–{to}"),
        _ => format!("{from} – {to}"),
    }
}

const DAY_S: f64 = 86_400.0;
const YEAR_S: f64 = 365.0 * DAY_S;

/// As people say them: "0.4 s", "17 min", "6.7 h", "20 days", "11 years".
fn show_time(value_s: f64) -> String {
    let magnitude = value_s.abs();
    // From ten on a tenth of a second, an hour, a day or a year is not said.
    let spoken = |length_s: f64| trimmed(value_s / length_s, usize::from(magnitude < 9.95 * length_s));
    if magnitude >= 2.0 * YEAR_S {
        format!("{} years", spoken(YEAR_S))
    } else if magnitude >= 2.0 * DAY_S {
        format!("{} days", spoken(DAY_S))
    } else if magnitude >= 5970.0 {
        format!("{} h", spoken(3600.0))
    } else if magnitude >= 90.0 {
        format!("{} min", trimmed(value_s / 60.0, 0))
    } else if magnitude >= 9.95 {
        format!("{} s", trimmed(value_s, 0))
    } else if magnitude >= 0.1 || value_s == 0.0 {
        format!("{} s", significant(value_s))
    } else {
        format!("{} ms", significant(value_s * 1e3))
    }
}

/// Three significant digits, four from 1000 up (whole numbers), without trailing zeros.
fn significant(value: f64) -> String {
    if value == 0.0 || !value.is_finite() {
        return "0".to_owned();
    }
    let magnitude = value.abs().log10().floor() as i32;
    trimmed(value, (2 - magnitude).clamp(0, 9) as usize)
}

/// At most so many decimals, without trailing zeros. What lies exactly between two goes away from zero, as people round and as
/// browsers do.
fn trimmed(value: f64, decimals: usize) -> String {
    let scale = 10f64.powi(decimals as i32);
    let scaled = value * scale;
    let is_exact = value.mul_add(scale, -scaled) == 0.0;
    let tie = is_exact && scaled.fract().abs() == 0.5;
    let value = if tie { (scaled.trunc() + scaled.signum()) / scale } else { value };
    let text = format!("{value:.decimals$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// The same table holds the browser's writing, ties included: web/src/format/show.test.ts.
    #[test]
    fn every_value_of_the_shared_table_is_written_as_it_says() {
        let table = include_str!("../../tests/shown.csv");
        let lines = table.lines().filter(|l| !l.starts_with('#')).skip(1);
        let mut written = 0;
        for line in lines {
            let [value, unit, text] = line.split(';').collect::<Vec<_>>()[..] else { panic!("{line}") };
            let unit: Unit = serde_json::from_value(serde_json::json!(unit)).expect(line);
            let number = |text: &str| text.parse::<f64>().expect(line);
            let shown = match value.split_once("..") {
                Some((low, high)) => show_range(number(low), number(high), unit),
                None => show(number(value), unit),
            };
            assert_eq!(shown, text, "{line}");
            written += 1;
        }
        assert!(written > 90, "{written}");
    }

    #[test]
    fn values_are_shown_in_the_size_a_person_would_write() {
        for (value, unit, text) in [
            (0.076, Unit::Ohm, "76 mΩ"),
            (16.8, Unit::V, "16.8 V"),
            (14.45, Unit::V, "14.45 V"),
            (5400.0, Unit::S, "90 min"),
            (7200.0, Unit::S, "2 h"),
            (1860.0, Unit::S, "31 min"),
            (0.278, Unit::Days, "6.7 h"),
            (4167.0, Unit::Days, "11 years"),
            (0.000_003_95, Unit::V, "3.95 µV"),
            (1234.0, Unit::G, "1.23 kg"),
            (0.4, Unit::S, "0.4 s"),
            (0.005, Unit::S, "5 ms"),
            (0.97, Unit::Share, "97 %"),
            (0.00003, Unit::A, "30 µA"),
            (412.0, Unit::G, "412 g"),
            (0.0, Unit::V, "0 V"),
            (4.0, Unit::Count, "4"),
        ] {
            assert_eq!(show(value, unit), text);
        }
    }
}
