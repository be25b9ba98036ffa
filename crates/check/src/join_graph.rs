//! How a query leads from row to row: the columns it holds equal, and the conditions that every row
//! must meet. Made data follows both, as random rows seldom join and seldom meet several conditions
//! at once.

use syntax::Symbol;
use syntax::tree::{
    Child, CommonTable, Expr, ExprKind, InSet, JoinCondition, LogicOperator, ObjectName, Operator, Query, QueryBody, Select, SelectItem,
    SelectValue, Spelled, TableKind, TableRef,
};
use values::{ForeignKey, Schema, Table};

use crate::nodes::Text;

/// The links and conditions of a query.
#[derive(Debug, Clone, Default)]
pub(crate) struct JoinGraph {
    pub(crate) links: Vec<Link>,
    /// Columns held equal within one row.
    pub(crate) twins: Vec<Equality>,
    pub(crate) conditions: Vec<Condition>,
    /// Select blocks, which number the conditions.
    pub(crate) blocks: usize,
    /// It has a CONNECT BY.
    pub(crate) connects: bool,
}

/// Columns that take their values from those of other rows.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Link {
    /// The table whose columns are filled.
    pub(crate) table: String,
    /// In the form of a reference; it need not be declared.
    pub(crate) key: ForeignKey,
}

impl Link {
    /// From row to row of one table.
    pub(crate) fn walks(&self) -> bool {
        self.key.table == self.table
    }
}

/// A condition on one column, which WHERE or ON joins to others by AND.
#[derive(Debug, Clone)]
pub(crate) struct Condition {
    pub(crate) block: usize,
    pub(crate) place: Place,
    /// The name its columns are qualified by.
    pub(crate) shown: String,
    /// As written.
    pub(crate) text: String,
}

/// A column of a table, both in small letters.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Place {
    pub(crate) table: String,
    pub(crate) column: String,
}

impl JoinGraph {
    /// Of the query of `text` over tables of `schema`.
    pub(crate) fn of(text: &Text<'_>, schema: &Schema) -> JoinGraph {
        let mut reader = Reader { text, schema, graph: JoinGraph::default(), scopes: Vec::new(), common: Vec::new(), equal: Vec::new() };
        if let Some(query) = text.query() {
            reader.query(query);
        }
        reader.graph
    }

    /// The conditions on columns of a table.
    pub(crate) fn conditions_of(&self, table: &str) -> impl Iterator<Item = &Condition> {
        self.conditions.iter().filter(move |c| c.place.table.eq_ignore_ascii_case(table))
    }

    /// `schema` with the links as references, so that a table comes behind those it takes values from.
    pub(crate) fn linked(&self, schema: &Schema) -> Schema {
        let mut linked = schema.clone();
        for link in self.links.iter().filter(|l| !l.walks()) {
            // A reference the other way round would make a circle.
            let back =
                linked.table(&link.key.table).is_some_and(|t| t.foreign_keys.iter().any(|k| k.table.eq_ignore_ascii_case(&link.table)));
            if let Some(table) = linked.tables.iter_mut().find(|t| t.name.eq_ignore_ascii_case(&link.table) && !back) {
                table.foreign_keys.push(link.key.clone());
            }
        }
        linked
    }
}

/// A column of a block's FROM: its name, and the table's column it shows.
type Output = (String, Option<Place>);

/// What a name in FROM shows.
#[derive(Clone)]
struct Source {
    shown: String,
    /// It is a table itself.
    is_table: bool,
    outputs: Vec<Output>,
}

/// Two columns held equal; the first is the one that values are taken from, where no key says so.
pub(crate) type Equality = (Place, Place);

/// A column in sight.
struct Seen {
    place: Place,
    /// The table reference, by its number in sight.
    source: (usize, usize),
    is_table: bool,
}

struct Reader<'a> {
    text: &'a Text<'a>,
    schema: &'a Schema,
    graph: JoinGraph,
    /// What FROM shows, of the blocks around; innermost last.
    scopes: Vec<Vec<Source>>,
    common: Vec<Source>,
    /// Of the block that is read.
    equal: Vec<Equality>,
}

impl Reader<'_> {
    fn query(&mut self, query: &Query<Spelled>) -> Vec<Output> {
        let before = self.common.len();
        query.with.iter().flat_map(|w| &w.tables).for_each(|table| self.common_table(table));
        let outputs = self.body(&query.body, None);
        self.common.truncate(before);
        outputs
    }

    /// A recursive one shows itself what its first branch shows.
    fn common_table(&mut self, table: &CommonTable<Spelled>) {
        let at = self.common.len();
        self.common.push(Source { shown: lower(&table.name.text), is_table: false, outputs: Vec::new() });
        let outputs = match &table.query.with {
            Some(_) => self.query(&table.query),
            None => self.body(&table.query.body, Some((at, table))),
        };
        self.common.truncate(at + 1);
        self.common[at].outputs = renamed(outputs, table.columns.iter().map(|c| lower(&c.text)));
    }

    fn body(&mut self, body: &QueryBody<Spelled>, defining: Option<(usize, &CommonTable<Spelled>)>) -> Vec<Output> {
        syntax::with_stack(|| match body {
            QueryBody::Select(select) => self.select(select),
            QueryBody::SetOperation(operation) => {
                let outputs = self.body(&operation.left, defining);
                if let Some((at, table)) = defining {
                    self.common[at].outputs = renamed(outputs.clone(), table.columns.iter().map(|c| lower(&c.text)));
                }
                self.body(&operation.right, defining);
                outputs
            }
            QueryBody::Nested(query, _) => self.query(query),
            QueryBody::Values(_) | QueryBody::Table(..) => Vec::new(),
        })
    }

    fn select(&mut self, select: &Select<Spelled>) -> Vec<Output> {
        self.scopes.push(Vec::new());
        let around = std::mem::take(&mut self.equal);
        let block = self.graph.blocks;
        self.graph.blocks += 1;
        select.from.iter().for_each(|table| self.table(table, block));
        select.condition.iter().for_each(|condition| self.conjuncts(condition, block));
        if let Some(connect) = &select.connect_by {
            self.graph.connects = true;
            self.conjuncts(&connect.condition, block);
        }
        select.exprs(&mut |expr| self.subqueries(expr));
        self.add_links();
        self.equal = around;
        let outputs = select.items.iter().flat_map(|item| self.outputs(item)).collect();
        self.scopes.pop();
        outputs
    }

    fn outputs(&self, item: &SelectItem<Spelled>) -> Vec<Output> {
        match &item.value {
            SelectValue::Expr(expr) => {
                let column = column_of(expr);
                let name = item.alias.as_ref().map(|a| &a.name).or(column.map(ObjectName::last)).map(|n| lower(&n.text));
                vec![(name.unwrap_or_default(), column.and_then(|c| self.seen(c)).map(|seen| seen.place))]
            }
            SelectValue::Star(..) => self.scopes.last().into_iter().flatten().flat_map(|s| s.outputs.clone()).collect(),
        }
    }

    fn table(&mut self, table: &TableRef<Spelled>, block: usize) {
        let alias = table.alias.as_ref().and_then(|a| a.name.as_ref()).map(|n| lower(&n.text));
        let source = match &table.kind {
            TableKind::Name(name) => {
                let own = lower(&name.last().text);
                let common = self.common.iter().rev().find(|c| c.shown == own).cloned();
                common.or_else(|| self.schema.table(&own).map(source_of)).map(|source| Source { shown: alias.unwrap_or(own), ..source })
            }
            TableKind::Derived { query, .. } => {
                let columns: Vec<String> = table.alias.iter().flat_map(|a| &a.columns).map(|c| lower(&c.text)).collect();
                let outputs = renamed(self.query(query), columns.into_iter());
                Some(Source { shown: alias.unwrap_or_default(), is_table: false, outputs })
            }
            TableKind::Nested(inner) => return self.table(inner, block),
            TableKind::Join(join) => {
                self.table(&join.left, block);
                self.table(&join.right, block);
                match &join.condition {
                    JoinCondition::On(condition) => self.conjuncts(condition, block),
                    JoinCondition::Using(names) => names.iter().for_each(|n| self.shared_column(&lower(&n.text))),
                    JoinCondition::None => {}
                }
                return;
            }
            _ => None,
        };
        if let (Some(scope), Some(source)) = (self.scopes.last_mut(), source) {
            scope.push(source);
        }
    }

    /// A column that USING names is equal in all tables that have it.
    fn shared_column(&mut self, name: &str) {
        let scope = self.scopes.last().into_iter().flatten();
        let places: Vec<Place> = scope.filter_map(|s| output(s, name)).collect();
        self.equal.extend(places.windows(2).map(|pair| (pair[0].clone(), pair[1].clone())));
    }

    fn conjuncts(&mut self, condition: &Expr<Spelled>, block: usize) {
        let condition = condition.without_parens();
        if let ExprKind::Logic(LogicOperator::And, operands) = &condition.kind {
            return syntax::with_stack(|| operands.iter().for_each(|operand| self.conjuncts(operand, block)));
        }
        if !self.equality(condition) {
            self.condition(condition, block);
        }
    }

    /// Whether a condition holds two columns equal; if so, it is noted.
    fn equality(&mut self, condition: &Expr<Spelled>) -> bool {
        let ExprKind::Binary(binary) = &condition.kind else { return false };
        if binary.operator != Operator::Symbol(Symbol::Equal) {
            return false;
        }
        // The row before in a hierarchy, and that of a common table, lead.
        let side = |expr| match prior(expr) {
            Some(inner) => column_of(inner).and_then(|c| self.seen(c)).map(|seen| (seen, true)),
            None => column_of(expr).and_then(|c| self.seen(c)).map(|seen| (!seen.is_table, seen)).map(|(leads, seen)| (seen, leads)),
        };
        let (Some((left, _)), Some((right, right_leads))) = (side(&binary.left), side(&binary.right)) else { return false };
        let is_walk = prior(&binary.left).is_some() || prior(&binary.right).is_some();
        if left.source == right.source && !is_walk {
            if left.is_table {
                self.graph.twins.push((left.place, right.place));
            }
        } else {
            self.equal.push(if right_leads { (right.place, left.place) } else { (left.place, right.place) });
        }
        true
    }

    /// A condition on one column of a table, with nothing of another query in it.
    fn condition(&mut self, condition: &Expr<Spelled>, block: usize) {
        let mut columns: Vec<&ObjectName> = Vec::new();
        let mut lone = true;
        crate::nodes::expr(condition, &mut |node| match node {
            crate::nodes::Node::Expr(Expr { kind: ExprKind::Column(name), .. }) => columns.push(name),
            crate::nodes::Node::Expr(expr) => lone &= prior(expr).is_none(),
            _ => lone = false,
        });
        let Some((first, rest)) = columns.split_first().filter(|_| lone) else { return };
        if rest.iter().any(|c| !c.dotted().eq_ignore_ascii_case(&first.dotted())) {
            return;
        }
        let shown = match first.parts.as_slice() {
            [.., qualifier, _] => Some(lower(&qualifier.text)),
            _ => None,
        };
        let (Some(Seen { place, is_table: true, .. }), Some(bytes)) = (self.seen(first), self.text.bytes(condition.span)) else { return };
        let shown = shown.unwrap_or_else(|| place.table.clone());
        self.graph.conditions.push(Condition { block, place, shown, text: self.text.of(bytes).to_string() });
    }

    /// Subqueries of an expression. `x IN (SELECT y ..)` holds x and y equal.
    fn subqueries(&mut self, expr: &Expr<Spelled>) {
        syntax::with_stack(|| {
            if let ExprKind::In(test) = &expr.kind
                && let InSet::Query(query) = &test.set
            {
                let outputs = self.query(query);
                let ours = column_of(&test.operand).and_then(|c| self.seen(c));
                if let (Some(ours), Some((_, Some(theirs)))) = (ours, outputs.into_iter().next()) {
                    self.equal.push((theirs, ours.place));
                }
                return;
            }
            expr.children(&mut |child| match child {
                Child::Expr(expr) => self.subqueries(expr),
                Child::Query(query) => {
                    self.query(query);
                }
                Child::Table(_) => {}
            });
        });
    }

    /// The column of a table that a name shows.
    fn seen(&self, name: &ObjectName) -> Option<Seen> {
        let column = lower(&name.last().text);
        let qualifier = match name.parts.as_slice() {
            [.., qualifier, _] => Some(lower(&qualifier.text)),
            _ => None,
        };
        let fits = |s: &Source| qualifier.as_ref().is_none_or(|q| *q == s.shown) && s.outputs.iter().any(|(name, _)| *name == column);
        let in_scope = |at: usize| self.scopes[at].iter().position(fits).map(|source| (at, source));
        let (at, source) = (0..self.scopes.len()).rev().find_map(in_scope)?;
        let found = &self.scopes[at][source];
        Some(Seen { place: output(found, &column)?, source: (at, source), is_table: found.is_table })
    }

    /// The equalities between one pair of tables in one block are one link.
    fn add_links(&mut self) {
        let mut links: Vec<Link> = Vec::new();
        for (one, other) in std::mem::take(&mut self.equal) {
            if one == other {
                continue;
            }
            let (to, from) = if self.is_key_of(&other, &one) { (other, one) } else { (one, other) };
            // A second path between the same rows of one table is another link.
            let joined = links.iter_mut().find(|l| l.table == from.table && l.key.table == to.table && !l.walks());
            match joined {
                Some(link) if !link.key.columns.contains(&from.column) => {
                    link.key.columns.push(from.column);
                    link.key.keys.push(to.column);
                }
                Some(_) => {}
                None => links.push(Link {
                    table: from.table,
                    key: ForeignKey { columns: vec![from.column], table: to.table, keys: vec![to.column] },
                }),
            }
        }
        links.retain(|link| !self.graph.links.contains(link));
        self.graph.links.append(&mut links);
    }

    /// Whether `other` refers to `key`: by the keys of their tables, in one table else by their names
    /// (`parent_id` refers to `id`).
    fn is_key_of(&self, key: &Place, other: &Place) -> bool {
        match (self.is_key(key), self.is_key(other)) {
            (false, false) => key.table == other.table && other.column.ends_with(&key.column),
            (key, other) => key && !other,
        }
    }

    fn is_key(&self, place: &Place) -> bool {
        let is_it = |columns: &[String]| matches!(columns, [one] if one.eq_ignore_ascii_case(&place.column));
        self.schema.table(&place.table).is_some_and(|t| is_it(&t.primary_key) || t.unique.iter().any(|u| is_it(u)))
    }
}

fn lower(text: &str) -> String {
    text.to_lowercase()
}

fn source_of(table: &Table) -> Source {
    let name = lower(&table.name);
    let place = |column: &str| Place { table: name.clone(), column: lower(column) };
    let outputs = table.columns.iter().map(|c| (lower(&c.name), Some(place(&c.name)))).collect();
    Source { shown: name.clone(), is_table: true, outputs }
}

/// The outputs under other names, as far as there are any.
fn renamed(outputs: Vec<Output>, names: impl Iterator<Item = String>) -> Vec<Output> {
    let mut names = names;
    outputs.into_iter().map(|(name, place)| (names.next().unwrap_or(name), place)).collect()
}

fn output(source: &Source, column: &str) -> Option<Place> {
    source.outputs.iter().find(|(name, _)| name == column).and_then(|(_, place)| place.clone())
}

fn column_of(expr: &Expr<Spelled>) -> Option<&ObjectName> {
    match &expr.without_parens().kind {
        ExprKind::Column(name) => Some(name),
        _ => None,
    }
}

/// What PRIOR precedes.
fn prior(expr: &Expr<Spelled>) -> Option<&Expr<Spelled>> {
    match &expr.without_parens().kind {
        ExprKind::Unary(unary) if unary.operator == Operator::Prior => Some(&unary.operand),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use meaning::Catalog;
    use syntax::Dialect;

    use super::*;

    const SCHEMA: &str = "CREATE TABLE waterways (id INT, parent_id INT, name VARCHAR(20));
        CREATE TABLE landings (waterway_id INT, place INT, kind VARCHAR(10), PRIMARY KEY (place));";

    /// Links as `table.column>table.column`, conditions as `table.column`.
    fn found(sql: &str, dialect: &str) -> String {
        let dialect: Dialect = dialect.parse().expect("dialect");
        let schema = Catalog::from_ddl(SCHEMA, &dialect).expect("schema").schema;
        let graph = JoinGraph::of(&Text::read(sql, &dialect), &schema);
        let mut words: Vec<String> = Vec::new();
        for Link { table, key } in &graph.links {
            words.push(format!("{table}.{}>{}.{}", key.columns.join("+"), key.table, key.keys.join("+")));
        }
        words.extend(graph.twins.iter().map(|(a, b)| format!("{}.{}={}.{}", a.table, a.column, b.table, b.column)));
        words.extend(graph.conditions.iter().map(|c| format!("{}.{}", c.place.table, c.place.column)));
        words.join(" ")
    }

    #[test]
    fn links_and_conditions_of_queries() {
        #[rustfmt::skip]
        let cases = [
            ("oracle", "SELECT id FROM waterways CONNECT BY PRIOR id = parent_id", "waterways.parent_id>waterways.id"),
            ("oracle", "SELECT id FROM waterways CONNECT BY parent_id = PRIOR id AND id > 2", "waterways.parent_id>waterways.id waterways.id"),
            ("postgres", "WITH RECURSIVE c (i, n) AS (SELECT id, 1 FROM waterways WHERE parent_id IS NULL UNION ALL SELECT w.id, n + 1 FROM waterways w JOIN c ON w.parent_id = c.i) SELECT * FROM c",
                "waterways.parent_id>waterways.id waterways.parent_id"),
            ("postgres", "SELECT 1 FROM waterways w, landings l WHERE w.id = l.waterway_id AND l.kind LIKE 'q%' AND (w.name = 'a' OR w.name = 'b')",
                "landings.waterway_id>waterways.id landings.kind waterways.name"),
            ("mysql", "SELECT 1 FROM waterways w LEFT JOIN waterways p ON p.id = w.parent_id", "waterways.parent_id>waterways.id"),
            ("postgres", "SELECT 1 FROM waterways w WHERE EXISTS (SELECT 1 FROM landings WHERE waterway_id = w.id AND place < 3)",
                "waterways.id>landings.waterway_id landings.place"),
            ("postgres", "SELECT 1 FROM landings WHERE waterway_id = place", "landings.waterway_id=landings.place"),
            ("postgres", "SELECT 1 FROM waterways WHERE id IN (SELECT place FROM landings)", "waterways.id>landings.place"),
            ("postgres", "SELECT 1 FROM (SELECT id AS w FROM waterways) d JOIN landings l ON d.w = l.place AND l.kind = d.w || 'x'", "waterways.id>landings.place"),
        ];
        for (dialect, sql, wanted) in cases {
            assert_eq!(found(sql, dialect), wanted, "{sql}");
        }
    }
}
