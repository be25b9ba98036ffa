//! Every statement of the corpus is read, printed and laid out to the very text it was.

#![allow(clippy::expect_used, clippy::panic)] // A failing test may end loudly.

use std::path::Path;

use syntax::{CommentStyle, Dialect, LayoutJob, LayoutStyle, Parentheses, Statements, layout, lex, print};

/// Statements parted by lines of `----`, in files named for their dialects.
fn corpus() -> Vec<(Dialect, String)> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/corpus");
    let mut files: Vec<_> = std::fs::read_dir(folder).expect("corpus").map(|f| f.expect("file").path()).collect();
    files.sort();
    let mut cases = Vec::new();
    for file in files {
        let stem = file.file_stem().expect("stem").to_string_lossy().to_string();
        let text = std::fs::read_to_string(&file).expect("text");
        for dialect in syntax::DialectName::ALL {
            if stem == dialect.as_str() || stem == "every" {
                for case in text.split("\n----\n") {
                    cases.push((Dialect::newest(dialect), case.trim_end_matches('\n').to_string()));
                }
            }
        }
    }
    cases
}

fn again(dialect: &Dialect, text: &str, style: LayoutStyle, parentheses: Parentheses) -> Result<String, String> {
    let tokens = lex(text, dialect);
    let comments = CommentStyle::new(dialect, dialect);
    let mut out = String::new();
    let mut end = 0;
    for parsed in Statements::new(text, &tokens, dialect) {
        let tree = parsed.tree.map_err(|e| format!("{e} at {:?}", tokens[e.span.first as usize].text(text)))?;
        let start = parsed.span.first as usize;
        let gap = if start == 0 { 0 } else { tokens[start - 1].end as usize };
        out.push_str(&comments.gap(&text[gap..tokens[start].start as usize]));
        let printed = print(&tree, text, &tokens, dialect, parentheses);
        let job = LayoutJob { source: text, tokens: &tokens, span: parsed.span, comments: &comments };
        out.push_str(&layout(&printed, &job, style).text);
        if let Some(separator) = parsed.separator {
            out.push_str(&text[tokens[separator as usize - 1].end as usize..tokens[separator as usize].end as usize]);
        }
        end = parsed.separator.map_or(parsed.span.end, |s| s + 1) as usize;
    }
    let last = if end == 0 { 0 } else { tokens[end - 1].end as usize };
    out.push_str(&text[last..]);
    Ok(out)
}

#[test]
fn corpus_comes_back_byte_for_byte() {
    let mut failures = Vec::new();
    for (dialect, text) in corpus() {
        match again(&dialect, &text, LayoutStyle::Keep, Parentheses::AsRead) {
            Ok(out) if out == text => {}
            Ok(out) => failures.push(format!("{dialect}:\n{text}\n  became\n{out}")),
            Err(error) => failures.push(format!("{dialect}:\n{text}\n  {error}")),
        }
    }
    assert!(failures.is_empty(), "{} of the corpus:\n{}", failures.len(), failures.join("\n\n"));
}

#[test]
fn tidy_layout_and_parentheses_keep_every_token() {
    for (dialect, text) in corpus() {
        let Ok(tidy) = again(&dialect, &text, LayoutStyle::Tidy, Parentheses::Needed) else { continue };
        assert_eq!(words(&tidy, &dialect), words(&text, &dialect), "{dialect}: {tidy}");
        let Ok(wrapped) = again(&dialect, &text, LayoutStyle::Keep, Parentheses::Everywhere) else { continue };
        let bare = |t: &str| words(t, &dialect).into_iter().filter(|w| w != "(" && w != ")").collect::<Vec<_>>();
        assert_eq!(bare(&wrapped), bare(&text), "{dialect}");
        let twice = again(&dialect, &wrapped, LayoutStyle::Keep, Parentheses::AsRead);
        assert_eq!(twice.as_deref(), Ok(wrapped.as_str()), "{dialect}");
    }
}

fn words(text: &str, dialect: &Dialect) -> Vec<String> {
    lex(text, dialect).iter().map(|t| t.text(text).to_string()).collect()
}
