//! Open-circuit voltage against state of charge, per chemistry.

use std::sync::OnceLock;

use super::Chemistry;
use crate::base::piecewise::Piecewise;
use crate::base::source::Source;

/// An open-circuit curve from SOC 0 to 1.
#[derive(Debug, Clone)]
pub struct OcvCurve {
    lines: Piecewise,
    /// Where the curve comes from.
    pub source: Source,
    /// Whether it is a line through common figures only, so that shares are a band.
    pub assumed: bool,
}

/// The curve used for a chemistry.
///
/// Li-ion: Chen et al. 2020; LiPo: Ai et al. 2020; phosphate: Prada et al. 2013. The others have no published
/// curve here and get a line through the chemistry's floor, cut-off, nominal and full voltage, marked assumed.
pub fn curve(chemistry: Chemistry) -> &'static OcvCurve {
    static CURVES: OnceLock<Vec<OcvCurve>> = OnceLock::new();
    let curves = CURVES.get_or_init(|| super::TABLE.iter().map(|f| build(f.chemistry)).collect());
    &curves[chemistry as usize]
}

fn build(chemistry: Chemistry) -> OcvCurve {
    let floor_v = chemistry.facts().floor_v;
    let published =
        |text: &str, source| OcvCurve { lines: lines(to_the_floor(read(text), floor_v)), source, assumed: false };
    match chemistry {
        Chemistry::LiIon => published(include_str!("../../../data/ocv/nmc811_chen2020.csv"), Source::Chen2020),
        Chemistry::LiPo => published(include_str!("../../../data/ocv/lco_ai2020.csv"), Source::Ai2020),
        Chemistry::LiFePo4 => published(include_str!("../../../data/ocv/lfp_prada2013.csv"), Source::Prada2013),
        other => {
            let f = other.facts();
            OcvCurve {
                lines: lines(vec![(0.0, f.floor_v), (0.05, f.cutoff_v), (0.5, f.nominal_v), (1.0, f.full_v)]),
                source: Source::Assumed,
                assumed: true,
            }
        }
    }
}

/// A curve that ends above the floor of its chemistry, carried on down to it with its last slope: empty is empty in all of them.
fn to_the_floor(points: Vec<(f64, f64)>, floor_v: f64) -> Vec<(f64, f64)> {
    let [(_, last_v), (next_soc, next_v), ..] = points[..] else { return points };
    if last_v <= floor_v {
        return points;
    }
    let more = (last_v - floor_v) * next_soc / (next_v - last_v);
    let further = points.into_iter().map(|(soc, ocv_v)| ((soc + more) / (1.0 + more), ocv_v));
    std::iter::once((0.0, floor_v)).chain(further).collect()
}

/// The lines through points that ship with the program, which the tests hold to rise.
fn lines(points: Vec<(f64, f64)>) -> Piecewise {
    Piecewise::through(points).unwrap_or_else(|| Piecewise::constant(0.0))
}

fn read(text: &str) -> Vec<(f64, f64)> {
    text.lines()
        .filter(|line| !line.starts_with('#') && !line.starts_with("soc"))
        .filter_map(|line| line.split_once(','))
        .filter_map(|(soc, ocv_v)| Some((soc.parse().ok()?, ocv_v.parse().ok()?)))
        .collect()
}

impl OcvCurve {
    /// A curve through points of state of charge and voltage. `None` unless both rise from point to point, from 0 to 1.
    pub fn through(points: Vec<(f64, f64)>) -> Option<OcvCurve> {
        let rises = points.windows(2).all(|w| w[0].1 < w[1].1);
        let whole = points.first().is_some_and(|p| p.0 == 0.0) && points.last().is_some_and(|p| p.0 == 1.0);
        let lines = Piecewise::through(points).filter(|_| rises && whole)?;
        Some(OcvCurve { lines, source: Source::Plan, assumed: false })
    }

    /// Its points of state of charge and voltage.
    pub fn points(&self) -> &[(f64, f64)] {
        self.lines.points()
    }

    /// The part between two voltages as a curve of its own, from empty to full: that of a cell whose capacity is stated between them.
    /// The whole curve where they leave too little of it.
    pub fn between(&self, low_v: f64, high_v: f64) -> OcvCurve {
        const LEAST: f64 = 0.5;
        let (from, to) = (self.soc(low_v), self.soc(high_v));
        if to - from < LEAST || (from, to) == (0.0, 1.0) {
            return self.clone();
        }
        let inside = self.points().iter().filter(|p| p.0 > from && p.0 < to);
        let ends = [(0.0, self.ocv_v(from)), (1.0, self.ocv_v(to))];
        let points = std::iter::once(ends[0])
            .chain(inside.map(|p| ((p.0 - from) / (to - from), p.1)))
            .chain(std::iter::once(ends[1]))
            .collect();
        Piecewise::through(points).map_or_else(|| self.clone(), |lines| OcvCurve { lines, ..self.clone() })
    }

    /// Open-circuit voltage of one cell at a state of charge; held at the ends.
    pub fn ocv_v(&self, soc: f64) -> f64 {
        self.lines.at(soc)
    }

    /// Open-circuit voltage with the curve's end slopes carried on beyond its ends: what a surface rests at that runs
    /// ahead of a full or an empty cell.
    #[inline]
    pub fn extended_v(&self, soc: f64) -> f64 {
        self.lines.carried_on(soc)
    }

    /// State of charge at which the open-circuit voltage is `ocv_v`; 0 below the curve, 1 above it.
    pub fn soc(&self, ocv_v: f64) -> f64 {
        let points = self.lines.points();
        let after = points.partition_point(|p| p.1 < ocv_v);
        if after == 0 || after == points.len() {
            return points[after.min(points.len() - 1)].0;
        }
        let (a, b) = (points[after - 1], points[after]);
        a.0 + (ocv_v - a.1) / (b.1 - a.1) * (b.0 - a.0)
    }

    /// Least and most charge that voltage at rest leave open, read to within `error_v`: a flat curve leaves much, and one whose voltage
    /// depend on whether it was charged or used last (`hysteresis_v`) more.
    pub fn left_open(&self, rested_v: f64, error_v: f64, hysteresis_v: f64) -> (f64, f64) {
        let either_way_v = error_v + hysteresis_v / 2.0;
        (self.soc(rested_v - either_way_v), self.soc(rested_v + either_way_v))
    }

    /// Mean open-circuit voltage between two states of charge: the area under the curve over its width.
    pub fn mean_v(&self, soc_from: f64, soc_to: f64) -> f64 {
        const STEPS: u32 = 40;
        let step = (soc_to - soc_from) / f64::from(STEPS);
        let middles = (0..STEPS).map(|i| self.ocv_v(soc_from + (f64::from(i) + 0.5) * step));
        middles.sum::<f64>() / f64::from(STEPS)
    }
}

#[cfg(test)]
mod tests {
    use super::super::TABLE;
    use super::*;

    #[test]
    fn every_curve_rises_from_empty_to_full_and_inverts() {
        for facts in &TABLE {
            let curve = curve(facts.chemistry);
            assert!(curve.lines.points().len() >= 4, "{}", facts.name);
            for i in 0..100 {
                let soc = f64::from(i) / 100.0;
                assert!(curve.ocv_v(soc + 0.01) > curve.ocv_v(soc), "{} at {soc}", facts.name);
                assert!((curve.soc(curve.ocv_v(soc)) - soc).abs() < 1e-9, "{} at {soc}", facts.name);
            }
        }
    }

    #[test]
    fn every_curve_goes_down_to_the_floor() {
        for facts in &TABLE {
            assert!(curve(facts.chemistry).ocv_v(0.0) <= facts.floor_v + 1e-9, "{}", facts.name);
        }
        let carried = to_the_floor(vec![(0.0, 3.0), (0.5, 3.5), (1.0, 4.2)], 2.75);
        assert_eq!(carried, [(0.0, 2.75), (0.2, 3.0), (0.6, 3.5), (1.0, 4.2)]);
    }

    #[test]
    fn a_part_of_a_curve_is_a_whole_one() {
        let whole = OcvCurve::through(vec![(0.0, 3.0), (0.5, 3.6), (1.0, 4.2)]).unwrap();
        let part = whole.between(3.24, 4.08);
        assert!((part.ocv_v(0.0) - 3.24).abs() < 1e-12 && (part.ocv_v(1.0) - 4.08).abs() < 1e-12);
        assert!((part.ocv_v(0.5) - whole.ocv_v(0.55)).abs() < 1e-12);
        assert_eq!(whole.between(2.0, 5.0).points(), whole.points());
        assert_eq!(whole.between(3.5, 3.6).points(), whole.points(), "too little is left");
    }

    /// Common practice, no source: on phosphate's plateau some ten millivolts are tens of percent; on a layered oxide a few percent.
    #[test]
    fn volts_on_a_plateau_leave_much_of_the_charge_open() {
        let open = |chemistry: Chemistry, rested_v| {
            let (least, most) = curve(chemistry).left_open(rested_v, 0.005, chemistry.hysteresis_v());
            most - least
        };
        assert!(open(Chemistry::LiFePo4, 3.28) > 0.2 && open(Chemistry::LiFePo4, 3.1) < 0.1);
        assert!(open(Chemistry::LiIon, 3.8) < 0.03);
        let flat = OcvCurve::through(vec![(0.0, 3.0), (0.25, 3.25), (1.0, 3.4)]).unwrap();
        let (least, most) = flat.left_open(3.3, 0.005, 0.02);
        assert!((least - 0.425).abs() < 1e-9 && (most - 0.575).abs() < 1e-9, "{least} to {most}");
    }

    #[test]
    fn beyond_its_ends_a_curve_is_held() {
        let curve = curve(Chemistry::LiIon);
        assert_eq!(curve.soc(1.0), 0.0);
        assert_eq!(curve.soc(9.0), 1.0);
        assert_eq!(curve.ocv_v(2.0), 4.2);
    }

    #[test]
    fn carried_on_beyond_its_ends_a_curve_keeps_its_slope() {
        let curve = OcvCurve::through(vec![(0.0, 3.0), (0.5, 3.6), (1.0, 4.2)]).unwrap();
        assert!((curve.extended_v(-0.1) - 2.88).abs() < 1e-12 && (curve.extended_v(1.1) - 4.32).abs() < 1e-12);
        assert_eq!(curve.extended_v(0.25), curve.ocv_v(0.25));
    }
}
