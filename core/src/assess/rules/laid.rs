//! The brick as it is laid: whether it fits, hangs together and is insulated; holes in the walls.

use crate::assess::bay::bay_plans;
use crate::assess::finding::Severity;
use crate::assess::findings::{Findings, Says};
use crate::assess::rule;
use crate::base::limit::{above, below};
use crate::base::quantity::{Unit, show};
use crate::physics::brick::{Fault, Laid, SHEET_MM, look_behind, space_mm, too_deep_mm, too_thick_mm};
use crate::plan::{CellSize, Compartment, NodeKind, Opening, OpeningPurpose, Sign, Space};

/// Least swelling a pouch is given. Common practice, no source.
const SWELLING_MIN: f64 = 0.05;
/// A drill that breaks through goes on so far. Common practice, no source.
const DRILL_PLUNGE_MM: f64 = 10.0;

pub fn check(f: &mut Findings<'_, '_>) {
    beside_the_brick(f);
    let workspace = f.workspace;
    let laid = workspace.laid.as_ref();
    match laid {
        Some(laid) if !laid.suits() => other_counts(f, laid),
        Some(laid) => {
            fit(f, laid);
            faults(f, laid);
            room(f, laid);
        }
        None if workspace.ready().is_some() => ready_fits(f),
        None => {
            too_long(f);
            too_many(f);
        }
    }
    pouch(f);
    for place in &f.workspace.plan.device.compartments {
        for (k, opening) in place.openings.iter().enumerate() {
            hole(f, laid, place, k, opening);
        }
    }
    if laid.is_some() {
        signs(f);
    }
}

fn other_counts(f: &mut Findings<'_, '_>, laid: &Laid<'_>) {
    f.add(
        Severity::Stop,
        Says {
            rule: rule::brick::LAYOUT_FOR_OTHER_COUNTS,
            subject: "",
            title: "Layout made for another cell count",
            why: "It places {$0} cells; the pack has {$1}. Lay it out again.",
            words: &[&laid.layout.cells.len().to_string(), &(laid.series * laid.parallel).to_string()],
        },
    );
}

/// A cell that goes into no compartment whichever way it lies, before anything is laid out.
fn too_long(f: &mut Findings<'_, '_>) {
    let Some(cell) = f.workspace.cell() else { return };
    let places = &f.workspace.plan.device.compartments;
    if places.is_empty() || places.iter().any(|p| goes_in(&cell.size, &p.space)) {
        return;
    }
    f.add(
        Severity::Stop,
        Says {
            rule: rule::brick::CELL_TOO_LARGE,
            subject: "",
            title: "Cell does not fit the compartment",
            why: "“{$0}” is {$1}; no compartment takes it in any direction. Use a smaller cell.",
            words: &[&cell.offer.name, &size_words(&cell.size)],
        },
    );
}

/// A pack that comes as a whole and goes into no compartment, whichever way it lies.
fn ready_fits(f: &mut Findings<'_, '_>) {
    let workspace = f.workspace;
    let places = &workspace.plan.device.compartments;
    let inside = workspace.plan.feed.outside.is_none() && !workspace.is_kept();
    let Some((ready, [length_mm, width_mm, height_mm])) = workspace.ready().and_then(|r| Some((r, r.size_mm()?)))
    else {
        return;
    };
    let size = CellSize::Prismatic { thickness_mm: height_mm, width_mm, length_mm };
    if !inside || places.is_empty() || places.iter().any(|p| goes_in(&size, &p.space)) {
        return;
    }
    f.add(
        Severity::Stop,
        Says {
            rule: rule::brick::PACK_TOO_LARGE,
            subject: "",
            title: "Pack does not fit the compartment",
            why: "“{$0}” is {$1}; no compartment takes it in any direction. Use a smaller one, or put it outside on a plug.",
            words: &[&ready.offer.name, &size_words(&size)],
        },
    );
}

/// Whether one bare cell goes into a space along its axes.
fn goes_in(size: &CellSize, space: &Space) -> bool {
    let mut cell_mm = match *size {
        CellSize::Cylindrical { diameter_mm, length_mm } => [diameter_mm, diameter_mm, length_mm],
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => [thickness_mm, width_mm, length_mm],
    };
    cell_mm.sort_by(f64::total_cmp);
    match *space {
        Space::Box { length_mm, width_mm, depth_mm } => {
            let mut room_mm = [length_mm, width_mm, depth_mm];
            room_mm.sort_by(f64::total_cmp);
            cell_mm.iter().zip(room_mm).all(|(cell, room)| !above(*cell, room))
        }
        // Along the tube; a round cell across its width, a flat one by its diagonal.
        Space::Cylinder { diameter_mm, length_mm } => {
            let across_mm = match size {
                CellSize::Cylindrical { .. } => cell_mm[1].min(cell_mm[0]),
                _ => cell_mm[0].hypot(cell_mm[1]),
            };
            !above(cell_mm[2], length_mm) && !above(across_mm, diameter_mm)
        }
    }
}

fn size_words(size: &CellSize) -> String {
    let mm = |v: f64| show(v, Unit::Mm);
    match *size {
        CellSize::Cylindrical { diameter_mm, length_mm } => {
            format!("{} long and {} thick", mm(length_mm), mm(diameter_mm))
        }
        CellSize::Pouch { thickness_mm, width_mm, length_mm }
        | CellSize::Prismatic { thickness_mm, width_mm, length_mm } => {
            format!("{} × {} × {}", mm(length_mm), mm(width_mm), mm(thickness_mm))
        }
    }
}

/// What a box of so many cells takes at least: the densest packing of circles there is, or the cells themselves.
fn too_many(f: &mut Findings<'_, '_>) {
    let Some((cell, (series, parallel))) = f.workspace.cell().zip(f.workspace.counts()) else { return };
    let places = &f.workspace.plan.device.compartments;
    if places.is_empty() {
        return;
    }
    let densest = std::f64::consts::PI / 12.0_f64.sqrt();
    let one_mm3 = match cell.size {
        CellSize::Cylindrical { .. } => crate::physics::cells::volume_l(&cell.size) * 1e6 / densest,
        _ => crate::physics::cells::volume_l(&cell.size) * 1e6,
    };
    let room_mm3 = |space: &Space| match *space {
        Space::Box { length_mm, width_mm, depth_mm } => length_mm * width_mm * depth_mm,
        Space::Cylinder { diameter_mm, length_mm } => {
            std::f64::consts::FRAC_PI_4 * diameter_mm * diameter_mm * length_mm
        }
    };
    let largest_mm3 = places.iter().map(|p| room_mm3(&p.space)).fold(0.0, f64::max);
    if above(one_mm3 * series * parallel, largest_mm3) {
        f.tell(
            Severity::Stop,
            rule::brick::TOO_MANY_CELLS,
            "Too many cells for the compartment",
            "Even packed as closely as possible, without strips and wrap, they need more room than the compartment has.",
        );
    }
}

fn fit(f: &mut Findings<'_, '_>, laid: &Laid<'_>) {
    let Some((found, place)) = laid.fit().zip(laid.place) else { return };
    if found.fits() {
        return;
    }
    let names = ["length", "width", "depth"];
    let room_mm = space_mm(&place.space);
    let mut reasons: Vec<String> = (0..3)
        .filter(|&i| above(found.size_mm[i], room_mm[i]))
        .map(|i| format!("{} too much along the {}", show(found.size_mm[i] - room_mm[i], Unit::Mm), names[i]))
        .collect();
    if reasons.is_empty() && found.in_the_way.is_empty() {
        reasons.push("sticks out through a wall".to_owned());
    }
    reasons.extend(found.in_the_way.iter().map(|o| format!("collides with “{o}”")));
    f.add(Severity::Stop, Says {
        rule: rule::brick::DOES_NOT_FIT,
        subject: "",
        title: "Brick does not fit",
        why: "With strips, wrap, padding, wires and board it is {brick.x_mm} × {brick.y_mm} × {brick.z_mm}, in “{$0}”: {$1}.",
        words: &[&place.name, &reasons.join(", ")],
    });
}

fn faults(f: &mut Findings<'_, '_>, laid: &Laid<'_>) {
    for fault in laid.faults() {
        match fault {
            Fault::OtherCounts { .. } => {}
            Fault::Short { group, cells } => f.add(Severity::Stop, Says {
                rule: rule::brick::SHORT,
                subject: &format!("group-{group}"),
                title: "Strip would short a group",
                why: "In group {$0} {$1} would be reversed against the rest. The strip over them would join plus to minus.",
                words: &[&group.to_string(), &cells.join(", ")],
            }),
            Fault::Apart { group, parts } => f.add(Severity::Stop, Says {
                rule: rule::brick::GROUP_APART,
                subject: &format!("group-{group}"),
                title: "Group not joined by strips",
                why: "Group {$0} lies in {$1} parts that no strip between neighbours reaches.",
                words: &[&group.to_string(), &parts.to_string()],
            }),
            Fault::Faces { group } => f.add(Severity::Stop, Says {
                rule: rule::brick::OTHER_FACE,
                subject: &format!("group-{group}"),
                title: "Two groups do not meet on one face",
                why: "The plus end of group {$0} and the minus end of the next lie on opposite faces. Turn one of them over.",
                words: &[&group.to_string()],
            }),
            Fault::Near { node, other } => f.add(Severity::Stop, Says {
                rule: rule::brick::STRIPS_NEAR,
                subject: &format!("b{node}-b{other}"),
                title: "Strips of different potential too close",
                why: "Strips of B{$0} and B{$1} come within 1 mm of each other. Use a narrower strip, or place the cells further apart.",
                words: &[&node.to_string(), &other.to_string()],
            }),
        }
    }
}

fn room(f: &mut Findings<'_, '_>, laid: &Laid<'_>) {
    let room = &laid.pack.brick.clearances;
    if laid.series > 1 && below(room.gap_mm, SHEET_MM) {
        f.tell(
            Severity::Stop,
            rule::brick::NEIGHBOURS_BARE,
            "No room for insulation between groups",
            "The case of a cell is one of its terminals; only a thin sleeve separates neighbours of different potential. An insulating sheet or a holder takes at least 0.2 mm.",
        );
    }
    let has_board = f.workspace.any_board().is_some() || f.workspace.is_open(NodeKind::Board);
    if has_board && room.board.is_none() && !room.board_elsewhere {
        f.tell(
            Severity::Caution,
            rule::brick::NO_ROOM_FOR_BOARD,
            "No room kept for the board",
            "Measure the board with its parts, or say that it sits elsewhere.",
        );
    }
}

fn pouch(f: &mut Findings<'_, '_>) {
    let Some(CellSize::Pouch { .. }) = f.workspace.cell().map(|c| &c.size) else { return };
    let room = &f.workspace.pack.brick.clearances;
    if below(room.swelling_share, SWELLING_MIN) {
        f.tell(
            Severity::Caution,
            rule::brick::NO_ROOM_FOR_SWELLING,
            "No room for pouches to swell",
            "Pouches grow 5 to 10 % thicker with age and charge. Pressed against a wall they are damaged.",
        );
    }
    if f.workspace.plan.device.surroundings.shocks == Some(true) && room.shell_mm == 0.0 {
        f.tell(
            Severity::Caution,
            rule::brick::POUCH_WITHOUT_SHELL,
            "Pouches without a shell in a dropped device",
            "A pouch has no case: a corner or a screw that presses on it causes a short inside.",
        );
    }
}

/// What an opening is for, in words.
fn purpose(opening: &Opening) -> &'static str {
    match opening.purpose {
        OpeningPurpose::Jack => "the jack",
        OpeningPurpose::Lamp => "the lamp",
        OpeningPurpose::Switch => "the switch",
        OpeningPurpose::Cable => "the cable",
        OpeningPurpose::Gauge => "the gauge",
    }
}

fn hole(f: &mut Findings<'_, '_>, laid: Option<&Laid<'_>>, place: &Compartment, number: usize, opening: &Opening) {
    let (met, free_mm) = look_behind(laid, place, opening);
    let subject = format!("{}-{number}", place.id);
    let first = met.first().map_or("the wall behind", |b| b.what.as_str());
    if let Some(mm) = too_deep_mm(opening, free_mm) {
        f.add(
            Severity::Stop,
            Says {
                rule: rule::brick::OPENING_BLOCKED,
                subject: &subject,
                title: "Part in the wall hits something behind",
                why: "The part for {$0} is {$1} deeper than the free depth behind its hole; there is {$2}.",
                words: &[purpose(opening), &show(mm, Unit::Mm), first],
            },
        );
    } else if met.first().is_some_and(|b| below(b.depth_mm, DRILL_PLUNGE_MM)) {
        f.add(Severity::Note, Says {
            rule: rule::brick::DRILL_HITS,
            subject: &subject,
            title: "Drill with the brick out",
            why: "Behind the hole for {$0} lies {$1}, {$2} from the wall. A drill that breaks through goes further.",
            words: &[purpose(opening), first, &show(met[0].depth_mm.max(0.0), Unit::Mm)],
        });
    }
    if let Some(mm) = too_thick_mm(opening) {
        f.add(Severity::Caution, Says {
            rule: rule::brick::WALL_TOO_THICK,
            subject: &subject,
            title: "Thread too short for the wall",
            why: "For {$0}, wall and pad are {$1} thicker than the thread reaches. Leave the pad out, or thin the wall from inside.",
            words: &[purpose(opening), &show(mm, Unit::Mm)],
        });
    }
}

/// A charger that sits inside with the pack shows its lamps only through an opening.
fn signs(f: &mut Findings<'_, '_>) {
    let charger = f.workspace.plan.module(NodeKind::Charger);
    if charger.is_none_or(|m| m.charges.is_none() || m.protects.is_none()) {
        return;
    }
    let openings = || f.workspace.plan.device.compartments.iter().flat_map(|c| &c.openings);
    let unseen: Vec<&str> = [(Sign::Charging, "that it charges"), (Sign::Full, "that it is full")]
        .into_iter()
        .filter(|(sign, _)| !openings().any(|o| o.shows.contains(sign)))
        .map(|(_, words)| words)
        .collect();
    if !unseen.is_empty() {
        f.add(Severity::Caution, Says {
            rule: rule::brick::SIGN_UNSEEN,
            subject: "",
            title: "Charge module's lamps not visible",
            why: "The module sits inside with the pack; from outside you cannot see {$0}. Plan a window, or lead the lamp out.",
            words: &[&unseen.join(" or ")],
        });
    }
}

/// Modules, switch, jack and holder that find no place beside the brick.
fn beside_the_brick(f: &mut Findings<'_, '_>) {
    for bay in bay_plans(f.workspace) {
        let beside = if bay.brick.is_some() { " beside the brick" } else { "" };
        for thing in bay.things.iter().filter(|t| t.at.is_none()) {
            f.add(
                Severity::Caution,
                Says {
                    rule: rule::brick::THING_UNPLACED,
                    subject: &thing.node,
                    title: "Part does not fit its compartment",
                    why: "“{$0}” finds no place in “{$1}”{$2} in any position. Put it outside, on the lead, or in another compartment.",
                    words: &[&thing.name, &bay.name, beside],
                },
            );
        }
    }
}
