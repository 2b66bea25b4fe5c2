# What the pictures share: paper and ink, one teal, one ochre, five steps for
# levels, and a sentence above that says what is seen.
#' @importFrom utils globalVariables
NULL

globalVariables(".data")

ink <- c(
  paper = "#FBF8F1",
  ink = "#1F2421",
  grey = "#6B6A63",
  line = "#DAD5C7",
  teal = "#0B5A5A",
  ochre = "#B4700F",
  wash = "#F3E7CC"
)

level_steps <- c("#A8672A", "#D09A5B", "#EAD9AE", "#4A9D94", "#0B5A5A")
level_sign_set <- c("\u25cb", "\u25d4", "\u25d1", "\u25d5", "\u25cf")

# Colour, and mark beside it, of each of n levels from the lowest.
level_colours <- function(n) {
  if (n <= 5) level_steps[pick_steps(n)] else step_ramp(n)
}

# As many steps between the lowest and the highest, none of them of a middle tone
# on which neither white nor ink can be read.
step_ramp <- function(n) {
  vapply(
    grDevices::colorRampPalette(level_steps)(n),
    bear_text,
    "",
    USE.NAMES = FALSE
  )
}

least_contrast <- 4.5 # of text on its ground: WCAG 2.1, AA

bear_text <- function(ground) {
  dark <- ink_on(ground) == "#ffffff"
  while (contrast_of(ground, ink_on(ground)) < least_contrast) {
    ground <- grDevices::colorRampPalette(
      c(ground, if (dark) "#000000" else "#ffffff")
    )(
      51
    )[
      2
    ]
  }
  ground
}

level_signs <- function(n) rep_len(level_sign_set[pick_steps(min(n, 5))], n)

pick_steps <- function(n) {
  list(5, c(1, 5), c(1, 3, 5), c(1, 2, 4, 5), 1:5)[[n]]
}

# White on what is dark, ink on what is light: whichever contrasts more.
ink_on <- function(ground) {
  if (contrast_of(ground, "#ffffff") > contrast_of(ground, ink[["ink"]])) {
    "#ffffff"
  } else {
    ink[["ink"]]
  }
}

# Contrast ratio of two colours by their relative luminance: WCAG 2.1, 1.4.3.
contrast_of <- function(one, other) {
  linear <- function(x) {
    ifelse(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055)^2.4)
  }
  rgb <- grDevices::col2rgb(c(one, other)) / 255
  light <- sort(c(0.2126, 0.7152, 0.0722) %*% linear(rgb))
  (light[2] + 0.05) / (light[1] + 0.05)
}

letter_width <- 0.011 # of a picture's panel

# Which segments of stacked bars bear the name of their kind: the first with room for
# so many letters, so that each is named once. None do when one kind has no room
# anywhere: then there is a legend.
named_once <- function(kind, letters, share) {
  room <- share > (letters + 1) * letter_width
  named <- room &
    !duplicated(
      ifelse(
        room,
        as.character(kind),
        say("plot.no_room", kind = seq_along(kind))
      )
    )
  named & all(kind[share > 0] %in% kind[named])
}

theme_paper <- function() {
  ggplot2::theme_minimal(base_size = 12) +
    ggplot2::theme(
      text = ggplot2::element_text(colour = ink[["ink"]]),
      plot.background = ggplot2::element_rect(
        fill = ink[["paper"]],
        colour = NA
      ),
      panel.grid = ggplot2::element_line(
        colour = ink[["line"]],
        linewidth = 0.3
      ),
      panel.grid.minor = ggplot2::element_blank(),
      plot.title = ggplot2::element_text(
        face = "bold",
        size = 13,
        lineheight = 1.15
      ),
      plot.subtitle = ggplot2::element_text(
        colour = ink[["grey"]],
        size = 10.5,
        lineheight = 1.1,
        margin = ggplot2::margin(b = 10)
      ),
      plot.caption = ggplot2::element_text(colour = ink[["grey"]], hjust = 0),
      plot.title.position = "plot",
      plot.caption.position = "plot",
      axis.title = ggplot2::element_text(colour = ink[["grey"]], size = 11),
      axis.text = ggplot2::element_text(colour = ink[["ink"]]),
      strip.text = ggplot2::element_text(face = "bold", hjust = 0),
      legend.position = "none",
      plot.margin = ggplot2::margin(14, 18, 12, 14)
    )
}

legend_below <- function(shown = TRUE) {
  ggplot2::theme(
    legend.position = if (shown) "bottom" else "none",
    legend.justification = "left"
  )
}

titles <- function(finding, shows, caption = NULL) {
  ggplot2::labs(
    title = broken(finding, 72),
    subtitle = broken(shows, 96),
    caption = if (!is.null(caption)) broken(caption, 104)
  )
}

broken <- function(text, width) {
  paste(strwrap(printable(text), width), collapse = "\n")
}

# Long names of items by what tells them apart: without the words with which all of
# them begin, and of a rest that is still too long the end.
short_items <- function(item, width = 14) {
  if (all(nchar(item) <= width)) return(item)
  rest <- substring(item, nchar(shared_beginning(item)) + 1)
  rest <- ifelse(
    nchar(rest) > width - 1,
    substring(rest, nchar(rest) - width + 2),
    rest
  )
  ifelse(rest == item, item, paste0("\u2026", rest))
}

shared_beginning <- function(item) {
  words <- strsplit(item, "(?<=[ _.:-])", perl = TRUE)
  most <- min(lengths(words)) - 1
  if (length(item) < 2 || most < 1) return("")
  alike <- vapply(seq_len(most), function(k) {
    length(unique(vapply(words, `[`, "", k))) == 1
  }, TRUE)
  paste(words[[1]][seq_len(sum(cumprod(alike)))], collapse = "")
}

share_scale <- function(axis, ...) {
  scale <- if (axis == "x") {
    ggplot2::scale_x_continuous
  } else {
    ggplot2::scale_y_continuous
  }
  scale(..., labels = percent_of_axis)
}

# An axis can go beyond what a share can be.
percent_of_axis <- function(x) {
  said <- paste0(ifelse(x < 0, "\u2212", ""), in_percent(round(100 * abs(x))))
  replace(said, is.na(x), NA)
}

# SVG by svglite, PDF by cairo, which knows the marks of levels; else what ggplot2
# makes of the name's end.
write_picture <- function(plot, path, width = 9, height = 5.6) {
  check_output(path)
  write_made(path, function(file) {
    ending <- tools::file_ext(path)
    device <- switch(tolower(ending),
      svg = svglite::svglite,
      pdf = grDevices::cairo_pdf,
      tolower(ending)
    )
    ggplot2::ggsave(
      file,
      plot,
      device = device,
      width = width,
      height = height,
      dpi = 144,
      bg = ink[["paper"]]
    )
  })
}

# The pictures of a sitting by name, those of them that there is something to show of.
sitting_pictures <- function(sitting, item = NULL, names = TRUE, only = NULL) {
  if (!any(was_present(sitting))) return(list())
  items <- summarise_items(sitting)
  options <- summarise_options(sitting)
  by <- section_to_compare(sitting)
  draw <- list(
    spread = function() ggplot2::autoplot(summarise_students(sitting)),
    items = function() {
      if (!all(is.na(items$discrimination))) {
        ggplot2::autoplot(items, options = options)
      }
    },
    options = function() {
      ggplot2::autoplot(
        options,
        item = item_to_draw(item, items, options),
        items = items
      )
    },
    grid = function() ggplot2::autoplot(sitting, names = names),
    standards = function() {
      drawn_if(summarise_standards(sitting, by), function(x) nrow(x) > 0)
    },
    levels = function() ggplot2::autoplot(summarise_test(sitting, by)),
    precision = function() {
      drawn_if(summarise_precision(sitting), function(x) any(!is.na(x$sem)))
    },
    scale = function() {
      drawn_if(summarise_scale(sitting), function(x) any(!is.na(x$place)))
    },
    lengths = function() {
      drawn_if(summarise_lengths(sitting), function(x) any(!is.na(x$needed)))
    },
    misconceptions = function() {
      drawn_if(summarise_misconceptions(sitting, by), function(x) nrow(x) > 0)
    }
  )
  for (unknown in setdiff(only, base::names(draw))) {
    abort_pregunta(
      "call",
      say("plot.there_is_no_picture", unknown = quoted(unknown)),
      NULL,
      did_you_mean(unknown, base::names(draw))
    )
  }
  if (!is.null(only)) {
    draw <- draw[only]
  }
  Filter(Negate(is.null), lapply(draw, function(one) one()))
}

drawn_if <- function(summary, has_something) {
  if (has_something(summary)) ggplot2::autoplot(summary)
}

# Of the answers to one item: the one asked for, else what to look at first.
item_to_draw <- function(item, items, options) {
  look <- look_first(items, options)
  if (is.null(item)) return(if (nrow(look)) look$item[1] else items$item[1])
  if (item %in% items$item) return(item)
  abort_pregunta(
    "call",
    say("plot.there_is_no_item", item = quoted(item)),
    NULL,
    did_you_mean(item, items$item)
  )
}
