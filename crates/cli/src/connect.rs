//! Opening the engines that the user names.

use std::io::IsTerminal;
use std::time::Duration;

use engines::{Access, Address, Engine, EngineError, open_with};
use syntax::Dialect;

use crate::arguments::AccessArguments;
use crate::{Usage, config, show};

/// The address given, or the engine of a dialect that needs no server.
pub(crate) fn address(given: Option<&str>, dialect: &Dialect) -> Result<Address, Usage> {
    match given {
        Some(url) => config::current().engine(url).unwrap_or(url).parse().map_err(|e: engines::AddressError| Usage::new(e.to_string())),
        None => Ok(Address::default_for(dialect)),
    }
}

/// The engine; without it, the reason is reported.
pub(crate) fn connect(address: &Address, arguments: &AccessArguments) -> Option<Box<dyn Engine>> {
    let timeout = (arguments.timeout > 0).then(|| Duration::from_secs(arguments.timeout));
    let access = Access { writes: arguments.allow_writes, timeout };
    let opened = match open_with(address, access) {
        Err(error @ EngineError::Password { .. }) => match asked_for(&error) {
            Some(password) => open_with(&address.clone().with_password(&password), access),
            None => Err(error),
        },
        other => other,
    };
    match opened {
        Ok(engine) => {
            tracing::info!("connected: {}", engine.name());
            Some(engine)
        }
        Err(error) => {
            show::error(&error.to_string());
            None
        }
    }
}

/// A password typed by the user, where there is one to type.
fn asked_for(error: &EngineError) -> Option<String> {
    let EngineError::Password { engine, .. } = error else { return None };
    if !(std::io::stdin().is_terminal() && std::io::stderr().is_terminal()) {
        return None;
    }
    rpassword::prompt_password(format!("password for {engine}: ")).ok()
}
