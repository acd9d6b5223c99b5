//! The positions of a plan with two packs: which of them feed the device at once, and the plan as it is in each.

use super::{Choice, NodeKind, Part, Plan, ReadyKind, ReadyPack, SecondPack};

/// Which packs feed the device at once, and how.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Position {
    /// Two, one after the other.
    Series,
    /// Two, side by side.
    Parallel,
    /// The first pack alone.
    One,
    /// The second pack alone.
    Other,
}

impl Position {
    /// In words, to follow what is said of it.
    pub fn words(self) -> &'static str {
        match self {
            Position::Series => "in series",
            Position::Parallel => "in parallel",
            Position::One => "first pack alone",
            Position::Other => "second pack alone",
        }
    }
}

impl Plan {
    /// Every position that is used, the one that figures are of first.
    pub fn positions(&self) -> Vec<Position> {
        let Some(second) = &self.feed.second else { return vec![Position::One] };
        let alone = second.used_alone == Some(true);
        let used = [
            (second.used_in_series == Some(true), Position::Series),
            (second.used_in_parallel == Some(true), Position::Parallel),
            (alone, Position::One),
            (alone, Position::Other),
        ];
        let used: Vec<Position> = used.into_iter().filter(|(used, _)| *used).map(|(_, position)| position).collect();
        if used.is_empty() { vec![Position::One] } else { used }
    }

    /// The plan as it is in one position, nothing else used. `None` where too little is known of the second pack.
    pub fn in_position(&self, position: Position) -> Option<Plan> {
        let mut plan = self.clone();
        if position == Position::Other {
            return plan.with_second_alone();
        }
        let second = plan.feed.second.as_mut()?;
        second.used_in_series = Some(position == Position::Series);
        second.used_in_parallel = Some(position == Position::Parallel);
        second.used_alone = Some(false);
        Some(plan)
    }

    /// The second pack in the place of the first, with its own guard in the place of the first one's board, which sees only the first.
    fn with_second_alone(mut self) -> Option<Plan> {
        let second = self.feed.second.take()?;
        let pack = self.packs.first_mut()?;
        let ready = second.alone(pack)?;
        pack.leave_cells();
        pack.ready = Choice::chosen(ready);
        for node in self.nodes.iter_mut().filter(|n| n.kind == NodeKind::Board) {
            let first_own = matches!(node.part.part(), Some(Part::Module { module }) if module.protects.is_some());
            if second.guard.part().is_some() || first_own {
                (node.part, node.with) = (second.guard.clone(), None);
            }
        }
        self.follow();
        Some(self)
    }
}

impl SecondPack {
    /// What it is by itself: the pack that was chosen for it; else as the first, in what is stated otherwise.
    fn alone(&self, first: &super::Pack) -> Option<ReadyPack> {
        if let Some(ready) = self.ready.part() {
            return Some(ready.clone());
        }
        let series = self.series.or(first.series)?;
        if let Some(ready) = first.ready.part() {
            let mut ready = ReadyPack { series, ..ready.clone() };
            if let Some(ah) = self.capacity_ah {
                (ready.capacity_ah, ready.counted_ah) = (ah, None);
            }
            if let (Some(ohm), Some(own)) = (self.pack_ohm, ready.resistance_ohm.as_mut()) {
                own.value = ohm;
            }
            return Some(ready);
        }
        let (cell, parallel) = (first.cell.part()?, f64::from(first.parallel?));
        let mut dcir_ohm = cell.dcir_ohm.clone();
        if let Some(known) = dcir_ohm.as_mut() {
            known.value = self.pack_ohm.unwrap_or(known.value * f64::from(series) / parallel);
            known.error = known.error.map(|error| error * f64::from(series) / parallel);
        }
        Some(ReadyPack {
            offer: cell.offer.clone(),
            kind: ReadyKind::Replacement,
            chemistry: cell.chemistry,
            series,
            capacity_ah: self.capacity_ah.unwrap_or(cell.rated_ah * parallel),
            counted_ah: None,
            c_rating: None,
            continuous_a: cell.discharge_a.map(|a| a * parallel),
            charge_a: cell.charge_a.map(|a| a * parallel),
            resistance_ohm: dcir_ohm,
            length_mm: None,
            width_mm: None,
            height_mm: None,
            taps: None,
            guarded: self.each_guarded.filter(|each| *each && self.guard.part().is_none()),
            guard_v: None,
            plug_a: None,
            plug_bare: None,
            own_charger: None,
            shows_charge: None,
            fused: None,
        })
    }
}
