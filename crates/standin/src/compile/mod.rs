//! Tree to plan: names are looked up, words chosen, types settled, by the dialect's rules.

mod aggregate;
mod as_syntax;
mod call;
mod cast;
mod constant;
mod expression;
mod from;
mod group;
mod hierarchy;
mod join;
mod json;
mod label;
mod operator;
mod order;
mod pivot;
mod query;
mod recursive;
mod select;
mod unify;
mod window;

pub(crate) use unify::{Purpose, unify};

use std::collections::HashMap;
use std::rc::Rc;

use syntax::DialectName;
use syntax::tree::{Expr, Ident, Query, Span, Spelled, Window};
use values::Value;

use crate::behaviour::{Behaviour, Collation};
use crate::failure::{Failure, Outcome};
use crate::plan::{AggregatePlan, Code, Conversion, Place, QueryPlan, Rule, Typed, WindowPlan};
use crate::store::{SourceText, Store, folded, is_mixed};
use crate::types::Type;

/// A column in sight.
#[derive(Debug, Clone)]
struct InSight {
    relation: Option<String>,
    name: String,
    ty: Type,
    /// Merged into another by USING: not shown by a bare star, not found by its bare name.
    merged: bool,
    /// It represents both sides of a USING: a qualifier is an error with this code (Oracle).
    shared: Option<String>,
    /// The table it is a column of, and its place there.
    origin: Option<(String, usize)>,
}

impl InSight {
    fn new(relation: Option<&str>, name: String, ty: Type) -> InSight {
        InSight { relation: relation.map(str::to_string), name, ty, merged: false, shared: None, origin: None }
    }
}

/// What one block sees of its own.
#[derive(Debug, Clone, Default)]
struct Scope {
    columns: Vec<InSight>,
    /// The columns of a bare star, in order.
    shown: Vec<usize>,
    /// Names that a select list gives to its entries, for dialects that see them sideways.
    aliases: Vec<(String, Typed)>,
}

/// Where in a block an expression is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Clause {
    From,
    Where,
    StartWith,
    ConnectBy,
    GroupBy,
    Having,
    List,
    OrderBy,
    /// Outside of every block.
    Alone,
}

/// The block being compiled.
struct Block {
    clause: Clause,
    aggregates: Vec<AggregatePlan>,
    /// Inside an aggregate's argument.
    in_aggregate: bool,
    windows: Vec<WindowPlan>,
    named_windows: Vec<(Ident, Window<Spelled>)>,
    /// The first column in sight: ON sees only the tables of its own join.
    first_in_sight: usize,
    /// ROWNUM was met.
    uses_row_number: bool,
    hierarchy: Option<hierarchy::Parts>,
}

impl Block {
    fn new() -> Block {
        Block {
            clause: Clause::Alone,
            aggregates: Vec::new(),
            in_aggregate: false,
            windows: Vec::new(),
            named_windows: Vec::new(),
            first_in_sight: 0,
            uses_row_number: false,
            hierarchy: None,
        }
    }
}

/// A common table expression in sight.
#[derive(Clone)]
struct Common {
    name: String,
    number: usize,
    labels: Vec<String>,
    types: Vec<Type>,
    correlated: bool,
}

/// A script variable.
#[derive(Debug, Clone)]
pub(crate) struct Variable {
    pub(crate) value: Value,
    pub(crate) ty: Type,
}

/// What a query can name.
pub(crate) struct Surroundings<'a> {
    pub(crate) store: &'a Store,
    pub(crate) behaviour: &'a Behaviour,
    pub(crate) variables: &'a HashMap<String, Variable>,
    /// The values of expressions are to be noted.
    pub(crate) watching: bool,
}

pub(crate) struct Compiler<'a> {
    source: Rc<SourceText>,
    store: &'a Store,
    behaviour: &'a Behaviour,
    variables: &'a HashMap<String, Variable>,
    watching: bool,
    scopes: Vec<Scope>,
    common: Vec<Common>,
    /// The outermost scope a column was found in since the query being compiled began.
    reach: usize,
    next_common: usize,
    block: Block,
    /// OPTION (MAXRECURSION n) of the statement (SQL Server); 0 for no limit.
    most_steps: Option<usize>,
    /// Views and functions being expanded, against going round.
    expanding: Vec<String>,
    /// Parameters of the function being expanded.
    parameters: Vec<(String, Typed, usize)>,
}

/// A query ready to run.
pub(crate) fn query(query: &Query<Spelled>, source: &Rc<SourceText>, around: &Surroundings<'_>) -> Outcome<QueryPlan> {
    Compiler::new(source, around).statement_query(query)
}

/// An expression without columns, ready to be worked out.
pub(crate) fn expression(expr: &Expr<Spelled>, source: &Rc<SourceText>, around: &Surroundings<'_>) -> Outcome<Typed> {
    Compiler::new(source, around).expr(expr)
}

impl<'a> Compiler<'a> {
    pub(crate) fn new(source: &Rc<SourceText>, around: &Surroundings<'a>) -> Self {
        Compiler {
            source: Rc::clone(source),
            store: around.store,
            behaviour: around.behaviour,
            variables: around.variables,
            watching: around.watching,
            scopes: Vec::new(),
            common: Vec::new(),
            next_common: 0,
            reach: usize::MAX,
            block: Block::new(),
            most_steps: None,
            expanding: Vec::new(),
            parameters: Vec::new(),
        }
    }

    fn dialect(&self) -> DialectName {
        self.behaviour.name()
    }

    fn is(&self, names: &[DialectName]) -> bool {
        names.contains(&self.dialect())
    }

    /// A name in the letters the dialect keeps.
    fn folded(&self, name: &Ident) -> String {
        folded(name, self.behaviour)
    }

    /// Whether a name as written means a column, table or alias of this name.
    fn names(&self, known: &str, written: &Ident) -> bool {
        match self.behaviour.spelling.folding {
            syntax::Folding::CaseInsensitive => known.eq_ignore_ascii_case(&written.text),
            // A name from a schema that folds nothing may keep its letters.
            _ => {
                known == self.folded(written)
                    || (is_mixed(known) && written.quote == syntax::tree::Quote::None && known.eq_ignore_ascii_case(&written.text))
            }
        }
    }

    fn text(&self, span: Span) -> &str {
        let token = |i: u32| self.source.tokens.get(i as usize);
        match (token(span.first), token(span.end.wrapping_sub(1))) {
            (Some(first), Some(last)) => self.source.sql.get(first.start as usize..last.end as usize).unwrap_or(""),
            _ => "",
        }
    }

    /// The words of a span kept verbatim.
    fn words(&self, span: Span) -> Vec<&str> {
        let tokens = self.source.tokens.get(span.first as usize..span.end as usize).unwrap_or(&[]);
        tokens.iter().map(|t| t.text(&self.source.sql)).collect()
    }

    /// An expression that is among words kept verbatim.
    fn verbatim_expr(&self, first: u32, end: u32) -> Outcome<Expr<Spelled>> {
        let mut tokens: Vec<syntax::Token> = self.source.tokens.get(first as usize..end as usize).unwrap_or(&[]).to_vec();
        let Some(last) = tokens.last().copied() else { return Err(Failure::unknown("this clause")) };
        tokens.push(syntax::Token {
            start: last.end,
            end: last.end,
            kind: syntax::TokenKind::End,
            symbol: syntax::Symbol::None,
            keyword: syntax::Keyword::NONE,
        });
        syntax::parse_expression(&self.source.sql, &tokens, &self.behaviour.dialect)
            .map_err(|e| Failure::new(crate::FailureKind::Syntax, e.message))
    }

    /// A failure with the place of what was being compiled, unless it has one.
    fn placed(&self, failure: Failure, span: Span) -> Failure {
        match self.bytes_of(span) {
            Some((start, end)) => failure.or_at((start as usize, end as usize)),
            None => failure,
        }
    }

    /// Where something is written in the query's own text; not in that of a view.
    fn place(&self, span: Span) -> Place {
        Place::of(self.bytes_of(span).filter(|_| self.watching && self.expanding.is_empty()))
    }

    /// The bytes of the text that a span covers.
    fn bytes_of(&self, span: Span) -> Option<(u32, u32)> {
        let token = |i: u32| self.source.tokens.get(i as usize);
        Some((token(span.first)?.start, token(span.end.wrapping_sub(1))?.end))
    }

    // --- comparing -----------------------------------------------------------------------------

    /// The collation by which strings of a type are compared alone (grouping, sorting).
    fn collation(&self, ty: &Type) -> Collation {
        match ty.as_text() {
            Some(text) => text.collation.unwrap_or(self.behaviour.collation),
            None if matches!(ty, Type::Any) => self.behaviour.collation,
            None => Collation::BINARY,
        }
    }

    /// How two values compare: an explicit collation wins; CHAR values are padded.
    fn rule(&self, a: &Type, b: &Type) -> Rule {
        let loose = self.dialect() == DialectName::Sqlite;
        let nested_nulls = self.behaviour.nested_nulls;
        let (Some(x), Some(y)) = (a.as_text(), b.as_text()) else {
            let one = a.as_text().or(b.as_text()).and_then(|t| t.collation);
            return Rule { collation: one.unwrap_or(self.behaviour.collation), loose, nested_nulls };
        };
        let collation = x.collation.or(y.collation).unwrap_or(self.behaviour.collation);
        let pads = match self.dialect() {
            // Oracle: blank-padded only if neither side is VARCHAR2; literals are CHAR.
            DialectName::Oracle => (x.fixed || x.literal) && (y.fixed || y.literal),
            // Spark: Supported Data Types, CHAR: "comparison will pad the short one".
            DialectName::Postgres | DialectName::Spark => (x.fixed && (y.fixed || y.literal)) || (y.fixed && x.literal),
            _ => false,
        };
        Rule { collation: if pads { collation.padded() } else { collation }, loose, nested_nulls }
    }

    // --- converting ----------------------------------------------------------------------------

    /// A value as one of another type, where the types differ in more than length.
    fn converted(&self, typed: Typed, to: &Type) -> Typed {
        if !needs_conversion(&typed.ty, to) {
            return typed;
        }
        let code = match typed.code {
            Code::Constant(Value::Null) => Code::Constant(Value::Null),
            code => Code::Convert(Box::new(Conversion {
                place: Place::default(),
                code,
                from: typed.ty,
                to: to.clone(),
                how: crate::convert::How::IMPLICIT,
                safe: false,
                otherwise: None,
            })),
        };
        Typed::new(code, to.clone())
    }

    /// Several values as one type.
    fn alike(&self, parts: Vec<Typed>, purpose: Purpose) -> Outcome<(Vec<Code>, Type)> {
        let mut common = Type::Null;
        for part in &parts {
            common = unify(&common, &part.ty, purpose, self.behaviour)?;
        }
        let codes = parts.into_iter().map(|p| self.converted(p, &common).code).collect();
        Ok((codes, common))
    }
}

/// Whether a value must change to be of another type: strings only if it gets another length rule.
fn needs_conversion(from: &Type, to: &Type) -> bool {
    if from == to || to.is_open() {
        return false;
    }
    match (from, to) {
        (Type::Text(a), Type::Text(b)) => b.fixed && (a.length != b.length || !a.fixed),
        (Type::Decimal(..) | Type::Integer(_) | Type::Number, Type::Number) => false,
        (Type::Array(a), Type::Array(b)) => needs_conversion(a, b),
        (Type::Integer(a), Type::Integer(b)) => a.bits > b.bits || a.unsigned != b.unsigned,
        (Type::Interval(_), Type::Interval(_)) => false,
        _ => true,
    }
}
