//! The plan: one device, its packs, and the graph of nodes and runs that joins them. Plain data.

mod arrival;
mod beside;
mod blank;
mod brick;
mod buying;
mod change;
mod charging;
mod check;
mod contact;
mod device;
mod difference;
mod document;
mod feed;
pub mod fields;
mod follow;
mod graph;
mod known;
mod meter;
mod pack;
mod part;
mod position;
mod reading;
mod ready;
mod survey;
mod wiring;

pub use arrival::{Arrival, DummyBattery};
pub use beside::{Beside, FedFrom};
pub use brick::{Axis, BoardSpace, Brick, Clearances, Edge, Holder, Joining, Lattice, Layout, Seat, TakeOff, Wall};
pub use buying::{Buying, Extra};
pub use change::{Change, ChangeError, apply, put};
pub use charging::{Charger, ChargesAs, Charging, HostCircuit, Supplies};
pub use check::FieldError;
pub(crate) use check::{CELLS_MAX, faults};
pub use contact::{Contact, ContactKind};
pub use device::{Acceptance, Device, DeviceKind, Draw, Environment, Load, Original};
pub use difference::{Difference, differences};
pub use document::{FORMAT, ReadError, VERSION, pointer_of};
pub use feed::{CellHolder, ChangeOver, ChangesBy, EachCell, Feed, GaugeDivider, Leg, Outside, SecondPack};
pub use graph::{CHARGE_FUSE, Connection, CurrentPath, Node, NodeKind, Part, Sits, State, StateName, Step, ThingSize};
pub use known::{Choice, How, Known};
pub use meter::{Meter, Reads};
pub use pack::{Cell, CellGroup, CellOrigin, CellSize, ChosenCell, CurvePoint, FittedCell, Pack, Strip, StripMetal};
pub use part::{
    Alarms, Bms, Connector, Converter, CutsOff, Fuse, FuseStyle, Insulation, Module, Offer, Port, Resets, Switch,
    Topology, Wire, WireSize,
};
pub use position::Position;
pub use reading::Reading;
pub use ready::{ReadyKind, ReadyPack};
pub use survey::{
    AlarmLevel, ApartStep, Compartment, Electronics, Job, LampColour, LampCommon, LampWanted, LevelMeans, Live,
    Obstruction, Opening, OpeningPurpose, Photo, Proving, Sign, Space, Surroundings,
};
pub use wiring::{TapWires, Wiring};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// The whole design of one conversion.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(remote = "Self", deny_unknown_fields)]
pub struct Plan {
    /// Always `dense-brick/plan`.
    pub format: String,
    /// Version of the format. An older one is upgraded on reading.
    #[serde(deserialize_with = "document::upgraded")]
    pub version: u32,
    /// Name by which the maker finds it again.
    pub name: String,
    /// Free words.
    #[serde(default)]
    pub notes: String,
    /// Currency of every price in the plan, as its sign or code.
    pub currency: String,
    /// What is converted.
    pub device: Device,
    /// Temperatures the finished device is used and charged at.
    #[serde(default)]
    pub environment: Environment,
    /// The meters at hand.
    #[serde(default)]
    pub meters: Vec<Meter>,
    /// The packs; today's screens plan one.
    pub packs: Vec<Pack>,
    /// Everything the current flows through, packs and device included.
    pub nodes: Vec<Node>,
    /// The wires and direct joints between nodes.
    #[serde(rename = "runs")]
    pub connections: Vec<Connection>,
    /// Which nodes break the circuit in which state.
    pub states: Vec<State>,
    /// What hangs on the line: a gauge's divider, a change-over, a second pack.
    #[serde(default)]
    pub feed: Feed,
    /// How the pack is charged, besides the parts that do it.
    #[serde(default)]
    pub charging: Charging,
    /// How the wiring is done, besides the runs.
    #[serde(default)]
    pub wiring: Wiring,
    /// What is bought besides the parts of the circuit.
    #[serde(default)]
    pub buying: Buying,
    /// What was read on parts when they arrived.
    #[serde(default)]
    pub arrivals: Vec<Arrival>,
    /// What is at hand for the tests of a charger.
    #[serde(default)]
    pub dummy: DummyBattery,
    /// Cautions the maker accepted, with the reason.
    #[serde(default)]
    pub accepted: Vec<Acceptance>,
}

impl Plan {
    /// The node of that id.
    pub fn node(&self, id: &str) -> Option<&Node> {
        self.nodes.iter().find(|n| n.id == id)
    }

    /// The pack that feeds the device: the first one on the graph.
    pub fn main_pack(&self) -> Option<&Pack> {
        self.packs.first()
    }

    /// Every cell of the stock that the plan names.
    pub fn stock_cells(&self) -> impl Iterator<Item = &ChosenCell> {
        self.packs.iter().flat_map(|p| &p.groups).flat_map(|g| &g.cells)
    }

    /// The plan as a copy of its own: it names its cells, but uses none of the stock.
    pub fn without_reservations(mut self) -> Plan {
        for cell in self.packs.iter_mut().flat_map(|p| &mut p.groups).flat_map(|g| &mut g.cells) {
            cell.stock_id = None;
        }
        self
    }

    /// The module chosen for the first node of that kind.
    pub fn module(&self, kind: NodeKind) -> Option<&Module> {
        self.nodes.iter().filter(|n| n.kind == kind).find_map(Node::module)
    }
}
