//! Rows as XML, and the little of XML that is read again (SQL Server).

use values::{Row, Value};

use super::{Args, Function, SQL_SERVER, Typing, f};
use crate::behaviour::Behaviour;
use crate::convert::as_text;
use crate::failure::{Failure, Outcome};
use crate::plan::{TextForm, TextOutput};
use crate::types::Type;

pub(super) const FUNCTIONS: &[Function] =
    &[f("XML_TEXT_", SQL_SERVER, 1, 1, Typing::Fixed(Type::TEXT), |a: &Args<'_>| a.give(text_of(&a.text(0))))];

/// The rows of a query as one text; of no rows there is none.
pub(crate) fn rows_as_text(rows: &[Row], output: &TextOutput, behaviour: &Behaviour) -> Outcome<Vec<Row>> {
    if rows.is_empty() {
        return Ok(Vec::new());
    }
    let text = match &output.form {
        TextForm::Json { include_nulls, wrapped } => super::json::rows_as_json(rows, output, *include_nulls, *wrapped)?,
        TextForm::XmlPath(name) => rooted(rows.iter().map(|r| path_row(r, name, output, behaviour)).collect::<Outcome<String>>()?, output),
        TextForm::XmlRaw(name) => rooted(rows.iter().map(|r| raw_row(r, name, output, behaviour)).collect(), output),
    };
    Ok(vec![vec![behaviour.text(text)]])
}

fn rooted(text: String, output: &TextOutput) -> String {
    match &output.root {
        Some(root) => format!("<{root}>{text}</{root}>"),
        None => text,
    }
}

fn escaped(text: &str) -> String {
    text.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;")
}

fn attribute(name: &str, text: &str) -> String {
    format!(" {name}=\"{}\"", escaped(text).replace('"', "&quot;"))
}

/// `@a` is an attribute, no name or text() is text, `a/b` is nested; NULL is left out.
fn path_row(row: &[Value], name: &str, output: &TextOutput, behaviour: &Behaviour) -> Outcome<String> {
    let (mut attributes, mut content) = (String::new(), String::new());
    for ((value, label), ty) in row.iter().zip(&output.names).zip(&output.types) {
        if value.is_null() {
            continue;
        }
        let text = as_text(value, ty, behaviour);
        if let Some(attribute_name) = label.strip_prefix('@') {
            if name.is_empty() {
                return Err(Failure::invalid("an attribute needs an element").with_code("Msg 6864"));
            }
            attributes.push_str(&attribute(attribute_name, &text));
        } else if label.is_empty() || label == "text()" || label == "*" {
            content.push_str(&escaped(&text));
        } else {
            let steps: Vec<&str> = label.split('/').collect();
            content.extend(steps.iter().map(|s| format!("<{s}>")));
            content.push_str(&escaped(&text));
            content.extend(steps.iter().rev().map(|s| format!("</{s}>")));
        }
    }
    Ok(if name.is_empty() {
        content
    } else if content.is_empty() {
        format!("<{name}{attributes}/>")
    } else {
        format!("<{name}{attributes}>{content}</{name}>")
    })
}

fn raw_row(row: &[Value], name: &str, output: &TextOutput, behaviour: &Behaviour) -> String {
    let columns = row.iter().zip(&output.names).zip(&output.types).filter(|((v, _), _)| !v.is_null());
    let attributes: String = columns.map(|((value, label), ty)| attribute(label, &as_text(value, ty, behaviour))).collect();
    format!("<{name}{attributes}/>")
}

/// The text of a document without its elements: what `.value('.', ..)` gives.
fn text_of(document: &str) -> String {
    let (mut out, mut inside) = (String::new(), false);
    for c in document.chars() {
        match c {
            '<' => inside = true,
            '>' => inside = false,
            other if !inside => out.push(other),
            _ => {}
        }
    }
    out.replace("&lt;", "<").replace("&gt;", ">").replace("&quot;", "\"").replace("&amp;", "&")
}
