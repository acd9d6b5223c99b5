//! How the server is set up.

use std::net::IpAddr;
use std::path::PathBuf;

/// Settings of one server.
#[derive(Debug, Clone)]
pub struct Config {
    /// Address to listen on; loopback unless the workshop's network is served.
    pub address: IpAddr,
    /// Port to listen on.
    pub port: u16,
    /// Folder of the built front end.
    pub web_dir: PathBuf,
    /// Folder of the demo data.
    pub demo_dir: PathBuf,
    /// Folder that backups are kept in before a migration or a restore.
    pub backups: PathBuf,
    /// Whether the workshop's network is served, to browsers that were paired.
    pub lan: bool,
    /// Whether what a proxy on this machine passes on counts as asked from this machine.
    pub trust_proxy: bool,
    /// Whether the server ends itself on Ctrl-C and SIGTERM.
    pub handle_signals: bool,
}
