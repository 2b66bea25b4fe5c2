write_report <- function(sitting, path = "report.html", names = TRUE) {
  stop("not yet")
}
