//! Days and times written as text: what their digits mean, in the one form that all dialects read.

use compact_str::CompactString;

/// `2026-01-31` of `2026-01-31`, `20260131`; `None` for any other form.
pub(crate) fn day(text: &str) -> Option<CompactString> {
    let text = text.trim();
    let digits = |t: &str| t.bytes().all(|b| b.is_ascii_digit());
    if text.len() == 8 && digits(text) {
        return Some(format!("{}-{}-{}", &text[..4], &text[4..6], &text[6..]).into());
    }
    let parts: Vec<&str> = text.split('-').collect();
    match parts.as_slice() {
        [y, m, d] if y.len() == 4 && m.len() == 2 && d.len() == 2 && digits(y) && digits(m) && digits(d) => Some(text.into()),
        _ => None,
    }
}

/// `2026-01-31 13:05:00.25` of that, of `2026-01-31T13:05:00.25`, and of a day without a time.
pub(crate) fn moment(text: &str) -> Option<CompactString> {
    let text = text.trim();
    let Some(at) = text.find([' ', 'T']) else { return Some(format!("{} 00:00:00", day(text)?).into()) };
    let (date, time) = (day(&text[..at])?, text[at + 1..].trim());
    let (whole, fraction) = time.split_once('.').map_or((time, None), |(w, f)| (w, Some(f)));
    let parts: Vec<&str> = whole.split(':').collect();
    let two = |t: &&str| t.len() == 2 && t.bytes().all(|b| b.is_ascii_digit());
    if !(2..=3).contains(&parts.len()) || !parts.iter().all(two) {
        return None;
    }
    let seconds = parts.get(2).copied().unwrap_or("00");
    let fraction = match fraction {
        Some(f) if !f.is_empty() && f.bytes().all(|b| b.is_ascii_digit()) => format!(".{f}"),
        Some(_) => return None,
        None => String::new(),
    };
    Some(format!("{date} {}:{}:{seconds}{fraction}", parts[0], parts[1]).into())
}

#[cfg(test)]
mod tests {
    use super::{day, moment};

    #[test]
    fn days_and_times_in_one_form() {
        for (text, as_day, as_moment) in [
            ("2026-01-31", Some("2026-01-31"), Some("2026-01-31 00:00:00")),
            ("20260131", Some("2026-01-31"), Some("2026-01-31 00:00:00")),
            ("2026-01-31T13:05:00.25", None, Some("2026-01-31 13:05:00.25")),
            ("20260131 13:05", None, Some("2026-01-31 13:05:00")),
            ("2026-01-31 13:05:00+02", None, None),
            ("31.01.2026", None, None),
            ("today", None, None),
        ] {
            assert_eq!((day(text).as_deref(), moment(text).as_deref()), (as_day, as_moment), "{text}");
        }
    }
}
