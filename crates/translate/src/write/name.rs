//! Names in the target's quotes and case.

use compact_str::CompactString;
use meaning::Note;
use syntax::tree::{Ident, ObjectName, Quote};
use syntax::{DialectName, Folding, is_reserved};

use super::Writer;

impl Writer<'_> {
    pub(super) fn names(&mut self, names: Vec<Ident>) -> Vec<Ident> {
        names.into_iter().map(|n| self.name(n)).collect()
    }

    /// A column's name with its qualifiers.
    pub(super) fn column_name(&mut self, name: ObjectName) -> ObjectName {
        let parts = self.without_default_schema(name.parts, 2);
        ObjectName { parts: self.names(parts) }
    }

    /// A table's name with its schema.
    pub(super) fn table_name(&mut self, name: ObjectName) -> ObjectName {
        if let Some(variable) = name.as_single().filter(|n| n.text.starts_with('@') && self.to.name != DialectName::SqlServer) {
            let message = format!("the table variable {} is kept as written", variable.text);
            let note = Note::new("variable.type", variable.span(), message);
            self.note(note.advise("put its rows into a table of that name, and name it here"));
        }
        let parts = self.without_default_schema(name.parts, 1);
        let parts = parts.into_iter().map(|p| self.temporary(p)).collect();
        ObjectName { parts: self.names(parts) }
    }

    /// A function's name as written: a reserved word may well be a function there, a sign may not.
    pub(super) fn own_function(&mut self, name: ObjectName) -> ObjectName {
        let parts = name.parts.into_iter().map(|p| if is_plain(&p.text) { p } else { self.name(p) });
        ObjectName { parts: parts.collect() }
    }

    /// The schema that is searched anyway needs no name: `dbo.`, `public.`, `main.`.
    fn without_default_schema(&self, mut parts: Vec<Ident>, keep: usize) -> Vec<Ident> {
        if parts.len() <= keep && parts.iter().all(|p| !p.text.is_empty()) {
            return parts;
        }
        let default = match self.from.name {
            DialectName::SqlServer => "dbo",
            DialectName::Postgres => "public",
            DialectName::Duckdb | DialectName::Sqlite => "main",
            _ => "",
        };
        while parts.len() > keep && (parts[0].text.is_empty() || (parts.len() == keep + 1 && parts[0].text.eq_ignore_ascii_case(default))) {
            parts.remove(0);
        }
        parts.retain(|p| !p.text.is_empty());
        parts
    }

    /// `#recent` is a temporary table of SQL Server.
    fn temporary(&mut self, ident: Ident) -> Ident {
        if self.from.name != DialectName::SqlServer || ident.quote != Quote::None || !ident.text.starts_with('#') {
            return ident;
        }
        let text: CompactString = ident.text.trim_start_matches('#').into();
        self.note(
            Note::new("name.unknown", ident.span(), format!("the temporary table {} is called {text} in the target", ident.text))
                .advise("create it there as a temporary table"),
        );
        Ident { text, quote: Quote::None, token: ident.token }
    }

    /// One part of a name.
    pub(super) fn name(&mut self, ident: Ident) -> Ident {
        if matches!(ident.text.as_bytes().first(), None | Some(b'@')) {
            return ident;
        }
        let plain = is_plain(&ident.text);
        // A quoted name in the letters the source folds to is the same as an unquoted one.
        let as_unquoted = match (ident.quote, self.source.folding) {
            (Quote::None, _) => true,
            (_, Folding::Upper) => plain && !ident.text.chars().any(char::is_lowercase),
            (_, Folding::Lower) => plain && !ident.text.chars().any(char::is_uppercase),
            (_, Folding::CaseInsensitive) => plain,
        };
        if !as_unquoted {
            return Ident { quote: Quote::Name, ..ident };
        }
        let needs_quotes =
            !plain || is_reserved(self.to.name, &ident.text) || (self.to.name == DialectName::Oracle && ident.text.starts_with('_'));
        if !needs_quotes {
            return Ident { quote: Quote::None, ..ident };
        }
        // It takes the letters the target folds to, as the table there was made without quotes.
        let text: CompactString = match self.target.folding {
            Folding::Upper => ident.text.to_uppercase(),
            Folding::Lower => ident.text.to_lowercase(),
            Folding::CaseInsensitive => ident.text,
        };
        Ident { text, quote: Quote::Name, token: ident.token }
    }
}

/// Letters, digits and underscores, no digit first.
fn is_plain(text: &str) -> bool {
    text.bytes().all(|b| PLAIN[b as usize]) && !text.as_bytes().first().is_some_and(u8::is_ascii_digit)
}

/// The bytes of a plain name: one look instead of several comparisons.
const PLAIN: [bool; 256] = {
    let mut plain = [false; 256];
    let mut byte = 0_u8;
    while byte < 128 {
        plain[byte as usize] = byte.is_ascii_alphanumeric() || byte == b'_';
        byte += 1;
    }
    plain
};
