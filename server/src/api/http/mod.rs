//! How questions come and answers go: values of an address, bodies, files to keep.

pub mod asked;
pub mod body;
pub mod download;
