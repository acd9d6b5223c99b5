//! The symbols, after IEC 60617 where it has one.

use super::drawing::{Stroke, StrokeRole};
use super::pen::Pen;

/// Half the length of every symbol that stands in a wire.
pub const HALF_MM: f64 = 5.0;

fn stroke(role: StrokeRole, d: String) -> Stroke {
    Stroke { role, d }
}

/// A cell: the long thin plate is plus.
pub fn cell(pen: Pen, half_mm: f64) -> Vec<Stroke> {
    vec![
        stroke(StrokeRole::Line, pen.line(&[[1.0, -4.0], [1.0, 4.0]])),
        stroke(StrokeRole::Heavy, pen.line(&[[-1.0, -2.0], [-1.0, 2.0]])),
        stroke(StrokeRole::Line, pen.line(&[[half_mm, 0.0], [1.0, 0.0]])),
        stroke(StrokeRole::Line, pen.line(&[[-1.0, 0.0], [-half_mm, 0.0]])),
    ]
}

/// The spring contacts at both ends of a cell in a holder.
pub fn springs(pen: Pen, half_mm: f64) -> Vec<Stroke> {
    [half_mm, -half_mm].map(|end| stroke(StrokeRole::Body, pen.circle(end * 0.72, 0.0, 0.9))).to_vec()
}

/// A fuse.
pub fn fuse(pen: Pen) -> Vec<Stroke> {
    vec![
        stroke(StrokeRole::Body, pen.rectangle(0.0, HALF_MM, 1.7)),
        stroke(StrokeRole::Line, pen.line(&[[-HALF_MM, 0.0], [HALF_MM, 0.0]])),
    ]
}

/// A fuse in a tap wire, among others close by.
pub fn small_fuse(pen: Pen) -> Vec<Stroke> {
    vec![
        stroke(StrokeRole::Body, pen.rectangle(0.0, 2.4, 1.0)),
        stroke(StrokeRole::Line, pen.line(&[[-2.4, 0.0], [2.4, 0.0]])),
    ]
}

/// A resistor.
pub fn resistor(pen: Pen) -> Vec<Stroke> {
    vec![stroke(StrokeRole::Body, pen.rectangle(0.0, HALF_MM, 1.7))]
}

/// A contact, open or closed.
pub fn switch(pen: Pen, open: bool) -> Vec<Stroke> {
    let tip = if open { [3.6, -4.2] } else { [HALF_MM - 0.8, -0.4] };
    vec![
        stroke(StrokeRole::Heavy, pen.line(&[[-HALF_MM + 0.8, 0.0], tip])),
        stroke(StrokeRole::Body, pen.circle(-HALF_MM + 0.8, 0.0, 0.8)),
        stroke(StrokeRole::Body, pen.circle(HALF_MM - 0.8, 0.0, 0.8)),
    ]
}

/// A board that opens by itself: a contact in a box.
pub fn cut_off(pen: Pen, open: bool) -> Vec<Stroke> {
    let mut strokes = vec![stroke(StrokeRole::Body, pen.rectangle(0.0, HALF_MM + 1.5, 5.0))];
    strokes.extend(switch(pen, open));
    strokes.extend(
        [-1.0, 1.0]
            .map(|end| stroke(StrokeRole::Line, pen.line(&[[end * HALF_MM, 0.0], [end * (HALF_MM + 1.5), 0.0]]))),
    );
    strokes
}

/// Pin and socket of one pole, apart when it is pulled.
pub fn contacts(pen: Pen, open: bool) -> Vec<Stroke> {
    let apart = if open { 1.6 } else { 0.0 };
    vec![
        stroke(StrokeRole::Line, pen.line(&[[-HALF_MM, 0.0], [-2.0 - apart, 0.0]])),
        stroke(StrokeRole::Line, pen.cup(0.6 - apart, 2.2)),
        stroke(StrokeRole::Fill, pen.rectangle(1.4 + apart, 1.6, 0.8)),
        stroke(StrokeRole::Line, pen.line(&[[2.0 + apart, 0.0], [HALF_MM, 0.0]])),
    ]
}

/// The mark of a wire that has a length: a stroke across it.
pub fn wire_mark(pen: Pen) -> Vec<Stroke> {
    vec![stroke(StrokeRole::Line, pen.line(&[[-1.3, 2.0], [1.3, -2.0]]))]
}

/// A round symbol, of a meter.
pub fn round(pen: Pen) -> Vec<Stroke> {
    vec![stroke(StrokeRole::Body, pen.circle(0.0, 0.0, HALF_MM - 1.0))]
}

/// A light-emitting diode; its current flows against the direction of the pen.
pub fn lamp(pen: Pen) -> Vec<Stroke> {
    let ray = |from: f64| {
        pen.line(&[[from, -2.8], [from + 1.4, -4.6], [from + 0.5, -4.3], [from + 1.4, -4.6], [from + 1.3, -3.7]])
    };
    vec![
        stroke(StrokeRole::Line, pen.line(&[[HALF_MM, 0.0], [2.0, 0.0]])),
        stroke(StrokeRole::Body, pen.line(&[[2.0, -2.2], [2.0, 2.2], [-1.6, 0.0], [2.0, -2.2]])),
        stroke(StrokeRole::Heavy, pen.line(&[[-1.6, -2.2], [-1.6, 2.2]])),
        stroke(StrokeRole::Line, pen.line(&[[-1.6, 0.0], [-HALF_MM, 0.0]])),
        stroke(StrokeRole::Line, ray(-0.6)),
        stroke(StrokeRole::Line, ray(1.2)),
    ]
}

/// Two ways that become one.
pub fn change_over(pen: Pen) -> Vec<Stroke> {
    vec![
        stroke(StrokeRole::Body, pen.rectangle(0.0, HALF_MM, HALF_MM)),
        stroke(StrokeRole::Line, pen.line(&[[-HALF_MM, 0.0], [-1.5, 0.0]])),
        stroke(StrokeRole::Line, pen.line(&[[0.0, HALF_MM], [0.0, 2.0]])),
        stroke(StrokeRole::Heavy, pen.line(&[[HALF_MM - 1.2, 0.0], [-1.5, 0.0]])),
        stroke(StrokeRole::Line, pen.line(&[[HALF_MM - 1.2, 0.0], [HALF_MM, 0.0]])),
    ]
}
