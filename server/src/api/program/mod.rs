//! The program itself: its health, its data whole, who may use it, its jobs, and what every page reads once.

pub mod backup;
pub mod demo;
pub mod health;
pub mod jobs;
pub mod pairing;
pub mod quantity;
pub mod reference;
