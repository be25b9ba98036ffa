//! Which names are seen where, and what they refer to.

use compact_str::CompactString;
use meaning::{Binding, BindingTarget, Catalog, RelationId};
use syntax::tree::{Ident, ObjectName};
use values::{DataType, Table};

/// A column that a table reference offers.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Offered {
    /// Its name; none for an expression without an alias.
    pub(crate) name: Option<CompactString>,
    pub(crate) data_type: DataType,
    pub(crate) nullable: bool,
}

/// A table reference in sight.
#[derive(Debug, Clone)]
pub(crate) struct Relation {
    pub(crate) id: RelationId,
    /// Its alias, or the table's own name.
    pub(crate) name: Option<CompactString>,
    /// Its columns, if all are known.
    pub(crate) columns: Option<Vec<Offered>>,
    /// Those that are known of a table of which not all are.
    pub(crate) assumed: Vec<Offered>,
    /// An outer join can fill it with NULLs.
    pub(crate) nullable: bool,
}

/// What one block sees of its own.
#[derive(Debug, Clone, Default)]
pub(crate) struct Frame {
    pub(crate) relations: Vec<Relation>,
    /// The block's select list, once it is read.
    pub(crate) outputs: Option<Vec<Offered>>,
    /// NATURAL or USING shows two columns as one.
    pub(crate) merges_columns: bool,
    /// Super-aggregates make every key nullable.
    pub(crate) super_aggregates: bool,
}

/// What a name was found to be.
#[derive(Debug, Clone)]
pub(crate) struct Found {
    pub(crate) target: BindingTarget,
    pub(crate) data_type: DataType,
    pub(crate) nullable: bool,
}

impl Found {
    fn open() -> Found {
        Found { target: BindingTarget::Open, data_type: DataType::Unknown, nullable: true }
    }
}

impl Relation {
    fn find(&self, column: &str) -> Option<Found> {
        let columns = self.columns.as_ref().unwrap_or(&self.assumed);
        let offered = columns.iter().find(|c| c.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(column)))?;
        Some(Found {
            target: BindingTarget::Column(self.id),
            data_type: offered.data_type.clone(),
            nullable: offered.nullable || self.nullable,
        })
    }

    fn unknown(&self) -> Found {
        Found { target: BindingTarget::Column(self.id), data_type: DataType::Unknown, nullable: true }
    }

    fn is_named(&self, name: &str) -> bool {
        self.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(name))
    }
}

impl Frame {
    /// `qualifier.column`.
    pub(crate) fn qualified(&self, qualifier: &str, column: &str) -> Option<Found> {
        let relation = self.relations.iter().find(|r| r.is_named(qualifier))?;
        let mut found = relation.find(column).unwrap_or_else(|| relation.unknown());
        found.nullable |= self.super_aggregates;
        Some(found)
    }

    /// The table reference of a name.
    pub(crate) fn relation(&self, name: &str) -> Option<&Relation> {
        self.relations.iter().find(|r| r.is_named(name))
    }

    /// The columns a star stands for: those of one table reference, or of all.
    pub(crate) fn star_columns(&self, wanted: Option<RelationId>) -> Option<Box<[Binding]>> {
        if self.merges_columns {
            return None;
        }
        let mut columns = Vec::new();
        for relation in self.relations.iter().filter(|r| wanted.is_none_or(|id| id == r.id)) {
            for offered in relation.columns.as_ref()? {
                let mut parts = vec![Ident::made(offered.name.clone()?)];
                if self.relations.len() > 1 {
                    parts.insert(0, Ident::made(relation.name.clone()?));
                }
                columns.push(Binding {
                    name: ObjectName { parts },
                    target: BindingTarget::Column(relation.id),
                    data_type: offered.data_type.clone(),
                    nullable: offered.nullable || relation.nullable,
                });
            }
        }
        (!columns.is_empty()).then(|| columns.into())
    }

    /// A bare column name; `None` if this block surely has no such column.
    pub(crate) fn unqualified(&self, column: &str) -> Option<Found> {
        let mut known = self.relations.iter().filter_map(|r| r.find(column));
        if let Some(mut found) = known.next() {
            found.nullable |= self.super_aggregates;
            return Some(found);
        }
        let mut unknown = self.relations.iter().filter(|r| r.columns.is_none());
        match (unknown.next(), unknown.next()) {
            (Some(only), None) => Some(only.unknown()),
            (Some(_), Some(_)) => Some(Found::open()),
            _ => None,
        }
    }

    /// The place of an alias in the select list.
    pub(crate) fn output(&self, name: &str) -> Option<Found> {
        let outputs = self.outputs.as_ref()?;
        let at = outputs.iter().position(|o| o.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(name)))?;
        Some(Found { target: BindingTarget::Output(at as u32), data_type: outputs[at].data_type.clone(), nullable: outputs[at].nullable })
    }
}

/// The columns of a catalog table, if all are known.
pub(crate) fn catalog_columns(catalog: &Catalog, name: &str) -> Option<Vec<Offered>> {
    catalog.schema.table(name).filter(|t| !t.guessed).map(offered)
}

/// What is assumed of some columns of a table that the catalog doesn't know.
pub(crate) fn assumed_columns(catalog: &Catalog, name: &str) -> Vec<Offered> {
    catalog.schema.table(name).filter(|t| t.guessed).map(offered).unwrap_or_default()
}

fn offered(table: &Table) -> Vec<Offered> {
    let columns = table.columns.iter();
    columns.map(|c| Offered { name: Some(c.name.as_str().into()), data_type: c.data_type.clone(), nullable: c.nullable }).collect()
}
