#' The settings of a test
#'
#' All settings with their defaults. A `test.yml`, or the `settings` argument
#' of [sitting()], names only those that differ.
#'
#' @return A named list:
#' * `title`, `date`: shown in reports.
#' * `language`: that the test is in, and that reports, pages and the terminal speak where
#'   they can: `es`, `en`; of those that only slips and mail are there in (see
#'   [languages()]) only these. What was typed is marked with it, for who hears a page.
#' * `kind`, `window`: what kind of test it is (quiz, unit test) and the period of
#'   the year it belongs to, for a record over the year; see [growth()].
#' * `levels`: names and cuts (shares of 0 to 1), the lowest 0. A score has the
#'   highest level whose cut it reaches.
#' * `cuts`: of a standard and its parts, where they differ from those of
#'   `levels`, as in `{TC.1: {secure: 0.8, deep: 0.95}}`. The nearest standard
#'   with cuts of its own counts; levels it does not name keep the test's cut.
#' * `bands`: names and cuts of the school's own grade scale, written the same
#'   way; none by default.
#' * `messages`: what a slip says to a student, by the name of a level or band, as in
#'   `{secure: Well done. Go on to the next chapter.}`, each also in several languages by
#'   their codes, as in `{secure: {en: Well done., es: Muy bien.}}`; see [write_slips()].
#' * `rounding`: step a share is rounded to before it is compared with a cut
#'   (0 = none).
#' * `blanks`: `zero` (a blank earns 0 points) or `missing` (none at all).
#' * `missing_rows`: in a long file, what a student's missing row for an item
#'   is: `blank` or `not given`.
#' * `attempts`: which of several counts: `best`, `first`, `last`, or the `mean`
#'   of the points of each item over the attempts.
#' * `markers`: which mark counts where several markers gave one: their `mean`, the
#'   `first`, the `last`, the `lowest` or the `highest`.
#' * `due`: when answers are late, as in `2026-10-05 10:00` (a day alone ends at
#'   midnight); needs a column `submitted`.
#' * `scale`: the steps of a rating and their points, for marks written in words,
#'   as in `{not yet: 1, nearly: 2, there: 3}`, or a list of the marks that are
#'   possible, as in `[1, 2, 3, 4]`; none by default.
#' * `layout`: how the raw export was read; see [new_test()].
#' * `responses`: the database that the responses are in; see [sitting_in_database()].
#' * `activity`: what the test is called as an activity of xAPI statements (an address, or
#'   several), where several tests receive at one place; see `pregunta receive`.
#' * `framework`: what the standards belong to, a name or an address of your own; with its
#'   `identifier` where they came from a CASE package; see [export_sitting()].
#' * `grading_period`: the identifier of the marking period in the school's roster, for
#'   marks that go to a grade book; see [export_sitting()].
#' * `exclude`: what to leave out: student ids, in which `*` stands for
#'   anything, and conditions on columns of the responses or the students, as in
#'   `{section: Staff}`, `{trial: yes}`, `{attempt: [3, 4]}` or
#'   `{seconds: "< 60"}`. All conditions of one entry must hold.
#' * `renamed`: standards that have a new code, as in `{OLD: NEW}`, for comparing with
#'   earlier tests; see [compare_sittings()].
#' * `mastery_cut`: share from which the mastery index counts a student as a
#'   master.
#' * `cut_reasons`: a list of the cuts that were taken, each with `of`, `cut`, `was`,
#'   `reason` and `date`; see [summarise_cuts()].
#' * `purpose`: what the test is for: `rank` (to tell students apart) or
#'   `mastery` (to see who has learnt it: "all right" is good news). It decides
#'   by what [review_items()] judges a question.
#' * `target_reliability`: the alpha to aim for; [summarise_test()] says how many
#'   items it would take.
#' * `smallest_group`: with `by`, groups of fewer students are withheld.
#' * `thresholds`: `hard`, `easy` (difficulty below, from), `strong`, `good`, `marginal`
#'   (discrimination from), `working` (least share of a working distractor), `outer_share`
#'   (the upper and lower group), `few_students` (below it nothing is said against an
#'   item), `surely_weak`, `least_shared`, `least_near_miss`, `least_unreached`,
#'   `mastered` (see [review_items()]), `words_per_second` (nobody reads faster: an answer
#'   that came sooner was not read), `unfinished` (share of the items at the end, not
#'   reached, that makes a student unfinished).
#' @export
#' @examples
#' default_settings()$levels
default_settings <- function() {
  list(
    title = say("sitting-settings.untitled_test"),
    date = NA_character_,
    language = NA_character_,
    kind = NA_character_,
    window = NA_character_,
    levels = list(
      emerging = 0,
      developing = 0.5,
      secure = 0.7,
      deep = 0.9
    ),
    cuts = NULL,
    cut_reasons = NULL,
    bands = NULL,
    messages = NULL,
    scale = NULL,
    layout = NULL,
    responses = NULL,
    rounding = 0,
    blanks = "zero",
    missing_rows = "blank",
    attempts = "best",
    markers = "mean",
    due = NA_character_,
    activity = NULL,
    framework = NULL,
    grading_period = NA_character_,
    exclude = list(),
    renamed = NULL,
    mastery_cut = 0.7,
    smallest_group = 1,
    purpose = "rank",
    target_reliability = 0.8,
    thresholds = list(
      hard = 0.3,
      easy = 0.8,
      strong = 0.4,
      good = 0.3,
      marginal = 0.2,
      working = 0.05,
      outer_share = 0.27,
      few_students = 20,
      surely_weak = 0.1,
      least_shared = 0.25,
      least_near_miss = 0.05,
      least_unreached = 0.1,
      mastered = 0.95,
      words_per_second = 7,
      unfinished = 0.25
    )
  )
}

setting_choices <- list(
  purpose = c("rank", "mastery"),
  blanks = c("zero", "missing"),
  missing_rows = c("blank", "not given"),
  attempts = c("best", "first", "last", "mean"),
  markers = c("mean", "first", "last", "lowest", "highest")
)

complete_settings <- function(given) {
  origin <- attr(given, "origin")
  if (is.null(origin)) {
    origin <- "settings"
  }
  settings <- default_settings()
  for (written in names(given)) {
    name <- gsub("[ -]", "_", written) # "mastery cut" means mastery_cut
    if (!name %in% names(settings)) {
      abort_setting(
        origin,
        given,
        written,
        \(name) say("sitting-settings.is_not_a_setting", name = name),
        did_you_mean(name, names(settings))
      )
    }
    settings[name] <- list(check_setting(
      name,
      given[[written]],
      settings[[name]],
      origin,
      given,
      written
    ))
  }
  unknown <- setdiff(
    names(settings$messages),
    c(names(settings$levels), names(settings$bands))
  )
  if (length(unknown)) {
    known <- names(c(settings$levels, settings$bands))
    abort_setting(
      origin,
      given,
      "messages",
      \(name) {
        say(
          "sitting-settings.names_no_level_or",
          name = name,
          unknown = quoted(unknown[1])
        )
      },
      did_you_mean(unknown[1], known)
    )
  }
  settings$cuts <- check_cuts(settings$cuts, settings$levels, function(what,
                                                                       fix) {
    abort_setting(origin, given, "cuts", what, fix)
  })
  settings
}

# The cuts of all levels for each standard that has some of its own.
check_cuts <- function(cuts, levels, refuse) {
  if (!length(cuts)) return(NULL)
  if (!is.list(cuts) ||
    is.null(names(cuts)) ||
    !all(nzchar(names(cuts))) ||
    anyDuplicated(names(cuts))) {
    refuse(
      \(name) say("sitting-settings.must_name_each_standard", name = name),
      say("sitting-settings.for_example_tc_1")
    )
  }
  Map(function(own, code) {
    unknown <- setdiff(names(own), names(levels))
    if (!length(own) || is.null(names(own)) || length(unknown)) {
      refuse(
        \(name) {
          say(
            "sitting-settings.names_no_level_of",
            name = name,
            code = quoted(code)
          )
        },
        if (length(unknown)) {
          did_you_mean(unknown[1], names(levels))
        } else {
          say("sitting-settings.for_example_tc_1")
        }
      )
    }
    levels[names(own)] <- own
    check_levels(levels, function(what, fix) {
      cuts <- paste(names(levels), unlist(levels))
      refuse(
        \(name) {
          say(
            "sitting-settings.do_not_rise_from",
            name = name,
            code = quoted(code)
          )
        },
        say("sitting-settings.with_those_of_the", levels = some_of(cuts, 12))
      )
    })
  }, cuts, names(cuts))
}

# Its codes as the standards are listed.
with_listed_cuts <- function(settings, standards) {
  if (is.null(settings$cuts)) return(settings)
  names(settings$cuts) <- vapply(names(settings$cuts), function(code) {
    like <- if (code %in% standards$code) {
      code
    } else {
      only_one(codes_like(code, standards$code))
    }
    if (is.na(like)) code else like
  }, "")
  settings
}

# How deep a setting may go; what its words may be is looked at one by one.
setting_shapes <- list(
  levels = flat_words,
  bands = flat_words,
  messages = named_of(either_of(a_word, flat_words)),
  scale = flat_words,
  thresholds = flat_words,
  renamed = flat_words,
  framework = either_of(a_word, flat_words),
  cut_reasons = each_of(named_of(a_word)),
  cuts = either_of(flat_words, named_of(flat_words)),
  exclude = either_of(a_word, each_of(either_of(a_word, named_of(flat_words)))),
  layout = named_of(either_of(flat_words, named_of(flat_words))),
  responses = named_of(flat_words)
)

# Also where one setting, or a list of them, may stand alone.
setting_shape <- function(name) {
  shape <- setting_shapes[[name]]
  if (is.null(shape)) return(either_of(a_word, each_of(a_word)))
  if (name == "exclude") either_of(shape, named_of(flat_words)) else shape
}

check_setting <- function(name, value, default, origin, given, written) {
  refuse <- function(what, fix) abort_setting(origin, given, written, what, fix)
  fault <- shape_fault(value, setting_shape(name), written)
  if (!is.null(fault)) {
    refuse(
      \(name) say("sitting-settings.is_of_another_kind", name = name),
      say(
        "sitting-settings.at_place",
        place = quoted(say_field(fault$place)),
        wanted = words_for(fault$wanted, "shapes")
      )
    )
  }
  if (name %in% c("levels", "bands")) return(check_levels(value, refuse))
  if (name == "scale") return(check_scale(value, refuse))
  if (name == "messages") return(check_messages(value, refuse))
  if (name %in% c("layout", "cuts", "cut_reasons")) return(value)
  if (name == "thresholds") return(check_thresholds(value, default, refuse))
  if (name == "exclude") return(check_exclude(value, refuse))
  if (name == "due") return(check_due(value, refuse))
  if (name == "language") return(check_language(value, refuse))
  if (name == "responses") return(check_database_setting(value, refuse))
  if (name == "framework") return(check_framework(value, refuse))
  if (name == "renamed") return(check_renamed(value, refuse))
  if (length(value) != 1) {
    if (!length(value)) return(default)
    refuse(
      \(name) say("sitting-settings.needs_one_value", name = name),
      say(
        "sitting-settings.write_it_as",
        name = name,
        default = default
      )
    )
  }
  if (name %in% names(setting_choices)) {
    choices <- setting_choices[[name]]
    if (!value %in% choices) {
      refuse(
        \(name) say("sitting-settings.has_an_unknown_value", name = name),
        did_you_mean(value, choices)
      )
    }
    return(value)
  }
  if (is.numeric(default)) {
    if (!is.numeric(value) || is.na(value) || value < 0) {
      refuse(
        \(name) say("sitting-settings.must_be_a_number", name = name),
        say(
          "sitting-settings.for_example",
          name = name,
          default = default
        )
      )
    }
    return(value)
  }
  as.character(value)
}

# A list of ids (text) and conditions (named lists).
check_exclude <- function(value, refuse) {
  if (!is.list(value)) return(as.list(as.character(value)))
  if (!is.null(names(value))) {
    value <- list(value)
  }
  lapply(value, function(entry) {
    if (!is.list(entry)) return(as.character(entry))
    whole <- length(names(entry)) &&
      all(nzchar(names(entry))) &&
      all(lengths(entry) > 0)
    if (!whole) {
      refuse(
        \(name) say("sitting-settings.has_an_entry_that", name = name),
        say("sitting-settings.for_example_trial_or")
      )
    }
    lapply(entry, function(wanted) {
      if (is.logical(wanted)) wanted else as.character(unlist(wanted))
    })
  })
}

# A name alone is its title.
check_framework <- function(value, refuse) {
  if (!length(value)) return(NULL)
  if (!is.list(value)) value <- list(title = value)
  value <- lapply(value, as.character)
  unknown <- setdiff(names(value), c("title", "identifier"))
  if (length(unknown)) {
    refuse(
      \(name) say("sitting-settings.has_no_part", name = name, part = quoted(unknown[1])),
      say("sitting-settings.for_example_framework")
    )
  }
  value
}

# Where in a database the responses are: a connection and a table at least.
check_database_setting <- function(value, refuse) {
  if (!length(value)) return(NULL)
  example <- say("sitting-settings.for_example_responses")
  value <- as.list(value)
  unknown <- setdiff(names(value), c("connection", "table", "columns", "students"))
  if (is.null(names(value)) || length(unknown)) {
    part <- quoted(c(unknown, unlist(value))[1])
    refuse(\(name) say("sitting-settings.has_no_part", name = name, part = part), example)
  }
  for (part in c("connection", "table")) {
    # A test may lie in several databases, a table has one name.
    said <- as.character(unlist(value[[part]]))
    if (anyDuplicated(said)) {
      refuse(\(name) say("sitting-settings.names_twice", name = name), example)
    }
    enough <- length(said) == 1 || (part == "connection" && length(said) > 1)
    named <- !is.null(names(value[[part]]))
    if (enough && !named && !any(is_blank(said))) next
    refuse(\(name) say("sitting-settings.lacks_part", name = name, part = part), example)
  }
  lapply(value, function(one) if (is.list(one)) lapply(one, as.character) else one)
}

check_due <- function(value, refuse) {
  if (!length(value) || is.na(value)) return(NA_character_)
  if (is.na(read_time(as.character(value)))) {
    refuse(
      \(name) say("sitting-settings.is_no_time", name = name),
      say("sitting-settings.write_it_as_2026")
    )
  }
  as.character(value)
}

check_language <- function(value, refuse) {
  if (!length(value) || all(is_blank(value))) return(NA_character_)
  found <- language_like(as.character(value)[1])
  if (length(value) == 1 && !is.na(found)) return(found)
  refuse(
    \(name) say("sitting-settings.is_no_language", name = name),
    did_you_mean(as.character(value)[1], languages_that_cover("home"))
  )
}

# The language of what is made for people to read: the one that was asked for, else that
# spoken now where somebody chose it, else the test's own. NULL leaves it as it is.
language_of_pages <- function(sitting, asked = NULL) {
  if (!is.null(asked)) return(checked_language(asked))
  own <- sitting$settings$language
  known <- !language_is_chosen() && length(own) && !is.na(own)
  if (known && covers(own) == "everything") own
}

# What people read for the names of levels; those of one's own are their own words.
level_words <- function(levels) words_for(levels, "levels")

# The usual columns that students are grouped by, as people call them; any other is its
# own word.
column_words <- function(columns) words_for(columns, "grouping")

# The same for types of items; a type that somebody registered is its own word.
type_words <- function(types) words_for(types, "item_types")

# What the test itself is in.
language_of <- function(settings) {
  own <- settings$language
  if (length(own) && !is.na(own)) own else "en"
}

# Of a text that is typed once, or in several languages under their codes, the one for who
# reads now: in the language spoken, in the one it falls back on, in that of the test,
# else the first. Its text and language.
for_reader <- function(typed, usual) {
  if (!is.list(typed)) return(list(text = typed, language = usual))
  given <- language_like(names(typed))
  now <- language_now()
  at <- match(stats::na.omit(c(now, falls_back_on(now), usual)), given)
  at <- at[!is.na(at)]
  at <- c(at, 1)[1]
  list(text = typed[[at]], language = given[at])
}

# The language that each student's family reads, of all students or some: what the column
# `language` of the students says; else what was asked for, that of the test, or the one
# spoken now.
languages_at_home <- function(sitting, asked = NULL) {
  test <- sitting$settings$language
  usual <- if (!is.null(asked)) {
    checked_language(asked, "home")
  } else if (!is.null(spoken$home)) {
    spoken$home
  } else if (length(test) && !is.na(test)) {
    test
  } else {
    language_now()
  }
  own <- sitting$students[["language"]]
  if (is.null(own)) return(rep(usual, nrow(sitting$students)))
  or_else(language_like(own), usual)
}

# Languages of the students that no words are there for.
languages_unknown <- function(sitting) {
  own <- as_text(sitting$students[["language"]])
  own <- own[!is.na(own)]
  own[is.na(language_like(own))]
}

# The standards' titles for who reads now: where a column such as title_es gives them, in
# that language. Beside each the language that it is in, in the column title_language.
titles_for_reader <- function(sitting) {
  standards <- sitting$standards
  usual <- language_of(sitting$settings)
  now <- stats::na.omit(c(language_now(), falls_back_on(language_now())))
  ends <- sub("^title[ _.(-]+([A-Za-z-]+)\\)?$", "\\1", names(standards))
  given <- ifelse(ends == names(standards), NA, language_like(ends))
  column <- match(now, given)
  column <- column[!is.na(column)][1]
  standards$title_language <- rep(usual, nrow(standards))
  if (!is.na(column)) {
    has <- !is_blank(standards[[column]])
    standards$title[has] <- standards[[column]][has]
    standards$title_language[has] <- given[column]
  }
  sitting$standards <- standards
  sitting
}

# The new code of each old one; both are single codes, and none is renamed twice.
check_renamed <- function(value, refuse) {
  if (!length(value)) return(NULL)
  named <- !is.null(names(value)) &&
    all(nzchar(names(value))) &&
    !anyDuplicated(names(value))
  if (!named ||
    any(lengths(value) != 1) ||
    anyNA(unlist(value)) ||
    any(names(value) %in% unlist(value))) {
    refuse(
      \(name) say("sitting-settings.must_give_each_old", name = name),
      say("sitting-settings.for_example_tc_1_a")
    )
  }
  lapply(as.list(value), as.character)
}

# A text for each level or band that is named.
check_messages <- function(value, refuse) {
  if (!length(value)) return(NULL)
  named <- !is.null(names(value)) &&
    all(nzchar(names(value))) &&
    !anyDuplicated(names(value))
  one <- function(text) {
    is.list(text) && length(text) && !is.null(names(text)) &&
      !anyNA(language_like(names(text))) && all(lengths(text) == 1)
  }
  whole <- vapply(as.list(value), function(text) {
    length(text) == 1 && !is.list(text) || one(text)
  }, TRUE)
  if (!named || !all(whole)) {
    refuse(
      \(name) say("sitting-settings.must_give_levels_or", name = name),
      say("sitting-settings.for_example_secure_well")
    )
  }
  lapply(as.list(value), function(text) {
    if (is.list(text)) lapply(text, as.character) else as.character(text)
  })
}

check_levels <- function(value, refuse) {
  cuts <- suppressWarnings(as.numeric(unlist(value)))
  named <- !is.null(names(value)) &&
    all(nzchar(names(value))) &&
    !anyDuplicated(tolower(names(value)))
  if (!named ||
    !length(cuts) ||
    anyNA(cuts) ||
    cuts[1] != 0 ||
    is.unsorted(cuts, strictly = TRUE) ||
    max(cuts) > 1) {
    refuse(
      \(name) say("sitting-settings.must_name_each_step", name = name),
      say("sitting-settings.for_example_emerging_0")
    )
  }
  stats::setNames(as.list(cuts), names(value))
}

# The points of each step by its name; a plain list of points names itself.
check_scale <- function(value, refuse) {
  points <- suppressWarnings(as.numeric(unlist(value)))
  names <- if (is.null(names(value))) format_plain(points) else names(value)
  if (!length(points) ||
    anyNA(points) ||
    any(points < 0) ||
    anyDuplicated(tolower(names))) {
    refuse(
      \(name) say("sitting-settings.must_give_each_step", name = name),
      say("sitting-settings.for_example_not_yet")
    )
  }
  stats::setNames(as.list(points), names)
}

check_thresholds <- function(value, default, refuse) {
  for (one in names(value)) {
    if (!one %in% names(default)) {
      refuse(
        \(name) {
          say(
            "sitting-settings.has_no_threshold",
            name = name,
            threshold = quoted(one)
          )
        },
        did_you_mean(one, names(default))
      )
    }
    number <- suppressWarnings(as.numeric(value[[one]]))
    if (length(number) != 1 || is.na(number)) {
      refuse(
        \(name) {
          say(
            "sitting-settings.needs_a_number_for",
            name = name,
            threshold = quoted(one)
          )
        },
        say("sitting-settings.the_default_is", default = default[[one]])
      )
    }
    default[[one]] <- number
  }
  default
}

# what: says what is wrong, given how the setting is called.
abort_setting <- function(origin, given, name, what, fix) {
  line <- attr(given, "line")[[name]]
  value <- shorten(paste(format(unlist(given[[name]])), collapse = ", "), 200)
  abort_pregunta(
    "input",
    what(quoted(name)),
    say(
      "sitting-settings.line",
      origin = origin,
      line = line,
      no_line = is.null(line),
      name = name,
      value = value
    ),
    fix,
    file = origin,
    line = line,
    value = value
  )
}
