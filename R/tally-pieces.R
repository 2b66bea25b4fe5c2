# Counts of responses that are too many to be in memory at once: each piece of the file is
# a sitting of its own, and the tallies of all pieces are added. Who has rows in several
# pieces is left out of each and counted together with the first one, which waits until
# all others are known; so do listed students of whom there is no row at all.

count_pieces <- function(pieces, by = NULL, products = FALSE, counted = NULL) {
  whole <- function(...) {
    pieces$session$whole <- TRUE
    tally_responses(pieces$read(NULL), by, products, counted)
  }
  # Numbered over all students; see with_forms().
  if ("form" %in% by && !"form" %in% names(pieces$students)) return(whole())
  tryCatch(
    settle_pieces(pieces, by, products, counted),
    pregunta_odd_piece = whole
  )
}

# Run again where it turns out that students are in several pieces, or that other items
# count than those of the first piece.
settle_pieces <- function(pieces, by, products, counted) {
  apart <- character()
  used <- counted
  repeat {
    run <- pieces$run(pieces, by, products, used, apart)
    if (length(setdiff(run$twice, apart))) {
      apart <- union(apart, run$twice)
      stop_if_too_many(apart, pieces$most_apart)
      next
    }
    real <- if (is.null(counted)) items_of_tally(run$tally) else counted
    if (setequal(real, run$counted)) break
    if (!products) {
      run$tally <- with_counted(run$tally, real)
      break
    }
    used <- real
  }
  pieces$session$several <- apart
  pieces$found(run$findings)
  run$tally
}

# Pieces are of no use where everybody is in several, as in a file in the order of items.
stop_if_too_many <- function(ids, most) {
  if (length(ids) > most) stop_pieces()
}

most_apart <- 1e5

stop_pieces <- function() rlang::abort("", class = "pregunta_odd_piece")

# What is gathered over pieces: the counts of each, who was met, what is wrong.
new_counter <- function(pieces, by, products, counted) {
  listed <- pieces$students$student
  seen <- logical(length(listed))
  met <- new_id_set()
  twice <- character()
  findings <- around <- tallies <- list()
  take_tally <- function(tally) {
    tallies <<- c(tallies, list(tally))
    if (length(tallies) == tallies_at_once) tallies <<- list(add_tallies(tallies))
  }
  list(
    meet = function(table) {
      again <- meet_ids(met, as.character(table$student))
      twice <<- union(twice, as_text(table$student[again]))
      stop_if_too_many(twice, pieces$most_apart)
      if (length(listed)) seen[match(ids_in(table), listed)] <<- TRUE
    },
    add = function(table, ids = ids_in(table)) {
      counts <- count_piece(pieces, table, ids, by, products, counted)
      if (is.null(counts)) {
        # Of a listed student who is left out there is no row.
        if (length(listed)) seen[match(ids, listed)] <<- FALSE
        return(invisible())
      }
      findings <<- c(findings, counts$findings)
      around <<- c(around, list(attr(counts$tally$about$settings, "around")))
      take_tally(counts$tally)
    },
    # What another process has gathered; whether nobody was met here and there.
    join = function(other) {
      seen[other$seen] <<- TRUE
      findings <<- c(findings, other$findings)
      around <<- c(around, other$around)
      if (!is.null(other$tally)) take_tally(other$tally)
      !meet_others(met, other$ids)
    },
    unseen = function() listed[!seen],
    twice = function() twice,
    gathered = function() {
      list(
        tally = if (length(tallies)) add_tallies(tallies),
        ids = ids_met(met),
        seen = which(seen),
        twice = twice,
        findings = findings,
        around = around
      )
    }
  )
}

# last: the table that waited for all others.
finish_pieces <- function(pieces, counter, last, counted) {
  counter$add(last, union(ids_in(last), counter$unseen()))
  if (is.null(counter$gathered()$tally)) {
    # Nobody is left: this says so.
    sitting_of_piece(pieces, last, ids_in(last))
  }
  sum_of_pieces(counter, counted)
}

sum_of_pieces <- function(counter, counted) {
  all <- counter$gathered()
  if (is.null(all$tally)) stop_pieces()
  if (any(lengths(all$around))) {
    attr(all$tally$about$settings, "around") <- do.call(rbind, all$around)
  }
  c(all[c("tally", "twice", "findings")], list(counted = counted))
}

run_pieces <- function(pieces, by, products, counted, apart) {
  run <- if (!length(apart)) run_ranges(pieces, by, products, counted)
  if (is.null(run)) one_after_the_other(pieces, by, products, counted, apart) else run
}

one_after_the_other <- function(pieces, by, products, counted, apart) {
  first <- counter <- NULL
  held <- list()
  pieces$each(function(table) {
    if (is.null(counter)) {
      # Its items are asked of the first piece as it is.
      if (is.null(counted)) counted <<- first_counted(pieces, table)
      counter <<- new_counter(pieces, by, products, counted)
    }
    counter$meet(table)
    if (length(apart)) {
      mine <- as_text(table$student) %in% apart
      held <<- c(held, list(uncoded_table(pick_rows(table, mine))))
      table <- pick_rows(table, !mine)
    }
    if (is.null(first)) first <<- table else counter$add(table)
  })
  finish_pieces(pieces, counter, join_pieces(c(list(first), held)), counted)
}

# The same by several processes, each at a range of the file; NULL where there is one
# process, or where students turn out to be in several ranges or pieces.
run_ranges <- function(pieces, by, products, counted) {
  ranges <- pieces$ranges()
  if (length(ranges) < 2) return(NULL)
  first <- list()
  pieces$each(function(table) first <<- c(first, list(table)), ranges[[1]])
  first <- join_pieces(first)
  if (is.null(counted)) counted <- first_counted(pieces, first)
  found <- over_each(
    ranges[-1],
    function(range) {
      tryCatch({
        counter <- new_counter(pieces, by, products, counted)
        pieces$each(function(table) {
          counter$meet(table)
          counter$add(table)
        }, range)
        counter$gathered()
      }, pregunta_odd_piece = function(odd) "odd")
    },
    function(range) "odd",
    label = say("tally-pieces.counting")
  )
  if (any(vapply(found, is.character, TRUE))) stop_pieces()
  counter <- new_counter(pieces, by, products, counted)
  counter$meet(first)
  for (other in found) {
    if (!counter$join(other) || length(other$twice)) return(NULL)
  }
  finish_pieces(pieces, counter, first, counted)
}

tallies_at_once <- 32

ids_in <- function(table) {
  ids <- unique(as_text(table$student))
  ids[!is.na(ids)]
}

# NULL where nobody of it is counted.
count_piece <- function(pieces, table, ids, by, products, counted) {
  if (!nrow(table)) return(NULL)
  sitting <- tryCatch(
    sitting_of_piece(pieces, table, ids),
    pregunta_error_nobody_left = function(e) NULL
  )
  if (is.null(sitting)) return(NULL)
  list(
    tally = tally_responses(sitting, by, products, counted),
    findings = Filter(function(one) one$severity == "error", sitting$findings)
  )
}

# ids: of its students, and of those without a row; asked for only where there is a list
# or somebody has a change of their own.
sitting_of_piece <- function(pieces, table, ids) {
  tables <- pieces$tables
  if (!is.null(pieces$students)) {
    # Who is not on the list is not told of, line by line.
    at <- match(ids, pieces$students$student)
    there <- !is.na(at) | is_kept(ids, pieces$settings)
    students <- rows_of(pieces$students, at[there])
    students$student <- ids[there]
    tables$students <- students
  }
  list <- pieces$adjustments
  mine <- is.na(list$student)
  if (!all(mine)) mine <- mine | list$student %in% ids
  tables$adjustments <- changes_apart(list, mine)
  do.call(sitting, c(list(table), tables, list(settings = settings_of_pieces(pieces))))
}

# As test.yml says, but for what was settled since; see by_depth().
settings_of_pieces <- function(pieces) {
  said <- pieces$said
  said <- said[gsub("[ -]", "_", names(said)) != "smallest_group"]
  said$smallest_group <- pieces$settings$smallest_group
  said
}

# Whether it is sure that no row of these students is left out.
is_kept <- function(ids, settings) {
  if (any(vapply(settings$exclude, is.list, TRUE))) return(logical(length(ids)))
  out <- lapply(settings$exclude, function(pattern) fits_pattern(ids, pattern))
  !Reduce(`|`, out, logical(length(ids)))
}

# Of some hundred students nearly always the same as of all.
first_counted <- function(pieces, table) {
  table <- pick_rows(table, seq_len(min(nrow(table), 2000)))
  counts <- count_piece(pieces, table, ids_in(table), NULL, FALSE, NULL)
  if (is.null(counts)) pieces$items$item else items_of_tally(counts$tally)
}

# The items that anybody has points on.
items_of_tally <- function(tally) {
  valued <- unlist(lapply(tally$cells, function(cell) !is.na(cell$points)))
  counts <- tally$counts
  mine <- valued[cell_offsets(tally$cells)[counts$item] + counts$code]
  tally$items$item[seq_len(nrow(tally$items)) %in% counts$item[mine]]
}

with_counted <- function(tally, counted) {
  fields <- names(formals(new_tally))
  tally$items$counted <- tally$items$item %in% counted
  do.call(new_tally, stats::setNames(lapply(fields, function(one) tally[[one]]), fields))
}

uncoded_table <- function(table) {
  kept <- keep_origin(table, table)
  kept[] <- lapply(kept, as.character)
  kept
}

join_pieces <- function(tables) {
  if (length(tables) == 1) return(tables[[1]])
  whole <- do.call(rbind, lapply(tables, uncoded_table))
  attr(whole, "origin") <- attr(tables[[1]], "origin")
  attr(whole, "line") <- unlist(lapply(tables, attr, "line"))
  whole
}
