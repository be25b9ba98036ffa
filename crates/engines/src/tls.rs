//! Encrypted connections: the default for servers that aren't on this machine.

use std::net::IpAddr;
use std::path::PathBuf;
use std::sync::Arc;

use rustls::pki_types::CertificateDer;
use rustls::pki_types::pem::PemObject;
use rustls::{ClientConfig, RootCertStore};
use url::{Host, Url};

/// Whether a connection is encrypted, and whom it trusts.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Tls {
    Off,
    /// The certificates of `ca`, a PEM file, or the public authorities'.
    On {
        ca: Option<PathBuf>,
    },
}

impl Tls {
    /// What an address asks for: `tls=on`, `tls=off`, `tls-ca=FILE`.
    pub(crate) fn of(url: &Url, tls: Option<String>, ca: Option<String>) -> Result<Tls, String> {
        let on = || Tls::On { ca: ca.clone().map(PathBuf::from) };
        match tls.as_deref() {
            Some("on") => Ok(on()),
            Some("off") => Ok(Tls::Off),
            Some(other) => Err(format!("tls={other} is neither tls=on or tls=off")),
            None if is_this_machine(url) && ca.is_none() => Ok(Tls::Off),
            None => Ok(on()),
        }
    }
}

fn is_this_machine(url: &Url) -> bool {
    match url.host() {
        Some(Host::Ipv4(ip)) => ip.is_loopback(),
        Some(Host::Ipv6(ip)) => ip.is_loopback(),
        Some(Host::Domain(name)) => name == "localhost" || name.parse::<IpAddr>().is_ok_and(|ip| ip.is_loopback()),
        None => false,
    }
}

/// The settings of a client that trusts `ca`, or the public authorities.
pub(crate) fn client_config(ca: Option<&PathBuf>) -> Result<ClientConfig, String> {
    let mut roots = RootCertStore::empty();
    match ca {
        Some(file) => {
            let unreadable = |e: String| format!("the certificates of {} can't be read: {e}", file.display());
            for certificate in CertificateDer::pem_file_iter(file).map_err(|e| unreadable(e.to_string()))? {
                roots.add(certificate.map_err(|e| unreadable(e.to_string()))?).map_err(|e| unreadable(e.to_string()))?;
            }
        }
        None => roots.extend(webpki_roots::TLS_SERVER_ROOTS.iter().cloned()),
    }
    let provider = Arc::new(rustls::crypto::ring::default_provider());
    let config = ClientConfig::builder_with_provider(provider).with_safe_default_protocol_versions().map_err(|e| e.to_string())?;
    Ok(config.with_root_certificates(roots).with_no_client_auth())
}
