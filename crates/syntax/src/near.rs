//! The nearest known word to a misspelt one, for messages.

/// Of `known`, the word most like `given`, if any is near enough to be a likely slip.
pub fn nearest<'a>(given: &str, known: impl IntoIterator<Item = &'a str>) -> Option<&'a str> {
    let given = given.to_lowercase();
    let allowed = (given.chars().count() / 3).max(1);
    known
        .into_iter()
        .map(|word| (distance(&given, &word.to_lowercase()), word))
        .filter(|(d, _)| *d <= allowed)
        .min_by_key(|(d, _)| *d)
        .map(|(_, word)| word)
}

/// Edits (insert, delete, replace, swap neighbours) between two words.
fn distance(a: &str, b: &str) -> usize {
    let a: Vec<char> = a.chars().collect();
    let b: Vec<char> = b.chars().collect();
    let mut rows = vec![(0..=b.len()).collect::<Vec<usize>>()];
    for i in 1..=a.len() {
        let mut row = vec![i];
        for j in 1..=b.len() {
            let change = usize::from(a[i - 1] != b[j - 1]);
            let mut best = (rows[i - 1][j] + 1).min(row[j - 1] + 1).min(rows[i - 1][j - 1] + change);
            if i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1] {
                best = best.min(rows[i - 2][j - 2] + 1);
            }
            row.push(best);
        }
        rows.push(row);
    }
    rows[a.len()][b.len()]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn finds_slips_only() {
        let known = ["vessels", "landings", "tolls"];
        for (given, expected) in
            [("vesels", Some("vessels")), ("LANDIGNS", Some("landings")), ("toll", Some("tolls")), ("wardens", None), ("", None)]
        {
            assert_eq!(nearest(given, known), expected, "{given}");
        }
    }
}
