//! CONNECT BY and what goes with it.

use syntax::DialectName;
use syntax::tree::{Call, ConnectBy, Expr, SortKey, Spelled};

use super::select::ROW_NUMBER_SLOT;
use super::{Clause, Compiler};
use crate::failure::{Failure, Outcome};
use crate::plan::{Code, Comparison, HIERARCHY_COLUMNS, HierarchyPlan, Key, Place, Typed};
use crate::types::Type;

const PRIOR: usize = ROW_NUMBER_SLOT + (1 << 20);
const ROOT: usize = ROW_NUMBER_SLOT + (2 << 20);
const PATH: usize = ROW_NUMBER_SLOT + (3 << 20);

/// A hierarchy while its block is compiled.
#[derive(Default)]
pub(super) struct Parts {
    start: Option<Code>,
    condition: Option<Code>,
    no_cycle: bool,
    siblings: Vec<Key>,
    priors: Vec<Code>,
    roots: Vec<Code>,
    paths: Vec<(Code, Type, Code)>,
}

/// Where a hidden column follows the `columns` of FROM.
pub(super) fn placed(at: usize, columns: usize, extra: usize, priors: usize, roots: usize) -> usize {
    let base = columns + HIERARCHY_COLUMNS;
    if at >= PATH {
        base + priors + roots + (at - PATH)
    } else if at >= ROOT {
        base + priors + (at - ROOT)
    } else if at >= PRIOR {
        base + (at - PRIOR)
    } else if at > ROW_NUMBER_SLOT {
        columns + (at - ROW_NUMBER_SLOT - 1)
    } else {
        columns + extra
    }
}

/// Puts a code into a list unless it is there, and gives its place.
fn place_of<T: PartialEq>(list: &mut Vec<T>, item: T) -> usize {
    list.iter().position(|i| *i == item).unwrap_or_else(|| {
        list.push(item);
        list.len() - 1
    })
}

impl Compiler<'_> {
    pub(super) fn connect_by(&mut self, connect: &ConnectBy<Spelled>, siblings: &[SortKey<Spelled>]) -> Outcome<()> {
        self.block.clause = Clause::ConnectBy;
        let condition = self.condition(&connect.condition)?;
        self.block.clause = Clause::StartWith;
        let start = connect.start_with.as_ref().map(|e| self.condition(e)).transpose()?;
        let mut keys = Vec::new();
        for key in siblings {
            let typed = self.expr(&key.expr)?;
            keys.push(self.key(key, typed));
        }
        if let Some(parts) = &mut self.block.hierarchy {
            parts.condition = Some(condition);
            parts.start = start;
            parts.siblings = keys;
        }
        Ok(())
    }

    /// PRIOR x and CONNECT_BY_ROOT x.
    pub(super) fn hierarchy_operator(&mut self, operand: &Expr<Spelled>, root: bool) -> Outcome<Typed> {
        let typed = self.expr(operand)?;
        let Some(parts) = &mut self.block.hierarchy else {
            return Err(Failure::invalid("PRIOR and CONNECT_BY_ROOT need a CONNECT BY").with_code("ORA-01788"));
        };
        let at = if root { ROOT + place_of(&mut parts.roots, typed.code) } else { PRIOR + place_of(&mut parts.priors, typed.code) };
        Ok(Typed::new(Code::Slot(0, at), typed.ty))
    }

    /// SYS_CONNECT_BY_PATH(x, separator).
    pub(super) fn hierarchy_path(&mut self, call: &Call<Spelled>) -> Outcome<Typed> {
        let [value, separator] = call.arguments.as_slice() else {
            return Err(Failure::invalid("SYS_CONNECT_BY_PATH wants two arguments").with_code("ORA-00909"));
        };
        let (value, separator) = (self.expr(&value.value)?, self.expr(&separator.value)?);
        let Some(parts) = &mut self.block.hierarchy else {
            return Err(Failure::invalid("SYS_CONNECT_BY_PATH needs a CONNECT BY").with_code("ORA-30002"));
        };
        let at = place_of(&mut parts.paths, (value.code, value.ty, separator.code));
        Ok(Typed::new(Code::Slot(0, PATH + at), Type::varying(4000)))
    }

    /// LEVEL, ROWNUM and the other words that stand for a column.
    pub(super) fn pseudo_column(&mut self, name: &str) -> Outcome<Option<Typed>> {
        if self.dialect() != DialectName::Oracle {
            return Ok(None);
        }
        let number = match name {
            "ROWNUM" => {
                self.block.uses_row_number = true;
                let early = matches!(self.block.clause, Clause::Where | Clause::ConnectBy | Clause::From);
                let code = if early { Code::RowNumber } else { Code::Slot(0, ROW_NUMBER_SLOT) };
                return Ok(Some(Typed::new(code, Type::Number)));
            }
            "LEVEL" => 1,
            "CONNECT_BY_ISLEAF" => 2,
            "CONNECT_BY_ISCYCLE" => 3,
            _ => return Ok(None),
        };
        match &self.block.hierarchy {
            None => Err(Failure::invalid(format!("{name} needs a CONNECT BY")).with_code("ORA-01788")),
            Some(parts) if number == 3 && !parts.no_cycle => {
                Err(Failure::invalid("CONNECT_BY_ISCYCLE needs NOCYCLE").with_code("ORA-30930"))
            }
            Some(_) => Ok(Some(Typed::new(Code::Slot(0, ROW_NUMBER_SLOT + number), Type::Number))),
        }
    }
}

impl Parts {
    /// A hierarchy whose conditions are still to be compiled.
    pub(super) fn of(connect: &ConnectBy<Spelled>) -> Parts {
        Parts { no_cycle: connect.no_cycle, ..Parts::default() }
    }

    /// The plan over rows of `columns` columns; hidden columns get their places later.
    pub(super) fn plan(self, columns: usize, place: Place) -> HierarchyPlan {
        let condition = self.condition.unwrap_or(Code::Constant(values::Value::Null));
        // What is in the condition tells a row from those above it.
        let mut watched = Vec::new();
        condition.clone().walk(0, &mut |code, depth| {
            if let Code::Slot(d, at) = code
                && *d == depth
                && (PRIOR..ROOT).contains(at)
            {
                watched.push(*at - PRIOR);
            }
            true
        });
        watched.sort_unstable();
        watched.dedup();
        HierarchyPlan {
            place,
            width: columns,
            start: self.start,
            lookup: lookup(&condition),
            condition,
            no_cycle: self.no_cycle,
            siblings: self.siblings,
            priors: self.priors,
            watched,
            roots: self.roots,
            paths: self.paths,
        }
    }
}

/// `PRIOR a = b`: the rows below are found by b's value.
fn lookup(condition: &Code) -> Option<(usize, Code)> {
    let parts = match condition.bare() {
        Code::And(parts) => parts.as_slice(),
        one => std::slice::from_ref(one),
    };
    let prior = |code: &Code| match code.bare() {
        Code::Slot(0, at) if (PRIOR..ROOT).contains(at) => Some(*at - PRIOR),
        _ => None,
    };
    let plain = |code: &Code| matches!(code.bare(), Code::Slot(0, at) if *at < ROW_NUMBER_SLOT);
    parts.iter().find_map(|part| match part.bare() {
        Code::Compare(Comparison::Equal, sides, _) => match (prior(&sides.0), prior(&sides.1)) {
            (Some(at), None) if plain(&sides.1) => Some((at, sides.1.clone())),
            (None, Some(at)) if plain(&sides.0) => Some((at, sides.0.clone())),
            _ => None,
        },
        _ => None,
    })
}
