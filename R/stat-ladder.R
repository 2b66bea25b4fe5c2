#' Who is where on a ladder of skills?
#'
#' Skills that are passed one after the other: the level each student has passed,
#' the one being worked on now, and pass marks that were forgotten.
#'
#' @param scores A data frame with `student`, `code`, `share` (several rows of one student
#'   and code count by the best), such as [summarise_standards()] by student, or
#'   [growth()].
#' @param ladder Codes from the first skill to the last.
#' @param pass Share from which a skill is passed.
#' @return A data frame, a row a student: `student` (with `name` and `section` where
#'   `scores` has them), `passed`: how many skills from the first on are passed one after
#'   the other; `working_on`: the next one, `NA` at the top; `forgotten`: skills below a
#'   passed one that are not passed, or have no result, with `;` between: perhaps a mark
#'   was forgotten; `top`: passed all.
#' @section Errors: `pregunta_error_call` when the ladder has fewer than two skills or
#'   none of them has a result.
#' @export
#' @examples
#' knots <- read_sitting(demo_path("knots"))
#' scores <- summarise_standards(knots, by = "student")
#' climbed <- climb_ladder(scores, c("KN.1", "KN.2", "KN.3"))
#' table(climbed$passed)
#' subset(climbed, forgotten != "", c(name, passed, working_on, forgotten))
climb_ladder <- function(scores, ladder, pass = 0.7) {
  if (length(ladder) < 2 || anyDuplicated(ladder)) {
    abort_pregunta(
      "call",
      say("stat-ladder.a_ladder_has_at"),
      say("stat-ladder.given", ladder = some_of(ladder, 8)),
      say("stat-ladder.give_their_codes_from")
    )
  }
  table <- as.data.frame(scores)
  mine <- table[table$code %in% ladder & !is.na(table$share), , drop = FALSE]
  if (!nrow(mine)) {
    abort_pregunta(
      "call",
      say("stat-ladder.no_skill_of_the"),
      say("stat-ladder.ladder", ladder = some_of(ladder, 8)),
      did_you_mean(ladder[1], unique(scores$code))
    )
  }
  people <- mine[
    !duplicated(mine$student),
    intersect(c("student", "name", "section"), names(mine)),
    drop = FALSE
  ]
  best <- tapply(
    mine$share,
    list(factor(mine$student, people$student), factor(mine$code, ladder)),
    max
  )
  is_passed <- !is.na(best) & best >= pass - 1e-9
  passed <- apply(is_passed, 1, function(row) {
    match(FALSE, row, nomatch = length(row) + 1) - 1
  })
  highest <- apply(
    is_passed,
    1,
    function(row) max(c(0, which(row)))
  )
  forgotten <- vapply(seq_len(nrow(people)), function(k) {
    below <- seq_len(highest[k])
    paste(ladder[below[!is_passed[k, below]]], collapse = ";")
  }, "")
  table <- data.frame(
    people,
    passed = unname(passed),
    working_on = ladder[passed + 1],
    forgotten = forgotten,
    top = unname(passed == length(ladder))
  )
  new_summary(
    table,
    "ladder",
    attr(scores, "settings"),
    NULL,
    ladder = ladder,
    tree = attr(scores, "tree")
  )
}
