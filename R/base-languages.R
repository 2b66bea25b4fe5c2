#' The languages that words are there for
#'
#' What is spoken is the language that the option `pregunta.language` names, else the
#' environment variable `PREGUNTA_LANGUAGE`, else English. A test's own setting `language`
#' goes before it, and before that the argument `language` of what writes pages, or
#' `--language` on the command line. What is not spoken in it is JSON and CSV.
#'
#' A language is one file of the package, or of the folder that the environment variable
#' `PREGUNTA_WORDS` names; the project's page on contributing says how to add one.
#'
#' @return A data frame, a row a language: `language` (its code), `name` (in itself),
#'   `covers` (`everything`; `home`: slips and mail, what goes home), `direction` (`ltr`
#'   or `rtl`).
#' @seealso [write_slips()]: a column `language` of the students says what each family
#'   reads.
#' @export
#' @examples
#' languages()
languages <- function() {
  codes <- languages_that_cover("home")
  fact <- function(name) vapply(codes, language_fact, "", fact = name, USE.NAMES = FALSE)
  data.frame(
    language = codes,
    name = fact("name"),
    covers = fact("covers"),
    direction = fact("direction")
  )
}

# Languages: which is spoken now, and how it counts, writes numbers, names days and
# sorts. A language is one file, inst/words/CODE.yml; its section `language` holds what
# this room reads, the others its words (base-words.R). Files in the folder that
# PREGUNTA_WORDS names stand beside those of the package.

# language: that people are spoken to, NULL where nobody chose one; home: that of what
# goes home, where somebody chose it for that alone; face: see speak_for().
spoken <- new.env(parent = emptyenv())

language_now <- function() {
  if (is.null(spoken$language)) usual_language() else spoken$language
}

# What R's option or the environment says, else English.
usual_language <- function() {
  said <- getOption("pregunta.language", Sys.getenv("PREGUNTA_LANGUAGE"))
  if (!nzchar(said)) return("en")
  worked_out(paste0("usual:", said), {
    found <- language_like(said, "everything")
    if (is.na(found)) "en" else found
  })
}

# Runs code in a language, and leaves the one that was there.
in_language <- function(language, code) {
  speak_here(language)
  code
}

# The same until the calling function ends. NULL leaves it as it is.
speak_here <- function(language, frame = parent.frame()) {
  if (!is.null(language)) speak_until("language", language, frame)
}

# The same of what goes home alone.
speak_at_home <- function(language, frame = parent.frame()) {
  speak_until("home", language, frame)
}

# Until the function of the frame ends, however it ends.
speak_until <- function(what, value, frame) {
  back <- bquote(.(assign)(.(what), .(spoken[[what]]), .(spoken)))
  do.call(on.exit, list(back, add = TRUE, after = FALSE), envir = frame)
  assign(what, value, spoken)
}

# Whether somebody chose one.
language_is_chosen <- function() !is.null(spoken$language)

# A function that speaks as is spoken now, in whichever process it runs.
spoken_along <- function(work) {
  force(work)
  language <- spoken$language
  if (is.null(language)) language <- usual_language()
  home <- spoken$home
  function(...) {
    speak_here(language)
    speak_at_home(home)
    work(...)
  }
}

# ---- the files -------------------------------------------------------------------

words_folders <- function() {
  own <- Sys.getenv("PREGUNTA_WORDS")
  c(if (nzchar(own)) own, system.file("words", package = "pregunta"))
}

words_file <- function(language) {
  files <- file.path(words_folders(), paste0(language, ".yml"))
  found <- files[file.exists(files)]
  if (!length(found)) lack_words(language)
  found[1]
}

language_codes <- function() {
  worked_out(paste0("codes:", Sys.getenv("PREGUNTA_WORDS")), {
    files <- list.files(words_folders(), "[.]yml$")
    sort(unique(sub("[.]yml$", "", files)), method = "radix")
  })
}

# What the file says of the language itself, with the facts of the one that it is like.
language_facts <- function(language = language_now()) {
  worked_out(paste0("facts:", language), {
    facts <- section_in_file("language", language)
    like <- facts$like
    if (is.null(like)) facts else utils::modifyList(language_facts(like), facts)
  })
}

language_fact <- function(fact, language = language_now()) {
  language_facts(language)[[fact]]
}

# everything; home: what goes home; headers: what files are recognised by.
covers <- function(language) language_fact("covers", language)

languages_that_cover <- function(what) {
  order <- c("headers", "home", "everything")
  codes <- language_codes()
  reach <- vapply(codes, covers, "")
  codes[match(reach, order) >= match(what, order)]
}

# What a language lacks is said in the one it is like, else in English.
falls_back_on <- function(language) {
  if (language == "en") return(NA_character_)
  like <- section_in_file("language", language)$like
  if (is.null(like)) "en" else like
}

is_rtl <- function(language = language_now()) {
  identical(language_fact("direction", language), "rtl")
}

# The languages that are meant by "es", "es-MX", "spa", "Spanish" or "espa\u00f1ol"; NA of
# what is none that words are there for.
language_like <- function(said, what = "home") {
  known <- languages_known(what)
  by_value(as.character(said), function(said) {
    tag <- gsub("_", "-", tolower(trimws(said)))
    vapply(tag, function(tag) {
      while (!is.na(tag) && nzchar(tag)) {
        if (tag %in% known$never) return(NA_character_)
        found <- known$codes[match(tag, known$names)]
        if (!is.na(found) || !grepl("^[a-z]{2,3}-", tag)) return(found)
        tag <- sub("-[^-]*$", "", tag)
      }
      NA_character_
    }, "", USE.NAMES = FALSE)
  })
}

# The code of a language that somebody asked for.
checked_language <- function(asked, what = "everything") {
  found <- language_like(asked[1], what)
  if (length(asked) == 1 && !is.na(found)) return(found)
  known <- languages_that_cover(what)
  names <- vapply(known, language_fact, "", fact = "name")
  abort_pregunta(
    "call",
    say(
      "base-languages.is_not_there",
      asked = quoted(some_of(asked)),
      only_home = !is.na(language_like(asked[1]))
    ),
    NULL,
    say(
      "base-languages.known_are",
      known = in_a_row(paste0(known, " (", names, ")"))
    ),
    value = as.character(asked[1]),
    choices = known
  )
}

languages_known <- function(what) {
  worked_out(paste0("known:", what, "\r", Sys.getenv("PREGUNTA_WORDS")), {
    codes <- languages_that_cover(what)
    names <- lapply(codes, function(code) {
      own <- section_in_file("language", code)
      tolower(c(code, own$name, unlist(own$also)))
    })
    list(
      codes = rep(codes, lengths(names)),
      names = unlist(names),
      never = tolower(unlist(lapply(codes, language_fact, fact = "never")))
    )
  })
}

# ---- counting --------------------------------------------------------------------

# The plural form of each number, by the language's rules in CLDR's writing; other where
# none holds. digits: how many stand behind the mark.
plural_form <- function(n, digits = decimals_of(n), language = language_now()) {
  rules <- plural_rules(language)
  form <- rep("other", length(n))
  open <- !is.na(n)
  if (!length(rules) || !any(open)) return(form)
  parts <- operands_of(abs(n), digits)
  for (name in names(rules)) {
    holds <- open & rules[[name]](parts) %in% TRUE
    form[holds] <- name
    open <- open & !holds
  }
  form
}

# As CLDR calls them: n the number, i its whole part, v how many decimals stand there, f
# these as a number, t the same without zeros at the end, e the exponent, which we never
# write.
operands_of <- function(n, digits) {
  whole <- floor(n + 1e-9)
  behind <- round((n - whole) * 10^digits)
  without <- behind
  repeat {
    ends <- without > 0 & without %% 10 == 0
    if (!any(ends %in% TRUE)) break
    without[ends %in% TRUE] <- without[ends %in% TRUE] / 10
  }
  list(n = n, i = whole, v = digits, f = behind, t = without, e = 0, c = 0)
}

decimals_of <- function(n) {
  said <- as_typed(n)
  dot <- regexpr(".", said, fixed = TRUE)
  ifelse(is.na(n) | dot < 0, 0, nchar(said) - dot)
}

plural_rules <- function(language) {
  worked_out(
    paste0("plurals:", language),
    lapply(language_fact("plural", language), read_rule)
  )
}

# "n % 10 = 2..4 and n % 100 != 12..14" as a function of the operands.
read_rule <- function(text) {
  either <- strsplit(text, " or ", fixed = TRUE)[[1]]
  alternatives <- lapply(strsplit(either, " and ", fixed = TRUE), lapply, read_relation)
  function(parts) {
    holds <- lapply(alternatives, function(relations) {
      Reduce(`&`, lapply(relations, function(relation) relation(parts)))
    })
    Reduce(`|`, holds)
  }
}

read_relation <- function(text) {
  form <- "^ *([nivftec])(?: *% *([0-9]+))? *(!?=) *([0-9., ]+?) *$"
  found <- regmatches(text, regexec(form, text, perl = TRUE))[[1]]
  if (!length(found)) lack_words(text)
  ends <- lapply(strsplit(found[5], ",")[[1]], function(range) {
    range(as.numeric(strsplit(trimws(range), "..", fixed = TRUE)[[1]]))
  })
  within <- function(value) {
    # "2..4" means the whole numbers from 2 to 4
    Reduce(`|`, lapply(ends, function(end) {
      value >= end[1] & value <= end[2] & value == floor(value)
    }))
  }
  function(parts) {
    value <- parts[[found[2]]]
    if (nzchar(found[3])) value <- value %% as.numeric(found[3])
    if (found[4] == "=") within(value) else !within(value)
  }
}

# ---- numbers, days and order -------------------------------------------------------

# A number as R writes it, with the mark of the language.
in_digits <- function(said) {
  mark <- language_fact("decimal")
  if (mark == ".") said else sub(".", mark, said, fixed = TRUE)
}

# The other way round: of a number as it is shown.
out_of_digits <- function(said) {
  mark <- language_fact("decimal")
  if (mark == ".") said else sub(mark, ".", said, fixed = TRUE)
}

# A day such as 2026-10-14 in words; what is none stays as it is. CLDR's names of months
# come with ICU.
say_day <- function(day) {
  by_value(as.character(day), function(day) {
    date <- as.Date(day, "%Y-%m-%d", optional = TRUE)
    found <- !is.na(date) & grepl("^[0-9]{4}-[0-9]{2}-[0-9]{2}$", day)
    if (!any(found)) return(day)
    day[found] <- stringi::stri_datetime_format(
      as.POSIXct(paste(date[found], "12:00"), tz = "UTC"),
      language_fact("day"),
      tz = "UTC",
      locale = language_fact("locale")
    )
    day
  })
}

# Names as the language sorts them, small letters before capitals, accents after.
order_names <- function(x, decreasing = FALSE) {
  stringi::stri_order(x, decreasing = decreasing, locale = language_fact("locale"))
}

# With a capital where the language has them: in Turkish the i keeps its dot.
capital <- function(text) {
  if (!is.null(language_fact("capitals"))) {
    first <- stringi::stri_trans_toupper(substr(text, 1, 1), language_fact("locale"))
  } else {
    first <- toupper(substr(text, 1, 1))
  }
  paste0(first, substring(text, 2))
}
