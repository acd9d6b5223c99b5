//! How long days and months are, for all that is read out of a log.

/// A day.
pub(super) const DAY_S: f64 = 86_400.0;
/// An hour.
pub(super) const HOUR_S: f64 = 3600.0;
/// A month, for rates.
pub(super) const MONTH_DAYS: f64 = 30.4;
