//! What a dialect hears: the spellings of the book by their root word.
//!
//! A spelling is heard if it is one call or one operator over different arguments and constants;
//! composed ones are only said.

use std::sync::OnceLock;

use compact_str::CompactString;
use rustc_hash::FxHashMap;
use syntax::tree::{CallForm, Expr, ExprKind, Literal, Operator, Spelled};
use syntax::{DialectName, WordTable, nearest};

use super::template::Template;
use super::{PhraseId, phrases};

/// What is at one place of a call that is heard.
#[derive(Debug, Clone, PartialEq)]
pub enum Slot {
    /// The argument of this place among those the phrase takes.
    Argument(usize),
    /// All arguments from this one on.
    Rest(usize),
    /// A constant or word that must be written there.
    Constant(&'static Expr<Spelled>),
    /// `*`.
    Star,
}

/// A call that is heard as a phrase.
#[derive(Debug, Clone)]
pub struct Heard {
    /// The phrase.
    pub id: PhraseId,
    /// How it must be spelled.
    pub form: CallForm,
    /// What is in its parentheses.
    pub slots: Vec<Slot>,
}

impl Heard {
    /// Whether a call with so many arguments fits.
    fn takes(&self, count: usize) -> bool {
        match self.slots.last() {
            Some(Slot::Rest(_)) => count + 1 >= self.slots.len(),
            _ => count == self.slots.len(),
        }
    }
}

/// What one dialect hears.
struct Ear {
    /// Those without parentheses, asked for every bare column.
    words: WordTable<Option<PhraseId>>,
    /// By the root word in capitals.
    calls: FxHashMap<CompactString, Vec<Heard>>,
    operators: FxHashMap<Operator, PhraseId>,
    prefixes: FxHashMap<Operator, PhraseId>,
}

fn ear(dialect: DialectName) -> &'static Ear {
    static EARS: [OnceLock<Ear>; DialectName::COUNT] = [const { OnceLock::new() }; DialectName::COUNT];
    EARS[dialect as usize].get_or_init(|| {
        let mut words = Vec::new();
        let mut ear = Ear::deaf();
        // What a user's file says of a word counts before what ours say.
        let own = super::PHRASES.len();
        let (ours, users): (Vec<_>, Vec<_>) = phrases().partition(|(id, _)| (id.0 as usize) < own);
        for (id, phrase) in users.into_iter().chain(ours) {
            for sql in phrase.spellings(dialect) {
                if is_word(sql) {
                    words.push((sql, Some(id)));
                } else if let Some(template) = Template::read(sql, dialect) {
                    ear.learn(template.tree, sql, id);
                }
            }
        }
        // The table gives the first of equal words, as it was learnt first.
        ear.words = WordTable::new(None, words.into_iter());
        ear
    })
}

impl Ear {
    /// One that hears nothing yet.
    fn deaf() -> Ear {
        Ear {
            words: WordTable::new(None, std::iter::empty()),
            calls: FxHashMap::default(),
            operators: FxHashMap::default(),
            prefixes: FxHashMap::default(),
        }
    }

    fn learn(&mut self, tree: &'static Expr<Spelled>, sql: &str, id: PhraseId) {
        let is_argument = |e: &Expr<Spelled>| Template::argument(e).is_some();
        match &tree.kind {
            // `:a * :a` is said, not heard; `:parts || :parts` joins all that there are.
            ExprKind::Binary(binary)
                if is_argument(&binary.left)
                    && is_argument(&binary.right)
                    && (Template::argument(&binary.left) != Template::argument(&binary.right)
                        || id.phrase().takes.iter().any(|t| t.repeated)) =>
            {
                self.operators.entry(binary.operator).or_insert(id);
            }
            ExprKind::Unary(unary) if is_argument(&unary.operand) => {
                self.prefixes.entry(unary.operator).or_insert(id);
            }
            ExprKind::Call(call) => {
                let repeats = sql.contains("...)");
                let last = call.arguments.len().saturating_sub(1);
                let slots: Option<Vec<Slot>> =
                    call.arguments.iter().enumerate().map(|(i, a)| slot(&a.value, repeats && i == last, id)).collect();
                let Some(slots) = slots.filter(|s| call.tail.is_none() && differ(s)) else { return };
                let heard = Heard { id, form: call.form, slots };
                let known = self.calls.entry(call.function.dotted().to_uppercase().into()).or_default();
                if !known.iter().any(|k| k.id == id && k.form == heard.form && k.slots == heard.slots) {
                    known.push(heard);
                }
            }
            _ => {}
        }
    }
}

fn slot(expr: &'static Expr<Spelled>, repeats: bool, id: PhraseId) -> Option<Slot> {
    if let Some(name) = Template::argument(expr) {
        let at = id.phrase().argument(name)?;
        return Some(if repeats { Slot::Rest(at) } else { Slot::Argument(at) });
    }
    match &expr.kind {
        ExprKind::Star(None) => Some(Slot::Star),
        ExprKind::Literal(_) | ExprKind::Column(_) => Some(Slot::Constant(expr)),
        _ => None,
    }
}

/// No argument occurs twice.
fn differ(slots: &[Slot]) -> bool {
    slots.iter().enumerate().all(|(i, slot)| !matches!(slot, Slot::Argument(_)) || !slots[..i].contains(slot))
}

/// A template that is one word, said without parentheses.
fn is_word(sql: &str) -> bool {
    sql.chars().all(|c| c.is_alphanumeric() || c == '_')
}

/// Whether a call has the constants that a spelling wants.
fn has_constants(heard: &Heard, arguments: &[&Expr<Spelled>], exactly: bool) -> bool {
    heard.slots.iter().zip(arguments).all(|(slot, given)| match slot {
        Slot::Constant(wanted) => same_constant(wanted, given, exactly),
        Slot::Star => matches!(given.kind, ExprKind::Star(None)),
        _ => !matches!(given.kind, ExprKind::Star(_)),
    })
}

fn same_constant(wanted: &Expr<Spelled>, given: &Expr<Spelled>, exactly: bool) -> bool {
    match (&wanted.kind, &given.without_parens().kind) {
        (ExprKind::Literal(Literal::Text(a)), ExprKind::Literal(Literal::Text(b))) if !exactly => a.eq_ignore_ascii_case(b),
        (ExprKind::Literal(a), ExprKind::Literal(b)) => a == b,
        // A word such as MONTH.
        (ExprKind::Column(a), ExprKind::Column(b)) => a.dotted().eq_ignore_ascii_case(&b.dotted()),
        _ => false,
    }
}

/// The spellings a call of `name` can be, in the order of the book.
pub fn hear_calls<'a>(
    dialect: DialectName,
    name: &str,
    form: CallForm,
    arguments: &'a [&'a Expr<Spelled>],
) -> impl Iterator<Item = &'static Heard> + 'a {
    let mut upper = CompactString::from(name);
    upper.make_ascii_uppercase();
    let heard = ear(dialect).calls.get(&upper).map_or(&[][..], Vec::as_slice);
    let fits = move |h: &&'static Heard, exactly: bool| h.form == form && h.takes(arguments.len()) && has_constants(h, arguments, exactly);
    // Of two that differ in the case of a constant, such as the formats %x and %X, the one written is meant.
    let exactly = heard.iter().any(|h| h.slots.iter().any(|s| matches!(s, Slot::Constant(_))) && fits(&h, true));
    heard.iter().filter(move |h| fits(h, exactly))
}

/// The spellings of a phrase that call a function of this name, whatever their arguments.
pub fn named_calls(dialect: DialectName, name: &str, id: PhraseId) -> impl Iterator<Item = &'static Heard> {
    let mut upper = CompactString::from(name);
    upper.make_ascii_uppercase();
    let heard = ear(dialect).calls.get(&upper).map_or(&[][..], Vec::as_slice);
    heard.iter().filter(move |h| h.id == id)
}

/// With how many arguments a function of this name is heard; 99 means any number more.
pub fn argument_counts(dialect: DialectName, name: &str) -> Vec<usize> {
    let heard = ear(dialect).calls.get(name.to_uppercase().as_str()).map_or(&[][..], Vec::as_slice);
    let mut counts: Vec<usize> = heard.iter().map(|h| h.slots.len()).collect();
    counts.sort_unstable();
    counts.dedup();
    counts
}

/// Names of functions like one that isn't known: of the dialect's own.
pub fn near_calls(dialect: DialectName, name: &str) -> Option<&'static str> {
    let known = ear(dialect).calls.keys().map(CompactString::as_str);
    nearest(&name.to_uppercase(), known)
}

/// The phrase a word without parentheses is.
pub fn hear_word(dialect: DialectName, word: &str) -> Option<PhraseId> {
    ear(dialect).words.find(word.as_bytes(), word.len())
}

/// The phrase an infix operator is.
pub fn hear_operator(dialect: DialectName, operator: Operator) -> Option<PhraseId> {
    ear(dialect).operators.get(&operator).copied()
}

/// The phrase a prefix operator is.
pub fn hear_prefix(dialect: DialectName, operator: Operator) -> Option<PhraseId> {
    ear(dialect).prefixes.get(&operator).copied()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Those that are taken instead of the one that is heard, by the types of the operands.
    const BY_TYPES: [&str; 4] = ["number.divide-cut", "number.divide-decimals", "number.remainder-decimals", "text.concatenate"];

    /// Of two phrases that a bare operator could be, the second would never be heard.
    #[test]
    fn an_operator_is_one_phrase() {
        for dialect in DialectName::ALL {
            let mut heard: Vec<(Operator, bool, &str)> = Vec::new();
            for (id, phrase) in phrases() {
                for tree in phrase.spellings(dialect).filter(|sql| !is_word(sql)).filter_map(|sql| Template::read(sql, dialect)) {
                    let mut alone = Ear::deaf();
                    alone.learn(tree.tree, "", id);
                    let operators = alone.operators.keys().map(|o| (*o, true)).chain(alone.prefixes.keys().map(|o| (*o, false)));
                    for (operator, infix) in operators {
                        let is_other = |id: &str| id != phrase.id && !BY_TYPES.contains(&id) && !BY_TYPES.contains(&phrase.id);
                        let other = heard.iter().find(|(o, i, id)| (*o, *i) == (operator, infix) && is_other(id));
                        assert!(other.is_none(), "{operator:?} in {dialect}: {}, {other:?}", phrase.id);
                        heard.push((operator, infix, phrase.id));
                    }
                }
            }
        }
    }
}
