//! What leaves the program: the wiring diagram, sheets at 1:1, files for other programs. Uses every room before it; nothing
//! uses it.

pub mod diagram;
pub mod exports;
pub mod json;
pub mod sheets;
