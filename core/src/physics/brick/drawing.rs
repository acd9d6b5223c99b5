//! Both faces of every layer as they are seen at the bench, to scale, in millimetres.
//!
//! Top faces are seen from above. For a bottom face the brick is turned over from left to right, about the line up the
//! middle of the drawing: its columns then run the other way. Flat cells show all their tabs on one face.

use rustc_hash::FxHashMap;
use serde::Serialize;
use utoipa::ToSchema;

use super::faults::label;
use super::grid::{Form, Grid, Site};
use super::laid::Laid;
use super::leads::{Leaving, leads};
use super::metal::{End, Piece, terminal_mm};
use crate::plan::Edge;

/// Way from the edge of a face to the end of a lead, as drawn.
pub const LEAD_MM: f64 = 12.0;
/// Least way between two leads' ends, so that their names can be read.
const LEADS_APART_MM: f64 = 13.0;

/// A node: a potential of the pack.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NodeMark {
    /// 0 is pack minus.
    pub node: usize,
    /// Its name: B0, B1, and so on.
    pub label: String,
    /// Nominal voltage above pack minus, if the chemistry is chosen.
    pub nominal_v: Option<f64>,
    /// Colour, the same wherever this potential is drawn: dark at pack minus, light at pack plus.
    pub fill: String,
}

/// A terminal as seen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TerminalMark {
    /// Its middle from the left.
    pub x_mm: f64,
    /// Its middle from above.
    pub y_mm: f64,
    /// Whether it is plus: drawn round; minus is drawn square.
    pub plus: bool,
    /// Its node.
    pub node: usize,
}

/// A cell as seen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CellMark {
    /// Its place in the layout, from 0.
    pub cell: usize,
    /// Group and letter.
    pub label: String,
    /// Label of the stock, once a cell is chosen for this place.
    pub stock: Option<String>,
    /// Its group, from 1.
    pub group: usize,
    /// Column of its site.
    pub column: u32,
    /// Row of its site.
    pub row: u32,
    /// Its middle from the left.
    pub x_mm: f64,
    /// Its middle from above.
    pub y_mm: f64,
    /// How wide it is.
    pub width_mm: f64,
    /// How high it is drawn.
    pub height_mm: f64,
    /// Whether it is round.
    pub round: bool,
    /// Its terminals on this face.
    pub terminals: Vec<TerminalMark>,
    /// Whether it stays when the rest is laid out again.
    pub locked: bool,
}

/// A site without a cell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SiteMark {
    /// Its column.
    pub column: u32,
    /// Its row.
    pub row: u32,
    /// Its middle from the left.
    pub x_mm: f64,
    /// Its middle from above.
    pub y_mm: f64,
    /// Whether a cell could sit there.
    pub free: bool,
}

/// A strip as seen.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct StripMark {
    /// Its number on this face.
    pub strip: usize,
    /// Its node.
    pub node: usize,
    /// Middle of its first weld from the left.
    pub x1_mm: f64,
    /// Middle of its first weld from above.
    pub y1_mm: f64,
    /// Middle of its last weld from the left.
    pub x2_mm: f64,
    /// Middle of its last weld from above.
    pub y2_mm: f64,
    /// Its width.
    pub width_mm: f64,
    /// Whether it carries the pack's current from group to group.
    pub carries: bool,
    /// Cells it joins.
    pub joins: Vec<String>,
}

/// A sheet between two neighbouring cells of different groups.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SheetMark {
    /// One end from the left.
    pub x1_mm: f64,
    /// One end from above.
    pub y1_mm: f64,
    /// Other end from the left.
    pub x2_mm: f64,
    /// Other end from above.
    pub y2_mm: f64,
}

/// What a lead is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "snake_case")]
pub enum LeadKind {
    /// Pack minus.
    Minus,
    /// Pack plus.
    Plus,
    /// A tap for the board.
    Tap,
    /// A wire to another piece of the same node.
    Joint,
}

/// A wire that leaves a face.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Lead {
    /// Its node.
    pub node: usize,
    /// What it is for.
    pub kind: LeadKind,
    /// The terminal it leaves, from the left.
    pub x1_mm: f64,
    /// The terminal it leaves, from above.
    pub y1_mm: f64,
    /// Where its name stands, from the left.
    pub x2_mm: f64,
    /// Where its name stands, from above.
    pub y2_mm: f64,
    /// Further terminals it is on, where it feeds every cell.
    pub also: Vec<Spot>,
}

/// A place on a face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Spot {
    /// From the left.
    pub x_mm: f64,
    /// From above.
    pub y_mm: f64,
}

/// A face.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Face {
    /// Layer, from 0.
    pub layer: u32,
    /// Top or bottom; flat cells have only one face.
    pub end: Option<End>,
    /// What it is, in words.
    pub title: String,
    /// Whether the brick is turned over from left to right to see it.
    pub turned: bool,
    /// Width of the lattice.
    pub width_mm: f64,
    /// Height of the lattice as drawn.
    pub height_mm: f64,
    /// Its cells.
    pub cells: Vec<CellMark>,
    /// Sites without a cell.
    pub sites: Vec<SiteMark>,
    /// Its strips.
    pub strips: Vec<StripMark>,
    /// Sheets between its groups.
    pub sheets: Vec<SheetMark>,
    /// Wires that leave it.
    pub leads: Vec<Lead>,
}

/// The whole brick.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Drawing {
    /// Every potential, from pack minus.
    pub nodes: Vec<NodeMark>,
    /// Every face.
    pub faces: Vec<Face>,
}

/// Draws a brick. Nothing is drawn of a layout that seats another number of cells than the pack has.
pub fn draw(laid: &Laid<'_>) -> Drawing {
    if !laid.suits() {
        return Drawing { nodes: vec![], faces: vec![] };
    }
    let nominal_v = laid.pack.chemistry.map(|c| c.facts().nominal_v);
    let nodes = (0..=laid.series)
        .map(|node| NodeMark {
            node,
            label: format!("B{node}"),
            nominal_v: nominal_v.map(|v| v * node as f64),
            fill: ramp(node as f64 / laid.series as f64),
        })
        .collect();
    let pieces = laid.pieces();
    let leads = leads(laid, laid.pack.brick.take_off);
    let layers = laid.grid.counts[2];
    let mut faces = vec![];
    for layer in 0..layers {
        faces.extend(shown(&laid.grid).iter().map(|&end| face(laid, pieces, &leads, layer, end)));
    }
    Drawing { nodes, faces }
}

/// Colour of a share of the pack's voltage: LOOK's ramp, mixed in sRGB.
pub fn ramp(share: f64) -> String {
    const STOPS: [[f64; 3]; 4] =
        [[38.0, 36.0, 74.0], [24.0, 100.0, 112.0], [116.0, 160.0, 84.0], [232.0, 206.0, 104.0]];
    let x = share.clamp(0.0, 1.0) * 3.0;
    let k = (x.floor() as usize).min(2);
    let mix = |i: usize| (STOPS[k][i] + (STOPS[k + 1][i] - STOPS[k][i]) * (x - k as f64)).round() as u8;
    format!("#{:02x}{:02x}{:02x}", mix(0), mix(1), mix(2))
}

/// Width and height of the lattice on a face.
fn face_mm(grid: &Grid) -> [f64; 2] {
    let size_mm = grid.size_mm();
    [size_mm[grid.axes[0].index()], size_mm[grid.axes[1].index()]]
}

fn title(laid: &Laid<'_>, layer: u32, end: Option<End>) -> String {
    let of = if laid.grid.counts[2] > 1 { format!(" of layer {}", layer + 1) } else { String::new() };
    match end {
        None => format!("Terminals{of}"),
        Some(End::Top) => format!("Top{of}"),
        Some(End::Bottom) => format!("Bottom{of}, turned left to right"),
    }
}

/// A terminal as it is seen on the drawn face: from the left, from above.
pub fn seen_mm(grid: &Grid, site: Site, end: End) -> [f64; 2] {
    let [x, y] = terminal_mm(grid, site, end);
    let turned = grid.form == Form::Round && end == End::Bottom;
    if turned { [face_mm(grid)[0] - x, y] } else { [x, y] }
}

/// Faces of a layer, in the order in which they are drawn.
fn shown(grid: &Grid) -> &'static [Option<End>] {
    match grid.form {
        Form::Round => &[Some(End::Top), Some(End::Bottom)],
        Form::Flat => &[None],
    }
}

/// Face and number there of each strip, by the places of its piece and of the strip in it.
pub fn strip_places(laid: &Laid<'_>) -> FxHashMap<(usize, usize), (usize, usize)> {
    let shown = shown(&laid.grid);
    let mut counts = vec![0; laid.grid.counts[2] as usize * shown.len()];
    let mut found = FxHashMap::default();
    for (at, piece) in laid.pieces().iter().enumerate() {
        let side = shown.iter().position(|s| s.is_none_or(|end| end == piece.end)).unwrap_or(0);
        let face = piece.layer as usize * shown.len() + side;
        for line in 0..piece.lines.len() {
            found.insert((at, line), (face, counts[face]));
            counts[face] += 1;
        }
    }
    found
}

fn face(laid: &Laid<'_>, pieces: &[Piece], leads: &[Leaving], layer: u32, end: Option<End>) -> Face {
    let grid = &laid.grid;
    let [width_mm, height_mm] = face_mm(grid);
    let turned = end == Some(End::Bottom);
    let seen = |[x, y]: [f64; 2]| if turned { [width_mm - x, y] } else { [x, y] };
    let at = |site: Site, end: End| seen_mm(grid, site, end);
    let ends: &[End] = match &end {
        Some(one) => std::slice::from_ref(one),
        None => &[End::Top, End::Bottom],
    };

    let mut cells = vec![];
    for (k, seat) in laid.layout.cells.iter().enumerate().filter(|(_, s)| s.layer == layer) {
        let site = Site::from(seat);
        let (group, nth) = (k / laid.parallel, k % laid.parallel);
        let [x_mm, y_mm] = seen(grid.middle_mm(site));
        let terminals = ends.iter().map(|&end| {
            let [x_mm, y_mm] = at(site, end);
            let plus = seat.plus_up == (end == End::Top);
            TerminalMark { x_mm, y_mm, plus, node: group + usize::from(plus) }
        });
        cells.push(CellMark {
            cell: k,
            label: label(group, nth),
            stock: laid.pack.groups.get(group).and_then(|g| g.cells.get(nth)).map(|c| c.label.clone()),
            group: group + 1,
            column: site.column,
            row: site.row,
            x_mm,
            y_mm,
            width_mm: grid.cell_mm[0],
            height_mm: grid.cell_mm[1],
            round: grid.form == Form::Round,
            terminals: terminals.collect(),
            locked: seat.locked,
        });
    }
    let taken: Vec<Site> = laid.layout.cells.iter().filter(|s| s.layer == layer).map(Site::from).collect();
    let sites = grid
        .sites()
        .filter(|s| s.layer == layer && !taken.contains(s))
        .map(|s| {
            let [x_mm, y_mm] = seen(grid.middle_mm(s));
            SiteMark { column: s.column, row: s.row, x_mm, y_mm, free: laid.is_free(s) }
        })
        .collect();

    let name = |site: &Site| laid.layout.cells.iter().position(|s| Site::from(s) == *site);
    let width = laid.strip_width_mm();
    let mut strips = vec![];
    for piece in pieces.iter().filter(|p| p.layer == layer && ends.contains(&p.end)) {
        for line in &piece.lines {
            let ([x1_mm, y1_mm], [x2_mm, y2_mm]) =
                (at(line.sites[0], piece.end), at(line.sites[line.sites.len() - 1], piece.end));
            let joins = line.sites.iter().filter_map(name).map(|k| label(k / laid.parallel, k % laid.parallel));
            strips.push(StripMark {
                strip: strips.len(),
                node: piece.node,
                x1_mm,
                y1_mm,
                x2_mm,
                y2_mm,
                width_mm: width,
                carries: line.crossings > 0,
                joins: joins.collect(),
            });
        }
    }
    Face {
        layer,
        end,
        title: title(laid, layer, end),
        turned,
        width_mm,
        height_mm,
        sheets: sheets(laid, layer, &seen),
        leads: spread(
            leads.iter().filter(|l| l.layer == layer && ends.contains(&l.end)),
            &at,
            width_mm,
            height_mm,
            turned,
        ),
        cells,
        sites,
        strips,
    }
}

/// A sheet stands halfway between any two neighbours of different groups.
fn sheets(laid: &Laid<'_>, layer: u32, seen: &impl Fn([f64; 2]) -> [f64; 2]) -> Vec<SheetMark> {
    let grid = &laid.grid;
    let mut groups = vec![None; grid.places()];
    for (k, seat) in laid.layout.cells.iter().enumerate() {
        groups[grid.index(Site::from(seat))] = Some(k / laid.parallel);
    }
    let group = |site: Site| groups[grid.index(site)];
    let mut found = vec![];
    // In the order of the sites, so that a moved cell changes only the sheets round it.
    for a in grid.sites().filter(|&s| s.layer == layer && group(s).is_some()) {
        for b in grid.neighbours(a).filter(|b| *b > a && group(*b).is_some() && group(*b) != group(a)) {
            let ([ax, ay], [bx, by]) = (grid.middle_mm(a), grid.middle_mm(b));
            let (middle, along) = ([(ax + bx) / 2.0, (ay + by) / 2.0], [-(by - ay), bx - ax]);
            // As long as the cells are wide; of round cells as the side of the hexagon or square round them.
            let length_mm = match (grid.form, grid.lattice) {
                (Form::Flat, _) => grid.cell_mm[1],
                (_, crate::plan::Lattice::Square) => grid.pitch_mm[0],
                _ => grid.pitch_mm[0] / 3.0_f64.sqrt(),
            };
            let half = length_mm / 2.0 / along[0].hypot(along[1]);
            let [x1_mm, y1_mm] = seen([middle[0] - along[0] * half, middle[1] - along[1] * half]);
            let [x2_mm, y2_mm] = seen([middle[0] + along[0] * half, middle[1] + along[1] * half]);
            found.push(SheetMark { x1_mm, y1_mm, x2_mm, y2_mm });
        }
    }
    found
}

/// Puts the names of leads so far apart that they can be read.
fn spread<'l>(
    leads: impl Iterator<Item = &'l Leaving>,
    at: &impl Fn(Site, End) -> [f64; 2],
    width_mm: f64,
    height_mm: f64,
    turned: bool,
) -> Vec<Lead> {
    let mut found: Vec<(Edge, Lead)> = leads
        .map(|l| {
            let [x1_mm, y1_mm] = at(l.site, l.end);
            let edge = match l.edge {
                Edge::Left if turned => Edge::Right,
                Edge::Right if turned => Edge::Left,
                edge => edge,
            };
            let (x2_mm, y2_mm) = match edge {
                Edge::Left => (-LEAD_MM, y1_mm),
                Edge::Right => (width_mm + LEAD_MM, y1_mm),
                Edge::Upper => (x1_mm, -LEAD_MM),
                Edge::Lower => (x1_mm, height_mm + LEAD_MM),
            };
            let also = l.also.iter().map(|&site| at(site, l.end)).map(|[x_mm, y_mm]| Spot { x_mm, y_mm }).collect();
            (edge, Lead { node: l.node, kind: l.kind, x1_mm, y1_mm, x2_mm, y2_mm, also })
        })
        .collect();
    for edge in [Edge::Left, Edge::Right, Edge::Upper, Edge::Lower] {
        let flat = matches!(edge, Edge::Upper | Edge::Lower);
        let mut own: Vec<&mut Lead> = found.iter_mut().filter(|(e, _)| *e == edge).map(|(_, l)| l).collect();
        let place = |l: &Lead| if flat { l.x2_mm } else { l.y2_mm };
        own.sort_by(|a, b| place(a).total_cmp(&place(b)).then(a.node.cmp(&b.node)));
        let mut last_mm = f64::MIN;
        let mut places: Vec<f64> = vec![];
        for lead in &own {
            last_mm = place(lead).max(last_mm + LEADS_APART_MM);
            places.push(last_mm);
        }
        // What was pushed too far is moved back, all by the same.
        let over_mm = own.iter().zip(&places).map(|(l, p)| p - place(l)).fold(0.0, f64::max) / 2.0;
        for (lead, at_mm) in own.iter_mut().zip(places) {
            *(if flat { &mut lead.x2_mm } else { &mut lead.y2_mm }) = at_mm - over_mm;
        }
    }
    found.into_iter().map(|(_, l)| l).collect()
}
