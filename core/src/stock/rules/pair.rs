//! Pairs that aged in parallel: kept together by habit, unless their readings part.

use std::collections::HashMap;

use crate::base::limit::above;
use crate::base::phrase::Phrase;
use crate::base::quantity::Unit;
use crate::base::severity::Severity;
use crate::physics::grouping::PAIR_WITHIN_V;
use crate::stock::judgement::Judgement;
use crate::stock::report::Inspected;

/// Who is kept with whom.
pub struct Partners<'a> {
    by_label: HashMap<String, usize>,
    by_mark: HashMap<String, Vec<usize>>,
    marks: Vec<Option<&'a str>>,
}

impl<'a> Partners<'a> {
    /// Partners among some cells: a partner's label, or a mark that several share.
    pub fn of(cells: &[Inspected<'a>]) -> Self {
        let mut by_mark: HashMap<String, Vec<usize>> = HashMap::new();
        for (i, c) in cells.iter().enumerate() {
            if let Some(mark) = c.keep_with {
                by_mark.entry(mark.to_lowercase()).or_default().push(i);
            }
        }
        Partners {
            by_label: cells.iter().enumerate().map(|(i, c)| (c.label.to_lowercase(), i)).collect(),
            by_mark,
            marks: cells.iter().map(|c| c.keep_with).collect(),
        }
    }

    /// Partners of one cell.
    fn with(&self, cells: &[Inspected<'_>], i: usize) -> Vec<usize> {
        let mut found = vec![];
        if let Some(mark) = self.marks[i].map(str::to_lowercase) {
            found.extend(self.by_label.get(&mark));
            found.extend(self.by_mark.get(&mark).into_iter().flatten());
        }
        // Those who name this cell.
        found.extend(self.by_mark.get(&cells[i].label.to_lowercase()).into_iter().flatten());
        found.retain(|&f| f != i);
        found
    }

    /// Whether a cell rests apart from its partner: over 30 mV shows self-discharge in one. Common practice, no source.
    pub fn judge(&self, cells: &[Inspected<'_>], i: usize) -> Option<Judgement> {
        let own_v = cells[i].digest.now_v()?;
        let apart = |f: usize| cells[f].digest.now_v().map(|v| (f, (v - own_v).abs()));
        let (partner, apart_v) =
            self.with(cells, i).into_iter().filter_map(apart).max_by(|a, b| a.1.total_cmp(&b.1))?;
        above(apart_v, PAIR_WITHIN_V).then(|| {
            let why = Phrase::words("It rests ").value(apart_v, Unit::V).text(format!(
                " from {}, which it aged with: one of the two discharges itself. Test both again, singly.",
                cells[partner].label
            ));
            Judgement::new(Severity::Caution, "stock.pair-parted", "Apart from its partner", why)
                .by("apart = |V1 − V2|", &[("apart", apart_v, Unit::V), ("most for a pair", PAIR_WITHIN_V, Unit::V)])
        })
    }
}
