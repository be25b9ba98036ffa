//! Strings put into a template, as strings.

use meaning::{Parameter, Phrase, Piece, pieces};

/// A template with strings in the place of its arguments; `None` if it names one that isn't there.
pub(super) fn filled(template: &str, phrase: &'static Phrase, argument: &dyn Fn(usize, &Parameter) -> Vec<String>) -> Option<String> {
    let repeated = phrase.takes.iter().position(|t| t.repeated);
    // A part that is said of each of the repeated arguments: `:parts || :parts`, `COALESCE(:parts, '')...`.
    if let (Some(at), Some((left, operator, right))) = (repeated, two_sides(template, phrase)) {
        let all = argument(at, &phrase.takes[at]);
        let one = |part: &str, value: &str| part.replace(&format!(":{}", phrase.takes[at].name), value);
        let mut joined = one(left, all.first()?);
        for value in &all[1..] {
            joined = format!("{joined} {operator} {}", one(right, value));
        }
        return Some(joined);
    }
    if let Some(at) = repeated
        && let Some(end) = template.find("...)").filter(|end| template[..*end].ends_with(')'))
    {
        let start = argument_start(template, end);
        let each = &template[start..end];
        let all = argument(at, &phrase.takes[at]);
        let said: Vec<String> = all.iter().map(|v| each.replace(&format!(":{}", phrase.takes[at].name), v)).collect();
        let rest = format!("{}{}{}", &template[..start], said.join(", "), &template[end + 3..]);
        return filled_plain(&rest, phrase, argument);
    }
    filled_plain(template, phrase, argument)
}

fn filled_plain(template: &str, phrase: &'static Phrase, argument: &dyn Fn(usize, &Parameter) -> Vec<String>) -> Option<String> {
    let mut out = String::new();
    for piece in pieces(template) {
        match piece {
            Piece::Text(text) => out.push_str(text),
            Piece::Argument(name) => {
                let at = phrase.argument(name)?;
                let values = argument(at, &phrase.takes[at]);
                if values.is_empty() {
                    // The comma before what isn't there.
                    out.truncate(out.trim_end().trim_end_matches(',').len());
                }
                out.push_str(&values.join(", "));
            }
        }
    }
    Some(out)
}

/// Both sides of a template that joins a repeated argument with an operator.
fn two_sides<'a>(template: &'a str, phrase: &Phrase) -> Option<(&'a str, &'a str, &'a str)> {
    let repeated = phrase.takes.iter().find(|t| t.repeated)?;
    let name = format!(":{}", repeated.name);
    [" || ", " + "].iter().find_map(|operator| {
        let (left, right) = template.split_once(operator)?;
        (left.contains(&name) && right.contains(&name)).then_some((left, operator.trim(), right))
    })
}

/// Where the argument of a call begins that ends at `end`.
fn argument_start(template: &str, end: usize) -> usize {
    let mut depth = 0;
    for (i, c) in template[..end].char_indices().rev() {
        match c {
            ')' => depth += 1,
            '(' if depth == 0 => return i + 1,
            '(' => depth -= 1,
            ',' if depth == 0 => return i + 1 + template[i + 1..].chars().take_while(|c| *c == ' ').count(),
            _ => {}
        }
    }
    0
}
