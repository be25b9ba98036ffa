//! What of a regular expression the engines read alike and take otherwise: reported where it is translated.
//!
//! Seen on MySQL 9.7, MariaDB 10.11, PostgreSQL 15, DuckDB 1.5, Spark 4.0 and the GoogleSQL evaluator;
//! PostgreSQL, POSIX Regular Expressions, Regular Expression Matching Rules.

use meaning::{Breach, Note, ValueClass, phrase};
use syntax::DialectName::{self, Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
use syntax::tree::Span;

use super::Writer;
use super::regex::flavour;
use super::set::{Brackets, Cursor, Member, set};

/// What a pattern has.
#[derive(Debug, Default, PartialEq, Eq)]
struct Traits {
    /// `$`.
    end: bool,
    /// Alternatives of which one can begin another, or quantifiers that take much beside some that take
    /// little.
    choices: bool,
    /// It fits an empty text.
    empty: bool,
    /// Classes of letters: `\w`, `[[:alpha:]]`.
    letters: bool,
    /// A group that is counted and can take no part in the match.
    skips: bool,
}

/// Where an empty match counts.
#[derive(PartialEq, Eq)]
enum EmptyMatches {
    Everywhere,
    /// Everywhere in a string that isn't empty itself.
    InText,
    /// Not right behind a match.
    Apart,
    /// None follows it.
    Last,
    /// It was not tried.
    Untried,
}

fn empty_matches(dialect: DialectName) -> EmptyMatches {
    match dialect {
        Postgres | Spark => EmptyMatches::Everywhere,
        Mysql => EmptyMatches::InText,
        Duckdb | Bigquery => EmptyMatches::Apart,
        Mariadb => EmptyMatches::Last,
        Oracle | SqlServer | Sqlite => EmptyMatches::Untried,
    }
}

/// An empty match is reported as NULL, by the engine's word or by what replaces it.
fn empty_match_is_null(dialect: DialectName) -> bool {
    matches!(dialect, Oracle | Mariadb | Duckdb | Spark)
}

/// A group that takes no part in the match is NULL, not an empty text (Oracle has no such text; seen on
/// PostgreSQL 15, the GoogleSQL evaluator, DuckDB 1.5, Spark 4.0, MySQL 9.7 and MariaDB 10.11).
fn skipped_group_is_null(dialect: DialectName) -> bool {
    matches!(dialect, Oracle | SqlServer | Postgres | Bigquery)
}

/// Classes of letters hold those of all languages.
fn letters_of_all_languages(dialect: DialectName) -> bool {
    matches!(dialect, Oracle | Mysql | Mariadb | Postgres)
}

/// A pattern, and what its phrase asks for.
pub(super) struct Asked<'a> {
    pub(super) phrase: &'static str,
    pub(super) pattern: &'a str,
    /// Where the text is that is looked through.
    pub(super) text: Span,
}

impl Asked<'_> {
    /// The text or the number of matches is asked for, not only whether and where there is one.
    fn asks_for_matches(&self) -> bool {
        ![
            phrase::REGEX_MATCHES,
            phrase::REGEX_MATCHES_ANY_CASE,
            phrase::REGEX_MATCHES_WHOLE,
            phrase::REGEX_POSITION,
            phrase::REGEX_POSITION_ANY_CASE,
        ]
        .contains(&self.phrase)
    }

    fn asks_for_group(&self) -> bool {
        [phrase::REGEX_GROUP, phrase::REGEX_GROUP_OF_MATCH, phrase::REGEX_FIRST_GROUP_OR_MATCH].contains(&self.phrase)
    }

    /// Whether it counts what an empty match is taken for.
    fn hangs_on_empty_matches(&self, from: DialectName, to: DialectName) -> bool {
        let is_one_of = |phrases: &[&str]| phrases.iter().any(|p| self.phrase.starts_with(p));
        let all = is_one_of(&["regex.replace-", phrase::REGEX_MATCH_NUMBER, phrase::REGEX_POSITION_OF_MATCH, phrase::REGEX_COUNT]);
        let text = is_one_of(&[phrase::REGEX_FIRST_MATCH, phrase::REGEX_MATCH_NUMBER, phrase::REGEX_GROUP, "regex.first-group"]);
        // BigQuery looks for the next place (seen on the GoogleSQL evaluator).
        let place = is_one_of(&[phrase::REGEX_POSITION]);
        (all && empty_matches(from) != empty_matches(to))
            || (text && empty_match_is_null(from) != empty_match_is_null(to))
            || (place && (from == Bigquery) != (to == Bigquery))
    }
}

impl Writer<'_> {
    /// Tells of what hangs on the engine in a pattern that is kept.
    pub(super) fn note_pattern(&mut self, asked: &Asked<'_>, span: Span) {
        let (from, to) = (self.from.name, self.to.name);
        let traits = traits(asked.pattern, flavour(from).brackets());
        let (source, target) = (from.title(), to.title());
        if traits.end && flavour(from).loose_end && !flavour(to).loose_end {
            let message = format!("$ also fits before a line's end that comes last in {source}, in {target} only at the very end");
            let note = Note::new("regex.line-end", span, message).advise("make sure that no text ends in a line's end, or write \\n?$");
            self.note(note.broken_by(Breach::Value(ValueClass::LineEnd, asked.text)));
        }
        if traits.choices && asked.asks_for_matches() && (from == Postgres) != (to == Postgres) {
            let (longest, first) = if from == Postgres { (source, target) } else { (target, source) };
            let message = format!("of several ways to fit, {longest} takes the longest and {first} the one written first");
            self.note(Note::new("regex.longest", span, message).advise("write the longer of two alternatives first, where both can fit"));
        }
        if traits.empty && asked.hangs_on_empty_matches(from, to) {
            let message =
                format!("this pattern fits an empty text too: what such a match counts for differs between {source} and {target}");
            self.note(Note::new("regex.empty-match", span, message).advise("ask for one character at least: + for *"));
        }
        if traits.skips && asked.asks_for_group() && skipped_group_is_null(from) != skipped_group_is_null(to) {
            let (null, empty) = if skipped_group_is_null(from) { (source, target) } else { (target, source) };
            let message = format!("a group of this pattern can take no part in the match: it is NULL in {null} then and '' in {empty}");
            self.note(
                Note::new("regex.skipped-group", span, message).advise("wrap it in COALESCE or NULLIF, or make the group fit always"),
            );
        }
        if traits.letters && letters_of_all_languages(from) != letters_of_all_languages(to) {
            let (all, ascii) = if letters_of_all_languages(from) { (source, target) } else { (target, source) };
            let message = format!("\\w and the classes of letters hold é and its kin in {all}, in {ascii} those of ASCII alone");
            let advice = format!("write what is meant: \\p{{L}} for all letters in {ascii}, [A-Za-z] for those of ASCII");
            let note = Note::new("regex.letters", span, message).advise(advice);
            self.note(note.broken_by(Breach::Value(ValueClass::BeyondAscii, asked.text)));
        }
    }
}

fn traits(pattern: &str, brackets: Brackets) -> Traits {
    let mut scan = Scan { cursor: Cursor::new(pattern), brackets, found: Traits::default(), greedy: false, lazy: false, groups: 0 };
    let empty = scan.alternatives();
    let choices = scan.found.choices || (scan.greedy && scan.lazy);
    Traits { choices, empty, ..scan.found }
}

/// A pattern as it is looked through.
struct Scan<'a> {
    cursor: Cursor<'a>,
    brackets: Brackets,
    found: Traits,
    /// A quantifier that takes as much as it can.
    greedy: bool,
    /// One that takes as little.
    lazy: bool,
    /// Groups counted so far.
    groups: usize,
}

/// A part of a pattern.
struct Part {
    /// It fits an empty text.
    empty: bool,
    /// What it begins with, as far as that is one text.
    head: String,
    /// It is that text.
    plain: bool,
}

impl Part {
    fn nothing() -> Part {
        Part { empty: true, head: String::new(), plain: false }
    }

    /// A character, or one of several.
    fn one(c: Option<char>) -> Part {
        Part { empty: false, head: c.map(String::from).unwrap_or_default(), plain: c.is_some() }
    }
}

impl Scan<'_> {
    /// Up to the end of a group or of it all: whether it fits an empty text.
    fn alternatives(&mut self) -> bool {
        let mut empty = false;
        let mut heads: Vec<String> = Vec::new();
        let groups = self.groups;
        loop {
            let part = self.sequence();
            empty |= part.empty;
            self.found.choices |= heads.iter().any(|h| h.starts_with(&part.head) || part.head.starts_with(h.as_str()));
            heads.push(part.head);
            if self.cursor.next_if_eq('|').is_none() {
                break;
            }
        }
        self.found.skips |= heads.len() > 1 && self.groups > groups;
        self.cursor.next_if_eq(')');
        empty
    }

    fn sequence(&mut self) -> Part {
        let mut whole = Part { plain: true, ..Part::nothing() };
        while self.cursor.peek().is_some_and(|c| c != '|' && c != ')') {
            let groups = self.groups;
            let mut part = self.piece();
            match self.quantifier() {
                Some(true) => {
                    self.found.skips |= self.groups > groups;
                    part = Part::nothing();
                }
                Some(false) => part.plain = false,
                None => {}
            }
            whole.empty &= part.empty;
            if whole.plain {
                whole.head.push_str(&part.head);
            }
            whole.plain &= part.plain;
        }
        whole
    }

    fn piece(&mut self) -> Part {
        match self.cursor.next() {
            Some('\\') => match self.cursor.next() {
                Some('w' | 'W') => {
                    self.found.letters = true;
                    Part::one(None)
                }
                Some('b' | 'B' | 'A' | 'z' | 'Z') => Part::nothing(),
                Some(c) => Part::one((!c.is_alphanumeric()).then_some(c)),
                None => Part::nothing(),
            },
            Some('[') => {
                let members = set(&mut self.cursor, self.brackets).map(|(_, members)| members).unwrap_or_default();
                let of_letters = |m: &Member| match m {
                    Member::Class(name) => matches!(name.as_str(), "alpha" | "alnum" | "upper" | "lower" | "word"),
                    Member::Perl(c) => c.eq_ignore_ascii_case(&'w'),
                    Member::Range(..) => false,
                };
                self.found.letters |= members.iter().any(of_letters);
                Part::one(None)
            }
            Some('(') => self.group(),
            Some('^') => Part::nothing(),
            Some('$') => {
                self.found.end = true;
                Part::nothing()
            }
            Some('.') => Part::one(None),
            other => Part::one(other),
        }
    }

    /// Behind `(`. What only looks ahead or back fits an empty text.
    fn group(&mut self) -> Part {
        let mut looks = false;
        let bare = self.cursor.next_if_eq('?').is_none();
        self.groups += usize::from(bare);
        if !bare {
            // `(?<=` and `(?<!` look back.
            looks = self.cursor.next_if_eq('<').is_some();
            looks |= self.cursor.next_if(|c| c == '=' || c == '!').is_some();
            // `(?i)`, `(?i:`, `(?:`
            while !looks && self.cursor.next_if(|c| c.is_ascii_lowercase() || c == '-' || c == ':').is_some_and(|c| c != ':') {}
        }
        let empty = syntax::with_stack(|| self.alternatives());
        Part { empty: empty || looks, ..Part::nothing() }
    }

    /// A quantifier, if there is one: whether it takes nothing too.
    fn quantifier(&mut self) -> Option<bool> {
        let sign = self.cursor.next_if(|c| matches!(c, '*' | '+' | '?' | '{'))?;
        let mut empty = sign != '+';
        if sign == '{' {
            empty = self.cursor.peek() == Some('0') || self.cursor.peek() == Some(',');
            while self.cursor.next().is_some_and(|c| c != '}') {}
        }
        if self.cursor.next_if_eq('?').is_some() {
            self.lazy = true;
        } else {
            self.greedy = true;
        }
        Some(empty)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn patterns_have_traits() {
        let brackets = flavour(Postgres).brackets();
        for (pattern, wanted) in [
            ("[0-9]+", ""),
            ("x*", "empty"),
            ("(ab)?|c", "choices empty skips"),
            ("(a)(?:-(b))?", "skips"),
            ("(a)|(b)", "choices skips"),
            ("(?:a|b)(c)+", ""),
            ("coal|ice|salt", ""),
            ("coal|coke", ""),
            ("coal|coals", "choices"),
            ("coa+|coa", "choices"),
            ("\\.a|\\.b", ""),
            ("(coal|ice)+ (a|b)", ""),
            ("a|[b-d]", "choices"),
            ("a+b*?", "choices"),
            ("a.*?b", ""),
            ("^$", "end empty"),
            ("a{0,2}", "empty"),
            ("a{2}", ""),
            ("\\$[$]", ""),
            ("(?i)\\w+", "letters"),
            ("[[:alpha:]_]", "letters"),
            ("[[:digit:]]", ""),
            ("(?:a|b)*", "empty"),
            ("(?=x)", "empty"),
            ("(?<=a|b)x", ""),
            ("\\bquay\\b", ""),
            ("a\\|b", ""),
            ("(unclosed", ""),
        ] {
            let found = traits(pattern, brackets);
            let named = [
                (found.end, "end"),
                (found.choices, "choices"),
                (found.empty, "empty"),
                (found.letters, "letters"),
                (found.skips, "skips"),
            ];
            let names: Vec<&str> = named.into_iter().filter(|(has, _)| *has).map(|(_, name)| name).collect();
            assert_eq!(names.join(" "), wanted, "{pattern}");
        }
    }
}
