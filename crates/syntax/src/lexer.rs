//! Text to tokens, for any dialect.
//!
//! Blanks and comments make no tokens: they are what lies between two tokens, and the layout finds
//! them there again. The lexer never fails: what can't be read becomes an `Unclosed` or `Unknown`
//! token, which the grammar reports with its place.

use crate::dialect::{Dialect, DialectName};
use crate::keyword::{self, Keyword};
use crate::spelling::Spelling;
use crate::token::{SYMBOLS, Symbol, Token, TokenKind};
use crate::word_table::WordTable;

mod directive;

/// Reads all of `source`; the last token is `End`.
pub fn lex(source: &str, dialect: &Dialect) -> Vec<Token> {
    let mut lexer = Lexer::new(source, dialect);
    // Dense texts have a token every three or four bytes: to grow would copy all of them.
    let mut tokens = Vec::with_capacity(source.len() / 3 + 2);
    loop {
        let token = lexer.next(&tokens);
        tokens.push(token);
        if token.kind == TokenKind::End {
            return tokens;
        }
    }
}

pub(crate) struct Lexer<'a> {
    source: &'a str,
    bytes: &'a [u8],
    at: usize,
    spelling: Spelling,
    keywords: &'static WordTable<Keyword>,
    /// Inside `/*! ... */`: MySQL runs what the comment holds.
    in_executable_comment: bool,
    /// What a `DELIMITER` line set.
    delimiter: Option<&'a str>,
    symbols: SymbolTable,
    /// The classes of bytes that words of the dialect hold.
    word_class: u8,
    /// A line ended between the last token and the cursor.
    passed_line_end: bool,
}

/// The symbols of one dialect by first byte: candidates, longest first.
struct SymbolTable {
    by_first: Vec<Vec<(Symbol, &'static [u8])>>,
    /// The symbol of a byte that begins no other, `Symbol::None` for other bytes.
    alone: [Symbol; 128],
}

impl SymbolTable {
    fn of(dialect: DialectName) -> SymbolTable {
        let mut by_first = vec![Vec::new(); 128];
        for (symbol, text, dialects) in SYMBOLS {
            if dialects.has(dialect) {
                by_first[text.as_bytes()[0] as usize].push((*symbol, text.as_bytes()));
            }
        }
        let mut alone = [Symbol::None; 128];
        for (first, list) in by_first.iter_mut().enumerate() {
            list.sort_by_key(|(_, text)| std::cmp::Reverse(text.len()));
            if let [(symbol, [_])] = list.as_slice() {
                alone[first] = *symbol;
            }
        }
        SymbolTable { by_first, alone }
    }

    /// The longest symbol at the start of `rest`, and its length.
    fn find(&self, rest: &[u8]) -> Option<(Symbol, usize)> {
        let first = rest[0] as usize;
        match self.alone.get(first)? {
            Symbol::None => {
                // Two or three bytes: compared one by one, cheaper than a call.
                let begins = |text: &[u8]| text.len() <= rest.len() && text.iter().zip(rest).all(|(a, b)| a == b);
                self.by_first[first].iter().find(|(_, text)| begins(text)).map(|(symbol, text)| (*symbol, text.len()))
            }
            symbol => Some((*symbol, 1)),
        }
    }
}

/// A byte that can begin a word.
const START: u8 = 1;
/// A byte that can go on in a word.
const PART: u8 = 2;
/// A blank of one byte.
const BLANK: u8 = 4;
/// A byte that can begin or end a comment, or a blank of two bytes.
const COMMENT: u8 = 8;
/// `#` goes on in a word of Oracle and SQL Server.
const HASH: u8 = 16;
/// `@` goes on in a word of SQL Server.
const AT: u8 = 32;

/// What each byte can be: one look instead of several comparisons.
const CLASS: [u8; 256] = {
    let mut classes = [0; 256];
    let mut byte = 0;
    while byte < 256 {
        let b = byte as u8;
        if b.is_ascii_alphabetic() || b == b'_' || b >= 0x80 {
            classes[byte] |= START | PART;
        }
        if b.is_ascii_digit() || b == b'$' {
            classes[byte] |= PART;
        }
        if matches!(b, b' ' | b'\t' | b'\n' | b'\r' | 0x0b | 0x0c) {
            classes[byte] |= BLANK;
        }
        if matches!(b, b'-' | b'/' | b'#' | b'*' | 0xc2) {
            classes[byte] |= COMMENT;
        }
        if b == b'#' {
            classes[byte] |= HASH;
        }
        if b == b'@' {
            classes[byte] |= AT;
        }
        byte += 1;
    }
    classes
};

fn is_word_start(byte: u8) -> bool {
    CLASS[byte as usize] & START != 0
}

fn is_word_part(byte: u8) -> bool {
    CLASS[byte as usize] & PART != 0
}

impl<'a> Lexer<'a> {
    fn new(source: &'a str, dialect: &Dialect) -> Lexer<'a> {
        Lexer {
            source,
            bytes: source.as_bytes(),
            // A byte order mark is no part of the text.
            at: if source.starts_with('\u{feff}') { 3 } else { 0 },
            spelling: Spelling::of(dialect),
            keywords: keyword::table(),
            in_executable_comment: false,
            delimiter: None,
            symbols: SymbolTable::of(dialect.name),
            word_class: match dialect.name {
                DialectName::SqlServer => PART | HASH | AT,
                DialectName::Oracle => PART | HASH,
                _ => PART,
            },
            passed_line_end: true,
        }
    }

    fn peek(&self, ahead: usize) -> u8 {
        self.bytes.get(self.at + ahead).copied().unwrap_or(0)
    }

    fn token(&self, start: usize, kind: TokenKind) -> Token {
        Token { start: start as u32, end: self.at as u32, kind, symbol: Symbol::None, keyword: Keyword::NONE }
    }

    fn next(&mut self, before: &[Token]) -> Token {
        self.passed_line_end = before.is_empty();
        if let Err(start) = self.skip_blanks_and_comments() {
            self.at = self.bytes.len();
            return self.token(start, TokenKind::Unclosed);
        }
        let start = self.at;
        if start >= self.bytes.len() {
            return self.token(start, TokenKind::End);
        }
        let byte = self.bytes[start];
        if (self.passed_line_end || byte == b'\\' || self.delimiter.is_some())
            && let Some(token) = self.line_token(before)
        {
            return token;
        }
        if is_word_start(byte) {
            return self.word(start);
        }
        match byte {
            b';' => self.take(1, TokenKind::Separator),
            b'\'' => self.text_literal(start),
            b'"' => self.double_quoted(start),
            b'`' if self.spelling.backtick_names => self.quoted(start, b'`', false, TokenKind::QuotedName),
            b'[' if self.spelling.bracket_names => self.quoted(start, b']', false, TokenKind::QuotedName),
            b'0'..=b'9' => self.number(),
            b'.' if self.peek(1).is_ascii_digit() && !adjacent_name(before, start) => self.number(),
            b'$' if self.spelling.dollar_quotes && self.dollar_quote() => self.dollar_text(start),
            b'?' if self.spelling.dialect != DialectName::Postgres => {
                self.at += 1;
                self.skip_while(|b| b.is_ascii_digit());
                self.token(start, TokenKind::Parameter)
            }
            b'$' | b':' | b'@' | b'&' | b'#' if self.marked_word(before).is_some() => {
                let (marks, kind) = self.marked_word(before).unwrap_or((1, TokenKind::Parameter));
                self.marked(marks, kind)
            }
            _ => self.symbol(start),
        }
    }

    fn take(&mut self, bytes: usize, kind: TokenKind) -> Token {
        let start = self.at;
        self.at += bytes;
        self.token(start, kind)
    }

    /// `Err` holds the place of a comment that is never closed.
    fn skip_blanks_and_comments(&mut self) -> Result<(), usize> {
        loop {
            let byte = self.peek(0);
            let class = CLASS[byte as usize];
            if class & BLANK != 0 {
                self.passed_line_end |= byte == b'\n';
                self.at += 1;
                continue;
            }
            if class & COMMENT == 0 {
                return Ok(());
            }
            match byte {
                // No-break space, as pasted from documents.
                0xc2 if self.peek(1) == 0xa0 => self.at += 2,
                b'-' if self.peek(1) == b'-' && self.dashes_are_comment() => self.skip_line(),
                b'#' if self.spelling.hash_comments => self.skip_line(),
                b'/' if self.peek(1) == b'*' => self.skip_block()?,
                b'*' if self.in_executable_comment && self.peek(1) == b'/' => {
                    self.in_executable_comment = false;
                    self.at += 2;
                }
                _ => return Ok(()),
            }
        }
    }

    fn dashes_are_comment(&self) -> bool {
        !self.spelling.dashes_need_blank || self.peek(2) <= b' '
    }

    fn skip_line(&mut self) {
        let rest = &self.bytes[self.at..];
        self.at += rest.iter().position(|b| *b == b'\n').unwrap_or(rest.len());
    }

    fn skip_block(&mut self) -> Result<(), usize> {
        let start = self.at;
        if let Some(length) = self.executable_comment_opening() {
            self.at += length;
            self.in_executable_comment = true;
            return Ok(());
        }
        let end = block_comment_end(&self.bytes[start..], self.spelling.nested_comments).ok_or(start)?;
        self.at = start + end;
        Ok(())
    }

    /// The length of `/*!80000` or `/*M!100100`, where the server would run what follows.
    fn executable_comment_opening(&self) -> Option<usize> {
        let rest = &self.bytes[self.at..];
        let marks: &[u8] = match self.spelling.dialect {
            DialectName::Mysql if rest.starts_with(b"/*!") => b"/*!",
            DialectName::Mariadb if rest.starts_with(b"/*M!") => b"/*M!",
            DialectName::Mariadb if rest.starts_with(b"/*!") => b"/*!",
            _ => return None,
        };
        let digits = rest[marks.len()..].iter().take_while(|b| b.is_ascii_digit()).count();
        Some(marks.len() + digits)
    }

    fn text_literal(&mut self, start: usize) -> Token {
        if self.spelling.raw_and_triple_quotes && self.peek(1) == b'\'' && self.peek(2) == b'\'' {
            return self.triple(start, b"'''", false);
        }
        self.quoted(start, b'\'', self.spelling.backslash_escapes, TokenKind::String)
    }

    fn double_quoted(&mut self, start: usize) -> Token {
        if !self.spelling.double_quote_is_text {
            return self.quoted(start, b'"', false, TokenKind::QuotedName);
        }
        if self.spelling.raw_and_triple_quotes && self.peek(1) == b'"' && self.peek(2) == b'"' {
            return self.triple(start, b"\"\"\"", false);
        }
        self.quoted(start, b'"', self.spelling.backslash_escapes, TokenKind::String)
    }

    /// From the opening quote at the cursor to its close; a doubled quote is a quote inside.
    fn quoted(&mut self, start: usize, close: u8, backslash: bool, kind: TokenKind) -> Token {
        self.at += 1;
        while self.at < self.bytes.len() {
            let byte = self.bytes[self.at];
            self.at += 1;
            if byte == b'\\' && backslash {
                self.at = (self.at + 1).min(self.bytes.len());
            } else if byte == close {
                if self.peek(0) != close {
                    return self.token(start, kind);
                }
                self.at += 1;
            }
        }
        self.token(start, TokenKind::Unclosed)
    }

    fn triple(&mut self, start: usize, quotes: &[u8], raw: bool) -> Token {
        self.at += 3;
        while self.at < self.bytes.len() {
            if self.bytes[self.at..].starts_with(quotes) {
                self.at += 3;
                return self.token(start, TokenKind::String);
            }
            self.at += if self.peek(0) == b'\\' && !raw { 2 } else { 1 };
        }
        self.at = self.bytes.len();
        self.token(start, TokenKind::Unclosed)
    }

    /// Whether `$$` or `$tag$` is at the cursor.
    fn dollar_quote(&self) -> bool {
        let mut ahead = 1;
        while is_word_start(self.peek(ahead)) || (ahead > 1 && self.peek(ahead).is_ascii_digit()) {
            ahead += 1;
        }
        self.peek(ahead) == b'$'
    }

    fn dollar_text(&mut self, start: usize) -> Token {
        let tag_end = start + 2 + self.bytes[start + 1..].iter().position(|b| *b == b'$').unwrap_or(0);
        let tag = &self.source[start..tag_end];
        if let Some(length) = self.source[tag_end..].find(tag) {
            self.at = tag_end + length + tag.len();
            self.token(start, TokenKind::String)
        } else {
            self.at = self.bytes.len();
            self.token(start, TokenKind::Unclosed)
        }
    }

    /// `0x` of SQL Server: no byte at all.
    fn is_empty_bytes(&self) -> bool {
        self.spelling.dialect == DialectName::SqlServer && !self.peek(2).is_ascii_alphanumeric()
    }

    fn number(&mut self) -> Token {
        let start = self.at;
        if self.peek(0) == b'0' && matches!(self.peek(1), b'x' | b'X') && (self.peek(2).is_ascii_hexdigit() || self.is_empty_bytes()) {
            self.at += 2;
            self.skip_while(|b| b.is_ascii_hexdigit());
            return self.token(start, TokenKind::Number);
        }
        let digit = |b: u8| b.is_ascii_digit() || b == b'_';
        self.skip_while(digit);
        if self.peek(0) == b'.' && self.peek(1) != b'.' {
            self.at += 1;
            self.skip_while(digit);
        }
        let sign = usize::from(matches!(self.peek(1), b'+' | b'-'));
        if matches!(self.peek(0), b'e' | b'E') && self.peek(1 + sign).is_ascii_digit() {
            self.at += 1 + sign;
            self.skip_while(digit);
        }
        if is_word_start(self.peek(0)) {
            self.number_suffix();
        }
        self.token(start, TokenKind::Number)
    }

    /// The letters behind a number that tell its type.
    fn number_suffix(&mut self) {
        let suffix: &[u8] = match self.spelling.dialect {
            DialectName::Oracle => b"fFdD",
            DialectName::Spark => b"lLsSyYdDfFbB",
            _ => b"",
        };
        if suffix.contains(&self.peek(0)) {
            let length = if matches!(self.peek(0), b'b' | b'B') { 2 } else { 1 };
            if !is_word_part(self.peek(length)) {
                self.at += length;
            }
        }
    }

    fn skip_while(&mut self, keep: impl Fn(u8) -> bool) {
        while self.at < self.bytes.len() && keep(self.bytes[self.at]) {
            self.at += 1;
        }
    }

    /// Words that begin with a sign: variables, parameters, temporary tables. The number of sign
    /// bytes and what the whole is.
    fn marked_word(&self, before: &[Token]) -> Option<(usize, TokenKind)> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
        let dialect = self.spelling.dialect;
        let doubled = usize::from(self.peek(1) == self.peek(0));
        let next = self.peek(1 + doubled);
        let named = is_word_start(next);
        match self.peek(0) {
            b'@' => {
                let spoken = matches!(dialect, SqlServer | Mysql | Mariadb | Bigquery | Sqlite);
                (spoken && (named || next == b'`')).then_some((1 + doubled, TokenKind::Parameter))
            }
            b'$' => {
                let spoken = matches!(dialect, Postgres | Duckdb | Sqlite | Spark);
                if dialect == Spark && next == b'{' {
                    return Some((2, TokenKind::Parameter));
                }
                (spoken && doubled == 0 && (named || next.is_ascii_digit())).then_some((1, TokenKind::Parameter))
            }
            b'&' => (dialect == Oracle && named).then_some((1 + doubled, TokenKind::Parameter)),
            b'#' => (dialect == SqlServer && named).then_some((1 + doubled, TokenKind::Word)),
            b':' => {
                let spoken = !matches!(dialect, SqlServer | Bigquery) && doubled == 0;
                let fits = named || (next.is_ascii_digit() && dialect == Oracle);
                // `a[1:n]` and `{'k':v}`: a colon right after a value parts it from the next.
                let after_value = before.last().is_some_and(|t| {
                    t.end as usize == self.at
                        && (!matches!(t.kind, TokenKind::Symbol) || matches!(t.symbol, Symbol::RightBracket | Symbol::RightParen))
                });
                (spoken && fits && !after_value).then_some((1, TokenKind::Parameter))
            }
            _ => None,
        }
    }

    fn marked(&mut self, marks: usize, kind: TokenKind) -> Token {
        let start = self.at;
        self.at += marks;
        if self.peek(0) == b'`' {
            return self.quoted(start, b'`', false, kind);
        }
        if self.bytes[self.at - 1] == b'{' {
            self.skip_while(|b| b != b'}' && b != b'\n');
            self.at = (self.at + 1).min(self.bytes.len());
            return self.token(start, kind);
        }
        let class = self.word_class;
        self.skip_while(|b| CLASS[b as usize] & class != 0);
        // SQL*Plus: a point ends a substitution variable and is swallowed with it.
        if self.bytes[start] == b'&' && self.peek(0) == b'.' && self.peek(1) == b'.' {
            self.at += 1;
        }
        self.token(start, kind)
    }

    fn word(&mut self, start: usize) -> Token {
        let at = self.word_end(start);
        // A quote right behind a short word: the word may be the prefix of a literal.
        if at - start <= 2
            && matches!(self.bytes.get(at), Some(b'\'' | b'"' | b'&'))
            && let Some(token) = self.prefixed_literal(start)
        {
            return token;
        }
        self.at = at;
        let mut token = self.token(start, TokenKind::Word);
        token.keyword = self.keywords.find(&self.bytes[start..], at - start);
        token
    }

    /// Where the word ends that has a byte at `start`.
    fn word_end(&self, start: usize) -> usize {
        let mut seen = 0;
        let rest = self.bytes[start + 1..].iter();
        let part = |b: &&u8| {
            seen |= **b;
            CLASS[**b as usize] & self.word_class != 0
        };
        let mut end = start + 1 + rest.take_while(part).count();
        // A no-break space is a blank, not a letter.
        if !seen.is_ascii()
            && let Some(blank) = self.source[start..end].find('\u{a0}')
        {
            end = start + blank;
        }
        end
    }

    /// `N'..'`, `E'..'`, `X'..'`, `q'[..]'`, `r'..'`, `U&'..'`.
    fn prefixed_literal(&mut self, start: usize) -> Option<Token> {
        use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer};
        let dialect = self.spelling.dialect;
        let quote_at = (1..=2).find(|ahead| matches!(self.peek(*ahead), b'\'' | b'"'))?;
        let quote = self.peek(quote_at);
        let prefix = self.bytes[start..start + quote_at].to_ascii_uppercase();
        if quote == b'"' && !matches!(dialect, Bigquery | Spark) {
            return None;
        }
        let raw = match prefix.as_slice() {
            b"N" if matches!(dialect, Oracle | SqlServer | Mysql | Mariadb | Postgres | Duckdb) => false,
            b"E" if matches!(dialect, Postgres | Duckdb) => {
                self.at += 1;
                return Some(self.quoted(start, b'\'', true, TokenKind::String));
            }
            b"X" => false,
            b"B" if matches!(dialect, Postgres | Mysql | Mariadb | Bigquery) => false,
            b"U&" if matches!(dialect, Postgres | Oracle) => false,
            b"Q" | b"NQ" if dialect == Oracle && quote == b'\'' => return Some(self.alternative_quoted(start, quote_at)),
            b"R" | b"RB" | b"BR" if matches!(dialect, Bigquery | Spark) => true,
            _ => return None,
        };
        self.at += quote_at;
        if self.spelling.raw_and_triple_quotes && self.peek(1) == quote && self.peek(2) == quote {
            let quotes = [quote; 3];
            return Some(self.triple(start, &quotes, raw));
        }
        Some(self.quoted(start, quote, self.spelling.backslash_escapes && !raw, TokenKind::String))
    }

    /// Oracle's `q'[it's]'`.
    fn alternative_quoted(&mut self, start: usize, quote_at: usize) -> Token {
        let Some(open) = self.source[start + quote_at + 1..].chars().next() else {
            self.at = self.bytes.len();
            return self.token(start, TokenKind::Unclosed);
        };
        let close = match open {
            '[' => ']',
            '{' => '}',
            '(' => ')',
            '<' => '>',
            other => other,
        };
        let body = start + quote_at + 1 + open.len_utf8();
        let ending = format!("{close}'");
        if let Some(length) = self.source[body..].find(&ending) {
            self.at = body + length + ending.len();
            self.token(start, TokenKind::String)
        } else {
            self.at = self.bytes.len();
            self.token(start, TokenKind::Unclosed)
        }
    }

    fn symbol(&mut self, start: usize) -> Token {
        let Some((symbol, length)) = self.symbols.find(&self.bytes[start..]) else {
            let length = self.source[start..].chars().next().map_or(1, char::len_utf8);
            return self.take(length, TokenKind::Unknown);
        };
        let mut token = self.take(length, TokenKind::Symbol);
        token.symbol = symbol;
        token
    }
}

/// In `t.1` the point parts two names.
fn adjacent_name(before: &[Token], start: usize) -> bool {
    before.last().is_some_and(|t| t.end as usize == start && matches!(t.kind, TokenKind::Word | TokenKind::QuotedName))
}

/// The length of the block comment that `bytes` begin with, if it is closed.
pub(crate) fn block_comment_end(bytes: &[u8], nested: bool) -> Option<usize> {
    let mut depth = 0usize;
    let mut at = 0;
    while at + 1 < bytes.len() {
        match (bytes[at], bytes[at + 1]) {
            (b'/', b'*') if depth == 0 || nested => {
                depth += 1;
                at += 2;
            }
            (b'*', b'/') => {
                depth -= 1;
                at += 2;
                if depth == 0 {
                    return Some(at);
                }
            }
            _ => at += 1,
        }
    }
    None
}
