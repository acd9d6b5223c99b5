//! Figures as a maker types them: "76 m", "0.076 ohm", "2,5 Ah", "1 h 30 min", "85 %".

use thiserror::Error;

use super::quantity::{Unit, show};
use super::range::{Range, RangeError};

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
    /// It cannot be.
    #[error(transparent)]
    Range(#[from] RangeError),
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::range;

    fn read(text: &str, range: &Range) -> f64 {
        parse(text, range).unwrap_or_else(|e| panic!("{text}: {e}"))
    }

    #[test]
    fn figures_are_understood_with_unit_prefix_and_either_decimal_mark() {
        let cases: [(&str, &Range, f64); 16] = [
            ("76\u{a0}mΩ", &range::DCIR, 0.076),
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
}
