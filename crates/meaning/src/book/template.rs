//! The templates of the phrasebook, parsed on first use.

use std::sync::RwLock;

use rustc_hash::FxHashMap;
use syntax::tree::{Expr, ExprKind, Spelled};
use syntax::{Dialect, DialectName, lex, parse_expression};

use super::file::{Piece, pieces};

/// A template: a tree with arguments as columns of names that no query uses.
#[derive(Debug, Clone, Copy)]
pub struct Template {
    /// The tree.
    pub tree: &'static Expr<Spelled>,
    /// Parts of it fall away where an argument is never NULL.
    pub tests_null: bool,
}

const MARK: &str = "_argument_";

/// The templates that were parsed, by dialect and the text's address; `None` for one that can't be read.
type Parsed = FxHashMap<(DialectName, usize), Option<Template>>;

impl Template {
    /// The template `sql` of a dialect. Each is parsed once and kept for good.
    pub fn read(sql: &'static str, dialect: DialectName) -> Option<Template> {
        static PARSED: RwLock<Option<Parsed>> = RwLock::new(None);
        let key = (dialect, sql.as_ptr().addr());
        let known = PARSED.read().ok().and_then(|all| all.as_ref().and_then(|m| m.get(&key).copied()));
        known.unwrap_or_else(|| {
            let parsed = parse(sql, dialect).map(Template::of);
            if let Ok(mut all) = PARSED.write() {
                all.get_or_insert_default().insert(key, parsed);
            }
            parsed
        })
    }

    fn of(tree: Expr<Spelled>) -> Template {
        let tests_null = tree.any(&mut |e| match &e.kind {
            ExprKind::Is(_) => true,
            ExprKind::Call(call) => call.function.as_single().is_some_and(|n| n.is_word("coalesce")),
            _ => false,
        });
        Template { tree: Box::leak(Box::new(tree)), tests_null }
    }

    /// The name of the argument that `expr` represents, if it is one of a template's.
    pub fn argument(expr: &Expr<Spelled>) -> Option<&str> {
        expr.as_name().and_then(|ident| ident.text.strip_prefix(MARK))
    }

    /// How often an argument is in it.
    pub fn uses(&self, name: &str) -> usize {
        let mut count = 0;
        self.tree.any(&mut |e| {
            count += usize::from(Template::argument(e) == Some(name));
            false
        });
        count
    }
}

fn parse(sql: &str, dialect: DialectName) -> Option<Expr<Spelled>> {
    let sql = marked(sql);
    let dialect = Dialect::newest(dialect);
    let tokens = lex(&sql, &dialect);
    let mut tree = parse_expression(&sql, &tokens, &dialect).ok()?;
    // Its text is gone.
    tree.forget_places();
    Some(tree)
}

/// `:name` becomes a name that no query uses; `:name...` the same.
fn marked(sql: &str) -> String {
    let mut out = String::new();
    for piece in pieces(sql) {
        match piece {
            Piece::Text(text) => out.push_str(&text.replace("...", "")),
            Piece::Argument(name) => out.extend([MARK, name]),
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::super::phrases;
    use super::*;

    #[test]
    fn every_template_and_edge_reads() {
        for (_, phrase) in phrases() {
            for edge in phrase.edges {
                let least = phrase.takes.iter().filter(|t| t.default.is_none() && !t.repeated).count();
                let rows = edge.tried.len();
                assert!(rows >= least || phrase.takes.is_empty(), "{}: too few arguments in {:?}", phrase.id, edge.tried);
            }
            for dialect in DialectName::ALL {
                let said = phrase.say[dialect as usize].iter().map(|s| s.sql).filter(|s| !s.is_empty());
                for sql in said.chain(phrase.hear[dialect as usize].iter().copied()) {
                    let template = Template::read(sql, dialect);
                    assert!(template.is_some(), "{} in {dialect} can't be read: {sql}", phrase.id);
                    // Words inside a call are places in a string, which is gone.
                    let has_words = |t: Template| {
                        t.tree.any(&mut |e| matches!(&e.kind, ExprKind::Call(c) if c.tail.as_ref().is_some_and(|t| t.clauses.is_some())))
                    };
                    assert!(!template.is_some_and(has_words), "{} in {dialect} has words inside a call: {sql}", phrase.id);
                    // No argument is lost to a reading nobody meant.
                    for name in super::super::file::arguments_in(sql) {
                        assert!(template.is_some_and(|t| t.uses(name) > 0), "{} in {dialect} loses {name}: {sql}", phrase.id);
                    }
                }
            }
        }
    }
}
