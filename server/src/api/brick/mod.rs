//! The brick: laid, searched, drawn, and its printed parts.

pub mod edit;
pub mod files;
