#' What would a change of the questions do, before it is made?
#'
#' @param sitting A [sitting()].
#' @param key,accept Named: the items' new keys, `c(Q7 = "C")`, and answers
#'   that are right too, `c(Q17 = "eb")`.
#' @param drop,credit Items that do not count, or earn everybody their points.
#' @return A data frame, a row a student whose points, open points, level or
#'   band move, the largest change of share first: `student`, `name`,
#'   `section`, `points_before`, `points_after`, `open_before`, `open_after`,
#'   `share_before`, `share_after`, `level_before`, `level_after`, and with the
#'   setting `bands` `band_before`, `band_after`. Its attributes: `test` and
#'   `items`, data frames of the figures of the test and of the changed items
#'   before and after (`figure`, `before`, `after`; items with `item`);
#'   `changes`, the rows that [adjust()] would add; `after`, the sitting with
#'   them.
#' @section Errors: as of [adjust()].
#' @export
#' @examples
#' what_if(read_sitting(demo_path()), key = c(Q7 = "C"))
what_if <- function(sitting, key = NULL, accept = NULL, drop = NULL,
                    credit = NULL) {
  rows <- rbind(
    change_rows("key", names(key), key),
    change_rows("accept", names(accept), accept),
    change_rows("drop", drop),
    change_rows("credit", credit)
  )
  if (is.null(rows)) {
    abort_pregunta(
      "call",
      say("stat-what-if.what_if_needs_a"),
      NULL,
      say("stat-what-if.give_a_key_an")
    )
  }
  compare_changes(sitting, with_changes(sitting, rows), rows)
}

change_rows <- function(action, item, value = NA) {
  if (!length(item)) return(NULL)
  data.frame(
    student = NA_character_,
    item = as_text(item),
    action = action,
    value = as_text(unname(value)),
    reason = NA_character_
  )
}

compare_changes <- function(before, after, rows) {
  items <- unique(rows$item[!is.na(rows$item)])
  new_summary(
    moved_students(summarise_students(before), summarise_students(after)),
    "what_if",
    after$settings,
    NULL,
    test = figures_beside(
      summarise_test(before),
      summarise_test(after),
      c(
        "n", "items", "points", "mean", "mean_share", "median", "sd", "alpha",
        "sem"
      )
    ),
    items = do.call(
      rbind,
      lapply(items, function(item) {
        cbind(
          item = item,
          figures_beside(
            one_item(before, item),
            one_item(after, item),
            c("difficulty", "discrimination", "upper_lower", "alpha_without")
          )
        )
      })
    ),
    changes = rows,
    n = sum(was_present(after)),
    after = after
  )
}

one_item <- function(sitting, item) {
  items <- summarise_items(sitting)
  items[items$item == item, ]
}

figures_beside <- function(before, after, figures) {
  pick <- function(table) {
    vapply(
      figures,
      function(figure) as.numeric(table[[figure]][1]),
      0
    )
  }
  data.frame(
    figure = figures,
    before = unname(pick(before)),
    after = unname(pick(after))
  )
}

moved_students <- function(before, after) {
  fields <- intersect(
    c("points", "open", "share", "level", "band"),
    names(before)
  )
  differs <- function(field) {
    !(before[[field]] == after[[field]] |
      (is.na(before[[field]]) & is.na(after[[field]])))
  }
  different <- lapply(setdiff(fields, "share"), function(field) {
    differs(field) %in% c(TRUE, NA)
  })
  moved <- which(Reduce(`|`, different))
  table <- before[moved, c("student", "name", "section")]
  for (field in fields) {
    table[[paste0(field, "_before")]] <- before[[field]][moved]
    table[[paste0(field, "_after")]] <- after[[field]][moved]
  }
  by <- abs(table$share_after - table$share_before)
  table <- plain_rows(table[order(-or_else(by, Inf), table$student), ])
  table
}
