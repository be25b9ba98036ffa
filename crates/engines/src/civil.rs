//! Days and times counted from 1970, as servers send them. The crate's own instants end a day
//! before the calendar does.

use jiff::civil::{Date, DateTime, Time};

/// So many days after 1970-01-01; `None` outside the years -9999 to 9999.
pub(crate) fn date(days: i64) -> Option<Date> {
    // Years that begin in March put the leap day at their end; 400 of them have as many days each time.
    const TO_MARCH_OF_YEAR_0: i64 = 719_468;
    const DAYS_OF_400_YEARS: i64 = 146_097;
    let shifted = days.checked_add(TO_MARCH_OF_YEAR_0)?;
    let day_of_era = shifted.rem_euclid(DAYS_OF_400_YEARS);
    let year_of_era = (day_of_era - day_of_era / 1460 + day_of_era / 36_524 - day_of_era / 146_096) / 365;
    let day_of_year = day_of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
    let month = (5 * day_of_year + 2) / 153;
    let day = day_of_year - (153 * month + 2) / 5 + 1;
    let (month, carry) = if month < 10 { (month + 3, 0) } else { (month - 9, 1) };
    let year = shifted.div_euclid(DAYS_OF_400_YEARS) * 400 + year_of_era + carry;
    Date::new(year.try_into().ok()?, month.try_into().ok()?, day.try_into().ok()?).ok()
}

/// So many units after 1970-01-01 00:00:00, of which a second has `a_second`.
pub(crate) fn moment(amount: i64, a_second: i64) -> Option<DateTime> {
    const A_DAY: i64 = 86_400;
    let (seconds, fraction) = (amount.div_euclid(a_second), amount.rem_euclid(a_second));
    let of_day = seconds.rem_euclid(A_DAY);
    let part = |n: i64| i8::try_from(n).ok();
    let nanoseconds = i32::try_from(fraction * (1_000_000_000 / a_second)).ok()?;
    let time = Time::new(part(of_day / 3600)?, part(of_day / 60 % 60)?, part(of_day % 60)?, nanoseconds).ok()?;
    Some(date(seconds.div_euclid(A_DAY))?.to_datetime(time))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_calendar_is_the_crates_own() {
        let first = Date::new(1970, 1, 1).expect("date");
        for days in (-4_371_000..2_932_000).step_by(97).chain([-4_371_587, 2_932_896, 0, -1]) {
            let wanted = first.checked_add(jiff::Span::new().days(days)).expect("date");
            assert_eq!(date(days), Some(wanted), "{days}");
        }
        assert_eq!((date(2_932_897), date(-4_371_588), date(i64::MAX)), (None, None, None));
    }

    #[test]
    fn moments_before_1970_have_their_fractions() {
        let shown = |amount, a_second| moment(amount, a_second).map(|t| t.to_string());
        assert_eq!(shown(-1, 1_000_000).as_deref(), Some("1969-12-31T23:59:59.999999"));
        assert_eq!(shown(253_402_300_799_999, 1000).as_deref(), Some("9999-12-31T23:59:59.999"));
        assert_eq!(shown(253_402_300_800, 1), None);
    }
}
