# Broken files of every kind that there is a reader for. A case is a seed: it takes a kind
# of file, breaks one of that kind by its structure or by its bytes, and runs the calls
# that read it. What comes back is told by an outcome (see fuzz_outcome()).

# ---- what is read ------------------------------------------------------------------

# Each a function that puts files into a folder and gives a list: `broken`, the one to be
# broken, and `calls`, the words of each call that is to read it.
fuzz_targets <- function() {
  demo <- demo_path()
  exports <- system.file("extdata", "exports", package = "pregunta")
  small <- c(
    "responses.csv", "items.csv", "options.csv", "students.csv", "standards.csv",
    "misconceptions.csv", "test.yml"
  )
  # The demo with a class of 24, so that a case is quick.
  place_demo <- function(folder) {
    test <- file.path(folder, "t")
    dir.create(test)
    file.copy(file.path(demo, small), test)
    path <- file.path(test, "responses.csv")
    writeLines(head(readLines(path), 25), path)
    writeLines(
      c(
        "student,item,action,value,reason", ",Q7,key,C,doubt", "h003,Q3,excuse,,late",
        "h002,,extra,1,kind"
      ),
      file.path(test, "adjustments.csv")
    )
    test
  }
  of_demo <- function(name, calls) {
    function(folder) {
      test <- place_demo(folder)
      list(
        broken = file.path(test, name),
        calls = lapply(calls, function(call) c(call[1], test, call[-1]))
      )
    }
  }
  looked_at <- list("check", "items", c("students", "--by", "section"), "standards")
  tables <- lapply(stats::setNames(nm = c(small, "adjustments.csv")), of_demo, looked_at)
  of_export <- function(name, words = NULL) {
    function(folder) {
      path <- file.path(folder, basename(name))
      file.copy(file.path(exports, name), path)
      new <- c("new", file.path(folder, "made"), "--from", path, words)
      list(broken = path, calls = list(new))
    }
  }
  key <- c("--key", file.path(demo, "items.csv"))
  read <- lapply(
    stats::setNames(nm = setdiff(
      list.files(exports, "[.]"), c("case.json", "skills.csv")
    )),
    of_export
  )
  read$`wide-answers.csv` <- of_export("wide-answers.csv", key)
  beside <- function(flag, file) {
    function(folder) {
      path <- file.path(folder, basename(file))
      file.copy(file, path)
      list(broken = path, calls = list(c(
        "new", file.path(folder, "made"), "--from",
        file.path(exports, "wide-marks.tsv"), flag, path
      )))
    }
  }
  roster <- function(folder) {
    path <- file.path(folder, "roster")
    file.copy(file.path(exports, "oneroster"), folder, recursive = TRUE)
    path <- file.path(folder, "oneroster")
    list(broken = sample(list.files(path, full.names = TRUE), 1), calls = list(c(
      "new", file.path(folder, "made"), "--from",
      file.path(exports, "wide-marks.tsv"), "--students", path
    )))
  }
  with_record <- function(broken) {
    function(folder) {
      test <- file.path(demo, "knots")
      path <- file.path(folder, "record.sqlite")
      record <- open_record(path)
      add_sitting(record, read_sitting(test), "knots")
      close_record(record)
      file.copy(file.path(demo, "record.yml"), folder)
      list(broken = file.path(folder, broken), calls = list(
        c("record", "list", path),
        c("record", "growth", path, "--by", "student"),
        c("record", "skills", path),
        c("record", "add", path, file.path(demo, "logbook"))
      ))
    }
  }
  with_bank <- function(folder) {
    path <- file.path(folder, "bank.sqlite")
    keep_items(read_sitting(file.path(demo, "knots")), NULL, path)
    list(broken = path, calls = list(
      c("bank", "list", "--bank", path),
      c("bank", "add", file.path(demo, "logbook"), "--bank", path)
    ))
  }
  with_sheet <- function(verb, make, name) {
    function(folder) {
      test <- place_demo(folder)
      make(test)
      path <- file.path(test, name)
      list(broken = path, calls = list(c(verb, test, "--back", path)))
    }
  }
  with_plan <- function(folder) {
    test <- place_demo(folder)
    path <- file.path(test, "plan.csv")
    write_plan(plan_reteach(read_sitting(test)), path)
    list(broken = path, calls = list(
      c("plan", test), c("report", test, "--out", file.path(folder, "r.html"))
    ))
  }
  in_book <- function(folder) {
    test <- file.path(folder, "t")
    dir.create(test)
    book <- openxlsx::createWorkbook()
    for (name in c("responses", "items", "students")) {
      table <- utils::read.csv(
        file.path(demo, paste0(name, ".csv")),
        check.names = FALSE,
        colClasses = "character",
        nrows = 24
      )
      openxlsx::addWorksheet(book, name)
      openxlsx::writeData(book, name, table)
    }
    path <- file.path(test, "test.xlsx")
    openxlsx::saveWorkbook(book, path)
    list(broken = path, calls = lapply(looked_at, function(call) {
      c(call[1], test, call[-1])
    }))
  }
  c(
    tables,
    read,
    list(
      standards_case = beside("--standards", file.path(exports, "case.json")),
      standards_csv = beside("--standards", file.path(exports, "skills.csv")),
      roster = roster,
      record_file = with_record("record.sqlite"),
      record_settings = with_record("record.yml"),
      bank = with_bank,
      marking_csv = with_sheet("mark", write_marking, "marking.csv"),
      marking_book = with_sheet("mark", write_marking, "marking.xlsx"),
      form_csv = with_sheet("form", write_form, "form.csv"),
      form_book = with_sheet("form", write_form, "form.xlsx"),
      plan = with_plan,
      test_book = in_book
    )
  )
}

# ---- ways to break it --------------------------------------------------------------

# What is no text has no lines or words.
fuzz_bytes <- function(bytes) {
  of_lines <- c(
    "other_separator", "twice_a_line", "lose_a_line", "shuffle_lines", "swap_words"
  )
  names <- names(mutations)
  is_text <- !any(bytes == 0) && validUTF8(rawToChar(bytes))
  if (!is_text) names <- setdiff(names, of_lines)
  mutations[[sample(names, 1)]](bytes)
}

# Words that break what takes them for what they are not.
odd_words <- list(
  "", " ", "NA", "NaN", "Inf", "-1", "1e308", "99999999999999999999", "0x1F", "TRUE",
  "\u202egnp", "\u2066x", "\033[31mred", "a\tb", "a\nb", "=1+1", "@SUM(A1)", "'", "\"",
  "<svg onload=alert(1)>", "%s%n", "..", "../../x", "a|b", "[", "(", "\\", "*", "A;B>C=D",
  strrep("x", 5000), strrep("[", 400), "\U0001f600", "\u0627\u0644\u0639", "e\u0301",
  "2026-02-31", "0", "1..0", "3\u00b1", "null", "~", "&a", "!!r x", "{", "- -"
)

odd_bytes <- list(
  as.raw(c(0xe9)), as.raw(c(0xff, 0xfe)), as.raw(c(0xc3)), as.raw(0x00), as.raw(0x1b),
  as.raw(c(0xed, 0xa0, 0x80)), as.raw(c(0xf4, 0x90, 0x80, 0x80)), as.raw(c(0xe2, 0x80, 0xae))
)

odd_word <- function() odd_words[[sample(length(odd_words), 1)]]

fuzz_invalid <- function(bytes) {
  append(bytes, odd_bytes[[sample(length(odd_bytes), 1)]], sample(length(bytes), 1))
}

# A cell, a line or a column of a table of text.
fuzz_table <- function(bytes) {
  if (any(bytes == 0)) return(fuzz_bytes(bytes))
  text <- rawToChar(bytes)
  if (!validUTF8(text)) return(fuzz_bytes(bytes))
  lines <- strsplit(text, "\r?\n")[[1]]
  separator <- c(",", ";", "\t")[which.max(vapply(
    c(",", ";", "\t"), function(one) sum(gregexpr(one, lines[1], fixed = TRUE)[[1]] > 0), 0
  ))]
  cells <- strsplit(lines, separator, fixed = TRUE)
  at <- sample(length(cells), 1)
  if (!length(cells[[at]])) return(fuzz_bytes(bytes))
  k <- sample(length(cells[[at]]), 1)
  word <- gsub("\"", "\"\"", odd_word(), fixed = TRUE)
  change <- sample(5, 1)
  if (change == 1) cells[[at]][k] <- paste0("\"", word, "\"")
  if (change == 2) cells[[1]][min(k, length(cells[[1]]))] <- paste0("\"", word, "\"")
  if (change == 3) cells <- lapply(cells, function(x) c(x, x[min(k, length(x))]))
  if (change == 4) cells <- lapply(cells, function(x) x[-min(k, length(x))])
  if (change == 5) {
    cells[-1] <- lapply(cells[-1], function(x) replace(x, min(k, length(x)), word))
  }
  charToRaw(paste0(paste(
    vapply(cells, paste, "", collapse = separator),
    collapse = "\n"
  ), "\n"))
}

odd_values <- list(
  NULL, TRUE, 0, -1.5, 1e300, "", "x", list(), list(list()), list(a = 1), c("a", "b"),
  list("a", 1, NULL), list(a = list(b = list(c = "d"))), NA, "\u202e"
)

odd_value <- function() odd_values[[sample(length(odd_values), 1)]]

# One node of a tree, anywhere: another value, gone, twice, under another name.
fuzz_node <- function(tree) {
  if (is.list(tree) && length(tree) && stats::runif(1) < 0.85) {
    k <- sample(length(tree), 1)
    tree[k] <- list(fuzz_node(tree[[k]]))
    return(tree)
  }
  change <- sample(4, 1)
  if (change == 1 || !is.list(tree) || !length(tree)) return(odd_value())
  k <- sample(length(tree), 1)
  if (change == 2) return(tree[-k])
  if (change == 3) return(c(tree, tree[k]))
  names(tree)[k] <- if (is.null(names(tree))) NULL else odd_word()
  tree
}

fuzz_json <- function(bytes) {
  lines <- strsplit(rawToChar(bytes), "\n")[[1]]
  each <- length(lines) > 1 && all(startsWith(lines, "{"))
  change <- function(text) {
    tree <- jsonlite::fromJSON(text, simplifyVector = FALSE)
    as.character(jsonlite::toJSON(fuzz_node(tree), auto_unbox = TRUE, null = "null"))
  }
  at <- if (each) sample(length(lines), 1) else 1
  said <- if (each) {
    replace(lines, at, change(lines[at]))
  } else {
    change(paste(lines, collapse = "\n"))
  }
  charToRaw(paste0(paste(said, collapse = "\n"), "\n"))
}

fuzz_yaml <- function(bytes) {
  tree <- yaml::yaml.load(rawToChar(bytes))
  charToRaw(yaml::as.yaml(fuzz_node(tree)))
}

fuzz_xml <- function(bytes) {
  text <- rawToChar(bytes)
  tags <- gregexpr("<[^>]*>", text, useBytes = TRUE)[[1]]
  if (tags[1] < 0) return(fuzz_bytes(bytes))
  k <- sample(length(tags), 1)
  from <- tags[k]
  to <- from + attr(tags, "match.length")[k] - 1
  tag <- substr(text, from, to)
  before <- substr(text, 1, from - 1)
  after <- substr(text, to + 1, nchar(text))
  depth <- sample(c(3, 300, 100000), 1)
  new <- switch(
    sample(8, 1),
    "",
    paste0(tag, tag),
    sub("\"[^\"]*\"", paste0("\"", gsub("[<&\"]", "", odd_word()), "\""), tag),
    sub("^<", "<odd:", tag),
    paste0(strrep("<d>", depth), strrep("</d>", depth), tag),
    sub("[ >]", " r=\"XFD1048576\" rowspan=\"99999\" colspan=\"99999\" ", tag),
    gsub("r=\"[A-Z]+[0-9]+\"", sample(c("r=\"A-5\"", "r=\"9\"", "r=\"XFD1048576\""), 1), tag),
    paste0(tag, gsub("[<&]", "", odd_word()))
  )
  charToRaw(paste0(before, new, after))
}

# One entry of a package by its kind, and all packed again.
fuzz_package <- function(bytes) {
  path <- tempfile(fileext = ".zip")
  room <- tempfile("room-")
  writeBin(bytes, path)
  dir.create(room)
  utils::unzip(path, exdir = room)
  files <- list.files(room, recursive = TRUE, all.files = TRUE)
  usual <- grep("sheet1|sharedStrings|workbook[.]xml|styles|[.]xml$", files, value = TRUE)
  one <- file.path(room, sample(if (length(usual)) usual else files, 1))
  content <- readBin(one, "raw", file.size(one))
  if (length(content)) {
    writeBin(if (stats::runif(1) < 0.8) fuzz_xml(content) else fuzz_bytes(content), one)
  }
  made <- tempfile(fileext = ".zip")
  zip::zip(made, files, root = room)
  on.exit(unlink(c(path, room, made), recursive = TRUE))
  readBin(made, "raw", file.size(made))
}

# The ways that fit a kind of file, told by its name; bytes can always be broken.
fuzz_ways <- function(name) {
  ending <- tolower(tools::file_ext(name))
  of_kind <- switch(ending,
    csv = ,
    tsv = ,
    txt = list(fuzz_table, fuzz_table, fuzz_invalid),
    json = ,
    jsonl = list(fuzz_json, fuzz_json, fuzz_json, fuzz_invalid),
    yml = list(fuzz_yaml, fuzz_yaml, fuzz_yaml, fuzz_invalid),
    xml = ,
    html = list(fuzz_xml, fuzz_xml, fuzz_invalid),
    xlsx = ,
    zip = list(fuzz_package, fuzz_package, fuzz_package),
    list(fuzz_invalid)
  )
  c(of_kind, list(fuzz_bytes))
}

# ---- a case ------------------------------------------------------------------------

# The outcome of a case: `done`, `told` (an error of ours, with words), or what must not
# be: `raw` (an error nobody foresaw), `unsafe` (a character that moves or turns what is on
# a terminal), `short` (an error that says too little), `crash`, `hang`.
fuzz_case <- function(seed, targets = fuzz_targets(), seconds = 20) {
  set.seed(seed)
  target <- sample(names(targets), 1)
  folder <- tempfile(paste0("fuzz-", seed, "-"))
  dir.create(folder)
  on.exit(unlink(folder, recursive = TRUE))
  about <- targets[[target]](folder)
  set.seed(seed + 1e6)
  bytes <- readBin(about$broken, "raw", file.size(about$broken))
  ways <- fuzz_ways(about$broken)
  broken <- ways[[sample(length(ways), 1)]](bytes)
  if (stats::runif(1) < 0.2 && length(broken)) broken <- fuzz_bytes(broken)
  writeBin(broken, about$broken)
  found <- vapply(about$calls, function(call) {
    fuzz_call(call, folder, seconds)
  }, "")
  worst <- found[order(match(sub(":.*", "", found), c("done", "told")), decreasing = TRUE)]
  bad <- !sub(":.*", "", found) %in% c("done", "told")
  c(seed = seed, target = target, outcome = if (any(bad)) found[bad][1] else worst[1])
}

# In a process of its own, which may die or be ended.
fuzz_call <- function(words, folder, seconds) {
  out <- tempfile("out-", folder)
  err <- tempfile("err-", folder)
  job <- parallel::mcparallel({
    Sys.setenv(NO_COLOR = "1")
    options(pregunta.cores = 1, pregunta.apart = TRUE)
    sink(file(out, "w"))
    to <- file(err, "w")
    sink(to, type = "message")
    status <- run_command(words)
    sink(type = "message")
    close(to)
    sink()
    status
  }, silent = TRUE)
  status <- parallel::mccollect(job, wait = FALSE, timeout = seconds)
  if (is.null(status)) {
    tools::pskill(job$pid, tools::SIGKILL)
    parallel::mccollect(job)
    return(paste("hang:", paste(words, collapse = " ")))
  }
  fuzz_outcome(status[[1]], read_whole(out), read_whole(err), words)
}

read_whole <- function(path) {
  if (!file.exists(path)) return("")
  bytes <- readBin(path, "raw", file.size(path))
  iconv(rawToChar(bytes[bytes != 0]), "UTF-8", "UTF-8", sub = "byte")
}

fuzz_outcome <- function(status, out, err, words) {
  said <- paste("in", words[1], substr(gsub("\\s+", " ", err), 1, 240))
  if (is.null(status)) return(paste("crash:", said))
  if (inherits(status, "try-error")) return(paste("raw:", said, as.character(status)))
  if (grepl("did not foresee|Error in|Warning", err)) return(paste("raw:", said))
  if (grepl("[\u0001-\u0008\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]",
    paste(out, err), perl = TRUE)) {
    return(paste("unsafe:", said))
  }
  if (identical(status, 0L)) return("done")
  if (nchar(err) < 30 && nchar(out) < 30) return(paste("short:", said))
  "told"
}
