# The demo's verbs as whole processes against an empty Rscript, in one run.
# The targets: items within 3 times, report within 10 times.
script <- normalizePath("exec/pregunta")
demo <- pregunta::demo_path()
rscript <- file.path(R.home("bin"), "Rscript")

# Median of several runs, the kinds taking turns so that noise is shared.
calls <- list(
  "Rscript -e 1" = c("-e", "1"),
  "pregunta items" = c(script, "items", demo),
  "pregunta test" = c(script, "test", demo),
  "pregunta check" = c(script, "check", demo),
  "pregunta report" = c(script, "report", demo, "--out", tempfile(fileext = ".html"))
)
time_one <- function(arguments) {
  system.time(system2(rscript, shQuote(arguments), stdout = FALSE, stderr = FALSE))[[
    "elapsed"
  ]]
}
times <- replicate(7, vapply(calls, time_one, 0))
middle <- apply(times, 1, stats::median)
for (name in names(middle)) {
  cat(sprintf(
    "%-18s %6.3f s  %5.1f times Rscript -e 1\n",
    name,
    middle[name],
    middle[name] / middle[1]
  ))
}
