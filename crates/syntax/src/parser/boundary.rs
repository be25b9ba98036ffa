//! Where a statement ends that isn't read into a tree.
//!
//! Most dialects part statements with `;`, except inside a stored program, whose own statements have
//! separators too. SQL Server needs no separator at all: there the reserved words that begin a statement
//! part them, and a word that governs a statement (IF, WHILE, BEGIN) takes it along.

use super::{MAX_NESTING, Parser, SyntaxError};
use crate::dialect::DialectName;
use crate::keyword::{Keyword, Role};
use crate::token::{Symbol, Token, TokenKind};

impl Parser<'_> {
    /// Moves to the end of the statement that began at `first`. Returns an error if a quote or
    /// comment is left open on the way.
    pub(super) fn skip_to_next_statement(&mut self, first: usize) -> Option<Box<SyntaxError>> {
        let reached = self.at;
        self.go_to(first);
        match self.name() {
            DialectName::SqlServer => self.pass_batch_statement(0),
            _ => self.pass_separated_statement(),
        }
        let unclosed = (first..self.at).find(|at| self.tokens[*at].kind == TokenKind::Unclosed);
        if let Some(at) = unclosed {
            self.go_to(at);
            let error = self.expected("");
            self.advance();
            return Some(error);
        }
        // What was read into a tree and then found wrong is part of the statement.
        if reached > self.at && !(self.at..reached).any(|at| is_separator(self.tokens[at])) {
            self.go_to(reached);
        }
        if self.at == first {
            self.advance();
        }
        None
    }

    // --- SQL Server ----------------------------------------------------------------------------

    /// One statement of SQL Server, with those it governs.
    fn pass_batch_statement(&mut self, depth: u32) {
        if depth > MAX_NESTING || self.is_program_of_batch() {
            self.pass_until(|token| matches!(token.kind, TokenKind::End | TokenKind::BatchSeparator));
            return;
        }
        match self.keyword() {
            Keyword::BEGIN if !self.begins_transaction() => self.pass_batch_block(depth),
            Keyword::IF => {
                self.pass_condition();
                self.pass_governed(depth);
                self.pass_else(depth);
            }
            Keyword::WHILE => {
                self.pass_condition();
                self.pass_governed(depth);
            }
            _ => self.pass_plain_statement(),
        }
    }

    /// IF and its condition: up to the word that begins what it governs.
    fn pass_condition(&mut self) {
        self.advance();
        let mut parens = 0i32;
        let mut cases = 0i32;
        while !self.at_batch_end() && self.token().kind != TokenKind::Separator {
            follow_nesting(self.token(), &mut parens, &mut cases);
            if parens <= 0 && cases <= 0 && self.keyword().can(Role::BeginsStatement) {
                return;
            }
            self.advance();
        }
    }

    fn pass_governed(&mut self, depth: u32) {
        if !self.at_batch_end() && self.token().kind != TokenKind::Separator {
            self.pass_batch_statement(depth + 1);
        }
    }

    fn pass_else(&mut self, depth: u32) {
        let after = usize::from(self.token().kind == TokenKind::Separator);
        if self.peek(after).keyword == Keyword::ELSE {
            self.skip(after + 1);
            self.pass_governed(depth);
        }
    }

    /// BEGIN .. END, BEGIN TRY .. END TRY BEGIN CATCH .. END CATCH.
    fn pass_batch_block(&mut self, depth: u32) {
        self.advance();
        let tries = self.take_word("TRY");
        self.take_word("CATCH");
        while !self.at_batch_end() && !self.at_keyword(Keyword::END) {
            let before = self.at;
            if self.token().kind == TokenKind::Separator {
                self.advance();
            } else {
                self.pass_batch_statement(depth + 1);
            }
            if self.at == before {
                self.advance();
            }
        }
        if !self.take_keyword(Keyword::END) {
            return;
        }
        if tries {
            self.take_word("TRY");
            let after = usize::from(self.token().kind == TokenKind::Separator);
            let caught = self.peek(after + 1).text(self.source).eq_ignore_ascii_case("CATCH");
            if self.peek(after).keyword == Keyword::BEGIN && caught {
                self.skip(after);
                self.pass_batch_block(depth);
            }
        } else {
            self.take_word("CATCH");
        }
    }

    /// A statement that governs no other: up to a separator or the next word that begins one.
    fn pass_plain_statement(&mut self) {
        let mut inner = InnerWords::of(self.keyword());
        let mut parens = 0i32;
        let mut cases = 0i32;
        let mut before = self.advance();
        while !self.at_batch_end() && self.token().kind != TokenKind::Separator {
            let token = self.token();
            follow_nesting(token, &mut parens, &mut cases);
            let begins = parens <= 0 && cases <= 0 && token.keyword.can(Role::BeginsStatement);
            if begins && !binds_next(before) && !inner.take(before, token, [1, 2, 3].map(|i| self.peek(i)), self.source) {
                return;
            }
            inner.pass(token);
            before = self.advance();
        }
    }

    fn at_batch_end(&self) -> bool {
        matches!(self.token().kind, TokenKind::End | TokenKind::BatchSeparator | TokenKind::Directive)
    }

    /// BEGIN TRANSACTION of SQL Server, BEGIN of others with nothing but its words behind it.
    fn begins_transaction(&self) -> bool {
        let next = self.peek(1);
        let text = next.text(self.source);
        next.keyword == Keyword::TRANSACTION || ["TRAN", "DISTRIBUTED"].iter().any(|w| text.eq_ignore_ascii_case(w))
    }

    /// A procedure, function or trigger: it reaches to the end of its batch.
    fn is_program_of_batch(&self) -> bool {
        let is_program = |token: Token| {
            matches!(token.keyword, Keyword::PROCEDURE | Keyword::FUNCTION | Keyword::TRIGGER)
                || token.text(self.source).eq_ignore_ascii_case("PROC")
        };
        matches!(self.keyword(), Keyword::CREATE | Keyword::ALTER) && (1..4).any(|i| is_program(self.peek(i)))
    }

    /// The next word is a WITH that begins a query of its own.
    pub(super) fn at_with_of_query(&self) -> bool {
        self.at_keyword(Keyword::WITH) && names_common_table([1, 2, 3].map(|i| self.peek(i)))
    }

    // --- dialects with separators --------------------------------------------------------------

    fn pass_separated_statement(&mut self) {
        if !self.is_program() {
            self.pass_until(is_separator);
            return;
        }
        let first = self.at;
        if self.name() == DialectName::Oracle {
            self.pass_until(|token| matches!(token.kind, TokenKind::End | TokenKind::BatchSeparator));
            if self.token().kind == TokenKind::BatchSeparator || self.is_package(first) {
                return;
            }
            self.go_to(first);
        }
        self.pass_program();
    }

    /// Up to the separator behind the END that closes what was opened first.
    fn pass_program(&mut self) {
        let mut open = 0i32;
        let mut opened = false;
        let mut before: Option<Token> = None;
        while self.token().kind != TokenKind::End {
            let token = self.token();
            if token.kind == TokenKind::Separator && open <= 0 && !(opened && self.goes_on_after_block()) {
                return;
            }
            match token.keyword {
                Keyword::END => {
                    open -= 1;
                    if opens_block(self.peek(1), self.source) {
                        self.advance();
                    }
                }
                Keyword::BEGIN | Keyword::CASE => {
                    open += 1;
                    opened = true;
                }
                _ if before.is_none_or(|b| begins_inner_statement(b, self.source)) && opens_block(token, self.source) => {
                    open += 1;
                    opened = true;
                }
                _ => {}
            }
            before = Some(self.advance());
        }
    }

    /// Oracle: behind a local procedure's END comes the block it is local to.
    fn goes_on_after_block(&self) -> bool {
        self.name() == DialectName::Oracle && matches!(self.peek(1).keyword, Keyword::BEGIN | Keyword::PROCEDURE | Keyword::FUNCTION)
    }

    /// A stored program or block, which holds separators of its own.
    fn is_program(&self) -> bool {
        let word = |i: usize| self.peek(i).keyword;
        let is_text = |i: usize, text: &str| self.peek(i).text(self.source).eq_ignore_ascii_case(text);
        let makes = |kinds: &[Keyword]| {
            let head = (1..16).take_while(|i| !matches!(self.peek(*i).symbol, Symbol::LeftParen));
            word(0) == Keyword::CREATE && head.into_iter().any(|i| kinds.contains(&word(i)))
        };
        let programs = [Keyword::PROCEDURE, Keyword::FUNCTION, Keyword::TRIGGER];
        match self.name() {
            DialectName::Oracle => {
                matches!(word(0), Keyword::BEGIN | Keyword::DECLARE)
                    || self.peek(0).symbol == Symbol::ShiftLeft
                    || makes(&programs)
                    || self.is_package(self.at)
            }
            DialectName::Mysql | DialectName::Mariadb => {
                makes(&programs)
                    || word(0) == Keyword::CREATE && (1..10).any(|i| is_text(i, "EVENT"))
                    || word(0) == Keyword::BEGIN && word(1) == Keyword::NOT
                    || self.name() == DialectName::Mariadb && matches!(word(0), Keyword::IF | Keyword::WHILE | Keyword::LOOP | Keyword::FOR)
            }
            DialectName::Sqlite => makes(&[Keyword::TRIGGER]),
            DialectName::Postgres => makes(&[Keyword::PROCEDURE, Keyword::FUNCTION]) && self.holds_atomic_body(),
            DialectName::Bigquery => {
                makes(&[Keyword::PROCEDURE])
                    || word(0) == Keyword::BEGIN && word(1) != Keyword::TRANSACTION && !is_separator(self.peek(1))
                    || matches!(word(0), Keyword::IF | Keyword::WHILE | Keyword::LOOP | Keyword::FOR | Keyword::CASE)
                    || is_text(0, "REPEAT")
            }
            DialectName::Spark => word(0) == Keyword::BEGIN,
            DialectName::SqlServer | DialectName::Duckdb => false,
        }
    }

    /// Oracle: a package or the body of a type.
    fn is_package(&self, first: usize) -> bool {
        let word = |i: usize| self.tokens[(first + i).min(self.tokens.len() - 1)].keyword;
        word(0) == Keyword::CREATE
            && ((1..5).any(|i| word(i) == Keyword::PACKAGE) || (1..5).any(|i| word(i) == Keyword::TYPE && word(i + 1) == Keyword::BODY))
    }

    /// PostgreSQL: BEGIN ATOMIC before the next separator.
    fn holds_atomic_body(&self) -> bool {
        let tokens = self.tokens[self.at..].iter().take_while(|t| !is_separator(**t));
        tokens.into_iter().any(|t| t.text(self.source).eq_ignore_ascii_case("ATOMIC"))
    }

    fn pass_until(&mut self, ends: impl Fn(Token) -> bool) {
        while !ends(self.token()) && self.token().kind != TokenKind::End {
            self.advance();
        }
    }
}

fn is_separator(token: Token) -> bool {
    matches!(token.kind, TokenKind::Separator | TokenKind::BatchSeparator | TokenKind::Directive | TokenKind::End)
}

/// Counts parentheses and CASE .. END, in which no statement begins.
fn follow_nesting(token: Token, parens: &mut i32, cases: &mut i32) {
    match (token.symbol, token.keyword) {
        (Symbol::LeftParen, _) => *parens += 1,
        (Symbol::RightParen, _) => *parens -= 1,
        (_, Keyword::CASE) => *cases += 1,
        (_, Keyword::END) if *cases > 0 => *cases -= 1,
        _ => {}
    }
}

/// The word binds what follows to the same statement.
fn binds_next(before: Token) -> bool {
    matches!(
        before.keyword,
        Keyword::UNION | Keyword::ALL | Keyword::EXCEPT | Keyword::INTERSECT | Keyword::AS | Keyword::THEN | Keyword::FOR | Keyword::INTO
    ) || before.kind == TokenKind::Symbol && !matches!(before.symbol, Symbol::RightParen | Symbol::Star)
}

/// The words that begin a statement elsewhere, but are part of the one being passed over.
struct InnerWords {
    first: Keyword,
    /// The words of which the statement still wants one: INSERT its SELECT, WITH its query.
    wanted: &'static [Keyword],
    /// A list of permissions: SELECT, UPDATE ... ON.
    permissions: bool,
}

impl InnerWords {
    fn of(first: Keyword) -> InnerWords {
        let wanted: &[Keyword] = match first {
            Keyword::INSERT => &[Keyword::SELECT, Keyword::EXEC, Keyword::EXECUTE, Keyword::WITH],
            Keyword::WITH => &[Keyword::SELECT, Keyword::INSERT, Keyword::UPDATE, Keyword::DELETE, Keyword::MERGE],
            Keyword::UPDATE => &[Keyword::SET],
            Keyword::BULK => &[Keyword::INSERT],
            _ => &[],
        };
        let permissions = matches!(first, Keyword::GRANT | Keyword::REVOKE | Keyword::DENY);
        InnerWords { first, wanted, permissions }
    }

    /// Whether `token` belongs to the statement; a word that it wanted is wanted no more.
    fn take(&mut self, before: Token, token: Token, next: [Token; 3], source: &str) -> bool {
        if self.wanted.contains(&token.keyword) {
            let becomes_its_query = self.first == Keyword::WITH;
            *self = InnerWords { wanted: &[], ..*self };
            if becomes_its_query {
                *self = InnerWords::of(token.keyword);
            }
            return true;
        }
        let next_is = |words: &[&str]| words.iter().any(|w| next[0].text(source).eq_ignore_ascii_case(w));
        match (self.first, token.keyword) {
            // A MERGE must end with a separator.
            (Keyword::MERGE, _) => true,
            (_, Keyword::WITH) => !names_common_table(next),
            _ if self.permissions => true,
            (_, Keyword::SET) => next_is(&["NULL", "DEFAULT", "("]),
            (_, Keyword::IF) => next_is(&["EXISTS"]) && next[1].symbol != Symbol::LeftParen,
            (Keyword::ALTER, Keyword::ALTER) => next_is(&["COLUMN"]),
            (Keyword::ALTER, Keyword::DROP) => next_is(&["COLUMN", "CONSTRAINT", "PERIOD", "MEMBER"]),
            (Keyword::CREATE | Keyword::ALTER, Keyword::UPDATE | Keyword::DELETE) => before.keyword == Keyword::ON,
            _ => false,
        }
    }

    fn pass(&mut self, token: Token) {
        match token.keyword {
            Keyword::VALUES | Keyword::DEFAULT if self.first == Keyword::INSERT => self.wanted = &[],
            Keyword::ON | Keyword::TO | Keyword::FROM => self.permissions = false,
            _ => {}
        }
    }
}

/// `w AS (`: WITH before it begins a query; before anything else it has options.
fn names_common_table(next: [Token; 3]) -> bool {
    next[0].kind == TokenKind::Word && next[1].keyword == Keyword::AS && next[2].symbol == Symbol::LeftParen
}

/// Opens what an END closes, where a statement can begin.
fn opens_block(token: Token, source: &str) -> bool {
    matches!(token.keyword, Keyword::IF | Keyword::LOOP | Keyword::WHILE | Keyword::FOR | Keyword::CASE)
        || token.text(source).eq_ignore_ascii_case("REPEAT")
}

/// A statement of a block begins behind this token.
fn begins_inner_statement(before: Token, source: &str) -> bool {
    matches!(before.keyword, Keyword::BEGIN | Keyword::THEN | Keyword::ELSE | Keyword::DO | Keyword::LOOP | Keyword::ROW)
        || before.kind == TokenKind::Separator
        || before.text(source) == ":"
        || before.text(source).eq_ignore_ascii_case("REPEAT")
}
