//! Format masks: how dates and numbers are written and read by a pattern.

pub(crate) mod letters;
pub(crate) mod mysql_number;
pub(crate) mod oracle_date;
pub(crate) mod oracle_number;
pub(crate) mod percent;
pub(crate) mod sql_server_style;
