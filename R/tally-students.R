#' Students of a sitting that is not in memory, some thousands at a time
#'
#' What is asked of each student cannot be made of counts. `over_students()` reads the
#' responses of a sitting in a database, or in a file too large for memory, once, and
#' gives its students to a function in sittings of their own, each with all the rows of
#' its students. So every student's figures can be written while the next ones are read.
#'
#' @param stored A sitting from [open_sitting()] or [sitting_in_database()]; also a plain
#'   [sitting()], which is given as it is.
#' @param make A function of one argument, a [sitting()] of some of the students.
#' @return A list of what `make` gave, invisibly. The students come as the file has them,
#'   or as the database sorts their ids; at the end those who have rows in several places
#'   and those of the list who have none.
#' @details Figures of one student are those of the whole sitting: [summarise_students()],
#'   and [summarise_standards()] with `by = "student"`, whose intervals rest on how much
#'   all students' points of an item vary; that is counted before. Figures that set
#'   students beside each other (groups, misconceptions that are likely held) are of the
#'   part alone. Where a column `submitted` tells by all others who has not handed in, or
#'   rows are left out by a condition on a column, all responses are read at once.
#' @section Errors: Those of [open_sitting()], and what `make` throws.
#' @export
#' @examples
#' # As if the demo's 10 kilobytes were too many to be read at once.
#' large <- open_sitting(demo_path(), megabytes = 0.005)
#' over_students(large, function(part) {
#'   nrow(summarise_students(part))
#' })
over_students <- function(stored, make) {
  if (!inherits(stored, "pregunta_stored")) {
    check_is_sitting(stored)
    return(invisible(list(make(stored))))
  }
  parts <- stored$guard(parts_of_students(stored, make))
  invisible(if (is.null(parts)) list(make(stored$read(NULL))) else parts)
}

# NULL where all has to be read at once.
parts_of_students <- function(stored, make) {
  tally <- tally_responses(stored)
  if ("submitted" %in% names(stored$columns) || isTRUE(stored$session$whole)) return(NULL)
  seen_by_all <- points_of_tally(tally)
  several <- as_text(stored$several())
  listed <- stored$students$student
  unseen <- rep(TRUE, length(listed))
  made <- list()
  give <- function(table, ids = ids_in(table)) {
    sitting <- tryCatch(
      sitting_of_piece(stored, table, ids),
      pregunta_error_nobody_left = function(e) NULL
    )
    if (is.null(sitting)) return(invisible())
    unseen[match(ids, listed)] <<- FALSE
    sitting$seen_by_all <- seen_by_all
    made <<- c(made, list(make(sitting)))
  }
  # The last part waits: who has no row at all is listed with it.
  waiting <- NULL
  apart <- list()
  stored$some(function(table) {
    away <- as_text(table$student) %in% several
    if (any(away)) apart <<- c(apart, list(uncoded_table(pick_rows(table, away))))
    table <- pick_rows(table, !away)
    if (!nrow(table)) return(invisible())
    if (!is.null(waiting)) give(waiting)
    waiting <<- table
  })
  last <- if (length(apart)) join_pieces(apart)
  if (is.null(last)) {
    give(waiting, union(ids_in(waiting), listed[unseen & !listed %in% ids_in(waiting)]))
  } else {
    if (!is.null(waiting)) give(waiting)
    give(last, union(ids_in(last), listed[unseen]))
  }
  made
}

# As points_seen() has them, of all students.
points_of_tally <- function(tally) {
  counts <- tally$counts
  lapply(seq_along(tally$cells), function(j) {
    points <- tally$cells[[j]]$points
    mine <- counts$item == j
    count <- numeric(length(points))
    sums <- rowsum(as.numeric(counts$count[mine]), counts$code[mine])
    count[as.integer(rownames(sums))] <- sums
    valued <- which(!is.na(points) & count > 0)
    if (length(valued)) list(points = points[valued], count = count[valued])
  })
}

# Rows in the order of the students, of whom the last one of a part may go on in the next.
whole_students <- function(each, take) {
  held <- NULL
  each(function(some) {
    if (NROW(held)) some <- frame_of(Map(c, held, some), nrow(held) + nrow(some))
    n <- nrow(some)
    begins <- match(some$student[n], some$student)
    held <<- rows_of(some, begins:n)
    if (begins > 1) take(rows_of(some, seq_len(begins - 1)))
  })
  if (NROW(held)) take(held)
}
