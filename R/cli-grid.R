# Students by standards: a row a student, a column a standard.

put_grid <- function(call, quiz, standards) {
  grid <- standards_grid(quiz, standards)
  nobody <- paste0("Nobody is below ", call$below, ".")
  put_out(
    call,
    sort_rows(call, grid),
    function(grid) show_grid(grid, call),
    empty = nobody
  )
}

# Shares with the level and whether it is unsure beside them, as attributes; the
# weakest student first. Students and standards without a result are not in it.
standards_grid <- function(quiz, standards) {
  standards <- standards[!is.na(standards$share), ]
  codes <- intersect(
    c(tree_order(attr(standards, "tree")), unique(standards$code)),
    standards$code
  )
  people <- summarise_students(quiz)
  people <- people[
    people$student %in% standards$student,
    c("student", "name", "section", "share", "level")
  ]
  people <- plain_rows(people[order(people$share, people$student), ])
  at <- cbind(match(standards$student, people$student), match(standards$code, codes))
  wide <- function(value, empty) {
    cells <- matrix(
      empty,
      nrow(people),
      length(codes),
      dimnames = list(people$student, codes)
    )
    cells[at] <- value
    cells
  }
  shares <- wide(standards$share, NA_real_)
  structure(
    cbind(people, as.data.frame(shares, check.names = FALSE)),
    codes = codes,
    level = wide(standards$level, NA_character_),
    unsure = wide(standards$unsure %in% TRUE, FALSE),
    priority = priority_mark(standards)[match(codes, standards$code)],
    levels = names(quiz$settings$levels)
  )
}

# The codes that fit, the weakest of them where not all do.
show_grid <- function(grid, call) {
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
    text_column("whole", percent(grid$share), "right")
  ) |>
    Filter(f = Negate(is.null))
  kept <- columns_that_fit(pmax(nchar(head, "width"), 7), weakest, who)
  cells <- lapply(kept, function(k) {
    level <- attr(grid, "level")[rows, k]
    share <- grid[[codes[k]]]
    mark <- ifelse(attr(grid, "unsure")[rows, k], "?", " ")
    text_column(
      head[k],
      ifelse(
        is.na(share),
        "",
        paste0(
          level_signs(length(levels))[match(level, levels)], " ",
          formatC(percent(share), width = 4), mark
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
      paste0(
        count_of(nrow(grid), "student"), ". ",
        paste(level_signs(length(levels)), levels, collapse = "  "),
        "   ? unsure: the 95% interval of the score reaches into another level.",
        if (any(nzchar(attr(grid, "priority")))) " ! a priority standard.",
        if (!is.null(call$below)) paste0(" Only scores below ", call$below, " are shown.")
      )
    ),
    if (length(kept) < length(codes)) {
      wrap_lines(
        paste0(
          "The weakest ", length(kept), " of ", length(codes),
          " standards fit here; all of them with --grid --format csv."
        )
      )
    }
  )
}
