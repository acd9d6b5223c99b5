//! The bench on which one plan is assessed: the plan, its ways, and the ledger the stages fill in turn.

use std::rc::Rc;

use super::figures::cells::{PACK_AH, PACK_OHM};
use super::figures::device::{CHARGER_V as OLD_CHARGER_V, HOST_CHARGE_V};
use super::figures::voltage::{EMPTY_V, FULL_V};
use super::ledger::Ledger;
use crate::brick::{JointWire, Laid, Sharing};
use crate::charging::{self, ChargedBy};
use crate::chemistry::{Chemistry, Facts};
use crate::device::Level;
use crate::plan::{
    Cell, Charges, ChargesAs, Choice, Converts, HostCircuit, Load, Module, Node, NodeKind, Pack, Plan, Protects,
    StateName, Strip, Supplies, Way, WireSize,
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

    /// What the charger does, if one is chosen.
    pub fn charges(&self) -> Option<&'a Charges> {
        self.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref())
    }

    /// What the ways to charge this pack are judged on; full once every stage has entered its figures.
    pub fn charge_situation(&self) -> charging::Situation {
        let l = &self.ledger;
        let d = &self.plan.device;
        charging::Situation {
            series: self.pack.series,
            facts: self.facts(),
            full_v: l.value(&FULL_V),
            ah: l.value(&PACK_AH),
            pack_ohm: l.value(&PACK_OHM),
            empty_v: l.value(&EMPTY_V),
            bleeds: self.any_board().map(|(_, board)| board.bleed_a.is_some_and(|a| a > 0.0)),
            host: d.brains.charges_itself,
            host_becomes: self.plan.charging.host,
            host_v: l.value(&HOST_CHARGE_V),
            original: d.original.chemistry,
            old_charger_v: l.value(&OLD_CHARGER_V),
            planned: self.charged_by(),
        }
    }

    /// Who is planned to charge the pack.
    fn charged_by(&self) -> Option<ChargedBy> {
        let Some(charges) = self.charges() else {
            let host = self.plan.charging.host == Some(HostCircuit::ChargesPack);
            return host.then_some(ChargedBy::HostCircuit);
        };
        Some(match charges.kind {
            ChargesAs::FixedVolts => ChargedBy::Converter,
            ChargesAs::Nickel | ChargesAs::LeadAcid => ChargedBy::OldCharger,
            ChargesAs::CcCv if charges.balance_a.is_some() => ChargedBy::HobbyCharger,
            ChargesAs::CcCv if charges.own_supply => ChargedBy::WallCharger,
            ChargesAs::CcCv => ChargedBy::ChargeModule,
        })
    }

    /// Where the charge current meets contacts: the jack; for a hobby charger without one, the plug of the pack.
    pub fn charge_contacts(&self) -> Vec<&'a Node> {
        let contacts =
            |way: &Way<'a>| way.nodes.iter().copied().filter(|n| n.connector().is_some()).collect::<Vec<_>>();
        let at_jack = contacts(&self.charge_way);
        let hobby = self.charges().is_some_and(|c| c.balance_a.is_some());
        if at_jack.is_empty() && hobby { contacts(&self.line) } else { at_jack }
    }

    /// What the charger's supply gives, if one is chosen.
    pub fn supplies(&self) -> Option<&'a Supplies> {
        self.plan.module(NodeKind::Supply).and_then(|m| m.supplies.as_ref())
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
