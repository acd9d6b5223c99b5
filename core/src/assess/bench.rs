//! The bench on which one plan is assessed: the plan, its ways, and the ledger the stages fill in turn.

use std::rc::Rc;

use super::ledger::Ledger;
use crate::brick::{JointWire, Laid, Sharing};
use crate::chemistry::{Chemistry, Facts};
use crate::device::Level;
use crate::plan::{
    Cell, Choice, Converts, Load, Module, NodeKind, Pack, Plan, Protects, StateName, Strip, Way, WireSize,
};
use crate::wiring;

/// One load level on the battery side.
#[derive(Debug, Clone)]
pub struct Asked<'a> {
    /// As surveyed.
    pub load: &'a Load,
    /// At the battery, at the lowest loaded volts.
    pub level: Level,
}

/// Something that ends the discharge, or asks somebody to.
#[derive(Debug, Clone)]
pub struct Guard {
    /// In words.
    pub who: String,
    /// Its threshold in pack volts; absent where nobody stated it.
    pub pack_v: Option<f64>,
    /// Whether it only sounds an alarm.
    pub only_warns: bool,
}

/// The bench.
pub struct Bench<'a> {
    /// What is assessed.
    pub plan: &'a Plan,
    /// The pack that feeds the device.
    pub pack: &'a Pack,
    /// From the pack to the device, running.
    pub line: Way<'a>,
    /// From the charger to the pack, charging.
    pub charge_way: Way<'a>,
    /// Load levels at the battery; filled by the load stage.
    pub asked: Vec<Asked<'a>>,
    /// What ends the discharge; filled by the voltage stage.
    pub guards: Vec<Guard>,
    /// The brick as it is laid, once it is.
    pub laid: Option<Laid<'a>>,
    /// How its current shares itself; found by the brick stage, whatever the readings' errors.
    pub sharing: Option<Rc<Sharing>>,
    /// Every figure found so far.
    pub ledger: Ledger,
}

impl<'a> Bench<'a> {
    /// Lays a plan on the bench. `None` for a plan without a pack, which `Plan::check` refuses.
    pub fn lay(plan: &'a Plan) -> Option<Self> {
        Some(Bench {
            plan,
            pack: plan.main_pack()?,
            line: plan.way(NodeKind::Pack, NodeKind::Device, StateName::Running),
            charge_way: plan.way(NodeKind::Charger, NodeKind::Pack, StateName::Charging),
            asked: vec![],
            guards: vec![],
            laid: Laid::of(plan),
            sharing: None,
            ledger: Ledger::default(),
        })
    }

    /// Facts of the pack's chemistry.
    pub fn facts(&self) -> Option<&'static Facts> {
        self.pack.chemistry.map(Chemistry::facts)
    }

    /// The cell, if one is chosen.
    pub fn cell(&self) -> Option<&'a Cell> {
        self.pack.cell.part()
    }

    /// The strip, if one is chosen.
    pub fn strip(&self) -> Option<&'a Strip> {
        self.pack.strip.part()
    }

    /// The wire that joins pieces of one node: the first of the line that is chosen; else a usual one of unknown limit.
    pub fn joint_wire(&self) -> JointWire {
        const USUAL: WireSize = WireSize::Awg { awg: 14 };
        let ohm_per_mm = |size: &WireSize| wiring::ohm_per_m(size) / 1000.0;
        match self.line.runs.iter().find_map(|r| r.wire.part()) {
            Some(wire) => JointWire {
                ohm_per_mm: ohm_per_mm(&wire.size),
                limit_a: Some(wiring::ampacity_a(wire, self.plan.environment.use_max_c)),
            },
            None => JointWire { ohm_per_mm: ohm_per_mm(&USUAL), limit_a: None },
        }
    }

    /// Series and parallel counts, once both are set.
    pub fn counts(&self) -> Option<(f64, f64)> {
        Some((f64::from(self.pack.series?), f64::from(self.pack.parallel?)))
    }

    /// The converter on the way to the device.
    pub fn converter(&self) -> Option<(&'a Module, &'a Converts)> {
        self.line.nodes.iter().find_map(|n| n.module().and_then(|m| m.converts.as_ref().map(|c| (m, c))))
    }

    /// The board on the way to the device.
    pub fn line_board(&self) -> Option<(&'a Module, &'a Protects)> {
        protecting(&self.line)
    }

    /// The board on the way from the charger.
    pub fn charge_board(&self) -> Option<(&'a Module, &'a Protects)> {
        protecting(&self.charge_way)
    }

    /// Warmest air that fuses and boards work in: the hottest use.
    pub fn air_c(&self) -> f64 {
        self.plan.environment.use_max_c
    }

    /// Any board of the plan, wherever it stands.
    pub fn any_board(&self) -> Option<(&'a Module, &'a Protects)> {
        self.plan.nodes.iter().find_map(|n| n.module().and_then(|m| m.protects.as_ref().map(|p| (m, p))))
    }

    /// Whether the first node of that kind is still to be decided.
    pub fn is_open(&self, kind: NodeKind) -> bool {
        self.plan.nodes.iter().any(|n| n.kind == kind && matches!(n.part, Choice::Open))
    }

    /// Pointer to the first node of that kind, for a working to lead to.
    pub fn pointer(&self, kind: NodeKind) -> String {
        self.plan.nodes.iter().position(|n| n.kind == kind).map_or_else(String::new, |i| format!("/nodes/{i}"))
    }

    /// Pointer to the figures of the electronic part at the first node of that kind.
    pub fn module_pointer(&self, kind: NodeKind) -> String {
        format!("{}/part/part/module", self.pointer(kind))
    }
}

fn protecting<'a>(way: &Way<'a>) -> Option<(&'a Module, &'a Protects)> {
    way.nodes.iter().find_map(|n| n.module().and_then(|m| m.protects.as_ref().map(|p| (m, p))))
}
