//! From a tree as spelled to a tree as meant: names are bound, words become phrases, row limits
//! become one thing whatever clause they stood in.

mod array_text;
mod assigned;
mod bare_function;
mod change;
mod digits;
mod element;
mod format_text;
mod letters;
mod limit;
mod literal;
mod number_format;
mod respelled;
pub(crate) mod scope;
mod sequence;
mod sight;
mod slice;
mod tried_cast;
mod word;

use std::collections::HashMap;
use std::sync::LazyLock;

use compact_str::CompactString;
use meaning::{
    Binding, BindingTarget, Capabilities, Catalog, Constant, Function, Meant, Note, NullsPlace, RelationId, Sign, SortNames, Star,
    TypeWord, infer,
};
use syntax::tree::{
    Call, CastForm, CommonTable, Expr, ExprKind, GroupItem, Ident, IsWhat, JoinCondition, JoinKind, LimitClause, Literal, ObjectName,
    Operator, Query, QueryBody, Select, SelectItem, SelectValue, SetOperation, SortKey, Span, Spelled, StageMap, Statement, StatementKind,
    TableKind, TableRef, Top, TypeName, map_body, map_common_table, map_expr, map_merge, map_query, map_select, map_table,
};
use syntax::{Dialect, DialectName, DialectSet, Spelling, Symbol, WordTable, decode_text};
use values::DataType;

use crate::features::Features;
use crate::moment;
pub use respelled::{hears, read_as};
use scope::{Columns, Found, OutputColumn, Relation, Scope, catalog_columns};

/// Names that are no columns of a table, and the dialects in which they are not.
static PSEUDO_COLUMNS: LazyLock<WordTable<Option<(DialectSet, BindingTarget)>>> = LazyLock::new(|| {
    let words = |dialects: &[DialectName], words: &'static str, target| {
        let dialects = DialectSet::of(dialects);
        words.split(' ').map(move |word| (word, Some((dialects, target))))
    };
    let oracle = "LEVEL CONNECT_BY_ISLEAF CONNECT_BY_ISCYCLE COLUMN_VALUE ORA_ROWSCN";
    let rows = [DialectName::Oracle, DialectName::Sqlite, DialectName::Duckdb];
    let all = words(&[DialectName::Oracle], "ROWNUM", BindingTarget::RowNumber)
        .chain(words(&[DialectName::Oracle], oracle, BindingTarget::Special))
        .chain(words(&rows, "ROWID", BindingTarget::Special))
        .chain(words(&[DialectName::Postgres], "CTID", BindingTarget::Special));
    WordTable::new(None, all)
});

/// Where a name is with regard to ORDER BY.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Sorting {
    /// Elsewhere.
    No,
    /// It is a sort key by itself.
    Key,
    /// Within the expression of a sort key.
    Within,
}

/// Reads statements of one dialect.
pub(crate) struct Reader<'a> {
    pub(crate) from: &'a Dialect,
    spelling: Spelling,
    facts: Capabilities,
    catalog: &'a Catalog,
    scopes: Vec<Scope>,
    /// The scope of the block read last, for the ORDER BY behind it.
    finished: Option<Scope>,
    /// Common table expressions in sight, innermost last.
    common: Vec<(String, Option<Vec<OutputColumn>>)>,
    /// The table references beside the derived tables being read, with the number of scopes around each.
    hidden: Vec<(usize, Vec<Relation>)>,
    /// The right sides of the APPLYs being read, which see what is beside them.
    applied: Vec<Span>,
    /// Where the scopes of the common table that is read begin.
    common_start: usize,
    /// What names mean here, as far as ORDER BY is concerned.
    sorting: Sorting,
    /// Whose words are written in the end.
    to: DialectName,
    /// Tables and aliases are written in one case throughout, for a target that tells them apart by it.
    one_case: bool,
    /// '' is NULL, and the target tells them apart.
    reads_empty_as_null: bool,
    /// The target has character sets in calls.
    keeps_charsets: bool,
    /// The columns of the query read next are asked for: it is a table to another.
    offers: bool,
    /// The columns of the blocks being read are asked for.
    wants_outputs: bool,
    next_relation: u32,
    /// Values of script variables, by DECLARE and SET.
    variables: HashMap<String, Expr<Spelled>>,
    /// Those whose values were put in.
    pub(crate) put_in: Vec<String>,
    pub(crate) notes: Vec<Note>,
    pub(crate) features: Features,
}

/// DUAL, alone or in a join.
fn names_dual(table: &TableRef<Spelled>) -> bool {
    match &table.kind {
        TableKind::Name(name) => name.last().is_word("dual"),
        TableKind::Nested(inner) => names_dual(inner),
        TableKind::Join(join) => syntax::with_stack(|| names_dual(&join.left) || names_dual(&join.right)),
        _ => false,
    }
}

fn is_moment(data_type: &DataType) -> bool {
    matches!(data_type, DataType::Date | DataType::Timestamp(_))
}

/// The words of literals that are days and times.
const IS_MOMENT: &[&str] = &["DATE", "TIME", "TIMESTAMP", "DATETIME"];

/// PARSE and TRY_PARSE of SQL Server.
fn is_parse(form: CastForm) -> bool {
    matches!(form, CastForm::Parse | CastForm::TryParse)
}

impl<'a> Reader<'a> {
    pub(crate) fn new(from: &'a Dialect, catalog: &'a Catalog, target: &Capabilities) -> Self {
        let facts = Capabilities::of(from);
        Reader {
            from,
            spelling: Spelling::of(from),
            facts,
            catalog,
            to: target.dialect,
            one_case: target.table_names_tell_case && !facts.table_names_tell_case,
            keeps_charsets: target.convert_using,
            reads_empty_as_null: facts.empty_is_null && !target.empty_is_null,
            scopes: Vec::new(),
            finished: None,
            common: Vec::new(),
            hidden: Vec::new(),
            applied: Vec::new(),
            common_start: 0,
            sorting: Sorting::No,
            offers: false,
            wants_outputs: false,
            next_relation: 0,
            variables: HashMap::new(),
            put_in: Vec::new(),
            notes: Vec::new(),
            features: Features::default(),
        }
    }

    /// Reads a statement; `None` for kinds that have no meaning to translate.
    pub(crate) fn statement(&mut self, statement: Statement<Spelled>) -> Option<Statement<Meant>> {
        self.scopes.clear();
        self.common.clear();
        self.features = Features::default();
        let kind = match statement.kind {
            StatementKind::Query(query) => StatementKind::Query(Box::new(self.query(*query))),
            StatementKind::Insert(insert) => self.insert(*insert),
            StatementKind::Update(update) => StatementKind::Update(Box::new(self.update(*update))),
            StatementKind::Delete(delete) => StatementKind::Delete(Box::new(self.delete(*delete))),
            StatementKind::Merge(merge) => {
                self.scopes.push(Scope::default());
                StatementKind::Merge(Box::new(map_merge(self, *merge)))
            }
            _ => return None,
        };
        Some(Statement { kind, span: statement.span })
    }

    /// Remembers what DECLARE and SET say of variables.
    pub(crate) fn learn_variables(&mut self, kind: &StatementKind<Spelled>) {
        match kind {
            StatementKind::Declare(declarations) => {
                for declaration in declarations {
                    match &declaration.value {
                        Some(value) => self.learn_variable(&declaration.name, value),
                        None => self.forget_variable(&declaration.name),
                    }
                }
            }
            StatementKind::SetVariable(name, value) => self.learn_variable(name, value),
            _ => {}
        }
    }

    fn learn_variable(&mut self, name: &str, value: &Expr<Spelled>) {
        let mut value = value.without_parens().clone();
        value.span = Span::SYNTHETIC;
        // Only a constant is the same wherever it is used.
        if matches!(value.kind, ExprKind::Literal(_)) {
            self.variables.insert(name.to_lowercase(), value);
        } else {
            self.forget_variable(name);
        }
    }

    /// A variable's value is no longer known.
    pub(crate) fn forget_variable(&mut self, name: &str) {
        self.variables.remove(&name.to_lowercase());
    }

    pub(crate) fn note(&mut self, note: Note) {
        self.notes.push(note);
    }

    fn fresh_relation(&mut self) -> RelationId {
        self.next_relation += 1;
        RelationId(self.next_relation)
    }

    // --- names ---------------------------------------------------------------------------------

    fn resolve(&self, name: &ObjectName) -> Option<Found> {
        let column = &name.last().text;
        let scopes = self.scopes.iter().rev();
        if let [.., qualifier, _] = name.parts.as_slice() {
            return scopes.into_iter().find_map(|f| f.qualified(&qualifier.text, column));
        }
        let of_list = || self.scopes.last().and_then(|f| f.output(column));
        let mut of_tables = scopes.into_iter().filter_map(|f| f.unqualified(column));
        match (self.sorting, self.facts.sort_names) {
            (Sorting::No, _) | (Sorting::Within, SortNames::ColumnsOnly) => of_tables.next(),
            (Sorting::Key, _) | (Sorting::Within, SortNames::AliasesFirst) => of_list().or_else(|| of_tables.next()),
            // A column that only may be there gives way to an alias that surely is.
            (Sorting::Within, SortNames::ColumnsFirst) => match of_tables.next() {
                Some(found) if found.data_type != DataType::Unknown => Some(found),
                unsure => of_list().or(unsure),
            },
        }
    }

    /// What a name without parentheses is, if it isn't a column.
    fn special_name(&self, name: &ObjectName) -> Option<BindingTarget> {
        let word = name.as_single().filter(|w| w.quote == syntax::tree::Quote::None)?;
        let (dialects, target) = PSEUDO_COLUMNS.find(word.text.as_bytes(), word.text.len())?;
        dialects.has(self.from.name).then_some(target)
    }

    /// What the statement has of types that some step looks for.
    fn note_type(&mut self, data_type: &DataType) {
        self.features.fractions |= matches!(data_type, DataType::Decimal(_));
        self.features.single_floats |= *data_type == DataType::Float(32);
        self.features.documents |= matches!(data_type, DataType::Json | DataType::Array(_));
    }

    fn add_relation(&mut self, name: Option<CompactString>, columns: Columns) -> RelationId {
        let id = self.fresh_relation();
        if let Some(scope) = self.scopes.last_mut() {
            scope.relations.push(Relation { id, name, columns, nullable: false });
        }
        id
    }

    fn table_columns(&self, name: &ObjectName) -> Columns {
        if let Some(single) = name.as_single()
            && let Some((_, columns)) = self.common.iter().rev().find(|(n, _)| n.eq_ignore_ascii_case(&single.text))
        {
            return columns.clone().into();
        }
        if self.from.name == DialectName::Oracle && name.last().is_word("dual") {
            return Some(vec![OutputColumn::of(Some("DUMMY".into()), DataType::TEXT, false)]).into();
        }
        catalog_columns(self.catalog, &name.last().text)
    }

    /// Renames offered columns by an alias's column list.
    fn renamed(columns: Option<Vec<OutputColumn>>, names: &[Ident]) -> Option<Vec<OutputColumn>> {
        if names.is_empty() {
            return columns;
        }
        let mut columns = columns.unwrap_or_else(|| names.iter().map(|_| OutputColumn::of(None, DataType::Unknown, true)).collect());
        for (column, name) in columns.iter_mut().zip(names) {
            column.name = Some(name.text.clone());
        }
        Some(columns)
    }

    // --- outputs -------------------------------------------------------------------------------

    /// The columns a select list gives, if all are known.
    fn outputs(&self, items: &[SelectItem<Meant>]) -> Option<Vec<OutputColumn>> {
        let mut outputs = Vec::with_capacity(items.len());
        for item in items {
            match &item.value {
                SelectValue::Expr(expr) => {
                    let known = infer(expr);
                    let name = item.alias.as_ref().map(|a| a.name.text.clone()).or_else(|| match &expr.without_parens().kind {
                        ExprKind::Column(binding) => Some(binding.name.last().text.clone()),
                        _ => None,
                    });
                    outputs.push(OutputColumn { name, data_type: known.data_type, nullable: known.nullable, only_null: known.only_null });
                }
                SelectValue::Star(star, modifiers) if modifiers.is_empty() => {
                    let scope = self.scopes.last()?;
                    for relation in &scope.relations {
                        if star.relation.is_none_or(|id| id == relation.id) {
                            let nullable = relation.nullable || scope.super_aggregates;
                            outputs.extend(relation.columns.all()?.iter().cloned().map(|mut c| {
                                c.nullable |= nullable;
                                c
                            }));
                        }
                    }
                }
                SelectValue::Star(..) => return None,
            }
        }
        Some(outputs)
    }

    /// The columns of rows written out: of the types of all rows, by the names the dialect gives them.
    fn value_outputs(&self, body: &QueryBody<Meant>, columns: usize) -> Option<Vec<OutputColumn>> {
        let QueryBody::Values(values) = body else { return None };
        let (word, first) = self.facts.value_names;
        let offered = |at: usize| {
            let of_column = values.rows.iter().filter_map(|row| row.get(at)).map(infer);
            let known = of_column.reduce(meaning::Known::or)?;
            let name = Some(format!("{word}{}", at + first).into());
            Some(OutputColumn { name, data_type: known.data_type, nullable: known.nullable, only_null: known.only_null })
        };
        (0..columns).map(offered).collect()
    }

    /// The columns of a query just read, from the scope it left.
    fn finished_outputs(&mut self) -> Option<Vec<OutputColumn>> {
        self.finished.as_mut().and_then(|f| f.outputs.take())
    }

    // --- FROM ----------------------------------------------------------------------------------

    fn join_nullability(&mut self, kind: JoinKind, start: usize, middle: usize) {
        let Some(scope) = self.scopes.last_mut() else { return };
        let (left, right) = match kind {
            JoinKind::Left | JoinKind::OuterApply | JoinKind::Asof => (false, true),
            JoinKind::Right => (true, false),
            JoinKind::Full | JoinKind::Positional => (true, true),
            _ => return,
        };
        for (i, relation) in scope.relations.iter_mut().enumerate().skip(start) {
            if (i < middle && left) || (i >= middle && right) {
                relation.nullable = true;
            }
        }
    }

    /// Oracle: the tables whose columns carry `(+)` can be filled with NULLs.
    fn outer_marks(&mut self, condition: Option<&Expr<Spelled>>) {
        let Some(condition) = condition else { return };
        if self.from.name != DialectName::Oracle {
            return;
        }
        let mut marked: Vec<Option<CompactString>> = Vec::new();
        condition.any(&mut |e| {
            if let ExprKind::OuterMark(inner) = &e.kind
                && let ExprKind::Column(name) = &inner.kind
            {
                marked.push(match name.parts.as_slice() {
                    [.., qualifier, _] => Some(qualifier.text.clone()),
                    _ => None,
                });
            }
            false
        });
        if let Some(scope) = self.scopes.last_mut() {
            for relation in &mut scope.relations {
                if marked.iter().any(|m| m.as_deref().is_none_or(|m| relation.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(m)))) {
                    relation.nullable = true;
                }
            }
        }
    }

    fn set_operation(&mut self, operation: SetOperation<Spelled>) -> QueryBody<Meant> {
        let left = self.body(operation.left);
        let first = self.finished_outputs();
        let right = self.body(operation.right);
        let second = self.finished_outputs();
        // Names come from the first branch; NULLs and types can come from either.
        let outputs = first.map(|outputs| {
            let nothing = OutputColumn::of(None, DataType::Unknown, true);
            let other = |i: usize| second.as_ref().and_then(|s| s.get(i)).unwrap_or(&nothing);
            outputs.into_iter().enumerate().map(|(i, output)| output.or(other(i))).collect()
        });
        self.finished = Some(Scope { outputs, ..Scope::default() });
        QueryBody::SetOperation(Box::new(SetOperation {
            operator: operation.operator,
            minus: operation.minus,
            quantifier: operation.quantifier,
            by_name: operation.by_name,
            left,
            right,
            span: operation.span,
        }))
    }

    fn has_super_aggregates(select: &Select<Spelled>) -> bool {
        select.group_by.as_ref().is_some_and(|g| g.with_word.is_some() || g.items.iter().any(|i| !matches!(i, GroupItem::Expr(_))))
    }

    /// `SELECT @x = name` of SQL Server reads like a comparison and sets a variable.
    fn refuse_assignments(&mut self, select: &Select<Spelled>) {
        if self.from.name != DialectName::SqlServer {
            return;
        }
        for item in &select.items {
            if let SelectValue::Expr(Expr { kind: ExprKind::Binary(binary), span }) = &item.value
                && binary.operator == Operator::Symbol(Symbol::Equal)
                && matches!(binary.left.kind, ExprKind::Parameter(_))
            {
                let note = Note::new("construct.not-translated", *span, "a SELECT that sets a variable is not translated");
                self.note(note.advise("select the value, and set the variable in the program around it"));
            }
        }
    }

    fn branch_limit(&mut self, top: Option<Box<Top<Spelled>>>) -> Option<Box<meaning::RowLimit>> {
        top.map(|t| Box::new(self.top_limit(*t)))
    }
}

impl StageMap<Spelled, Meant> for Reader<'_> {
    fn column(&mut self, mut name: ObjectName, _: Span) -> ExprKind<Meant> {
        if let Some(at) = name.parts.len().checked_sub(2) {
            self.in_one_case(&mut name, at);
        }
        let found = self.resolve(&name);
        self.name_around(&mut name, found.as_ref());
        if found.is_some() && self.common_start > 0 {
            self.refuse_correlated_common(&name);
        }
        // A column the catalog knows is one; of the others some are words or pseudo columns.
        let known = found.as_ref().is_some_and(|f| !matches!(f.data_type, DataType::Unknown));
        if !known && name.parts.len() == 1 {
            if let Some(target) = self.special_name(&name) {
                let counts = target == BindingTarget::RowNumber;
                self.features.row_number |= counts;
                let data_type = if counts { DataType::Integer(64) } else { DataType::Unknown };
                return ExprKind::Column(Binding { name, target, data_type, nullable: false });
            }
            if let Some(word) = self.word_call(&name) {
                return word;
            }
            if bare_function::is_one(&name, self.from.name) {
                let message = format!("{} of {} is not translated", name.dotted(), self.from.name.title());
                self.note(Note::new("function.not-translated", name.last().span(), message).advise("say it in the target's words by hand"));
            }
        }
        // The address of a row with its table's name before it.
        if !known
            && let [_, .., last] = name.parts.as_slice()
            && let Some(target) = self.special_name(&ObjectName::single(last.clone()))
            && target == BindingTarget::Special
        {
            let message = format!("{} is not translated", name.dotted());
            self.note(Note::new("construct.not-translated", last.span(), message).advise("use the table's key"));
        }
        if found.is_none()
            && let Some(sequence) = self.sequence(&name)
        {
            return sequence;
        }
        match found {
            Some(found) => {
                self.features.text_columns |= found.data_type.is_text();
                self.features.unknown_columns |= found.data_type == DataType::Unknown;
                self.features.moments |= is_moment(&found.data_type);
                self.note_type(&found.data_type);
                ExprKind::Column(Binding { name, target: found.target, data_type: found.data_type, nullable: found.nullable })
            }
            // PostgreSQL, DuckDB, BigQuery: a table's name as a value is its whole row.
            None if name.parts.len() == 1 && self.scopes.iter().any(|f| f.relation(&name.last().text).is_some()) => {
                let message = format!("a whole row of {} as a value is not translated", name.dotted());
                self.note(Note::new("construct.not-translated", name.last().span(), message).advise("name the columns that are wanted"));
                ExprKind::Column(Binding { name, target: BindingTarget::Open, data_type: DataType::Unknown, nullable: true })
            }
            None => ExprKind::Column(Binding { name, target: BindingTarget::Open, data_type: DataType::Unknown, nullable: true }),
        }
    }

    fn assigned(&mut self, mut name: ObjectName, _: Span) -> Binding {
        if let Some(at) = name.parts.len().checked_sub(2) {
            self.in_one_case(&mut name, at);
        }
        let found = self.resolve(&name);
        Binding {
            target: found.as_ref().map_or(BindingTarget::Open, |f| f.target),
            data_type: found.as_ref().map_or(DataType::Unknown, |f| f.data_type.clone()),
            nullable: found.is_none_or(|f| f.nullable),
            name,
        }
    }

    fn star(&mut self, mut qualifier: Option<ObjectName>, _: Span) -> Star {
        if let Some(qualifier) = &mut qualifier {
            self.in_one_case(qualifier, qualifier.parts.len() - 1);
        }
        let relation = qualifier.as_ref().and_then(|q| self.scopes.iter().rev().find_map(|f| f.relation(&q.last().text))).map(|r| r.id);
        let columns = self.scopes.last().and_then(|f| f.star_columns(relation));
        self.features.text_columns |= columns.iter().flatten().any(|c| c.data_type.is_text());
        self.features.unknown_columns |= columns.is_none();
        columns.iter().flatten().for_each(|c| self.note_type(&c.data_type));
        Star { qualifier, relation, columns }
    }

    fn literal(&mut self, literal: Literal, span: Span) -> ExprKind<Meant> {
        ExprKind::Literal(self.constant(literal, span))
    }

    fn expr(&mut self, mut expr: Expr<Spelled>) -> Expr<Meant> {
        // `int4 '7'` is a cast.
        if let ExprKind::Literal(Literal::Typed(typed)) = &expr.kind
            && !IS_MOMENT.contains(&typed.word.as_str())
            && self.from.name != self.to
        {
            let text = Expr { kind: ExprKind::Literal(Literal::Text(typed.text.clone())), span: expr.span };
            let word = typed.word.to_string();
            return self.expr(Expr { span: expr.span, ..Expr::cast(text, &word) });
        }
        if let ExprKind::Quantified(test) = &mut expr.kind
            && let ExprKind::Literal(Literal::Text(token)) = &test.set.without_parens().kind
            && self.from.name == DialectName::Postgres
        {
            match self.written_array(&decode_text(token, &self.spelling)) {
                Some(list) => test.set = list,
                None => {
                    self.note(Note::new(
                        "construct.not-translated",
                        expr.span,
                        "an array written as a string of this form is not translated",
                    ));
                }
            }
        }
        // Most expressions are leaves, which ask for nothing more.
        if matches!(expr.kind, ExprKind::Column(_) | ExprKind::Literal(_)) {
            return map_expr(self, expr);
        }
        self.features.conditions |= matches!(
            expr.kind,
            ExprKind::Binary(_) | ExprKind::Is(_) | ExprKind::In(_) | ExprKind::Like(_) | ExprKind::Between(_) | ExprKind::Exists(_)
        );
        match &expr.kind {
            ExprKind::Exists(_) => {
                self.features.exists = true;
                self.features.subqueries = true;
            }
            ExprKind::Quantified(_) => {
                self.features.quantified = true;
                self.features.subqueries = true;
            }
            ExprKind::Subquery(_) | ExprKind::In(_) | ExprKind::Collect(..) => self.features.subqueries = true,
            ExprKind::Cast(cast) => {
                if let Some(bytes) = self.bytes_of(cast) {
                    return Expr { kind: ExprKind::Literal(Constant::Bytes(bytes)), span: expr.span };
                }
            }
            ExprKind::Is(test) => self.features.truth_tests |= matches!(test.what, IsWhat::True | IsWhat::False | IsWhat::Unknown),
            ExprKind::Row(_) => self.features.rows = true,
            ExprKind::Between(_) => self.features.texts_as_numbers = true,
            ExprKind::Case(case) => self.features.texts_as_numbers |= case.operand.is_some(),
            ExprKind::Like(test) => {
                self.features.texts_as_numbers |= matches!(test.pattern.kind, ExprKind::Literal(Literal::Number(_)));
            }
            ExprKind::Call(call) => self.features.windows |= call.is_window(),
            _ => {}
        }
        match expr.kind {
            ExprKind::Cast(cast) if matches!(cast.form, CastForm::OnError | CastForm::ToNumberOnError | CastForm::Validate) => {
                syntax::with_stack(|| self.tried_cast(*cast, expr.span))
            }
            ExprKind::Subscript(subscript)
                if self.to != self.from.name
                    && let Some(said) = syntax::with_stack(|| self.element(&subscript)) =>
            {
                Expr { span: expr.span, ..said }
            }
            ExprKind::Subscript(subscript) if self.from.name == DialectName::Duckdb => {
                Expr { kind: syntax::with_stack(|| self.slice(*subscript)), span: expr.span }
            }
            // Without a culture a string is read as a cast reads it.
            ExprKind::Cast(mut cast) if cast.extra.is_none() && self.to != self.from.name && is_parse(cast.form) => {
                cast.form = if cast.form.is_safe() { CastForm::TryCast } else { CastForm::Cast };
                map_expr(self, Expr { kind: ExprKind::Cast(cast), span: expr.span })
            }
            ExprKind::Cast(cast) if cast.extra.is_some() => {
                Expr { kind: syntax::with_stack(|| self.cast_of_digits(*cast)), span: expr.span }
            }
            kind => {
                let meant = map_expr(self, Expr { kind, span: expr.span });
                if let ExprKind::Between(test) = &meant.kind {
                    self.refuse_mixed(&test.operand, &test.low, meant.span);
                    self.refuse_mixed(&test.operand, &test.high, meant.span);
                }
                meant
            }
        }
    }

    fn parameter(&mut self, text: CompactString, span: Span) -> ExprKind<Meant> {
        match self.variables.get(text.to_lowercase().as_str()).cloned() {
            Some(value) => match value.kind {
                ExprKind::Literal(literal) => {
                    self.put_in.push(text.to_lowercase().into());
                    self.literal(literal, span)
                }
                _ => ExprKind::Parameter(text),
            },
            None => ExprKind::Parameter(text),
        }
    }

    fn call(&mut self, call: Call<Spelled>, span: Span) -> ExprKind<Meant> {
        let special = self
            .read_collation(&call)
            .or_else(|| self.sequence_call(&call))
            .or_else(|| self.number_format(&call, span))
            .or_else(|| self.all_but(&call));
        if let Some(kind) = special.or_else(|| self.code_point(&call)).or_else(|| self.to_the_end(&call)) {
            return kind;
        }
        match respelled::respelled(call, self.from.name, self.keeps_charsets) {
            Ok(expr) => self.expr(expr).kind,
            Err(call) => self.read_call(call, span),
        }
    }

    fn table_function(&mut self, call: Call<Spelled>, _: Span) -> Call<Meant> {
        Call {
            function: Function::Unresolved(call.function),
            form: call.form,
            quantifier: call.quantifier,
            arguments: syntax::tree::map_arguments(self, call.arguments),
            tail: call.tail.map(|t| Box::new(syntax::tree::map_tail(self, *t))),
        }
    }

    fn unary(&mut self, operator: Operator, operand: Expr<Spelled>, _: Span) -> ExprKind<Meant> {
        self.read_prefix(operator, operand)
    }

    fn binary(&mut self, operator: Operator, left: Expr<Spelled>, right: Expr<Spelled>, span: Span) -> ExprKind<Meant> {
        self.read_operator(operator, left, right, span)
    }

    fn operator(&mut self, operator: Operator, _: Span) -> Sign {
        match meaning::hear_operator(self.from.name, operator) {
            Some(id) => Sign::Phrase(id, Some(operator)),
            None => Sign::Unresolved(operator),
        }
    }

    fn type_name(&mut self, type_name: TypeName) -> TypeWord {
        let mut data_type = meaning::read_type(&type_name, self.from);
        self.note_type(&data_type);
        if let DataType::Text { length, fixed } = &mut data_type {
            let said = !type_name.arguments.is_empty();
            match self.from.name {
                // CAST AS CHAR makes a string of varying length (Cast Functions and Operators).
                DialectName::Mysql | DialectName::Mariadb => (*length, *fixed) = (length.filter(|_| said), false),
                // 30 in a cast where nothing is said (char and varchar, Remarks).
                DialectName::SqlServer if !said && !type_name.words.to_ascii_lowercase().ends_with("text") => *length = Some(30),
                _ if self.facts.cast_ignores_length => *length = None,
                _ => {}
            }
        }
        TypeWord { data_type, spelled: type_name }
    }

    fn relation(&mut self, (): ()) -> RelationId {
        RelationId::NONE
    }

    fn sort_key(&mut self, key: SortKey<Spelled>) -> SortKey<Meant> {
        self.features.order = true;
        let nulls =
            NullsPlace { order: key.nulls.unwrap_or_else(|| self.facts.default_nulls(key.direction)), spelled: key.nulls.is_some() };
        SortKey { expr: self.expr(key.expr), direction: key.direction, nulls, span: key.span }
    }

    fn row_limit(&mut self, clauses: Vec<LimitClause<Spelled>>) -> Option<Box<meaning::RowLimit>> {
        self.limit_clauses(clauses).map(Box::new)
    }

    fn top(&mut self, _: Option<Box<Top<Spelled>>>) {}

    fn query(&mut self, mut query: Query<Spelled>) -> Query<Meant> {
        let common = self.common.len();
        let top = match &mut query.body {
            QueryBody::Select(select) => select.top.take(),
            _ => None,
        };
        // WITH and the body are mapped by the walk; ORDER BY must see the body's scope, so the
        // walk is given the query in two parts.
        let order_by = self.written_keys(std::mem::take(&mut query.order_by), &query.body);
        let limit = std::mem::take(&mut query.limit);
        self.features.row_limit |= top.is_some() || !limit.is_empty();
        let wanted = std::mem::take(&mut self.offers) || !order_by.is_empty();
        let outer_wants = std::mem::replace(&mut self.wants_outputs, wanted);
        let mut meant = map_query(self, query);
        let scope = self.finished.take().unwrap_or_default();
        self.scopes.push(scope);
        let outer = self.sorting;
        self.features.several_keys |= order_by.len() > 1;
        for key in order_by {
            let bare = matches!(key.expr.without_parens().kind, ExprKind::Column(_));
            self.sorting = if bare { Sorting::Key } else { Sorting::Within };
            self.features.sort_expressions |= !bare;
            meant.order_by.push(self.sort_key(key));
        }
        self.sorting = outer;
        meant.limit = match top {
            Some(top) => self.branch_limit(Some(top)),
            None => self.row_limit(limit),
        };
        let outputs = self.scopes.pop().and_then(|f| f.outputs);
        self.finished = Some(Scope { outputs, ..Scope::default() });
        self.common.truncate(common);
        self.wants_outputs = outer_wants;
        meant
    }

    fn common_table(&mut self, table: CommonTable<Spelled>) -> CommonTable<Meant> {
        self.features.derived = true;
        let name = table.name.text.to_string();
        let names = table.columns.clone();
        // A recursive query sees itself; its columns are not known before it is read.
        self.common.push((name.clone(), Self::renamed(None, &names)));
        self.offers = true;
        let around = std::mem::replace(&mut self.common_start, self.scopes.len());
        let meant = map_common_table(self, table);
        self.common_start = around;
        self.common.pop();
        let columns = Self::renamed(self.finished_outputs(), &names);
        self.common.push((name, columns));
        meant
    }

    fn select(&mut self, mut select: Box<Select<Spelled>>) -> Box<Select<Meant>> {
        self.refuse_assignments(&select);
        self.features.qualify |= select.qualify.is_some();
        self.features.groups |= select.group_by.is_some() || select.having.is_some();
        self.features.star_beside |= select.items.len() > 1 && select.items.iter().any(|i| matches!(i.value, SelectValue::Star(..)));
        let outer = std::mem::replace(&mut self.sorting, Sorting::No);
        self.scopes.push(Scope { super_aggregates: Self::has_super_aggregates(&select), ..Scope::default() });
        self.features.no_tables |= match select.from.as_slice() {
            [] => true,
            tables => tables.iter().any(names_dual),
        };
        // FROM first, so that outer join signs in WHERE can be given to its tables before the rest.
        let from = std::mem::take(&mut select.from);
        let from: Vec<TableRef<Meant>> = from.into_iter().map(|t| self.table(t)).collect();
        self.outer_marks(select.condition.as_ref());
        let mut meant = map_select(self, select);
        meant.from = from;
        let outputs = if self.wants_outputs { self.outputs(&meant.items) } else { None };
        self.sorting = outer;
        let mut scope = self.scopes.pop().unwrap_or_default();
        scope.outputs = outputs;
        self.finished = Some(scope);
        meant
    }

    fn body(&mut self, body: QueryBody<Spelled>) -> QueryBody<Meant> {
        match body {
            QueryBody::Select(mut select) if select.top.is_some() => {
                // TOP in a branch of a set operation bounds that branch alone.
                let span = select.span;
                self.features.row_limit = true;
                let top = select.top.take();
                let body = map_body(self, QueryBody::Select(select));
                let limit = self.branch_limit(top);
                let mut query = Query::of(body, span);
                query.limit = limit;
                QueryBody::Nested(Box::new(query), Span::SYNTHETIC)
            }
            QueryBody::SetOperation(operation) => syntax::with_stack(|| self.set_operation(*operation)),
            QueryBody::Values(values) => {
                self.features.value_rows = true;
                self.features.no_tables = true;
                let columns = values.rows.first().map_or(0, Vec::len);
                let body = map_body(self, QueryBody::Values(values));
                self.finished = Some(Scope { outputs: self.value_outputs(&body, columns), ..Scope::default() });
                body
            }
            other => {
                self.offers = self.wants_outputs && matches!(other, QueryBody::Nested(..));
                map_body(self, other)
            }
        }
    }

    fn table(&mut self, mut table: TableRef<Spelled>) -> TableRef<Meant> {
        if let TableKind::Name(name) = &mut table.kind {
            self.table_in_one_case(name);
        }
        let alias_name = table.alias.as_ref().and_then(|a| a.name.as_ref()).map(|n| n.text.clone());
        let alias_columns = table.alias.as_ref().map(|a| a.columns.clone()).unwrap_or_default();
        let start = self.scopes.last().map_or(0, |f| f.relations.len());
        self.features.value_rows |= !alias_columns.is_empty();
        if let TableKind::Derived { lateral: true, .. } = &table.kind {
            self.features.apply = true;
        }
        if let TableKind::Join(join) = &table.kind {
            let kind = join.kind;
            let merges = join.natural || matches!(join.condition, JoinCondition::Using(_));
            if let Some(scope) = self.scopes.last_mut() {
                scope.merges_columns |= merges;
            }
            self.features.merged_columns |= merges;
            self.features.apply |= kind.is_apply();
            let left = count_relations(&join.left);
            let using = match &join.condition {
                JoinCondition::Using(names) => Some(names.clone()),
                _ => None,
            };
            self.applied.extend(kind.is_apply().then_some(join.right.span));
            let meant = map_table(self, table);
            if kind.is_apply() {
                self.applied.pop();
            }
            if merges {
                self.note_merged(start, start + left, using.as_deref(), meant.span);
            }
            self.join_nullability(kind, start, start + left);
            return meant;
        }
        match &table.kind {
            TableKind::Name(name) => {
                let mut columns = self.table_columns(name);
                self.refuse_hidden_table(name);
                self.features.folding_columns |= columns.folds;
                if !alias_columns.is_empty() {
                    columns = Self::renamed(columns.all().map(<[_]>::to_vec), &alias_columns).into();
                }
                let own = name.last().text.clone();
                let mut meant = map_table(self, table);
                meant.relation = self.add_relation(Some(alias_name.unwrap_or(own)), columns);
                meant
            }
            TableKind::Derived { .. } => {
                self.features.derived = true;
                self.offers = true;
                let hidden = self.hide_siblings(&table);
                let mut meant = map_table(self, table);
                self.show_siblings(hidden);
                let columns = Self::renamed(self.finished_outputs(), &alias_columns);
                meant.relation = self.add_relation(alias_name, columns.into());
                meant
            }
            TableKind::Function { .. } | TableKind::Pivot(_) | TableKind::Unpivot(_) => {
                let names = alias_columns;
                let mut meant = map_table(self, table);
                let columns = if names.is_empty() { None } else { Self::renamed(None, &names) };
                meant.relation = self.add_relation(alias_name, columns.into());
                meant
            }
            TableKind::Nested(_) | TableKind::Join(_) => map_table(self, table),
        }
    }
}

/// How many table references `table` adds to its block.
fn count_relations(table: &TableRef<Spelled>) -> usize {
    syntax::with_stack(|| match &table.kind {
        TableKind::Nested(inner) => count_relations(inner),
        TableKind::Join(join) => count_relations(&join.left) + count_relations(&join.right),
        TableKind::Pivot(pivot) => 1 + count_relations(&pivot.input),
        TableKind::Unpivot(unpivot) => 1 + count_relations(&unpivot.input),
        TableKind::Name(_) | TableKind::Derived { .. } | TableKind::Function { .. } => 1,
    })
}
