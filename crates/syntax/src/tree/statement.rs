//! Statements other than queries.

use compact_str::CompactString;

use super::{Expr, Ident, ObjectName, Query, SortKey, Span, Stage, TableRef, With};

/// A statement and its tokens.
#[derive(Debug, Clone, PartialEq)]
pub struct Statement<S: Stage> {
    /// What it is.
    pub kind: StatementKind<S>,
    /// Its tokens, without the separator.
    pub span: Span,
}

/// The kinds of statement.
#[derive(Debug, Clone, PartialEq)]
pub enum StatementKind<S: Stage> {
    /// A query.
    Query(Box<Query<S>>),
    /// INSERT.
    Insert(Box<Insert<S>>),
    /// UPDATE.
    Update(Box<Update<S>>),
    /// DELETE.
    Delete(Box<Delete<S>>),
    /// MERGE.
    Merge(Box<Merge<S>>),
    /// CREATE TABLE, with columns or AS a query.
    CreateTable(Box<CreateTable<S>>),
    /// CREATE VIEW.
    CreateView(Box<CreateView<S>>),
    /// CREATE TYPE.
    CreateType(Box<CreateType<S>>),
    /// CREATE FUNCTION whose body is a single query.
    CreateFunction(Box<CreateFunction<S>>),
    /// DECLARE @x type = value.
    Declare(Vec<Declaration<S>>),
    /// SET @x = value.
    SetVariable(CompactString, Expr<S>),
    /// USE database.
    Use(ObjectName),
    /// A statement we only carry along: its first words.
    Other(CompactString),
    /// A line for the client program.
    Directive,
}

impl<S: Stage> StatementKind<S> {
    /// INSERT, UPDATE, DELETE or MERGE.
    pub fn is_data_change(&self) -> bool {
        use StatementKind::{Delete, Insert, Merge, Update};
        matches!(self, Insert(_) | Update(_) | Delete(_) | Merge(_))
    }
}

/// INSERT.
#[derive(Debug, Clone, PartialEq)]
pub struct Insert<S: Stage> {
    /// WITH before INSERT.
    pub with: Option<With<S>>,
    /// REPLACE INTO, INSERT OR REPLACE, IGNORE ...: words between INSERT and INTO, verbatim.
    pub modifiers: Option<Span>,
    /// Into what.
    pub table: ObjectName,
    /// An alias.
    pub alias: Option<Ident>,
    /// The columns.
    pub columns: Vec<Ident>,
    /// The rows; none for DEFAULT VALUES.
    pub source: Option<Query<S>>,
    /// ON CONFLICT, ON DUPLICATE KEY, RETURNING, OUTPUT: verbatim.
    pub trailing: Option<Span>,
}

/// UPDATE.
#[derive(Debug, Clone, PartialEq)]
pub struct Update<S: Stage> {
    /// WITH before UPDATE.
    pub with: Option<With<S>>,
    /// IGNORE, LOW_PRIORITY: verbatim.
    pub modifiers: Option<Span>,
    /// TOP.
    pub top: S::Top,
    /// What is changed; several tables in MySQL.
    pub table: TableRef<S>,
    /// The assignments.
    pub assignments: Vec<Assignment<S>>,
    /// FROM.
    pub from: Vec<TableRef<S>>,
    /// WHERE.
    pub condition: Option<Expr<S>>,
    /// ORDER BY (MySQL, SQLite).
    pub order_by: Vec<SortKey<S>>,
    /// LIMIT.
    pub limit: S::RowLimit,
    /// OUTPUT, RETURNING: verbatim.
    pub trailing: Option<Span>,
}

/// One assignment.
#[derive(Debug, Clone, PartialEq)]
pub struct Assignment<S: Stage> {
    /// The column, or several in parentheses.
    pub targets: Vec<S::Column>,
    /// The targets stand in parentheses.
    pub as_row: bool,
    /// The value.
    pub value: Expr<S>,
    /// `+=` and the like, as spelled.
    pub operator: Option<CompactString>,
    /// Its tokens.
    pub span: Span,
}

/// DELETE.
#[derive(Debug, Clone, PartialEq)]
pub struct Delete<S: Stage> {
    /// WITH before DELETE.
    pub with: Option<With<S>>,
    /// IGNORE, LOW_PRIORITY, QUICK: verbatim.
    pub modifiers: Option<Span>,
    /// TOP.
    pub top: S::Top,
    /// Names between DELETE and FROM (SQL Server, MySQL).
    pub targets: Vec<ObjectName>,
    /// FROM was written.
    pub from_word: bool,
    /// What is deleted from.
    pub table: TableRef<S>,
    /// USING, or the second FROM.
    pub using: Vec<TableRef<S>>,
    /// WHERE.
    pub condition: Option<Expr<S>>,
    /// ORDER BY.
    pub order_by: Vec<SortKey<S>>,
    /// LIMIT.
    pub limit: S::RowLimit,
    /// OUTPUT, RETURNING: verbatim.
    pub trailing: Option<Span>,
}

/// MERGE.
#[derive(Debug, Clone, PartialEq)]
pub struct Merge<S: Stage> {
    /// WITH before MERGE.
    pub with: Option<With<S>>,
    /// TOP.
    pub top: S::Top,
    /// Into what.
    pub target: TableRef<S>,
    /// USING.
    pub source: TableRef<S>,
    /// ON.
    pub condition: Expr<S>,
    /// WHEN clauses.
    pub clauses: Vec<MergeClause<S>>,
    /// OUTPUT, RETURNING: verbatim.
    pub trailing: Option<Span>,
}

/// Which rows a WHEN clause is for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum MergeMatch {
    /// WHEN MATCHED.
    Matched,
    /// WHEN NOT MATCHED [BY TARGET].
    NotMatched,
    /// WHEN NOT MATCHED BY SOURCE.
    NotMatchedBySource,
}

/// A WHEN clause of MERGE.
#[derive(Debug, Clone, PartialEq)]
pub struct MergeClause<S: Stage> {
    /// Which rows.
    pub when: MergeMatch,
    /// AND condition.
    pub condition: Option<Expr<S>>,
    /// What is done.
    pub action: MergeAction<S>,
    /// Its tokens.
    pub span: Span,
}

/// What a WHEN clause does.
#[derive(Debug, Clone, PartialEq)]
pub enum MergeAction<S: Stage> {
    /// UPDATE SET .. [WHERE ..] [DELETE WHERE ..].
    Update(Vec<Assignment<S>>, Option<Expr<S>>, Option<Expr<S>>),
    /// DELETE.
    Delete,
    /// INSERT (..) VALUES (..) [WHERE ..].
    Insert(Vec<Ident>, Vec<Expr<S>>, Option<Expr<S>>),
    /// DO NOTHING.
    Nothing,
}

/// CREATE TABLE.
#[derive(Debug, Clone, PartialEq)]
pub struct CreateTable<S: Stage> {
    /// TEMPORARY.
    pub temporary: bool,
    /// IF NOT EXISTS.
    pub if_not_exists: bool,
    /// OR REPLACE.
    pub or_replace: bool,
    /// Its name.
    pub name: ObjectName,
    /// Its columns.
    pub columns: Vec<ColumnDefinition<S>>,
    /// Its table constraints.
    pub constraints: Vec<TableConstraint<S>>,
    /// AS query; the columns then may have names only.
    pub query: Option<Query<S>>,
    /// Storage and other options, verbatim.
    pub options: Option<Span>,
}

/// A column of CREATE TABLE.
#[derive(Debug, Clone, PartialEq)]
pub struct ColumnDefinition<S: Stage> {
    /// Its name.
    pub name: Ident,
    /// Its type; SQLite allows none.
    pub type_name: Option<S::Type>,
    /// NOT NULL.
    pub not_null: bool,
    /// PRIMARY KEY.
    pub primary_key: bool,
    /// UNIQUE.
    pub unique: bool,
    /// DEFAULT.
    pub default: Option<Expr<S>>,
    /// CHECK.
    pub check: Option<Expr<S>>,
    /// REFERENCES.
    pub references: Option<(ObjectName, Vec<Ident>)>,
    /// COLLATE.
    pub collation: Option<CompactString>,
    /// Numbered by the server: IDENTITY, AUTO_INCREMENT.
    pub identity: bool,
    /// Generated from other columns.
    pub generated: Option<Expr<S>>,
    /// Its tokens.
    pub span: Span,
}

/// A table constraint.
#[derive(Debug, Clone, PartialEq)]
pub enum TableConstraint<S: Stage> {
    /// PRIMARY KEY (..).
    PrimaryKey(Vec<Ident>),
    /// UNIQUE (..).
    Unique(Vec<Ident>),
    /// FOREIGN KEY (..) REFERENCES t (..).
    ForeignKey(Vec<Ident>, ObjectName, Vec<Ident>),
    /// CHECK (..).
    Check(Expr<S>),
    /// KEY and INDEX of MySQL, EXCLUDE of PostgreSQL: no effect on results.
    Other,
}

/// CREATE VIEW.
#[derive(Debug, Clone, PartialEq)]
pub struct CreateView<S: Stage> {
    /// Its name.
    pub name: ObjectName,
    /// Its column list.
    pub columns: Vec<Ident>,
    /// Its query.
    pub query: Query<S>,
    /// Where `AS` is: what precedes is printed verbatim.
    pub head: Span,
    /// What follows the query, verbatim.
    pub trailing: Option<Span>,
}

/// CREATE TYPE.
#[derive(Debug, Clone, PartialEq)]
pub struct CreateType<S: Stage> {
    /// Its name.
    pub name: ObjectName,
    /// What it is.
    pub kind: CreatedType<S>,
}

/// What CREATE TYPE makes.
#[derive(Debug, Clone, PartialEq)]
pub enum CreatedType<S: Stage> {
    /// AS OBJECT (..), AS (..).
    Object(Vec<ColumnDefinition<S>>),
    /// AS TABLE OF t.
    TableOf(S::Type),
    /// AS VARRAY(n) OF t.
    Varray(CompactString, S::Type),
    /// AS ENUM (..).
    Enum(Vec<CompactString>),
    /// AS TABLE (..) of SQL Server, and others by their tokens.
    Other,
}

/// CREATE FUNCTION with one query as its body.
#[derive(Debug, Clone, PartialEq)]
pub struct CreateFunction<S: Stage> {
    /// Its name.
    pub name: ObjectName,
    /// Its parameters.
    pub parameters: Vec<(Ident, S::Type)>,
    /// The columns it returns, where declared.
    pub returns: Vec<(Ident, S::Type)>,
    /// The query.
    pub query: Query<S>,
}

/// One variable of DECLARE.
#[derive(Debug, Clone, PartialEq)]
pub struct Declaration<S: Stage> {
    /// Its name with the sign.
    pub name: CompactString,
    /// Its type.
    pub type_name: S::Type,
    /// Its value.
    pub value: Option<Expr<S>>,
}
