//! What goes into the compartment beside the brick: modules, converter, switch, jack, holder, each as a box.

use super::room::{Cuboid, space_mm};
use crate::base::limit::above;
use crate::plan::Space;

/// Everything that was asked for, with the brick where it leaves room for it.
#[derive(Debug, Clone, PartialEq)]
pub struct Bay {
    /// Where the brick lies, where it is in this compartment.
    pub brick: Option<Cuboid>,
    /// Each box in the order asked for; `None` where it finds no place.
    pub boxes: Vec<Option<Cuboid>>,
}

/// Every way to turn a box.
const TURNS: [[usize; 3]; 6] = [[0, 1, 2], [1, 0, 2], [0, 2, 1], [2, 0, 1], [1, 2, 0], [2, 1, 0]];

/// Places boxes round a brick and what else is in the way: largest first, each at the lowest free corner that another box or a wall makes
/// (extreme points, Crainic et al. 2008). The brick stays where it is if that does, else it is pushed into the corner that leaves place for
/// the most of them.
pub fn bay(space: &Space, brick: Option<Cuboid>, in_the_way: &[Cuboid], sizes_mm: &[[f64; 3]]) -> Bay {
    let tried = |brick: Option<Cuboid>| Bay { brick, boxes: boxes(space, brick, in_the_way, sizes_mm) };
    let placed = |bay: &Bay| bay.boxes.iter().flatten().count();
    let mut best = tried(brick);
    let Some(brick) = brick else { return best };
    for corner in 0..8_u32 {
        if placed(&best) == sizes_mm.len() {
            break;
        }
        let pushed = pushed(space, &brick, corner);
        if inside(space, &pushed) && !in_the_way.iter().any(|other| other.meets(&pushed)) {
            let other = tried(Some(pushed));
            if placed(&other) > placed(&best) {
                best = other;
            }
        }
    }
    best
}

/// A box in the corner that the bits of a number name.
fn pushed(space: &Space, one: &Cuboid, corner: u32) -> Cuboid {
    let room_mm = space_mm(space);
    let mut moved = *one;
    for (i, room_mm) in room_mm.into_iter().enumerate() {
        let size_mm = one.high_mm[i] - one.low_mm[i];
        moved.low_mm[i] = if corner >> i & 1 == 1 { room_mm - size_mm } else { 0.0 };
        moved.high_mm[i] = moved.low_mm[i] + size_mm;
    }
    moved
}

/// Whether a box lies within the walls; in a tube its four long edges do.
fn inside(space: &Space, one: &Cuboid) -> bool {
    let room_mm = space_mm(space);
    let within = (0..3).all(|i| one.low_mm[i] >= -1e-6 && !above(one.high_mm[i], room_mm[i]));
    match *space {
        Space::Box { .. } => within,
        Space::Cylinder { diameter_mm, .. } => {
            let from_axis = |v: f64| (v - diameter_mm / 2.0).abs();
            let far = |i: usize| from_axis(one.low_mm[i]).max(from_axis(one.high_mm[i]));
            within && !above(far(1).hypot(far(2)), diameter_mm / 2.0)
        }
    }
}

fn boxes(space: &Space, brick: Option<Cuboid>, in_the_way: &[Cuboid], sizes_mm: &[[f64; 3]]) -> Vec<Option<Cuboid>> {
    let mut taken: Vec<Cuboid> = in_the_way.iter().copied().chain(brick).collect();
    let volume = |size: &[f64; 3]| size.iter().product::<f64>();
    let mut order: Vec<usize> = (0..sizes_mm.len()).collect();
    order.sort_by(|a, b| volume(&sizes_mm[*b]).total_cmp(&volume(&sizes_mm[*a])).then(a.cmp(b)));
    let mut found = vec![None; sizes_mm.len()];
    for k in order {
        found[k] = lowest(space, &taken, sizes_mm[k]);
        taken.extend(found[k]);
    }
    found
}

/// The free place that ends lowest, then nearest to the near side and the near end.
fn lowest(space: &Space, taken: &[Cuboid], size_mm: [f64; 3]) -> Option<Cuboid> {
    let room_mm = space_mm(space);
    // Against the wall, or against another box on either side of it.
    let starts = |axis: usize, length_mm: f64| -> Vec<f64> {
        let mut at = vec![0.0, room_mm[axis] - length_mm];
        at.extend(taken.iter().flat_map(|t| [t.high_mm[axis], t.low_mm[axis] - length_mm]));
        // In a tube the middle is the widest.
        at.push((room_mm[axis] - length_mm) / 2.0);
        at.retain(|from| *from >= -1e-9);
        at
    };
    let mut best: Option<Cuboid> = None;
    for turn in TURNS {
        let size = turn.map(|i| size_mm[i]);
        for x in starts(0, size[0]) {
            for y in starts(1, size[1]) {
                for z in starts(2, size[2]) {
                    let one = Cuboid { low_mm: [x, y, z], high_mm: [x + size[0], y + size[1], z + size[2]] };
                    let key = |c: &Cuboid| (c.high_mm[2], c.low_mm[1], c.low_mm[0]);
                    let better = best.as_ref().is_none_or(|b| key(&one) < key(b));
                    if better && inside(space, &one) && !taken.iter().any(|t| t.meets(&one)) {
                        best = Some(one);
                    }
                }
            }
        }
    }
    best
}

#[cfg(test)]
mod tests {
    use super::*;

    const BAY: Space = Space::Box { length_mm: 100.0, width_mm: 50.0, depth_mm: 20.0 };

    fn brick(from_mm: f64) -> Option<Cuboid> {
        Some(Cuboid { low_mm: [from_mm, 0.0, 0.0], high_mm: [from_mm + 70.0, 50.0, 20.0] })
    }

    /// Worked by hand: 30 mm are left beside a brick of 70 in 100. In the middle they are two times 15.
    #[test]
    fn a_brick_in_the_middle_is_pushed_aside_for_a_module() {
        let found = bay(&BAY, brick(15.0), &[], &[[28.0, 40.0, 10.0]]);
        let at = found.brick.expect("it stays in the bay");
        assert!(found.boxes[0].is_some_and(|b| !b.meets(&at)), "{found:?}");
        assert!(at.low_mm[0] == 0.0 || at.low_mm[0] == 30.0, "{found:?}");
        // What goes beside it as it lies leaves it there.
        let thin = bay(&BAY, brick(15.0), &[], &[[14.0, 40.0, 10.0]]);
        assert_eq!(thin.brick, brick(15.0));
    }

    #[test]
    fn what_finds_no_place_is_told_and_nothing_overlaps() {
        let sizes = [[30.0, 25.0, 20.0], [30.0, 25.0, 20.0], [10.0, 10.0, 10.0]];
        let found = bay(&BAY, brick(0.0), &[], &sizes);
        assert_eq!(found.boxes.iter().map(Option::is_some).collect::<Vec<_>>(), [true, true, false]);
        let all: Vec<Cuboid> = found.boxes.iter().flatten().copied().chain(found.brick).collect();
        for (i, one) in all.iter().enumerate() {
            assert!(inside(&BAY, one) && !all[..i].iter().any(|other| other.meets(one)), "{found:?}");
        }
        // Turned on its side it goes in.
        let upright = bay(&BAY, brick(0.0), &[], &[[50.0, 20.0, 30.0]]);
        assert!(upright.boxes[0].is_some(), "{upright:?}");
    }

    #[test]
    fn the_corner_of_a_box_stays_inside_a_tube() {
        let tube = Space::Cylinder { diameter_mm: 40.0, length_mm: 100.0 };
        let cells = Some(Cuboid { low_mm: [0.0, 10.0, 10.0], high_mm: [70.0, 30.0, 30.0] });
        let wide = bay(&tube, cells, &[], &[[25.0, 30.0, 26.0]]);
        assert!(wide.boxes[0].is_some_and(|b| inside(&tube, &b)), "{wide:?}");
        assert_eq!(bay(&tube, cells, &[], &[[25.0, 36.0, 26.0]]).boxes, [None]);
    }

    #[test]
    fn a_compartment_without_the_brick_is_all_there_is_for_things() {
        let found = bay(&BAY, None, &[], &[[90.0, 45.0, 18.0], [30.0, 25.0, 20.0]]);
        assert_eq!(found.boxes.iter().map(Option::is_some).collect::<Vec<_>>(), [true, false]);
        assert_eq!(found.brick, None);
    }
}
