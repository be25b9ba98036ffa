//! From a tree as meant to a tree as the target spells it.

mod argument_notes;
mod bind;
mod bytes;
mod cast;
mod cast_room;
mod choice;
mod collate;
mod comma_join;
mod common_type;
mod fill;
mod limit;
mod name;
mod number;
mod pattern;
mod pattern_traits;
mod regex;
mod sequence;
mod set;
mod word;

pub(crate) use regex::groups as groups_of_regex;

use compact_str::CompactString;

use crate::Notes;
use meaning::{Binding, Capabilities, Constant, Function, Meant, Note, RelationId, Sign, Star, TypeWord, infer, write_type};
use syntax::tree::{
    AliasForm, Binary, Call, CommonTable, Delete, Expr, ExprKind, Ident, IsWhat, JoinKind, Literal, NullOrder, ObjectName, Operator, Query,
    QueryBody, Quote, RowForm, Select, SelectItem, SelectValue, SetOperation, SetOperator, SetQuantifier, SortKey, Span, Spelled, StageMap,
    Statement, StatementKind, TableAlias, TableKind, TableRef, Top, TypeName, map_body, map_common_table, map_delete, map_expr, map_insert,
    map_query, map_select, map_select_item, map_table, map_update,
};
use syntax::{Dialect, DialectName, Spelling, Symbol, decode_text, needs_as, write_text};
use values::DataType;

/// Writes statements of one target.
pub(crate) struct Writer<'a> {
    from: &'a Dialect,
    to: &'a Dialect,
    facts: Capabilities,
    source_facts: Capabilities,
    source: Spelling,
    target: Spelling,
    next_alias: u32,
    pub(crate) notes: Notes,
}

impl<'a> Writer<'a> {
    pub(crate) fn new(from: &'a Dialect, to: &'a Dialect, source_facts: Capabilities, facts: Capabilities) -> Self {
        Writer {
            from,
            to,
            facts,
            source_facts,
            source: Spelling::of(from),
            target: Spelling::of(to),
            next_alias: 0,
            notes: Notes::default(),
        }
    }

    fn note(&mut self, note: Note) {
        self.notes.add(note);
    }

    pub(crate) fn statement(&mut self, statement: Statement<Meant>) -> Statement<Spelled> {
        self.next_alias = 0;
        let kind = match statement.kind {
            StatementKind::Query(query) => StatementKind::Query(Box::new(self.query(*query))),
            StatementKind::Insert(insert) => {
                let mut insert = map_insert(self, *insert);
                insert.table = self.table_name(insert.table);
                insert.columns = self.names(insert.columns);
                insert.alias = insert.alias.take().map(|a| self.name(a));
                if let Some(Query { body: QueryBody::Values(values), .. }) = &mut insert.source {
                    values.form = RowForm::Parens;
                }
                StatementKind::Insert(Box::new(insert))
            }
            StatementKind::Update(update) => {
                let limit = update.limit.clone();
                let mut update = map_update(self, *update);
                self.change_top(&mut update.top, &mut update.limit, limit);
                self.changed_alias(&mut update.table, &mut update.from);
                self.changed_all(&mut update.condition);
                StatementKind::Update(Box::new(update))
            }
            StatementKind::Delete(delete) => {
                let limit = delete.limit.clone();
                let mut delete = map_delete(self, *delete);
                delete.from_word = true;
                self.change_top(&mut delete.top, &mut delete.limit, limit);
                self.deleted_alias(&mut delete);
                self.changed_all(&mut delete.condition);
                StatementKind::Delete(Box::new(delete))
            }
            // The other kinds are never read into meaning; an empty statement takes their place.
            _ => StatementKind::Other(CompactString::default()),
        };
        Statement { kind, span: statement.span }
    }

    /// SQL Server changes a table by its alias, which FROM gives it; SQLite wants AS before an alias.
    fn changed_alias(&mut self, table: &mut TableRef<Spelled>, from: &mut Vec<TableRef<Spelled>>) {
        let Some(alias) = &mut table.alias else { return };
        match (self.to.name, &alias.name) {
            (DialectName::SqlServer, Some(name)) => {
                let by_alias = TableKind::Name(ObjectName::single(Ident::synthetic(name.text.clone())));
                let named = TableRef { kind: by_alias, alias: None, relation: (), hints: None, qualifier: None, span: Span::SYNTHETIC };
                from.insert(0, std::mem::replace(table, named));
            }
            (DialectName::Sqlite, _) => alias.as_word = true,
            _ => {}
        }
    }

    /// DELETE t FROM tolls t.
    fn deleted_alias(&mut self, delete: &mut Delete<Spelled>) {
        let Some(alias) = &mut delete.table.alias else { return };
        match (self.to.name, &alias.name) {
            (DialectName::SqlServer, Some(name)) => delete.targets.push(ObjectName::single(Ident::synthetic(name.text.clone()))),
            (DialectName::Sqlite, _) => alias.as_word = true,
            _ => {}
        }
    }

    /// BigQuery changes no table without a WHERE (Data manipulation language, DELETE and UPDATE).
    fn changed_all(&mut self, condition: &mut Option<Expr<Spelled>>) {
        if self.to.name == DialectName::Bigquery && condition.is_none() {
            *condition = Some(Expr::synthetic(ExprKind::Literal(Literal::Boolean(true))));
        }
    }

    fn dropped(&mut self, what: &str, span: Option<Span>) {
        if let Some(span) = span {
            self.note(Note::new("clause.dropped", span, format!("{what} has no part in the result and was left out")));
        }
    }

    fn text(&self, value: &str) -> Literal {
        Literal::Text(write_text(value, &self.target).into())
    }

    fn derived_alias(&mut self) -> TableAlias {
        self.next_alias += 1;
        let name = if self.next_alias == 1 { "derived".to_string() } else { format!("derived_{}", self.next_alias) };
        TableAlias { as_word: self.facts.table_alias_as, name: Some(Ident::synthetic(name)), columns: Vec::new(), typed_columns: None }
    }

    /// A branch of a set operation where the target takes no parentheses.
    fn unparenthesised(&mut self, body: QueryBody<Spelled>) -> QueryBody<Spelled> {
        let query = match body {
            QueryBody::Nested(query, _) => *query,
            QueryBody::SetOperation(operation) => bare_query(QueryBody::SetOperation(operation)),
            other => return other,
        };
        let is_plain = query.order_by.is_empty() && query.limit.is_empty() && query.with.is_none();
        if is_plain && matches!(query.body, QueryBody::Select(_)) {
            return query.body;
        }
        let alias = self.facts.derived_needs_alias.then(|| self.derived_alias());
        let table = TableRef {
            kind: TableKind::Derived { lateral: false, query: Box::new(query) },
            alias,
            relation: (),
            hints: None,
            qualifier: None,
            span: Span::SYNTHETIC,
        };
        let star = SelectItem { value: SelectValue::Star(None, Vec::new()), alias: None, span: Span::SYNTHETIC };
        QueryBody::Select(Box::new(Select::of(vec![star], vec![table])))
    }

    /// A branch of a set operation whose columns are of one type by now.
    fn branch(&mut self, body: QueryBody<Meant>) -> QueryBody<Spelled> {
        match body {
            QueryBody::SetOperation(operation) => syntax::with_stack(|| self.set_operation(*operation)),
            other => self.body(other),
        }
    }

    fn set_operation(&mut self, operation: SetOperation<Meant>) -> QueryBody<Spelled> {
        // In the source's precedence the right side may have been a chain without parentheses; the
        // printer adds them where the target's precedence differs.
        let mut left = self.branch(operation.left);
        let mut right = self.branch(operation.right);
        if !self.facts.branch_parens {
            if !matches!(left, QueryBody::SetOperation(_)) {
                left = self.unparenthesised(left);
            }
            right = self.unparenthesised(right);
        } else if self.target.dialect == DialectName::Bigquery {
            left = mixed_in_parens(left, operation.operator, operation.quantifier);
            right = mixed_in_parens(right, operation.operator, operation.quantifier);
        }
        let quantifier = match operation.quantifier {
            Some(SetQuantifier::Distinct) if !self.facts.union_says_distinct => None,
            None if self.facts.union_says_distinct => Some(SetQuantifier::Distinct),
            other => other,
        };
        QueryBody::SetOperation(Box::new(SetOperation {
            operator: operation.operator,
            minus: operation.operator == SetOperator::Except && self.facts.minus,
            quantifier,
            by_name: operation.by_name,
            left,
            right,
            span: operation.span,
        }))
    }
}

/// BigQuery wants parentheses between different set operators.
fn mixed_in_parens(side: QueryBody<Spelled>, operator: SetOperator, quantifier: Option<SetQuantifier>) -> QueryBody<Spelled> {
    let all = |quantifier: Option<SetQuantifier>| quantifier == Some(SetQuantifier::All);
    let mixes = |inner: &SetOperation<Spelled>| inner.operator != operator || all(inner.quantifier) != all(quantifier);
    match side {
        QueryBody::SetOperation(inner) if mixes(&inner) || operator != SetOperator::Union => {
            QueryBody::Nested(Box::new(bare_query(QueryBody::SetOperation(inner))), Span::SYNTHETIC)
        }
        other => other,
    }
}

fn bare_query(body: QueryBody<Spelled>) -> Query<Spelled> {
    Query::of(body, Span::SYNTHETIC)
}

impl StageMap<Meant, Spelled> for Writer<'_> {
    fn expr(&mut self, mut expr: Expr<Meant>) -> Expr<Spelled> {
        if matches!(expr.kind, ExprKind::Column(_) | ExprKind::Literal(_)) {
            return map_expr(self, expr);
        }
        match &mut expr.kind {
            // ISNULL, NOTNULL and NOT NULL as one word are one dialect's own.
            ExprKind::Is(test) => {
                test.one_word = false;
                // SQLite knows the other two.
                if matches!(test.what, IsWhat::Unknown) && self.to.name == DialectName::Sqlite {
                    test.what = IsWhat::Null;
                }
            }
            ExprKind::Like(_) => return self.write_like(expr),
            ExprKind::Case(case) => self.results_of_common_type(case),
            ExprKind::Between(test) if test.symmetric && !self.facts.between_symmetric => {
                return self.expr(pattern::without_symmetric(expr));
            }
            _ => {}
        }
        if let ExprKind::Is(test) = &expr.kind
            && matches!(test.what, IsWhat::DistinctFrom(_) | IsWhat::Same(_))
        {
            return self.write_sameness(expr);
        }
        match expr.kind {
            ExprKind::Collate(operand, name) => self.write_collate(*operand, name, expr.span),
            ExprKind::Cast(cast) => Expr { kind: syntax::with_stack(|| self.write_cast(*cast, expr.span)), span: expr.span },
            _ => map_expr(self, expr),
        }
    }

    fn parameter(&mut self, text: CompactString, span: Span) -> ExprKind<Spelled> {
        let sign = text.chars().next().unwrap_or('?');
        if text.starts_with("@@") && self.from.name != self.to.name {
            let message = format!("the system variable {text} of {} is not translated", self.from.name.title());
            self.note(Note::new("function.not-translated", span, message).advise("put its value in by hand"));
        }
        let spoken = match self.to.name {
            DialectName::SqlServer | DialectName::Bigquery => sign == '@',
            DialectName::Postgres => matches!(sign, '$' | ':'),
            DialectName::Oracle => sign == ':',
            DialectName::Mysql | DialectName::Mariadb => matches!(sign, '?' | '@'),
            DialectName::Spark => matches!(sign, ':' | '?'),
            DialectName::Duckdb => matches!(sign, '?' | '$'),
            DialectName::Sqlite => matches!(sign, '?' | ':' | '@' | '$'),
        };
        if !spoken {
            let message = format!("{} takes no parameter of the form {text}; it is kept as written", self.to.name.title());
            self.note(
                Note::new("variable.type", span, message)
                    .advise("give it a value, or the target's form of a parameter, before running this"),
            );
        }
        ExprKind::Parameter(text)
    }

    fn column(&mut self, binding: Binding, _: Span) -> ExprKind<Spelled> {
        if binding.target == meaning::BindingTarget::RowNumber {
            // No rewrite found a way to say it.
            let span = binding.name.last().span();
            self.note(Note::new("rownum.condition", span, "ROWNUM is used here where no row limit or row number can say it"));
        }
        // A pseudo column is found by its bare word; in quotes it would be a column's name.
        if binding.target == meaning::BindingTarget::Special && binding.name.parts.len() == 1 {
            return ExprKind::Column(binding.name);
        }
        ExprKind::Column(self.column_name(binding.name))
    }

    fn assigned(&mut self, binding: Binding, _: Span) -> ObjectName {
        let mut name = self.column_name(binding.name);
        // PostgreSQL and SQLite take no qualifier before an assigned column.
        if matches!(self.to.name, DialectName::Postgres | DialectName::Sqlite | DialectName::Duckdb) {
            name.parts.drain(..name.parts.len() - 1);
        }
        name
    }

    fn star(&mut self, star: Star, _: Span) -> Option<ObjectName> {
        star.qualifier.map(|q| self.column_name(q))
    }

    fn literal(&mut self, constant: Constant, span: Span) -> ExprKind<Spelled> {
        let literal = match constant {
            Constant::Null => Literal::Null,
            Constant::Boolean(value) if self.facts.boolean_values => Literal::Boolean(value),
            Constant::Boolean(value) => Literal::Number(if value { "1" } else { "0" }.into()),
            Constant::Number(text) => Literal::Number(plain_number(&text)),
            Constant::Text { value, written } => {
                // A backslash means itself or not, and BigQuery's strings end with the line: such are written anew.
                let own = |c| c == '\\' || (self.to.name == DialectName::Bigquery && matches!(c, '\n' | '\r'));
                let same = |w: &CompactString| is_plain_literal(w) && !w.contains(own) && decode_text(w, &self.target) == value;
                written.filter(same).map_or_else(|| self.text(&value), Literal::Text)
            }
            Constant::Bytes(bytes) => return bytes::literal(&bytes, self.to.name),
            Constant::Typed(word, text) => return self.typed_constant(&word, &text, span),
        };
        ExprKind::Literal(literal)
    }

    fn call(&mut self, call: Call<Meant>, span: Span) -> ExprKind<Spelled> {
        self.write_call(call, span)
    }

    fn table_function(&mut self, call: Call<Meant>, _: Span) -> Call<Spelled> {
        let (Function::Unresolved(function) | Function::Phrase(_, function)) = call.function;
        Call {
            function,
            form: call.form,
            quantifier: call.quantifier,
            arguments: syntax::tree::map_arguments(self, call.arguments),
            tail: call.tail.map(|t| Box::new(syntax::tree::map_tail(self, *t))),
        }
    }

    fn unary(&mut self, sign: Sign, operand: Expr<Meant>, span: Span) -> ExprKind<Spelled> {
        self.write_prefix(sign, operand, span)
    }

    fn binary(&mut self, sign: Sign, left: Expr<Meant>, right: Expr<Meant>, span: Span) -> ExprKind<Spelled> {
        self.write_operator(sign, left, right, span)
    }

    fn operator(&mut self, sign: Sign, _: Span) -> Operator {
        self.operator_of(sign)
    }

    fn type_name(&mut self, word: TypeWord) -> TypeName {
        match write_type(&word.data_type, self.to, true) {
            // MySQL and MariaDB: a TIME without digits has none.
            Some(_) if word.data_type == DataType::Time && self.facts.convert_using && self.source_facts.convert_using => word.spelled,
            // They share UNSIGNED, too.
            Some(_)
                if self.facts.convert_using
                    && self.source_facts.convert_using
                    && matches!(word.data_type, DataType::Integer(_))
                    && word.spelled.words.to_uppercase().contains("UNSIGNED") =>
            {
                word.spelled
            }
            Some(said) if !same_type(&said, &word.spelled) => said,
            Some(_) => word.spelled,
            // Its parts are types in the source's words.
            None if self.from.name != self.to.name && (!word.spelled.elements.is_empty() || word.spelled.dimensions > 0) => {
                self.refuse(word.spelled.span, &format!("the type {}", word.spelled.words));
                word.spelled
            }
            None => {
                let span = word.spelled.span;
                self.note(
                    Note::new("type.unknown", span, format!("the type {} is kept as written", word.spelled.words))
                        .advise("check that the target has a type of that name"),
                );
                word.spelled
            }
        }
    }

    fn relation(&mut self, _: RelationId) {}

    fn sort_key(&mut self, key: SortKey<Meant>) -> SortKey<Spelled> {
        let nulls: Option<NullOrder> = (key.nulls.spelled && self.facts.nulls_spoken).then_some(key.nulls.order);
        SortKey { expr: self.expr(key.expr), direction: key.direction, nulls, span: key.span }
    }

    fn row_limit(&mut self, limit: Option<Box<meaning::RowLimit>>) -> Vec<syntax::tree::LimitClause<Spelled>> {
        limit.map(|l| self.limit_clauses(*l)).unwrap_or_default()
    }

    fn top(&mut self, (): ()) -> Option<Box<Top<Spelled>>> {
        None
    }

    fn query(&mut self, mut query: Query<Meant>) -> Query<Spelled> {
        self.dropped("a lock on rows", query.locking.take());
        if let Some(options) = query.options.take() {
            self.dropped("an option of the query", Some(options));
        }
        let top = self.takes_top(&query).then(|| query.limit.take()).flatten();
        let mut spelled = map_query(self, query);
        if let (Some(limit), QueryBody::Select(select)) = (top, &mut spelled.body) {
            select.top = Some(Box::new(self.top_clause(*limit)));
        }
        spelled
    }

    fn common_table(&mut self, table: CommonTable<Meant>) -> CommonTable<Spelled> {
        let mut spelled = map_common_table(self, table);
        spelled.name = self.name(spelled.name);
        spelled.columns = self.names(spelled.columns);
        if !matches!(self.to.name, DialectName::Postgres | DialectName::Duckdb | DialectName::Sqlite) {
            spelled.materialized = None;
        }
        spelled
    }

    fn body(&mut self, body: QueryBody<Meant>) -> QueryBody<Spelled> {
        match body {
            QueryBody::SetOperation(mut operation) => {
                self.branches_of_common_type(&mut operation);
                syntax::with_stack(|| self.set_operation(*operation))
            }
            QueryBody::Table(name, span) => QueryBody::Table(self.table_name(name), span),
            QueryBody::Values(mut values) => {
                values.form = match self.to.name {
                    DialectName::Mysql => RowForm::Word,
                    DialectName::Spark => values.form,
                    _ => RowForm::Parens,
                };
                map_body(self, QueryBody::Values(values))
            }
            other => {
                let spelled = map_body(self, other);
                // A whole query in parentheses says nothing.
                match spelled {
                    nested @ QueryBody::Nested(..) if !self.facts.branch_parens => self.unparenthesised(nested),
                    other => other,
                }
            }
        }
    }

    fn select(&mut self, mut select: Box<Select<Meant>>) -> Box<Select<Spelled>> {
        self.dropped("a word between SELECT and its list", select.modifiers.take());
        select.from_first = false;
        if select.items.is_empty() && !select.from.is_empty() {
            let star = Star { qualifier: None, relation: None, columns: None };
            select.items.push(SelectItem { value: SelectValue::Star(star, Vec::new()), alias: None, span: Span::SYNTHETIC });
        }
        let mut spelled = map_select(self, select);
        self.part_comma_joins(&mut spelled.from);
        for (name, _) in &mut spelled.windows {
            let taken = std::mem::replace(name, Ident::synthetic(""));
            *name = self.name(taken);
        }
        spelled
    }

    fn select_item(&mut self, item: SelectItem<Meant>) -> SelectItem<Spelled> {
        let mut spelled = map_select_item(self, item);
        // SQL Server's AS '' is a column without a header.
        spelled.alias = spelled.alias.filter(|alias| !alias.name.text.is_empty());
        if let Some(alias) = &mut spelled.alias {
            let name = std::mem::replace(&mut alias.name, Ident::synthetic(""));
            alias.name = self.name(name);
            let keeps = match alias.form {
                AliasForm::Equals => self.to.name == DialectName::SqlServer,
                AliasForm::Prefix => self.to.name == DialectName::Duckdb,
                AliasForm::Bare => alias.name.quote != Quote::None || !needs_as(self.to.name, &alias.name.text),
                AliasForm::As => true,
            };
            if !keeps {
                alias.form = AliasForm::As;
            }
        }
        spelled
    }

    fn table(&mut self, table: TableRef<Meant>) -> TableRef<Spelled> {
        if let Some(hints) = table.hints {
            self.note(Note::new("hint.dropped", hints, "a hint to the source's optimizer was left out"));
        }
        let mut spelled = map_table(self, table);
        spelled.hints = None;
        if let TableKind::Name(name) = spelled.kind {
            // DUAL is a word of these dialects, not a table.
            let is_dual =
                matches!(self.to.name, DialectName::Mysql | DialectName::Mariadb) && name.as_single().is_some_and(|n| n.is_word("dual"));
            spelled.kind = TableKind::Name(if is_dual { name } else { self.table_name(name) });
        }
        if let TableKind::Join(join) = &mut spelled.kind {
            if join.kind == JoinKind::Straight {
                join.kind = JoinKind::Inner;
            }
            // MySQL and SQLite read a condition behind CROSS JOIN, and none behind JOIN.
            match (&join.kind, &join.condition) {
                (JoinKind::Cross, syntax::tree::JoinCondition::On(_)) => join.kind = JoinKind::Inner,
                (JoinKind::Inner, syntax::tree::JoinCondition::None) if !join.natural => join.kind = JoinKind::Cross,
                // SQLite needs none behind any.
                (JoinKind::Left | JoinKind::Right | JoinKind::Full, syntax::tree::JoinCondition::None) if !join.natural => {
                    let one = || Expr::synthetic(ExprKind::Literal(Literal::Number("1".into())));
                    let always = Binary { operator: Operator::Symbol(Symbol::Equal), left: one(), right: one() };
                    join.condition = syntax::tree::JoinCondition::On(Expr::synthetic(ExprKind::Binary(Box::new(always))));
                }
                _ => {}
            }
            if let syntax::tree::JoinCondition::Using(names) = &mut join.condition {
                let taken = std::mem::take(names);
                *names = self.names(taken);
            }
        }
        if let Some(alias) = &mut spelled.alias {
            alias.as_word = alias.as_word && self.facts.table_alias_as;
            alias.name = alias.name.take().map(|n| self.name(n));
            let columns = std::mem::take(&mut alias.columns);
            alias.columns = self.names(columns);
        } else if matches!(spelled.kind, TableKind::Derived { .. }) && self.facts.derived_needs_alias {
            spelled.alias = Some(self.derived_alias());
        }
        spelled
    }
}

/// A literal without a prefix that only its own dialect has.
fn is_plain_literal(written: &str) -> bool {
    written.starts_with('\'')
}

/// A number without its dialect's suffix.
fn plain_number(text: &str) -> CompactString {
    if text.starts_with("0x") || text.starts_with("0X") {
        return text.into();
    }
    let digits = text.trim_end_matches(|c: char| c.is_ascii_alphabetic() && !matches!(c, 'e' | 'E'));
    if digits.contains('_') { digits.replace('_', "").into() } else { digits.into() }
}

fn same_type(said: &TypeName, spelled: &TypeName) -> bool {
    let bare = |t: &TypeName| t.arguments.iter().map(|a| a.replace(' ', "")).collect::<Vec<_>>();
    said.words.eq_ignore_ascii_case(&spelled.words) && bare(said) == bare(spelled) && spelled.suffix.is_empty() && spelled.dimensions == 0
}

impl Writer<'_> {
    fn typed_constant(&mut self, word: &str, text: &str, span: Span) -> ExprKind<Spelled> {
        if word == "TIME" && self.to.name == DialectName::Oracle {
            self.refuse(span, "a time of day without a date");
        }
        let is_date = word == "DATE";
        let literal = self.text(text);
        match self.to.name {
            // SQLite keeps dates as text.
            DialectName::Sqlite => ExprKind::Literal(literal),
            DialectName::SqlServer => {
                let name = if is_date {
                    "DATE"
                } else if word == "TIME" {
                    "TIME"
                } else {
                    "DATETIME2"
                };
                Expr::cast(Expr::synthetic(ExprKind::Literal(literal)), name).kind
            }
            _ => {
                let word = match (word, self.to.name) {
                    ("TIMESTAMP", DialectName::Bigquery) => "DATETIME",
                    ("DATETIME" | "DATETIME2", DialectName::Bigquery) => "DATETIME",
                    ("DATETIME" | "DATETIME2", _) => "TIMESTAMP",
                    (other, _) => other,
                };
                ExprKind::Literal(Literal::typed(word, write_text(text, &self.target)))
            }
        }
    }

    /// What is known about an expression, for the notes of phrases.
    fn known(expr: &Expr<Meant>) -> meaning::Known {
        infer(expr)
    }
}
