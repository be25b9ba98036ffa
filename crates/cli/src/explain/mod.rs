//! `explain`: a word, in every dialect that has it.

mod clause;

use meaning::{CodeFact, Construct, Edge, Phrase, ProvenOn, code_fact, phrases};
use syntax::{Dialect, DialectName, nearest};

use crate::phrases::said;
use crate::{Done, Ending, Usage, show};
use clause::{CLAUSES, Clause};

pub(crate) fn command(word: &str) -> Done {
    let found = phrases_of(word);
    let clause = CLAUSES.iter().find(|c| c.words.iter().any(|w| w.eq_ignore_ascii_case(word.trim())));
    let code = code_fact(word);
    let read = translate::read_as(word);
    let constructs = if clause.is_none() { constructs_of(word) } else { Vec::new() };
    if found.is_empty() && clause.is_none() && code.is_none() && read.is_none() && constructs.is_empty() {
        return Err(unknown(word));
    }
    constructs.iter().for_each(|construct| show_construct(*construct));
    if let Some((dialects, as_what)) = &read {
        let spoken: Vec<DialectName> = DialectName::ALL.into_iter().filter(|d| dialects.has(*d)).collect();
        println!("{}: a function of {}", word.trim().to_uppercase(), titles(&spoken));
        println!("  It is read as {as_what}.");
    }
    if let Some(code) = code {
        show_code(code);
    }
    if let Some(clause) = clause {
        show_clause(clause);
    }
    for (i, (phrase, spoken)) in found.iter().enumerate() {
        if i > 0 || code.is_some() || clause.is_some() || read.is_some() {
            println!();
        }
        show_phrase(word, phrase, spoken);
    }
    Ok(Ending::default())
}

/// The phrases that a word represents, each with the dialects in which it does; all of them for the
/// name of a phrase.
fn phrases_of(word: &str) -> Vec<(&'static Phrase, Vec<DialectName>)> {
    let word = word.trim().trim_end_matches("()");
    let mut found = Vec::new();
    for (_, phrase) in phrases() {
        let by_name = phrase.id.eq_ignore_ascii_case(word);
        let has = |dialect: &DialectName| phrase.spellings(*dialect).any(|s| root(s).eq_ignore_ascii_case(word));
        let spoken: Vec<DialectName> = DialectName::ALL.iter().copied().filter(has).collect();
        if by_name || !spoken.is_empty() {
            found.push((phrase, spoken));
        }
    }
    found
}

/// The word or sign that a spelling is known by: `LPAD` of `LPAD(:text, ..)`, `||` of `:a || :b`.
fn root(spelling: &str) -> &str {
    match spelling.split_once('(') {
        Some((name, _)) if !name.is_empty() && !name.contains([' ', ':']) => name,
        _ => spelling.split(' ').find(|part| !part.starts_with(':') && !part.is_empty()).unwrap_or(spelling),
    }
}

fn unknown(word: &str) -> Usage {
    let words = phrases().flat_map(|(_, p)| DialectName::ALL.into_iter().flat_map(|d| p.spellings(d)).map(root).chain([p.id]));
    let codes = meaning::CODES.iter().map(|c| c.code);
    let clauses = CLAUSES.iter().flat_map(|c| c.words.iter().copied());
    let near = nearest(word, words.chain(codes).chain(clauses)).map_or(String::new(), |n| format!("; did you mean '{n}'?"));
    Usage::new(format!("'{word}' is no function, operator, clause or note that is known{near}"))
}

/// The constructs that are known by a word.
fn constructs_of(word: &str) -> Vec<Construct> {
    let word = word.trim().to_uppercase();
    let is_named = |construct: &&Construct| {
        let words = construct.words().to_uppercase();
        let parts = words.split([',', '(', ')']).flat_map(|part| part.split(" OR "));
        parts.map(str::trim).any(|part| part == word || part.split(' ').any(|one| one == word))
    };
    if word.is_empty() { Vec::new() } else { Construct::ALL.iter().filter(is_named).copied().collect() }
}

fn show_construct(construct: Construct) {
    let words = construct.words();
    let named = words.chars().next().map_or(String::new(), |c| c.to_uppercase().to_string() + &words[c.len_utf8()..]);
    println!("{named}: a construct");
    let spoken: Vec<DialectName> = DialectName::ALL.into_iter().filter(|d| construct.supported_by().has(*d)).collect();
    let about = match spoken.as_slice() {
        [] => "A statement with it is translated to no other dialect: it is refused, and kept as a comment with the reason.".to_string(),
        _ => format!(
            "Translated to {}, where it means the same. To others, statements with it are refused unless they have a simpler form.",
            titles(&spoken)
        ),
    };
    println!("{}", wrapped(&about, "  "));
}

fn show_code(code: &CodeFact) {
    println!("{} ({}): a note", code.code, code.fidelity);
    println!("{}", wrapped(code.about, "  "));
}

fn show_clause(clause: &Clause) {
    println!("{}: a clause", clause.words[0]);
    println!("{}\n", wrapped(clause.about, "  "));
    let mut table = show::table();
    table.set_header(["dialect", "says"].map(show::heading));
    for (dialect, says) in DialectName::ALL.iter().zip(clause.says) {
        table.add_row([dialect.title(), says]);
    }
    println!("{table}");
}

fn titles(dialects: &[DialectName]) -> String {
    let titles: Vec<&str> = dialects.iter().map(|d| d.title()).collect();
    match titles.as_slice() {
        all if all.len() == DialectName::ALL.len() => "every dialect".to_string(),
        [] => String::new(),
        [only] => (*only).to_string(),
        [first @ .., last] => format!("{} and {last}", first.join(", ")),
    }
}

fn show_phrase(word: &str, phrase: &'static Phrase, spoken: &[DialectName]) {
    let of = if spoken.is_empty() { String::new() } else { format!(": {} in {}", word.to_uppercase(), titles(spoken)) };
    println!("{}{of}", phrase.id);
    println!("{}\n", wrapped(phrase.about, "  "));
    let mut table = show::table();
    table.set_header(["dialect", "says", "also heard", "proven"].map(show::heading));
    for name in DialectName::ALL {
        let dialect = Dialect::newest(name);
        let said = said(phrase, &dialect);
        let heard: Vec<&str> = phrase.hear[name as usize].iter().copied().filter(|h| *h != said).collect();
        let proven = match ProvenOn::of(name).map(|p| p.passed(phrase.id)) {
            Some(count) if count > 0 => format!("live, {}", show::count(count, "example")),
            _ => "documented".to_string(),
        };
        table.add_row([name.title().to_string(), said, heard.join("  "), proven]);
    }
    println!("{table}");
    let differing: Vec<&Edge> = phrase.edges.iter().filter(|e| differs(e)).collect();
    if !differing.is_empty() {
        println!("where they differ:");
        differing.iter().for_each(|edge| show_edge(phrase, edge));
    }
}

fn differs(edge: &Edge) -> bool {
    DialectName::ALL.iter().any(|d| result(edge, *d) != edge.gives)
}

fn result(edge: &Edge, dialect: DialectName) -> &'static str {
    match edge.result(&Dialect::newest(dialect)) {
        // Not tried there.
        "?" => edge.gives,
        result => result,
    }
}

/// An example and what comes out of it, the results that most give last.
fn show_edge(phrase: &Phrase, edge: &Edge) {
    let tried = edge.tried.join(", ");
    match edge.when {
        "" => println!("  with ({tried}):"),
        _ => println!("  {}, as with ({tried}), noted as {}:", edge.about, edge.code.unwrap_or(phrase.id)),
    }
    let mut results: Vec<(&str, Vec<DialectName>)> = Vec::new();
    for dialect in DialectName::ALL {
        let given = meaning::in_words(result(edge, dialect));
        match results.iter_mut().find(|(known, _)| *known == given) {
            Some((_, dialects)) => dialects.push(dialect),
            None => results.push((given, vec![dialect])),
        }
    }
    results.sort_by_key(|(_, dialects)| dialects.len());
    let width = results.iter().map(|(given, _)| given.chars().count()).max().unwrap_or(0).clamp(12, 40);
    for (given, dialects) in results {
        println!("    {given:<width$} {}", titles(&dialects));
    }
}

/// Lines of at most 96 characters.
fn wrapped(text: &str, margin: &str) -> String {
    show::wrapped(text, 96, margin)
}
