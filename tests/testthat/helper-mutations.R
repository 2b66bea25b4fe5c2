# Ways to break a file: functions of its bytes.

mutations <- list(
  cut_short = function(bytes) bytes[seq_len(sample(length(bytes), 1))],
  lose_byte = function(bytes) bytes[-sample(length(bytes), 1)],
  change_byte = function(bytes) {
    replace(bytes, sample(length(bytes), 1), as.raw(sample(1:255, 1)))
  },
  zero_byte = function(bytes) append(bytes, as.raw(0), sample(length(bytes), 1)),
  stray_quote = function(bytes) append(bytes, charToRaw("\""), sample(length(bytes), 1)),
  stray_comma = function(bytes) append(bytes, charToRaw(","), sample(length(bytes), 1)),
  stray_break = function(bytes) append(bytes, charToRaw("\n"), sample(length(bytes), 1)),
  other_separator = function(bytes) {
    charToRaw(gsub(",", sample(c(";", "\t", "|"), 1), rawToChar(bytes), fixed = TRUE))
  },
  twice_a_line = function(bytes) {
    on_lines(bytes, function(lines) {
      append(lines, sample(lines, 1), sample(length(lines), 1))
    })
  },
  lose_a_line = function(bytes) {
    on_lines(bytes, function(lines) lines[-sample(length(lines), 1)])
  },
  shuffle_lines = function(bytes) on_lines(bytes, sample),
  swap_words = function(bytes) {
    on_lines(bytes, function(lines) {
      gsub(sample(c("A", "1", "choice", "Q2", "s0"), 1), "~", lines)
    })
  },
  empty = function(bytes) raw(0)
)

on_lines <- function(bytes, change) {
  charToRaw(
    paste0(paste(change(strsplit(rawToChar(bytes), "\n")[[1]]), collapse = "\n"), "\n")
  )
}
