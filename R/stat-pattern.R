# How the wrong answers to a choice item fall: piled up on one option, which
# points to a misconception, or spread evenly, which points to guessing.

least_wrong <- 8

option_patterns <- function(table, items, group) {
  pattern <- rep(NA_character_, nrow(table))
  choice <- items$item[items$type == "choice"]
  rows <- which(table$item %in% choice)
  sets <- split(rows, paste(group[rows], match(table$item[rows], choice)))
  for (set in sets) {
    wrong <- set[!table$key[set] & table$option[set] != "(blank)"]
    pattern[set] <- wrong_pattern(table$count[wrong])
  }
  pattern
}

wrong_pattern <- function(count) {
  k <- length(count)
  total <- sum(count)
  if (k < 2 || total < least_wrong) return("too few to tell")
  p <- stats::pbinom(max(count) - 1, total, 1 / k, lower.tail = FALSE)
  if (p * k < 0.05) return("shared")
  q <- count[count > 0] / total
  if (-sum(q * log(q)) / log(k) >= 0.9) "spread" else "mixed"
}
