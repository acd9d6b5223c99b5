//! A value in straight lines through points.

/// Points in rising order; what lies between them is found at once where they are evenly apart.
#[derive(Debug, Clone, PartialEq)]
pub struct Piecewise {
    points: Vec<(f64, f64)>,
    /// First place, and points to one of its unit, if they are evenly apart.
    even: Option<(f64, f64)>,
}

impl Piecewise {
    /// Through points. `None` without points, or if their places do not rise.
    pub fn through(points: Vec<(f64, f64)>) -> Option<Piecewise> {
        /// Share of a gap by which points count as evenly apart.
        const EVEN: f64 = 1e-9;
        if points.is_empty() || !points.windows(2).all(|w| w[0].0 < w[1].0) {
            return None;
        }
        let (first, last) = (points[0].0, points[points.len() - 1].0);
        let gap = (last - first) / (points.len() - 1).max(1) as f64;
        let at = |i: usize| first + gap * i as f64;
        let evenly = points.len() > 1 && points.iter().enumerate().all(|(i, p)| (p.0 - at(i)).abs() <= EVEN * gap);
        Some(Piecewise { points, even: evenly.then_some((first, 1.0 / gap)) })
    }

    /// The same everywhere.
    pub fn constant(value: f64) -> Piecewise {
        Piecewise { points: vec![(0.0, value)], even: None }
    }

    /// The points.
    pub fn points(&self) -> &[(f64, f64)] {
        &self.points
    }

    /// The value at a place; held beyond the ends.
    #[inline]
    pub fn at(&self, x: f64) -> f64 {
        let points = &self.points;
        let last = points.len() - 1;
        // A place that is no number is held at the first end.
        if x <= points[0].0 || x.is_nan() {
            return points[0].1;
        }
        if x >= points[last].0 {
            return points[last].1;
        }
        let (before, share) = match self.even {
            Some((first, per_one)) => {
                let place = (x - first) * per_one;
                let before = (place as usize).min(last - 1);
                (before, place - before as f64)
            }
            None => {
                let before = points.partition_point(|p| p.0 < x).clamp(1, last) - 1;
                let (from, to) = (points[before].0, points[before + 1].0);
                (before, (x - from) / (to - from))
            }
        };
        let (a, b) = (points[before].1, points[before + 1].1);
        a + share * (b - a)
    }

    /// The same lines with the end slopes carried on beyond the ends.
    #[inline]
    pub fn carried_on(&self, x: f64) -> f64 {
        let points = &self.points;
        let end = if x < points[0].0 {
            points.first_chunk::<2>()
        } else if x > points[points.len() - 1].0 {
            points.last_chunk::<2>()
        } else {
            None
        };
        end.map_or_else(|| self.at(x), |[a, b]| a.1 + (x - a.0) / (b.0 - a.0) * (b.1 - a.1))
    }

    /// Every value times a factor.
    pub fn times(&self, factor: f64) -> Piecewise {
        Piecewise { points: self.points.iter().map(|&(x, y)| (x, y * factor)).collect(), even: self.even }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn evenly_apart_or_not_the_lines_are_the_same() {
        let curve = |x: f64| 3.0 + x * x;
        let even = Piecewise::through((0..=10).map(|i| f64::from(i) / 10.0).map(|x| (x, curve(x))).collect()).unwrap();
        // The same points and one more on a line between two of them: no longer evenly apart.
        let mut points = even.points().to_vec();
        points.insert(3, (0.25, (curve(0.2) + curve(0.3)) / 2.0));
        let uneven = Piecewise::through(points).unwrap();
        assert!(even.even.is_some() && uneven.even.is_none());
        for i in -20..=120 {
            let x = f64::from(i) / 100.0;
            assert!((even.at(x) - uneven.at(x)).abs() < 1e-12, "{x}");
            assert!((even.carried_on(x) - uneven.carried_on(x)).abs() < 1e-12, "{x}");
        }
        assert_eq!((even.at(-1.0), even.at(2.0)), (3.0, 4.0));
        assert!((even.carried_on(-0.1) - (3.0 - 0.01)).abs() < 1e-12, "the first slope goes on");
    }

    #[test]
    fn one_point_is_the_same_everywhere_and_none_is_nothing() {
        let one = Piecewise::through(vec![(0.0, 7.0)]).unwrap();
        assert_eq!((one.at(-1.0), one.at(0.5), one.carried_on(3.0)), (7.0, 7.0, 7.0));
        assert_eq!(Piecewise::through(vec![]), None);
        assert_eq!(Piecewise::through(vec![(0.0, 1.0), (0.0, 2.0)]), None);
    }
}
