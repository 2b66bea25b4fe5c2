# A language is one file. What each must have, how each counts and writes, and that what
# is for other programs is the same in all of them.

languages_here <- internal("language_codes")()
fact <- internal("language_fact")
speaking <- function(language, code) internal("in_language")(language, code)

# What goes home: the sections that every language of slips and mail has whole.
home_sections <- c(
  "joining", "levels", "slip_headings", "slip", "slip_states", "slip_messages"
)

test_that("each language says what it is and how it counts, writes and sorts", {
  expect_gte(length(languages_here), 15)
  for (code in languages_here) {
    expect_identical(fact("code", code), code, label = code)
    expect_true(nzchar(fact("name", code)), label = code)
    expect_true(fact("covers", code) %in% c("everything", "home", "headers"), label = code)
    expect_true(fact("direction", code) %in% c("ltr", "rtl"), label = code)
    main <- sub("-.*$", "", fact("locale", code))
    expect_true(main %in% stringi::stri_locale_list(), label = code)
    expect_true(fact("decimal", code) %in% c(".", ","), label = code)
    expect_match(fact("percent", code), "{n}", fixed = TRUE, label = code)
    expect_true(
      all(names(fact("plural", code)) %in% internal("plural_forms")),
      label = code
    )
    expect_match(speaking(code, internal("say_day")("2026-09-14")), "14", label = code)
  }
  table <- languages()
  expect_true(all(c("en", "es") %in% table$language[table$covers == "everything"]))
  home <- c("en", "es", "fr", "de", "pt", "ar", "uk", "tr", "vi", "zh-Hans")
  expect_setequal(setdiff(home, table$language), character())
  known <- c("en", "es", "fr", "de", "pt", "ar", "uk", "tr", "vi", "zh-Hans", "nl", "it", "pl", "sv")
  for (code in known) {
    headers <- names(internal("section_in_file")("headers", code))
    expect_true(all(c("who", "person", "item", "long", "total", "row", "month", "cell") %in% headers), label = code)
  }
})

covers_of <- function(code) fact("covers", code)

# Every text of a section, named by its entry; several wordings of one are joined.
texts_of_section <- function(section) {
  flat <- function(x, name) {
    if (!is.list(x)) return(stats::setNames(list(x), name))
    unlist(Map(flat, x, paste0(name, ".", names(x))), recursive = FALSE, use.names = FALSE) |>
      stats::setNames(unlist(lapply(Map(flat, x, paste0(name, ".", names(x))), names)))
  }
  unlist(unname(Map(flat, section, names(section))), recursive = FALSE)
}

pieces_of <- function(text) internal("read_template")(text)

slots_in <- function(pieces) {
  unlist(lapply(pieces, function(piece) {
    if (is.list(piece)) c(piece$slot, unlist(lapply(piece$cases, slots_in)))
  }))
}

# The forms of each choice by number in a template.
number_choices <- function(pieces) {
  unlist(lapply(pieces, function(piece) {
    if (!is.list(piece)) return(NULL)
    inner <- unlist(lapply(piece$cases, number_choices), recursive = FALSE)
    counted <- length(piece$cases) && identical(piece$by, "number")
    own <- if (counted) list(names(piece$cases))
    c(own, inner)
  }), recursive = FALSE)
}

test_that("no entry is missing or too many, no slot is lost, every plural form is filled", {
  english <- all_entries("en")
  # Of a list it is also known how its last word sounds.
  more <- list(joining = "sound")
  faults <- character()
  fault <- function(...) faults <<- c(faults, paste(...))
  slots <- function(texts) {
    unique(as.character(unlist(lapply(texts, function(text) slots_in(pieces_of(text))))))
  }
  checked <- 0
  for (code in languages_here) {
    own <- all_entries(code)
    if (code == "en" || !is.null(own$language$like) || covers_of(code) == "headers") next
    sections <- if (covers_of(code) == "everything") names(english) else home_sections
    sections <- setdiff(sections, c("language", "headers"))
    expect_setequal(setdiff(names(own), c("language", "headers")), sections)
    wanted <- c(names(fact("plural", code)), "other")
    for (section in sections) {
      theirs <- texts_of_section(own[[section]])
      ours <- texts_of_section(english[[section]])
      unlike <- c(setdiff(names(theirs), names(ours)), setdiff(names(ours), names(theirs)))
      if (length(unlike)) fault(code, section, unlike)
      for (name in intersect(names(ours), names(theirs))) {
        checked <- checked + 1
        place <- paste(code, section, name)
        here <- setdiff(slots(theirs[[name]]), more[[section]])
        if (!setequal(here, slots(ours[[name]]))) fault(place, "slots")
        if (length(theirs[[name]]) != length(ours[[name]])) fault(place, "wordings")
        if (nzchar(theirs[[name]][1]) != nzchar(ours[[name]][1])) fault(place, "empty")
        forms <- unlist(lapply(theirs[[name]], function(text) {
          number_choices(pieces_of(text))
        }), recursive = FALSE)
        lacking <- unlist(lapply(forms, setdiff, x = wanted))
        if (length(lacking)) fault(place, "lacks", lacking)
      }
    }
  }
  expect_identical(faults, character())
  expect_gt(checked, 3500)
})

test_that("numbers have the plural forms of CLDR", {
  form <- internal("plural_form")
  of <- function(language, ...) form(c(...), language = language)
  # The examples beside the rules of unicode.org/cldr, release 42.
  samples <- list(
    en = list(one = 1, other = c(0, 2, 16, 100, 1.5)),
    de = list(one = 1, other = c(0, 2, 16, 100, 0.5)),
    es = list(one = 1, other = c(0, 2, 16, 100, 1.5)),
    fr = list(one = c(0, 1, 1.5), other = c(2, 17, 100, 2.5)),
    pt = list(one = c(0, 1, 1.5), other = c(2, 17, 100, 2.5)),
    tr = list(one = 1, other = c(0, 2, 16, 100, 1.5)),
    vi = list(other = c(0, 1, 2, 100, 1.5)),
    `zh-Hans` = list(other = c(0, 1, 2, 100, 1.5)),
    uk = list(
      one = c(1, 21, 31, 101, 1001), few = c(2, 3, 4, 22, 34, 102, 1002),
      many = c(0, 5, 19, 100, 11, 12, 14, 111, 1000), other = c(0.5, 1.5, 10.1)
    ),
    pl = list(
      one = 1, few = c(2, 3, 4, 22, 34, 102), many = c(0, 5, 19, 21, 100, 12, 14, 112),
      other = c(0.5, 1.5, 10.1)
    ),
    ar = list(
      zero = 0, one = 1, two = 2, few = c(3, 10, 103, 110, 1003),
      many = c(11, 26, 99, 111, 1011), other = c(100, 102, 200, 202, 1000, 0.1, 10.1)
    )
  )
  for (language in names(samples)) {
    for (name in names(samples[[language]])) {
      found <- of(language, samples[[language]][[name]])
      expect_identical(unique(found), name, label = paste(language, name))
    }
  }
  expect_identical(of("ar", NA), "other")
  expect_error(internal("read_rule")("n is 1"), "n is 1")
})

test_that("numbers, percents, days, lists and quotes follow the language", {
  said <- function(language) {
    speaking(language, c(
      internal("percent")(0.454), internal("number")(-0.4), internal("plain_points")(1.5),
      internal("say_day")("2026-09-14"), internal("join_words")(c("a", "b", "c")),
      internal("cited")("x")
    ))
  }
  nb <- "\u00a0"
  expect_identical(said("en"), c("45%", "-0.40", "1.5", "14 September 2026", "a, b and c", "\u201cx\u201d"))
  expect_identical(said("es"), c(
    paste0("45", nb, "%"), "-0,40", "1,5", "14 de septiembre de 2026", "a, b y c", "\u00abx\u00bb"
  ))
  expect_identical(said("es-419")[2:3], c("-0.40", "1.5"))
  expect_identical(said("tr")[1], "%45")
  expect_identical(said("zh-Hans")[4:5], c("2026\u5e749\u670814\u65e5", "a\u3001b\u548cc"))
  expect_identical(said("uk")[4], "14 \u0432\u0435\u0440\u0435\u0441\u043d\u044f 2026 \u0440.")
  expect_match(said("ar")[4], "^14 .* 2026$")
  # Spanish changes "y" and "o" before their own sound.
  joined <- function(last, link) speaking("es", internal("join_words")(c("a", last), link))
  expect_identical(joined("ideas", "and"), "a e ideas")
  expect_identical(joined("hijos", "and"), "a e hijos")
  expect_identical(joined("hielo", "and"), "a y hielo")
  expect_identical(joined("otra", "or"), "a u otra")
  # What is no day stays, also in a language that has many words for days.
  expect_identical(speaking("es", internal("say_day")(c("soon", NA))), c("soon", NA))
  # A word at the beginning of a sentence.
  expect_identical(speaking("tr", internal("capital")("isim")), "\u0130sim")
  expect_identical(speaking("es", internal("capital")("\u00edtem")), "\u00cdtem")
})

test_that("names are sorted as the language sorts them", {
  names <- c("Zeno", "\u00c9mile", "Eva", "\u00c5sa", "adam")
  sorted <- function(language) speaking(language, names[internal("order_names")(names)])
  expect_identical(sorted("en"), c("adam", "\u00c5sa", "\u00c9mile", "Eva", "Zeno"))
  expect_identical(sorted("sv"), c("adam", "\u00c9mile", "Eva", "Zeno", "\u00c5sa"))
})

test_that("a language is known by its code, its name, and what school rosters write", {
  like <- internal("language_like")
  expect_identical(
    like(c("es", "ES", "es-MX", "es_AR", "spa", "Spanish", "espa\u00f1ol", "Castilian")),
    c("es", "es", "es-419", "es", "es", "es", "es", "es")
  )
  expect_identical(
    like(c("zh", "zh-CN", "chi", "\u4e2d\u6587", "zh-TW", "zh-Hant", "Somali", NA, "", "ar-EG")),
    c("zh-Hans", "zh-Hans", "zh-Hans", "zh-Hans", NA, NA, NA, NA, NA, "ar")
  )
  expect_identical(like("nl"), NA_character_) # only headers are known in it
  expect_error(internal("checked_language")("xx"), class = "pregunta_error_call")
  expect_error(internal("checked_language")("ar"), class = "pregunta_error_call")
  expect_identical(internal("checked_language")("ar", "home"), "ar")
})

test_that("what a language lacks is said in the one it is like, else in English", {
  folder <- tempfile("words-")
  dir.create(folder)
  lines <- c(
    "language:", "  code: qab", "  name: partly", "  covers: everything", "  like: es", "",
    "verdicts:", "  look: MIRA"
  )
  writeLines(lines, file.path(folder, "qab.yml"))
  before <- Sys.getenv("PREGUNTA_WORDS")
  Sys.setenv(PREGUNTA_WORDS = folder)
  on.exit(Sys.setenv(PREGUNTA_WORDS = before))
  section <- internal("section_of")
  expect_identical(section("verdicts", "qab")$look, "MIRA")
  expect_identical(section("verdicts", "qab")$sound, section("verdicts", "es")$sound)
  expect_identical(section("glossary", "qab"), section("glossary", "es"))
  expect_identical(section("verdicts", "ar"), section("verdicts", "en"))
  expect_true("qab" %in% languages()$language)
  said <- run_here("items", demo_path(), "--review", "--language", "qab")$out
  expect_match(said, "MIRA", all = FALSE)
})

test_that("data for other programs are the same in every language", {
  only_in_all()
  verbs <- list(
    "test", "items", c("items", "--review"), "options", "students", "standards",
    "misconceptions", "groups", "check", "decisions", "plan",
    c("students", "--sort", "name")
  )
  for (verb in verbs) {
    for (format in c("json", "csv")) {
      told <- lapply(c("en", "es"), function(language) {
        run_here(
          verb[1], demo_path(), verb[-1], "--format", format, "--language", language
        )$out
      })
      expect_identical(told[[1]], told[[2]], label = paste(c(verb, format), collapse = " "))
      expect_gt(length(told[[1]]), 0)
    }
  }
})

test_that("the language is that of --language, of the test, else the usual one, and is left", {
  only_in_all()
  folder <- demo_copy()
  said <- function(...) paste(run_here("test", folder, ...)$out, collapse = " ")
  expect_match(said(), "sat it")
  expect_match(said("--language", "es"), "la hicieron")
  expect_match(said("--language=Spanish"), "la hicieron")
  cat("language: espa\u00f1ol\n", file = file.path(folder, "test.yml"), append = TRUE)
  expect_match(said(), "la hicieron")
  expect_match(said("--language", "en"), "sat it")
  expect_identical(read_sitting(folder)$settings$language, "es")
  expect_false(internal("language_is_chosen")())
  # Where nobody said which, the environment does.
  Sys.setenv(PREGUNTA_LANGUAGE = "es")
  on.exit(Sys.unsetenv("PREGUNTA_LANGUAGE"))
  expect_match(paste(run_here("test", demo_path())$out, collapse = " "), "la hicieron")
  expect_match(paste(run_here("--help")$out, collapse = " "), "Un domingo por la tarde")
  Sys.unsetenv("PREGUNTA_LANGUAGE")
  # In R a page is in the test's language, or the one that is asked for.
  page <- function(...) {
    path <- tempfile(fileext = ".html")
    write_report(read_sitting(folder), path, audience = "head", ...)
    grep("^<html", readLines(path), value = TRUE)
  }
  expect_match(page(), "<html lang=\"es\" dir=\"ltr\">", fixed = TRUE)
  expect_match(page(language = "en"), "<html lang=\"en\" dir=\"ltr\">", fixed = TRUE)
})

test_that("a language that is not there is refused with those that are", {
  told <- run_here("test", demo_path(), "--language", "klingon")
  expect_equal(told$status, 2)
  expect_match(paste(told$err, collapse = " "), "no words in the language \"klingon\"")
  expect_match(paste(told$err, collapse = " "), "es \\(espa\u00f1ol\\)")
  report <- run_here("report", demo_copy(), "--language", "ar")
  expect_match(paste(report$err, collapse = " "), "only slips and mail")
  folder <- demo_copy()
  cat("language: klingon\n", file = file.path(folder, "test.yml"), append = TRUE)
  expect_error(read_sitting(folder), "no language", class = "pregunta_error_input")
})

# ---- what goes home ------------------------------------------------------------------

families <- function(languages) {
  folder <- demo_copy()
  path <- file.path(folder, "students.csv")
  students <- utils::read.csv(path, colClasses = "character")
  students$language <- rep_len(languages, nrow(students))
  students$guardian_email <- paste0(students$student, "@home.example")
  utils::write.csv(students, path, row.names = FALSE, fileEncoding = "UTF-8")
  folder
}

slip_of <- function(page, id) {
  xml2::xml_find_first(page, paste0("//article[@data-student='", id, "']"))
}

test_that("one run writes each family its own language", {
  codes <- c("ar", "Spanish", "zh-CN", "fr", "de", "pt", "uk", "tur", "vi", "", "Somali")
  folder <- families(codes)
  told <- run_here("slips", folder)
  said <- paste(told$err, collapse = " ")
  expect_match(said, "There are no words for \"Somali\", which [0-9]+ families read")
  page <- xml2::read_html(file.path(folder, "slips.html"))
  expected <- c("ar", "es", "zh-Hans", "fr", "de", "pt", "uk", "tr", "vi", "en", "en")
  for (k in seq_along(codes)) {
    slip <- slip_of(page, sprintf("h%03d", k))
    expect_identical(xml2::xml_attr(slip, "lang"), expected[k])
    right <- if (expected[k] == "ar") "rtl" else "ltr"
    expect_identical(xml2::xml_attr(slip, "dir"), right)
    heading <- internal("section_of")("slip_headings", expected[k])$next_step
    words <- unlist(internal("section_of")("slip_headings", expected[k]))
    expect_match(xml2::xml_text(slip), words[["about"]], fixed = TRUE, label = expected[k])
    message <- unlist(internal("section_of")("slip_messages", expected[k]))
    expect_true(
      any(vapply(message, grepl, TRUE, xml2::xml_text(slip), fixed = TRUE)),
      label = expected[k]
    )
    # What the teacher typed is marked with the language that it is in.
    typed <- xml2::xml_attr(xml2::xml_find_all(slip, ".//bdi[@lang]"), "lang")
    expect_identical(unique(typed), if (expected[k] != "en") "en" else character())
  }
  # For who has none of their own: what is asked for.
  run_here("slips", folder, "--language", "fr")
  page <- xml2::read_html(file.path(folder, "slips.html"))
  expect_identical(xml2::xml_attr(slip_of(page, "h010"), "lang"), "fr")
  expect_identical(xml2::xml_attr(slip_of(page, "h001"), "lang"), "ar")
  found <- run_here("check", folder)$out
  expect_match(found, "language \"Somali\" is no language", all = FALSE)
})

test_that("mail goes out in the family's language", {
  folder <- families(c("ar", "uk"))
  made <- write_mail(read_sitting(folder), file.path(folder, "mail"), "t@school.example", student = c("h001", "h002"))
  parts <- lapply(made$file, function(path) {
    lines <- readLines(path)
    at <- grep("^Content-Transfer-Encoding: base64", lines)
    bodies <- lapply(at, function(k) {
      rest <- lines[-seq_len(k)]
      rest <- rest[seq_len(which(startsWith(rest, "--"))[1] - 1)]
      rawToChar(jsonlite::base64_dec(paste(rest[nzchar(rest)], collapse = "")))
    })
    text <- unlist(bodies)
    Encoding(text) <- "UTF-8"
    text
  })
  words <- function(language) internal("section_of")("slip_headings", language)$about
  expect_match(parts[[1]], words("ar"), all = TRUE, fixed = TRUE)
  expect_match(parts[[1]], "lang=\"ar\" dir=\"rtl\"", all = FALSE, fixed = TRUE)
  expect_match(parts[[2]], words("uk"), all = TRUE, fixed = TRUE)
})

test_that("messages and titles that are given in several languages are chosen by reader", {
  folder <- families(c("es", "ar", "fr"))
  cat(
    "messages:",
    "  emerging: {en: You start here., es: Empiezas aqu\u00ed.}",
    "  developing: {en: You start here., es: Empiezas aqu\u00ed.}",
    "  secure: {en: You start here., es: Empiezas aqu\u00ed.}",
    "  deep: You have it.\n",
    file = file.path(folder, "test.yml"), sep = "\n", append = TRUE
  )
  path <- file.path(folder, "standards.csv")
  standards <- utils::read.csv(path, colClasses = "character")
  standards[["title (ar)"]] <- ifelse(standards$code == "TC.1.c", "\u0627\u0644\u0645\u062f", "")
  utils::write.csv(standards, path, row.names = FALSE, fileEncoding = "UTF-8")
  quiz <- read_sitting(folder)
  page <- xml2::read_html(write_slips(quiz, file.path(folder, "s.html"), student = c("h001", "h002", "h003")))
  message <- function(id) xml2::xml_find_first(slip_of(page, id), ".//p[@class='message']")
  expect_identical(xml2::xml_text(message("h001")), "Empiezas aqu\u00ed.")
  expect_length(xml2::xml_find_all(message("h001"), ".//bdi"), 0)
  expect_identical(xml2::xml_text(message("h002")), "You start here.")
  expect_identical(xml2::xml_attr(xml2::xml_find_first(message("h002"), ".//bdi"), "lang"), "en")
  expect_match(xml2::xml_text(slip_of(page, "h002")), "\u0627\u0644\u0645\u062f")
  expect_no_match(xml2::xml_text(slip_of(page, "h003")), "\u0627\u0644\u0645\u062f")
  expect_match(xml2::xml_text(slip_of(page, "h003")), "Read a tide table")
  # As typed for other programs.
  told <- run_here("standards", folder, "--format", "json")$out
  expect_no_match(paste(told, collapse = ""), "\u0627\u0644\u0645\u062f")
  cat("messages: {emerging: {xx: nobody}}\n", file = file.path(folder, "follow-up", "test.yml"), append = TRUE)
  expect_error(read_sitting(file.path(folder, "follow-up")), "messages", class = "pregunta_error_input")
})

test_that("a script that no font here has letters for is told", {
  expect_true(internal("has_letters")("Espa\u00f1ol"))
  expect_true(internal("has_letters")("abc"))
  expect_false(internal("has_letters")("\U10FFFD")) # a letter that nobody made
})

# ---- recognised --------------------------------------------------------------------------

test_that("the language of a file's headings is told, and of its account it is a line", {
  words <- export_words
  codes <- c(zh = "zh-Hans")
  for (language in setdiff(names(words), "en")) {
    own <- words[[language]]
    header <- c(own$name[1], own$class[1], paste0(own$item[2], 1:3), own$total[1])
    rows <- c("Ada Bay,7A,A,B,C,3", "Bo Day,7A,B,B,C,2", "Cy Moor,7B,A,C,C,2", "Di Ness,7B,A,B,D,2")
    path <- file.path(folder_of(e.csv = c(paste(header, collapse = ","), rows)), "e.csv")
    account <- read_account(path, key = "later")
    expected <- if (language %in% names(codes)) codes[[language]] else language
    told <- account$taken[account$what == "language"]
    expect_match(told, fact("name", expected), fixed = TRUE, label = language)
    expect_match(attr(account, "items")$item, "[1-3]$", label = language)
    expect_length(attr(account, "items")$item, 3)
  }
  tells <- internal("language_of_headings")
  expect_identical(tells(c("alumno", "pregunta 1", "pregunta 2")), "es")
  expect_identical(tells(c("id", "q1", "q2")), NA_character_)
})

test_that("what says yes, no, nothing or excused in a cell is known in every language", {
  means <- c(yes = "yes", no = "no", right = "1", wrong = "0", none = "", excused = "(excused)")
  for (code in language_codes()) {
    words <- internal("section_in_file")("headers", code)$cell
    if (is.null(words)) next # es-419: as es
    expect_setequal(names(words), names(means))
    said <- unlist(words, use.names = FALSE)
    expected <- rep(unname(means[names(words)]), lengths(words))
    rows <- c(sprintf("Pupil %02d,%s,1,0", seq_along(said), said), sprintf("Pupil %d,%d,0,1", 100:140, 0:40 %% 2))
    path <- file.path(folder_of(e.csv = c("student,Q1,Q2,Q3", rows)), "e.csv")
    folder <- tempfile("made")
    suppressMessages(new_test(folder, path))
    kept <- data.table::fread(file.path(folder, "responses.csv"), colClasses = "character")
    got <- kept$Q1[seq_along(said)]
    got[got %in% internal("yes_words")] <- "yes"
    got[got %in% internal("no_words")] <- "no"
    expect_identical(got, expected, label = code)
  }
})

test_that("a new test says the language that it is asked to", {
  path <- file.path(folder_of(e.csv = c("Alumno,Q1,Q2", "a,A,B", "b,B,B")), "e.csv")
  folder <- tempfile("made")
  told <- run_here("new", folder, "--from", path, "--key", "later", "--language", "es")
  expect_match(told$out, "encabezados en espa\u00f1ol", all = FALSE)
  expect_identical(yaml::read_yaml(file.path(folder, "test.yml"))$language, "es")
  expect_match(run_here("test", folder)$out, "nadie|la hicieron|estudiantes", all = FALSE)
})

# ---- in Spanish ----------------------------------------------------------------------------

test_that("the terminal reads in Spanish as it was read through", {
  skip_on_cran()
  shown <- function(...) run_here(..., "--language", "es")$out
  demo <- demo_path()
  expect_snapshot(cat(shown("test", demo), sep = "\n"))
  expect_snapshot(cat(shown("items", demo), sep = "\n"))
  expect_snapshot(cat(utils::head(shown("items", demo, "--review"), 40), sep = "\n"))
  expect_snapshot(cat(shown("standards", demo), sep = "\n"))
  expect_snapshot(cat(utils::head(shown("students", demo), 12), sep = "\n"))
  expect_snapshot(cat(utils::head(shown("options", demo, "--item", "Q7"), 20), sep = "\n"))
  expect_snapshot(cat(shown("misconceptions", demo), sep = "\n"))
  expect_snapshot(cat(shown("decisions", demo), sep = "\n"))
  expect_snapshot(cat(shown("compare", demo, demo_path("follow-up")), sep = "\n"))
  expect_snapshot(cat(shown("check", demo), sep = "\n"))
  expect_snapshot(cat(shown("slips", "--help"), sep = "\n"))
  expect_snapshot(cat(shown("explain", "alfa"), sep = "\n"))
})

test_that("a level can be named as it is read", {
  both <- lapply(c("secure", "logrado"), function(level) {
    run_here("students", demo_path(), "--below", level, "--language", "es")$out
  })
  expect_identical(both[[1]], both[[2]])
})

# ---- at the desk ---------------------------------------------------------------------------

test_that("who looks at the desk chooses a language, and their browser keeps it", {
  only_in_all()
  desk <- open_desk_here(more = c("--language", "es"))
  page <- open_page(desk)
  go_place(page, "#tides/went")
  expect_match(text_of(page), "C\u00f3mo fue")
  expect_identical(run_js(page, "document.documentElement.lang"), "es")
  choose <- function(code) {
    run_js(page, paste0(
      "var s=document.getElementById('language');s.value='", code,
      "';s.dispatchEvent(new Event('change',{bubbles:true}))"
    ))
    wait_for(function() {
      run_js(page, paste0(
        "(document.documentElement || {}).lang === '", code,
        "' && !!document.querySelector('#main h1')"
      ))
    })
    settle(page)
  }
  choose("en")
  go_place(page, "#tides/questions/Q7")
  expect_match(text_of(page), "The questions")
  expect_no_match(text_of(page), "Las preguntas")
  # What is made speaks as who makes it, and what was done says so.
  choose("es")
  go_place(page, "#tides/questions/Q7")
  expect_match(text_of(page), "Las preguntas")
  expect_match(text_of(page), "Hacerla la clave")
  # Somebody else looks in the desk's own language at the same time.
  asked <- curl::curl_fetch_memory(sub("[?]key=.*", "", desk$address), {
    handle <- curl::new_handle(followlocation = FALSE)
    key <- sub(".*key=", "", desk$address)
    curl::handle_setheaders(handle, Cookie = paste0("pregunta-", desk$port, "=", key, "; pregunta-language=en"))
    handle
  })
  expect_match(rawToChar(asked$content), "<html lang=\"en\" dir=\"ltr\">", fixed = TRUE)
  refused <- curl::curl_fetch_memory(sub("[?]key=.*", "", desk$address), {
    handle <- curl::new_handle()
    curl::handle_setheaders(handle, Cookie = paste0("pregunta-", desk$port, "=", key, "; pregunta-language=../../etc"))
    handle
  })
  expect_match(rawToChar(refused$content), "<html lang=\"es\"", fixed = TRUE)
})
