//! Outlines of the strips as they lie on each face, with their welds: what a cutter and a welding jig need.

use crate::physics::brick::{Laid, draw};
use crate::plan::Plan;

/// A strip's outline and welds. Millimetres, y upward as in a drawing of a machine part.
#[derive(Debug, Clone, PartialEq)]
pub struct StripOutline {
    /// Its number on its face, from 1.
    pub number: usize,
    /// Its node.
    pub node: usize,
    /// Its four corners.
    pub corners_mm: [[f64; 2]; 4],
    /// Middles of the terminals it is welded to.
    pub welds_mm: Vec<[f64; 2]>,
}

/// The strips of one face. Faces stand one under another, none over another.
#[derive(Debug, Clone, PartialEq)]
pub struct FaceOutlines {
    /// Which face.
    pub title: String,
    /// Low left corner of the face.
    pub at_mm: [f64; 2],
    /// Width and height of the face.
    pub size_mm: [f64; 2],
    /// Its strips.
    pub strips: Vec<StripOutline>,
    /// Middles and diameters of its round cells; none of flat ones.
    pub cells_mm: Vec<([f64; 2], f64)>,
}

/// Room between two faces.
const BETWEEN_MM: f64 = 30.0;

/// Outlines of every strip, half its width beyond its outer welds. `None` without layout or strip.
pub fn outlines(plan: &Plan) -> Option<Vec<FaceOutlines>> {
    let laid = Laid::of(plan).filter(Laid::suits)?;
    laid.pack.strip.part()?;
    let drawing = draw(&laid);
    let mut below_mm = 0.0;
    let mut found = vec![];
    for face in &drawing.faces {
        below_mm -= face.height_mm;
        let at_mm = [0.0, below_mm];
        let upward = |x_mm: f64, y_mm: f64| [x_mm, at_mm[1] + face.height_mm - y_mm];
        let strips = face.strips.iter().map(|s| {
            let ([ax, ay], [bx, by]) = (upward(s.x1_mm, s.y1_mm), upward(s.x2_mm, s.y2_mm));
            let length_mm = (bx - ax).hypot(by - ay);
            let half = s.width_mm / 2.0;
            let (u, v) =
                ([(bx - ax) / length_mm, (by - ay) / length_mm], [-(by - ay) / length_mm, (bx - ax) / length_mm]);
            let corner = |[x, y]: [f64; 2], along: f64, aside: f64| {
                [x + half * (along * u[0] + aside * v[0]), y + half * (along * u[1] + aside * v[1])]
            };
            let count = s.joins.len();
            let weld = |k: usize| {
                let share = k as f64 / (count - 1).max(1) as f64;
                [ax + share * (bx - ax), ay + share * (by - ay)]
            };
            StripOutline {
                number: s.strip + 1,
                node: s.node,
                corners_mm: [
                    corner([ax, ay], -1.0, -1.0),
                    corner([bx, by], 1.0, -1.0),
                    corner([bx, by], 1.0, 1.0),
                    corner([ax, ay], -1.0, 1.0),
                ],
                welds_mm: (0..count).map(weld).collect(),
            }
        });
        let cells = face.cells.iter().filter(|c| c.round);
        found.push(FaceOutlines {
            title: face.title.clone(),
            at_mm,
            size_mm: [face.width_mm, face.height_mm],
            strips: strips.collect(),
            cells_mm: cells.map(|c| (upward(c.x_mm, c.y_mm), c.width_mm)).collect(),
        });
        below_mm -= BETWEEN_MM;
    }
    Some(found)
}
