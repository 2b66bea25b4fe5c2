# The standards of the report: scores and levels, side by side for the sections;
# each opens to the questions that show it and to who is below the cut.

report_standards <- function(sitting, view) {
  data <- view$tables[["standard-table"]]
  if (is.null(data)) return(NULL)
  sections <- shorten(printable(view$sections), 14)
  beside <- lapply(sections, function(section) {
    figure_column(I(section), "section", width = 96)
  })
  if (length(sections)) {
    names(beside) <- paste0("section", seq_along(sections))
  }
  columns <- c(
    list(
      standard = page_column(
        "standard",
        "standard",
        minWidth = 240
      ),
      items = figure_column("items", width = 62),
      n = figure_column("students", width = 92),
      share = bar_column("mean_score")
    ),
    beside,
    list(lowest = levels_column(190))
  )
  title <- say("page-standards.the_standards")
  page_section(
    "standards",
    title,
    slot("standards", view$texts$standards),
    wide(
      title,
      page_table(
        "standard-table",
        data,
        columns,
        "standards",
        "standard"
      )
    ),
    level_legend(sitting$settings)
  )
}

# The share of students in each level, as a strip.
levels_column <- function(width) {
  page_column(
    "students_in_each_level",
    "levels",
    rooms = "roomy",
    minWidth = width,
    align = at_start(),
    searchable = FALSE
  )
}

# `in_levels`: the share of students in each; `shown_by`: its items; `below`,
# `below_share`: who is below the cut, the lowest first.
standard_data <- function(figures, people, cut) {
  tree <- attr(figures$standards, "tree")
  levels <- names(settings_of(figures$standards)$levels)
  standards <- as.data.frame(figures$standards)
  priority <- standards$emphasis %in% "priority"
  standard <- say(
    "page-standards.priority",
    code = standards$code,
    title = or_blank(standards$title),
    priority = priority
  )
  data <- data.frame(
    standard = cell_words(standard),
    code = cell_words(standards$code),
    title = cell_words(standards$title),
    priority = priority,
    depth = depth_in_tree(standards$code, tree),
    items = standards$items,
    n = standards$n,
    share = standards$share,
    low = standards$share_low,
    high = standards$share_high,
    lowest = standards[[levels[1]]]
  )
  shares <- as.matrix(standards[levels])
  data$in_levels <- each_row(standards, function(row) unname(shares[row, ]))
  data$shown_by <- strsplit(
    cell_words(standards$shown_by),
    ";",
    fixed = TRUE
  )
  low <- if (figures$is_class) below_on_each(figures$own_standards, cut)
  data$below <- lapply(standards$code, function(code) {
    match(low[[code]]$student, people$student) - 1L
  })
  data$below_share <- lapply(standards$code, function(code) low[[code]]$share)
  cbind(data, sections_beside(figures$by_section, standards$code))
}

# A column a section with its share, and one with whether that is beyond chance.
sections_beside <- function(by_section, codes) {
  if (is.null(by_section)) return(matrix(0, length(codes), 0))
  beside <- standards_beside(by_section)
  at <- beside$at[match(codes, beside$codes), , drop = FALSE]
  columns <- lapply(seq_along(beside$groups), function(k) {
    here <- at[, k]
    data.frame(
      share = by_section$share[here],
      beyond = by_section$beyond_chance[here] %in% TRUE
    )
  })
  names <- paste0(c("section", "beyond"), rep(seq_along(columns), each = 2))
  stats::setNames(do.call(cbind, columns), names)
}

standard_texts <- function(figures) {
  standards <- figures$standards
  if (!nrow(standards)) return(NULL)
  tree <- attr(standards, "tree")
  beside <- if (!is.null(figures$by_section)) {
    say_standards(figures$by_section, tree)
  }
  limits <- c(say_thin(standards), say_out_of_reach(standards))
  limits <- html_cell(escape(limits), "help", "p")
  paste0(
    finding_line(say_standards(standards, tree)),
    if (length(beside)) html_cell(escape(beside), tag = "p"),
    paste(limits, collapse = "")
  )
}

level_legend <- function(settings) {
  levels <- names(settings$levels)
  steps <- say(
    "page-standards.from",
    level = level_chip(levels, levels),
    share = percent(unlist(settings$levels))
  )
  steps <- html_cell(steps, tag = "bdi")
  help_line(htmltools::HTML(paste(steps, collapse = " &nbsp; ")))
}
