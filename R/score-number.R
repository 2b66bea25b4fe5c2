# A number within a tolerance or a range. Decimal comma and point both count.
type_number <- function() {
  new_item_type(
    "number",
    "written",
    examples = c("12.4", "12.4\u00b10.2", "12..13"),
    read_key = function(key) alternatives(key, read_range),
    solve = function(key) middle_of(key[[1]]),
    normalise = function(x, offered) {
      number <- read_number(x)
      ifelse(is.na(number), x, format_plain(number))
    },
    share = function(x, key, scoring) {
      number <- read_number(x)
      best_share(key, function(range) {
        as.numeric(!is.na(number) & in_range(number, range))
      })
    },
    problem = function(x) {
      ifelse(
        is.na(read_number(x)),
        say("score-number.is_no_number"),
        NA_character_
      )
    },
    near = near_number,
    tells = "near_numbers",
    qti = list(
      base = "float",
      correct = function(key) {
        middle_of(read_range(split_parts(key, "|")[[1]][1]))
      },
      tolerance = function(key) {
        range <- read_range(split_parts(key, "|")[[1]][1])
        half <- diff(as.vector(range)) / 2
        format_plain(round(half, 10))
      }
    ),
    xapi = "numeric"
  )
}

middle_of <- function(range) format_plain(round(mean(range), 10))

# The ends between which a number is right; the very number as `middle`, which a
# range does not have.
read_range <- function(key) {
  tolerance <- trimws(strsplit(key, "\u00b1|\\+/-")[[1]])
  range <- trimws(strsplit(key, "..", fixed = TRUE)[[1]])
  ends <- if (length(range) == 2) {
    read_number(range)
  } else if (length(tolerance) == 2) {
    read_number(tolerance[1]) + c(-1, 1) * read_number(tolerance[2])
  } else {
    rep(read_number(trimws(key)), 2)
  }
  if (anyNA(ends)) bad_key(say("score-number.is_no_number"))
  if (ends[1] > ends[2]) bad_key(say("score-number.has_its_ends_the"))
  structure(ends, middle = if (length(range) != 2) mean(ends) |> signif(12))
}

# 12.4 + 0.2 is a hair less than 12.6 to a computer; not to a teacher.
in_range <- function(number, range) {
  hair <- 1e-9 * max(1, abs(range))
  number >= range[1] - hair & number <= range[2] + hair
}

near_number <- function(answer, key) {
  number <- read_number(answer)
  if (is.na(number) || number == 0) return(NULL)
  for (range in key) {
    middle <- attr(range, "middle")
    near_miss <- if (in_range(-number, range)) {
      "sign"
    } else if (any(in_range(number * 10^c(-3:-1, 1:3), range))) {
      "power_of_ten"
    } else if (length(middle) && is_rounded(number, middle)) {
      "rounding"
    }
    shown <- if (length(middle)) {
      format_plain(middle)
    } else {
      paste(format_plain(as.vector(range)), collapse = "..")
    }
    if (!is.null(near_miss)) return(c(shown, near_miss))
  }
}

# The same number, rounded or cut to fewer places.
is_rounded <- function(number, middle) {
  places <- 0:6
  unit <- 10^places
  fewer <- abs(middle * unit - round(middle * unit)) > 1e-9
  rounded <- round_half_up(middle, places[fewer])
  cut <- trunc(middle * unit[fewer]) / unit[fewer]
  any(abs(number - rounded) < 1e-9 | abs(number - cut) < 1e-9)
}
