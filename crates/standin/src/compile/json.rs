//! JSON_TABLE, OPENJSON ... WITH, and constructors whose arguments aren't parted by commas alone.

use std::rc::Rc;

use syntax::DialectName;
use syntax::tree::{Call, Span, Spelled, TableRef};
use values::Value;

use super::Compiler;
use crate::failure::{Failure, Outcome};
use crate::function::json::path;
use crate::plan::{Code, Typed};
use crate::table_function::{DocumentColumn, DocumentPart, Documents, TableFunction};
use crate::types::Type;

/// A table function with its arguments, and its columns.
pub(super) type Documented = ((TableFunction, Vec<Typed>), Vec<(String, Type)>);

/// Words of a clause kept verbatim, read one by one.
struct Words<'w> {
    words: Vec<&'w str>,
    at: usize,
}

impl<'w> Words<'w> {
    fn peek(&self) -> &'w str {
        self.words.get(self.at).copied().unwrap_or("")
    }

    fn next(&mut self) -> &'w str {
        let word = self.peek();
        self.at += 1;
        word
    }

    fn is(&self, word: &str) -> bool {
        self.peek().eq_ignore_ascii_case(word)
    }

    fn take(&mut self, word: &str) -> bool {
        let found = self.is(word);
        self.at += usize::from(found);
        found
    }

    fn text(&mut self) -> String {
        self.next().trim_start_matches(['N', 'n']).trim_matches('\'').to_string()
    }
}

impl Compiler<'_> {
    /// JSON_TABLE(doc, path COLUMNS (..)) and OPENJSON(doc [, path]) WITH (..).
    pub(super) fn documented_function(
        &mut self,
        name: &str,
        call: &Call<Spelled>,
        table: &TableRef<Spelled>,
    ) -> Outcome<Option<Documented>> {
        let (span, is_open) = match name {
            "JSON_TABLE" => (call.tail.as_ref().and_then(|t| t.clauses), false),
            "OPENJSON" => (table.hints, true),
            _ => return Ok(None),
        };
        let Some(span) = span else { return Ok(None) };
        let mut arguments = Vec::new();
        for argument in &call.arguments {
            arguments.push(self.expr(&argument.value)?);
        }
        let rows = match arguments.get(1).map(|a| &a.code) {
            Some(Code::Constant(Value::Text(text))) => path(text)?,
            None => Vec::new(),
            Some(_) => return Err(Failure::unknown("a path that is no constant")),
        };
        let words = self.words(span).into_iter().map(str::to_string).collect::<Vec<_>>();
        let mut words = Words { words: words.iter().map(String::as_str).collect(), at: 0 };
        while !words.is("(") && !words.peek().is_empty() {
            words.next();
        }
        words.take("(");
        let documents = self.document_columns(rows, &mut words, is_open)?;
        let columns = documents.all_columns();
        arguments.truncate(1);
        Ok(Some(((TableFunction::Documents(Rc::new(documents)), arguments), columns)))
    }

    fn document_columns(&self, rows: Vec<crate::function::json::Step>, words: &mut Words<'_>, is_open: bool) -> Outcome<Documents> {
        let mut out = Documents { rows, columns: Vec::new(), nested: Vec::new() };
        loop {
            if words.take(")") || words.peek().is_empty() {
                return Ok(out);
            }
            if words.take(",") {
                continue;
            }
            if words.take("NESTED") {
                words.take("PATH");
                let rows = path(&words.text())?;
                words.take("COLUMNS");
                words.take("(");
                out.nested.push(self.document_columns(rows, words, is_open)?);
                continue;
            }
            let column = self.document_column(words, is_open)?;
            out.columns.push(column);
        }
    }

    fn document_column(&self, words: &mut Words<'_>, is_open: bool) -> Outcome<DocumentColumn> {
        let written = words.next();
        let bare = written.trim_matches(['[', ']', '"', '`']);
        let quoted = bare.len() != written.len();
        let name = if quoted { bare.to_string() } else { self.folded(&syntax::tree::Ident::synthetic(bare)) };
        let own = vec![crate::function::json::Step::Key(bare.to_string())];
        if words.take("FOR") {
            words.take("ORDINALITY");
            return Ok(DocumentColumn { name, ty: Type::BIGINT, what: DocumentPart::Ordinality, on_empty: None });
        }
        let (mut type_words, mut arguments) = (Vec::new(), Vec::new());
        let ends = ["PATH", "EXISTS", ",", ")", "AS", "FORMAT", ""];
        let mut exists = words.take("EXISTS");
        while !ends.iter().any(|e| words.is(e)) && !words.peek().starts_with('\'') {
            if words.take("(") {
                while !words.take(")") && !words.peek().is_empty() {
                    let word = words.next();
                    if word != "," {
                        arguments.push(word.into());
                    }
                }
                continue;
            }
            type_words.push(words.next());
        }
        exists |= words.take("EXISTS");
        let ty = if type_words.is_empty() {
            Type::varying(4000)
        } else {
            let written = syntax::tree::TypeName::synthetic(&type_words.join(" "), arguments);
            Type::named(&written, self.behaviour).ok_or_else(|| Failure::unknown(&format!("the type {}", type_words.join(" "))))?
        };
        let mut as_document = words.take("FORMAT") && words.take("JSON");
        words.take("PATH");
        let steps = if words.peek().starts_with('\'') { path(&words.text())? } else { own };
        if words.take("AS") {
            as_document |= words.take("JSON");
        }
        let mut on_empty = None;
        while !words.is(",") && !words.is(")") && !words.peek().is_empty() {
            if words.take("DEFAULT") {
                let text = words.text();
                if words.take("ON") && words.take("EMPTY") {
                    let value =
                        crate::convert::convert(Value::text(text), &Type::TEXT, &ty, crate::convert::How::EXPLICIT, self.behaviour)?;
                    on_empty = Some(value);
                }
                continue;
            }
            words.next();
        }
        let what = if exists {
            DocumentPart::Exists(steps)
        } else if as_document || (!is_open && ty == Type::Json) {
            DocumentPart::Document(steps)
        } else {
            DocumentPart::Scalar(steps)
        };
        Ok(DocumentColumn { name, ty, what, on_empty })
    }

    /// `JSON_OBJECT('k': v, 'l' VALUE w NULL ON NULL)`, `JSON_ARRAY(a, b ABSENT ON NULL)`.
    pub(super) fn json_constructor(&mut self, name: &str, call: &Call<Spelled>, span: Span) -> Outcome<Option<Typed>> {
        let is_object = name == "JSON_OBJECT";
        if !(is_object || name == "JSON_ARRAY") || !self.is(&[DialectName::SqlServer, DialectName::Oracle, DialectName::Postgres]) {
            return Ok(None);
        }
        let words: Vec<String> = self.words(span).iter().map(|w| w.to_uppercase()).collect();
        let ends_with = |tail: [&str; 3]| words.len() >= 3 && words[words.len() - 3..].iter().zip(tail).all(|(a, b)| a == b);
        let (absent, nulls) = (ends_with(["ABSENT", "ON", "NULL"]), ends_with(["NULL", "ON", "NULL"]));
        let end = span.end - if absent || nulls { 3 } else { 0 };
        let mut arguments = Vec::new();
        if is_object {
            let Some(first) = call.arguments.first() else { return Ok(None) };
            // From the first key on: keys and values parted by a colon, VALUE or IS, pairs by commas.
            let start = call.arguments.iter().map(|a| a.value.span.first).min().unwrap_or(first.value.span.first);
            for piece in self.pieces(start, end) {
                let expr = self.verbatim_expr(piece.first, piece.end)?;
                arguments.push(self.expr(&expr)?);
            }
        } else {
            for argument in &call.arguments {
                arguments.push(self.expr(&argument.value)?);
            }
        }
        let function = match (is_object, absent, nulls) {
            (true, true, _) => "JSON_OBJECT_ABSENT_",
            (true, ..) => "JSON_OBJECT",
            (false, _, true) => "JSON_ARRAY_NULLS_",
            _ => "JSON_ARRAY",
        };
        self.call_named(function, arguments, None).map(Some)
    }

    /// The stretches between commas, colons and the word VALUE, outside of parentheses.
    fn pieces(&self, first: u32, end: u32) -> Vec<Span> {
        let (mut out, mut start, mut depth) = (Vec::new(), first, 0);
        for at in first..end {
            let word = self.words(Span { first: at, end: at + 1 }).first().copied().unwrap_or("");
            match word {
                "(" | "[" | "{" => depth += 1,
                ")" | "]" | "}" => depth -= 1,
                _ => {}
            }
            let parts = depth == 0 && (matches!(word, "," | ":") || word.eq_ignore_ascii_case("VALUE"));
            if word.eq_ignore_ascii_case("KEY") && at == start {
                start = at + 1;
            } else if parts {
                if start < at {
                    out.push(Span { first: start, end: at });
                }
                start = at + 1;
            }
        }
        if start < end {
            out.push(Span { first: start, end });
        }
        out
    }
}
