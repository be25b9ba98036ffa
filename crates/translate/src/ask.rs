//! What is asked of casts, conditions and lists, whoever asks: they have no context.

use meaning::{ArgumentKind, Constant, Function, Meant, Parameter, Sign, infer};
use syntax::tree::{Binary, Call, Cast, Expr, ExprKind};
use values::DataType;

type E = Expr<Meant>;

/// Whether an expression is a condition by its form.
pub(crate) fn is_condition(expr: &E) -> bool {
    match &expr.kind {
        _ if expr.is_predicate() => true,
        ExprKind::Binary(binary) => matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().gives == "boolean"),
        ExprKind::Call(call) => matches!(&call.function, Function::Phrase(id, _) if id.phrase().gives == "boolean"),
        _ => false,
    }
}

/// Whether a function takes a condition in this place.
pub(crate) fn takes_condition(function: &Function, at: usize) -> bool {
    let Function::Phrase(id, _) = function else { return false };
    id.phrase().takes.get(at).is_some_and(|t| t.kind == ArgumentKind::Condition)
}

/// The values that stand behind ANY or ALL, if they are written out.
pub(crate) fn written_list(set: &E) -> Option<&[E]> {
    match &set.kind {
        ExprKind::Row(items) => Some(items),
        ExprKind::Array(array) => Some(&array.items),
        ExprKind::Nested(inner) => written_list(inner).or(Some(std::slice::from_ref(inner))),
        _ => None,
    }
}

/// A cast of a string to a number that gives NULL for an error; `untyped`: what isn't known to be one
/// counts as a string.
pub(crate) fn reads_number_or_null(cast: &Cast<Meant>, untyped: bool) -> bool {
    let safe = cast.form.is_safe() && cast.extra.is_none();
    let operand = infer(&cast.operand).data_type;
    let is_number = matches!(cast.to.data_type, DataType::Integer(_) | DataType::Decimal(_))
        || (untyped && matches!(cast.to.data_type, DataType::Float(_)));
    safe && is_number && (operand.is_text() || (untyped && operand == DataType::Unknown))
}

/// Whether CONVERT(x USING ..) changes no character: its character set holds all of Unicode, and of bytes
/// it is UTF-8. MySQL, Unicode Support.
pub(crate) fn is_read_as_unicode(cast: &Cast<Meant>) -> bool {
    match cast.to.spelled.words.to_ascii_lowercase().as_str() {
        "utf8" | "utf8mb3" | "utf8mb4" => true,
        "ucs2" | "utf16" | "utf16le" | "utf32" => infer(&cast.operand).data_type != DataType::Binary,
        _ => false,
    }
}

/// Whether a string is where a number is wanted.
pub(crate) fn takes_text_as_number(binary: &Binary<Meant>) -> bool {
    let Sign::Phrase(id, _) = binary.operator else { return false };
    let phrase = id.phrase().id;
    let is_number = |e: &E| infer(e).data_type.is_numeric();
    match (is_text(&binary.left), is_text(&binary.right)) {
        (false, false) => false,
        (left, right) if phrase.starts_with("compare.") => (!left && is_number(&binary.left)) || (!right && is_number(&binary.right)),
        _ => phrase.starts_with("number."),
    }
}

/// Whether a string is the argument of a word that takes a number.
pub(crate) fn takes_text_as_argument(call: &Call<Meant>) -> bool {
    let Function::Phrase(id, _) = &call.function else { return false };
    id.phrase().takes.iter().zip(&call.arguments).any(|(takes, argument)| wants_number(takes) && is_text(&argument.value))
}

/// Whether a parameter is a number.
pub(crate) fn wants_number(takes: &Parameter) -> bool {
    matches!(takes.kind, ArgumentKind::Number | ArgumentKind::Decimal)
}

/// Whether an expression is a string, as far as its outermost part tells.
pub(crate) fn is_text(expr: &E) -> bool {
    match &expr.kind {
        ExprKind::Column(binding) => binding.data_type.is_text(),
        ExprKind::Literal(constant) => matches!(constant, Constant::Text { .. }),
        ExprKind::Nested(inner) => is_text(inner),
        ExprKind::Cast(cast) => cast.to.data_type.is_text(),
        ExprKind::Call(call) => matches!(&call.function, Function::Phrase(id, _) if id.phrase().gives == "string"),
        ExprKind::Binary(binary) => matches!(binary.operator, Sign::Phrase(id, _) if id.phrase().gives == "string"),
        _ => false,
    }
}
