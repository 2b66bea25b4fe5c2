# What was read, and what does not add up.

report_notes <- function(sitting, names) {
  tags <- htmltools::tags
  findings <- check_sitting(sitting)
  if (!names) {
    findings <- without_people(findings)
  }
  page_section(
    "notes",
    say("page-notes.notes_on_the_data"),
    lapply(describe_sitting(sitting)[-1], function(line) {
      tags$p(printable(line))
    }),
    if (nrow(findings)) {
      wide(
        say("page-notes.notes_on_the_data"),
        page_table(
          "notes-table",
          note_data(findings),
          list(
            severity = page_column(
              "kind",
              "severity",
              width = 84
            ),
            where = page_column("where", minWidth = 120),
            what = page_column("what", minWidth = 220),
            action = page_column("what_to_do", minWidth = 220)
          ),
          "notes"
        )
      )
    } else {
      tags$p(say("page-notes.everything_adds_up"))
    }
  )
}

note_data <- function(findings) {
  where <- say(
    "page-notes.line",
    file = findings$file,
    line = findings$line,
    no_line = is.na(findings$line)
  )
  what <- paste0(
    or_blank(findings$column, paste0(findings$column, " ")),
    or_blank(
      findings$value,
      paste0(cited(findings$value), " ")
    ),
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
