//! Notes: what a reader of a translation must know, and how faithful it is.

use std::borrow::Cow;
use std::fmt;

use syntax::tree::Span;

use crate::breach::Breach;

/// What a translation promises.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Fidelity {
    /// The same outcome on every database state the catalog allows.
    Exact,
    /// The same if a stated condition holds, which can be tested.
    Assumes,
    /// A known difference that always shows or can't be tested.
    Differs,
    /// Not translated.
    Refused,
    /// Not even read.
    Unreadable,
}

impl Fidelity {
    /// The word used in output.
    pub const fn as_str(self) -> &'static str {
        match self {
            Fidelity::Exact => "exact",
            Fidelity::Assumes => "assumes",
            Fidelity::Differs => "differs",
            Fidelity::Refused => "refused",
            Fidelity::Unreadable => "unreadable",
        }
    }
}

impl fmt::Display for Fidelity {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.as_str())
    }
}

/// One thing to know about one place of a statement.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Note {
    /// Which kind, as listed in [`CODES`] or derived from a phrase.
    pub code: &'static str,
    /// What it does to the statement's fidelity.
    pub fidelity: Fidelity,
    /// One sentence in plain words.
    pub message: Cow<'static, str>,
    /// The name of the function, operator or construct it is about, for summaries; empty if it has none.
    pub subject: Cow<'static, str>,
    /// The user knows of it and has settled it: it doesn't lower the fidelity.
    pub settled: bool,
    /// What to do.
    pub advice: Option<Cow<'static, str>>,
    /// The tokens it is about.
    pub span: Span,
    /// The data that breaks what is assumed; none where it isn't about data.
    pub breach: Option<Breach<Span>>,
}

impl Note {
    /// A note of a listed code with that code's fidelity.
    pub fn new(code: &'static str, span: Span, message: impl Into<Cow<'static, str>>) -> Note {
        let fidelity = code_fact(code).map_or(Fidelity::Differs, |fact| fact.fidelity);
        Note { code, fidelity, message: message.into(), subject: Cow::Borrowed(""), settled: false, advice: None, span, breach: None }
    }

    /// With the name of what it is about.
    #[must_use]
    pub fn about(mut self, subject: impl Into<Cow<'static, str>>) -> Note {
        self.subject = subject.into();
        self
    }

    /// With what breaks it.
    #[must_use]
    pub fn broken_by(mut self, breach: Breach<Span>) -> Note {
        self.breach = Some(breach);
        self
    }

    /// By the name of the phrase it is about, of the same fidelity.
    #[must_use]
    pub fn coded(mut self, code: &'static str) -> Note {
        self.code = code;
        self
    }

    /// With advice.
    #[must_use]
    pub fn advise(mut self, advice: impl Into<Cow<'static, str>>) -> Note {
        self.advice = Some(advice.into());
        self
    }
}

/// What a note code represents.
#[derive(Debug, Clone, Copy)]
pub struct CodeFact {
    /// The code.
    pub code: &'static str,
    /// Its fidelity.
    pub fidelity: Fidelity,
    /// What it means, for `explain`.
    pub about: &'static str,
}

const fn fact(code: &'static str, fidelity: Fidelity, about: &'static str) -> CodeFact {
    CodeFact { code, fidelity, about }
}

/// Every code that isn't derived from a phrase. Codes are stable.
pub const CODES: &[CodeFact] = &[
    fact(
        "row-limit.no-order",
        Fidelity::Assumes,
        "A row limit without an order: which rows it keeps is the engine's free choice, on both sides. It is the same as long as no more rows than the limit are found, or an ORDER BY settles the choice.",
    ),
    fact("row-limit.never", Fidelity::Exact, "A condition on ROWNUM that no row can meet, since numbers are given one row at a time."),
    fact("row-limit.not-said", Fidelity::Refused, "The target has no row limit of this kind in this place."),
    fact("row-limit.no-count", Fidelity::Refused, "The source takes no such row count: the query fails there."),
    fact("row-limit.not-constant", Fidelity::Refused, "The target takes only constants and parameters as row counts."),
    fact(
        "row-limit.columns-needed",
        Fidelity::Refused,
        "The rewrite numbers the rows in an added column, and the columns behind * are not known. Give the tables with --schema.",
    ),
    fact("row-limit.in-change", Fidelity::Refused, "The target can't limit the rows an UPDATE or DELETE changes."),
    fact("row-limit.which-rows", Fidelity::Assumes, "Which rows an UPDATE or DELETE with a row limit takes is the engine's choice."),
    fact(
        "session.row-count",
        Fidelity::Differs,
        "SET ROWCOUNT stops every later statement of the session at so many rows; the target has no such setting.",
    ),
    fact("rownum.condition", Fidelity::Refused, "ROWNUM in a condition that can't be found out as a row limit."),
    fact(
        "rownum.in-list",
        Fidelity::Exact,
        "ROWNUM in a select list numbers rows in the order they pass; without an ordered inline view that is the engine's choice.",
    ),
    fact(
        "sort.null-order",
        Fidelity::Differs,
        "NULLs sort at the other end in the target, and the place of the sort key leaves no room to say so.",
    ),
    fact(
        "group.bare-column",
        Fidelity::Assumes,
        "A grouped query shows a column it doesn't group by; the target groups by it too, which is the same if it has one value in each group.",
    ),
    fact(
        "name.unknown",
        Fidelity::Assumes,
        "A function that is neither a built-in of the source nor in the phrasebook: one of your own, kept by its name.",
    ),
    fact(
        "name.taken",
        Fidelity::Differs,
        "A function of your own has the name of a built-in function of the target, which is called instead.",
    ),
    fact("function.not-translated", Fidelity::Refused, "A built-in function of the source that is not translated."),
    fact(
        "types.unknown",
        Fidelity::Assumes,
        "Columns whose types are not known, where the translation isn't exact for every type that they could have.",
    ),
    fact("name.untyped", Fidelity::Assumes, "A word has several meanings, distinguished by types that are not known."),
    fact("type.unknown", Fidelity::Refused, "A type that is not in the phrasebook, and of which nothing is known in the target."),
    fact(
        "change.conversion",
        Fidelity::Assumes,
        "A value is assigned to a column of another type: what doesn't fit is rounded, cut or an error, as each engine likes.",
    ),
    fact(
        "change.order",
        Fidelity::Refused,
        "A SET uses a column that it has changed before: MySQL and MariaDB assign from left to right, others all at once.",
    ),
    fact("number.division-untyped", Fidelity::Assumes, "Whether a division drops the fraction depends on types that are not known."),
    fact(
        "cast.text-to-number",
        Fidelity::Assumes,
        "A cast of a string that is no number fails on one side and reads what it can on the other.",
    ),
    fact(
        "cast.overflow",
        Fidelity::Assumes,
        "A cast of a number that has no room in the type gives the greatest that does on one side, and fails on the other.",
    ),
    fact("cast.text-to-boolean", Fidelity::Assumes, "A string becomes true or false: which words are taken, and what others do, differs."),
    fact(
        "cast.text-or-null",
        Fidelity::Assumes,
        "A cast that gives NULL for an error: what counts as a number in a string differs from engine to engine.",
    ),
    fact(
        "cast.decimal-to-text",
        Fidelity::Differs,
        "A number with a fraction becomes a string: whether 1.50 keeps its last zero, and 0.5 its first, differs.",
    ),
    fact(
        "regex.line-end",
        Fidelity::Assumes,
        "A $ also fits before a line's end that comes last on one side, and only at the very end on the other.",
    ),
    fact(
        "regex.longest",
        Fidelity::Assumes,
        "Of several ways in which a regular expression fits, PostgreSQL takes the longest and others the one written first.",
    ),
    fact(
        "regex.empty-match",
        Fidelity::Assumes,
        "A regular expression that fits an empty text: where such matches count differs from engine to engine.",
    ),
    fact(
        "regex.skipped-group",
        Fidelity::Assumes,
        "A group of a regular expression that takes no part in the match is NULL on one side and '' on the other.",
    ),
    fact(
        "regex.letters",
        Fidelity::Assumes,
        "Classes of letters in regular expressions hold those of all languages on one side, and those of ASCII on the other.",
    ),
    fact(
        "number.quotient-digits",
        Fidelity::Differs,
        "MySQL 9 rounds a quotient to four digits more than its dividend has before it goes on; others, and MySQL before, keep more of it.",
    ),
    fact(
        "number.decimal-as-float",
        Fidelity::Assumes,
        "SQLite keeps decimals as binary floating-point numbers: digits behind the fifteenth, and ties in rounding, can differ.",
    ),
    fact(
        "number.single-precision",
        Fidelity::Assumes,
        "A floating-point number of four bytes is shown, compared and summed with other digits by each engine.",
    ),
    fact(
        "cast.text-to-date",
        Fidelity::Assumes,
        "A string becomes a day or time: which forms are read, and what other strings give, differs from engine to engine.",
    ),
    fact(
        "number.format-room",
        Fidelity::Assumes,
        "A number that is too great for its format becomes # signs on one side and is written out on the other.",
    ),
    fact("number.format-zero", Fidelity::Assumes, "A number below 1 has a 0 before its point on one side only, as its format has none."),
    fact("number.cast-fraction", Fidelity::Assumes, "A cast to a whole number rounds a fraction on one side and cuts it off on the other."),
    fact("cast.number-to-short-text", Fidelity::Assumes, "A number is cast to a string that may have no room for all of its digits."),
    fact(
        "type.mixed",
        Fidelity::Assumes,
        "Strings and numbers share a column or a choice: SQLite keeps each as it is, others make one type of them.",
    ),
    fact("number.fifteen-digits", Fidelity::Assumes, "Decimals are worked with as binary floating-point numbers of some 15 digits."),
    fact("number.not-finite", Fidelity::Assumes, "NaN and infinity are compared and worked with by other rules on each side."),
    fact(
        "cast.decimal-places",
        Fidelity::Assumes,
        "A decimal without a scale keeps all of its places in one engine, and a fixed number of them in the other.",
    ),
    fact(
        "cast.unsigned",
        Fidelity::Assumes,
        "A number below 0 changes its value in a cast to UNSIGNED, and keeps it in the target's type.",
    ),
    fact(
        "aggregate.total-of-nothing",
        Fidelity::Assumes,
        "ROLLUP, CUBE and grouping sets over no rows give a grand total in some engines and no row in others.",
    ),
    fact(
        "text.padding",
        Fidelity::Assumes,
        "A CHAR is filled with blanks up to its length: some engines count, show and join them, others drop them, or add none.",
    ),
    fact(
        "text.empty-is-null",
        Fidelity::Exact,
        "Oracle holds no empty text: it reads '' as NULL, and so a comparison with it is never true.",
    ),
    fact(
        "text.empty-or-null",
        Fidelity::Assumes,
        "Oracle holds no empty text: rows that hold '' elsewhere hold NULL there, and a test for NULL meets them on one side only.",
    ),
    fact(
        "text.collation",
        Fidelity::Assumes,
        "Strings are compared with or without regard to case, accents and trailing blanks, as the server's collation says.",
    ),
    fact(
        "array.no-element",
        Fidelity::Assumes,
        "Asking for an element that an array doesn't have fails on one side and gives NULL on the other.",
    ),
    fact("compare.rows", Fidelity::Assumes, "Two rows of values are compared, and NULL in one of them means another thing to each side."),
    fact("text.plus-untyped", Fidelity::Assumes, "Whether + joins strings or adds numbers depends on types that are not known."),
    fact("text.like-case", Fidelity::Assumes, "LIKE takes small and capital letters for the same on one side only."),
    fact("text.like-escape", Fidelity::Assumes, "A LIKE pattern whose backslash or bracket means something on one side only."),
    fact(
        "hint.dropped",
        Fidelity::Exact,
        "A hint to the source's optimizer became a plain comment or was left out: it has no part in the result.",
    ),
    fact("label.lost", Fidelity::Differs, "The header of a column without an alias can't be kept in the target."),
    fact("clause.dropped", Fidelity::Exact, "A clause without a part in the result was left out."),
    fact("construct.not-translated", Fidelity::Refused, "A construct that Inland Ferry reads but does not yet translate to this target."),
    fact("statement.not-a-query", Fidelity::Refused, "A statement that is not a query and is not translated."),
    fact(
        "statement.governed",
        Fidelity::Refused,
        "A statement that depends on one that is not translated: the rest of its transaction, a user of its variable or temporary table.",
    ),
    fact("statement.too-long", Fidelity::Refused, "A statement whose translation would repeat its parts until it is many times as long."),
    fact("statement.carried", Fidelity::Exact, "A line for the client program or a session setting was kept as a comment."),
    fact("variable.type", Fidelity::Assumes, "A variable becomes a parameter of the target."),
    fact("statement.unreadable", Fidelity::Unreadable, "The statement could not be read."),
];

/// What is known about a code.
pub fn code_fact(code: &str) -> Option<&'static CodeFact> {
    CODES.iter().find(|f| f.code == code)
}
