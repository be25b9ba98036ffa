//! The comments in a gap between tokens, and how they are written in another dialect.

use super::CommentStyle;
use crate::dialect::DialectName;
use crate::lexer::block_comment_end;
use crate::spelling::Spelling;

/// One piece of a gap.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Piece<'a> {
    /// Blanks and line breaks.
    Blank(&'a str),
    /// A comment to the end of its line, without the line break.
    Line(&'a str),
    /// A comment between `/*` and `*/`.
    Block(&'a str),
    /// The opening or closing of a comment that the server runs.
    Executable(&'a str),
}

/// The pieces of `gap` in order.
pub(super) fn pieces<'a>(gap: &'a str, spelling: &Spelling) -> Vec<Piece<'a>> {
    let mut pieces = Vec::new();
    let mut rest = gap;
    while !rest.is_empty() {
        let (piece, length) = next_piece(rest, spelling);
        pieces.push(piece);
        rest = &rest[length..];
    }
    pieces
}

fn next_piece<'a>(rest: &'a str, spelling: &Spelling) -> (Piece<'a>, usize) {
    let bytes = rest.as_bytes();
    let line_length = bytes.iter().position(|b| *b == b'\n').unwrap_or(bytes.len());
    if rest.starts_with("--") || (bytes[0] == b'#' && spelling.hash_comments) {
        let text = rest[..line_length].trim_end_matches('\r');
        return (Piece::Line(text), text.len());
    }
    if rest.starts_with("/*") {
        let executable = match spelling.dialect {
            DialectName::Mysql => rest.starts_with("/*!"),
            DialectName::Mariadb => rest.starts_with("/*!") || rest.starts_with("/*M!"),
            _ => false,
        };
        if executable {
            let marks = if rest.starts_with("/*M!") { 4 } else { 3 };
            let length = marks + bytes[marks..].iter().take_while(|b| b.is_ascii_digit()).count();
            return (Piece::Executable(&rest[..length]), length);
        }
        let length = block_comment_end(bytes, spelling.nested_comments).unwrap_or(bytes.len());
        return (Piece::Block(&rest[..length]), length);
    }
    if rest.starts_with("*/") {
        return (Piece::Executable(&rest[..2]), 2);
    }
    let length = rest.char_indices().skip(1).find(|(i, c)| matches!(c, '-' | '#' | '/' | '*') && *i > 0).map_or(rest.len(), |(i, _)| i);
    (Piece::Blank(&rest[..length]), length)
}

/// Whether a gap holds anything but blanks.
pub(super) fn has_comment(gap: &str) -> bool {
    gap.len() > 1 && gap.bytes().any(|b| matches!(b, b'-' | b'/' | b'#' | b'*'))
}

/// Whether a comment's text is a hint to an optimizer.
pub fn is_hint(comment: &str) -> bool {
    comment.starts_with("/*+") || comment.starts_with("--+")
}

/// Writes `gap` with its comments in the target's syntax.
pub(super) fn convert_gap(gap: &str, style: &CommentStyle, out: &mut String) {
    if style.same || !has_comment(gap) {
        out.push_str(gap);
        return;
    }
    for piece in pieces(gap, &style.from) {
        match piece {
            Piece::Blank(text) => out.push_str(text),
            Piece::Line(text) | Piece::Block(text) => convert(text, style, out),
            Piece::Executable(_) => {}
        }
    }
}

/// Writes one comment in the target's syntax.
pub(super) fn convert(text: &str, style: &CommentStyle, out: &mut String) {
    if style.same {
        out.push_str(text);
        return;
    }
    if let Some(body) = text.strip_prefix("--").or_else(|| text.strip_prefix('#')) {
        out.push_str("--");
        let body = body.strip_prefix('+').map_or(body, |hint| hint);
        if style.to.dashes_need_blank && !body.is_empty() && !body.starts_with([' ', '\t']) {
            out.push(' ');
        }
        out.push_str(body);
        return;
    }
    let body = text.strip_prefix("/*").and_then(|t| t.strip_suffix("*/")).unwrap_or(text);
    // `/*+` and `/*!` would mean something in the target.
    let body = body.strip_prefix('+').unwrap_or(body);
    out.push_str("/*");
    if body.starts_with(['+', '!']) || body.starts_with("M!") {
        out.push(' ');
    }
    let nests = body.contains("/*") || body.contains("*/");
    if nests && style.from.nested_comments != style.to.nested_comments {
        out.push_str(&body.replace("/*", "/ *").replace("*/", "* /"));
    } else {
        out.push_str(body);
    }
    out.push_str("*/");
}
