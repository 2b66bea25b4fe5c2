# The codes that fit, the weakest of them where not all do.
show_grid <- function(grid, below = NULL) {
  codes <- attr(grid, "codes")
  priority <- attr(grid, "priority")
  head <- paste0(codes, priority)
  means <- vapply(
    codes,
    function(code) mean(grid[[code]], na.rm = TRUE),
    0
  )
  who <- grid_people(grid)
  kept <- columns_that_fit(
    pmax(nchar(head, "width"), 7),
    order(means),
    who
  )
  lines <- format_table(
    who,
    lapply(kept, function(k) grid_column(grid, k, head[k]))
  )
  levels <- attr(grid, "levels")
  signs <- paste(
    level_signs(length(levels)), level_words(levels), collapse = "  "
  )
  c(
    lines,
    "",
    wrap_lines(
      say(
        "cli-grid.students_unsure_the_95",
        n = nrow(grid),
        n_levels = signs,
        any_grid = any(nzchar(priority)),
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

grid_people <- function(grid) {
  name <- shorten(name_or_id(grid), 18)
  section <- shorten(or_blank(grid$section), 12)
  several <- length(unique(grid$section)) > 1
  columns <- list(
    text_column("student", name),
    if (several) text_column("section", section),
    share_column("whole", grid$share)
  )
  Filter(Negate(is.null), columns)
}

# The k-th standard: the sign of the level, the share, and whether it is unsure.
grid_column <- function(grid, k, header) {
  rows <- match(grid$student, rownames(attr(grid, "level")))
  levels <- attr(grid, "levels")
  level <- attr(grid, "level")[rows, k]
  share <- grid[[attr(grid, "codes")[k]]]
  sign <- level_signs(length(levels))[match(level, levels)]
  mark <- ifelse(attr(grid, "unsure")[rows, k], "?", " ")
  cell <- paste0(
    sign, " ", formatC(percent(share), width = 4), mark
  )
  text_column(
    I(header),
    or_blank(share, cell),
    "right",
    colour = ifelse(level %in% levels[1], "ochre", "teal")
  )
}

#' @export
print.pregunta_standards_grid <- function(x, ...) print_lines(x, show_grid)
