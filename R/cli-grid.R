# Students by standards: a row a student, a column a standard.

put_grid <- function(call, sitting, standards) {
  # The order is that of the rows of students, not of the scores behind them.
  narrowed <- shown_rows(call[names(call) != "sort"], standards)
  grid <- view_sorted(standards_grid(sitting, narrowed), call$sort)
  nobody <- say("cli-grid.nobody_is_below", below = call$below)
  put_out(
    call,
    grid,
    function(grid) show_grid(grid, call$below),
    empty = nobody
  )
}

# The codes that fit, the weakest of them where not all do.
show_grid <- function(grid, below = NULL) {
  codes <- attr(grid, "codes")
  levels <- attr(grid, "levels")
  rows <- match(grid$student, rownames(attr(grid, "level")))
  head <- paste0(codes, attr(grid, "priority"))
  weakest <- order(vapply(codes, function(code) mean(grid[[code]], na.rm = TRUE), 0))
  who <- list(
    text_column(
      "student",
      shorten(ifelse(is.na(grid$name), grid$student, grid$name), 18)
    ),
    if (length(unique(grid$section)) > 1) {
      text_column("section", shorten(ifelse(is.na(grid$section), "", grid$section), 12))
    },
    share_column("whole", grid$share)
  ) |>
    Filter(f = Negate(is.null))
  kept <- columns_that_fit(pmax(nchar(head, "width"), 7), weakest, who)
  cells <- lapply(kept, function(k) {
    level <- attr(grid, "level")[rows, k]
    share <- grid[[codes[k]]]
    mark <- ifelse(attr(grid, "unsure")[rows, k], "?", " ")
    text_column(
      I(head[k]),
      ifelse(
        is.na(share),
        "",
        paste0(
          level_signs(length(levels))[match(level, levels)],
          " ",
          formatC(percent(share), width = 4),
          mark
        )
      ),
      "right",
      colour = ifelse(level %in% levels[1], "ochre", "teal")
    )
  })
  c(
    format_table(c(who, cells)),
    "",
    wrap_lines(
      say(
        "cli-grid.students_unsure_the_95",
        n = nrow(grid),
        n_levels = paste(level_signs(length(levels)), levels, collapse = "  "),
        any_grid = any(nzchar(attr(grid, "priority"))),
        below = below,
        no_below = is.null(below)
      )
    ),
    if (length(kept) < length(codes)) {
      wrap_lines(
        say(
          "cli-grid.the_weakest_of_standards",
          n = length(kept),
          n_codes = length(codes)
        )
      )
    }
  )
}

#' @export
print.pregunta_standards_grid <- function(x, ...) print_lines(x, show_grid)
