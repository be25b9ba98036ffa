//! One case for each table and alias, for targets that tell them apart by it.
//!
//! `SELECT V.name FROM Vessels v` is a query of one table in most dialects; MySQL on Linux knows
//! neither `V` nor, if it was made as `vessels`, the table.

use syntax::Folding;
use syntax::tree::{Ident, ObjectName, Quote};

use super::Reader;

impl Reader<'_> {
    /// A qualifier, part `at` of a name, gets the letters that FROM has for it.
    pub(super) fn in_one_case(&self, name: &mut ObjectName, at: usize) {
        if !self.is_any_case(&name.parts[at]) {
            return;
        }
        let declared = self.scopes.iter().rev().find_map(|f| f.relation(&name.parts[at].text)).and_then(|r| r.name.clone());
        if let Some(declared) = declared {
            name.parts[at] = Ident { text: declared, quote: Quote::None, token: name.parts[at].token };
        }
    }

    /// A table gets the letters that the schema, or WITH, has for it.
    pub(super) fn table_in_one_case(&self, name: &mut ObjectName) {
        if !self.is_any_case(name.last()) {
            return;
        }
        let text = &name.last().text;
        let common = if name.parts.len() == 1 { self.common.iter().rev().find(|(n, _)| n.eq_ignore_ascii_case(text)) } else { None };
        let declared = match common {
            Some((name, _)) => Some(name.as_str()),
            None => self.catalog.schema.table(text).map(|t| t.name.as_str()),
        };
        if let (Some(declared), Some(last)) = (declared, name.parts.last_mut()) {
            *last = Ident { text: declared.into(), quote: Quote::None, token: last.token };
        }
    }

    /// The source takes the name in any case, and the target wants it in one.
    fn is_any_case(&self, ident: &Ident) -> bool {
        let quoted_alike = match self.spelling.folding {
            Folding::Upper => !ident.text.contains(char::is_lowercase),
            Folding::Lower => !ident.text.contains(char::is_uppercase),
            Folding::CaseInsensitive => true,
        };
        self.one_case && (ident.quote == Quote::None || quoted_alike)
    }
}
