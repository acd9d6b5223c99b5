//! A text in clauses, and the figures in each with the words that name them.

use std::sync::LazyLock;

use regex::Regex;

use crate::base::quantity::Unit;

/// A figure in a text.
#[derive(Debug, Clone, PartialEq)]
pub struct Figure {
    /// In the unit of core.
    pub value: f64,
    /// Upper end, where a range is written.
    pub upper: Option<f64>,
    /// Its unit.
    pub unit: Unit,
    /// Words that name it, in small letters: those before it, or those behind it where none stand before.
    pub named: String,
}

/// A stretch of text about one thing.
#[derive(Debug, Clone, PartialEq)]
pub struct Clause {
    /// As written.
    pub text: String,
    /// In small letters.
    pub lower: String,
    /// Its figures.
    pub figures: Vec<Figure>,
}

const NUMBER: &str = r"(\d+(?:[.,]\d+)?)";
const UNIT: &str = r"((?:awg|kω|kohms?|mω|mohms?|milliohms?|ω|ohms?|mah|ah|ka|µa|μa|ua|ma|amps?|a|mv|volts?|v|ms|µs|us|seconds?|sec|s|watts?|w|mm2|days?|eur)\b|%|mm²|€)";

static FIGURE: LazyLock<Option<Regex>> = LazyLock::new(|| {
    let tolerance = format!(r"(?:\s*(?:±|\+/-)\s*{NUMBER}(?:\s*{UNIT})?)?");
    let upper = format!(r"(?:\s*(?:-|–|~|to|…|\.\.)\s*{NUMBER})?");
    Regex::new(&format!(r"{NUMBER}(?:\s*{UNIT})?{tolerance}{upper}(?:\s*{UNIT})?")).ok()
});

/// Clauses of a text: lines, and what semicolons, bars, bullets and commas part. A decimal comma parts nothing.
pub fn split(text: &str) -> Vec<Clause> {
    static PARTS: LazyLock<Option<Regex>> = LazyLock::new(|| Regex::new(r"[\n;|•·]|,\s|\.\s").ok());
    let Some(parts) = PARTS.as_ref() else { return vec![] };
    parts
        .split(text)
        .map(str::trim)
        .filter(|t| !t.is_empty())
        .map(|t| {
            let lower = t.to_lowercase();
            Clause { text: t.to_owned(), figures: figures(&lower), lower }
        })
        .collect()
}

fn figures(lower: &str) -> Vec<Figure> {
    let Some(pattern) = FIGURE.as_ref() else { return vec![] };
    let mut found: Vec<Figure> = vec![];
    let mut after = 0;
    for captures in pattern.captures_iter(lower) {
        let Some(whole) = captures.get(0) else { continue };
        let word = |i: usize| captures.get(i).map(|m| m.as_str());
        let number = |i: usize| word(i).and_then(|t| t.replace(',', ".").parse::<f64>().ok());
        // "4.25 V ± 0.05 V", "1.25 - 30 V": the unit behind all of it, else that behind the figure.
        let priced = lower[..whole.start()].trim_end().ends_with('€');
        let named = word(6).or(word(2)).or(word(4)).or(priced.then_some("€"));
        let Some((per_one, unit)) = named.and_then(unit) else { continue };
        let Some(value) = number(1) else { continue };
        let before = lower[after..whole.start()].trim_matches(|c: char| !c.is_alphanumeric()).to_owned();
        after = whole.end();
        found.push(Figure { value: value / per_one, upper: number(5).map(|v| v / per_one), unit, named: before });
    }
    // "30 A continuous": words behind the last figure name it where none stand before.
    let tail = lower[after..].trim_matches(|c: char| !c.is_alphanumeric()).to_owned();
    for i in 0..found.len() {
        if found[i].named.is_empty() {
            found[i].named = found.get(i + 1).map_or_else(|| tail.clone(), |next| next.named.clone());
        }
    }
    found
}

/// Unit of a word, and how many of the word's are one of core's: divided, so that 60 mA are 0.06 A to the last digit.
fn unit(word: &str) -> Option<(f64, Unit)> {
    Some(match word {
        "kω" | "kohm" | "kohms" => (1e-3, Unit::Ohm),
        "mω" | "mohm" | "mohms" | "milliohm" | "milliohms" => (1e3, Unit::Ohm),
        "ω" | "ohm" | "ohms" => (1.0, Unit::Ohm),
        "mah" => (1e3, Unit::Ah),
        "ah" => (1.0, Unit::Ah),
        "ka" => (1e-3, Unit::A),
        "µa" | "μa" | "ua" => (1e6, Unit::A),
        "ma" => (1e3, Unit::A),
        "a" | "amp" | "amps" => (1.0, Unit::A),
        "mv" => (1e3, Unit::V),
        "v" | "volt" | "volts" => (1.0, Unit::V),
        "ms" => (1e3, Unit::S),
        "µs" | "us" => (1e6, Unit::S),
        "s" | "sec" | "second" | "seconds" => (1.0, Unit::S),
        "w" | "watt" | "watts" => (1.0, Unit::W),
        "mm2" | "mm²" => (1.0, Unit::Mm2),
        "awg" => (1.0, Unit::Count),
        "%" => (100.0, Unit::Share),
        "day" | "days" => (1.0, Unit::Days),
        "€" | "eur" => (1.0, Unit::Money),
        _ => return None,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(text: &str) -> Vec<(f64, Option<f64>, Unit, String)> {
        split(text).into_iter().flat_map(|c| c.figures).map(|f| (f.value, f.upper, f.unit, f.named)).collect()
    }

    #[test]
    fn figures_are_read_in_every_usual_spelling() {
        let named = |v: f64, unit, name: &str| (v, None, unit, name.to_owned());
        assert_eq!(read("Overcharge voltage: 4.25V±0.05V"), [named(4.25, Unit::V, "overcharge voltage")]);
        assert_eq!(read("Over-charge 4,28 ± 0,05 V"), [named(4.28, Unit::V, "over-charge")]);
        assert_eq!(read("30A continuous"), [named(30.0, Unit::A, "continuous")]);
        assert_eq!(read("quiescent current < 30uA"), [named(30.0 / 1e6, Unit::A, "quiescent current")]);
        assert_eq!(read("input 4-30 V"), [(4.0, Some(30.0), Unit::V, "input".to_owned())]);
        assert_eq!(read("€ 5.40"), [named(5.4, Unit::Money, "")]);
        assert_eq!(read("2200mAh"), [named(2.2, Unit::Ah, "")]);
        assert_eq!(read("18 AWG silicone"), [named(18.0, Unit::Count, "silicone")]);
        let two = read("working current 15A, trip current 40 A");
        assert_eq!(two, [named(15.0, Unit::A, "working current"), named(40.0, Unit::A, "trip current")]);
    }

    #[test]
    fn what_has_no_unit_is_no_figure() {
        assert_eq!(read("size 60 x 20, 18650 cells, 2 pcs"), []);
        assert_eq!(read("for 4 amplifiers"), []);
    }
}
