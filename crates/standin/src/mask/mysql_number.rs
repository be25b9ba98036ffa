//! Numbers with thousands parted by commas.

use values::Decimal;

use crate::convert::rounded;

/// `12,332.12` with so many digits after the point.
pub(crate) fn grouped(number: &Decimal, places: i64) -> String {
    let plain = rounded(number, places.max(0)).to_plain_string();
    let (sign, plain) = plain.strip_prefix('-').map_or(("", plain.as_str()), |p| ("-", p));
    let (whole, part) = plain.split_once('.').map_or((plain, None), |(w, p)| (w, Some(p)));
    let mut out = String::new();
    for (i, c) in whole.chars().enumerate() {
        if i > 0 && (whole.len() - i) % 3 == 0 {
            out.push(',');
        }
        out.push(c);
    }
    match part {
        Some(part) => format!("{sign}{out}.{part}"),
        None => format!("{sign}{out}"),
    }
}
