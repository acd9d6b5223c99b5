//! Small simulated instruments: they ship with the program, so that the bench can be practised and tested without any.
//!
//! A real tester's bridge may take the place of the simulated one: it speaks the lines of [`protocol`] over TCP.

pub mod cell;
pub mod protocol;
pub mod tester;
