#' A report for each teacher, school or section of one test
#'
#' Writes for each value of a column of the students the report of these students alone,
#' and a page `index.html` that links them. Each says what `narrow_sitting()` and
#' [write_report()] say of the part, with the part's own plan where there is one. A part
#' that may not be shown, because it or what it leaves out is smaller than the setting
#' `smallest_group`, is listed with the reason; the others are done all the same.
#'
#' @param folder A test folder.
#' @param each The name of a column of the students, such as `"teacher"`.
#' @param out Where the pages go; by default `reports-` and the column's name in `folder`.
#' @inheritParams write_reports
#' @return A data frame, a row a part: `part` (its value), `n`, `absent`, `mean_share`,
#'   `alpha`, `settle`, `file` (`NA` where there is none), `problem` (`NA` where there is
#'   a file). Students without a value are in no part; the attribute `without` is their
#'   number, `index` the path of the page that links them, and `made` how many reports
#'   were made: of a part that has not changed the one that is there stays.
#' @section Errors: `pregunta_error_call` when the students have no such column;
#'   `pregunta_error_output` when the folder or the index cannot be written.
#' @export
#' @examples
#' \donttest{
#' pages <- file.path(tempdir(), "by-section")
#' made <- write_part_reports(demo_path(), "section", pages, cores = 1)
#' made[c("part", "n", "mean_share")]
#' }
write_part_reports <- function(folder, each, out = NULL, names = TRUE,
                               audience = "teacher", by = NULL,
                               cores = cores_allowed(), anew = FALSE) {
  check_audience(audience)
  sitting <- with_unsettled(read_sitting(folder))
  student_groups(sitting, single_column(each)) # a column that is not there is said
  values <- as_text(sitting$students[[each]])
  parts <- sort(unique(values[!is.na(values)]), method = "radix")
  if (is.null(out)) out <- file.path(folder, paste0("reports-", column_word(each)))
  if (!dir.exists(out)) dir.create(out, recursive = TRUE, showWarnings = FALSE)
  kind <- if (audience == "teacher") "" else paste0("-", audience)
  files <- file.path(out, paste0(file_words(paste(each, parts)), kind, ".html"))
  for (package in c("htmltools", "reactable", "ggplot2")) loadNamespace(package)
  files <- file.path(normalizePath(out), basename(files))
  folder <- normalizePath(folder)
  as <- asked_mark(names, audience, by)
  noted <- if (anew) list() else read_made(dirname(files[1]))
  done <- over_each(
    seq_along(parts),
    function(k) {
      part_report(
        folder, sitting, each, parts[k], files[k], names, audience, by, as, noted
      )
    },
    function(k) {
      row <- lost_row(folder)
      row$title <- parts[k]
      list(row = row)
    },
    cores,
    say("page-many.reports")
  )
  table <- do.call(rbind, lapply(done, `[[`, "row"))
  made <- which(!is.na(table$file))
  from <- vapply(done[made], `[[`, "", "from")
  note_made(files[made], from, as, rows_to_note(table[made, ]))
  index <- file.path(out, paste0("index", kind, ".html"))
  write_text(
    index_page(
      table, normalizePath(out), audience, each, printable(sitting$settings$title)
    ),
    index
  )
  names(table)[names(table) == "title"] <- "part"
  structure(
    table[setdiff(names(table), c("folder", "date"))],
    index = index,
    without = sum(is.na(values)),
    facts = facts_of(done),
    made = length(made) - sum(vapply(done, function(one) isTRUE(one$reused), TRUE))
  )
}

# A column's name in that of a folder.
column_word <- function(each) {
  if (identical(hyphened(each), each)) each else file_word(each)
}

# Two values that are spelled alike but for signs go into two files.
file_words <- function(texts) {
  words <- vapply(texts, file_word, "", USE.NAMES = FALSE)
  make.unique(words, "-")
}

# Its row, and the mark of what it was made from. as, noted: of what was made before.
part_report <- function(folder, sitting, each, part, file, names, audience, by, as,
                        noted) {
  from <- NULL
  reused <- FALSE
  row <- report_row(folder, file, function() {
    # A value is itself here, whatever signs it has.
    rows <- which(as_text(sitting$students[[each]]) == part)
    conditions <- stats::setNames(list(part), each)
    own <- narrowed_to(
      sitting, rows, seq_len(nrow(sitting$items)), say_conditions(conditions)
    )
    plan <- read_plan(plan_path(folder, conditions))
    from <<- part_mark(own, plan)
    found <- still_made(file, from, as, noted)
    kept <- if (!is.null(found)) kept_row(found, folder, file)
    if (is.null(kept)) return(list(page = report_page(own, names, audience, by, plan)))
    reused <<- TRUE
    list(said = kept[kept_fields])
  })
  row$title <- part
  list(row = row, from = from, reused = reused)
}

# All that the page of a part is made from. Changes of others' answers are none of it,
# nor the cells that only others have.
part_mark <- function(own, plan) {
  no <- c("handed_in", "source", "adjustments", "changes", "codes", "cells", "before")
  all <- own[setdiff(names(own), no)]
  earlier <- replace(own, c("codes", "cells"), own$before)
  given <- lapply(list(own, earlier), function(part) {
    list(cell_answers(part), cell_points(part), cell_states(part))
  })
  mine <- is.na(own$changes$student) | own$changes$student %in% own$students$student
  changes <- own$changes[mine, c("student", "item", "action", "value", "reason")]
  changes <- lapply(unname(as.list(changes)), as.character)
  all <- list(unclass(all), given, own$source$given, changes, plan)
  paste0(own_sign, cli::hash_obj_md5(all))
}
