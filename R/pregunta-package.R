#' pregunta: see how a classroom test and each of its questions did
#'
#' Start with [read_sitting()] on a test folder, then ask [summarise_test()],
#' [summarise_items()], [summarise_options()], [summarise_standards()] and
#' [summarise_students()]; [write_report()] puts all of it on one page.
#' `vignette`-length introductions are in the README; every figure's formula
#' and source is on the help page of the function that gives it.
#'
#' @keywords internal
#' @useDynLib pregunta, .registration = TRUE
#' @importFrom Rcpp evalCpp
"_PACKAGE"
