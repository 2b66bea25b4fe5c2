# people.yml of a desk for many: who may see which sections of the tests.
#
#   Ada Bay: all
#   Bo Day: [Harbour A, Harbour B]
#   Cy Moor:
#     sections: Harbour C
#     key: so-long-and-hard-to-guess
#
# A key that stands there stays the same from one start to the next.

some_words <- either_of(a_text, each_of(a_text))
people_shape <- named_of(either_of(
  a_text,
  each_of(a_text),
  fields_of(sections = some_words, key = a_text)
))

# A list, one of each person: name, key (NULL: made at the start), sections (NULL: all).
read_people_file <- function(path) {
  check_file(path)
  given <- read_settings(path)
  check_fields(as.list(given), people_shape, path)
  people <- lapply(names(given), function(name) {
    one <- given[[name]]
    fields <- if (is.list(one) && !is.null(names(one))) one else list(sections = one)
    sections <- as.character(unlist(fields$sections))
    list(
      name = name,
      key = if (!is.null(fields$key)) as.character(fields$key),
      sections = if (!identical(sections, "all")) sections
    )
  })
  check_people(people, given, path)
  people
}

least_letters_of_key <- 16

check_people <- function(people, given, path) {
  refuse <- function(k, what, fix) {
    abort_setting(path, given, people[[k]]$name, function(name) what, fix)
  }
  if (!length(people)) {
    abort_pregunta(
      "input",
      say("read-people.names_nobody", path = basename(path)),
      NULL,
      say("read-people.write_a_name")
    )
  }
  short <- function(one) {
    given <- !is.null(one$key)
    given && !grepl(sprintf("^[A-Za-z0-9_-]{%d,200}$", least_letters_of_key), one$key)
  }
  keys <- lapply(people, `[[`, "key")
  for (k in seq_along(people)) {
    one <- people[[k]]
    # Nothing, as in `[]`, is not everybody.
    if (!is.null(one$sections) && !any(nzchar(one$sections))) {
      refuse(
        k,
        say("read-people.has_no_section", name = quoted(one$name)),
        say("read-people.write_all_or_sections")
      )
    }
    if (short(one)) {
      refuse(
        k,
        say("read-people.key_is_too_short", name = quoted(one$name)),
        say("read-people.write_a_long_key", n = least_letters_of_key)
      )
    }
    if (!is.null(one$key) && one$key %in% unlist(keys[-k])) {
      refuse(
        k,
        say("read-people.the_same_key", name = quoted(one$name)),
        say("read-people.each_has_a_key")
      )
    }
  }
  twice <- which(duplicated(vapply(people, plain_name, "")))
  if (length(twice)) {
    refuse(
      twice[1],
      say("read-people.names_alike", name = quoted(people[[twice[1]]]$name)),
      say("read-people.tell_names_apart")
    )
  }
}

# As the name stands in the names of files.
plain_name <- function(person) {
  plain <- hyphened(person$name)
  if (nzchar(plain)) plain else "somebody"
}
