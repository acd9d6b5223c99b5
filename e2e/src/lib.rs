//! The browser tests live in `tests/`.
