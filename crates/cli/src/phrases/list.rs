//! `phrases`: the book as a table.

use comfy_table::Table;
use meaning::{Builtin, BuiltinKind, Edge, Phrase, ProvenOn, Say, phrases};
use serde_json::{Value as Json, json};
use syntax::{Dialect, DialectName};

use crate::arguments::{Evidence, PhrasesList};
use crate::{Done, Ending, Usage, show};

/// Examples of a phrase that must have passed for it to count as proven.
const ENOUGH: usize = 3;

pub(super) fn command(arguments: &PhrasesList) -> Done {
    if let Some(dialect) = &arguments.missing {
        missing(dialect, arguments.json);
        return Ok(Ending::default());
    }
    let wanted = |phrase: &Phrase| {
        arguments.area.as_deref().is_none_or(|a| phrase.area() == a)
            && arguments.evidence.is_none_or(|e| has_evidence(phrase, e, arguments.dialect.as_ref()))
    };
    let found: Vec<&'static Phrase> = phrases().map(|(_, p)| p).filter(|p| wanted(p)).collect();
    if let (Some(area), true) = (&arguments.area, found.is_empty()) {
        return Err(unknown_area(area));
    }
    if arguments.json {
        println!("{:#}", json!({ "version": 1, "phrases": found.iter().map(|p| to_json(p)).collect::<Vec<_>>() }));
        return Ok(Ending::default());
    }
    match &arguments.dialect {
        Some(dialect) => println!("{}", of_dialect(&found, dialect)),
        None => println!("{}", of_all(&found)),
    }
    summary(&found);
    Ok(Ending::default())
}

/// The built-in functions that no phrase hears, by kind.
fn missing(dialect: &Dialect, as_json: bool) {
    let list = meaning::builtins(dialect.name);
    let is_heard = |f: &&Builtin| translate::hears(dialect.name, f.name);
    let silent: Vec<&Builtin> = list.functions.iter().filter(|f| !is_heard(f)).collect();
    let (all, heard) = (list.functions.len(), list.functions.len() - silent.len());
    if as_json {
        let names: Vec<&str> = silent.iter().map(|f| f.name).collect();
        println!("{:#}", json!({ "version": 1, "dialect": dialect.to_string(), "builtins": all, "heard": heard, "missing": names }));
        return;
    }
    for (kind, title) in [
        (BuiltinKind::Scalar, "scalar functions"),
        (BuiltinKind::Aggregate, "aggregate functions"),
        (BuiltinKind::Window, "window functions"),
        (BuiltinKind::Table, "table functions"),
    ] {
        let names: Vec<&str> = silent.iter().filter(|f| f.kind == kind).map(|f| f.name).collect();
        if !names.is_empty() {
            println!("{title}, {} missing:", names.len());
            println!("{}\n", show::wrapped(&names.join(" "), 100, "  "));
        }
    }
    println!("{}: {all} built-in functions, {heard} heard, {} missing", dialect.name.title(), silent.len());
    println!("listed by {}", list.source);
}

fn passed(phrase: &Phrase, dialect: DialectName) -> usize {
    ProvenOn::of(dialect).map_or(0, |p| p.passed(phrase.id))
}

fn has_evidence(phrase: &Phrase, evidence: Evidence, dialect: Option<&Dialect>) -> bool {
    let proven = match dialect {
        Some(dialect) => passed(phrase, dialect.name) >= ENOUGH,
        None => DialectName::ALL.iter().any(|d| passed(phrase, *d) >= ENOUGH),
    };
    proven == (evidence == Evidence::Live)
}

/// The template for any arguments, or else the first for some.
fn usual<'a>(phrase: &'a Phrase, dialect: &'a Dialect) -> Option<&'a Say> {
    let says = || phrase.said(dialect).filter(|s| !s.sql.is_empty());
    says().find(|s| s.guards.is_empty()).or_else(|| says().next())
}

/// What a dialect says, in one line: the way that holds for all arguments, if there is one.
pub(crate) fn said(phrase: &Phrase, dialect: &Dialect) -> String {
    let says: Vec<&Say> = phrase.said(dialect).collect();
    let Some(last) = says.iter().find(|s| s.guards.is_empty()).or(says.last()) else { return "not at this version".to_string() };
    let for_some = says.iter().find(|s| !s.guards.is_empty() && !s.sql.is_empty());
    match (last.refuse, last.case, for_some) {
        (Some(why), _, None) => format!("not said: {why}"),
        (Some(_), _, Some(some)) => format!("{} (not for all arguments)", some.sql),
        (None, Some(case), _) => case.to_string(),
        (None, None, _) => last.sql.to_string(),
    }
}

fn of_dialect(found: &[&'static Phrase], dialect: &Dialect) -> Table {
    let mut table = show::table();
    table.set_header(["phrase", "said", "proven", "differs from the others"].map(show::heading));
    for phrase in found {
        let edges: Vec<&str> = phrase.edges.iter().filter(|e| is_own(e, dialect)).map(|e| e.about).filter(|a| !a.is_empty()).collect();
        let proven = match (passed(phrase, dialect.name), ProvenOn::of(dialect.name)) {
            (0, _) | (_, None) => "documented".to_string(),
            (count, Some(_)) => format!("live, {count}"),
        };
        table.add_row([phrase.id.to_string(), said(phrase, dialect), proven, edges.join("; ")]);
    }
    table
}

fn is_own(edge: &Edge, dialect: &Dialect) -> bool {
    edge.result(dialect) != edge.gives
}

fn of_all(found: &[&'static Phrase]) -> Table {
    let mut table = show::table();
    table.set_header(["phrase", "takes", "means", "proven live on"].map(show::heading));
    for phrase in found {
        let takes: Vec<String> =
            phrase.takes.iter().map(|t| if t.repeated { format!("{}...", t.name) } else { t.name.to_string() }).collect();
        let on: Vec<&str> = DialectName::ALL.iter().filter(|d| passed(phrase, **d) >= ENOUGH).map(|d| d.as_str()).collect();
        table.add_row([phrase.id.to_string(), takes.join(", "), phrase.about.to_string(), on.join(" ")]);
    }
    table
}

/// How many pairs of phrase and dialect are proven by what.
fn summary(found: &[&'static Phrase]) {
    let pairs = |test: &dyn Fn(&Phrase, DialectName) -> bool| {
        found.iter().map(|p| DialectName::ALL.iter().filter(|d| test(p, **d)).count()).sum::<usize>()
    };
    let is_said = |p: &Phrase, d: DialectName| check::proof::is_said(p, &Dialect::newest(d));
    let all = pairs(&is_said);
    let live = pairs(&|p, d| passed(p, d) >= ENOUGH);
    let few = pairs(&|p, d| (1..ENOUGH).contains(&passed(p, d)));
    println!(
        "{}: {all} pairs of phrase and dialect; {live} proven by {ENOUGH} examples or more on a live engine, {few} by fewer, {} known from manuals and tried on stand-ins; {} not said",
        show::count(found.len(), "phrase"),
        all.saturating_sub(live + few),
        found.len() * DialectName::ALL.len() - all
    );
    let engines: Vec<&str> = DialectName::ALL.iter().filter_map(|d| ProvenOn::of(*d)).map(|p| p.engine).collect();
    println!("live: {}", engines.join(", "));
}

fn to_json(phrase: &Phrase) -> Json {
    let by_dialect = |of: &dyn Fn(&Dialect) -> Json| -> Json {
        DialectName::ALL.iter().map(|d| (d.as_str().to_string(), of(&Dialect::newest(*d)))).collect::<serde_json::Map<_, _>>().into()
    };
    json!({
        "id": phrase.id,
        "takes": phrase.takes.iter().map(|t| t.name).collect::<Vec<_>>(),
        "gives": phrase.gives,
        "about": phrase.about,
        "says": by_dialect(&|d| usual(phrase, d).map_or(Json::Null, |s| s.sql.into())),
        "refuses": by_dialect(&|d| phrase.said(d).last().and_then(|s| s.refuse).map_or(Json::Null, Into::into)),
        "proven": by_dialect(&|d| match passed(phrase, d.name) {
            0 => Json::Null,
            count => json!({ "engine": ProvenOn::of(d.name).map(|p| p.engine), "examples": count }),
        }),
        "edges": phrase.edges.iter().map(|e| json!({
            "when": e.when,
            "tried": e.tried,
            "gives": e.gives,
            "own": by_dialect(&|d| if is_own(e, d) { e.result(d).into() } else { Json::Null }),
        })).collect::<Vec<_>>(),
    })
}

pub(super) fn unknown_area(area: &str) -> Usage {
    Usage::new(format!("there is no area '{area}'{}", super::near(area, phrases().map(|(_, p)| p.area()).collect())))
}
