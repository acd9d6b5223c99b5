//! Parts outside a plan: the catalogue with its table, and sellers' texts read. Uses `base`, `physics` and
//! `plan`, whose table of figures says what a part is.

pub mod catalogue;
pub mod listing;
