//! Which names are seen where, and what they refer to.

use compact_str::CompactString;
use meaning::{Binding, BindingTarget, Catalog, Known, RelationId};
use syntax::tree::{Ident, ObjectName};
use values::{Column, DataType};

/// A column that a table reference offers.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct OutputColumn {
    /// Its name; none for an expression without an alias.
    pub(crate) name: Option<CompactString>,
    pub(crate) data_type: DataType,
    pub(crate) nullable: bool,
    /// It is the word NULL, without a type of its own.
    pub(crate) only_null: bool,
}

impl OutputColumn {
    /// A column of a type.
    pub(crate) fn of(name: Option<CompactString>, data_type: DataType, nullable: bool) -> OutputColumn {
        OutputColumn { name, data_type, nullable, only_null: false }
    }

    /// The column of a set operation: named by its first branch, of the type that holds both.
    pub(crate) fn or(self, other: &OutputColumn) -> OutputColumn {
        let known =
            |o: &OutputColumn| Known { data_type: o.data_type.clone(), nullable: o.nullable, only_null: o.only_null, ..Known::NOTHING };
        let both = known(&self).or(known(other));
        OutputColumn { name: self.name, data_type: both.data_type, nullable: both.nullable, only_null: both.only_null }
    }
}

/// What is known of the columns of a table reference.
#[derive(Debug, Clone, Default)]
pub(crate) struct Columns {
    pub(crate) known: Vec<OutputColumn>,
    /// There are no others.
    all: bool,
    /// The collation of one takes small and capital letters for the same.
    pub(crate) folds: bool,
}

impl Columns {
    /// The type of a column, if it is known.
    pub(crate) fn type_of(&self, name: &str) -> DataType {
        let column = self.known.iter().find(|c| c.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(name)));
        column.map_or(DataType::Unknown, |c| c.data_type.clone())
    }

    /// The columns, if all are known.
    pub(crate) fn all(&self) -> Option<&[OutputColumn]> {
        self.all.then_some(&self.known)
    }
}

/// All of them, or nothing is known.
impl From<Option<Vec<OutputColumn>>> for Columns {
    fn from(columns: Option<Vec<OutputColumn>>) -> Columns {
        Columns { all: columns.is_some(), known: columns.unwrap_or_default(), folds: false }
    }
}

impl OutputColumn {
    pub(crate) fn is_named(&self, name: &str) -> bool {
        self.name.as_deref().is_some_and(|own| own.eq_ignore_ascii_case(name))
    }
}

/// A table reference in sight.
#[derive(Debug, Clone)]
pub(crate) struct Relation {
    pub(crate) id: RelationId,
    /// Its alias, or the table's own name.
    pub(crate) name: Option<CompactString>,
    pub(crate) columns: Columns,
    /// An outer join can fill it with NULLs.
    pub(crate) nullable: bool,
}

/// What one block sees of its own.
#[derive(Debug, Clone, Default)]
pub(crate) struct Scope {
    pub(crate) relations: Vec<Relation>,
    /// The block's select list, once it is read.
    pub(crate) outputs: Option<Vec<OutputColumn>>,
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
        let offered = self.columns.known.iter().find(|c| c.name.as_deref().is_some_and(|n| n.eq_ignore_ascii_case(column)))?;
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

impl Scope {
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

    /// The columns a star represents: those of one table reference, or of all.
    pub(crate) fn star_columns(&self, wanted: Option<RelationId>) -> Option<Box<[Binding]>> {
        if self.merges_columns {
            return None;
        }
        let mut columns = Vec::new();
        for relation in self.relations.iter().filter(|r| wanted.is_none_or(|id| id == r.id)) {
            for offered in relation.columns.all()? {
                let mut parts = vec![Ident::synthetic(offered.name.clone()?)];
                if self.relations.len() > 1 {
                    parts.insert(0, Ident::synthetic(relation.name.clone()?));
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
        let mut unknown = self.relations.iter().filter(|r| r.columns.all().is_none());
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

/// The columns of a catalog table; of one that it doesn't know, what is assumed of some.
pub(crate) fn catalog_columns(catalog: &Catalog, name: &str) -> Columns {
    let Some(table) = catalog.schema.table(name) else { return Columns::default() };
    let offered = |c: &Column| OutputColumn::of(Some(c.name.as_str().into()), c.data_type.clone(), c.nullable);
    let folds = table.columns.iter().any(|c| c.case_sensitive == Some(false));
    Columns { known: table.columns.iter().map(offered).collect(), all: !table.guessed, folds }
}
