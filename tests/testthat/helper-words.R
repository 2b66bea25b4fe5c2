# A made-up language: every letter of the package's words accented, each word 40% longer,
# read from right to left, with marks of its own in numbers. What is not said through the
# words shows as plain letters; what has no room, as cut off.

made_up_letters <- function(text) {
  from <- paste(c(letters, LETTERS), collapse = "")
  to <- paste0(
    "\u00e1\u0180\u00e7\u0111\u00e9\u0192\u011d\u0125\u00ed\u0135\u0137\u013a\u1e3f",
    "\u00f1\u00f3\u1e55\u024b\u0155\u0161\u0163\u00fa\u1e7d\u0175\u1e8b\u00fd\u017e",
    "\u00c1\u0181\u00c7\u0110\u00c9\u0191\u011c\u0124\u00cd\u0134\u0136\u0139\u1e3e",
    "\u00d1\u00d3\u1e54\u024a\u0154\u0160\u0162\u00da\u1e7c\u0174\u1e8a\u00dd\u017d"
  )
  found <- gregexpr("[A-Za-z]+", text)
  regmatches(text, found) <- lapply(regmatches(text, found), vapply, function(word) {
    each <- strsplit(word, "")[[1]]
    twice <- seq_along(each) %% 5 %in% c(2, 4)
    paste(rep(each, 1 + twice), collapse = "")
  }, "")
  chartr(from, to, text)
}

# A template with the words in it made up and its slots as they are.
made_up_template <- function(text) {
  write <- function(pieces) {
    said <- vapply(pieces, function(piece) {
      if (is.character(piece)) {
        return(gsub("([{}|\\\\])", "\\\\\\1", made_up_letters(piece)))
      }
      cases <- vapply(names(piece$cases), function(case) {
        paste0("|", case, ": ", write(piece$cases[[case]]))
      }, "")
      paste0("{", piece$slot, paste(cases, collapse = ""), "}")
    }, "")
    paste(said, collapse = "")
  }
  write(internal("read_template")(text))
}

# The folder of its words, written once for all tests of a file.
made_up_words <- local({
  folder <- NULL
  function() {
    if (!is.null(folder)) return(folder)
    folder <<- tempfile("words-")
    dir.create(folder)
    walk <- function(words) {
      if (is.list(words)) return(lapply(words, walk))
      vapply(words, made_up_template, "", USE.NAMES = FALSE)
    }
    words <- all_entries()
    words <- lapply(words[setdiff(names(words), c("language", "headers"))], walk)
    language <- list(
      code = "qaa", name = "made up", covers = "everything", direction = "rtl",
      locale = "sv", decimal = ",", percent = "{n} \u2030", day = "d/M/y",
      plural = list(one = "n = 1", few = "n = 2..4 and n % 100 != 12..14")
    )
    sections <- c(list(language = language), words)
    written <- vapply(names(sections), function(name) {
      yaml::as.yaml(sections[name])
    }, "")
    path <- file.path(folder, "qaa.yml")
    writeLines(enc2utf8(paste(written, collapse = "\n")), path, useBytes = TRUE)
    folder
  }
})

words_file <- function(language = "en") {
  system.file("words", paste0(language, ".yml"), package = "pregunta")
}
all_entries <- function(language = "en") {
  yaml::read_yaml(words_file(language), eval.expr = FALSE)
}

# What code says in the made-up language, here and in processes that it begins.
in_made_up_words <- function(code) {
  before <- Sys.getenv(c("PREGUNTA_WORDS", "PREGUNTA_LANGUAGE"), NA)
  on.exit({
    Sys.unsetenv(names(before)[is.na(before)])
    if (!all(is.na(before))) do.call(Sys.setenv, as.list(before[!is.na(before)]))
  })
  Sys.setenv(PREGUNTA_WORDS = made_up_words(), PREGUNTA_LANGUAGE = "qaa")
  code
}

# What people typed into the demo in Greek letters: names, wordings, answers and keys alike,
# so that a Latin word in what is made of it is one of ours.
in_greek <- function(folder) {
  from <- paste(c(letters, LETTERS), collapse = "")
  small <- c(0x3b1:0x3c9, 0x3ca)
  to <- intToUtf8(c(small, 0x391:0x3a1, 0x3a3:0x3a9, 0x3aa, 0x3ab))
  to <- substr(paste0(to, intToUtf8(0x3d8:0x3e8)), 1, 52)
  ours <- c(
    "item", "type", "scoring", "standards", "points", "student", "code_of_standard",
    "parent", "emphasis", "action", "submitted", "attempt", "seconds", "role", "due"
  )
  paths <- list.files(folder, "[.]csv$", full.names = TRUE, recursive = TRUE)
  for (path in paths) {
    table <- utils::read.csv(path, colClasses = "character", check.names = FALSE)
    kept <- names(table) %in% c(ours, if (basename(path) == "standards.csv") "code")
    table[!kept] <- lapply(table[!kept], function(cells) {
      action <- cells %in% c("key", "accept", "drop", "credit", "points", "excuse", "extra")
      ifelse(action, cells, chartr(from, to, cells))
    })
    utils::write.csv(table, path, row.names = FALSE, fileEncoding = "UTF-8")
  }
  for (path in list.files(folder, "^test[.]yml$", full.names = TRUE, recursive = TRUE)) {
    lines <- readLines(path)
    title <- startsWith(lines, "title: ")
    lines[title] <- paste0("title: ", chartr(from, to, sub("title: ", "", lines[title])))
    writeLines(enc2utf8(lines), path, useBytes = TRUE)
  }
  record <- file.path(folder, "record.yml")
  if (file.exists(record)) {
    lines <- readLines(record)
    named <- grepl("^  .*: ", lines)
    of <- sub(": .*", "", lines[named])
    lines[named] <- paste0(chartr(from, to, of), substring(lines[named], nchar(of) + 1))
    writeLines(enc2utf8(lines), record, useBytes = TRUE)
  }
  folder
}
