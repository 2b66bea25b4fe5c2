# What people read stands in inst/words, and the code says it by name.

fill <- function(template, ...) {
  values <- list(...)
  internal("fill_template")(internal("read_template")(template), function(slot) {
    values[[slot]]
  })
}

slots_of <- function(pieces) {
  unlist(lapply(pieces, function(piece) {
    if (is.list(piece)) c(piece$slot, unlist(lapply(piece$cases, slots_of)))
  }))
}

# Every call of a function in the sources, as it is written.
calls_of <- function(names) {
  found <- list()
  look <- function(x, file) {
    if (is.call(x)) {
      called <- if (is.name(x[[1]])) as.character(x[[1]]) else ""
      if (called %in% names) found[[length(found) + 1]] <<- list(file = file, call = x)
    }
    if (!is.call(x) && !is.pairlist(x)) return()
    if (!length(x)) return()
    # Most of the code calls none of them.
    if (!any(names %in% all.names(as.call(as.list(x))))) return()
    for (k in seq_along(x)) {
      left_out <- is.name(x[[k]]) && !nzchar(x[[k]]) # as in x[1, ]
      if (!left_out) look(x[[k]], file)
    }
  }
  for (path in source_paths()) {
    for (code in as.list(parse(path, keep.source = FALSE, encoding = "UTF-8"))) {
      look(code, basename(path))
    }
  }
  found
}

source_paths <- function() {
  folder <- test_path("..", "..", "R")
  skip_if_not(dir.exists(folder), "the sources are not here")
  paths <- list.files(folder, "[.]R$", full.names = TRUE)
  paths[basename(paths) != "RcppExports.R"]
}

# Sections whose entries the code names one by one; the others are looked up by code.
sentence_sections <- function(words) {
  files <- sub("[.]R$", "", basename(source_paths()))
  intersect(names(words), files)
}

test_that("each sentence that the code says is there, with just the slots it fills", {
  words <- all_entries()
  calls <- Filter(function(one) is.character(one$call[[2]]), calls_of(c("say", "rich")))
  said <- vapply(calls, function(one) one$call[[2]], "") # others are said by a code
  faults <- lapply(calls, function(one) {
    entry <- one$call[[2]]
    template <- words[[sub("[.].*", "", entry)]][[sub("^[^.]*[.]", "", entry)]]
    if (is.null(template)) return(paste(one$file, entry, "is not there"))
    wanted <- unique(as.character(slots_of(internal("read_template")(template))))
    given <- as.character(setdiff(names(one$call), ""))
    unlike <- c(setdiff(wanted, given), setdiff(given, wanted))
    if (length(unlike)) paste(one$file, entry, "slot", unlike)
  })
  expect_identical(as.character(unlist(faults)), character())
  expect_gt(length(said), 1400)
  there <- lapply(sentence_sections(words), function(section) {
    paste0(section, ".", names(words[[section]]))
  })
  expect_identical(setdiff(unlist(there), said), character())
})

test_that("the file read by sections is the file read whole", {
  words <- all_entries()
  section_of <- internal("section_of")
  for (section in names(words)) expect_identical(section_of(section), words[[section]])
})

test_that("a sentence that is not there or lacks a slot is a fault, never half said", {
  expect_error(internal("say")("cli.never_written"), "cli.never_written", fixed = TRUE)
  expect_error(internal("say")("nowhere.at_all"), "nowhere", fixed = TRUE)
  expect_error(internal("say")("base-errors.row"), "base-errors.row$row", fixed = TRUE)
  for (wrong in c("{n", "n}", "{n|one: x", "{N}", "{}")) {
    expect_error(internal("read_template")(wrong))
  }
})

test_that("a template is filled row by row, by number, condition and code", {
  count <- "{n|zero: none|one: {n} question|other: {n} questions}"
  expect_equal(fill(count, n = c(0, 1, 2, 21)), c(
    "none", "1 question", "2 questions", "21 questions"
  ))
  expect_equal(fill("{n|one: a|other: b}", n = c("1", "0")), c("a", "b"))
  late <- "{who}{late|yes:  ({days|one: a day|other: {days} days} late)}."
  expect_equal(
    fill(late, who = c("Ada", "Bo", "Cy"), late = c(TRUE, FALSE, NA), days = c(1, 2, 3)),
    c("Ada (a day late).", "Bo.", "Cy.")
  )
  code <- "{kind|red: warm|blue: cold|other: neither}"
  expect_equal(fill(code, kind = c("red", "blue", "green")), c("warm", "cold", "neither"))
  expect_equal(fill("\\{{x}\\} \\| \\\\", x = "y"), "{y} | \\")
  expect_equal(fill("{x}", x = "{n|one: a} \\{"), "{n|one: a} \\{") # what is typed
  expect_equal(fill("a{x}b", x = NULL), "ab")
  expect_equal(fill("a{x}", x = character()), paste0("a", character()))
  # What no case asks for is not worked out.
  words <- internal("say")
  expect_equal(
    words("base-errors.column_blank", table = "t", place = "p", column = "c",
      no_value = TRUE, value = stop("asked for")),
    "t, p, column c: blank"
  )
})

test_that("every template can be read, and its numbers have both forms", {
  choices <- function(pieces) {
    unlist(lapply(pieces, function(piece) {
      if (!is.list(piece)) return(NULL)
      c(
        if (length(piece$cases)) list(names(piece$cases)),
        unlist(lapply(piece$cases, choices), recursive = FALSE)
      )
    }), recursive = FALSE)
  }
  templates <- unlist(all_entries(), use.names = TRUE)
  expect_gt(length(templates), 2000)
  lacks_a_form <- function(name) {
    found <- choices(internal("read_template")(templates[[name]]))
    any(vapply(found, function(cases) {
      all(cases %in% internal("plural_forms")) && !all(c("one", "other") %in% cases)
    }, TRUE))
  }
  expect_identical(Filter(lacks_a_form, names(templates)), character())
})

test_that("every code that the package makes has words, and every word of a code a code", {
  words <- all_entries()
  expect_setequal(names(words$reasons), internal("reason_codes"))
  expect_setequal(names(words$verdicts), internal("verdicts"))
  expect_setequal(names(words$review_reasons), names(internal("review_rules")))
  expect_setequal(names(words$held), internal("held_codes"))
  expect_setequal(names(words$roles), internal("group_roles"))
  expect_setequal(names(words$alpha_bands), internal("alpha_bands"))
  expect_setequal(names(words$alpha_uses), internal("alpha_bands"))
  expect_setequal(names(words$statuses), c(internal("status_words"), "not_listed"))
  expect_setequal(names(words$statuses_shown), internal("status_words"))
  expect_setequal(names(words$actions), names(internal("adjustment_actions")))
  expect_setequal(names(words$plan_fields), internal("plan_fields"))
  expect_setequal(names(words$glossary), names(internal("glossary_columns")))
  expect_setequal(names(words$verbs), names(internal("command_verbs")()))
  expect_setequal(names(words$options), names(internal("command_options")))
  used <- Filter(function(verb) isTRUE(verb$usage), internal("command_verbs")())
  expect_setequal(names(words$usage), names(used))
  for (section in unlist(internal("coded_columns"))) {
    expect_true(section %in% names(words), label = section)
  }
})

test_that("the codes of every summary of the demo have words, so that none is shown bare", {
  quiz <- read_sitting(demo_path())
  after <- read_sitting(demo_path("follow-up"))
  tables <- list(
    summarise_items(quiz), summarise_options(quiz), summarise_answers(quiz),
    summarise_students(quiz), summarise_misconceptions(quiz, "student"),
    summarise_guessing(quiz), review_items(quiz), review_key(quiz), check_sitting(quiz),
    group_students(quiz), compare_sittings(quiz, after, "student"),
    summarise_fairness(quiz, "section"), summarise_parts(quiz)
  )
  columns <- internal("coded_columns")
  for (table in tables) {
    for (column in intersect(names(table), names(columns))) {
      values <- setdiff(as.character(table[[column]]), NA)
      codes <- internal("codes_of")(column, values)
      expect_false(is.null(codes), label = paste(class(table)[1], column))
    }
  }
})

# ---- no words in the code ----------------------------------------------------------

# Literals of two words or more that nobody reads: what files, SQL, mails and other
# standards say by themselves, and patterns.
read_by_machines <- c(
  "SELECT|INSERT|UPDATE |DELETE |PRAGMA|BEGIN|WHERE|^AND | AND |CREATE|ALTER|REFERENCES|VALUES",
  "ORDER BY|BY item_id|FROM |JOIN |DESC|TEXT NOT NULL|TEXT,|SQLite|\\?$|^s ON|^i[.]n,|, s[.]",
  "[<>{}^$\\\\]|%[a-zA-Z]|=\"|[|]|\\[0-9\\]|A-Z|&nbsp;|unsafe-inline", # markup, styles, patterns
  "src '|'none'|width=|SameSite", # of a page
  "^//[a-z]", # paths in XML
  "^(Content-|From: |To: |Subject: |Date: |MIME-)|charset=", # of a mail
  "^words/en[.]yml|^\r texts$", # said where there are no words
  "^(partially|fully) graded$|^not submitted$|^QTI(v2.2)? Package$", # of open standards
  "Duplicate map key",
  "^[(](not given|by hand|on paper)[)]$|^not (given|yet)$|^marked by hand$", # in files
  "^--accept|&\\[Page\\]|^difficulty_high, |^upper_lower, |^items, s|^points $|^ (and|or) $",
  "^--[a-z]+ [a-z]+$|compgen|_files|complete -|__fish|_pregunta_of|_arguments", # of a shell
  "flags='|words='|return ;;|^:value",
  "^@echo off$|^set \"R_LIBS=|R_NSIZE", # of the command that starts it
  "^/Applications/",
  "NA NA"
)

# Every text in the code, and every name that has to be in quotes.
literals <- function(path) {
  look <- function(x) {
    if (is.character(x)) return(x)
    if (!is.call(x) && !is.pairlist(x) && !is.expression(x)) return(NULL)
    parts <- as.list(x)
    left_out <- vapply(parts, function(one) is.name(one) && !nzchar(one), TRUE)
    c(names(parts), unlist(lapply(parts[!left_out], look)))
  }
  as.character(look(parse(path, keep.source = FALSE, encoding = "UTF-8")))
}

is_sentence <- function(text) {
  said <- grepl(" ", text) & grepl("[[:alpha:]]{2}", text)
  for (pattern in read_by_machines) said <- said & !grepl(pattern, text)
  said
}

is_sentence_in <- function(path) Filter(is_sentence, literals(path))

test_that("no sentence stands in the code", {
  planted <- tempfile(fileext = ".R")
  writeLines("f <- function(x = \"in a default\", ...) g(x[, 1], `a name` = c(\"in a call\"))", planted)
  expect_setequal(is_sentence_in(planted), c("in a default", "in a call", "a name"))
  expect_true(all(is_sentence(c("Nobody has a score yet.", " of the points", "in a level"))))
  for (path in source_paths()) {
    said <- literals(path)
    expect_identical(said[is_sentence(said)], character(), label = basename(path))
  }
})

# ---- in another language -----------------------------------------------------------

# What no language changes: names of files, columns, options, verbs, kinds of items and
# settings, and the formats that a choice is made of.
unchanged_words <- function() {
  words <- all_entries()
  # These stand in commands and in what is told of columns.
  said <- c(
    names(words$columns), names(internal("command_options")), names(internal("command_verbs")()),
    names(default_settings()), names(default_settings()$levels), names(words$actions),
    unlist(lapply(internal("command_options"), `[[`, "metavar")), names(words$account),
    unlist(words$examples),
    "csv", "yml", "html", "svg", "xlsx", "docx", "sqlite", "json", "pregunta", "trial", "role",
    "knots", "logbook", "pool", "tides", "adjustments", "boat", "thinking", "follow", "form", "marking", "sheet"
  )
  unique(tolower(unlist(strsplit(said, "[^A-Za-z]+"))))
}

# Latin letters are ours where all that people typed is Greek, and our words are accented.
english_in <- function(said, known) {
  found <- unlist(regmatches(
    said, gregexpr("(?<![\\p{L}\\d.-])[A-Za-z][a-z]{2,}(?![\\p{L}\\d])", said, perl = TRUE)
  ))
  setdiff(unique(tolower(found)), known)
}

expect_made_up <- function(said, known, label) {
  said <- enc2utf8(said)
  expect_match(said, "[\u00e1\u00e9\u00f3]", all = FALSE, label = label)
  expect_identical(english_in(said, known), character(), label = label)
}

# A word of ours that ends in dots was cut off.
expect_whole <- function(said, label) {
  cut <- grep("[\u00e0-\u024f\u1e00-\u1eff]\u2026( |$)", said, value = TRUE, perl = TRUE)
  expect_identical(cut, character(), label = label)
}

test_that("in another language no English is left on the command line, and nothing is cut", {
  folder <- in_greek(demo_copy())
  later <- file.path(folder, "follow-up")
  record <- file.path(folder, "year.sqlite")
  known <- c(unchanged_words(), tolower(unlist(strsplit(folder, "[^A-Za-z]+"))))
  # What the demo's record.yml calls its windows and ladders.
  known <- c(known, "september", "october", "november", "february", "knots")
  calls <- list(
    "test", c("test", "--by", "section"), "items", c("items", "--review"),
    c("items", "--keys"), "options", c("options", "--item", "Q18"),
    c("options", "--whole"), "students", c("students", "--student", "h012"), "standards",
    c("standards", "--by", "section"), c("standards", "--standard", "TC.1"),
    c("standards", "--grid"), c("standards", "--helped"), "misconceptions",
    c("misconceptions", "--by", "student"), c("misconceptions", "--uncoded"),
    c("misconceptions", "--guessing"), "groups", c("groups", "--basis", "mixed"),
    "decisions", "parts", "precision", "scale", c("scale", "--by", "score"), "cuts",
    "patterns", c("fairness", "--by", "section"), "check", "time", "attempts",
    c("what-if", "--key", "Q7=\u0393"), c("adjust", "--key", "Q7=\u0393"), "adjust",
    c("compare", later), c("compare", later, "--by", "student"),
    c("compare", later, "--by", "item"), "plan", c("followup", "--source", file.path(folder, "pool"))
  )
  year <- function(...) c("record", ..., "--record", record)
  of_year <- list(
    year("add", folder, later), year("list"), year("items"), year("tests"),
    year("growth"), year("growth", "--by", "section"), year("growth", "--student", "h012"),
    year("drift"), year("skills", "--ladder", "TC.1.a,TC.1.b"), year("add", folder)
  )
  alone <- c(
    list("--help", "explain", c("explain", "\u00e1\u013a\u013a")),
    lapply(names(internal("command_verbs")()), c, "--help")
  )
  in_made_up_words({
    for (call in thinned(calls, 8)) {
      ran <- run_here(call[1], folder, call[-1])
      label <- paste(call, collapse = " ")
      expect_made_up(c(ran$out, ran$err), known, label)
      expect_whole(ran$out, label)
    }
    for (call in thinned(c(of_year, alone), 6)) {
      ran <- do.call(run_here, as.list(call))
      label <- paste(call, collapse = " ")
      expect_made_up(c(ran$out, ran$err), known, label)
      expect_whole(ran$out, label)
    }
  })
})

test_that("in another language no English is left in the account of a reading", {
  room <- system.file("extdata", "exports", package = "pregunta")
  files <- list.files(room, "[.](csv|txt)$", full.names = TRUE)
  expect_gt(length(files), 3)
  files <- thinned(files, 2)
  # Of another language its own name is told.
  own <- c(unchanged_words(), "english", "utf", "windows")
  for (path in files) {
    folder <- tempfile("made")
    text <- iconv(readLines(path, warn = FALSE), "latin1", "UTF-8")
    known <- c(own, tolower(unlist(strsplit(c(folder, path, text), "[^A-Za-z]+"))))
    in_made_up_words({
      said <- run_here(
        "new", folder, "--from", path, "--like", demo_path(), "--key", "later"
      )$out
    })
    expect_made_up(said, known, basename(path))
  }
  late <- c("student,Q1,Q7,Q99", "h700,A,C,B", "h001,A,B,B")
  path <- file.path(folder_of(late.csv = late), "late.csv")
  folder <- demo_copy()
  typed <- unlist(lapply(list.files(folder, "csv$", full.names = TRUE), readLines))
  known <- c(own, tolower(unlist(strsplit(c(folder, path, late, typed), "[^A-Za-z]+"))))
  for (more in list("--preview", character(), "--undo")) {
    in_made_up_words({
      from <- if (!"--undo" %in% more) c("--from", path, "--again", "skip")
      said <- run_here("add", folder, from, more)$out
    })
    expect_made_up(said, known, "add")
  }
})

# The text of a file that people read.
text_in <- function(path) {
  switch(tools::file_ext(path),
    html = {
      page <- xml2::read_html(path)
      said <- "//text()[not(ancestor::script or ancestor::style)]"
      xml2::xml_text(xml2::xml_find_all(page, said))
    },
    svg = {
      texts <- xml2::xml_find_all(xml2::read_xml(path), "//*[local-name()='text']")
      xml2::xml_text(texts)
    },
    docx = officer::docx_summary(officer::read_docx(path))$text,
    xlsx = unlist(lapply(openxlsx::getSheetNames(path), function(sheet) {
      table <- openxlsx::read.xlsx(path, sheet, colNames = FALSE)
      # The first row names columns, as in CSV and JSON.
      c(sheet, unlist(table[-1, , drop = FALSE]))
    })),
    readLines(path, warn = FALSE, encoding = "UTF-8")
  )
}

test_that("in another language no English is left in documents, pictures and slips", {
  only_in_all()
  folder <- in_greek(demo_copy())
  known <- c(unchanged_words(), "priority", "supporting", "true", "false", "exclude", "section", "teacher")
  at <- function(name) file.path(folder, name)
  in_made_up_words({
    quiz <- read_sitting(folder)
    plan <- plan_reteach(quiz)
    drawn <- draw_followup(quiz, read_pool(at("pool")), length = 6)
    write_followup(drawn, at("second"))
    pages <- list(
      slips = write_slips(quiz, at("slips.html"), student = c("h001", "h012")),
      walkthrough = write_walkthrough(quiz, at("walkthrough.html")),
      plan = write_plan(plan, at("plan.docx"), "\u03b1"),
      markdown = write_plan(plan, at("plan.md"), "\u03b1"),
      workbook = write_workbook(quiz, at("workbook.xlsx")),
      paper = at("second/paper.docx"), key = at("second/key.docx")
    )
    for (name in names(pages)) expect_made_up(text_in(pages[[name]]), known, name)
    pictures <- sitting_pictures(quiz)
    change <- compare_sittings(quiz, read_sitting(at("follow-up")))
    pictures$change <- ggplot2::autoplot(change)
    for (name in names(pictures)) {
      path <- at(paste0(name, ".svg"))
      write_picture(pictures[[name]], path)
      said <- text_in(path)
      expect_identical(english_in(said, known), character(), label = name)
    }
  })
  skip_if_not_installed("chromote")
  skip_if_not(nzchar(Sys.which("chromium")))
  # No text of a picture reaches over its edge.
  for (path in list.files(folder, "[.]svg$", full.names = TRUE)) {
    page <- open_file(path)
    out <- run_js(page, paste0(
      "(function(){var s=document.querySelector('svg').getBoundingClientRect();",
      "return Array.from(document.querySelectorAll('text')).filter(function(t){",
      "var b=t.getBoundingClientRect();return b.left<s.left-2||b.right>s.right+2||",
      "b.top<s.top-2||b.bottom>s.bottom+2}).map(function(t){return t.textContent}).join('|')})()"
    ))
    expect_identical(out, "", label = basename(path))
  }
})

# What a person sees of a page, and hears of it; and what has no room in its box.
seen_in_page <- "(function(){
  var heard = Array.from(document.querySelectorAll('[title],[aria-label],[placeholder]'));
  return [document.body.innerText].concat(heard.map(function (e) {
    return [e.title || '', e.getAttribute('aria-label') || '', e.placeholder || ''].join(' ');
  })).join('\\n');
})()"
cut_in_page <- "(function(){
  return Array.from(document.querySelectorAll('body *')).filter(function (e) {
    var style = getComputedStyle(e), said = e.textContent.replace(/[\u200b\\s]/g, '');
    var hides = style.overflowX === 'hidden' || style.textOverflow === 'ellipsis';
    return hides && said && e.clientWidth > 2 && e.scrollWidth > e.clientWidth + 1;
  }).map(function (e) { return e.className + ': ' + e.textContent.slice(0, 60); }).join('|');
})()"

test_that("in another language no English is left on pages, and nothing is cut off", {
  only_in_all()
  skip_on_cran()
  skip_if_not_installed("chromote")
  skip_if_not(nzchar(Sys.which("chromium")))
  folder <- in_greek(demo_copy())
  known <- c(unchanged_words(), "section", "teacher", "responses", "exclude")
  at <- function(name) file.path(folder, name)
  paths <- in_made_up_words({
    quiz <- read_sitting(folder)
    c(
      vapply(c("teacher", "coordinator", "head"), function(audience) {
        write_report(quiz, at(paste0(audience, ".html")), audience = audience)
      }, ""),
      slips = write_slips(quiz, at("slips.html"), student = c("h001", "h012")),
      walkthrough = write_walkthrough(quiz, at("walkthrough.html"))
    )
  })
  for (name in names(paths)) {
    for (width in c(1280, 420)) {
      page <- open_file(paths[[name]], width)
      label <- paste(name, width)
      expect_identical(run_js(page, "document.documentElement.dir"), "rtl")
      said <- run_js(page, seen_in_page)
      expect_match(said, "[\u00e1\u00e9\u00f3]", label = label)
      expect_identical(english_in(said, known), character(), label = label)
      expect_identical(run_js(page, cut_in_page), "", label = label)
      wide <- run_js(page, "document.documentElement.scrollWidth - innerWidth")
      expect_lte(wide, 1, label = label)
    }
  }
})

test_that("in another language no English is left at the desk, and nothing is cut off", {
  only_in_all()
  known <- c(unchanged_words(), "section", "teacher", "responses", "exclude")
  shelf <- tempfile("shelf-")
  dir.create(shelf)
  file.rename(in_greek(demo_copy()), file.path(shelf, "tides"))
  desk <- in_made_up_words(open_desk_here(folder = shelf))
  page <- open_page(desk)
  places <- c(
    "shelf", "new", "year", "year/h012", paste0("tides/", c(
      "went", "questions", "questions/Q7", "next", "came", "give", "students",
      "students/h012", "standards", "standards/TC.1", "live", "mark", "type", "show/Q7"
    ))
  )
  for (place in places) {
    go_place(page, paste0("#", place))
    # Each language is named in its own words.
    run_js(page, "document.querySelectorAll('#language').forEach(e => e.remove())")
    said <- run_js(page, seen_in_page)
    expect_match(said, "[\u00e1\u00e9\u00f3]", label = place)
    expect_identical(english_in(said, known), character(), label = place)
    expect_identical(run_js(page, cut_in_page), "", label = place)
  }
})

test_that("with three all right, and with nobody there, everything runs or says why not", {
  codes <- c("item,type,key,standards", "Q1,choice,A,S.1", "Q2,choice,B,S.1", "Q3,text,x,S.2")
  right <- c("student,Q1,Q2,Q3", "a,A,B,x", "b,A,B,x", "c,A,B,x")
  nobody <- c("student,Q1,Q2,Q3", "a,,,", "b,,,")
  told <- list(
    "test", "items", c("items", "--review"), "options", "students", "standards",
    c("standards", "--grid"), "groups", "plan", "decisions", "parts", "precision", "scale", "report"
  )
  made <- list(
    "misconceptions", "time", "attempts", "check", c("report", "--for", "coordinator"),
    c("report", "--for", "head"), "workbook", "walkthrough", "slips", c("plot", "--of", "all")
  )
  for (answers in list(right, nobody)) {
    folder <- plain_folder(answers, items = codes)
    for (verb in c(told, if (identical(answers, nobody)) made)) {
      ran <- run_here(verb[1], folder, verb[-1])
      said <- paste(c(ran$out, ran$err), collapse = "\n")
      expect_no_match(said, "did not foresee", label = paste(verb, collapse = " "))
      expect_no_match(said, "NaN|\\bNA\\b|Inf\\b", label = paste(verb, collapse = " "))
    }
  }
  folder <- plain_folder(right, items = codes)
  expect_match(run_here("standards", folder)$out, "same score, 100%", all = FALSE)
  gone <- run_here("slips", plain_folder(nobody, items = codes))
  expect_equal(gone$status, 2)
  expect_match(paste(gone$err, collapse = " "), "nobody to write a slip for")
})

test_that("with three all right, and with nobody there, no sentence claims what is not so", {
  right <- plain_folder(c("student,Q1,Q2", "a,A,B", "b,A,B", "c,A,B"))
  nobody <- plain_folder(c("student,Q1,Q2", "a,,", "b,,"))
  said <- run_here("test", right)$out
  expect_match(said, "alpha.*same total", all = FALSE)
  expect_no_match(paste(said, collapse = "\n"), "only for items of 0 or 1")
  options <- paste(run_here("options", nobody)$out, collapse = "\n")
  expect_match(options, "Q1: nobody has answered it yet")
  expect_no_match(options, "gave the right answer")
})

test_that("what is said otherwise at the desk stands for an entry that there is, with its slots", {
  said <- internal("section_of")("at-the-desk")
  slots <- function(text) {
    unique(unlist(regmatches(text, gregexpr("\\{[a-z_]+", text))))
  }
  for (name in names(said)) {
    usual <- internal("entry_of")(name)
    expect_true(all(slots(said[[name]]) %in% slots(usual)), label = name)
    expect_no_match(said[[name]], "--[a-z]|pregunta [a-z]", label = name)
  }
})
