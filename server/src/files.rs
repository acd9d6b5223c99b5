//! The files that a plan's brick can be written to: which there are, and their bytes.

use brick_core::Plan;
use brick_core::print::exports::{FaceOutlines, HolderMesh, holder, netlist, outlines, strips_csv, welds_csv};
use dxf::entities::{Circle, Entity, EntityType, LwPolyline, Text};
use dxf::enums::{AcadVersion, Units};
use dxf::{Drawing, LwPolylineVertex, Point};
use rocket::http::ContentType;
use serde::Serialize;
use stl_io::{Normal, Triangle, Vertex};
use utoipa::ToSchema;

/// Height of the letters beside a strip.
const LETTERS_MM: f64 = 2.0;
/// Diameter of a weld's mark.
const WELD_MM: f64 = 1.5;

/// A file of a plan.
#[derive(Debug, Clone, Serialize, ToSchema)]
pub struct PartFile {
    /// Its name, as in the address.
    pub name: &'static str,
    /// What it is for, in words.
    pub what: &'static str,
    /// Why it cannot be made now; absent where it can.
    pub refused: Option<String>,
}

/// What a file holds.
#[derive(Debug)]
pub struct Made {
    /// Its bytes.
    pub bytes: Vec<u8>,
    /// What they are.
    pub kind: ContentType,
}

/// Every file there can be: name, use, maker.
type Maker = fn(&Plan) -> Result<Made, String>;
const FILES: [(&str, &str, Maker); 5] = [
    ("strips.dxf", "outlines of the strips with their welds, to cut and to make a jig, DXF in millimetres", strips_dxf),
    ("strips.csv", "every strip: size, welds, mass, current", |p| table(strips_csv(p))),
    ("welds.csv", "every weld: strip, cell, place", |p| table(welds_csv(p))),
    ("holder.stl", "cell holder to print, two for each layer, STL in millimetres", holder_stl),
    ("network.cir", "cells and strips for a circuit simulator, SPICE netlist", network_cir),
];

/// Every file of a plan that was checked, with the reason where one cannot be made.
pub fn list(plan: &Plan) -> Vec<PartFile> {
    let one =
        |&(name, what, make): &(&'static str, &'static str, Maker)| PartFile { name, what, refused: make(plan).err() };
    FILES.iter().map(one).collect()
}

/// A file of a plan that was checked. `None` if there is no such file; else its bytes, or why it cannot be made.
pub fn make(plan: &Plan, name: &str) -> Option<Result<Made, String>> {
    FILES.iter().find(|(known, ..)| *known == name).map(|(_, _, make)| make(plan))
}

const NOT_LAID: &str = "lay the cells out and choose the strip first";

fn table(text: Option<String>) -> Result<Made, String> {
    let text = text.ok_or(NOT_LAID)?;
    Ok(Made { bytes: text.into_bytes(), kind: ContentType::CSV })
}

fn network_cir(plan: &Plan) -> Result<Made, String> {
    let text = netlist(plan).ok_or("lay the cells out, joined from end to end, and choose the strip first")?;
    Ok(Made { bytes: text.into_bytes(), kind: ContentType::Plain })
}

fn strips_dxf(plan: &Plan) -> Result<Made, String> {
    let faces = outlines(plan).ok_or(NOT_LAID)?;
    let mut bytes = vec![];
    drawing(&faces).save(&mut bytes).map_err(|e| e.to_string())?;
    Ok(Made { bytes, kind: ContentType::new("image", "vnd.dxf") })
}

/// Strips, welds, cells and words on layers of their own.
fn drawing(faces: &[FaceOutlines]) -> Drawing {
    let mut found = Drawing::new();
    found.header.version = AcadVersion::R2000;
    found.header.default_drawing_units = Units::Millimeters;
    let point = |[x, y]: [f64; 2]| Point::new(x, y, 0.0);
    let mut add = |layer: &str, specific: EntityType| {
        let mut entity = Entity::new(specific);
        entity.common.layer = layer.to_owned();
        found.add_entity(entity);
    };
    let word = |at: [f64; 2], height: f64, value: String| {
        EntityType::Text(Text { location: point(at), text_height: height, value, ..Text::default() })
    };
    for face in faces {
        let above = [face.at_mm[0], face.at_mm[1] + face.size_mm[1] + LETTERS_MM];
        add("words", word(above, 2.0 * LETTERS_MM, face.title.clone()));
        for &(middle, diameter_mm) in &face.cells_mm {
            add("cells", EntityType::Circle(Circle::new(point(middle), diameter_mm / 2.0)));
        }
        for strip in &face.strips {
            let corner = |c: &[f64; 2]| LwPolylineVertex { x: c[0], y: c[1], ..LwPolylineVertex::default() };
            let mut outline =
                LwPolyline { vertices: strip.corners_mm.iter().map(corner).collect(), ..LwPolyline::default() };
            outline.set_is_closed(true);
            add("strips", EntityType::LwPolyline(outline));
            for &weld in &strip.welds_mm {
                add("welds", EntityType::Circle(Circle::new(point(weld), WELD_MM / 2.0)));
            }
            add("words", word(strip.corners_mm[0], LETTERS_MM, format!("{} B{}", strip.number, strip.node)));
        }
    }
    found
}

fn holder_stl(plan: &Plan) -> Result<Made, String> {
    let mesh = holder(plan).map_err(|e| e.to_string())?;
    let mut bytes = vec![];
    stl_io::write_stl(&mut bytes, triangles(&mesh).iter()).map_err(|e| e.to_string())?;
    Ok(Made { bytes, kind: ContentType::new("model", "stl") })
}

fn triangles(mesh: &HolderMesh) -> Vec<Triangle> {
    let corner = |place: usize| mesh.points_mm[place].map(|mm| mm as f32);
    let one = |t: &[usize; 3]| {
        let [a, b, c] = t.map(|place| mesh.points_mm[place]);
        let (u, v) = ([0, 1, 2].map(|i| b[i] - a[i]), [0, 1, 2].map(|i| c[i] - a[i]));
        let n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
        let length = n.iter().map(|x| x * x).sum::<f64>().sqrt();
        Triangle { normal: Normal::new(n.map(|x| (x / length) as f32)), vertices: t.map(|p| Vertex::new(corner(p))) }
    };
    mesh.triangles.iter().map(one).collect()
}
