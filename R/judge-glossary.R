#' What the figures mean, in plain words
#'
#' One entry a figure: what it says, what is a good value and what is not, and what a
#' small class does to it. The same words stand in the report (hold the pointer over a
#' heading), in `pregunta explain`, and in `vignette("glossary", "pregunta")`.
#'
#' @param term Names of entries, or columns of a summary; all by default.
#' @return A data frame, a row an entry: `term`; `column`: the columns that hold
#'   it, with commas; `short`: in one sentence; `meaning`, `good`, `poor` and
#'   `small`: what it says, a good value, a poor one, and small classes.
#' @section Errors: `pregunta_error_call` when there is no such entry.
#' @export
#' @examples
#' glossary("discrimination")$meaning
glossary <- function(term = NULL) {
  table <- glossary_table()
  if (is.null(term)) return(table)
  wanted <- plain_term(term)
  named <- Map(
    function(code, term, columns, also) plain_term(c(code, term, columns, also)),
    names(glossary_columns),
    table$term,
    glossary_columns,
    also_called()
  )
  find <- function(one) {
    match(
      TRUE,
      vapply(named, function(names) one %in% names, TRUE)
    )
  }
  found <- vapply(wanted, find, 0L)
  bound <- is.na(found) # a bound is explained where its figure is
  found[bound] <- vapply(
    sub(" (low|high)$", "", wanted[bound]),
    find,
    0L
  )
  if (anyNA(found)) {
    missing <- term[is.na(found)][1]
    columns <- unlist(strsplit(table$column, ", "))
    abort_pregunta(
      "call",
      say("judge-glossary.the_glossary_has_no", missing = quoted(missing)),
      NULL,
      did_you_mean(missing, c(table$term, columns, unlist(also_called())))
    )
  }
  table[unname(found), ]
}

# Other names under which each entry is looked for.
also_called <- function() {
  lapply(section_of("glossary")[names(glossary_columns)], function(entry) {
    if (!is.null(entry$also)) split_parts(entry$also, ",")[[1]]
  })
}

# The short text of an entry, for hovering over.
gloss <- function(term) glossary(term)$short

plain_term <- function(term) tolower(gsub("[_-]", " ", term))

# The terms, and the columns of summaries that each of them explains.
glossary_columns <- list(
  difficulty = c("difficulty", "mean_points"),
  interval = c(
    "difficulty_low", "difficulty_high", "alpha_low", "alpha_high",
    "discrimination_low", "discrimination_high", "mean_low", "mean_high",
    "pass_low", "pass_high"
  ),
  discrimination = "discrimination",
  upper_lower_index = "upper_lower",
  thirds = c("low", "middle", "high"),
  mastery_index = "mastery_index",
  standardised_change = "standardised",
  regression_to_the_mean = c("expected", "expected_below", "chosen_low"),
  carried_forward = c("carried", "share_carried"),
  change_after_teaching = "change",
  chance_level = "chance",
  blank = c("omitted", "not_reached"),
  distractor = c("distractor", "share"),
  option_rest_correlation = c("option_rest", "mean_rest"),
  pattern = "pattern",
  key_in_doubt = "doubt",
  mean_and_median = c("mean", "median", "mean_share"),
  standard_deviation = "sd",
  alpha = "alpha",
  alpha_without = "alpha_without",
  kr_21 = "kr21",
  lambda_2 = "lambda2",
  split_half = "split_half",
  stratified_alpha = "stratified_alpha",
  sem = "sem",
  sem_at_a_score = c("sem", "low", "high"),
  length_for_a_target = c("length_for_target", "needed", "target"),
  agreement = "agreement",
  kappa = "kappa",
  dependability = "dependability",
  place = c("place", "se", "steps"),
  fit = c("fit", "fit_p", "infit", "outfit"),
  one_scale = c("linked_share", "linked_change", "linked_gain", "linked"),
  drift = c("drift", "drift_se", "drift_p", "became"),
  with_the_rest = c("estimate", "estimate_level", "still_unsure"),
  agreement_of_markers = c("icc", "icc_mean", "equal", "adjacent"),
  unlikely_answers = c("lz", "right_though_hard", "wrong_though_easy"),
  cut = c("cut", "cut_points", "cut_se"),
  worth_its_own_score = c("worth", "by_part", "by_total"),
  two_groups = c("humps", "lower_n", "lower_mean", "upper_mean", "between_n"),
  misconception = c("likely", "now_and_then", "once", "never", "status"),
  guessing = c(
    "p_guess", "p_coded", "reads_as", "coded", "expected", "coded_expected"
  ),
  together = c("both", "odds_ratio", "p_adjusted"),
  fairness = c("class", "delta", "odds_ratio", "smd"),
  level = c("level", "unsure"),
  band = c("band", "difficulty_band", "discrimination_band"),
  beyond_chance = c("beyond_chance", "difference"),
  resampling = "bootstrap"
)

glossary_table <- function() {
  entries <- section_of("glossary")[names(glossary_columns)]
  field <- function(name) vapply(entries, function(entry) entry[[name]], "")
  data.frame(
    term = field("term"),
    column = vapply(glossary_columns, paste, "", collapse = ", "),
    short = field("short"),
    meaning = field("meaning"),
    good = field("good"),
    poor = field("poor"),
    small = field("small"),
    row.names = NULL
  )
}
