# The standards of the report: scores and levels, side by side for the sections;
# each opens to the questions that show it and to who is below the cut.

report_standards <- function(sitting, view) {
  data <- view$tables[["standard-table"]]
  if (is.null(data)) return(NULL)
  sections <- view$sections
  beside <- lapply(sections, function(section) {
    figure_column(I(shorten(printable(section), 14)), "section", width = 96)
  })
  if (length(sections)) names(beside) <- paste0("section", seq_along(sections))
  page_section(
    "standards",
    say("page-standards.the_standards"),
    slot("standards", view$texts$standards),
    wide(
      say("page-standards.the_standards"),
      page_table(
        "standard-table",
        data,
        c(
          list(
            standard = page_column("standard", "standard", minWidth = 240),
            items = figure_column("items", width = 62),
            n = figure_column("students", width = 92),
            share = bar_column("mean_score")
          ),
          beside,
          list(
            lowest = page_column(
              "students_in_each_level",
              "levels",
              rooms = "roomy",
              minWidth = 190,
              align = "left",
              searchable = FALSE
            )
          )
        ),
        "standards",
        "standard"
      )
    ),
    level_legend(sitting$settings)
  )
}

# `in_levels`: the share of students in each; `shown_by`: its items; `below`,
# `below_share`: who is below the cut, the lowest first.
standard_data <- function(figures, people, cut) {
  standards <- as.data.frame(figures$standards)
  tree <- attr(figures$standards, "tree")
  levels <- names(settings_of(figures$standards)$levels)
  priority <- standards$emphasis %in% "priority"
  data <- data.frame(
    standard = cell_words(
      say(
        "page-standards.priority",
        code = standards$code,
        title = ifelse(is.na(standards$title), "", standards$title),
        priority = priority
      )
    ),
    code = cell_words(standards$code),
    title = cell_words(standards$title),
    priority = priority,
    depth = lengths(lapply(standards$code, ancestors, standards = tree)),
    items = standards$items,
    n = standards$n,
    share = standards$share,
    low = standards$share_low,
    high = standards$share_high,
    lowest = standards[[levels[1]]]
  )
  data$in_levels <- lapply(seq_len(nrow(standards)), function(row) {
    unname(unlist(standards[row, levels]))
  })
  data$shown_by <- strsplit(cell_words(standards$shown_by), ";", fixed = TRUE)
  low <- if (figures$is_class) low_on_each(as.data.frame(figures$own_standards), cut)
  data$below <- lapply(standards$code, function(code) {
    match(low[[code]]$student, people$student) - 1L
  })
  data$below_share <- lapply(standards$code, function(code) low[[code]]$share)
  cbind(data, sections_beside(figures$by_section, standards$code))
}

low_on_each <- function(own, cut) {
  own <- own[!is.na(own$share) & own$share < cut - 1e-9, c("code", "student", "share")]
  own <- own[order(own$share), ]
  split(own, own$code)
}

# A column a section with its share, and one with whether that is beyond chance.
sections_beside <- function(by_section, codes) {
  if (is.null(by_section)) return(matrix(0, length(codes), 0))
  table <- as.data.frame(by_section)
  sections <- unique(table$section)
  columns <- lapply(sections, function(section) {
    mine <- table[table$section == section, ]
    mine <- mine[match(codes, mine$code), ]
    data.frame(share = mine$share, beyond = mine$beyond_chance %in% TRUE)
  })
  names <- paste0(c("section", "beyond"), rep(seq_along(sections), each = 2))
  stats::setNames(do.call(cbind, columns), names)
}

standard_texts <- function(figures) {
  standards <- figures$standards
  if (!nrow(standards)) return(NULL)
  tree <- attr(standards, "tree")
  paste0(
    finding_line(say_standards(standards, tree)),
    if (!is.null(figures$by_section)) {
      html_cell(escape(say_standards(figures$by_section, tree)), tag = "p")
    },
    paste(html_cell(escape(say_thin(standards)), "help", "p"), collapse = "")
  )
}

level_legend <- function(settings) {
  levels <- names(settings$levels)
  steps <- paste(
    level_chip(levels, levels),
    "from",
    percent(unlist(settings$levels)),
    collapse = " &nbsp; "
  )
  help_line(htmltools::HTML(steps))
}
