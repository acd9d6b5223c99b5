//! The volts of the pack over a run, for drawing: at rest, and under the usual load, warm and cold.

use serde::Serialize;
use utoipa::ToSchema;

use super::figures::cells::{COLD, PACK_AH, PACK_OHM};
use super::figures::load::USUAL_A;
use super::figures::voltage::{CELL_FULL_V, CUTOFF_V};
use super::figures::wiring::PATH_OHM;
use super::fill;
use crate::chemistry;
use crate::plan::{FieldError, Plan};

/// One point of the run.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CurvePoint {
    /// Charge taken out.
    pub taken_ah: f64,
    /// Pack volts at rest.
    pub rest_v: f64,
    /// Pack volts under the usual load at 25 C.
    pub warm_v: f64,
    /// Pack volts under the usual load at the coldest use.
    pub cold_v: f64,
}

/// A run at the usual load.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DischargeCurve {
    /// From full to empty; without points while cells or load are open.
    pub points: Vec<CurvePoint>,
    /// Loaded volts at which the run ends.
    pub cutoff_v: Option<f64>,
    /// Whether the curve is a line through common figures only.
    pub assumed: bool,
}

/// Volts over the charge taken out, in fifty steps. V = S OCV(SOC) - I R.
pub fn discharge_curve(plan: &Plan) -> Result<DischargeCurve, Vec<FieldError>> {
    const STEPS: u32 = 50;
    plan.check()?;
    let bench = fill(plan, None)?;
    let l = &bench.ledger;
    let mut curve = DischargeCurve { points: vec![], cutoff_v: l.value(&CUTOFF_V), assumed: false };
    let (Some(chemistry), Some(series)) = (bench.pack.chemistry, bench.pack.series.map(f64::from)) else {
        return Ok(curve);
    };
    let ocv = chemistry::curve(chemistry);
    curve.assumed = ocv.assumed;
    let (Some(ah), Some(usual_a), Some(cold_ohm), Some(cells_ohm), Some(cold), Some(full_v)) = (
        l.value(&PACK_AH),
        l.value(&USUAL_A),
        l.value(&PATH_OHM),
        l.value(&PACK_OHM),
        l.value(&COLD),
        l.value(&CELL_FULL_V),
    ) else {
        return Ok(curve);
    };
    let warm_ohm = cold_ohm - cells_ohm * (cold - 1.0);
    let start = ocv.soc(full_v);
    curve.points = (0..=STEPS)
        .map(|i| {
            let soc = start * (1.0 - f64::from(i) / f64::from(STEPS));
            let rest_v = series * ocv.ocv_v(soc);
            CurvePoint {
                taken_ah: (start - soc) * ah,
                rest_v,
                warm_v: (rest_v - usual_a * warm_ohm).max(0.0),
                cold_v: (rest_v - usual_a * cold_ohm).max(0.0),
            }
        })
        .collect();
    Ok(curve)
}
