# What reaches a terminal. Words that people typed, and names of files, are shown and
# nothing else: they cannot move the cursor, change what stands there already, or turn
# the direction of what follows.

# Each control character and each mark of direction as a dot; lines end as they did
# where `lines` says so.
printable <- function(x, lines = FALSE) {
  if (is.null(x)) return(NULL)
  x <- valid_text(x)
  unsafe <- if (lines) unsafe_within_lines else unsafe_characters
  gsub(unsafe, "\u00b7", x, perl = TRUE)
}

# C0 but for the end of a line, C1; marks and changes of direction; ends of lines and of
# paragraphs of other kinds; what is there and cannot be seen.
unsafe_within_lines <- paste0(
  "[\u0001-\u0009\u000b-\u001f\u007f-\u009f",
  "\u061c\u200b\u200e\u200f\u2028-\u202e\u2060-\u206f\ufeff\ufff9-\ufffb",
  "\U000e0000-\U000e007f]"
)
unsafe_characters <- paste0(unsafe_within_lines, "|\n")

# A byte that is no UTF-8 is shown as its number, <e9>.
valid_text <- function(x) {
  x <- enc2utf8(as.character(x))
  broken <- which(!validUTF8(x))
  x[broken] <- iconv(x[broken], "UTF-8", "UTF-8", sub = "byte")
  x
}
