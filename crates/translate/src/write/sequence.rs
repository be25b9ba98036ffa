//! Numbers from sequences, which most dialects name as they name a table.

use meaning::{Meant, Phrase, constant, phrase};
use syntax::DialectName;
use syntax::tree::{Call, CallForm, Expr, ExprKind, Ident, ObjectName, Spelled};
use values::Value;

use super::Writer;

impl Writer<'_> {
    /// The next or the last number of the sequence that a constant names, where the target doesn't take
    /// its name as a string.
    pub(super) fn write_sequence(&mut self, phrase: &Phrase, arguments: &[&Expr<Meant>]) -> Option<Expr<Spelled>> {
        let next = match phrase.id {
            phrase::SESSION_NEXT_IN_SEQUENCE => true,
            phrase::SESSION_CURRENT_IN_SEQUENCE => false,
            _ => return None,
        };
        let Some(Value::Text(name)) = constant(arguments.first()?) else { return None };
        if name.contains('"') {
            return None;
        }
        let parts = name.split('.').map(Ident::synthetic).collect();
        let mut name = ObjectName { parts: self.names(parts) };
        let column = |name: ObjectName| Expr::synthetic(ExprKind::Column(name));
        let called = |word: &str, name: ObjectName| Call::plain(ObjectName::single(Ident::synthetic(word)), vec![column(name)]);
        let call = match self.to.name {
            DialectName::Oracle => {
                name.parts.push(Ident::synthetic(if next { "NEXTVAL" } else { "CURRVAL" }));
                return Some(column(name));
            }
            DialectName::Mariadb => called(if next { "NEXTVAL" } else { "LASTVAL" }, name),
            DialectName::SqlServer if next => Call { form: CallForm::NextValue, ..called("NEXT", name) },
            _ => return None,
        };
        Some(Expr::synthetic(ExprKind::Call(Box::new(call))))
    }
}
