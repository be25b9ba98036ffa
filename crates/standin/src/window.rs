//! Window functions.

use rustc_hash::FxHashMap;
use syntax::tree::{Direction, FrameExclusion, FrameUnit, NullOrder};
use syntax::{DialectName, DialectSet};
use values::{Row, Value};

use crate::aggregate::Accumulator;
use crate::arithmetic::{Arithmetic, compute};
use crate::compare::{GroupKey, as_float, group_key, sort_order};
use crate::convert::{of_value, to_decimal, whole};
use crate::execute::{Environment, NOTHING, Outer, Runner, compare_folded, fold, sort_places, window_input};
use crate::failure::{Codes, Failure, Outcome};
use crate::plan::{AggregatePlan, Bound, Code, FramePlan, Key, WindowPlan};
use crate::types::Type;

/// The window functions known.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum WindowKind {
    RowNumber,
    Rank,
    DenseRank,
    PercentRank,
    CumulativeShare,
    Tile,
    Lag,
    Lead,
    First,
    Last,
    Nth,
    Ratio,
    Aggregate,
}

use DialectName::{Duckdb, Oracle, Spark, SqlServer, Sqlite};
const ALL: DialectSet = DialectSet::ALL;
const BUT_SQL_SERVER: DialectSet = DialectSet::of(&[
    Oracle,
    DialectName::Mysql,
    DialectName::Mariadb,
    DialectName::Postgres,
    Duckdb,
    DialectName::Bigquery,
    Spark,
    Sqlite,
]);

/// Names, the dialects that have them, and what they are; arguments at most.
const NAMES: &[(&str, DialectSet, WindowKind, usize)] = &[
    ("ROW_NUMBER", ALL, WindowKind::RowNumber, 0),
    ("RANK", ALL, WindowKind::Rank, 0),
    ("DENSE_RANK", ALL, WindowKind::DenseRank, 0),
    ("PERCENT_RANK", ALL, WindowKind::PercentRank, 0),
    ("CUME_DIST", ALL, WindowKind::CumulativeShare, 0),
    ("NTILE", ALL, WindowKind::Tile, 1),
    ("LAG", ALL, WindowKind::Lag, 3),
    ("LEAD", ALL, WindowKind::Lead, 3),
    ("FIRST_VALUE", ALL, WindowKind::First, 1),
    ("FIRST", DialectSet::of(&[Duckdb, Spark]), WindowKind::First, 1),
    ("LAST_VALUE", ALL, WindowKind::Last, 1),
    ("LAST", DialectSet::of(&[Duckdb, Spark]), WindowKind::Last, 1),
    ("NTH_VALUE", BUT_SQL_SERVER, WindowKind::Nth, 2),
    ("RATIO_TO_REPORT", DialectSet::of(&[Oracle]), WindowKind::Ratio, 1),
];

impl WindowKind {
    /// What an upper-case name is as a window function that is no aggregate.
    pub(crate) fn named(name: &str, dialect: DialectName) -> Option<(WindowKind, usize)> {
        NAMES.iter().find(|(n, dialects, ..)| *n == name && dialects.has(dialect)).map(|(.., kind, most)| (*kind, *most))
    }

    /// Whether the name is one in some dialect, for a better message.
    pub(crate) fn is_known(name: &str) -> bool {
        NAMES.iter().any(|(n, ..)| *n == name)
    }

    /// Whether its value depends on the order of rows, so that an ORDER BY is asked for.
    pub(crate) fn needs_order(self) -> bool {
        !matches!(self, WindowKind::Aggregate | WindowKind::Ratio)
    }

    /// Whether a frame has an effect on it.
    pub(crate) fn sees_frame(self) -> bool {
        matches!(self, WindowKind::First | WindowKind::Last | WindowKind::Nth | WindowKind::Aggregate)
    }

    pub(crate) fn result_type(self, argument: Option<&Type>, dialect: DialectName) -> Type {
        match self {
            WindowKind::RowNumber | WindowKind::Rank | WindowKind::DenseRank | WindowKind::Tile if dialect == Oracle => Type::Number,
            WindowKind::RowNumber | WindowKind::Rank | WindowKind::DenseRank | WindowKind::Tile => Type::BIGINT,
            WindowKind::PercentRank | WindowKind::CumulativeShare | WindowKind::Ratio if dialect == Oracle => Type::Number,
            WindowKind::PercentRank | WindowKind::CumulativeShare | WindowKind::Ratio => Type::Float,
            _ => argument.cloned().unwrap_or(Type::Any).without_literal(),
        }
    }
}

/// Adds the value of each window to every row.
pub(crate) fn add_all(plans: &[WindowPlan], rows: &mut [Row], outer: Outer<'_>, runner: &Runner<'_>) -> Outcome<()> {
    let mut last: Option<(&WindowPlan, Arranged)> = None;
    for plan in plans {
        // Windows over the same rows in the same order are worked out over one arrangement.
        let arranged = match last.take() {
            Some((before, arranged)) if before.partition == plan.partition && before.order == plan.order => arranged,
            _ => Arranged::new(plan, rows, outer, runner)?,
        };
        let mut values: Vec<Value> = vec![Value::Null; rows.len()];
        for members in &arranged.partitions {
            Partition::new(plan, members, rows, &arranged.keys, outer, runner).fill(&mut values)?;
        }
        for (row, value) in rows.iter_mut().zip(values) {
            row.push(value);
        }
        last = Some((plan, arranged));
    }
    Ok(())
}

/// Rows in partitions, in the order of the window.
struct Arranged {
    /// Places of rows.
    partitions: Vec<Vec<u32>>,
    /// The sort keys of each row.
    keys: Vec<Vec<Value>>,
}

impl Arranged {
    fn new(plan: &WindowPlan, rows: &[Row], outer: Outer<'_>, runner: &Runner<'_>) -> Outcome<Arranged> {
        let mut keys = Vec::new();
        let mut places: Vec<u32> = (0..rows.len() as u32).collect();
        if !plan.order.is_empty() {
            keys.reserve(rows.len());
            for row in rows {
                let mut own = runner.keys_of(&plan.order, &Environment::of(row, outer))?;
                fold(&mut own, &plan.order);
                keys.push(own);
            }
            // Ties come in an order nobody chose; without any order the stream's own is kept.
            runner.shuffle(&mut places);
            sort_places(&mut places, |place| &keys[place as usize], &plan.order);
        }
        let partitions = if plan.partition.is_empty() { vec![places] } else { parted(plan, places, rows, outer, runner)? };
        Ok(Arranged { partitions, keys })
    }
}

/// Sorted places by partition, in the order they are met: the seed alone decides.
fn parted(plan: &WindowPlan, places: Vec<u32>, rows: &[Row], outer: Outer<'_>, runner: &Runner<'_>) -> Outcome<Vec<Vec<u32>>> {
    let mut numbers: FxHashMap<Vec<GroupKey>, usize> = FxHashMap::default();
    let mut partitions: Vec<Vec<u32>> = Vec::new();
    let mut partition = Vec::with_capacity(plan.partition.len());
    for place in places {
        let env = Environment::of(&rows[place as usize], outer);
        partition.clear();
        for column in &plan.partition {
            partition.push(group_key(&*runner.look(&column.code, &env)?, column.collation));
        }
        let number = match numbers.get(&partition) {
            Some(number) => *number,
            None => {
                numbers.insert(partition.clone(), partitions.len());
                partitions.push(Vec::new());
                partitions.len() - 1
            }
        };
        partitions[number].push(place);
    }
    Ok(partitions)
}

/// One partition, its rows in order.
struct Partition<'p, 'a> {
    plan: &'p WindowPlan,
    members: &'p [u32],
    rows: &'p [Row],
    keys: &'p [Vec<Value>],
    outer: Outer<'p>,
    runner: &'p Runner<'a>,
    /// Where each group of equal rows starts, and the end of the last.
    peers: Vec<usize>,
    /// The group of each place.
    group_of: Vec<usize>,
}

impl<'p, 'a> Partition<'p, 'a> {
    fn new(
        plan: &'p WindowPlan,
        members: &'p [u32],
        rows: &'p [Row],
        keys: &'p [Vec<Value>],
        outer: Outer<'p>,
        runner: &'p Runner<'a>,
    ) -> Self {
        let mut peers = vec![0];
        let mut group_of = Vec::with_capacity(members.len());
        for place in 0..members.len() {
            if place > 0
                && !keys.is_empty()
                && compare_folded(&keys[members[place - 1] as usize], &keys[members[place] as usize], &plan.order).is_ne()
            {
                peers.push(place);
            }
            group_of.push(peers.len() - 1);
        }
        peers.push(members.len());
        Partition { plan, members, rows, keys, outer, runner, peers, group_of }
    }

    fn env(&self, place: usize) -> Environment<'_> {
        Environment::of(&self.rows[self.members[place] as usize], self.outer)
    }

    fn argument(&self, index: usize, place: usize) -> Outcome<Option<Value>> {
        self.plan.arguments.get(index).map(|code| self.runner.eval(code, &self.env(place))).transpose()
    }

    fn column(&self) -> Outcome<Vec<Value>> {
        (0..self.members.len()).map(|place| Ok(self.argument(0, place)?.unwrap_or(Value::Null))).collect()
    }

    fn fill(&self, values: &mut [Value]) -> Outcome<()> {
        let count = self.members.len();
        let mut set = |place: usize, value: Value| values[self.members[place] as usize] = value;
        let share = |above: usize, below: usize| {
            let exact = self.plan.result == Type::Number;
            let value = if below == 0 { 0.0 } else { above as f64 / below as f64 };
            if exact && below > 0 {
                let (a, b) = (Value::Integer(above as i64), Value::Integer(below as i64));
                return compute(Arithmetic::Divide, (&a, &Type::Number), (&b, &Type::Number), &Type::Number, self.runner.behaviour);
            }
            Ok(Value::Float(value))
        };
        match self.plan.kind {
            WindowKind::RowNumber => (0..count).for_each(|place| set(place, Value::Integer(place as i64 + 1))),
            WindowKind::Rank => (0..count).for_each(|place| set(place, Value::Integer(self.peers[self.group_of[place]] as i64 + 1))),
            WindowKind::DenseRank => (0..count).for_each(|place| set(place, Value::Integer(self.group_of[place] as i64 + 1))),
            WindowKind::PercentRank => {
                for place in 0..count {
                    set(place, share(self.peers[self.group_of[place]], count - 1)?);
                }
            }
            WindowKind::CumulativeShare => {
                for place in 0..count {
                    set(place, share(self.peers[self.group_of[place] + 1], count)?);
                }
            }
            WindowKind::Tile => {
                for place in 0..count {
                    let tiles = self.argument(0, place)?.and_then(|v| whole(&v));
                    let Some(tiles) = tiles.filter(|n| *n > 0) else { return Err(Failure::invalid("NTILE wants a number above 0")) };
                    set(place, Value::Integer(tile(place as i64, count as i64, tiles)));
                }
            }
            WindowKind::Lag | WindowKind::Lead => self.shifted(&mut set)?,
            WindowKind::Ratio => {
                let column = self.column()?;
                let total: Option<bigdecimal::BigDecimal> = column.iter().filter_map(to_decimal).reduce(|a, b| a + b);
                let total = total.map_or(Value::Null, Value::decimal);
                for (place, value) in column.iter().enumerate() {
                    set(
                        place,
                        compute(Arithmetic::Divide, (value, &Type::Number), (&total, &Type::Number), &Type::Number, self.runner.behaviour)?,
                    );
                }
            }
            WindowKind::First | WindowKind::Last | WindowKind::Nth => self.at_frame_place(&mut set)?,
            WindowKind::Aggregate => self.aggregates(&mut set)?,
        }
        Ok(())
    }

    // --- LAG and LEAD --------------------------------------------------------------------------

    fn shifted(&self, set: &mut dyn FnMut(usize, Value)) -> Outcome<()> {
        let column = self.column()?;
        for place in 0..column.len() {
            let by = match self.argument(1, place)? {
                None => 1,
                Some(value) => match whole(&value) {
                    Some(by) if by >= 0 || !matches!(self.runner.behaviour.name(), Oracle | SqlServer | DialectName::Mysql) => by,
                    _ => return Err(Failure::invalid("LAG and LEAD want a number from 0")),
                },
            };
            let by = if self.plan.kind == WindowKind::Lag { -by } else { by };
            let found = if self.plan.ignore_nulls {
                step_over_nulls(&column, place, by)
            } else {
                usize::try_from(place as i64 + by).ok().filter(|p| *p < column.len())
            };
            let value = match found {
                Some(at) => column[at].clone(),
                None => self.argument(2, place)?.unwrap_or(Value::Null),
            };
            set(place, value);
        }
        Ok(())
    }

    // --- frames --------------------------------------------------------------------------------

    fn at_frame_place(&self, set: &mut dyn FnMut(usize, Value)) -> Outcome<()> {
        let column = self.column()?;
        for place in 0..column.len() {
            let frame = self.frame(place)?;
            let mut inside = (0..frame.len()).map(|i| frame.at(i)).filter(|p| !self.plan.ignore_nulls || !column[*p].is_null());
            let found = match self.plan.kind {
                WindowKind::First => inside.next(),
                WindowKind::Last => inside.next_back(),
                _ => {
                    let n = self.argument(1, place)?.and_then(|v| whole(&v)).filter(|n| *n > 0);
                    let Some(n) = n else { return Err(Failure::invalid("NTH_VALUE wants a number above 0")) };
                    if self.plan.from_last { inside.nth_back(n as usize - 1) } else { inside.nth(n as usize - 1) }
                }
            };
            set(place, found.map_or(Value::Null, |at| column[at].clone()));
        }
        Ok(())
    }

    fn aggregates(&self, set: &mut dyn FnMut(usize, Value)) -> Outcome<()> {
        let Some(aggregate) = &self.plan.aggregate else { return Ok(()) };
        let behaviour = self.runner.behaviour;
        let parameters = self.runner.eval_all(&aggregate.parameters, self.members.first().map_or(NOTHING, |_| self.env(0)).by_ref())?;
        match self.growth() {
            Growth::FromStart => return self.growing(aggregate, &parameters, false, set),
            // What keeps the order of its rows can't be gathered from the end.
            Growth::FromEnd if !aggregate.kind.gathers() && aggregate.keep.is_none() => {
                return self.growing(aggregate, &parameters, true, set);
            }
            _ => {}
        }
        let inputs: Vec<_> =
            (0..self.members.len()).map(|place| window_input(aggregate, &self.env(place), self.runner)).collect::<Outcome<_>>()?;
        for place in 0..self.members.len() {
            let frame = self.frame(place)?;
            let mut accumulator = Accumulator::default();
            for (arguments, keys) in (0..frame.len()).filter_map(|i| inputs[frame.at(i)].as_ref()) {
                accumulator.add(aggregate, arguments, keys, behaviour)?;
            }
            set(place, accumulator.finish(aggregate, &parameters, behaviour)?);
        }
        Ok(())
    }

    /// Whether each frame holds the one before it, or the one behind it.
    fn growth(&self) -> Growth {
        let Some(frame) = &self.plan.frame else { return Growth::FromStart };
        let steady = |bound: &Bound| match bound {
            Bound::Preceding(code) | Bound::Following(code) => matches!(code, Code::Constant(_)),
            _ => true,
        };
        if !matches!(frame.exclude, None | Some(FrameExclusion::NoOthers)) {
            return Growth::No;
        }
        match (&frame.start, &frame.end) {
            (Bound::UnboundedPreceding, end) if steady(end) => Growth::FromStart,
            (start, Bound::UnboundedFollowing) if steady(start) => Growth::FromEnd,
            _ => Growth::No,
        }
    }

    /// Frames that each hold the one before, from the first row on or from the last one back.
    fn growing(&self, aggregate: &AggregatePlan, parameters: &[Value], back: bool, set: &mut dyn FnMut(usize, Value)) -> Outcome<()> {
        let behaviour = self.runner.behaviour;
        let count = self.members.len();
        let turned = |nth: usize| if back { count - 1 - nth } else { nth };
        let (mut accumulator, mut taken) = (Accumulator::default(), 0);
        let mut value = accumulator.finish(aggregate, parameters, behaviour)?;
        for place in (0..count).map(turned) {
            let frame = self.frame(place)?;
            let reach = if back { count - frame.start() } else { frame.end() };
            if reach > taken {
                for next in (taken..reach).map(turned) {
                    accumulator.take(aggregate, &self.env(next), self.runner)?;
                }
                taken = reach;
                value = accumulator.finish(aggregate, parameters, behaviour)?;
            }
            set(place, value.clone());
        }
        Ok(())
    }

    fn frame(&self, place: usize) -> Outcome<Frame> {
        let Some(frame) = &self.plan.frame else {
            // Without an order all rows; with one up to the row's equals.
            let end = if self.plan.order.is_empty() { self.members.len() } else { self.peers[self.group_of[place] + 1] };
            return Ok(Frame::Range(0, end));
        };
        let start = self.bound(frame, &frame.start, place, true)?;
        let end = self.bound(frame, &frame.end, place, false)?.max(start);
        let group = (self.peers[self.group_of[place]], self.peers[self.group_of[place] + 1]);
        Ok(match frame.exclude {
            None | Some(FrameExclusion::NoOthers) => Frame::Range(start, end),
            Some(FrameExclusion::CurrentRow) => Frame::List((start..end).filter(|p| *p != place).collect()),
            Some(FrameExclusion::Group) => Frame::List((start..end).filter(|p| *p < group.0 || *p >= group.1).collect()),
            Some(FrameExclusion::Ties) => Frame::List((start..end).filter(|p| *p == place || *p < group.0 || *p >= group.1).collect()),
        })
    }

    /// The first place of the frame, or the one after its last.
    fn bound(&self, frame: &FramePlan, bound: &Bound, place: usize, starts: bool) -> Outcome<usize> {
        let count = self.members.len();
        let (code, back) = match bound {
            Bound::UnboundedPreceding => return Ok(0),
            Bound::UnboundedFollowing => return Ok(count),
            Bound::CurrentRow => {
                return Ok(match (frame.unit, starts) {
                    (FrameUnit::Rows, true) => place,
                    (FrameUnit::Rows, false) => place + 1,
                    (_, true) => self.peers[self.group_of[place]],
                    (_, false) => self.peers[self.group_of[place] + 1],
                });
            }
            Bound::Preceding(code) => (code, true),
            Bound::Following(code) => (code, false),
        };
        let offset = self.runner.eval(code, &self.env(place))?;
        if frame.unit == FrameUnit::Range {
            return self.range_bound(&offset, back, place, starts);
        }
        let wrong: Codes = &[(DialectName::Postgres, "22013"), (Oracle, "ORA-30486")];
        let Some(offset) = whole(&offset).filter(|n| *n >= 0) else {
            return Err(Failure::invalid("a frame's bound must be a number from 0").coded(self.runner.behaviour.name(), wrong));
        };
        let signed = if back { -offset } else { offset };
        if frame.unit == FrameUnit::Rows {
            return Ok((place as i64 + signed + i64::from(!starts)).clamp(0, count as i64) as usize);
        }
        let group = self.group_of[place] as i64 + signed + i64::from(!starts);
        Ok(if group < 0 { 0 } else { self.peers[(group as usize).min(self.peers.len() - 1)] })
    }

    /// RANGE with an offset: by the value of the one sort key.
    fn range_bound(&self, offset: &Value, back: bool, place: usize, starts: bool) -> Outcome<usize> {
        let own = &self.keys[self.members[place] as usize][0];
        let group = self.group_of[place];
        if own.is_null() {
            return Ok(if starts { self.peers[group] } else { self.peers[group + 1] });
        }
        let key: &Key = &self.plan.order[0];
        let descending = key.direction == Some(Direction::Descending);
        // In a descending order what precedes is greater.
        let limit = self.moved(own, offset, back == descending)?;
        let before = |p: &u32| {
            let order = sort_order(&self.keys[*p as usize][0], &limit, key.collation);
            let order = if descending { order.reverse() } else { order };
            if starts { order.is_lt() } else { order.is_le() }
        };
        // NULLs stand at one end, outside of every bound.
        let is_null = |p: &u32| self.keys[*p as usize][0].is_null();
        let present = match key.nulls {
            NullOrder::First => self.members.partition_point(is_null)..self.members.len(),
            NullOrder::Last => 0..self.members.partition_point(|p| !is_null(p)),
        };
        Ok(present.start + self.members[present].partition_point(before))
    }

    /// A sort key's value, further by an offset.
    fn moved(&self, value: &Value, offset: &Value, forward: bool) -> Outcome<Value> {
        if let (Some(moment), Value::Interval(interval)) = (crate::moment::as_moment(value), offset) {
            let moved = crate::moment::moved(moment, interval, if forward { 1 } else { -1 });
            return Ok(moved.map_or(Value::Null, Value::Timestamp));
        }
        if let (Some(moment), Some(days)) = (crate::moment::as_moment(value), as_float(offset)) {
            let nanos = (days * crate::moment::DAY_NANOS as f64) as i128 * if forward { 1 } else { -1 };
            return Ok(crate::moment::moment_of(crate::moment::nanos(moment) + nanos).map_or(Value::Null, Value::Timestamp));
        }
        let operator = if forward { Arithmetic::Add } else { Arithmetic::Subtract };
        let (a, b) = (of_value(value), of_value(offset));
        compute(operator, (value, &a), (offset, &b), &Type::Any, self.runner.behaviour)
    }
}

impl Environment<'_> {
    fn by_ref(&self) -> &Self {
        self
    }
}

/// How frames follow each other.
enum Growth {
    FromStart,
    FromEnd,
    No,
}

/// The places a row's frame has.
enum Frame {
    Range(usize, usize),
    List(Vec<usize>),
}

impl Frame {
    fn len(&self) -> usize {
        match self {
            Frame::Range(start, end) => end - start,
            Frame::List(places) => places.len(),
        }
    }

    /// The place of its first row.
    fn start(&self) -> usize {
        match self {
            Frame::Range(start, _) => *start,
            Frame::List(places) => places.first().copied().unwrap_or(0),
        }
    }

    /// The place behind its last row.
    fn end(&self) -> usize {
        match self {
            Frame::Range(_, end) => *end,
            Frame::List(places) => places.last().map_or(0, |last| last + 1),
        }
    }

    /// The place of its row number `i`.
    fn at(&self, i: usize) -> usize {
        match self {
            Frame::Range(start, _) => start + i,
            Frame::List(places) => places[i],
        }
    }
}

/// The tile of a place: earlier tiles have one row more where they don't come out even.
fn tile(place: i64, count: i64, tiles: i64) -> i64 {
    let (size, longer) = (count / tiles, count % tiles);
    if place < longer * (size + 1) { place / (size + 1) + 1 } else { longer + (place - longer * (size + 1)) / size.max(1) + 1 }
}

fn step_over_nulls(column: &[Value], place: usize, by: i64) -> Option<usize> {
    if by == 0 {
        return Some(place);
    }
    let wanted = by.unsigned_abs() as usize - 1;
    if by < 0 {
        (0..place).rev().filter(|p| !column[*p].is_null()).nth(wanted)
    } else {
        (place + 1..column.len()).filter(|p| !column[*p].is_null()).nth(wanted)
    }
}
