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
            /// What people call it.
            pub const fn words(self) -> &'static str {
                match self { $(Construct::$name => $words),* }
            }

            /// The dialects that speak it with the same meaning.
            pub const fn spoken_by(self) -> DialectSet {
                match self { $(Construct::$name => DialectSet::of(&[$($dialect),*])),* }
            }
        }
    };
}

constructs! {
    Hierarchy "CONNECT BY" [Oracle];
    OuterMark "the outer join sign (+)" [Oracle];
    Pivot "PIVOT" [];
    Unpivot "UNPIVOT" [];
    TableFunction "a table function in FROM" [];
    LateralView "LATERAL VIEW" [Spark];
    CorrelatedDerived "a derived table that uses columns of the query around it" [Oracle, SqlServer, Mysql, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    Apply "APPLY or LATERAL" [Oracle, SqlServer, Mysql, Postgres, Duckdb, Spark];
    DistinctOn "DISTINCT ON" [Postgres, Duckdb];
    Qualify "QUALIFY" [Duckdb, Bigquery];
    StarModifier "changes to *" [];
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
    SelectModifier "words between SELECT and its list" [Mysql, Mariadb];
    TableSample "ONLY, or a sample, partition or version of a table" [];
    TypedAlias "types in an alias's column list" [];
    AliasColumns "a column list behind a table alias" [SqlServer, Mysql, Postgres, Duckdb, Spark];
    CommonTableColumns "a column list behind the name of a common table expression" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    QueryOptions "options behind the query" [];
    Locking "FOR UPDATE" [];
    SearchCycle "SEARCH or CYCLE" [];
    RecursiveQuery "a recursive query" [];
    Values "VALUES as a query" [Postgres, Duckdb, Spark, Sqlite];
    TableStatement "TABLE as a query" [Mysql, Postgres, Duckdb, Spark];
    OwnOperator "this operator" [];
    Array "an array" [];
    Struct "a struct or map" [];
    Collection "a collection from a query" [];
    Subscript "an element or slice" [];
    Field "a field of a row" [];
    Lambda "a lambda" [];
    Interval "an interval" [];
    TimeZone "AT TIME ZONE" [Oracle, Postgres, Duckdb];
    TruthTest "IS TRUE and its kin" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    IsWords "this IS test" [];
    LikeEscape "ESCAPE behind LIKE" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    PatternWord "MATCH" [];
    Quantified "a comparison with ANY or ALL" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb];
    RowValue "a row value" [Oracle, Mysql, Mariadb, Postgres, Duckdb, Spark, Sqlite];
    InValue "IN with an array" [];
    AggregateOrder "ORDER BY inside a call" [];
    WithinGroup "WITHIN GROUP" [];
    Keep "KEEP (DENSE_RANK ...)" [Oracle];
    Filter "FILTER" [Postgres, Duckdb, Spark, Sqlite];
    WindowFilter "FILTER behind a window function" [Postgres, Duckdb, Sqlite];
    RefinedWindow "a window made of a named one" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Sqlite];
    NullTreatment "IGNORE NULLS" [];
    CallClauses "clauses inside a call" [];
    NamedArgument "a named argument" [];
    SpecialCall "words for commas inside a call" [];
    ConditionAsValue "a condition as a value" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    NumberAsCondition "a number or text as a condition" [Mysql, Mariadb, Sqlite];
    Assignment "an assignment inside a query" [];
    PseudoColumn "this pseudo column" [];
    CastExtra "a format or style in a cast" [];
    SafeCast "a cast that gives NULL for an error" [Oracle, SqlServer, Duckdb, Bigquery, Spark];
    FrameGroups "a window frame with GROUPS or EXCLUDE" [Oracle, Postgres, Duckdb, Sqlite];
    NamedWindow "WINDOW" [Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark, Sqlite];
    ChangeFrom "UPDATE or DELETE over several tables" [];
    ChangeModifier "a word such as IGNORE, REPLACE or OVERWRITE in a change" [];
    DefaultRow "a row of nothing but defaults" [SqlServer, Postgres, Duckdb, Sqlite];
    DefaultValue "DEFAULT among the values" [Oracle, SqlServer, Mysql, Mariadb, Postgres, Duckdb, Bigquery, Spark];
    ChangeTrailing "a clause behind the change" [];
    Merge "MERGE" [];
}
