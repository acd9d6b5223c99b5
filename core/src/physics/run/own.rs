//! A maker's own cell: capacity, resistance and diffusion fitted to one logged discharge of it from full.
//!
//! What one discharge cannot tell apart stays as usual of the chemistry: the shape of the resistance, its RC pair, the curve.

use serde::Serialize;
use utoipa::ToSchema;

use super::fit::{Free, Logged, Piece, fit, follow};
use super::typical::typical;
use crate::base::chemistry::Chemistry;
use crate::base::table::{LineError, Table, whole};

/// Most lines of a log: three days at one a second.
const MOST_LINES: usize = 260_000;
/// The fit uses about so many of them, evenly over the charge.
const USED_LINES: usize = 400;
/// The last of a discharge falls so steeply that a little charge would weigh more than all the rest.
const USED_SHARE: f64 = 0.98;
/// Least of the rated charge that a log must hold.
const LEAST_SHARE: f64 = 0.5;
/// Largest current that can be a reading of one cell.
const MOST_A: f64 = 1000.0;
/// Volts that can be a reading of one cell.
const CELL_V: (f64, f64) = (0.5, 5.0);
/// One discharge hardly tells a slow diffusion from a larger capacity: what is usual of the chemistry holds the first. Assumed.
const FREE: [(Free, f64); 3] = [(Free::Capacity, 0.0), (Free::Resistance, 0.0), (Free::Diffusion, 0.03)];

/// What a log was fitted to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OwnCell {
    /// Charge from full to empty.
    pub capacity_ah: f64,
    /// DC resistance at 25 C.
    pub dcir_ohm: f64,
    /// Lag of diffusion.
    pub diffusion_s: f64,
    /// Root mean square of the volts that the fit still misses.
    pub error_v: f64,
    /// Lines of the log.
    pub lines: usize,
    /// Charge in the log.
    pub logged_ah: f64,
    /// Log and fit.
    pub points: Vec<OwnPoint>,
}

/// One point of a log and of its fit.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct OwnPoint {
    /// Since the start.
    pub t_s: f64,
    /// As logged.
    pub read_v: f64,
    /// As fitted.
    pub fitted_v: f64,
}

/// Fits a logged discharge, from full, of a cell of which capacity and DC resistance are roughly known.
pub fn own_cell(
    chemistry: Chemistry,
    rated_ah: f64,
    dcir_ohm: f64,
    cell_c: f64,
    text: &str,
) -> Result<OwnCell, Vec<LineError>> {
    let log = read(text)?;
    let charge_ah = |lines: &[Logged]| -> f64 {
        lines.windows(2).map(|w| w[1].current_a * (w[1].time_s - w[0].time_s) / 3600.0).sum()
    };
    let logged_ah = charge_ah(&log);
    if logged_ah < LEAST_SHARE * rated_ah {
        return Err(whole(format!(
            "the log takes {logged_ah:.3} Ah out of a cell of {rated_ah} Ah: log a discharge from full to empty"
        )));
    }
    let ends_s = log.last().map_or(0.0, |l| l.time_s) * USED_SHARE;
    let used = thinned(log.iter().take_while(|l| l.time_s <= ends_s).copied().collect());
    let usual = typical(chemistry).cell(chemistry, logged_ah, dcir_ohm);
    let piece = [Piece { soc: 1.0, lines: used }];
    let (model, error_v) = fit(&usual, &piece, cell_c, &FREE);
    let volts = follow(&model, &piece[0], cell_c);
    let point = |(l, v): (&Logged, &f64)| OwnPoint { t_s: l.time_s, read_v: l.voltage_v, fitted_v: *v };
    Ok(OwnCell {
        capacity_ah: model.capacity_ah,
        dcir_ohm: dcir_ohm * model.r0.at(0.5) / usual.r0.at(0.5),
        diffusion_s: model.diffusion_s,
        error_v,
        lines: log.len(),
        logged_ah,
        points: piece[0].lines.iter().zip(&volts).map(point).collect(),
    })
}

/// About so many lines as the fit uses. What flowed in between is kept: each line has the mean current since the one before.
fn thinned(lines: Vec<Logged>) -> Vec<Logged> {
    let every = (lines.len() / USED_LINES).max(1);
    let mut kept: Vec<Logged> = lines.first().copied().into_iter().collect();
    for part in lines[1..].chunks(every) {
        let (Some(before), Some(last)) = (kept.last().copied(), part.last()) else { continue };
        let mut since_s = before.time_s;
        let mut charge_as = 0.0;
        for line in part {
            charge_as += line.current_a * (line.time_s - since_s);
            since_s = line.time_s;
        }
        kept.push(Logged { current_a: charge_as / (last.time_s - before.time_s), ..*last });
    }
    kept
}

/// Reads time, current and volts of a table, in whichever sign a discharge has.
fn read(text: &str) -> Result<Vec<Logged>, Vec<LineError>> {
    let table = Table::read(text, MOST_LINES)?;
    let named = |names: &[(&'static str, f64)], what: &str, example: &str| {
        let found = names.iter().find(|(name, _)| table.column(name).is_some()).copied();
        found.ok_or_else(|| LineError { line: 1, reason: format!("no column of {what}: name it “{example}”") })
    };
    let time =
        named(&[("test_time_s", 1.0), ("time_s", 1.0), ("t_s", 1.0), ("time_ms", 1e3)], "times", "Test Time / s");
    let current = named(&[("current_a", 1.0), ("current_ma", 1e3), ("i_a", 1.0)], "currents", "Current / A");
    let volts =
        named(&[("voltage_v", 1.0), ("voltage_mv", 1e3), ("volts_v", 1.0), ("u_v", 1.0)], "volts", "Voltage / V");
    let (time, current, volts) = match (time, current, volts) {
        (Ok(t), Ok(c), Ok(v)) => (t, c, v),
        (t, c, v) => return Err([t.err(), c.err(), v.err()].into_iter().flatten().collect()),
    };
    let mut lines: Vec<Logged> = vec![];
    let mut errors = vec![];
    for row in &table.rows {
        let number = |(name, per_one): (&str, f64), low: f64, high: f64| -> Result<f64, String> {
            let text = table.text(row, name).ok_or_else(|| format!("{name} is empty"))?;
            let value = table.number(text).ok_or_else(|| format!("{name}: “{text}” is not a number"))? / per_one;
            let within = (low..=high).contains(&value);
            if within { Ok(value) } else { Err(format!("{name}: {value} is outside {low} to {high}")) }
        };
        let line = number(time, 0.0, 1e8).and_then(|time_s| {
            let logged = Logged {
                time_s,
                current_a: number(current, -MOST_A, MOST_A)?,
                voltage_v: number(volts, CELL_V.0, CELL_V.1)?,
            };
            match lines.last() {
                Some(before) if before.time_s >= time_s => {
                    Err("its time is not after that of the line before".to_owned())
                }
                _ => Ok(logged),
            }
        });
        match line {
            Ok(line) => lines.push(line),
            Err(reason) => errors.push(LineError { line: row.line, reason }),
        }
    }
    if !errors.is_empty() {
        errors.truncate(20);
        return Err(errors);
    }
    if lines.len() < 10 {
        return Err(whole(format!("{} lines: at least 10 are needed", lines.len())));
    }
    let begin_s = lines[0].time_s;
    let sign = if lines.iter().map(|l| l.current_a).sum::<f64>() < 0.0 { -1.0 } else { 1.0 };
    Ok(lines.into_iter().map(|l| Logged { time_s: l.time_s - begin_s, current_a: sign * l.current_a, ..l }).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A log made by the model itself, in the sign of the Battery Data Format: the fit finds what it was made with.
    #[test]
    fn a_log_of_a_known_cell_gives_that_cell_back() {
        let known = typical(Chemistry::LiIon).cell(Chemistry::LiIon, 2.31, 0.061);
        let lines = (0..700).map(|k| Logged { time_s: f64::from(k) * 10.0, current_a: 1.15, voltage_v: 0.0 }).collect();
        let volts = follow(&known, &Piece { soc: 1.0, lines }, 25.0);
        let mut text = "Test Time / s,Voltage / V,Current / A\n".to_owned();
        for (k, v) in volts.iter().enumerate() {
            text += &format!("{},{v:.4},-1.15\n", k * 10);
        }
        let own = own_cell(Chemistry::LiIon, 2.5, 0.035, 25.0, &text).unwrap();
        assert!((own.capacity_ah / 2.31 - 1.0).abs() < 0.01, "{}", own.capacity_ah);
        assert!((own.dcir_ohm / 0.061 - 1.0).abs() < 0.05, "{}", own.dcir_ohm);
        assert!(own.error_v < 0.002 && own.lines == 700, "{}", own.error_v);
    }

    #[test]
    fn a_bad_log_tells_every_bad_line() {
        let told = |text: &str| own_cell(Chemistry::LiIon, 2.5, 0.035, 25.0, text).unwrap_err();
        assert!(told("time_s,current_a\n0,1\n")[0].reason.contains("Voltage / V"));
        let bad = told("time_s,current_a,voltage_v\n0,1,4.1\n10,1,41\n5,1,4.0\nx,1,4\n");
        assert_eq!(bad.iter().map(|e| e.line).collect::<Vec<_>>(), [3, 5], "{bad:?}");
        let short: String = (0..20).map(|k| format!("{},1,4.0\n", k * 10)).collect();
        assert!(told(&format!("time_s,current_a,voltage_v\n{short}"))[0].reason.contains("from full to empty"));
    }
}
