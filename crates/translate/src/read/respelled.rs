//! Functions of one dialect that are syntax, or another function's name, in all: read as that.
//! Sources: the chapters on functions of each vendor's manual.

use std::sync::LazyLock;

use compact_str::CompactString;
use syntax::tree::{
    Argument, Call, CallForm, Cast, Expr, ExprKind, Ident, IsTest, IsWhat, LikeTest, LikeWord, Literal, ObjectName, Quote, Spelled,
    TypeName,
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
    /// A pattern, and the text it is held to.
    Pattern(LikeWord),
    /// Its first argument: the others are hints, or name a character set.
    First,
    /// The function of this name.
    Renamed(&'static str),
    /// The text that a constant writes with codes.
    Codes,
    /// CHAR of MySQL as a text, which without a character set is one of bytes.
    Characters,
}

/// A reading, the dialects that have it, and with how many arguments at least and at most.
type Entry = (DialectSet, usize, usize, Reading);

static READINGS: LazyLock<WordTable<Option<Entry>>> = LazyLock::new(|| {
    use DialectName::{Mariadb, Mysql, Oracle, Postgres, Spark, Sqlite, Tsql};
    let (oracle, spark, sqlite) = (DialectSet::of(&[Oracle]), DialectSet::of(&[Spark]), DialectSet::of(&[Sqlite]));
    let one = |set: DialectSet, reading: Reading| (set, 1, 1, reading);
    let renamed = |name: &'static str, most: usize| (oracle, 1, most, Reading::Renamed(name));
    let entries: Vec<(&'static str, Entry)> = vec![
        ("LNNVL", one(oracle, Reading::IsNotTrue)),
        ("EQUAL_NULL", (spark, 2, 2, Reading::Same)),
        ("BOOLEAN", one(spark, Reading::Cast("BOOLEAN"))),
        ("TINYINT", one(spark, Reading::Cast("TINYINT"))),
        ("SMALLINT", one(spark, Reading::Cast("SMALLINT"))),
        ("INT", one(spark, Reading::Cast("INT"))),
        ("BIGINT", one(spark, Reading::Cast("BIGINT"))),
        ("FLOAT", one(spark, Reading::Cast("FLOAT"))),
        ("DOUBLE", one(spark, Reading::Cast("DOUBLE"))),
        ("DECIMAL", one(spark, Reading::Cast("DECIMAL"))),
        ("STRING", one(spark, Reading::Cast("STRING"))),
        ("BINARY", one(spark, Reading::Cast("BINARY"))),
        ("SIGNUM", one(spark, Reading::Renamed("SIGN"))),
        ("TO_BINARY_DOUBLE", one(oracle, Reading::Cast("BINARY_DOUBLE"))),
        ("TO_BINARY_FLOAT", one(oracle, Reading::Cast("BINARY_FLOAT"))),
        ("TO_CLOB", renamed("TO_CHAR", 1)),
        ("TO_NCLOB", renamed("TO_CHAR", 1)),
        ("TO_NCHAR", renamed("TO_CHAR", 2)),
        // Characters of Unicode in their several senses: one character is one but for those composed.
        ("LENGTHC", renamed("LENGTH", 1)),
        ("LENGTH2", renamed("LENGTH", 1)),
        ("LENGTH4", renamed("LENGTH", 1)),
        ("SUBSTRC", renamed("SUBSTR", 3)),
        ("SUBSTR2", renamed("SUBSTR", 3)),
        ("SUBSTR4", renamed("SUBSTR", 3)),
        ("INSTRC", renamed("INSTR", 4)),
        ("INSTR2", renamed("INSTR", 4)),
        ("INSTR4", renamed("INSTR", 4)),
        ("NLS_UPPER", renamed("UPPER", 1)),
        ("NLS_LOWER", renamed("LOWER", 1)),
        ("NLS_INITCAP", renamed("INITCAP", 1)),
        ("LIKE", (sqlite, 2, 3, Reading::Pattern(LikeWord::Like))),
        ("GLOB", (sqlite, 2, 2, Reading::Pattern(LikeWord::Glob))),
        ("LIKELY", one(sqlite, Reading::First)),
        ("UNLIKELY", one(sqlite, Reading::First)),
        ("LIKELIHOOD", (sqlite, 2, 2, Reading::First)),
        ("CHAR", (DialectSet::of(&[Mysql, Mariadb]), 1, 1, Reading::Characters)),
        ("UNISTR", one(DialectSet::of(&[Oracle, Postgres, Sqlite, Tsql]), Reading::Codes)),
    ];
    WordTable::new(None, entries.into_iter().map(|(word, entry)| (word, Some(entry))))
});

/// The dialects in which a function of this name is read as something else, and as what, in words.
pub fn read_as(word: &str) -> Option<(DialectSet, String)> {
    let upper = word.trim().trim_end_matches("()").to_ascii_uppercase();
    let (dialects, _, _, reading) = READINGS.find(upper.as_bytes(), upper.len())?;
    let as_what = match reading {
        Reading::IsNotTrue => "(..) IS NOT TRUE".to_string(),
        Reading::Same => "a IS NOT DISTINCT FROM b".to_string(),
        Reading::Cast(to) => format!("CAST(.. AS {to})"),
        Reading::Pattern(LikeWord::Glob) => "text GLOB pattern".to_string(),
        Reading::Pattern(_) => "text LIKE pattern".to_string(),
        Reading::First => "its first argument, as the others say nothing of the result".to_string(),
        Reading::Renamed(name) => format!("{name}(..)"),
        Reading::Codes => "the text that a constant writes with codes".to_string(),
        Reading::Characters => "CHAR(.. USING utf8mb4)".to_string(),
    };
    Some((dialects, as_what))
}

/// The call as what it is in all dialects, or the call itself.
///
/// `keeps_charsets`: the target has character sets in calls too, so that bytes may stay bytes.
pub(super) fn respelled(call: Call<Spelled>, from: DialectName, keeps_charsets: bool) -> Result<Expr<Spelled>, Call<Spelled>> {
    match call.form {
        CallForm::Plain => {}
        CallForm::Using if from == DialectName::Oracle => return Ok(in_other_characters(call)),
        CallForm::Overlay if call.arguments.len() == 3 => return Ok(overlaid_by_as_much(call)),
        _ => return Err(call),
    }
    let Some(name) = call.function.as_single().filter(|n| n.quote == Quote::None) else { return Err(call) };
    if let Some(joined) = format_text::joined(&call, from) {
        return Ok(joined);
    }
    let entry = READINGS.find(name.text.as_bytes(), name.text.len());
    let count = call.arguments.len();
    let Some((dialects, least, most, reading)) = entry else { return Err(call) };
    let stays = keeps_charsets && matches!(reading, Reading::Characters);
    if stays || !dialects.has(from) || !(least..=most).contains(&count) || call.tail.is_some() {
        return Err(call);
    }
    made_of(reading, call, from)
}

fn made_of(reading: Reading, mut call: Call<Spelled>, from: DialectName) -> Result<Expr<Spelled>, Call<Spelled>> {
    if let Reading::Codes = reading {
        let text = decoded(&call.arguments[0].value, from).ok_or(call)?;
        return Ok(Expr::made(ExprKind::Literal(Literal::Text(text))));
    }
    if let Reading::Characters = reading {
        call.form = CallForm::Using;
        let charset = Expr::made(ExprKind::Column(ObjectName::single(Ident::made("utf8mb4"))));
        call.arguments.push(Argument { name: None, value: charset });
        return Err(call);
    }
    if let Reading::Renamed(name) = reading {
        call.function = renamed(&call.function, name);
        return Err(call);
    }
    let mut arguments = std::mem::take(&mut call.arguments).into_iter().map(|a| a.value);
    let Some(first) = arguments.next() else { return Err(call) };
    let is = |operand: Expr<Spelled>, negated: bool, what: IsWhat<Spelled>| {
        Expr::made(ExprKind::Is(Box::new(IsTest { operand, negated, what, one_word: false })))
    };
    Ok(match (reading, arguments.next()) {
        (Reading::IsNotTrue, _) => is(first, true, IsWhat::True),
        (Reading::Same, Some(other)) => is(first, false, IsWhat::Same(other)),
        (Reading::Cast(word), _) => Expr::made(ExprKind::Cast(Box::new(Cast::plain(first, TypeName::made(word, Vec::new()))))),
        (Reading::Pattern(word), Some(operand)) => {
            let escape = arguments.next();
            let test = LikeTest { operand, negated: false, word, quantifier: None, pattern: first, escape };
            Expr::made(ExprKind::Like(Box::new(test)))
        }
        _ => first,
    })
}

fn renamed(function: &ObjectName, name: &str) -> ObjectName {
    ObjectName::single(Ident { token: function.last().token, ..Ident::made(name) })
}

/// CHR(n USING NCHAR_CS) and TRANSLATE(x USING CHAR_CS) of Oracle: all characters are Unicode's here.
fn in_other_characters(mut call: Call<Spelled>) -> Expr<Spelled> {
    call.arguments.pop();
    call.form = CallForm::Plain;
    match (call.function.last().is_word("translate"), call.arguments.pop()) {
        (true, Some(only)) => only.value,
        (_, argument) => {
            call.arguments.extend(argument);
            Expr::made(ExprKind::Call(Box::new(call)))
        }
    }
}

/// OVERLAY without FOR: as much is replaced as is put in (SQL standard, character overlay function).
fn overlaid_by_as_much(mut call: Call<Spelled>) -> Expr<Spelled> {
    let put_in = call.arguments[1].value.clone();
    let length = Call::plain(ObjectName::single(Ident::made("CHAR_LENGTH")), vec![put_in]);
    call.arguments.push(Argument { name: None, value: Expr::made(ExprKind::Call(Box::new(length))) });
    Expr::made(ExprKind::Call(Box::new(call)))
}

/// The literal of a text whose codes (`\0041`, `\u0041`, `\+000041`, `\U00000041`) stand for characters.
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
