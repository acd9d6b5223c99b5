//! The scripts behind `./start` and `./test`, on machines made of stand-ins: what this machine has does not count.

mod database;
mod lock_file;
mod machine;
mod service;
mod tools;
