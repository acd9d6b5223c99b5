//! The brick: strips of the series links, and how cells lie in their compartment.
//!
//! `grid` (sites, neighbours) -> `room` (what lies round the cells, what fits) -> `joints` (how well groups meet) ->
//! `pattern` (the usual ways to seat groups), `search` (better ones by trying) -> `metal` (strips on the faces) ->
//! `place` (where a lattice can go), `arrange` (every one that fits, ranked) -> `faults` (what is wrong with a layout), `cuts` (the strips to cut), `edit` (one change by hand),
//! `network` (currents and heat in its strips and cells), `openings` (holes in the walls), `leads` (where wires leave), `drawing` (both faces as they are seen), `solid` (in space), `steps` (in which order they are welded).

mod arrange;
mod bay;
mod cuts;
mod drawing;
mod edit;
mod faults;
mod grid;
mod joints;
mod laid;
mod leads;
mod metal;
mod network;
mod openings;
mod pattern;
mod place;
mod room;
mod search;
mod solid;
mod steps;
mod strip;

pub use arrange::{Arrangement, Task, arrangements, seats};
pub use bay::{Bay, bay};
pub use cuts::{Cut, cuts};
pub use drawing::{
    CellMark, Drawing, Face, Lead, LeadKind, NodeMark, SheetMark, Spot, StripMark, TerminalMark, draw, ramp, seen_mm,
    strip_places,
};
pub use edit::{Edit, Refused};
pub use faults::{Fault, SHEET_MM, STRIPS_APART_MM, faults, label, near};
pub use grid::{Form, Grid, Site, axes};
pub use joints::{Seating, Wanted};
pub use laid::{Laid, look_behind};
pub use metal::{End, Merit, Piece, merit, pieces};
pub use network::{
    Circuit, Flow, HeatPaths, JointWire, Resistor, Segment, Sharing, Solver, Study, Terminal, Warming, block_paths,
    cell_heat_j_per_k, study,
};
pub use openings::{Behind, along_wall, behind, free_mm, too_deep_mm, too_thick_mm};
pub use pattern::{Pattern, best_of_each, patterns, share_layers};
pub use room::{Around, Cuboid, Fit, Placed, skin_mm, space_mm};
pub use search::Search;
pub use solid::{CellBody, Solid, StripBody, solid};
pub use steps::{StepKind, WeldStep, steps};
pub use strip::{
    STRIP_RISE_K, link_area_mm2, link_limit_a, link_mass_g, link_ohm, link_pulse_a2s, link_short_time_a,
    metal_g_per_mm3,
};
