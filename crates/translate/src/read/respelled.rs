//! Functions of one dialect that are syntax, or another function's name, in all: read as that.
//! Sources: the chapters on functions of each vendor's manual.

use std::sync::LazyLock;

use compact_str::CompactString;
use syntax::tree::{
    Argument, Call, CallForm, Expr, ExprKind, Ident, IsTest, IsWhat, LikeTest, LikeWord, Literal, ObjectName, Quote, Spelled,
};
use syntax::{DialectName, DialectSet, Spelling, WordTable, decode_text, write_text};

use super::format_text;

/// What a function is read as.
#[derive(Debug, Clone, Copy)]
enum Reading {
    /// A test for what isn't true: LNNVL.
    IsNotTrue,
    /// A test that takes NULL for the same as NULL.
    Same,
    /// A cast to this type.
    Cast(&'static str),
    /// A pattern, and the text it is held to; in Spark the text is first.
    Pattern(LikeWord),
    /// Its first argument: the others are hints, or name a character set.
    First,
    /// The function of this name.
    Renamed(&'static str),
    /// The argument of the number that the first one is, where it is a constant.
    Chosen,
    /// The function of the same name with an empty text as one argument more.
    WithEmptyText,
    /// The text that a constant writes with codes.
    Codes,
    /// CHAR: of MySQL as a string, which without a character set is one of bytes; of several codes the
    /// characters joined.
    Characters,
    /// A string by a collation that a parameter names: NLSSORT.
    Collated,
}

/// A reading, the dialects that have it, and with how many arguments at least and at most.
type Entry = (DialectSet, usize, usize, Reading);

static READINGS: LazyLock<WordTable<Option<Entry>>> = LazyLock::new(|| {
    use DialectName::{Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
    let (oracle, spark, sqlite) = (DialectSet::of(&[Oracle]), DialectSet::of(&[Spark]), DialectSet::of(&[Sqlite]));
    let one = |set: DialectSet, reading: Reading| (set, 1, 1, reading);
    let renamed = |words: &'static str, name: &'static str, most: usize| {
        words.split(' ').map(move |word| (word, (oracle, 1, most, Reading::Renamed(name))))
    };
    let types = "BOOLEAN TINYINT SMALLINT INT BIGINT FLOAT DOUBLE DECIMAL STRING BINARY";
    let entries = [
        ("LNNVL", one(oracle, Reading::IsNotTrue)),
        ("EQUAL_NULL", (spark, 2, 2, Reading::Same)),
        ("SIGNUM", one(spark, Reading::Renamed("SIGN"))),
        ("REPLACE", (spark, 2, 2, Reading::WithEmptyText)),
        ("ELT", (spark, 2, usize::MAX, Reading::Chosen)),
        ("TO_BINARY_DOUBLE", one(oracle, Reading::Cast("BINARY_DOUBLE"))),
        ("TO_BINARY_FLOAT", one(oracle, Reading::Cast("BINARY_FLOAT"))),
        ("LIKE", (DialectSet::of(&[Spark, Sqlite]), 2, 3, Reading::Pattern(LikeWord::Like))),
        ("GLOB", (sqlite, 2, 2, Reading::Pattern(LikeWord::Glob))),
        ("LIKELY", one(sqlite, Reading::First)),
        ("UNLIKELY", one(sqlite, Reading::First)),
        ("LIKELIHOOD", (sqlite, 2, 2, Reading::First)),
        ("CHAR", (DialectSet::of(&[Mysql, Mariadb, Sqlite]), 1, usize::MAX, Reading::Characters)),
        ("NLSSORT", (oracle, 2, 2, Reading::Collated)),
        ("ILIKE", (spark, 2, 3, Reading::Pattern(LikeWord::Ilike))),
        ("UNISTR", one(DialectSet::of(&[Oracle, Postgres, Sqlite, SqlServer]), Reading::Codes)),
    ];
    let all = (entries.into_iter())
        .chain(types.split(' ').map(|word| (word, one(spark, Reading::Cast(word)))))
        .chain(renamed("TO_CLOB TO_NCLOB", "TO_CHAR", 1))
        .chain(renamed("TO_NCHAR", "TO_CHAR", 2))
        // Functions of ODBC: {fn UCASE(x)}.
        .chain([
            ("UCASE", one(DialectSet::of(&[SqlServer]), Reading::Renamed("UPPER"))),
            ("LCASE", one(DialectSet::of(&[SqlServer]), Reading::Renamed("LOWER"))),
        ])
        // Characters of Unicode in their several senses: one character is one but for those composed.
        .chain(renamed("LENGTHC LENGTH2 LENGTH4", "LENGTH", 1))
        .chain(renamed("SUBSTRC SUBSTR2 SUBSTR4", "SUBSTR", 3))
        .chain(renamed("INSTRC INSTR2 INSTR4", "INSTR", 4))
        .chain(renamed("NLS_UPPER", "UPPER", 1))
        .chain(renamed("NLS_LOWER", "LOWER", 1))
        .chain(renamed("NLS_INITCAP", "INITCAP", 1));
    WordTable::new(None, all.map(|(word, entry)| (word, Some(entry))))
});

/// The dialects in which a function of this name is read as something else, and as what, in words.
pub fn read_as(word: &str) -> Option<(DialectSet, String)> {
    let upper = word.trim().trim_end_matches("()").to_ascii_uppercase();
    if upper == "VALIDATE_CONVERSION" {
        let as_what = "CASE WHEN x IS NULL OR TRY_CAST(x AS type) IS NOT NULL THEN 1 ELSE 0 END".to_string();
        return Some((DialectSet::of(&[DialectName::Oracle]), as_what));
    }
    let (dialects, _, _, reading) = READINGS.find(upper.as_bytes(), upper.len())?;
    let as_what = match reading {
        Reading::IsNotTrue => "(..) IS NOT TRUE".to_string(),
        Reading::Same => "a IS NOT DISTINCT FROM b".to_string(),
        Reading::Cast(to) => format!("CAST(.. AS {to})"),
        Reading::Pattern(LikeWord::Glob) => "text GLOB pattern".to_string(),
        Reading::Pattern(_) => "text LIKE pattern".to_string(),
        Reading::Collated => "text COLLATE name".to_string(),
        Reading::First => "its first argument, as the others say nothing of the result".to_string(),
        Reading::Renamed(name) => format!("{name}(..)"),
        Reading::Chosen => "the argument of a constant number".to_string(),
        Reading::WithEmptyText => "the same with '' as its last argument".to_string(),
        Reading::Codes => "the text that a constant writes with codes".to_string(),
        Reading::Characters => "CHAR(..) as a string, the characters of several codes joined".to_string(),
    };
    Some((dialects, as_what))
}

/// Functions that the grammar reads as casts, or whose formats are looked into.
const READ_BY_SHAPE: &[&str] = &[
    "cast",
    "convert",
    "try_cast",
    "try_convert",
    "safe_cast",
    "parse",
    "try_parse",
    "to_char",
    "to_number",
    "format",
    "printf",
    "nextval",
    "currval",
];

/// Whether a function of this name means something here, with some number of arguments.
pub fn hears(dialect: DialectName, name: &str) -> bool {
    !meaning::argument_counts(dialect, name).is_empty()
        || meaning::hear_word(dialect, name).is_some()
        || read_as(name).is_some_and(|(dialects, _)| dialects.has(dialect))
        || READ_BY_SHAPE.contains(&name)
}

/// The call as what it is in all dialects, or the call itself.
///
/// `keeps_charsets`: the target has character sets in calls too, so that bytes may stay bytes.
pub(super) fn respelled(call: Call<Spelled>, from: DialectName, keeps_charsets: bool) -> Result<Expr<Spelled>, Call<Spelled>> {
    match call.form {
        CallForm::Plain => {}
        CallForm::Using if from == DialectName::Oracle => return Ok(in_other_characters(call)),
        // One within another would be copied twice as often at each level.
        CallForm::Overlay
            if is_without_length(&call)
                && !call.arguments[1].value.any(&mut |e| matches!(&e.kind, ExprKind::Call(c) if is_without_length(c))) =>
        {
            return Ok(overlaid_by_as_much(call));
        }
        _ => return Err(call),
    }
    let Some(name) = call.function.as_single().filter(|n| n.quote == Quote::None) else { return Err(call) };
    if let Some(joined) = format_text::joined(&call, from) {
        return Ok(joined);
    }
    let entry = READINGS.find(name.text.as_bytes(), name.text.len());
    let count = call.arguments.len();
    let Some((dialects, least, most, reading)) = entry else { return Err(call) };
    let stays = keeps_charsets && matches!(reading, Reading::Characters) && from != DialectName::Sqlite;
    if stays || !dialects.has(from) || !(least..=most).contains(&count) || call.tail.is_some() {
        return Err(call);
    }
    made_of(reading, call, from)
}

fn made_of(reading: Reading, mut call: Call<Spelled>, from: DialectName) -> Result<Expr<Spelled>, Call<Spelled>> {
    if let Reading::Codes = reading {
        let text = decoded(&call.arguments[0].value, from).ok_or(call)?;
        return Ok(Expr::synthetic(ExprKind::Literal(Literal::Text(text))));
    }
    if let Reading::Characters = reading {
        return characters(call, from);
    }
    if let Reading::Collated = reading {
        return collated(call, from);
    }
    if let Reading::Chosen = reading {
        let number = match &call.arguments[0].value.kind {
            ExprKind::Literal(Literal::Number(digits)) => digits.parse::<usize>().ok(),
            _ => None,
        };
        let chosen = number.filter(|n| (1..call.arguments.len()).contains(n));
        return chosen.map(|at| call.arguments.swap_remove(at).value).ok_or(call);
    }
    if let Reading::WithEmptyText = reading {
        call.arguments.push(Argument { name: None, value: Expr::synthetic(ExprKind::Literal(Literal::Text("''".into()))) });
        return Err(call);
    }
    if let Reading::Renamed(name) = reading {
        call.function = renamed(&call.function, name);
        return Err(call);
    }
    let mut arguments = std::mem::take(&mut call.arguments).into_iter().map(|a| a.value);
    let Some(first) = arguments.next() else { return Err(call) };
    let is = |operand: Expr<Spelled>, negated: bool, what: IsWhat<Spelled>| {
        Expr::synthetic(ExprKind::Is(Box::new(IsTest { operand, negated, what, one_word: false })))
    };
    Ok(match (reading, arguments.next()) {
        (Reading::IsNotTrue, _) => is(first, true, IsWhat::True),
        (Reading::Same, Some(other)) => is(first, false, IsWhat::Same(other)),
        (Reading::Cast(word), _) => Expr::cast(first, word),
        (Reading::Pattern(word), Some(second)) => {
            let escape = arguments.next();
            let (operand, pattern) = if from == DialectName::Spark { (first, second) } else { (second, first) };
            let test = LikeTest { operand, negated: false, word, quantifier: None, pattern, escape };
            Expr::synthetic(ExprKind::Like(Box::new(test)))
        }
        _ => first,
    })
}

/// CHAR(a, b ..): a string of each code, joined; MySQL passes over codes that are NULL.
fn characters(mut call: Call<Spelled>, from: DialectName) -> Result<Expr<Spelled>, Call<Spelled>> {
    let is_sqlite = from == DialectName::Sqlite;
    if call.arguments.len() == 1 {
        if !is_sqlite {
            call.form = CallForm::Using;
            call.arguments.push(Argument { name: None, value: name_of("utf8mb4") });
        }
        return Err(call);
    }
    let each = call.arguments.into_iter().map(|code| {
        let mut one = Call::plain(call.function.clone(), vec![code.value]);
        if !is_sqlite {
            one.form = CallForm::Using;
            one.arguments.push(Argument { name: None, value: name_of("utf8mb4") });
        }
        Expr::synthetic(ExprKind::Call(Box::new(one)))
    });
    let empty = Expr::synthetic(ExprKind::Literal(Literal::Text("''".into())));
    Ok(match is_sqlite {
        true => Expr::call("CONCAT", each.collect()),
        false => Expr::call("CONCAT_WS", [empty].into_iter().chain(each).collect()),
    })
}

fn name_of(word: &str) -> Expr<Spelled> {
    Expr::synthetic(ExprKind::Column(ObjectName::single(Ident::synthetic(word))))
}

/// NLSSORT(text, 'NLS_SORT=name'): the text by that collation, which is all that its keys are for.
fn collated(mut call: Call<Spelled>, from: DialectName) -> Result<Expr<Spelled>, Call<Spelled>> {
    let name = match &call.arguments[1].value.without_parens().kind {
        ExprKind::Literal(Literal::Text(literal)) => {
            let parameter = decode_text(literal, &Spelling::of(&from.into()));
            parameter.split_once('=').map(|(word, name)| (word.trim().to_ascii_uppercase(), name.trim().to_string()))
        }
        _ => None,
    };
    match name {
        Some((word, name)) if word == "NLS_SORT" && !name.is_empty() => {
            let text = call.arguments.swap_remove(0).value;
            Ok(Expr::synthetic(ExprKind::Collate(Box::new(text), ObjectName::single(Ident::synthetic(name)))))
        }
        _ => Err(call),
    }
}

fn renamed(function: &ObjectName, name: &str) -> ObjectName {
    ObjectName::single(Ident { token: function.last().token, ..Ident::synthetic(name) })
}

/// CHR(n USING NCHAR_CS) and TRANSLATE(x USING CHAR_CS) of Oracle: all characters are Unicode's here.
fn in_other_characters(mut call: Call<Spelled>) -> Expr<Spelled> {
    call.arguments.pop();
    call.form = CallForm::Plain;
    match (call.function.last().is_word("translate"), call.arguments.pop()) {
        (true, Some(only)) => only.value,
        (_, argument) => {
            call.arguments.extend(argument);
            Expr::synthetic(ExprKind::Call(Box::new(call)))
        }
    }
}

/// OVERLAY without FOR.
fn is_without_length(call: &Call<Spelled>) -> bool {
    call.form == CallForm::Overlay && call.arguments.len() == 3
}

/// OVERLAY without FOR: as much is replaced as is put in (SQL standard, character overlay function).
fn overlaid_by_as_much(mut call: Call<Spelled>) -> Expr<Spelled> {
    let put_in = call.arguments[1].value.clone();
    call.arguments.push(Argument { name: None, value: Expr::call("CHAR_LENGTH", vec![put_in]) });
    Expr::synthetic(ExprKind::Call(Box::new(call)))
}

/// The literal of a string whose codes (`\0041`, `\u0041`, `\+000041`, `\U00000041`) stand for characters.
fn decoded(expr: &Expr<Spelled>, from: DialectName) -> Option<CompactString> {
    let ExprKind::Literal(Literal::Text(literal)) = &expr.without_parens().kind else { return None };
    let spelling = Spelling::of(&from.into());
    let text = decode_text(literal, &spelling);
    let mut units: Vec<u16> = Vec::new();
    let mut rest = text.as_str();
    while let Some(next) = rest.chars().next() {
        rest = &rest[next.len_utf8()..];
        if next != '\\' {
            units.extend(next.encode_utf16(&mut [0; 2]).iter());
            continue;
        }
        if let Some(after) = rest.strip_prefix('\\') {
            units.push(u16::from(b'\\'));
            rest = after;
            continue;
        }
        let (skipped, digits) = match rest.as_bytes().first()? {
            b'+' => (1, 6),
            b'u' => (1, 4),
            b'U' => (1, 8),
            _ => (0, 4),
        };
        let code = u32::from_str_radix(rest.get(skipped..skipped + digits)?, 16).ok()?;
        match u16::try_from(code) {
            Ok(unit) => units.push(unit),
            Err(_) => units.extend(char::from_u32(code)?.encode_utf16(&mut [0; 2]).iter()),
        }
        rest = &rest[skipped + digits..];
    }
    Some(write_text(&String::from_utf16(&units).ok()?, &spelling).into())
}
