//! The templates of the phrasebook, parsed on first use.

use std::sync::OnceLock;

use syntax::tree::{Expr, ExprKind, Spelled};
use syntax::{Dialect, DialectName, lex, parse_expression};

use crate::book::{PHRASES, PhraseId, Say};

/// How a dialect says a phrase, ready for use.
#[derive(Debug, Clone, PartialEq)]
pub enum Template {
    /// A tree with arguments as columns named `_argument_NAME`.
    Tree(&'static Expr<Spelled>),
    /// Not at all.
    Refuse(&'static str),
}

const MARK: &str = "_argument_";

/// The name of the argument a template's column stands for.
pub(crate) fn argument_name(column: &str) -> Option<&str> {
    column.strip_prefix(MARK)
}

impl Template {
    /// The argument that `expr` stands for, if it is one of a template's.
    pub fn argument(expr: &Expr<Spelled>) -> Option<&str> {
        expr.as_name().and_then(|ident| argument_name(&ident.text))
    }
}

/// The parsed templates of one phrase, by dialect.
type Parsed = [OnceLock<Option<Expr<Spelled>>>; 9];

/// The template of `phrase` in `dialect`.
pub fn template(phrase: PhraseId, dialect: DialectName) -> Template {
    static PARSED: OnceLock<Vec<Parsed>> = OnceLock::new();
    let sql = match phrase.phrase().say[dialect as usize] {
        Say::Sql(sql) => sql,
        Say::Refuse(why) => return Template::Refuse(why),
    };
    let parsed = PARSED.get_or_init(|| PHRASES.iter().map(|_| [const { OnceLock::new() }; 9]).collect());
    let slot = &parsed[phrase.0 as usize][dialect as usize];
    match slot.get_or_init(|| parse(sql, dialect)) {
        Some(tree) => Template::Tree(tree),
        None => Template::Refuse("its template can't be read; please report this"),
    }
}

fn parse(sql: &str, dialect: DialectName) -> Option<Expr<Spelled>> {
    let sql = marked(sql);
    let dialect = Dialect::newest(dialect);
    let tokens = lex(&sql, &dialect);
    parse_expression(&sql, &tokens, &dialect).ok().map(unplaced)
}

/// `:name` becomes a name that no query uses; `:name...` the same.
fn marked(sql: &str) -> String {
    let mut out = String::new();
    let mut chars = sql.chars().peekable();
    let mut before = ' ';
    while let Some(c) = chars.next() {
        let starts = c == ':' && before != ':' && chars.peek().is_some_and(char::is_ascii_alphabetic);
        if starts {
            out.push_str(MARK);
        } else {
            out.push(c);
        }
        before = c;
    }
    out.replace("...", "")
}

/// The tree without the places of a text that is gone.
fn unplaced(mut expr: Expr<Spelled>) -> Expr<Spelled> {
    expr.span = syntax::tree::Span::MADE;
    match &mut expr.kind {
        ExprKind::Column(name) => name.parts.iter_mut().for_each(|p| p.token = u32::MAX),
        ExprKind::Call(call) => call.function.parts.iter_mut().for_each(|p| p.token = u32::MAX),
        ExprKind::Cast(cast) => {
            cast.to.span = syntax::tree::Span::MADE;
        }
        _ => {}
    }
    expr.exprs_mut(&mut |child| {
        let taken = std::mem::replace(child, Expr::made(ExprKind::Default));
        *child = unplaced(taken);
    });
    expr
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_template_and_edge_reads() {
        for (i, phrase) in PHRASES.iter().enumerate() {
            for edge in phrase.edges {
                assert!(edge.class(phrase.takes).is_some(), "{}: {}", phrase.id, edge.when);
            }
            for dialect in DialectName::ALL {
                let read = template(PhraseId(i as u16), dialect);
                let Template::Tree(tree) = read else {
                    assert!(matches!(phrase.say[dialect as usize], Say::Refuse(_)), "{} in {dialect}", phrase.id);
                    continue;
                };
                // Every argument has its place: none is lost to a reading nobody meant.
                for name in phrase.takes {
                    let bare = name.trim_end_matches("...");
                    let found = tree.any(&mut |e| Template::argument(e) == Some(bare));
                    assert!(found, "{} in {dialect} loses {name}", phrase.id);
                }
            }
        }
    }
}
