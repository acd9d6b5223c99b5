//! Draws symbols along a wire, whichever way it runs.

use std::fmt::Write;

/// A point on a wire: lengths along it and across it become places on the page.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pen {
    at_mm: [f64; 2],
    along: [f64; 2],
    across: [f64; 2],
}

impl Pen {
    /// On a wire to the right or, with `way` below nothing, to the left; across is down the page either way.
    pub fn level(x_mm: f64, y_mm: f64, way: f64) -> Pen {
        Pen { at_mm: [x_mm, y_mm], along: [way.signum(), 0.0], across: [0.0, 1.0] }
    }

    /// On a wire up the page; across is to the left, so that what stands above a level wire stands beside this one.
    pub fn upright(x_mm: f64, y_mm: f64) -> Pen {
        Pen { at_mm: [x_mm, y_mm], along: [0.0, -1.0], across: [-1.0, 0.0] }
    }

    /// A place on the page.
    pub fn point(&self, along_mm: f64, across_mm: f64) -> [f64; 2] {
        [0, 1].map(|i| self.at_mm[i] + self.along[i] * along_mm + self.across[i] * across_mm)
    }

    /// A line through places along and across, closed if it comes back to its first.
    pub fn line(&self, places: &[[f64; 2]]) -> String {
        let mut d = String::new();
        for (i, &[along, across]) in places.iter().enumerate() {
            let [x, y] = self.point(along, across);
            let _ = write!(d, "{}{x:.2} {y:.2}", if i == 0 { "M" } else { " L" });
        }
        if places.len() > 2 && places.first() == places.last() {
            d.push_str(" Z");
        }
        d
    }

    /// A rectangle about a place on the wire.
    pub fn rectangle(&self, along_mm: f64, half_along_mm: f64, half_across_mm: f64) -> String {
        let (a, b, c) = (along_mm - half_along_mm, along_mm + half_along_mm, half_across_mm);
        self.line(&[[a, -c], [b, -c], [b, c], [a, c], [a, -c]])
    }

    /// A circle about a place.
    pub fn circle(&self, along_mm: f64, across_mm: f64, radius_mm: f64) -> String {
        let [x, y] = self.point(along_mm, across_mm);
        let r = radius_mm;
        format!("M{:.2} {y:.2} a{r} {r} 0 1 0 {:.2} 0 a{r} {r} 0 1 0 {:.2} 0 Z", x - r, 2.0 * r, -2.0 * r)
    }

    /// A half circle about a place, open along the wire.
    pub fn cup(&self, along_mm: f64, radius_mm: f64) -> String {
        let steps = 8;
        let places: Vec<[f64; 2]> = (0..=steps)
            .map(|i| std::f64::consts::PI * f64::from(i) / f64::from(steps))
            .map(|angle| [along_mm - radius_mm * angle.sin(), radius_mm * angle.cos()])
            .collect();
        self.line(&places)
    }
}
