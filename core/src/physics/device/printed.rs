//! What is printed on an old battery: chemistry, voltage and capacity in the maker's words.

use std::sync::LazyLock;

use regex::Regex;

use crate::base::chemistry::Chemistry;

/// What a label says, as far as it says anything.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Printed {
    /// Chemistry.
    pub chemistry: Option<Chemistry>,
    /// Voltage.
    pub label_v: Option<f64>,
    /// Capacity.
    pub capacity_ah: Option<f64>,
}

/// Words by which labels name a chemistry; the first that is found counts, so that the longer ones stand first.
const WORDS: [(&str, Chemistry); 8] = [
    (r"ni.?cd|ni.?mh|nickel|\bhr\d", Chemistry::Nickel),
    (r"life?.?po|lfp|iron.?phosphate", Chemistry::LiFePo4),
    (r"li.?po\b|lipo|polymer", Chemistry::LiPo),
    (r"titanate|\blto\b", Chemistry::LiTitanate),
    (r"na.?ion|sodium", Chemistry::NaIon),
    (r"li.?ion|lithium|\bicr|\binr|\bimr", Chemistry::LiIon),
    (r"\blead\b|\bpb\b|\bsla\b|\bagm\b|vrla|sealed acid", Chemistry::LeadAcid),
    (r"alkaline|\blr\d|manganese", Chemistry::Alkaline),
];

static CHEMISTRIES: LazyLock<Vec<(Regex, Chemistry)>> = LazyLock::new(|| {
    WORDS
        .iter()
        .filter_map(|(words, chemistry)| Some((Regex::new(&format!("(?i){words}")).ok()?, *chemistry)))
        .collect()
});
static VOLTS: LazyLock<Option<Regex>> =
    LazyLock::new(|| Regex::new(r"(?i)(\d+(?:[.,]\d+)?)\s*(?:v|volts?)(?:[^a-z]|$)").ok());
static CHARGE: LazyLock<Option<Regex>> = LazyLock::new(|| Regex::new(r"(?i)(\d+(?:[.,]\d+)?)\s*(m?)ah\b").ok());

/// Reads a label. The first voltage and the first capacity count: what is printed large stands first.
pub fn printed(words: &str) -> Printed {
    let number = |text: &str| text.replace(',', ".").parse::<f64>().ok().filter(|v| *v > 0.0);
    let volts = VOLTS.as_ref().and_then(|volts| number(volts.captures(words)?.get(1)?.as_str()));
    let charge = CHARGE.as_ref().and_then(|charge| {
        let found = charge.captures(words)?;
        let milli = found.get(2).is_some_and(|m| !m.as_str().is_empty());
        Some(number(found.get(1)?.as_str())? * if milli { 1e-3 } else { 1.0 })
    });
    let chemistry = CHEMISTRIES.iter().find(|(named, _)| named.is_match(words)).map(|(_, chemistry)| *chemistry);
    Printed { chemistry, label_v: volts, capacity_ah: charge }
}

impl Printed {
    /// Cells in series: the voltage over that of one, where it comes near a whole number. 3.7 V per cell is lithium, too.
    pub fn series(&self) -> Option<u32> {
        /// How far from a whole number still is one. Assumed: labels round to a tenth of a volt.
        const NEAR: f64 = 0.12;
        let (label_v, facts) = (self.label_v?, self.chemistry?.facts());
        let lithium = facts.rechargeable_lithium.then_some(facts.nominal_v + 0.1);
        let counts = [Some(facts.nominal_v), lithium, Some(facts.full_v)].into_iter().flatten().map(|v| label_v / v);
        let near = counts.filter(|n| n.round() >= 1.0 && (n - n.round()).abs() < NEAR);
        near.min_by(|a, b| (a - a.round()).abs().total_cmp(&(b - b.round()).abs())).map(|n| n.round() as u32)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Labels as they are written. Common practice, no source.
    #[test]
    fn labels_are_read_as_they_are_written() {
        for (words, chemistry, label_v, ah, series) in [
            ("Ni-MH 14.4V 1300mAh", Chemistry::Nickel, 14.4, 1.3, 12),
            ("SEALED LEAD ACID BATTERY 12V7.2Ah/20HR", Chemistry::LeadAcid, 12.0, 7.2, 6),
            ("NICKEL-CADMIUM 9,6 V · 1,2 Ah", Chemistry::Nickel, 9.6, 1.2, 8),
            ("Li-ion rechargeable, 10.8 V, 2.0 Ah, 21.6 Wh", Chemistry::LiIon, 10.8, 2.0, 3),
            ("Lithium ion 7.4V 2200mAh", Chemistry::LiIon, 7.4, 2.2, 2),
            ("LiFePO4 6.4V 600 mAh", Chemistry::LiFePo4, 6.4, 0.6, 2),
            ("LR6 alkaline 1.5 V", Chemistry::Alkaline, 1.5, f64::NAN, 1),
        ] {
            let read = printed(words);
            assert_eq!((read.chemistry, read.label_v), (Some(chemistry), Some(label_v)), "{words}");
            assert_eq!(read.capacity_ah.unwrap_or(f64::NAN).to_bits(), ah.to_bits(), "{words}");
            assert_eq!(read.series(), Some(series), "{words}");
        }
        assert_eq!(printed("Do not burn"), Printed::default());
        assert_eq!(printed("Ni-MH 13 V").series(), None, "no count of 1.2 V cells has 13 V");
    }
}
