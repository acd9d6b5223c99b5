//! The compartments as they are filled: the brick where it is laid, and every thing whose size is known.

use serde::Serialize;
use utoipa::ToSchema;

use super::Workspace;
use crate::physics::brick::{Cuboid, bay, space_mm};
use crate::plan::{Compartment, Node, Sits};

/// A thing that goes into a compartment.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BayThing {
    /// The place that has it.
    pub node: String,
    /// Its name.
    pub name: String,
    /// Where it goes; absent where it finds no place.
    pub at: Option<Cuboid>,
}

/// A compartment with everything in it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BayPlan {
    /// Id of the compartment.
    pub id: String,
    /// Name of the compartment.
    pub name: String,
    /// Its inner size along x, y and z.
    pub space_mm: [f64; 3],
    /// Where the brick lies: as it is laid, or pushed aside for the things. Absent where it goes into another one.
    pub brick: Option<Cuboid>,
    /// Whether it was pushed aside.
    pub moved: bool,
    /// What stands in the way and stays.
    pub in_the_way: Vec<Cuboid>,
    /// The things, in the order of the plan.
    pub things: Vec<BayThing>,
}

/// The compartment that a thing goes into: the one that was said, else that of the pack. `None` while its size is unknown, or where it
/// sits elsewhere.
fn place_of<'a>(workspace: &Workspace<'a>, node: &Node) -> Option<&'a Compartment> {
    let inside = node.size.is_some() && node.part.part().is_some() && matches!(node.sits, None | Some(Sits::Inside));
    let all = &workspace.plan.device.compartments;
    let said = node.compartment.as_ref().and_then(|id| all.iter().find(|c| c.id == *id));
    inside.then(|| said.or(workspace.laid.as_ref().and_then(|laid| laid.place)).or(all.first()))?
}

/// The brick where it is laid and fits, in its own compartment. Outside `None`: a brick that does not fit yet leaves nothing to fill.
fn brick_in(workspace: &Workspace<'_>, place: &Compartment) -> Option<Option<Cuboid>> {
    let own = workspace.laid.as_ref().and_then(|laid| laid.place).or(workspace.plan.device.compartments.first());
    if own.is_none_or(|own| own.id != place.id) {
        return Some(None);
    }
    let laid = workspace.laid.as_ref().filter(|laid| laid.suits())?;
    let fit = laid.fit().filter(|fit| fit.fits())?;
    let room_mm = space_mm(&place.space);
    let high_mm = std::array::from_fn(|i| room_mm[i] - fit.high_mm[i]);
    Some(Some(Cuboid { low_mm: fit.low_mm, high_mm }))
}

/// Every compartment that something with a size goes into, as it is filled.
pub fn bay_plans(workspace: &Workspace<'_>) -> Vec<BayPlan> {
    let plan = workspace.plan;
    let once = || plan.nodes.iter().enumerate().filter(|(i, _)| !plan.is_seen_before(*i)).map(|(_, node)| node);
    let filled = |place: &Compartment| {
        let nodes: Vec<&Node> =
            once().filter(|node| place_of(workspace, node).is_some_and(|p| p.id == place.id)).collect();
        if nodes.is_empty() {
            return None;
        }
        Some(bay_plan(place, brick_in(workspace, place)?, &nodes))
    };
    plan.device.compartments.iter().filter_map(filled).collect()
}

fn bay_plan(place: &Compartment, brick: Option<Cuboid>, nodes: &[&Node]) -> BayPlan {
    let sizes: Vec<[f64; 3]> =
        nodes.iter().filter_map(|n| n.size.as_ref().map(|s| [s.length_mm, s.width_mm, s.height_mm])).collect();
    let in_the_way: Vec<Cuboid> = place.in_the_way().map(Cuboid::from).collect();
    let found = bay(&place.space, brick, &in_the_way, &sizes);
    let thing = |(node, at): (&&Node, Option<Cuboid>)| BayThing {
        node: node.id.clone(),
        name: node.part.part().map(|part| part.offer().name.clone()).unwrap_or_default(),
        at,
    };
    BayPlan {
        id: place.id.clone(),
        name: place.name.clone(),
        space_mm: space_mm(&place.space),
        moved: found.brick != brick,
        brick: found.brick,
        in_the_way,
        things: nodes.iter().zip(found.boxes).map(thing).collect(),
    }
}
