# Whether the scores bear what is to be done with them, and the words of the page.

report_trust <- function(view) {
  decisions <- view$tables[["decision-table"]]
  page_section(
    "trust",
    say("page-trust.can_the_scores_be"),
    slot("trust", view$texts$trust),
    if (nrow(decisions)) {
      wide(
        say("page-trust.levels"),
        page_table(
          "decision-table",
          decisions,
          list(
            decision = page_column("level"),
            cut = figure_column("from", "percent", width = 90),
            passed = figure_column(
              "reached_by",
              "of",
              width = 120
            ),
            agreement = figure_column(
              "same_again",
              "percent",
              "agreement",
              120
            ),
            kappa = figure_column("kappa", "number", "kappa", 90)
          ),
          "levels"
        )
      )
    }
  )
}

decision_data <- function(decisions) {
  decisions$decision <- words_for(level_words(decisions$decision), "decisions")
  decisions <- as.data.frame(decisions)[
    !is.na(decisions$agreement) & !is.na(decisions$cut),
  ]
  data.frame(
    decision = cell_words(decisions$decision),
    cut = decisions$cut,
    passed = decisions$passed,
    of = decisions$n,
    agreement = decisions$agreement,
    kappa = decisions$kappa
  )
}

trust_texts <- function(figures) {
  test <- figures$test
  if (!test$n) return(NULL)
  lines <- c(
    say_reliability(test),
    say_forms(test),
    say_length(test),
    say_decisions(figures$decisions),
    if (test$n_complete < test$n) {
      say("page-trust.from_the_students_with", n_complete = test$n_complete)
    }
  )
  paste(html_cell(escape(lines), tag = "p"), collapse = "")
}

# The words of this page, for a finger or paper, where nothing hovers.
page_terms <- c(
  "difficulty", "interval", "thirds", "discrimination", "blank", "pattern",
  "alpha", "sem", "agreement", "kappa", "level"
)

report_glossary <- function() {
  tags <- htmltools::tags
  entries <- glossary(page_terms)
  tags$section(
    id = "glossary",
    tags$details(
      tags$summary(say("page-trust.what_the_words_mean")),
      tags$dl(
        each_row(entries, function(row) {
          htmltools::tagList(
            tags$dt(entries$term[row]),
            tags$dd(paste(entries$short[row], entries$meaning[row]))
          )
        })
      )
    )
  )
}
