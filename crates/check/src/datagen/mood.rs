//! What kind of data a trial has.
//!
//! The first trials are designed: each has one thing on its mind, so that each kind of mistake has
//! data on which nothing else is in play. Later ones mix.

use super::random::Random;

/// How many rows the tables have.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Rows {
    None,
    One,
    /// About as many as the query could limit by.
    Around,
    /// One table has none.
    OneTableEmpty,
}

/// What a table that refers to itself looks like.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Tree {
    /// Each row below another, one after the other.
    Chain,
    /// Below any row before it, several at the top.
    Wide,
    /// Some rows above themselves.
    Loops,
}

/// What is odd about strings.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Strings {
    Plain,
    /// Blanks at the ends and in the midst; nothing.
    Blanks,
    /// Capitals, accents, characters of several bytes.
    Letters,
    /// Quotes, wildcards, a backslash, lists with delimiters.
    Signs,
    /// Numbers.
    Digits,
}

/// A trial's kind of data.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) struct Mood {
    pub(crate) rows: Rows,
    /// Columns draw from few values.
    pub(crate) ties: bool,
    pub(crate) nulls: bool,
    pub(crate) strings: Strings,
    /// Negative, great and half numbers.
    pub(crate) odd_numbers: bool,
    /// Times of day, ends of months and years.
    pub(crate) odd_days: bool,
    pub(crate) tree: Tree,
    /// Rows are made that meet all conditions of the query at once, and others that fail one of them.
    pub(crate) led: bool,
}

const CALM: Mood = Mood {
    rows: Rows::Around,
    ties: false,
    nulls: false,
    strings: Strings::Plain,
    odd_numbers: false,
    odd_days: false,
    tree: Tree::Wide,
    led: true,
};

/// Designed ones, by the number of the trial.
const DESIGNED: [Mood; 17] = [
    Mood { rows: Rows::None, ..CALM },
    Mood { rows: Rows::One, ..CALM },
    CALM,
    Mood { ties: true, led: false, ..CALM },
    Mood { nulls: true, ..CALM },
    Mood { nulls: true, ties: true, ..CALM },
    Mood { strings: Strings::Blanks, ..CALM },
    Mood { strings: Strings::Letters, ..CALM },
    Mood { strings: Strings::Signs, ..CALM },
    Mood { strings: Strings::Digits, ..CALM },
    Mood { odd_numbers: true, ..CALM },
    Mood { odd_days: true, ..CALM },
    Mood { rows: Rows::OneTableEmpty, ties: true, ..CALM },
    Mood { tree: Tree::Chain, ..CALM },
    Mood { tree: Tree::Loops, ..CALM },
    Mood { rows: Rows::One, nulls: true, ..CALM },
    Mood { strings: Strings::Blanks, odd_numbers: true, odd_days: true, ties: true, ..CALM },
];

impl Mood {
    pub(crate) fn of(trial: usize, random: &mut Random) -> Mood {
        if let Some(mood) = DESIGNED.get(trial) {
            return *mood;
        }
        Mood {
            rows: if random.once_in(8) { Rows::OneTableEmpty } else { Rows::Around },
            ties: trial % 2 == 1,
            nulls: trial % 4 >= 2,
            strings: *random
                .of_these(&[Strings::Plain, Strings::Plain, Strings::Blanks, Strings::Letters, Strings::Signs, Strings::Digits])
                .unwrap_or(&Strings::Plain),
            odd_numbers: random.once_in(3),
            odd_days: random.once_in(3),
            tree: if random.once_in(3) { Tree::Chain } else { Tree::Wide },
            led: !random.once_in(3),
        }
    }
}
