# When and how long, as exports write it: dates in any order of day and month, times of
# day, and durations.

# Dates of a column as 2026-09-03 or 2026-09-03 14:05. `order`: how days and months
# were told apart, by what fits the whole column: "day", "month", or "unsure" where both
# fit (these and all else that is no date stay as written); "" where nothing was to tell.
read_dates <- function(x) {
  parts <- date_parts(x)
  numbers <- which(parts$form == "numbers")
  order <- day_or_month(parts[numbers, ])
  if (order == "month") {
    parts[numbers, c("day", "month")] <- parts[numbers, c("month", "day")]
  }
  known <- parts$form != "" & !(order == "unsure" & parts$form == "numbers")
  known <- known & is_date(parts$year, parts$month, parts$day)
  date <- sprintf(
    "%04d-%02d-%02d",
    parts$year,
    parts$month,
    parts$day
  )
  text <- x
  text[known] <- trimws(paste(date, parts$time))[known]
  list(text = text, order = order)
}

# Year, month and day of each, the first number as the day where all are numbers; time
# of day; form: "numbers", "named" (a month in letters), "iso", or "" for no date.
date_parts <- function(x) {
  n <- length(x)
  out <- data.frame(
    form = character(n),
    year = NA_integer_,
    month = NA_integer_,
    day = NA_integer_,
    time = character(n)
  )
  time <- "[ ,T]*(?:(?<hour>[0-9]{1,2})[:h.](?<min>[0-9]{2})(?::(?<sec>[0-9]{2}))?"
  time <- paste0(time, "(?:[.,][0-9]+)? *(?<half>[ap][.]?m[.]?)?")
  # the clock on the wall
  time <- paste0(time, "(?: *(?:GMT|UTC)(?:[+-][0-9:]{1,5})?)?)?$")
  forms <- list(
    iso = "^(?<year>[0-9]{4})[-/.](?<month>[0-9]{1,2})[-/.](?<day>[0-9]{1,2})",
    numbers = paste0(
      "^(?<day>[0-9]{1,2}) ?[-/.] ?(?<month>[0-9]{1,2}) ?[-/.] ",
      "?(?<year>[0-9]{4}|[0-9]{2})"
    ),
    named = paste0(
      "^(?:\\p{L}+[.,]* )?(?<day>[0-9]{1,2})(?:st|nd|rd|th|[.])?[ -](?:de )?",
      "(?<name>\\p{L}{3,})[.]?[ -](?:de )?(?<year>[0-9]{4}|[0-9]{2})"
    ),
    named = paste0(
      "^(?:\\p{L}+[.,]* )?(?<name>\\p{L}{3,})[.]? (?<day>[0-9]{1,2})(?:st|nd|rd|th)?,? ",
      "(?<year>[0-9]{4})"
    )
  )
  for (k in seq_along(forms)) {
    open <- which(out$form == "" & grepl("[0-9]", x))
    pattern <- paste0("(?i)", forms[[k]], time)
    found <- regexpr(pattern, x[open], perl = TRUE)
    hit <- which(found > 0)
    if (!length(hit)) next
    piece <- function(name) {
      start <- attr(found, "capture.start")[hit, ]
      length <- attr(found, "capture.length")[hit, ]
      at <- which(attr(found, "capture.names") == name)
      if (!length(at)) return(rep("", length(hit)))
      start <- matrix(start, length(hit))[, at]
      substr(
        x[open][hit],
        start,
        start + matrix(length, length(hit))[, at] - 1
      )
    }
    rows <- open[hit]
    out$form[rows] <- names(forms)[k]
    out$year[rows] <- whole_year(as.integer(piece("year")))
    out$day[rows] <- as.integer(piece("day"))
    named <- heading_words()$month[plain_heading(piece("name"))]
    out$month[rows] <- as.integer(
      if (any(nzchar(piece("month")))) {
        piece("month")
      } else {
        named
      }
    )
    out$time[rows] <- time_of_day(
      piece("hour"),
      piece("min"),
      piece("sec"),
      piece("half")
    )
  }
  out$form[is.na(out$month)] <- ""
  out
}

whole_year <- function(year) ifelse(year < 100, 2000L + year, year)

# 14:05 or 14:05:10 of hour, minute, second and am or pm; "" where there is none.
time_of_day <- function(hour, minute, second, half) {
  at <- suppressWarnings(as.integer(hour))
  half <- tolower(substr(half, 1, 1))
  at[half %in% "p" & at < 12] <- at[half %in% "p" & at < 12] + 12L
  at[half %in% "a" & at == 12] <- 0L
  second <- ifelse(nzchar(second), paste0(":", second), "")
  ifelse(is.na(at), "", sprintf("%02d:%s%s", at, minute, second))
}

is_date <- function(year, month, day) {
  !is.na(
    as.Date(
      paste(year, month, day, sep = "-"),
      optional = TRUE,
      "%Y-%m-%d"
    )
  ) &
    !is.na(month) &
    month <= 12
}

# What comes first in dates of numbers. Where both fit, the order by which the days lie
# close together, as those on which a test is handed in do.
day_or_month <- function(parts) {
  fits <- function(parts, month, day) {
    is_date(parts$year, parts[[month]], parts[[day]])
  }
  parts <- parts[
    fits(parts, "month", "day") | fits(parts, "day", "month"),
  ]
  if (!nrow(parts)) return("")
  by_day <- fits(parts, "month", "day")
  by_month <- fits(parts, "day", "month")
  if (!all(by_month)) return(if (all(by_day)) "day" else "unsure")
  if (!all(by_day)) return("month")
  span <- function(month, day) {
    diff(range(as.Date(paste(parts$year, month, day, sep = "-"), "%Y-%m-%d")))
  }
  by_day <- as.numeric(span(parts$month, parts$day))
  by_month <- as.numeric(span(parts$day, parts$month))
  if (by_day == by_month) {
    return(if (all(parts$month == parts$day)) "" else "unsure")
  }
  if (min(by_day, by_month) > 14 || max(by_day, by_month) < 28) return("unsure")
  if (by_day < by_month) "day" else "month"
}

# Seconds from a duration however it is written: 751, 12:31, 0:12:31, PT12M31S,
# "12 min 31 s", "1 Std. 2 Min."; minutes where the header says so.
read_seconds <- function(x, header = "") {
  seconds <- read_number(x)
  minutes <- grepl(
    "\\bmin(s|\\b|ut)",
    header,
    ignore.case = TRUE,
    perl = TRUE
  )
  if (any(minutes)) {
    seconds <- 60 * seconds
  }
  clock <- grepl("^[0-9]+(:[0-9]{1,2}){1,2}([.][0-9]+)?$", x)
  seconds[clock] <- vapply(strsplit(x[clock], ":"), function(parts) {
    sum(as.numeric(rev(parts)) * 60^(seq_along(parts) - 1))
  }, 0)
  worded <- which(
    is.na(seconds) &
      grepl("[0-9] ?[hmst'\u2032]", x, ignore.case = TRUE)
  )
  seconds[worded] <- vapply(x[worded], worded_seconds, 0)
  seconds
}

# Numbers with their units: anything that starts as hour, minute or second does.
worded_seconds <- function(text) {
  pattern <- "([0-9]+(?:[.,][0-9]+)?) ?(\\p{L}+|''|'|\"|\u2032|\u2033)"
  found <- regmatches(
    text,
    gregexpr(pattern, text, perl = TRUE)
  )[[
    1
  ]]
  unit <- tolower(sub(pattern, "\\2", found, perl = TRUE))
  worth <- data.table::fcase(
    grepl("^(h|st)", unit), 3600,
    grepl("^m|^'$|^\u2032", unit), 60,
    grepl("^s|^''|^\"|^\u2033", unit), 1
  )
  sum(read_number(sub(pattern, "\\1", found, perl = TRUE)) * worth)
}
