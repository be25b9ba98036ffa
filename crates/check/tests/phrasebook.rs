//! The phrasebook: every example on every stand-in and live engine; every phrase said in the dialect it
//! was heard in, and translated to the others and compared.
#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

#[path = "../../engines/tests/live/mod.rs"]
mod live;
mod stand_ins;

use check::proof::{Proof, examples, prove, read_value};
use check::{Pair, Settings, VerdictKind};
use engines::{Address, Engine, literal_sql, open};
use meaning::{ArgumentKind, Catalog, Phrase, PhraseKind, column_type_sql, phrases};
use syntax::{Dialect, DialectName};
use translate::{Options, translate_text};
use values::{DataType, Value};

/// Every example on an engine comes out as the book says.
fn holds_on(engine: &mut dyn Engine) {
    let mut failures = Vec::new();
    let all = examples(engine.dialect());
    for example in &all {
        if let Proof::Failed(got) = prove(example, engine).expect("engine") {
            failures.push(format!(
                "{}: {}\n  the book says {}, the engine gives {got}",
                example.id.phrase().id,
                example.sql,
                example.gives
            ));
        }
    }
    assert!(failures.is_empty(), "{} of {} on {}\n{}", failures.len(), all.len(), engine.name(), failures.join("\n"));
    println!("{}: {} examples pass", engine.name(), all.len());
}

fn live_holds(variable: &str) {
    if let Some(mut engine) = live::engine(variable) {
        holds_on(&mut *engine);
    }
}

#[test]
fn examples_hold_on_stand_ins() {
    for dialect in DialectName::ALL {
        let address: Address = format!("standin:{dialect}").parse().expect("address");
        holds_on(&mut *open(&address).expect("stand-in"));
    }
    holds_on(&mut *open(&"sqlite::memory:".parse().expect("address")).expect("sqlite"));
}

macro_rules! live {
    ($($name:ident $variable:literal;)*) => {
        mod examples_hold_on {
            $(#[test] fn $name() { super::live_holds($variable); })*
        }
    };
}

live! {
    postgres "INLAND_FERRY_POSTGRES";
    mariadb "INLAND_FERRY_MARIADB";
    mysql "INLAND_FERRY_MYSQL";
    duckdb "INLAND_FERRY_DUCKDB";
    spark "INLAND_FERRY_SPARK";
    googlesql "INLAND_FERRY_GOOGLESQL";
}

/// A query of one phrase in a dialect's spelling, and the table it reads.
struct Question {
    phrase: &'static str,
    sql: String,
    ddl: String,
}

/// The type of the column that represents an argument; none where only a constant may.
fn column_type(kind: ArgumentKind, example: &str) -> Option<DataType> {
    let like = || {
        read_value(example).map_or(DataType::TEXT, |v| match v {
            Value::Integer(_) => DataType::Integer(32),
            Value::Decimal(_) | Value::Float(_) => DataType::Decimal(Some((6, 2))),
            Value::Boolean(_) => DataType::Boolean,
            Value::Date(_) => DataType::Date,
            Value::Timestamp(_) => DataType::TIMESTAMP,
            _ => DataType::Text { length: Some(12), fixed: false },
        })
    };
    match kind {
        ArgumentKind::String => Some(DataType::Text { length: Some(12), fixed: false }),
        ArgumentKind::Any => Some(like()),
        ArgumentKind::Number | ArgumentKind::Decimal | ArgumentKind::Float => {
            Some(like()).filter(DataType::is_numeric).or(Some(DataType::Integer(32)))
        }
        ArgumentKind::Integer | ArgumentKind::LongInteger | ArgumentKind::Condition => Some(DataType::Integer(32)),
        ArgumentKind::Date => Some(DataType::Date),
        ArgumentKind::Timestamp => Some(DataType::TIMESTAMP),
        ArgumentKind::Boolean | ArgumentKind::Binary | ArgumentKind::Regex | ArgumentKind::Replacement => None,
    }
}

/// The questions of a phrase: for each example the first argument from a column and the others
/// constants, and once all from columns.
fn questions(phrase: &'static Phrase, spelling: &str, dialect: &Dialect) -> Vec<Question> {
    let mut found = Vec::new();
    let Some(first) = phrase.edges.first() else { return found };
    let plain = phrase.edges.iter().filter(|e| e.when.is_empty()).take(2).map(|e| (e.tried, false));
    for (tried, all_columns) in plain.chain([(first.tried, true)]) {
        let mut columns = vec!["id INTEGER NOT NULL PRIMARY KEY".to_string()];
        let mut written = Vec::new();
        for (i, text) in tried.iter().enumerate() {
            let parameter = phrase.takes.get(i).or(phrase.takes.last()).expect("argument");
            let constant = read_value(text).map_or(text.to_string(), |v| literal_sql(&v, dialect));
            let data_type = column_type(parameter.kind, text).filter(|_| all_columns || i == 0);
            let argument = match data_type {
                Some(data_type) => {
                    // Strings of thousands of characters are another matter.
                    let bound = if parameter.kind == ArgumentKind::Integer { format!(" CHECK (c{i} < 1000)") } else { String::new() };
                    columns.push(format!("c{i} {}{bound}", column_type_sql(&data_type, dialect)));
                    if parameter.kind == ArgumentKind::Condition { format!("c{i} > 1") } else { format!("c{i}") }
                }
                None if parameter.kind == ArgumentKind::Condition => "id > 1".to_string(),
                None => constant,
            };
            written.push(argument);
        }
        let Some(expr) = filled(spelling, phrase, &written) else { continue };
        let told_apart = matches!(dialect.name, DialectName::Oracle | DialectName::SqlServer);
        let value =
            if phrase.gives == "boolean" && told_apart { format!("CASE WHEN {expr} THEN 1 WHEN NOT ({expr}) THEN 0 END") } else { expr };
        found.push(Question {
            phrase: phrase.id,
            sql: format!("SELECT id, {value} AS r FROM t ORDER BY id"),
            ddl: format!("CREATE TABLE t ({})", columns.join(", ")),
        });
    }
    found
}

/// A spelling that is one call or operator, with its arguments; none for others.
fn filled(spelling: &str, phrase: &Phrase, written: &[String]) -> Option<String> {
    let mut out = spelling.to_string();
    for (i, parameter) in phrase.takes.iter().enumerate() {
        let name = format!(":{}", parameter.name);
        if parameter.repeated {
            let rest = written.get(i..)?;
            // `:parts || :parts` joins all of them.
            if let Some(sign) = [" || ", " + "].iter().find(|s| out.starts_with(&format!("{name}{s}"))) {
                out = rest.join(sign);
            } else if out.contains(&format!("{name}...")) {
                out = out.replace(&format!("{name}..."), &rest.join(", "));
            } else {
                return None;
            }
        } else if let Some(value) = written.get(i) {
            out = out.replace(&name, value);
        } else if out.contains(&name) {
            return None;
        }
    }
    Some(out)
}

/// Phrases that any trial can tell about.
fn is_tried(phrase: &Phrase) -> bool {
    !phrase.volatile && phrase.kind != PhraseKind::Window && phrase.kind != PhraseKind::Aggregate && !phrase.id.starts_with("session.")
}

/// Each phrase in the first spelling of each dialect that has one.
fn each_question(visit: &mut dyn FnMut(&Dialect, Question)) {
    for (_, phrase) in phrases().filter(|(_, p)| is_tried(p)) {
        for name in DialectName::ALL {
            let dialect = Dialect::newest(name);
            // Composed spellings are said, not heard.
            let is_heard = |q: &Question| {
                let script = translate_text(&q.sql, &dialect, &dialect, &catalog(&q.ddl, &dialect), &Options::default());
                script.statements[0].notes.iter().all(|n| n.note.code != "name.unknown")
            };
            let heard =
                phrase.spellings(name).map(|s| questions(phrase, s, &dialect)).find(|all| !all.is_empty() && all.iter().all(is_heard));
            heard.into_iter().flatten().for_each(|q| visit(&dialect, q));
        }
    }
}

fn catalog(ddl: &str, dialect: &Dialect) -> Catalog {
    Catalog::from_ddl(ddl, dialect).unwrap_or_else(|e| panic!("{ddl}: {e}"))
}

#[test]
fn what_is_heard_is_said_again() {
    let mut failures = Vec::new();
    each_question(&mut |dialect, question| {
        let script = translate_text(&question.sql, dialect, dialect, &catalog(&question.ddl, dialect), &Options::default());
        let statement = &script.statements[0];
        let same = statement.sql.as_deref() == Some(question.sql.as_str());
        if !same || !statement.notes.is_empty() {
            let notes: Vec<&str> = statement.notes.iter().map(|n| n.note.code).collect();
            failures.push(format!("{dialect}: {}\n  {:?} {notes:?}", question.sql, statement.sql));
        }
    });
    assert!(failures.is_empty(), "{} of them\n{}", failures.len(), failures.join("\n"));
}

/// Every phrase of one dialect to all others: what is translated agrees, on data aimed at its edges.
fn agrees_everywhere(every: usize) {
    let settings = Settings { trials: 6, examples: false, ..Settings::default() };
    let (mut failures, mut agreed, mut refused, mut at) = (Vec::new(), 0, 0, 0);
    each_question(&mut |from, question| {
        let catalog = catalog(&question.ddl, from);
        for to in DialectName::ALL.into_iter().filter(|t| *t != from.name).map(Dialect::newest) {
            at += 1;
            if at % every != 0 {
                continue;
            }
            let script = translate_text(&question.sql, from, &to, &catalog, &Options::default());
            let statement = &script.statements[0];
            let Some(translated) = &statement.sql else {
                refused += 1;
                continue;
            };
            // Composed spellings are said, not heard.
            if statement
                .notes
                .iter()
                .any(|n| matches!(n.note.code, "name.unknown" | "type.unknown") || n.note.message.contains("worked out"))
            {
                continue;
            }
            let assumptions = stand_ins::assumed(statement);
            let pair = Pair { source: &question.sql, from, target: translated, to: &to, assumptions: Some(&assumptions) };
            let verdict = stand_ins::verdict(pair, &to, None, &catalog.schema, &settings);
            let differs_always = statement.fidelity == meaning::Fidelity::Differs;
            match verdict.kind {
                VerdictKind::Agree => agreed += 1,
                VerdictKind::Differ if differs_always => {}
                // The source itself fails on the data: nothing to compare.
                VerdictKind::Failed => {}
                kind => failures.push(format!(
                    "{} from {from} to {to}: {} {}\n  {}\n  {translated}\n  {}",
                    question.phrase,
                    kind.as_str(),
                    verdict.reason.unwrap_or_default(),
                    question.sql,
                    question.ddl
                )),
            }
        }
    });
    assert!(failures.is_empty(), "{} of them, {agreed} agree, {refused} refused\n{}", failures.len(), failures.join("\n"));
    println!("{agreed} translations of phrases agree, {refused} are refused");
}

#[test]
fn phrases_agree_everywhere() {
    agrees_everywhere(stand_ins::number("INLAND_FERRY_EVERY", 7) as usize);
}
