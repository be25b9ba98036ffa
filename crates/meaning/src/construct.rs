//! Constructs that a dialect either speaks or doesn't, with one meaning where it does.

use DialectName::{Bigquery, Duckdb, Mariadb, Mysql, Oracle, Postgres, Spark, SqlServer, Sqlite};
use syntax::{DialectName, DialectSet};

macro_rules! constructs {
    ($($name:ident $words:literal [$($dialect:ident),*];)*) => {
        /// A construct of a query that no phrase covers.
        #[allow(missing_docs)]
        #[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord)]
        pub enum Construct { $($name),* }

        impl Construct {
            /// All of them.
            pub const ALL: &[Construct] = &[$(Construct::$name),*];

            /// What people call it.
            pub const fn words(self) -> &'static str {
                match self { $(Construct::$name => $words),* }
            }

            /// Its words name it only together with those of the query.
            pub const fn is_named_by_query(self) -> bool {
                use Construct::{CallClauses, ChangeModifier, ChangeTrailing, IsWords, OwnOperator, PseudoColumn, QueryOptions, SpecialCall};
                matches!(
                    self,
                    CallClauses | ChangeModifier | ChangeTrailing | IsWords | OwnOperator | PseudoColumn | QueryOptions | SpecialCall
                )
            }

            /// The dialects that speak it with the same meaning.
            pub const fn supported_by(self) -> DialectSet {
                match self { $(Construct::$name => DialectSet::of(&[$($dialect),*])),* }
            }
        }
    };
}

constructs! {
    Hierarchy "CONNECT BY" [Oracle];
    OuterMark "the outer join operator (+)" [Oracle];
    Pivot "PIVOT" [];
    Unpivot "UNPIVOT" [];
    TableFunction "a table function in FROM" [];
    LateralView "LATERAL VIEW" [Spark];
    CorrelatedDerived "a derived table that refers to columns of an outer query" [Oracle, SqlServer, Mysql, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    Apply "APPLY or LATERAL" [Oracle, SqlServer, Mysql, Postgres, Duckdb, Spark];
    DistinctOn "DISTINCT ON" [Postgres, Duckdb];
    Qualify "QUALIFY" [Duckdb, Bigquery];
    StarModifier "a star with EXCEPT, EXCLUDE, REPLACE or RENAME" [];
    NaturalJoin "NATURAL JOIN" [Oracle, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    UsingJoin "JOIN with USING" [Oracle, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    FullJoin "FULL JOIN" [Oracle, SqlServer, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    SemiJoin "SEMI or ANTI JOIN" [Duckdb, Spark];
    OrderedJoin "ASOF or POSITIONAL JOIN" [Duckdb];
    GroupingSets "ROLLUP, CUBE or GROUPING SETS" [Oracle, SqlServer, Postgres, Duckdb, Spark];
    Rollup "ROLLUP" [Oracle, SqlServer, Postgres, Duckdb, Bigquery, Spark];
    GroupWithRollup "GROUP BY ... WITH ROLLUP" [Mysql, Mariadb];
    GroupByAll "GROUP BY ALL" [Duckdb];
    SetByName "a set operation BY NAME" [Duckdb];
    ExceptAll "EXCEPT ALL or INTERSECT ALL" [Oracle, Mysql, Mariadb, Postgres, Duckdb, Spark];
    SelectInto "SELECT INTO" [];
    SelectModifier "a modifier between SELECT and the select list" [Mysql, Mariadb];
    TableSample "ONLY, or a sample, partition or version of a table" [];
    TypedAlias "a column list with types after a table alias" [];
    AliasColumns "a column list after a table alias" [SqlServer, Mysql, Postgres, Duckdb, Spark];
    CommonTableColumns "a column list after the name of a common table expression" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    QueryOptions "an option after the query" [];
    Locking "FOR UPDATE" [];
    SearchCycle "SEARCH or CYCLE" [];
    RecursiveQuery "a recursive query" [];
    Values "VALUES as a query" [Postgres, Duckdb, Spark, Sqlite];
    TableStatement "TABLE as a query" [Mysql, Postgres, Duckdb, Spark];
    OwnOperator "the operator in" [];
    Array "an array" [];
    Struct "a struct or map" [];
    Collection "a collection from a query" [];
    Subscript "an array element or slice" [];
    Field "a field of a row" [];
    Lambda "a lambda function" [];
    Interval "an INTERVAL value" [];
    TimeZone "AT TIME ZONE" [Oracle, Postgres, Duckdb];
    TruthTest "IS TRUE, IS FALSE or IS UNKNOWN" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    IsWords "the predicate" [];
    LikeEscape "ESCAPE after LIKE" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    PatternWord "MATCH" [];
    Quantified "a comparison with ANY or ALL" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb];
    RowValue "a row value" [Oracle, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    InValue "IN with an array" [];
    AggregateOrder "ORDER BY inside an aggregate" [];
    WithinGroup "WITHIN GROUP" [];
    Keep "KEEP (DENSE_RANK ...)" [Oracle];
    Filter "FILTER" [Postgres, Duckdb, Spark, Sqlite];
    WindowFilter "FILTER after a window function" [Postgres, Duckdb, Sqlite];
    RefinedWindow "a window that extends a named one" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite];
    NullTreatment "IGNORE NULLS" [];
    CallClauses "the clause inside" [];
    NamedArgument "an argument given by name" [];
    SpecialCall "the keywords inside" [];
    ConditionAsValue "a predicate used as a value" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    NumberAsCondition "a number or string used as a condition" [Mysql, Mariadb, Sqlite];
    Assignment "an assignment inside a query" [];
    PseudoColumn "the pseudo column" [];
    CastExtra "a format or style in a cast" [];
    SafeCast "a cast that returns NULL for an error" [Oracle, SqlServer, Duckdb, Bigquery, Spark];
    FrameGroups "a window frame with GROUPS or EXCLUDE" [Oracle, Postgres, Duckdb, Sqlite];
    NamedWindow "WINDOW" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    ChangeFrom "UPDATE or DELETE over several tables" [];
    ChangeModifier "a modifier after INSERT, UPDATE or DELETE" [];
    DefaultRow "DEFAULT VALUES" [SqlServer, Postgres, Duckdb, Sqlite];
    DefaultValue "DEFAULT in a list of values" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark];
    ChangeTrailing "the clause" [];
    Merge "MERGE" [];
}
