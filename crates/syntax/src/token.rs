//! Tokens: what the lexer makes of a text.

use crate::dialect::{DialectName, DialectSet};
use crate::keyword::Keyword;

/// What a token is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
#[repr(u8)]
pub enum TokenKind {
    /// An unquoted word: a keyword or a name.
    Word,
    /// A name in quotes of any kind.
    QuotedName,
    /// A text literal with its prefix and quotes.
    String,
    /// A number.
    Number,
    /// A placeholder or variable: `?`, `:name`, `@name`, `$1`, `&name`.
    Parameter,
    /// Punctuation or an operator.
    Symbol,
    /// `;`, or the delimiter a `DELIMITER` line set.
    Separator,
    /// A `GO` or `/` line.
    BatchSeparator,
    /// A line for the client program, not the server: `SET PAGESIZE 50`, `\d`, `.mode`.
    Directive,
    /// A quote or comment that is never closed, up to the end of the text.
    Unclosed,
    /// A character no dialect uses here.
    Unknown,
    /// The end of the text.
    End,
}

/// One token: a stretch of the text. Blanks and comments lie between tokens.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Token {
    /// Byte where it starts.
    pub start: u32,
    /// Byte after its last.
    pub end: u32,
    /// What it is.
    pub kind: TokenKind,
    /// Which symbol, `Symbol::None` for other kinds.
    pub symbol: Symbol,
    /// Which keyword, `Keyword::NONE` for other kinds and other words.
    pub keyword: Keyword,
}

impl Token {
    /// The token's text.
    pub fn text(self, source: &str) -> &str {
        source.get(self.start as usize..self.end as usize).unwrap_or("")
    }

    /// The same in bytes, for comparisons: where a character begins needn't be looked at.
    pub(crate) fn bytes(self, source: &str) -> &[u8] {
        source.as_bytes().get(self.start as usize..self.end as usize).unwrap_or(&[])
    }
}

macro_rules! symbols {
    ($($name:ident $text:literal $dialects:expr;)*) => {
        /// Punctuation and operators, as spelled.
        #[allow(missing_docs)]
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
        #[repr(u8)]
        pub enum Symbol { None, $($name),* }

        /// Every symbol with its text and the dialects that read these characters as one token.
        pub(crate) const SYMBOLS: &[(Symbol, &str, DialectSet)] = &[$((Symbol::$name, $text, $dialects)),*];
    };
}

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
const ALL: DialectSet = DialectSet::ALL;
const fn only(names: &[DialectName]) -> DialectSet {
    DialectSet::of(names)
}

// Longer texts come before their own beginnings.
symbols! {
    JsonPathText "#>>" only(&[Postgres]);
    ArrowText "->>" only(&[Mysql, Postgres, Duckdb, Sqlite]);
    NotMatchAnyCase "!~*" only(&[Postgres]);
    NotLikeAnyCase "!~~*" only(&[Postgres, Duckdb]);
    NullSafeEqual "<=>" only(&[Mysql, Mariadb, Spark]);
    LikeAnyCase "~~*" only(&[Postgres, Duckdb]);
    NotLike "!~~" only(&[Postgres, Duckdb]);
    Glob "~~~" only(&[Duckdb]);
    JsonPath "#>" only(&[Postgres]);
    Arrow "->" only(&[Mysql, Postgres, Duckdb, Spark, Sqlite]);
    CubeRoot "||/" only(&[Postgres]);
    Concat "||" ALL;
    SquareRoot "|/" only(&[Postgres]);
    NotEqual "<>" ALL;
    BangEqual "!=" ALL;
    CaretEqual "^=" only(&[Oracle]);
    LessEqual "<=" ALL;
    GreaterEqual ">=" ALL;
    EqualEqual "==" only(&[Sqlite, Spark, Duckdb]);
    NotLess "!<" only(&[SqlServer]);
    NotGreater "!>" only(&[SqlServer]);
    Cast "::" only(&[Postgres, Duckdb, Spark, SqlServer]);
    Assign ":=" only(&[Oracle, Mysql, Mariadb, Postgres, Duckdb]);
    Named "=>" ALL;
    Contains "@>" only(&[Postgres, Duckdb]);
    ContainedIn "<@" only(&[Postgres, Duckdb]);
    AnyKey "?|" only(&[Postgres]);
    AllKeys "?&" only(&[Postgres]);
    NotMatch "!~" only(&[Postgres, Duckdb]);
    MatchAnyCase "~*" only(&[Postgres]);
    LikeSign "~~" only(&[Postgres, Duckdb]);
    SlashSlash "//" only(&[Duckdb]);
    StarStar "**" only(&[Duckdb, Oracle]);
    ShiftLeft "<<" only(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite, SqlServer]);
    ShiftRight ">>" only(&[Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite, SqlServer]);
    AndAnd "&&" only(&[Mysql, Mariadb, Postgres, Duckdb]);
    PlusAssign "+=" only(&[SqlServer]);
    MinusAssign "-=" only(&[SqlServer]);
    StarAssign "*=" only(&[SqlServer]);
    SlashAssign "/=" only(&[SqlServer]);
    StartsWith "^@" only(&[Postgres, Duckdb]);
    LeftParen "(" ALL;
    RightParen ")" ALL;
    LeftBracket "[" ALL;
    RightBracket "]" ALL;
    LeftBrace "{" ALL;
    RightBrace "}" ALL;
    Comma "," ALL;
    Period "." ALL;
    Colon ":" ALL;
    Star "*" ALL;
    Plus "+" ALL;
    Minus "-" ALL;
    Slash "/" ALL;
    Percent "%" ALL;
    Equal "=" ALL;
    Less "<" ALL;
    Greater ">" ALL;
    Bar "|" ALL;
    Ampersand "&" ALL;
    Caret "^" ALL;
    Tilde "~" ALL;
    Bang "!" ALL;
    At "@" ALL;
    Hash "#" ALL;
    Question "?" only(&[Postgres]);
    Backslash "\\" ALL;
}

impl Symbol {
    /// The characters; empty for `None`.
    pub fn text(self) -> &'static str {
        match self as usize {
            0 => "",
            i => SYMBOLS[i - 1].1,
        }
    }
}
