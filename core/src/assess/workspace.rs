//! The bench on which one plan is assessed: the plan, its ways, and the ledger the stages fill in turn.

use std::rc::Rc;

use super::ledger::{Input, Ledger, from_plan};
use crate::base::chemistry::{Chemistry, Facts};
use crate::base::quantity::Unit;
use crate::physics::brick::{JointWire, Laid, Sharing};
use crate::physics::device::{self, Level, Together};
use crate::physics::wiring;
use crate::plan::{
    Beside, Bms, Cell, Charger, Choice, Connection, Converter, CurrentPath, Draw, FedFrom, Load, Module, Node,
    NodeKind, Pack, Plan, Position, ReadyKind, ReadyPack, Sits, StateName, Step, Strip, Supplies, WireSize,
};

/// One load level on the battery side.
#[derive(Debug, Clone)]
pub struct Asked<'a> {
    /// As surveyed.
    pub load: &'a Load,
    /// At the battery, at the minimum loaded voltage.
    pub level: Level,
}

/// Something that ends the discharge, or asks someone to.
#[derive(Debug, Clone)]
pub struct Guard {
    /// In words.
    pub who: String,
    /// Its threshold in pack voltage; absent where none is stated.
    pub pack_v: Option<f64>,
    /// Whether it only sounds an alarm.
    pub only_warns: bool,
    /// Whether it watches the cells of its own pack, rather than the voltage of the line.
    pub own_pack: bool,
}

/// The bench.
pub struct Workspace<'a> {
    /// What is assessed.
    pub plan: &'a Plan,
    /// The pack that feeds the device.
    pub pack: &'a Pack,
    /// From the pack to the device, running.
    pub line: CurrentPath<'a>,
    /// From the charger to the pack, charging.
    pub charge_path: CurrentPath<'a>,
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

impl<'a> Workspace<'a> {
    /// Lays a plan on the bench. `None` for a plan without a pack, which `Plan::check` refuses.
    pub fn lay(plan: &'a Plan) -> Option<Self> {
        Some(Workspace {
            plan,
            pack: plan.main_pack()?,
            line: plan.path(NodeKind::Pack, NodeKind::Device, StateName::Running),
            charge_path: plan.path(NodeKind::Charger, NodeKind::Pack, StateName::Charging),
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
        self.pack.cell()
    }

    /// The pack, where it is taken as a whole.
    pub fn ready(&self) -> Option<&'a ReadyPack> {
        self.pack.ready.part()
    }

    /// Whether that is the device's own, which stays.
    pub fn is_kept(&self) -> bool {
        self.ready().is_some_and(|ready| ready.kind == ReadyKind::Kept)
    }

    /// The strip, if one is chosen.
    pub fn strip(&self) -> Option<&'a Strip> {
        self.pack.strip()
    }

    /// The wire that joins pieces of one node: the first of the line that is chosen; else a usual one of unknown limit.
    pub fn joint_wire(&self) -> JointWire {
        const USUAL: WireSize = WireSize::Awg { awg: 14 };
        let ohm_per_mm = |size: &WireSize| wiring::ohm_per_m(size) / 1000.0;
        match self.line.connections.iter().find_map(|r| r.wire.part()) {
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

    /// How the packs feed the line in the position that is judged.
    pub fn position(&self) -> Position {
        self.plan.positions().first().copied().unwrap_or(Position::One)
    }

    /// Cells in series on the line: those of both packs where two are used so.
    pub fn line_series(&self) -> Option<f64> {
        let first = self.pack.series?;
        let second = self.plan.feed.second.as_ref().filter(|_| self.position() == Position::Series);
        Some(f64::from(first + second.map_or(0, |s| s.count.unwrap_or(1) * s.series.unwrap_or(first))))
    }

    /// Cells in series of the second pack, where there is one.
    pub fn second_series(&self) -> Option<u32> {
        self.plan.feed.second.as_ref()?.series.or(self.pack.series)
    }

    /// Voltage of the second pack at which the guard chosen for it opens.
    pub fn second_guard_v(&self) -> Option<f64> {
        let module = self.plan.feed.second.as_ref()?.guard()?;
        let series = f64::from(self.second_series()?);
        let board_v = module.protects.as_ref().and_then(|p| p.over_discharge_v).map(|v| v * series);
        board_v.into_iter().chain(module.cuts_off.as_ref().map(|c| c.at_v)).reduce(f64::max)
    }

    /// Whether the first pack has a guard that watches it alone.
    pub fn first_guarded(&self) -> bool {
        self.guards.iter().any(|g| g.own_pack && !g.only_warns && g.pack_v.is_some())
    }

    /// Whether each of two packs has a guard of its own: as was said, or because both are in the plan.
    pub fn each_guarded(&self) -> Option<bool> {
        let said = self.plan.feed.second.as_ref()?.each_guarded;
        if self.second_guard_v().is_some() && self.first_guarded() { Some(true) } else { said }
    }

    /// The converter on the way to the device.
    pub fn converter(&self) -> Option<(&'a Module, &'a Converter)> {
        self.line.nodes.iter().find_map(|n| n.module().and_then(|m| m.converts.as_ref().map(|c| (m, c))))
    }

    /// What is connected beside the device: to the battery, and to the output of the converter. Without a converter all of it is on
    /// the battery.
    pub fn beside(&self) -> (Together, Together) {
        let behind = self.converter().is_some();
        let at_output = |b: &&Beside| behind && b.fed == FedFrom::Output;
        let all = &self.plan.feed.beside;
        let coils = Together { current_a: self.coils().into_iter().map(|(a, _)| a).sum(), ..Together::default() };
        (Together::of(all.iter().filter(|b| !at_output(b))).and(coils), Together::of(all.iter().filter(at_output)))
    }

    /// Coils that the battery holds while the device runs: of contactors on the line, of the switch of two packs, of the change-over's relay.
    fn coils(&self) -> Vec<(f64, Input)> {
        let coil = |a: Option<f64>, at: String| {
            let a = a.filter(|a| *a > 0.0)?;
            Some((a, from_plan(at, "Current of its coil", a, Unit::A)))
        };
        let feed = &self.plan.feed;
        let on_line =
            self.plan.nodes.iter().enumerate().filter(|(_, n)| self.line.nodes.iter().any(|own| own.id == n.id));
        let contactors =
            on_line.filter_map(|(i, n)| coil(n.switch()?.coil_a, format!("/nodes/{i}/part/part/switch/coil_a")));
        let selector = feed.second.as_ref().and_then(|s| s.selector()?.coil_a);
        let relay = feed.change_over.as_ref().and_then(|c| c.coil_a);
        contactors
            .chain(coil(selector, "/feed/second/selector/part/switch/coil_a".to_owned()))
            .chain(coil(relay, "/feed/change_over/coil_a".to_owned()))
            .collect()
    }

    /// The readings that those rest on.
    pub fn beside_inputs(&self, only: impl Fn(&Beside) -> bool) -> Vec<Input> {
        let one = |(i, b): (usize, &Beside)| {
            let (field, label, unit) = match &b.draw {
                Draw::Current { .. } => ("value_a", "Current beside", Unit::A),
                Draw::Power { .. } => ("value_w", "Power beside", Unit::W),
                Draw::Resistance { .. } => ("value_ohm", "Resistance beside", Unit::Ohm),
            };
            let at = format!("/feed/beside/{i}/draw/{field}/value");
            from_plan(at, label, device::reading(&b.draw).value, unit).about(&b.name, 1.0)
        };
        self.plan.feed.beside.iter().enumerate().filter(|(_, b)| only(b)).map(one).collect()
    }

    /// The readings behind everything that draws beside the device, coils included.
    pub fn all_beside(&self) -> Vec<Input> {
        self.beside_inputs(|_| true).into_iter().chain(self.coils().into_iter().map(|(_, input)| input)).collect()
    }

    /// Whether a node or run of the line lies behind the converter, on the device's side.
    pub fn is_behind_converter(&self, id: &str) -> bool {
        let converts =
            |step: &Step<'_>| matches!(step, Step::Node(n) if n.module().is_some_and(|m| m.converts.is_some()));
        let Some(at) = self.line.steps.iter().position(converts) else { return false };
        self.line.steps[at + 1..].iter().any(|step| match step {
            Step::Node(node) => node.id == id,
            Step::Connection(run) => run.id == id,
        })
    }

    /// The runs by which current gets from the pack to the device past a node of the line; `None` where all of it goes
    /// through that node.
    pub fn past(&self, id: &str) -> Option<Vec<&'a Connection>> {
        let way = self.plan.avoiding(NodeKind::Pack, NodeKind::Device, StateName::Running, |n| n.id == id)?;
        Some(way.connections.into_iter().filter(|r| self.line.connections.iter().all(|own| own.id != r.id)).collect())
    }

    /// Whether all current from the pack to the device goes through a node.
    pub fn all_through(&self, id: &str) -> bool {
        self.past(id).is_none()
    }

    /// Whether current gets from pack to device while it runs.
    pub fn reaches_device(&self) -> bool {
        !self.line.nodes.is_empty()
    }

    /// The board on the way to the device.
    pub fn line_board(&self) -> Option<(&'a Module, &'a Bms)> {
        protecting(&self.line)
    }

    /// The board on the way from the charger.
    pub fn charge_board(&self) -> Option<(&'a Module, &'a Bms)> {
        protecting(&self.charge_path)
    }

    /// What the charger does, if one is chosen.
    pub fn charges(&self) -> Option<&'a Charger> {
        self.plan.module(NodeKind::Charger).and_then(|m| m.charges.as_ref())
    }

    /// Where the charge current meets contacts: the jack; for a hobby charger without one, the plug of the pack.
    pub fn charge_contacts(&self) -> Vec<&'a Node> {
        let contacts =
            |way: &CurrentPath<'a>| way.nodes.iter().copied().filter(|n| n.connector().is_some()).collect::<Vec<_>>();
        let at_jack = contacts(&self.charge_path);
        let hobby = self.charges().is_some_and(|c| c.balance_a.is_some());
        if at_jack.is_empty() && hobby { contacts(&self.line) } else { at_jack }
    }

    /// Whether a jack is the input of a charge module in the device, whose supply plugs in there.
    pub fn is_input_jack(&self, node: &Node) -> bool {
        let module = self.charges().is_some_and(|c| !c.own_supply && c.balance_a.is_none());
        node.kind == NodeKind::Jack && module && self.charger_sits() == Sits::Inside
    }

    /// Where the charger sits: as was said; else a wall or hobby charger outside, a module in the device.
    pub fn charger_sits(&self) -> Sits {
        let said = self.plan.nodes.iter().find(|n| n.kind == NodeKind::Charger).and_then(|n| n.sits);
        let outside = self.charges().is_some_and(|c| c.own_supply || c.balance_a.is_some());
        said.unwrap_or(if outside { Sits::Outside } else { Sits::Inside })
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
    pub fn any_board(&self) -> Option<(&'a Module, &'a Bms)> {
        self.plan.nodes.iter().find_map(|n| n.module().and_then(|m| m.protects.as_ref().map(|p| (m, p))))
    }

    /// Whether the first node of that kind is still to be decided.
    pub fn is_open(&self, kind: NodeKind) -> bool {
        self.plan.nodes.iter().any(|n| n.kind == kind && matches!(n.part, Choice::Undecided))
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

fn protecting<'a>(way: &CurrentPath<'a>) -> Option<(&'a Module, &'a Bms)> {
    way.nodes.iter().find_map(|n| n.module().and_then(|m| m.protects.as_ref().map(|p| (m, p))))
}
