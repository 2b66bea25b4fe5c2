# What a document of fields (JSON, YAML) has to look like. A shape says it once, as data;
# what is of another kind is an error that says where: statements 3, actor.name.

# Of one value: text or a number; a number; yes or no.
shape_of <- function(kind) structure(list(kind = kind), class = "shape")
a_text <- shape_of("text")
a_number <- shape_of("number")
a_truth <- shape_of("truth")

# Of several: all alike, without or with names; or fields by name, of which some must be
# there. What a shape does not name is free.
each_of <- function(shape) {
  structure(list(kind = "each", of = shape), class = "shape")
}
named_of <- function(shape) {
  structure(list(kind = "named", of = shape), class = "shape")
}
fields_of <- function(..., must = character()) {
  structure(list(kind = "fields", of = list(...), must = must), class = "shape")
}
either_of <- function(...) {
  structure(list(kind = "either", of = list(...)), class = "shape")
}

# The first fault of a value: `place` and `wanted` (the kind that should stand there), or
# NULL. What is null stands for nothing and is no fault.
shape_fault <- function(value, shape, place = NULL) {
  if (is.null(value)) return(NULL)
  fault <- list(place = place, wanted = shape$kind, value = value)
  switch(shape$kind,
    text = if (!is_single(value) || is.logical(value) && !is.na(value)) fault,
    number = if (!is_single(value) || is.na(read_number(as.character(value)))) fault,
    truth = if (!is_single(value) || !is.logical(value)) fault,
    each = if (is.list(value) && is.null(names(value)) || !is.list(value)) {
      empty <- which(vapply(value, is.null, TRUE))
      if (length(empty)) return(list(place = c(place, empty[1]), wanted = "must"))
      first_fault(value, rep(list(shape$of), length(value)), place, seq_along(value))
    } else {
      fault
    },
    named = if (is.list(value) && (!length(value) || !is.null(names(value)))) {
      empty <- which(vapply(value, is.null, TRUE))
      if (length(empty)) {
        return(list(place = c(place, names(value)[empty[1]]), wanted = "must"))
      }
      first_fault(value, rep(list(shape$of), length(value)), place, names(value))
    } else {
      fault
    },
    fields = fields_fault(value, shape, place, fault),
    either = {
      fits <- vapply(shape$of, function(one) {
        is.null(shape_fault(value, one, place))
      }, TRUE)
      if (!any(fits)) replace(fault, "wanted", shape$of[[1]]$kind)
    }
  )
}

fields_fault <- function(value, shape, place, fault) {
  if (!is.list(value) || length(value) && is.null(names(value))) return(fault)
  again <- names(value)[duplicated(names(value))]
  if (length(again)) {
    return(list(place = c(place, again[1]), wanted = "once", value = NULL))
  }
  for (name in shape$must) {
    if (is.null(value[[name]])) {
      return(list(place = c(place, name), wanted = "must", value = NULL))
    }
  }
  known <- intersect(names(shape$of), names(value))
  first_fault(value[known], shape$of[known], place, known)
}

first_fault <- function(values, shapes, place, names) {
  for (k in seq_along(values)) {
    fault <- shape_fault(values[[k]], shapes[[k]], c(place, names[k]))
    if (!is.null(fault)) return(fault)
  }
  NULL
}

is_single <- function(value) is.atomic(value) && length(value) == 1

# Refuses a document of another shape. where: the path, or the path and a line.
check_fields <- function(value, shape, where, place = NULL) {
  fault <- shape_fault(value, shape, place)
  if (is.null(fault)) return(invisible())
  abort_pregunta(
    "input",
    say(
      "base-shape.is_of_another_kind",
      path = basename(where[1]),
      place = quoted(say_field(fault$place)),
      wanted = words_for(fault$wanted, "shapes")
    ),
    paste(c(where, say_found(fault$value)), collapse = ", "),
    say("base-shape.see_what_wrote_it"),
    file = where[1],
    value = say_found(fault$value)
  )
}

say_field <- function(place) {
  if (!length(place)) return(say("base-shape.the_whole"))
  paste(place, collapse = ".")
}

# A word, a number, yes or no; one of these or several, without or with names.
a_word <- either_of(a_text, a_truth)
flat_words <- either_of(a_word, each_of(a_word), named_of(a_word))

# What stands there, in a few letters.
say_found <- function(value) {
  if (is.null(value)) return(NULL)
  shorten(printable(paste(format(unlist(value)), collapse = ", ")), 60)
}

# A document's fields without those that there is nothing for.
list_of <- function(...) Filter(Negate(is.null), list(...))
