# What was read, and what does not add up.

report_notes <- function(sitting, names) {
  tags <- htmltools::tags
  findings <- check_sitting(sitting)
  if (!names) findings <- without_people(findings)
  page_section(
    "notes",
    "Notes on the data",
    lapply(describe_sitting(sitting)[-1], function(line) tags$p(printable(line))),
    if (nrow(findings)) {
      wide(
        "Notes on the data",
        page_table(
          "notes-table",
          note_data(findings),
          list(
            severity = page_column("Kind", "severity", width = 84),
            where = page_column("Where", minWidth = 120),
            what = page_column("What", minWidth = 220),
            action = page_column("What to do", minWidth = 220)
          ),
          "notes"
        )
      )
    } else {
      tags$p("Everything adds up.")
    }
  )
}

note_data <- function(findings) {
  where <- paste0(
    findings$file,
    ifelse(is.na(findings$line), "", paste0(", line ", findings$line))
  )
  what <- paste0(
    ifelse(is.na(findings$column), "", paste0(findings$column, " ")),
    ifelse(is.na(findings$value), "", paste0("\u201c", findings$value, "\u201d ")),
    findings$finding,
    "."
  )
  data.frame(
    severity = findings$severity,
    where = printable(where),
    what = printable(what),
    action = printable(findings$action)
  )
}
