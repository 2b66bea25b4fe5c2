#' Where the demo lies
#'
#' A made-up harbour school's unit test "Tides and Currents" comes with the
#' package as a test folder: 84 students in three sections, 24 items of every
#' type. Beside it, in `follow-up`, `knots`, `knots-again` and `logbook`, lie a
#' quiz three weeks later, a check of skills and its second round, and a rated piece of
#' work; in `weather` and `weather-again` two tests of November and February that share
#' ten questions, the second of which is easier; in `pool` questions to draw a follow-up
#' from.
#'
#' @param name `""` for the unit test, or the name of one of the others.
#' @return A path, to be read with [read_sitting()].
#' @export
#' @examples
#' read_sitting(demo_path("knots"))
demo_path <- function(name = "") {
  file.path(
    system.file("extdata", "demo", package = "pregunta"),
    name
  )
}
