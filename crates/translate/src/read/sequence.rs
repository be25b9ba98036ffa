//! Numbers from sequences, which dialects name in their own ways.

use meaning::{Constant, Meant, phrase};
use syntax::DialectName;
use syntax::tree::{Argument, Call, CallForm, Expr, ExprKind, Ident, ObjectName, Spelled};

use super::Reader;

impl Reader<'_> {
    /// `harbour.berth_no.NEXTVAL` of Oracle, where no table is meant.
    pub(super) fn sequence(&self, name: &ObjectName) -> Option<ExprKind<Meant>> {
        let (last, sequence) = name.parts.split_last()?;
        let phrase = match () {
            () if self.from.name != DialectName::Oracle || sequence.is_empty() => return None,
            () if last.is_word("nextval") => phrase::SESSION_NEXT_IN_SEQUENCE,
            () if last.is_word("currval") => phrase::SESSION_CURRENT_IN_SEQUENCE,
            () => return None,
        };
        Some(of_sequence(phrase, sequence))
    }

    /// NEXT VALUE FOR a sequence, and MariaDB's NEXTVAL and LASTVAL of its bare name.
    pub(super) fn sequence_call(&self, call: &Call<Spelled>) -> Option<ExprKind<Meant>> {
        let word = call.function.as_single()?;
        let mariadb = self.from.name == DialectName::Mariadb && call.form == CallForm::Plain;
        let phrase = match () {
            () if call.form == CallForm::NextValue || (mariadb && word.is_word("nextval")) => phrase::SESSION_NEXT_IN_SEQUENCE,
            () if mariadb && word.is_word("lastval") => phrase::SESSION_CURRENT_IN_SEQUENCE,
            () => return None,
        };
        let [Argument { value: Expr { kind: ExprKind::Column(name), .. }, .. }] = call.arguments.as_slice() else { return None };
        call.tail.is_none().then(|| of_sequence(phrase, &name.parts))
    }
}

/// A phrase about the sequence of this name.
fn of_sequence(phrase: &str, name: &[Ident]) -> ExprKind<Meant> {
    let words: Vec<&str> = name.iter().map(|p| p.text.as_str()).collect();
    let value = Constant::Text { value: words.join(".").into(), written: None };
    crate::shape::call(phrase, vec![Expr::synthetic(ExprKind::Literal(value))]).kind
}
