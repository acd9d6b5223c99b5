//! Makes Cargo notice new migrations, which are read at build time.

fn main() {
    println!("cargo:rerun-if-changed=migrations");
}
