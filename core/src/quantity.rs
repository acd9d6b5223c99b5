//! Units, and figures as a maker types them: "76 m", "0.076 ohm", "2,5 Ah", "1 h 30 min", "85 %".
//!
//! The only place with 1000 or 3600. Inside core there is one unit a quantity: milli and kilo live here.

use serde::{Deserialize, Serialize};
use thiserror::Error;
use utoipa::ToSchema;

use crate::range::Range;

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
    fn suffixes(self) -> &'static [(&'static str, f64)] {
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
            Unit::Days => &[("d", 1.0), ("day", 1.0), ("days", 1.0), ("weeks", 7.0), ("week", 7.0)],
            Unit::WhPerL => &[("wh/l", 1.0)],
            Unit::JPerK => &[("j/k", 1.0)],
            Unit::Ratio | Unit::Count | Unit::Money => &[],
        }
    }

    /// What a lone SI prefix does; a lone m is milli except where lengths are typed.
    fn lone_prefix(self, suffix: &str) -> Option<f64> {
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

/// Why a typed figure was refused, with what would be right.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum TypedError {
    /// Nothing was typed.
    #[error("{label}: type a figure between {low} and {high}")]
    Empty {
        /// Name of the field.
        label: &'static str,
        /// Lowest allowed, with unit.
        low: String,
        /// Highest allowed, with unit.
        high: String,
    },
    /// No number could be read.
    #[error("{label}: “{text}” is not a figure; write for example {example}")]
    NotANumber {
        /// Name of the field.
        label: &'static str,
        /// What was typed.
        text: String,
        /// A figure that would be read.
        example: String,
    },
    /// A comma that may stand for thousands or for the decimal point.
    #[error("{label}: “{text}” can be read as {as_decimal} or as {as_thousands}; write the one you mean")]
    Ambiguous {
        /// Name of the field.
        label: &'static str,
        /// What was typed.
        text: String,
        /// The comma read as decimal point.
        as_decimal: String,
        /// The comma read as separator of thousands.
        as_thousands: String,
    },
    /// A unit that does not belong to this quantity.
    #[error("{label}: “{suffix}” does not fit here; use {expected}")]
    WrongUnit {
        /// Name of the field.
        label: &'static str,
        /// The unit that was typed.
        suffix: String,
        /// Units that are understood.
        expected: String,
    },
    /// Outside the allowed range.
    #[error("{label}: {value} is outside {low} to {high}")]
    OutOfRange {
        /// Name of the field.
        label: &'static str,
        /// The value that was read, with unit.
        value: String,
        /// Lowest allowed, with unit.
        low: String,
        /// Highest allowed, with unit.
        high: String,
    },
    /// A fraction where only whole numbers make sense.
    #[error("{label}: {value} is not a whole number; use one from {low} to {high}")]
    NotWhole {
        /// Name of the field.
        label: &'static str,
        /// The value that was read.
        value: String,
        /// Lowest allowed.
        low: String,
        /// Highest allowed.
        high: String,
    },
}

/// Reads a figure as typed into a field of the given range and returns it in the unit of core.
///
/// Accepts a decimal point or comma, unit words with milli and kilo, and sums of times ("1 h 30 min").
pub fn parse(text: &str, range: &Range) -> Result<f64, TypedError> {
    let typed = text.trim();
    if typed.is_empty() {
        return Err(TypedError::Empty {
            label: range.label,
            low: show(range.min, range.unit),
            high: show(range.max, range.unit),
        });
    }
    let mut rest = typed;
    let mut total = 0.0;
    let mut terms = 0;
    while !rest.is_empty() {
        let (value, after) = term(rest, typed, range)?;
        total += value;
        rest = after.trim_start();
        terms += 1;
        if !rest.is_empty() && (range.unit != Unit::S || terms > 3) {
            return Err(not_a_number(typed, range));
        }
    }
    range.check(total)?;
    Ok(total)
}

/// Splits one number and its unit off the front of `rest`.
fn term<'a>(rest: &'a str, typed: &str, range: &Range) -> Result<(f64, &'a str), TypedError> {
    let number_end = rest
        .char_indices()
        .find(|&(i, c)| !(c.is_ascii_digit() || c == '.' || c == ',' || (i == 0 && (c == '-' || c == '+' || c == '−'))))
        .map_or(rest.len(), |(i, _)| i);
    let (number, tail) = rest.split_at(number_end);
    let value = number_value(number, typed, range)?;
    let tail = tail.trim_start();
    let unit_end = tail
        .char_indices()
        .find(|&(_, c)| c.is_whitespace() || (range.unit == Unit::S && c.is_ascii_digit()))
        .map_or(tail.len(), |(i, _)| i);
    let (suffix, after) = tail.split_at(unit_end);
    Ok((value * factor(suffix, range)?, after))
}

fn number_value(number: &str, typed: &str, range: &Range) -> Result<f64, TypedError> {
    let number = number.replace('−', "-");
    let commas = number.matches(',').count();
    if commas > 0 && number.contains('.') || commas > 1 {
        return Err(not_a_number(typed, range));
    }
    if commas == 1 {
        let (whole, decimals) = number.split_once(',').unwrap_or((&number, ""));
        let digits = whole.trim_start_matches(['-', '+']);
        if decimals.len() == 3 && !digits.is_empty() && !digits.starts_with('0') && digits.len() <= 3 {
            return Err(TypedError::Ambiguous {
                label: range.label,
                text: typed.to_owned(),
                as_decimal: format!("{whole}.{decimals}"),
                as_thousands: format!("{whole}{decimals}"),
            });
        }
    }
    number.replace(',', ".").parse::<f64>().ok().filter(|v| v.is_finite()).ok_or_else(|| not_a_number(typed, range))
}

fn factor(suffix: &str, range: &Range) -> Result<f64, TypedError> {
    let unit = range.unit;
    if suffix.is_empty() {
        // A share of 1 or less is taken as it stands; "85" means per cent and needs its sign.
        return Ok(1.0);
    }
    let lower = suffix.to_lowercase().replace(['µ', 'μ'], "u");
    if let Some(&(_, f)) = unit.suffixes().iter().find(|&&(s, _)| s == lower) {
        return Ok(f);
    }
    unit.lone_prefix(&lower).ok_or_else(|| TypedError::WrongUnit {
        label: range.label,
        suffix: suffix.to_owned(),
        expected: if unit.suffixes().is_empty() {
            "a plain number".to_owned()
        } else {
            unit.suffixes().iter().take(3).map(|&(s, _)| written(s)).collect::<Vec<_>>().join(", ")
        },
    })
}

/// A unit word in the case it is written in.
fn written(suffix: &str) -> &str {
    match suffix {
        "v" => "V",
        "mv" => "mV",
        "kv" => "kV",
        "a" => "A",
        "ma" => "mA",
        "ua" => "µA",
        "ka" => "kA",
        "ah" => "Ah",
        "mah" => "mAh",
        "wh" => "Wh",
        "mwh" => "mWh",
        "kwh" => "kWh",
        "w" => "W",
        "mw" => "mW",
        "kw" => "kW",
        "c" => "°C",
        other => other,
    }
}

fn not_a_number(typed: &str, range: &Range) -> TypedError {
    TypedError::NotANumber { label: range.label, text: typed.to_owned(), example: show(range.example(), range.unit) }
}

/// A value with its unit, in the size a person would write: 0.076 Ω as "76 mΩ", 5400 s as "1 h 30 min".
pub fn show(value: f64, unit: Unit) -> String {
    match unit {
        Unit::Share => format!("{} %", significant(value * 100.0)),
        Unit::S => show_time(value),
        Unit::Ohm if value.abs() >= 1e6 => format!("{} MΩ", significant(value / 1e6)),
        Unit::Ohm if value.abs() >= 1e3 => format!("{} kΩ", significant(value / 1e3)),
        Unit::Ohm | Unit::A | Unit::V | Unit::W | Unit::F if value != 0.0 && value.abs() < 0.1 => {
            if value.abs() < 1e-4 && matches!(unit, Unit::A | Unit::F) {
                format!("{} µ{}", significant(value * 1e6), unit.symbol())
            } else {
                format!("{} m{}", significant(value * 1e3), unit.symbol())
            }
        }
        // Volts such as 14.45 keep their second decimal: meters show it.
        Unit::V if (1.0..100.0).contains(&value.abs()) => format!("{} V", trimmed(value, 2)),
        Unit::Ratio | Unit::Count | Unit::Money => significant(value),
        _ => format!("{} {}", significant(value), unit.symbol()),
    }
}

fn show_time(value_s: f64) -> String {
    let magnitude = value_s.abs();
    if magnitude >= 172_800.0 {
        format!("{} days", significant(value_s / 86_400.0))
    } else if magnitude >= 3570.0 {
        let minutes = (value_s / 60.0).round();
        format!("{} h {:02} min", (minutes / 60.0).trunc(), (minutes % 60.0).abs())
    } else if magnitude >= 90.0 {
        format!("{} min", (value_s / 60.0).round())
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

fn trimmed(value: f64, decimals: usize) -> String {
    let text = format!("{value:.decimals$}");
    if text.contains('.') { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::range;

    fn read(text: &str, range: &Range) -> f64 {
        parse(text, range).unwrap_or_else(|e| panic!("{text}: {e}"))
    }

    #[test]
    fn figures_are_understood_with_unit_prefix_and_either_decimal_mark() {
        let cases: [(&str, &Range, f64); 15] = [
            ("76 m", &range::DCIR, 0.076),
            ("0.076 ohm", &range::DCIR, 0.076),
            ("0,076", &range::DCIR, 0.076),
            ("76 mΩ", &range::DCIR, 0.076),
            ("2,5 Ah", &range::CELL_AH, 2.5),
            ("1.5 kA", &range::BREAKING, 1500.0),
            ("2500mAh", &range::CELL_AH, 2.5),
            ("14.4", &range::DEVICE_VOLTS, 14.4),
            ("14400 mV", &range::DEVICE_VOLTS, 14.4),
            ("1 m", &range::RUN_LENGTH, 1000.0),
            ("40 cm", &range::RUN_LENGTH, 400.0),
            ("1 h 30 min", &range::RUN_TIME, 5400.0),
            ("1h30min", &range::RUN_TIME, 5400.0),
            ("85 %", &range::EFFICIENCY, 0.85),
            ("-5 C", &range::TEMPERATURE, -5.0),
        ];
        for (text, range, expected) in cases {
            let got = read(text, range);
            assert!((got - expected).abs() < 1e-12, "{text}: {got} instead of {expected}");
        }
    }

    #[test]
    fn a_comma_before_three_digits_is_refused_with_both_readings() {
        let error = parse("1,200", &range::DEVICE_VOLTS).unwrap_err().to_string();
        assert!(error.contains("1.200") && error.contains("1200"), "{error}");
        assert_eq!(read("0,120", &range::DEVICE_VOLTS), 0.12);
    }

    #[test]
    fn refusals_name_the_field_and_what_would_be_right() {
        for (text, range, part) in [
            ("", &range::DEVICE_VOLTS, "between"),
            ("twelve", &range::DEVICE_VOLTS, "not a figure"),
            ("12 A", &range::DEVICE_VOLTS, "use V"),
            ("5 kg", &range::SERIES, "plain number"),
            ("1e308", &range::DEVICE_VOLTS, "use V"),
            ("NaN", &range::DEVICE_VOLTS, "not a figure"),
            ("inf", &range::DEVICE_VOLTS, "not a figure"),
            ("99999999", &range::DEVICE_VOLTS, "outside"),
            ("-3", &range::SERIES, "outside 1 to 24"),
            ("2.5", &range::SERIES, "whole number"),
            ("1.2.3", &range::DEVICE_VOLTS, "not a figure"),
            ("3 V 4 V", &range::DEVICE_VOLTS, "not a figure"),
        ] {
            let error = parse(text, range).expect_err(text).to_string();
            assert!(error.contains(range.label), "{text}: {error}");
            assert!(error.contains(part), "{text}: {error}");
        }
    }

    #[test]
    fn values_are_shown_in_the_size_a_person_would_write() {
        for (value, unit, text) in [
            (0.076, Unit::Ohm, "76 mΩ"),
            (16.8, Unit::V, "16.8 V"),
            (14.45, Unit::V, "14.45 V"),
            (5400.0, Unit::S, "1 h 30 min"),
            (7200.0, Unit::S, "2 h 00 min"),
            (1860.0, Unit::S, "31 min"),
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
