# Tables for the terminal: columns that fit, bars for shares, colour only where
# it is wanted. A cell is data: nothing in it can move the cursor.

table_width <- 100

text_column <- function(header, values, align = "left", colour = NULL,
                        shrink = FALSE) {
  said <- if (is.double(values)) as_typed(values) else as.character(values)
  values <- printable(or_blank(values, said))
  list(
    header = printable(heading_for(header)),
    values = values,
    align = align,
    colour = colour,
    shrink = shrink
  )
}

# Columns of figures; `...` is what text_column() takes.
share_column <- function(header, share, ...) {
  text_column(header, percent(share), "right", ...)
}

number_column <- function(header, x, digits = 2, ...) {
  text_column(header, number(x, digits), "right", ...)
}

interval_column <- function(header, low, high, ...) {
  text_column(header, between(low, high), "right", ...)
}

# A bar with the share beside it.
gauge_column <- function(header, share, width = 10, ...) {
  text_column(
    header,
    paste(bar(share, width), pad(percent(share), "right")),
    ...
  )
}

# `...`: columns, lists of them, or NULL for one that is left out.
format_table <- function(..., width = table_width) {
  columns <- do.call(
    c,
    lapply(list(...), function(part) {
      if (is.null(part$header)) part else list(part)
    })
  )
  columns <- fit_columns(Filter(Negate(is.null), columns), width)
  columns <- in_lines(columns)
  cells <- lapply(columns, function(column) {
    padded <- pad(c(column$header, column$values), column$align)
    if (identical(column, columns[[length(columns)]])) padded <- trimws(padded, "right")
    list(header = padded[1], values = paint(padded[-1], column$colour))
  })
  side_by_side <- function(part) {
    parts <- lapply(cells, `[[`, part)
    trimws(do.call(paste, c(parts, sep = "  ")), "right")
  }
  c(paint(side_by_side("header"), "faint"), side_by_side("values"))
}

# A row whose cells are wrapped takes as many lines as the longest of them.
in_lines <- function(columns) {
  lines <- lapply(columns, function(column) strsplit(column$values, "\n", fixed = TRUE))
  each <- do.call(pmax, c(lapply(lines, lengths), 1L))
  if (all(each <= 1)) return(columns)
  row <- rep(seq_along(each), each)
  Map(function(column, lines) {
    column$values <- unlist(Map(function(one, n) {
      c(one, rep("", n - length(one)))
    }, lines, each))
    if (length(column$colour) > 1) column$colour <- column$colour[row]
    column
  }, columns, lines)
}

# The columns that may give way give way until the table fits: what people typed is cut,
# what we say ("wrap") is wrapped.
fit_columns <- function(columns, width) {
  wide <- vapply(columns, function(column) {
    max(nchar(c(column$header, column$values), "width"))
  }, 0)
  over <- sum(wide) + 2 * (length(columns) - 1) - width
  for (k in which(!vapply(columns, function(column) isFALSE(column$shrink), TRUE))) {
    if (over <= 0) break
    room <- max(12, wide[k] - over)
    over <- over - (wide[k] - room)
    columns[[k]]$values <- if (identical(columns[[k]]$shrink, "wrap")) {
      wrapped(columns[[k]]$values, room)
    } else {
      shorten(columns[[k]]$values, room)
    }
  }
  columns
}

# Blanks in front stay, as those that line figures up.
wrapped <- function(text, width) {
  long <- which(nchar(text, "width") > width)
  text[long] <- vapply(text[long], function(one) {
    front <- sub("^( *).*$", "\\1", one)
    paste(strwrap(one, width + 1, initial = front), collapse = "\n")
  }, "")
  text
}

# Of columns of these widths those that fit beside others, taken in an order.
columns_that_fit <- function(wide, order, beside) {
  taken <- sum(
    vapply(beside, function(column) {
      max(nchar(c(column$header, column$values), "width")) + 2
    }, 0)
  )
  sort(order[cumsum(wide[order] + 2) <= table_width + 2 - taken])
}

pad <- function(x, align) {
  gap <- strrep(" ", max(nchar(x, "width")) - nchar(x, "width"))
  if (align == "right") paste0(gap, x) else paste0(x, gap)
}

bar <- function(share, cells = 10) {
  filled <- round_half_up(cells * pmax(0, pmin(1, or_else(share, 0))))
  ifelse(
    is.na(share),
    strrep(" ", cells),
    paste0(strrep("\u2588", filled), strrep("\u2591", cells - filled))
  )
}

# colour: one for all lines or one each; NA is none.
paint <- function(text, colour) {
  if (is.null(colour) || !colour_wanted()) return(text)
  many <- grepl("256color", Sys.getenv("TERM"), fixed = TRUE)
  old <- options(cli.num_colors = if (many) 256L else 8L)
  on.exit(options(old))
  colour <- rep_len(colour, length(text))
  for (one in setdiff(colour, NA)) {
    here <- which(colour == one & nzchar(text))
    text[here] <- paint_style(one, many)(text[here])
  }
  text
}

# What stands above a table.
bold_line <- function(text) paint(printable(text), "bold")

# Legible on light and dark ground; the colours are those that the terminal's own cube
# of 256 holds next to the teal and ochre of the pages.
paint_style <- function(colour, many) {
  switch(colour,
    bold = cli::style_bold,
    faint = cli::style_dim,
    teal = if (many) cli::make_ansi_style("#006666") else cli::col_cyan,
    ochre = if (many) cli::make_ansi_style("#996600") else cli::col_yellow
  )
}

# What people typed cannot move the cursor here either.
# initial: what stands before the first line, in the room of the indent.
wrap_lines <- function(text, indent = 0, exdent = indent, width = table_width,
                       initial = NULL) {
  if (is.null(initial)) {
    return(strwrap(
      printable(text),
      width = width + 1,
      indent = indent,
      exdent = exdent
    ))
  }
  strwrap(
    printable(text),
    width = width + 1,
    initial = initial,
    prefix = strrep(" ", exdent)
  )
}

# The groups of a table; those inside others indented below them.
group_columns <- function(table, by = attr(table, "by")) {
  if (!length(by) || identical(by, "student") || !all(by %in% names(table))) {
    return(list())
  }
  if (length(by) == 1) {
    return(list(text_column(I(column_words(by)), table[[by]], shrink = TRUE)))
  }
  depth <- group_depths(table, by)
  innermost <- as.matrix(as.data.frame(table)[by])[
    cbind(seq_along(depth), depth)
  ]
  list(text_column(
    I(paste(column_words(by), collapse = " > ")),
    paste0(strrep("  ", depth - 1), innermost),
    shrink = TRUE
  ))
}
