//! A holder for the ends of round cells, as a closed surface of triangles to print: a plate with a seat for each cell,
//! and a lip that the cell rests on and the strip passes through.

use std::f64::consts::PI;

use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};
use thiserror::Error;

use crate::base::limit::below;
use crate::base::quantity::{Unit, show};
use crate::physics::brick::{Form, Laid, Site};
use crate::plan::Plan;

/// Sides of the polygon that a round hole is made of.
const SIDES: usize = 64;
/// Thinnest wall between two seats that prints. Common practice, no source: two lines of a 0.4 mm nozzle.
pub const LEAST_WALL_MM: f64 = 0.8;
/// Least opening in the lip for a weld.
const LEAST_OPENING_MM: f64 = 4.0;

/// Why no holder can be made.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum HolderError {
    /// Nothing to hold yet.
    #[error("lay the cells out first")]
    NotLaid,
    /// Flat cells have no ends to hold.
    #[error("a holder is for round cells; flat ones are stacked between sheets")]
    Flat,
    /// Two seats would run into one another.
    #[error(
        "the cells are {gap} apart; a holder with {clearance} of clearance needs {wanted} between cells, so that a wall of {wall} is left"
    )]
    Gap {
        /// Gap between cells now.
        gap: String,
        /// Clearance round a cell.
        clearance: String,
        /// Gap that would do.
        wanted: String,
        /// Thinnest wall.
        wall: String,
    },
    /// The lip would close the opening.
    #[error("a lip of {lip} leaves no opening to weld through: at most {most} on this cell")]
    Lip {
        /// The lip wanted.
        lip: String,
        /// Largest that leaves an opening.
        most: String,
    },
}

/// A closed surface, seen from outside each triangle runs counter-clockwise. Millimetres.
#[derive(Debug, Clone, PartialEq)]
pub struct HolderMesh {
    /// Corners.
    pub points_mm: Vec<[f64; 3]>,
    /// Triangles, by the places of their corners.
    pub triangles: Vec<[usize; 3]>,
    /// Outer size.
    pub size_mm: [f64; 3],
    /// Thinnest wall between two seats.
    pub wall_mm: f64,
}

/// The holder for one layer of a plan's brick; two are printed for each layer, the second turned over.
pub fn holder(plan: &Plan) -> Result<HolderMesh, HolderError> {
    let laid = Laid::of(plan).filter(Laid::suits).ok_or(HolderError::NotLaid)?;
    if laid.grid.form == Form::Flat {
        return Err(HolderError::Flat);
    }
    let (size, gap_mm) = (&laid.pack.brick.holder, laid.pack.brick.clearances.gap_mm);
    let cell_mm = laid.grid.cell_mm[0];
    let seat_mm = cell_mm + size.clearance_mm;
    let wall_mm = cell_mm + gap_mm - seat_mm;
    let mm = |v: f64| show(v, Unit::Mm);
    if below(wall_mm, LEAST_WALL_MM) {
        return Err(HolderError::Gap {
            gap: mm(gap_mm),
            clearance: mm(size.clearance_mm),
            wanted: mm(size.clearance_mm + LEAST_WALL_MM),
            wall: mm(LEAST_WALL_MM),
        });
    }
    let opening_mm = cell_mm - 2.0 * size.lip_mm;
    if below(opening_mm, LEAST_OPENING_MM) {
        return Err(HolderError::Lip { lip: mm(size.lip_mm), most: mm((cell_mm - LEAST_OPENING_MM) / 2.0) });
    }
    let layer = |l: u32| laid.layout.cells.iter().filter(move |s| s.layer == l).map(Site::from);
    // Every layer holds cells on the sites that any layer uses, so that one holder does for all.
    let mut seats: Vec<[f64; 2]> = vec![];
    for site in (0..laid.grid.counts[2]).flat_map(layer) {
        let at = laid.grid.middle_mm(site);
        if !seats.contains(&at) {
            seats.push(at);
        }
    }
    let reach_mm = seat_mm / 2.0 + size.wall_mm;
    let low = [0, 1].map(|i| seats.iter().map(|s| s[i]).fold(f64::MAX, f64::min) - reach_mm);
    let high = [0, 1].map(|i| seats.iter().map(|s| s[i]).fold(f64::MIN, f64::max) + reach_mm);
    let seats: Vec<[f64; 2]> = seats.iter().map(|s| [s[0] - low[0], s[1] - low[1]]).collect();
    let outer = [high[0] - low[0], high[1] - low[1]];
    let mut mesh = Builder::default();
    let rim = [[0.0, 0.0], [outer[0], 0.0], outer, [0.0, outer[1]]];
    let (floor_mm, top_mm) = (size.floor_mm, size.height_mm);
    let wide: Vec<Vec<[f64; 2]>> = seats.iter().map(|&s| circle(s, seat_mm / 2.0)).collect();
    let narrow: Vec<Vec<[f64; 2]>> = seats.iter().map(|&s| circle(s, opening_mm / 2.0)).collect();
    mesh.plate(&rim, &narrow, 0.0, false);
    mesh.plate(&rim, &wide, top_mm, true);
    mesh.wall(&rim, 0.0, top_mm, true);
    for (wide, narrow) in wide.iter().zip(&narrow) {
        mesh.wall(narrow, 0.0, floor_mm, false);
        mesh.step(wide, narrow, floor_mm);
        mesh.wall(wide, floor_mm, top_mm, false);
    }
    Ok(HolderMesh { points_mm: mesh.points, triangles: mesh.triangles, size_mm: [outer[0], outer[1], top_mm], wall_mm })
}

/// Corners of a polygon for a hole, counter-clockwise. Its sides touch the circle, so that the cell goes in.
fn circle(middle: [f64; 2], radius_mm: f64) -> Vec<[f64; 2]> {
    let corner_mm = radius_mm / (PI / SIDES as f64).cos();
    let at = |k: usize| {
        let angle = 2.0 * PI * (k as f64 + 0.5) / SIDES as f64;
        [middle[0] + corner_mm * angle.cos(), middle[1] + corner_mm * angle.sin()]
    };
    (0..SIDES).map(at).collect()
}

/// Puts a surface together; corners at one place are one corner.
#[derive(Default)]
struct Builder {
    points: Vec<[f64; 3]>,
    triangles: Vec<[usize; 3]>,
    known: rustc_hash::FxHashMap<[u64; 3], usize>,
}

impl Builder {
    fn point(&mut self, [x, y]: [f64; 2], z: f64) -> usize {
        let key = [x, y, z].map(f64::to_bits);
        *self.known.entry(key).or_insert_with(|| {
            self.points.push([x, y, z]);
            self.points.len() - 1
        })
    }

    fn triangle(&mut self, corners: [usize; 3], turned: bool) {
        let [a, b, c] = corners;
        self.triangles.push(if turned { [a, c, b] } else { corners });
    }

    /// A flat face with holes: a Delaunay triangulation held to the outlines (spade), less what lies in a hole.
    fn plate(&mut self, rim: &[[f64; 2]], holes: &[Vec<[f64; 2]>], z: f64, faces_up: bool) {
        let mut flat = ConstrainedDelaunayTriangulation::<Point2<f64>>::new();
        for outline in std::iter::once(rim).chain(holes.iter().map(Vec::as_slice)) {
            let points = outline.iter().map(|p| Point2::new(p[0], p[1]));
            // Outlines are finite and never cross: walls between them were checked.
            let handles: Vec<_> = points.filter_map(|p| flat.insert(p).ok()).collect();
            for k in 0..handles.len() {
                flat.add_constraint(handles[k], handles[(k + 1) % handles.len()]);
            }
        }
        let mut found = vec![];
        for face in flat.inner_faces() {
            let corners = face.vertices().map(|v| [v.position().x, v.position().y]);
            let middle = [0, 1].map(|i| corners.iter().map(|c| c[i]).sum::<f64>() / 3.0);
            if !holes.iter().any(|hole| contains(hole, middle)) {
                found.push(corners);
            }
        }
        for corners in found {
            let places = corners.map(|c| self.point(c, z));
            self.triangle(places, !faces_up);
        }
    }

    /// An upright wall over a counter-clockwise outline, facing away from its middle or toward it.
    fn wall(&mut self, outline: &[[f64; 2]], low: f64, high: f64, outward: bool) {
        for k in 0..outline.len() {
            let (a, b) = (outline[k], outline[(k + 1) % outline.len()]);
            let [al, bl, ah, bh] = [(a, low), (b, low), (a, high), (b, high)].map(|(p, z)| self.point(p, z));
            self.triangle([al, bl, bh], !outward);
            self.triangle([al, bh, ah], !outward);
        }
    }

    /// The flat step that a cell rests on, facing up.
    fn step(&mut self, wide: &[[f64; 2]], narrow: &[[f64; 2]], z: f64) {
        for k in 0..wide.len() {
            let next = (k + 1) % wide.len();
            let [wa, wb, na, nb] = [wide[k], wide[next], narrow[k], narrow[next]].map(|p| self.point(p, z));
            self.triangle([na, wa, wb], false);
            self.triangle([na, wb, nb], false);
        }
    }
}

/// Whether a convex, counter-clockwise polygon contains a point.
fn contains(polygon: &[[f64; 2]], [x, y]: [f64; 2]) -> bool {
    (0..polygon.len()).all(|k| {
        let ([ax, ay], [bx, by]) = (polygon[k], polygon[(k + 1) % polygon.len()]);
        (bx - ax) * (y - ay) - (by - ay) * (x - ax) > 0.0
    })
}
