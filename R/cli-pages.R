# What people hold in their hands: reports, slips, the workbook, pictures.

run_report <- function(call) {
  check_choice("--for", call[["for"]], report_audiences)
  if (!is_test_folder(call$folder) && dir.exists(call$folder) && length(test_folders(call$folder))) {
    return(run_reports(call))
  }
  quiz <- read_for_figures(call)
  path <- if (is.null(call$out)) file.path(call$folder, report_names[[call[["for"]]]]) else call$out
  write_report(quiz, path, !isTRUE(call$`no-names`), call[["for"]], call[["by"]],
    read_plan(file.path(call$folder, "plan.csv")))
  message("Report written: ", path)
  0L
}

report_names <- c(teacher = "report.html", coordinator = "report-coordinator.html", head = "report-head.html")

# Of every test folder in this folder.
run_reports <- function(call) {
  table <- write_reports(call$folder, call$out, !isTRUE(call$`no-names`), call[["for"]], call[["by"]])
  failed <- table[!is.na(table$problem), ]
  for (k in seq_len(nrow(failed))) message(failed$folder[k], ": ", failed$problem[k])
  message(count_of(sum(!is.na(table$file)), "report"), " written. Open ", attr(table, "index"))
  if (nrow(failed)) 1L else 0L
}
