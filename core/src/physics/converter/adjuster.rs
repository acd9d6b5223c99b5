//! The adjuster of a converter's output: which resistors at its ends keep the output within what is wanted, and what an open lead does.

use crate::base::e_series::Series;

/// A divider from the output to the converter's reference, with a variable resistor in its upper part.
///
/// V_out = V_ref × (1 + R_upper / R_lower): the law of every adjustable regulator that compares a share of its output with a reference.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Adjuster {
    /// Voltage that the converter holds at its feedback pin.
    pub reference_v: f64,
    /// Resistor from the feedback pin to minus.
    pub lower_ohm: f64,
    /// The variable resistor, end to end.
    pub variable_ohm: f64,
}

/// Resistors at the ends of the variable one.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Ends {
    /// In series with it: holds the lowest output up. 0 where none is wanted.
    pub series_ohm: f64,
    /// Across it: holds the highest output down, and closes the loop where a lead of it opens. `None` where it is too small for the
    /// highest output wanted, and one across would only make it less.
    pub across_ohm: Option<f64>,
}

impl Adjuster {
    fn upper_ohm(&self, output_v: f64) -> f64 {
        self.lower_ohm * (output_v / self.reference_v - 1.0)
    }

    fn output_v(&self, upper_ohm: f64) -> f64 {
        self.reference_v * (1.0 + upper_ohm / self.lower_ohm)
    }

    /// The exact resistors for a lowest and a highest output. `None` where the lowest is below the reference, or above the highest.
    pub fn exact(&self, least_v: f64, most_v: f64) -> Option<Ends> {
        let (series_ohm, whole_ohm) = (self.upper_ohm(least_v), self.upper_ohm(most_v));
        if series_ohm < -1e-9 || whole_ohm <= series_ohm {
            return None;
        }
        let turned_ohm = whole_ohm - series_ohm;
        let across_ohm =
            (turned_ohm < self.variable_ohm).then(|| turned_ohm * self.variable_ohm / (self.variable_ohm - turned_ohm));
        Some(Ends { series_ohm: series_ohm.max(0.0), across_ohm })
    }

    /// Those of a series of preferred numbers: the one in series the nearest, then the one across the largest with which the output does not
    /// go above the highest wanted.
    pub fn ends(&self, least_v: f64, most_v: f64, series: Series) -> Option<Ends> {
        let exact = self.exact(least_v, most_v)?;
        // Less than a thousandth of the divider is a piece of wire.
        let wanted = exact.series_ohm > 1e-3 * self.lower_ohm;
        let series_ohm = if wanted { series.nearest(exact.series_ohm) } else { 0.0 };
        let turned_ohm = self.upper_ohm(most_v) - series_ohm;
        let across_ohm = (turned_ohm > 0.0 && turned_ohm < self.variable_ohm)
            .then(|| series.at_most(turned_ohm * self.variable_ohm / (self.variable_ohm - turned_ohm)));
        Some(Ends { series_ohm, across_ohm })
    }

    /// Lowest and highest output with them.
    pub fn range_v(&self, ends: &Ends) -> (f64, f64) {
        let turned_ohm = match ends.across_ohm {
            Some(across_ohm) => across_ohm * self.variable_ohm / (across_ohm + self.variable_ohm),
            None => self.variable_ohm,
        };
        (self.output_v(ends.series_ohm), self.output_v(ends.series_ohm + turned_ohm))
    }

    /// Output where a lead of the variable one opens; `None` where nothing lies across it, and the output goes as far as it can.
    pub fn open_v(&self, ends: &Ends) -> Option<f64> {
        ends.across_ohm.map(|across_ohm| self.output_v(ends.series_ohm + across_ohm))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A worked example: 1.25 V reference over 1 kΩ, a variable 10 kΩ, wanted 3 to 12 V. Upper 1.4 kΩ to 8.6 kΩ; turned 7.2 kΩ, so
    /// 7.2 × 10 / 2.8 = 25.7 kΩ across. E24: 1.3 kΩ or 1.5 kΩ, by ratio 1.5 is 7.1 % off, 1.3 is 7.4 %: 1.5; then 7.1 ∥: 24.48, so 24 kΩ.
    #[test]
    fn end_resistors_keep_the_output_within_what_is_wanted() {
        let adjuster = Adjuster { reference_v: 1.25, lower_ohm: 1000.0, variable_ohm: 10_000.0 };
        let exact = adjuster.exact(3.0, 12.0).unwrap();
        assert!((exact.series_ohm - 1400.0).abs() < 1e-9, "{exact:?}");
        assert!((exact.across_ohm.unwrap() - 72e6 / 2800.0).abs() < 1e-6, "{exact:?}");
        let (least_v, most_v) = adjuster.range_v(&exact);
        assert!((least_v - 3.0).abs() < 1e-9 && (most_v - 12.0).abs() < 1e-9, "{least_v} {most_v}");
        let ends = adjuster.ends(3.0, 12.0, Series::E24).unwrap();
        assert_eq!((ends.series_ohm, ends.across_ohm), (1500.0, Some(24_000.0)));
        let (least_v, most_v) = adjuster.range_v(&ends);
        assert!((least_v - 3.125).abs() < 1e-9 && (11.5..=12.0).contains(&most_v), "{least_v} {most_v}");
        // A lead that opens leaves 1.5 + 24 kΩ above 1 kΩ.
        assert!((adjuster.open_v(&ends).unwrap() - 1.25 * 26.5).abs() < 1e-9);
    }

    #[test]
    fn what_cannot_be_had_is_none() {
        let adjuster = Adjuster { reference_v: 1.25, lower_ohm: 1000.0, variable_ohm: 5000.0 };
        assert_eq!(adjuster.exact(1.0, 12.0), None, "below the reference");
        assert_eq!(adjuster.exact(5.0, 5.0), None);
        // The variable one is too small for 12 V: nothing lies across it, and an open lead has no limit.
        let small = adjuster.ends(1.25, 12.0, Series::E24).unwrap();
        assert_eq!((small.series_ohm, small.across_ohm, adjuster.open_v(&small)), (0.0, None, None));
    }
}
