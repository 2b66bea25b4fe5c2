# Counts of responses that lie in several databases, each of which has some of the
# students (shards): each is counted where it is, all at once, and the tallies are added.
# Who has rows in several of them is left out there and read; so is one student of whom a
# sitting is made for all on the list who have no row anywhere; see tally-pieces.R.

count_shards <- function(shards, by = NULL, products = FALSE, counted = NULL) {
  whole <- function(...) {
    if (is.null(by)) shards$session$whole <- TRUE
    tally_responses(shards$read(NULL), by, products, counted)
  }
  if (!can_be_counted(shards, by)) return(whole())
  tryCatch(settle_pieces(shards, by, products, counted), pregunta_odd_piece = whole)
}

run_shards <- function(shards, by, products, counted, apart) {
  # Which items count is known when all have been counted; see settle_pieces().
  if (is.null(counted)) counted <- shards$items$item
  # Who is on the list and nowhere else is in a sitting with somebody.
  if (length(shards$students$student)) apart <- union(apart, student_apart(shards))
  found <- over_shards(shards, function(stored) {
    count_shard(shards, stored, by, products, counted, apart)
  })
  counter <- new_counter(shards, by, products, counted)
  for (other in found) {
    if (!counter$join(other)) {
      # Some are in several: all is counted again without them.
      twice <- setdiff(ids_in_several(shards), apart)
      if (!length(twice)) stop_pieces()
      return(list(twice = twice))
    }
  }
  rows <- Filter(NROW, lapply(found, `[[`, "rows"))
  if (length(rows)) {
    finish_pieces(shards, counter, join_pieces(rows), counted)
  } else {
    sum_of_pieces(counter, counted)
  }
}

# Where the addresses are known, all at once, in as many processes.
over_shards <- function(shards, make) {
  ask <- function(open) {
    stored <- open()
    on.exit({
      stored$clear()
      stored$close()
    })
    shards$guard(make(stored))
  }
  if (!shards$at_once || cores_allowed() < 2) return(lapply(shards$open, ask))
  over_each(
    shards$open,
    ask,
    function(open) stop_pieces(),
    cores = max(cores_allowed(), length(shards$open)),
    label = say("tally-pieces.counting")
  )
}

# Any student who has a row and is not left out.
student_apart <- function(shards) {
  for (open in shards$open) {
    stored <- open()
    some <- function() utils::head(dplyr::select(stored$answers(), student, item), 1e4)
    rows <- tryCatch(shards$guard(collected(some())), finally = stored$close())
    known <- as_text(rows$item) %in% shards$items$item & !is.na(rows$student)
    ids <- unique(rows$student[known])
    ids <- ids[ids == as_text(ids) & is_kept(ids, shards$settings)]
    if (length(ids)) return(ids[1])
  }
  stop_pieces()
}

# What one of them has, but for those who are settled apart: as gathered by new_counter(),
# and the rows of those.
count_shard <- function(shards, stored, by, products, counted, apart) {
  met <- new_id_set()
  gathered <- list(
    seen = integer(),
    rows = if (length(apart)) stored$rows(apart)
  )
  any_row <- utils::head(dplyr::select(stored$answers(), student), 1)
  if (!nrow(collected(any_row))) return(c(gathered, list(ids = ids_met(met))))
  stored$settings$smallest_group <- shards$settings$smallest_group
  # Once it is known who is there.
  stored$own <- function(stored, people) {
    ids <- collected(dplyr::select(people, student))$student
    own <- ids[!is.na(ids) & !ids %in% apart]
    meet_ids(met, own)
    here <- as_text(own)
    if (!anyNA(as_text(ids)) && !any(is_kept(here, shards$settings))) {
      rlang::abort("", class = "pregunta_nobody_here")
    }
    listed <- shards$students
    mine <- which(listed$student %in% here)
    stored$students <- if (!is.null(listed)) rows_of(listed, mine)
    list <- stored$adjustments
    mine <- is.na(list$student) | list$student %in% here
    stored$adjustments <- keep_origin(list[mine, , drop = FALSE], list)
    stored$apart <- intersect(apart, ids)
    gathered$seen <<- which(listed$student %in% here)
    stored
  }
  tally <- tryCatch(
    count_stored(stored, by, products, counted),
    pregunta_nobody_here = function(e) NULL
  )
  gathered$ids <- ids_met(met)
  gathered$tally <- tally
  if (!is.null(tally)) gathered$around <- list(attr(tally$about$settings, "around"))
  gathered
}

# As they stand in the databases, blanks and all.
ids_in_several <- function(shards) {
  ids <- unlist(over_shards(shards, function(stored) {
    collected(dplyr::distinct(stored$answers(), student))$student
  }))
  plain <- as_text(ids)
  shard_of <- table(plain)
  ids[plain %in% names(shard_of)[shard_of > 1]]
}
