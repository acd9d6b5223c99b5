//! The compartment as a whole: the brick where it is laid, and every thing beside it whose size is known.

use serde::Serialize;
use utoipa::ToSchema;

use super::Workspace;
use crate::physics::brick::{Cuboid, bay, space_mm};
use crate::plan::{Node, Sits};

/// A thing that goes into the compartment.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BayThing {
    /// The place that has it.
    pub node: String,
    /// Its name.
    pub name: String,
    /// Where it goes; absent where it finds no place.
    pub at: Option<Cuboid>,
}

/// The compartment with everything in it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BayPlan {
    /// Name of the compartment.
    pub name: String,
    /// Its inner size along x, y and z.
    pub space_mm: [f64; 3],
    /// Where the brick lies: as it is laid, or pushed aside for the things.
    pub brick: Cuboid,
    /// Whether it was pushed aside.
    pub moved: bool,
    /// What stands in the way and stays.
    pub in_the_way: Vec<Cuboid>,
    /// The things, in the order of the plan.
    pub things: Vec<BayThing>,
}

/// Whether a thing goes into the compartment: its size is known, and no one said that it sits elsewhere.
fn goes_in(node: &Node) -> bool {
    node.size.is_some() && node.part.part().is_some() && matches!(node.sits, None | Some(Sits::Inside))
}

/// The compartment of a brick that is laid and fits. `None` where nothing beside it has a size.
pub fn bay_plan(workspace: &Workspace<'_>) -> Option<BayPlan> {
    let plan = workspace.plan;
    let laid = workspace.laid.as_ref().filter(|laid| laid.suits())?;
    let place = laid.place?;
    let fit = laid.fit().filter(|fit| fit.fits())?;
    let room_mm = space_mm(&place.space);
    let high_mm = std::array::from_fn(|i| room_mm[i] - fit.high_mm[i]);
    let brick = Cuboid { low_mm: fit.low_mm, high_mm };
    let nodes: Vec<&Node> = plan
        .nodes
        .iter()
        .enumerate()
        .filter(|(i, node)| !plan.is_seen_before(*i) && goes_in(node))
        .map(|(_, node)| node)
        .collect();
    let sizes: Vec<[f64; 3]> =
        nodes.iter().filter_map(|n| n.size.as_ref().map(|s| [s.length_mm, s.width_mm, s.height_mm])).collect();
    if sizes.is_empty() {
        return None;
    }
    let in_the_way: Vec<Cuboid> = place.in_the_way().map(Cuboid::from).collect();
    let found = bay(&place.space, brick, &in_the_way, &sizes);
    let thing = |(node, at): (&&Node, Option<Cuboid>)| BayThing {
        node: node.id.clone(),
        name: node.part.part().map(|part| part.offer().name.clone()).unwrap_or_default(),
        at,
    };
    Some(BayPlan {
        name: place.name.clone(),
        space_mm: room_mm,
        moved: found.brick != brick,
        brick: found.brick,
        in_the_way,
        things: nodes.iter().zip(found.boxes).map(thing).collect(),
    })
}
