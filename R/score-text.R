# A word or a few; case, accents and the number of blanks do not matter.
type_text <- function() {
  new_item_type(
    "text",
    "written",
    examples = c("ebb", "ebb|ebb tide"),
    read_key = function(key) {
      accepted <- unique(plain_text(split_parts(key, "|")[[1]]))
      if (!length(accepted)) bad_key(say("score-text.names_no_accepted_answer"))
      accepted
    },
    solve = function(key) key[1],
    normalise = function(x, offered) plain_text(x),
    share = function(x, key, scoring) as.numeric(x %in% key),
    right_parts = function(key) key,
    near = near_spelling,
    tells = "near",
    qti = list(maps = "always"),
    xapi = c("fill-in", "other")
  )
}

# One letter added, lost, changed or swapped with its neighbour; from 8 letters on
# two. Of one or two letters a change leaves nothing.
near_spelling <- function(answer, key) {
  # One thread: threads begun here would be missing in a process forked later.
  distance <- stringdist::stringdist(
    answer,
    key,
    method = "osa",
    nthread = 1
  )
  allowed <- ifelse(nchar(key) < 8, 1, 2)
  fits <- which(distance <= allowed & nchar(key) > 2)
  if (length(fits)) c(key[fits[which.min(distance[fits])]], "spelling")
}
