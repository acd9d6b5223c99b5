//! Long work tells how far it is and asks whether to go on. Budgets count moves, never time.

/// Someone who watches long work.
pub trait Progress: Sync {
    /// Told the share done, 0 to 1; answers whether to go on.
    fn step(&self, done_share: f64) -> bool;
}

/// No one watches; the work always goes on.
#[derive(Debug, Clone, Copy)]
pub struct Unwatched;

impl Progress for Unwatched {
    fn step(&self, _: f64) -> bool {
        true
    }
}
