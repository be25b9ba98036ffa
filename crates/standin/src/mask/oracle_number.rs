//! Number masks of Oracle and PostgreSQL: `FM9,990.00`.

use bigdecimal::{Signed, ToPrimitive, Zero};
use values::Decimal;

use crate::convert::rounded;
use crate::failure::{Failure, FailureKind, Outcome};

/// A mask taken apart.
#[derive(Default)]
struct Mask {
    /// Signs before the point, without those of the marks below.
    whole: Vec<char>,
    part: Vec<char>,
    has_point: bool,
    fill: bool,
    sign_first: bool,
    sign_last: bool,
    minus_last: bool,
    angle: bool,
    dollar: bool,
    exponent: bool,
    shift: usize,
}

fn parsed(mask: &str) -> Outcome<Mask> {
    let mut out = Mask { fill: true, ..Mask::default() };
    let upper = mask.to_uppercase();
    let mut rest = upper.as_str();
    let mut after_shift = false;
    while !rest.is_empty() {
        let take = |n: usize| &rest[n..];
        rest = if let Some(after) = rest.strip_prefix("FM") {
            out.fill = false;
            after
        } else if let Some(after) = rest.strip_prefix("EEEE") {
            out.exponent = true;
            after
        } else if let Some(after) = rest.strip_prefix("MI") {
            out.minus_last = true;
            after
        } else if let Some(after) = rest.strip_prefix("PR") {
            out.angle = true;
            after
        } else {
            match rest.chars().next().unwrap_or(' ') {
                'S' if out.whole.is_empty() && !out.has_point => out.sign_first = true,
                'S' => out.sign_last = true,
                '$' | 'L' => out.dollar = true,
                '.' | 'D' => out.has_point = true,
                'V' => after_shift = true,
                ',' | 'G' if !out.has_point => out.whole.push(','),
                digit @ ('9' | '0') => {
                    if after_shift {
                        out.shift += 1;
                    }
                    if out.has_point { out.part.push(digit) } else { out.whole.push(digit) }
                }
                'B' => {}
                other => {
                    return Err(Failure::new(FailureKind::Invalid, format!("'{other}' in the number mask '{mask}'")).with_code("ORA-01481"));
                }
            }
            take(rest.chars().next().map_or(0, char::len_utf8))
        };
    }
    Ok(out)
}

/// A number by a mask; signs of `#` if it has no room.
pub(crate) fn written(number: &Decimal, mask: &str) -> Outcome<String> {
    let upper = mask.to_uppercase();
    let bare = upper.trim_start_matches("FM");
    if bare.starts_with("TM") {
        return Ok(crate::convert::oracle_number_text(number));
    }
    if bare == "RN" {
        return Ok(roman(number, mask));
    }
    if !bare.is_empty() && bare.chars().all(|c| c == 'X' || c == '0') && bare.contains('X') {
        let value = rounded(number, 0).to_i64().unwrap_or(0);
        if value < 0 {
            return Err(Failure::invalid("a number below 0 has no hexadecimal digits").with_code("ORA-01481"));
        }
        let text = format!("{value:X}");
        let text = if mask.contains('x') { text.to_lowercase() } else { text };
        return Ok(if upper.starts_with("FM") { text } else { format!("{text:>width$}", width = bare.len() + 1) });
    }
    let mask = parsed(mask)?;
    if mask.exponent {
        return Ok(scientific(number, &mask));
    }
    let number = if mask.shift > 0 { number * Decimal::new(1.into(), -(mask.shift as i64)) } else { number.clone() };
    let scaled = rounded(&number, mask.part.len() as i64);
    let negative = scaled.is_negative() && !scaled.is_zero();
    let plain = scaled.abs().to_plain_string();
    let (whole, part) = plain.split_once('.').unwrap_or((&plain, ""));
    let whole = if whole == "0" { "" } else { whole };
    let room = mask.whole.iter().filter(|c| **c != ',').count();
    let width = mask.whole.len() + usize::from(mask.has_point) + mask.part.len() + usize::from(mask.dollar);
    if whole.len() > room {
        return Ok("#".repeat(width + 1));
    }
    // A lone zero shows where the mask has no digit after the point.
    let whole = if whole.is_empty() && room > 0 && (part.is_empty() || mask.part.is_empty()) { "0" } else { whole };
    let mut digits = whole.chars().rev();
    let mut shown: Vec<char> = Vec::new();
    let forced = mask.whole.iter().position(|c| *c == '0').unwrap_or(mask.whole.len());
    for (at, sign) in mask.whole.iter().enumerate().rev() {
        match sign {
            ',' => {
                let more = digits.clone().next().is_some() || at > forced;
                shown.push(if more { ',' } else { ' ' });
            }
            _ => match digits.next() {
                Some(d) => shown.push(d),
                None if at >= forced => shown.push('0'),
                None => shown.push(' '),
            },
        }
    }
    let mut text: String = shown.iter().rev().collect();
    let trimmed = text.trim_start().to_string();
    let blanks = text.len() - trimmed.len();
    if mask.has_point {
        let mut part = format!("{part:0<width$}", width = mask.part.len());
        if !mask.fill {
            let keep = mask.part.iter().rposition(|c| *c == '0').map_or(0, |p| p + 1);
            while part.len() > keep && part.ends_with('0') {
                part.pop();
            }
        }
        text = format!("{trimmed}.{part}");
    } else {
        text = trimmed;
    }
    if mask.dollar {
        text = format!("${text}");
    }
    let signed = match (negative, &mask) {
        (true, m) if m.minus_last => format!("{text}-"),
        (false, m) if m.minus_last => {
            if m.fill {
                format!("{text} ")
            } else {
                text
            }
        }
        (true, m) if m.angle => format!("<{text}>"),
        (false, m) if m.angle => {
            if m.fill {
                format!(" {text} ")
            } else {
                text
            }
        }
        (true, m) if m.sign_last => format!("{text}-"),
        (false, m) if m.sign_last => format!("{text}+"),
        (true, _) => format!("-{text}"),
        (false, m) if m.sign_first => format!("+{text}"),
        (false, m) if m.fill => format!(" {text}"),
        (false, _) => text,
    };
    Ok(if mask.fill { format!("{}{signed}", " ".repeat(blanks)) } else { signed })
}

fn scientific(number: &Decimal, mask: &Mask) -> String {
    let value: f64 = number.to_plain_string().parse().unwrap_or(0.0);
    let text = format!("{:.*e}", mask.part.len(), value);
    let (mantissa, exponent) = text.split_once('e').unwrap_or((&text, "0"));
    let exponent: i32 = exponent.parse().unwrap_or(0);
    let shown = format!("{mantissa}E{}{:02}", if exponent < 0 { '-' } else { '+' }, exponent.abs());
    if mask.fill { format!(" {shown}") } else { shown }
}

fn roman(number: &Decimal, mask: &str) -> String {
    const SIGNS: [(i64, &str); 13] = [
        (1000, "M"),
        (900, "CM"),
        (500, "D"),
        (400, "CD"),
        (100, "C"),
        (90, "XC"),
        (50, "L"),
        (40, "XL"),
        (10, "X"),
        (9, "IX"),
        (5, "V"),
        (4, "IV"),
        (1, "I"),
    ];
    let mut left = rounded(number, 0).to_i64().unwrap_or(0);
    if !(1..=3999).contains(&left) {
        return "#".repeat(15);
    }
    let mut out = String::new();
    for (value, sign) in SIGNS {
        while left >= value {
            out.push_str(sign);
            left -= value;
        }
    }
    if mask.contains("rn") {
        out = out.to_lowercase();
    }
    if mask.to_uppercase().starts_with("FM") { out } else { format!("{out:>15}") }
}

/// A string read by a mask.
pub(crate) fn read(text: &str, mask: &str) -> Outcome<Decimal> {
    let wrong = || Failure::new(FailureKind::BadCast, format!("'{text}' is no number of the form '{mask}'")).with_code("ORA-01722");
    let upper = mask.to_uppercase();
    if upper.trim_start_matches("FM").chars().all(|c| c == 'X') {
        return i64::from_str_radix(text.trim(), 16).map(Decimal::from).map_err(|_| wrong());
    }
    let trimmed = text.trim();
    let (negative, digits) = match trimmed {
        t if t.starts_with('-') => (true, &t[1..]),
        t if t.ends_with('-') => (true, &t[..t.len() - 1]),
        t if t.starts_with('<') && t.ends_with('>') => (true, &t[1..t.len() - 1]),
        t => (false, t.trim_start_matches('+')),
    };
    let has = |signs: &[char]| upper.contains(signs);
    let plain: String = digits.chars().filter(|c| !((*c == ',' && has(&[',', 'G'])) || (*c == '$' && has(&['$', 'L'])))).collect();
    let number: Decimal = plain.parse().map_err(|_| wrong())?;
    Ok(if negative { -number } else { number })
}
