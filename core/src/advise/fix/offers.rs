//! What a plan could import place of what it has, each asked for once however many findings ask for it.

use std::cell::{OnceCell, RefCell};
use std::collections::HashMap;

use super::tries::{self, Try};
use crate::advise::suggest::layouts::{LayoutOffer, WayOut, offers, ways_out};
use crate::advise::suggest::{Suggestion, VoltageOption, options, suggest};
use crate::parts::catalogue::Catalogue;
use crate::plan::{FieldError, Plan};

/// The offers of one plan.
pub struct Offers<'a> {
    /// The plan.
    pub plan: &'a Plan,
    /// Parts that may be chosen.
    pub catalogue: &'a Catalogue,
    parts: RefCell<HashMap<String, Vec<Suggestion>>>,
    voltages: OnceCell<Vec<VoltageOption>>,
    layouts: OnceCell<Vec<LayoutOffer>>,
    ways_out: OnceCell<Vec<WayOut>>,
    more_parallel: OnceCell<Vec<Try>>,
}

impl<'a> Offers<'a> {
    /// Of that plan, from that catalogue.
    pub fn of(plan: &'a Plan, catalogue: &'a Catalogue) -> Self {
        Offers {
            plan,
            catalogue,
            parts: RefCell::default(),
            voltages: OnceCell::new(),
            layouts: OnceCell::new(),
            ways_out: OnceCell::new(),
            more_parallel: OnceCell::new(),
        }
    }

    /// Parts for a place, best first. Refuses a plan that cannot stand, and a place that it has not.
    pub fn parts(&self, place: &str) -> Result<Vec<Suggestion>, Vec<FieldError>> {
        if let Some(known) = self.parts.borrow().get(place) {
            return Ok(known.clone());
        }
        let found = suggest(self.plan, self.catalogue, place)?;
        self.parts.borrow_mut().insert(place.to_owned(), found.clone());
        Ok(found)
    }

    /// Ways to match the voltage, best first. Refuses a plan that cannot stand.
    pub fn voltages(&self) -> Result<&[VoltageOption], Vec<FieldError>> {
        if let Some(known) = self.voltages.get() {
            return Ok(known);
        }
        let found = options(self.plan)?.options;
        Ok(self.voltages.get_or_init(|| found))
    }

    /// Layouts of the cells, those that fit first; none while something must be known first.
    pub fn layouts(&self) -> &[LayoutOffer] {
        self.layouts.get_or_init(|| offers(self.plan).map_or_else(|_| vec![], |o| o.options))
    }

    /// More cells in parallel, one after the other, as long as they fit.
    pub fn more_parallel(&self) -> &[Try] {
        self.more_parallel.get_or_init(|| tries::more_parallel(self.plan))
    }

    /// What would make the brick fit.
    pub fn ways_out(&self) -> &[WayOut] {
        self.ways_out.get_or_init(|| ways_out(self.plan))
    }
}
