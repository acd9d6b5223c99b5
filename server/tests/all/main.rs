//! The routes, the store and the command line: one program for all of them, so that it is linked once.

mod api;
mod backup;
mod brick;
mod building;
mod command_line;
mod common;
mod contract;
mod diagram;
mod gate;
mod grouping;
mod guard;
mod history;
mod listing_plans;
mod measure;
mod packs;
mod parts;
mod photos;
mod readiness;
mod running;
mod site;
mod stock;
