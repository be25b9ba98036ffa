//! Functions that say what has a syntax of its own: worked out as that.

use syntax::DialectName;
use syntax::tree::{Call, Expr, ExprKind, IsTest, IsWhat, LikeTest, LikeWord, Spelled};

use super::Compiler;
use crate::failure::Outcome;
use crate::plan::Typed;

impl Compiler<'_> {
    /// EQUAL_NULL and the functions of types of Spark, LIKE and GLOB of SQLite and its hints, Oracle's
    /// functions that make one type of another.
    pub(super) fn as_syntax(&mut self, name: &str, call: &Call<Spelled>) -> Outcome<Option<Typed>> {
        let of = |at: usize| call.arguments[at].value.clone();
        let cast = |word: &str| Expr::cast(of(0), word).kind;
        let held = |word: LikeWord, operand: Expr<Spelled>, pattern: Expr<Spelled>| {
            let escape = call.arguments.get(2).map(|a| a.value.clone());
            ExprKind::Like(Box::new(LikeTest { operand, negated: false, word, quantifier: None, pattern, escape }))
        };
        let like = |word: LikeWord| held(word, of(1), of(0));
        let kind = match (self.dialect(), name, call.arguments.len()) {
            (DialectName::Spark, "EQUAL_NULL", 2) => {
                ExprKind::Is(Box::new(IsTest { operand: of(0), negated: false, what: IsWhat::Same(of(1)), one_word: false }))
            }
            (DialectName::Spark, "BOOLEAN" | "TINYINT" | "SMALLINT" | "INT" | "BIGINT" | "FLOAT" | "DOUBLE" | "STRING" | "BINARY", 1) => {
                cast(name)
            }
            (DialectName::Oracle, "TO_BINARY_DOUBLE", 1) => cast("BINARY_DOUBLE"),
            (DialectName::Oracle, "TO_BINARY_FLOAT", 1) => cast("BINARY_FLOAT"),
            (DialectName::Oracle, "TO_CLOB" | "TO_NCLOB" | "TO_NCHAR", 1) => return self.plain_as("TO_CHAR", call).map(Some),
            (DialectName::Spark, "LIKE", 2 | 3) => held(LikeWord::Like, of(0), of(1)),
            (DialectName::Spark, "ILIKE", 2 | 3) => held(LikeWord::Ilike, of(0), of(1)),
            (DialectName::Sqlite, "LIKE", 2 | 3) => like(LikeWord::Like),
            (DialectName::Sqlite, "GLOB", 2) => like(LikeWord::Glob),
            (DialectName::Sqlite, "LIKELY" | "UNLIKELY", 1) | (DialectName::Sqlite, "LIKELIHOOD", 2) => of(0).kind,
            _ => return Ok(None),
        };
        self.expr(&Expr::synthetic(kind)).map(Some)
    }
}
