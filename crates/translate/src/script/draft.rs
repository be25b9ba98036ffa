//! The draft of a refused statement: everything else in the target's words, and what is not translated in the
//! source's, between marks.

use meaning::{Fidelity, Note};
use syntax::Printed;
use syntax::{Glue, Mark};

use crate::text::Text;
use crate::untranslated;

/// Puts marks around the tokens of what is not translated.
pub(super) fn marked(mut printed: Vec<Printed>, notes: &[Note], text: Text<'_>) -> Vec<Printed> {
    let refused = notes.iter().filter(|n| n.fidelity == Fidelity::Refused && n.span.is_read());
    for note in refused {
        let within = |token: &Printed| token.source != u32::MAX && (note.span.first..note.span.end).contains(&token.source);
        let Some(first) = printed.iter().position(within) else { continue };
        let last = printed.iter().rposition(within).unwrap_or(first);
        printed.insert(last + 1, mark("/* end */".to_string()));
        printed.insert(first, mark(opening(note.code)));
    }
    for token in &mut printed {
        if let Some((code, span)) = token.made.as_deref().and_then(untranslated::read) {
            token.made = Some(format!("{} {} /* end */", opening(code), text.of(span)).into());
        }
    }
    printed
}

fn opening(code: &str) -> String {
    format!("/* not translated: {code} */")
}

fn mark(text: String) -> Printed {
    Printed { made: Some(text.into()), source: u32::MAX, glue: Glue::Space, mark: Mark::None }
}

/// Whether a draft says more than the source does: some of it is translated.
pub(super) fn says_more(draft: &str, source: &str) -> bool {
    let words = |text: &str| {
        let mut bare = String::new();
        let mut rest = text;
        while let Some(start) = rest.find("/*") {
            bare.push_str(&rest[..start]);
            rest = rest[start..].find("*/").map_or("", |end| &rest[start + end + 2..]);
        }
        bare.push_str(rest);
        bare.split_whitespace().collect::<Vec<_>>().join(" ").replace("( ", "(").replace(" )", ")").to_uppercase()
    };
    words(draft) != words(source)
}
