# Item types: what one is, which there are, and how another is made known. What
# anybody needs to know of a type stands in the type itself, so that nobody else
# asks for one by its name.

#' Make an item type
#'
#' All that tables, verdicts, pages, forms and exports need to know of a kind of
#' question. A type that is made here and handed to [register_item_type()] goes
#' through everything that the package's own types go through.
#'
#' @param name One lower-case word, as it stands in the column `type` of
#'   `items.csv`.
#' @param answer How it is answered: `"chosen"`, one of a few options; `"written"`,
#'   in words or numbers; `"parts"`, several things that can be right one by one;
#'   `"marked"`, points are given by hand.
#' @param examples Keys as they are written, at least one; none for a type that
#'   is marked by hand.
#' @param read_key `function(key)`: the text of a key as what `share` takes. It
#'   stops with [bad_key()] where the text is no key.
#' @param share `function(x, key, scoring)`: the share of the points, from 0 to 1,
#'   that each of the normalised answers `x` earns.
#' @param solve `function(key)`: the text of an answer that earns all points.
#' @param normalise `function(x, offered)`: answers in the form in which two that
#'   mean the same are the same; `offered` are the options of the item.
#' @param parts `function(x)`: a list, what each answer is made of.
#' @param right_parts `function(key)`: the parts that the key asks for; `NULL` where
#'   the right answers are found among those given.
#' @param scorings The rules that `items.csv` may ask for: `"all"`, or also
#'   `"each"`.
#' @param offers Whether its answers are options that are listed beforehand, so that
#'   any other is pointed out.
#' @param problem `function(x)`: for each answer `NA`, or what is wrong with it in
#'   words that go on from the answer ("is no number").
#' @param near `function(answer, key)`: for one wrong answer that is one step from
#'   right `c(like, near_miss)`, the right answer and how it was missed; else `NULL`.
#' @param tells What is worth telling of its wrong answers as wholes: any of `"near"`
#'   (nearly right ones), `"near_numbers"` (the same with how they came about), `"whole"`
#'   (the most common one), `"swaps"`, `"pair"` (the most common wrong part); `whole`
#'   names a whole answer.
#' @param whole What a whole answer is called in a sentence: "answer", "set", "order",
#'   "pairs", or a word of your own.
#' @param verb What students did with an option: "chosen", "ticked", "written", "parts"
#'   or "marked", or a word of your own, such as "circled".
#' @param show_answer,show_key `function(x)`: an answer, and one right answer of a
#'   key, for reading.
#' @param say_part `function(part)`: a part in the middle of a sentence.
#' @param cell `"answer"`, or `"points"` where the cell of the responses is the mark
#'   itself.
#' @param allowed `function(item, offered, scale)`: what a blank form offers in a
#'   cell, a character vector, or `NULL` when anything may stand there.
#' @param paper A list of `hint`, what is asked for on paper, and `lines`, the lines
#'   left for the answer.
#' @param qti A list that says how it stands in a QTI document: `interaction`,
#'   `cardinality`, `base`; `choices` ("options", "pairs" or "none"); `attributes` of the
#'   interaction; `values(answer)`, the values of a response; `correct(key)`, the text
#'   of the first right answer; `tolerance(key)`, half the width of a range;
#'   `maps` ("never", "always", "several" for more than one right answer, "each" for
#'   parts with points) and `wrong(item, right)`, what a wrong part takes off.
#' @param xapi Its names among the interaction types of xAPI statements.
#' @return An object of class `pregunta_item_type`.
#' @section Errors: `pregunta_error_call` says which field is not as it has to be;
#'   also when the answer of `solve()` to an example does not earn everything.
#' @seealso [register_item_type()]
#' @export
#' @examples
#' # A slider from 0 to 100: right within 5, half right within 10.
#' slider <- new_item_type("slider", "written", examples = "70",
#'   read_key = function(key) {
#'     if (is.na(suppressWarnings(as.numeric(key)))) bad_key("it is no number")
#'     as.numeric(key)
#'   },
#'   share = function(x, key, scoring) {
#'     off <- abs(suppressWarnings(as.numeric(x)) - key)
#'     off[is.na(off)] <- Inf
#'     (off <= 5) / 2 + (off <= 10) / 2
#'   },
#'   solve = function(key) as.character(key)
#' )
#' slider
new_item_type <- function(name, answer, examples = character(), read_key = NULL,
                          share = NULL, solve = NULL,
                          normalise = function(x, offered) x,
                          parts = function(x) as.list(x), right_parts = NULL,
                          scorings = "all", offers = answer == "chosen",
                          problem = NULL, near = NULL, tells = character(),
                          whole = "answer", verb = answer,
                          show_answer = identity, show_key = show_answer,
                          say_part = identity, cell = "answer",
                          allowed = function(item, offered, scale) NULL,
                          paper = usual_paper(answer), qti = usual_qti(answer),
                          xapi = character()) {
  check_choice_of(
    answer,
    c("chosen", "written", "parts", "marked"),
    "answer"
  )
  type <- list(
    name = name,
    answer = answer,
    examples = examples,
    read_key = guarded(read_key),
    share = share,
    solve = solve,
    normalise = normalise,
    parts = parts,
    right_parts = right_parts,
    scorings = scorings,
    offers = offers,
    problem = problem,
    near = near,
    tells = tells,
    whole = whole,
    verb = verb,
    show_answer = show_answer,
    show_key = show_key,
    say_part = say_part,
    cell = cell,
    allowed = allowed,
    paper = paper,
    qti = complete_qti(qti),
    xapi = xapi
  )
  check_item_type(type)
  structure(type, class = "pregunta_item_type")
}

# Whatever stops the reading of a key, it is the key that is not right.
guarded <- function(read_key) {
  if (!is.function(read_key)) return(read_key)
  function(key) {
    tryCatch(
      suppressWarnings(settled_key(read_key(key))),
      pregunta_bad_key = function(e) stop(e),
      error = function(e) {
        bad_key(conditionMessage(e))
      }
    )
  }
}

settled_key <- function(key) {
  if (!length(key) || (is.atomic(key) && anyNA(key))) {
    bad_key(say("score.says_nothing_that_can"))
  }
  key
}

# What students do with an answer, where the type says nothing else.
usual_paper <- function(answer) {
  line <- strrep("_", 40)
  switch(answer,
    written = list(hint = "", lines = line),
    parts = list(hint = "", lines = line),
    marked = list(hint = "", lines = say("score.points")),
    list(hint = "", lines = NULL)
  )
}

usual_qti <- function(answer) {
  if (answer == "chosen") {
    list(
      interaction = "choiceInteraction",
      base = "identifier",
      choices = "options"
    )
  } else {
    list(interaction = "textEntryInteraction", base = "string")
  }
}

complete_qti <- function(qti) {
  usual <- list(
    interaction = "textEntryInteraction",
    cardinality = "single",
    base = "string",
    choices = "none",
    attributes = list(),
    values = function(answer) answer,
    correct = function(key) split_parts(key, "|")[[1]][1],
    tolerance = NULL,
    maps = "never",
    by_place = FALSE,
    wrong = function(item, right) 0
  )
  unknown <- setdiff(names(qti), names(usual))
  if (length(unknown)) {
    refuse_type(
      say("score.has_no_part_in", unknown = quoted(unknown[1])),
      names(usual)
    )
  }
  usual[names(qti)] <- qti
  usual
}

# ---- what is checked when a type is made ------------------------------------------

check_item_type <- function(type) {
  if (!is.character(type$name) ||
    length(type$name) != 1 ||
    !grepl("^[a-z][a-z_]*$", type$name)) {
    refuse_type(say("score.needs_a_name_of"), type$name)
  }
  check_choice_of(type$cell, c("answer", "points"), "cell")
  check_choice_of(
    type$qti$maps,
    c("never", "always", "several", "each"),
    "qti$maps"
  )
  check_choice_of(
    type$qti$choices,
    c("none", "options", "pairs"),
    "qti$choices"
  )
  known <- c("near", "near_numbers", "whole", "swaps", "pair")
  if (!all(type$tells %in% known)) {
    possible <- say("score.possible", choices = some_of(known))
    refuse_type(say("score.has_a_word_in"), type$tells, possible)
  }
  if (!all(type$scorings %in% c("all", "each")) || !"all" %in% type$scorings) {
    refuse_type(say("score.is_scored_as_all"), type$scorings)
  }
  takes <- list(
    normalise = 2,
    parts = 1,
    show_answer = 1,
    show_key = 1,
    say_part = 1,
    allowed = 3,
    read_key = 1,
    share = 3,
    solve = 1,
    right_parts = 1,
    problem = 1,
    near = 2
  )
  for (field in names(takes)) check_function(type, field, takes[[field]])
  if (type$answer == "marked") return(check_marked_type(type))
  for (field in c("read_key", "share", "solve")) {
    if (is.null(type[[field]])) {
      refuse_type(say("score.needs_since_it_is", field = field))
    }
  }
  if (!length(type$examples)) refuse_type(say("score.needs_an_example_of"))
  for (example in type$examples) check_example(type, example)
}

check_marked_type <- function(type) {
  given <- c("read_key", "share", "solve")[
    !vapply(type[c("read_key", "share", "solve")], is.null, TRUE)
  ]
  if (length(given)) {
    refuse_type(say("score.is_marked_by_hand", given = given[1]))
  }
}

check_function <- function(type, field, n) {
  one <- type[[field]]
  if (is.null(one)) return(invisible())
  takes_enough <- is.function(one) &&
    (is.primitive(one) || length(formals(one)) >= n)
  if (!takes_enough) {
    refuse_type(
      say("score.needs_a_function_of", n = n, field = field),
      class(one)
    )
  }
}

# The answer to a key earns everything, in the form in which answers are compared.
check_example <- function(type, example) {
  key <- tryCatch(type$read_key(example), error = function(e) {
    refuse_type(
      say("score.does_not_read_its", example = quoted(example)),
      conditionMessage(e)
    )
  })
  offered <- if (is.null(type$right_parts)) {
    character()
  } else {
    unlist(type$right_parts(key))
  }
  answer <- type$normalise(as.character(type$solve(key)), offered)
  share <- type$share(answer, key, "all")
  if (!is.numeric(share) ||
    length(share) != 1 ||
    is.na(share) ||
    abs(share - 1) > 1e-9) {
    refuse_type(
      say("score.does_not_give_all", example = quoted(example)),
      say("score.earns", answer = answer, share = share)
    )
  }
}

check_choice_of <- function(value, choices, field) {
  if (is.character(value) && length(value) == 1 && value %in% choices) {
    return(invisible())
  }
  refuse_type(
    say("score.cannot_have_this_as", field = field),
    value,
    say("score.possible", choices = some_of(choices))
  )
}

refuse_type <- function(what, given = NULL,
                        fix = say("score.see_new_item_type")) {
  said <- if (length(given)) some_of(format(given))
  abort_pregunta(
    "call",
    what,
    if (length(said)) say("score.given", given = said),
    fix
  )
}

# ---- which there are ---------------------------------------------------------------

# Types that were made known in this session, beside the package's own.
more_types <- new.env(parent = emptyenv())

#' Make an item type known
#'
#' From then on, in this session of R, items may have the type: it is read, scored,
#' counted, judged, shown, put on forms and papers, and passed on like every other.
#'
#' @param type A type made with [new_item_type()]; one of the same name that was
#'   registered before is replaced. The package's own cannot be.
#' @return The names of all types that are known now, invisibly.
#' @section Errors: `pregunta_error_call` when it is no item type or has the name of
#'   one of the package's own.
#' @export
#' @examples
#' slider <- new_item_type("slider", "written", examples = "70",
#'   read_key = as.numeric,
#'   share = function(x, key, scoring) as.numeric(abs(as.numeric(x) - key) <= 5),
#'   solve = as.character
#' )
#' register_item_type(slider)
#' sitting(
#'   data.frame(student = c("a", "b"), Q1 = c("68", "20")),
#'   data.frame(item = "Q1", type = "slider", key = "70")
#' ) |> summarise_students()
register_item_type <- function(type) {
  if (!inherits(type, "pregunta_item_type")) {
    refuse_type(say("score.is_made_with_new"), class(type))
  }
  if (type$name %in% names(own_types())) {
    refuse_type(
      say("score.cannot_have_the_name"),
      type$name,
      say("score.choose_another_name")
    )
  }
  assign(type$name, type, envir = more_types)
  invisible(names(item_types()))
}

item_types <- function() {
  c(own_types(), mget(sort(ls(more_types)), envir = more_types))
}

# The type of an item.
item_type <- function(name) {
  if (!length(made_types)) own_types()
  type <- get0(name, envir = made_types, inherits = FALSE)
  if (is.null(type)) {
    type <- get0(name, envir = more_types, inherits = FALSE)
  }
  if (!is.null(type)) return(type)
  abort_pregunta(
    "call",
    say("score.the_item_type_is", name = quoted(name)),
    NULL,
    say("score.make_it_known_with")
  )
}

# For each of the names one field of the type; NA where there is no name.
of_types <- function(names, field) {
  known <- unique(names[!is.na(names)])
  values <- unlist(lapply(known, function(name) item_type(name)[[field]]))
  values[match(names, known)]
}

# For each of the names whether it is answered in one of these ways.
is_answered <- function(names, ways) of_types(names, "answer") %in% ways

is_marked <- function(names) is_answered(names, "marked")

# Whether a wrong answer can be nearly right.
has_near_misses <- function(names) {
  vapply(
    names,
    function(name) "near" %in% item_type(name)$tells,
    TRUE,
    USE.NAMES = FALSE
  )
}

# Whether the cell of a response is the mark itself.
is_points_cell <- function(names) of_types(names, "cell") %in% "points"

# What an item is where its row does not say: with a key a choice.
usual_type <- function(keyed) ifelse(keyed, "choice", "mark")

# ---- what the types share ----------------------------------------------------------

# A key of several alternatives, "A;C|A;D": each is right, and an answer earns
# what it earns by the one that fits it best.
alternatives <- function(key, read_one) {
  parts <- split_parts(key, "|")[[1]]
  if (!length(parts)) bad_key(say("score.names_no_answer"))
  lapply(parts, read_one)
}

best_share <- function(key, share_one) do.call(pmax, lapply(key, share_one))

#' Refuse a key
#'
#' For the `read_key` of an item type: the text is no key of this type.
#' @param problem What is wrong with it, as a clause of its own ("it names no option").
#'   The message says which item's key it is, and where it stands.
#' @return Does not return: an error of class `pregunta_bad_key`.
#' @export
#' @examples
#' tryCatch(bad_key("it is no number"), pregunta_bad_key = conditionMessage)
bad_key <- function(problem) {
  stop(structure(
    class = c("pregunta_bad_key", "error", "condition"),
    list(message = problem, call = NULL)
  ))
}

# Options spelled as they are offered, where only the case differs.
as_offered <- function(x, offered) {
  offered <- unique(offered)
  if (!length(offered) || anyDuplicated(toupper(offered))) return(x)
  at <- match(toupper(x), toupper(offered))
  ifelse(is.na(at), x, offered[at])
}

# Answers given as the texts of options, as the options themselves. An answer in several
# parts, `apart` by a mark, is taken part by part.
as_options <- function(x, option, text, apart = ";") {
  if (all(is_blank(text))) return(x)
  known <- plain_text(text)
  known[known %in% known[duplicated(known)] | is_blank(text)] <- NA
  if (all(is.na(known))) return(x)
  bare <- plain_text(option)
  named <- function(one) {
    said <- plain_text(one)
    meant <- or_else(option[match(said, known)], one)
    ifelse(said %in% bare, one, meant)
  }
  whole <- named(x)
  several <- which(whole == x & grepl(apart, x, fixed = TRUE))
  whole[several] <- vapply(
    strsplit(x[several], apart, fixed = TRUE),
    function(parts) {
      paste(named(trimws(parts)), collapse = apart)
    },
    ""
  )
  whole
}

# Of each item what read() makes of its row; items that have type and key in common are
# read once.
each_key <- function(items, read) {
  asked <- paste(items$type, items$key, sep = "\r")
  once <- which(!duplicated(asked))
  lapply(once, read)[match(asked, asked[once])]
}

# The parts that the key of each item asks for; none where there is no key.
right_options <- function(items) {
  each_key(items, function(row) {
    type <- item_type(items$type[row])
    if (is.na(items$key[row]) || is.null(type$right_parts)) return(character())
    type$right_parts(type$read_key(items$key[row]))
  })
}

# Keys of a type as they are told to somebody who has to write one.
say_examples <- function(type) join_words(type$examples, "or")

# ---- the package's own; a type more is a file like its neighbours and a name here ---

type_makers <- function() {
  list(
    choice = type_choice,
    multiple = type_multiple,
    text = type_text,
    number = type_number,
    order = type_order,
    match = type_match,
    mark = type_mark,
    open = type_open
  )
}

own_types <- function() {
  makers <- type_makers()
  if (!length(made_types)) {
    for (name in names(makers)) {
      assign(name, makers[[name]](), envir = made_types)
    }
  }
  mget(names(makers), envir = made_types)
}

# Made when first asked for: reading a key takes the compiled code, which is not
# there yet while the package is built.
made_types <- new.env(parent = emptyenv())
