//! What holds of the project as a whole: the scripts behind `./start` and `./test`, on machines made of stand-ins (what this machine has
//! does not count), and how the program speaks.

mod database;
mod lock_file;
mod machine;
mod service;
mod tools;
mod words;
