//! COLLATE by what it does.

use meaning::{Breach, Collation, CollationWord, Meant, Note};
use syntax::DialectName;
use syntax::tree::{Call, Expr, ExprKind, Ident, Literal, ObjectName, Quote, Span, Spelled, StageMap};

use super::Writer;

impl Writer<'_> {
    /// A string with a collation: with the target's of the same effect, if it has one.
    pub(super) fn write_collate(&mut self, operand: Expr<Meant>, name: ObjectName, span: Span) -> Expr<Spelled> {
        let words = name.dotted();
        let operand = self.expr(operand);
        // One of ours is in the target's words already.
        if self.from.name == self.to.name || !span.is_read() {
            return Expr { kind: ExprKind::Collate(Box::new(operand), name), span };
        }
        // The two share their older names.
        let family = |d: DialectName| matches!(d, DialectName::Mysql | DialectName::Mariadb);
        if family(self.from.name) && family(self.to.name) && !words.contains("0900") && !words.contains("uca1400") {
            return Expr { kind: ExprKind::Collate(Box::new(operand), name), span };
        }
        let collation = Collation::named(&words, self.from.name);
        let Some((collation, (word, letters))) = collation.and_then(|c| Some((c, c.said(self.to)?))) else {
            let message = format!("{} has no collation known to do what {words} does", self.to.name.title());
            let advice = "name a collation of the target's by hand, or compare LOWER of both sides where only case is passed over";
            self.note(Note::new("construct.not-translated", span, message).advise(advice));
            return operand;
        };
        self.note_collation(collation, word, letters, &words, span);
        match word {
            CollationWord::Default => Expr { span, ..operand },
            CollationWord::Name(name, quoted) => {
                let part = |text: &str| Ident { quote: if quoted { Quote::Name } else { Quote::None }, ..Ident::synthetic(text) };
                let name = ObjectName { parts: name.split('.').map(part).collect() };
                Expr { kind: ExprKind::Collate(Box::new(operand), name), span }
            }
            CollationWord::Call(name) => {
                let name = Expr::synthetic(ExprKind::Literal(Literal::Text(format!("'{name}'").into())));
                let call = Call::plain(ObjectName::single(Ident::synthetic("COLLATE")), vec![operand, name]);
                Expr { kind: ExprKind::Call(Box::new(call)), span }
            }
        }
    }

    fn note_collation(&mut self, collation: Collation, word: CollationWord, letters: meaning::Letters, words: &str, span: Span) {
        if letters != collation.letters {
            let title = self.to.name.title();
            let message = format!("{title} has no collation like {words}: blanks at the end of a string count on one side only");
            let breach = Breach::Strings { source: collation.letters, target: letters, only_like: false };
            self.note(Note::new("text.collation", span, message).advise("make sure that no text ends in a blank").broken_by(breach));
        } else if collation.sorts_by_language && !sorts_by_language(word, self.to.name) {
            let message =
                format!("{words} sorts as a dictionary does, what replaces it in {} by the codes of characters", self.to.name.title());
            self.note(
                Note::new("text.collation", span, message).advise("where the order matters, name a collation of the target's by hand"),
            );
        }
    }
}

fn sorts_by_language(word: CollationWord, dialect: DialectName) -> bool {
    match word {
        CollationWord::Name(name, _) => Collation::named(name, dialect).is_some_and(|c| c.sorts_by_language),
        CollationWord::Default => false,
        CollationWord::Call(_) => true,
    }
}
