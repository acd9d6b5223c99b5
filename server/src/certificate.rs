//! The certificate of the workshop's network: made here, kept, and known by its fingerprint.

use std::fs;
use std::io::Write;
use std::net::IpAddr;
use std::os::unix::fs::OpenOptionsExt;
use std::path::Path;
use std::sync::Arc;

use anyhow::Context;
use rcgen::{CertificateParams, DnType, KeyPair, SanType};
use sha2::{Digest, Sha256};
use tokio_rustls::TlsAcceptor;
use tokio_rustls::rustls::ServerConfig;
use tokio_rustls::rustls::pki_types::{CertificateDer, PrivatePkcs8KeyDer};

/// A certificate with its key.
pub struct Certificate {
    certificate: Vec<u8>,
    key: Vec<u8>,
}

impl Certificate {
    /// The one kept in a folder for these addresses, or a new one. The key can be read by its owner only.
    pub fn kept(folder: &Path, addresses: &[IpAddr]) -> anyhow::Result<Self> {
        fs::create_dir_all(folder).with_context(|| folder.display().to_string())?;
        let mut named: Vec<String> = addresses.iter().map(ToString::to_string).collect();
        named.sort();
        let named = named.join("\n");
        let file = |name: &str| folder.join(name);
        if fs::read_to_string(file("addresses")).is_ok_and(|kept| kept == named)
            && let (Ok(certificate), Ok(key)) = (fs::read(file("certificate.der")), fs::read(file("key.der")))
        {
            return Ok(Certificate { certificate, key });
        }
        let made = Self::make(addresses)?;
        let mut key =
            fs::OpenOptions::new().write(true).create(true).truncate(true).mode(0o600).open(file("key.der"))?;
        key.write_all(&made.key)?;
        fs::write(file("certificate.der"), &made.certificate)?;
        // Last, so that a half-written pair is made anew.
        fs::write(file("addresses"), named)?;
        Ok(made)
    }

    fn make(addresses: &[IpAddr]) -> anyhow::Result<Self> {
        let key = KeyPair::generate()?;
        let mut wanted = CertificateParams::new(vec!["localhost".to_owned()])?;
        wanted.distinguished_name.push(DnType::CommonName, "Dense Brick");
        wanted.subject_alt_names.extend(addresses.iter().map(|&address| SanType::IpAddress(address)));
        let certificate = wanted.self_signed(&key)?.der().to_vec();
        Ok(Certificate { certificate, key: key.serialize_der() })
    }

    /// The certificate itself, DER.
    pub fn der(&self) -> &[u8] {
        &self.certificate
    }

    /// SHA-256 of the certificate, in pairs, as browsers show it.
    pub fn fingerprint(&self) -> String {
        let pairs: Vec<String> = Sha256::digest(&self.certificate).iter().map(|byte| format!("{byte:02X}")).collect();
        pairs.join(":")
    }

    /// What encrypts connections with it.
    pub fn acceptor(&self) -> anyhow::Result<TlsAcceptor> {
        let chain = vec![CertificateDer::from(self.certificate.clone())];
        let key = PrivatePkcs8KeyDer::from(self.key.clone()).into();
        let config =
            ServerConfig::builder_with_provider(Arc::new(tokio_rustls::rustls::crypto::ring::default_provider()))
                .with_safe_default_protocol_versions()?
                .with_no_client_auth()
                .with_single_cert(chain, key)?;
        Ok(TlsAcceptor::from(Arc::new(config)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::os::unix::fs::PermissionsExt;

    #[test]
    fn it_is_kept_for_the_same_addresses_and_its_key_is_nobody_elses() {
        let folder = tempfile::tempdir().unwrap();
        let here: Vec<IpAddr> = vec!["192.168.7.2".parse().unwrap(), "10.0.0.3".parse().unwrap()];
        let first = Certificate::kept(folder.path(), &here).unwrap();
        let turned: Vec<IpAddr> = here.iter().rev().copied().collect();
        assert_eq!(Certificate::kept(folder.path(), &turned).unwrap().fingerprint(), first.fingerprint());
        assert_ne!(Certificate::kept(folder.path(), &here[..1]).unwrap().fingerprint(), first.fingerprint());
        let mode = fs::metadata(folder.path().join("key.der")).unwrap().permissions().mode();
        assert_eq!(mode & 0o777, 0o600);
        assert_eq!(first.fingerprint().len(), 32 * 3 - 1);
        first.acceptor().unwrap();
    }
}
