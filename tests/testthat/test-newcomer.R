# The command line for somebody who has never seen it: what is shown, what a wrong call is
# answered with, ids as people write them, and that no option is passed over.

verbs <- internal("command_verbs")()
flag_of <- function(option) internal("command_options")[[option]][[1]]

in_folder <- function(folder, code) {
  old <- setwd(folder)
  on.exit(setwd(old))
  force(code)
}

# A room with the demo as my-test, its follow-up as second-look, and exports of it.
room_of_examples <- function() {
  room <- tempfile("room-")
  dir.create(room)
  demo <- function(name) list.files(file.path(demo_path(), name), full.names = TRUE)
  put <- function(files, name) {
    dir.create(file.path(room, name))
    file.copy(files, file.path(room, name), recursive = TRUE)
  }
  put(demo(""), "my-test")
  put(demo("follow-up"), "second-look")
  put(demo("pool"), "questions")
  in_folder(room, {
    wide <- read.csv("my-test/responses.csv", colClasses = "character", na.strings = NULL)
    write.csv(wide, "results.csv", row.names = FALSE)
    late <- wide[1, ]
    late$student <- "late"
    write.csv(late, "late.csv", row.names = FALSE)
    file.copy("my-test/items.csv", "key.csv")
  })
  room
}

test_that("alone it shows the verbs of a Sunday evening, then every other by question", {
  shown <- run_here()
  expect_identical(shown$status, 0L)
  expect_identical(shown$out, run_here("--help")$out)
  calls <- grep("^  pregunta ", shown$out, value = TRUE)
  expect_match(calls[1:6], "^  pregunta (new|test|items|groups|plan|report) my-test")
  grouped <- unlist(internal("verbs_by_question"))
  expect_setequal(c(internal("first_verbs"), grouped), names(verbs))
  expect_identical(anyDuplicated(grouped), 0L)
  expect_true(all(nchar(shown$out, "width") <= 100))
})

test_that("the help of each verb has an example, and the examples run", {
  for (name in thinned(names(verbs), 8)) {
    said <- run_here(name, "--help")$out
    expect_match(said, paste0("^  pregunta ", name, "( |$)"), all = FALSE, label = name)
  }
  only_in_all()
  served <- c("desk", "receive", "watch", "roster", "send", "demo")
  in_folder(room_of_examples(), {
    unlink("second-look", recursive = TRUE)
    students <- read.csv("my-test/students.csv", colClasses = "character")
    students$guardian_email <- "guardian@home.example"
    write.csv(students, "my-test/students.csv", row.names = FALSE)
    examples <- internal("section_of")("examples")
    examples <- examples[setdiff(names(verbs), c(served, "markers", "new", "add"))]
    # What is drawn by one of them is sat before the next are asked about it.
    after <- c("compare", "record")
    calls <- unlist(examples[setdiff(names(examples), after)], use.names = FALSE)
    sat <- file.path(demo_path(), "follow-up")
    calls <- c(calls, list(sat), unlist(examples[after], use.names = FALSE))
    made <- "new my-new-test --from results.csv --key key.csv"
    for (call in c(made, "add my-new-test --from late.csv", calls)) {
      if (call == sat) {
        file.copy(list.files(sat, full.names = TRUE), "second-look", overwrite = TRUE)
        next
      }
      words <- scan(text = call, what = "", quiet = TRUE)
      if ("--undo" %in% words) expect_true(file.exists("my-test/adjustments.csv"))
      ran <- do.call(run_here, as.list(words))
      # The demo has an error in its data to be found.
      expect_identical(ran$status, as.integer(words[1] == "check"), label = paste(call, ran$err))
    }
    preview <- run_here("new", "other", "--from", "results.csv", "--key", "key.csv", "--preview")
    expect_identical(preview$status, 0L)
    expect_false(dir.exists("other"))
  })
})

test_that("a wrong call is answered with the right one", {
  room <- room_of_examples()
  answered <- list(
    "items" = "pregunta items my-test",
    "my-test" = "pregunta test my-test",
    "my-test items" = "pregunta items my-test",
    "results.csv" = "pregunta new results-test --from results.csv",
    "items results.csv" = "pregunta new results-test --from results.csv",
    "items my-test/items.csv" = "the folder that it lies in: \"my-test\"",
    "new results.csv" = "pregunta new results-test --from results.csv",
    "new my-own" = "--from",
    "items my-test Q7" = "pregunta items my-test",
    "items my-test --sort" = "pregunta items FOLDER --sort COLUMN",
    "items my-test --sort --by section" = "After it comes --by",
    "items my-test -sort" = "Did you mean \"--sort\"",
    "items my-test --grid" = "pregunta standards FOLDER --grid",
    "items my-test --review=yes" = "pregunta items FOLDER --review",
    "items my-test --bootstrap many" = "pregunta items FOLDER --bootstrap 10",
    "parts my-test --bootstrap 200.5" = "needs a whole number",
    "items my-test --format csv --format json" = "Give it once",
    "itms my-test" = "Did you mean \"items\"",
    "help itms" = "Did you mean \"items\"",
    "items my-tst" = "Did you mean \"my-test\"",
    "completion" = "pregunta completion bash",
    "completion csh" = "pregunta completion bash"
  )
  in_folder(room, for (call in names(answered)) {
    ran <- do.call(run_here, as.list(strsplit(call, " ")[[1]]))
    expect_identical(ran$status, 2L, label = call)
    said <- gsub("[[:space:]]+", " ", ran$err)
    expect_match(said, answered[[call]], fixed = TRUE, label = call)
    expect_identical(ran$out, character(), label = call)
  })
})

test_that("what follows an option is its value, and an order is turned round by a dash", {
  shares <- function(...) {
    ran <- run_here("items", demo_path(), "--format", "csv", ...)
    expect_identical(ran$status, 0L)
    read.csv(text = ran$out)$difficulty
  }
  expect_identical(shares("--sort", "-difficulty"), sort(shares(), decreasing = TRUE))
  expect_identical(shares("--sort=-difficulty"), shares("--sort", "-difficulty"))
  folder <- plain_folder()
  run_here("adjust", folder, "--student", "a", "--item", "Q1", "--comment", "--by the way")
  run_here("adjust", folder, "--student", "b", "--extra", "1", "--reason", "a=b, --c")
  changes <- read.csv(file.path(folder, "adjustments.csv"))
  expect_identical(changes$value, c("'--by the way", "1"))
  expect_identical(changes$reason[2], "a=b, --c")
  grid <- run_here("standards", demo_path(), "--grid")
  expect_identical(run_here("standards", demo_path(), "--grid", "all"), grid)
})

test_that("a change is taken back by its line, or the last by no line at all", {
  folder <- plain_folder()
  run_here("adjust", folder, "--key", "Q1=B")
  run_here("adjust", folder, "--drop", "Q2")
  run_here("adjust", folder, "--undo", "--reason", "it stays")
  changes <- read.csv(file.path(folder, "adjustments.csv"))
  expect_identical(changes$value[3], "drop")
  expect_identical(changes$reason[3], "it stays")
  expect_identical(run_here("adjust", folder, "--undo", "2")$status, 0L)
  ran <- run_here("adjust", folder, "--undo")
  expect_identical(ran$status, 2L)
  expect_match(ran$err, "No change stands")
})

test_that("ids are known among names with commas, and settings may be said several times", {
  people <- sprintf("s%04d", 1:2000)
  names <- paste0("Name, ", people)
  said <- paste(c(people, names[1:3]), collapse = ",")
  expect_identical(internal("ids_asked")(said, people, names), people)
  expect_identical(internal("ids_asked")(names[7], people, names), people[7])
  set <- internal("read_set")("student=Code;shape=wide\u001fscale=1:4")
  expect_identical(set[c("student", "shape", "scale")], list(student = "Code", shape = "wide", scale = "1:4"))
})

test_that("options that had another name before are still known by it", {
  bank <- tempfile(fileext = ".sqlite")
  for (flag in c("--items", "--item")) {
    expect_identical(run_here("bank", "add", demo_path(), flag, "Q3", "--bank", bank)$status, 0L)
  }
  drawn <- function(flag) {
    run_here("followup", demo_path(), "--from", demo_path("pool"), flag, "1")$out
  }
  expect_identical(drawn("--least"), drawn("--per-standard"))
  listed <- function(flag) run_here("bank", "list", flag, "thinking=recall", "--bank", bank)$out
  expect_identical(listed("--tag"), listed("--only"))
  out <- tempfile()
  mailed <- function(flag) {
    run_here("slips", demo_path(), "--mail", paste0(flag, "=me@school.example"), "--out", out)
  }
  expect_identical(mailed("--from"), mailed("--sender"))
})

test_that("ids may hold commas and blanks, and a student goes by the full name as well", {
  folder <- folder_of(
    responses.csv = c(
      "student,\"Q1, part a\",Q 2,Q=3", "\"Moor, Ada\",A,B,x", "\"Lee, Bo\",B,B,y", "moor,A,A,x"
    ),
    items.csv = c("item,key", "\"Q1, part a\",A", "Q 2,B", "Q=3,x"),
    students.csv = c(
      "student,name,section", "\"Moor, Ada\",Ada Moor,\"A, early\"",
      "\"Lee, Bo\",\"Lee, Bo Søren\",B", "moor,Bo Lee,B"
    )
  )
  students <- function(...) {
    ran <- run_here("students", folder, "--format", "csv", ...)
    expect_identical(ran$err, "")
    sort(read.csv(text = ran$out)$student)
  }
  expect_identical(students("--student", "Moor, Ada"), "Moor, Ada")
  expect_identical(students("--student", "ada moor"), "Moor, Ada")
  expect_identical(students("--student", "Moor, Ada,Lee, Bo"), c("Lee, Bo", "Moor, Ada"))
  expect_identical(students("--student", "bo soren LEE"), "Lee, Bo")
  expect_identical(students("--student", "moor", "--student", "Lee, Bo"), c("Lee, Bo", "moor"))
  only <- run_here("students", folder, "--only", "section=A, early,B", "--format", "csv")
  expect_match(only$err, "3 of 3 students")
  items <- run_here("items", folder, "--item", "Q1, part a,Q 2", "--format", "csv")
  expect_identical(sort(read.csv(text = items$out)$item), c("Q 2", "Q1, part a"))
  done <- run_here(
    "adjust", folder, "--student", "Moor, Ada", "--item", "Q1, part a", "--points", "0"
  )
  expect_identical(done$status, 0L)
  done <- run_here("adjust", folder, "--key", "Q=3=y", "--drop", "Q1, part a")
  expect_identical(done$status, 0L)
  changes <- read.csv(file.path(folder, "adjustments.csv"))
  expect_identical(changes$item, c("Q1, part a", "Q=3", "Q1, part a"))
  expect_identical(changes$value, c("0", "y", ""))
  slips <- run_here("slips", folder, "--student", "Ada Moor", "--out", tempfile(fileext = ".html"))
  expect_identical(slips$status, 0L)
  nobody <- run_here("students", folder, "--student", "Ada Mor")
  expect_identical(nobody$status, 2L)
  expect_match(nobody$err, "Ada Mor", fixed = TRUE)
})

test_that("of several who are called the same the ids are told", {
  folder <- plain_folder(students.csv = c("student,name", "a,Ada Moor", "b,Ada Moor", "c,Cy Lee"))
  ran <- run_here("students", folder, "--student", "Ada Moor")
  expect_identical(ran$status, 2L)
  expect_match(ran$err, "\"a\", \"b\"", fixed = TRUE)
})

test_that("what would have no effect is refused", {
  values <- function(option) {
    known <- internal("command_options")[[option]]
    if (!internal("takes_value")(known)) return(known[[1]])
    right <- c(
      format = "csv", target = "0.9", cut = "0.5", most = "3", least = "3", undo = "1",
      bootstrap = "200"
    )
    c(known[[1]], if (option %in% names(right)) right[[option]] else "section")
  }
  words_of <- function(piece, name) {
    words <- strsplit(piece, " ", fixed = TRUE)[[1]]
    if (length(words) == 2) return(words)
    flags <- vapply(verbs[[name]]$takes, flag_of, "")
    values(verbs[[name]]$takes[match(piece, flags)])
  }
  checked <- 0
  for (name in names(verbs)) {
    rules <- internal("unheeded_rules")(name)
    for (option in names(rules)) {
      rule <- rules[[option]]
      beside <- if (length(rule$not)) lapply(rule$not, words_of, name) else list(character())
      for (words in beside) {
        ran <- run_here(name, demo_path(), values(option), words)
        label <- paste(c(name, values(option), words), collapse = " ")
        expect_identical(ran$status, 2L, label = label)
        expect_match(ran$err, paste(flag_of(option), "would do nothing"), fixed = TRUE, label = label)
        checked <- checked + 1
      }
    }
  }
  expect_gt(checked, 50)
})

# Each option of the tables, with a value that makes a difference on the demo.
test_that("an option that is taken makes a difference", {
  value <- c(
    format = "csv", by = "section", item = "Q7", student = "h012", only = "thinking=recall",
    target = "0.95", bootstrap = "100", below = "secure", status = "late", standard = "TC.2",
    tagged = "type", size = "4", least = "5", groups = "3", basis = "score", cut = "0.3",
    strata = "type", reference = "Harbour C", focal = "Harbour B", most = "1", drop = "Q3",
    accept = "Q7=B", credit = "Q4", sort = "item"
  )
  sorts <- c(
    students = "-points", standards = "-share", misconceptions = "description", test = "mean",
    decisions = "-agreement", parts = "-alpha", precision = "-sem", cuts = "-cut",
    groups = "-name", patterns = "name", time = "-item", items = "-difficulty"
  )
  beside <- list(
    fairness = c("--by", "section"), `what-if` = c("--key", "Q7=C"), test = c("--by", "boat"),
    decisions = c("--by", "boat"), groups = c("--basis", "score"),
    patterns = c("--format", "csv")
  )
  of_tables <- c(
    "test", "items", "options", "students", "standards", "misconceptions", "groups",
    "decisions", "parts", "precision", "patterns", "fairness", "what-if"
  )
  elsewhere <- c("out", "before", "apply", "reason", "about", "answers", "helped", "key", "whole")
  for (name in thinned(of_tables, 3)) {
    plain <- run_here(name, demo_path(), beside[[name]])
    expect_identical(plain$status, 0L, label = name)
    for (option in setdiff(verbs[[name]]$takes, elsewhere)) {
      flag <- flag_of(option)
      if (flag %in% beside[[name]] || option %in% names(internal("unheeded_rules")(name))) next
      # the columns that groups and the plan are made by are those that are there anyway
      if (name == "groups" && option == "by") next
      given <- if (internal("takes_value")(internal("command_options")[[option]])) {
        if (option == "sort" && name %in% names(sorts)) sorts[[name]] else value[[option]]
      }
      ran <- run_here(name, demo_path(), beside[[name]], flag, given)
      label <- paste(c(name, flag, given), collapse = " ")
      expect_identical(ran$status, 0L, label = paste(label, ran$err))
      expect_false(identical(ran, plain), label = label)
    }
  }
})

test_that("the tab key completes verbs, options and their values in each shell", {
  script <- function(shell) {
    path <- tempfile(fileext = paste0(".", shell))
    writeLines(run_here("completion", shell)$out, path, useBytes = TRUE)
    path
  }
  asked <- list(
    c("it", "items"), c("items --rev", "--review"), c("items --format cs", "csv"),
    c("record gro", "growth"), c("report x --for coo", "coordinator")
  )
  for (pair in asked) {
    words <- strsplit(pair[1], " ")[[1]]
    asks <- paste0(
      ". ", script("bash"), "; COMP_WORDS=(pregunta ", pair[1], "); COMP_CWORD=", length(words),
      "; _pregunta; echo \"${COMPREPLY[*]}\""
    )
    said <- system2("bash", c("-c", shQuote(asks)), stdout = TRUE)
    expect_identical(said, pair[2], label = pair[1])
    skip_if(!nzchar(Sys.which("fish")), "no fish on this machine")
    asks <- paste0("source ", script("fish"), "; complete -C 'pregunta ", pair[1], "'")
    said <- system2("fish", c("-c", shQuote(asks)), stdout = TRUE)
    expect_match(said, paste0("^", pair[2]), label = pair[1])
  }
  in_zsh <- run_here("completion", "zsh")$out
  for (name in names(verbs)) {
    expect_match(in_zsh, paste0("^    ", name, "[)]$"), all = FALSE)
  }
  skip_if(!nzchar(Sys.which("zsh")), "no zsh on this machine")
  expect_identical(system2("zsh", c("-n", script("zsh"))), 0L)
})

test_that("new on a folder that is a test says what could have been meant, and that runs", {
  room <- room_of_examples()
  in_folder(room, {
    run_here("new", "quiz", "--from", "results.csv", "--key", "key.csv")
    before <- read.csv("quiz/responses.csv", colClasses = "character")
    changed <- before
    changed$Q1 <- "D"
    write.csv(changed, "better.csv", row.names = FALSE, na = "")
    ran <- run_here("new", "quiz", "--from", "better.csv")
    expect_identical(ran$status, 1L)
    expect_match(ran$err, "pregunta add quiz --from better.csv", fixed = TRUE)
    said <- gsub("\u00a0", " ", ran$err, fixed = TRUE)
    call <- regmatches(said, regexpr("add quiz --from better.csv --again replace", said))
    ran <- do.call(run_here, as.list(strsplit(call, " ")[[1]]))
    expect_identical(ran$status, 0L, label = ran$err)
    after <- read.csv("quiz/responses.csv", colClasses = "character")
    expect_identical(after$student, before$student)
    expect_true(all(after$Q1 %in% c("D", "")))
    expect_identical(after$Q2, before$Q2)
    run_here("add", "quiz", "--undo")
    expect_identical(read.csv("quiz/responses.csv", colClasses = "character"), before)
  })
})

test_that("a key in doubt is told before it is shown, kept or goes home as right", {
  for (call in list(c("walkthrough"), c("slips"), c("bank", "add"))) {
    more <- if (call[1] == "bank") c("--item", "Q7", "--bank", tempfile()) else c("--out", tempfile(fileext = ".html"))
    said <- run_here(call, demo_path(), more)
    expect_identical(said$status, 0L)
    expect_match(said$err, "check the key of Q7", label = call[1])
  }
  quiet <- run_here("slips", demo_path(), "--parts", "score", "--out", tempfile(fileext = ".html"))
  expect_no_match(quiet$err, "check the key")
})

test_that("--key takes a file or ITEM=KEY, to a new test, an addition and a change", {
  room <- tempfile("keys-")
  dir.create(room)
  quiz <- function(name) file.path(room, name)
  key <- read.csv(file.path(demo_path(), "items.csv"))[1:4, c("item", "key")]
  pairs <- paste(key$item, key$key, sep = "=")
  lines <- read.csv(file.path(demo_path(), "responses.csv"), colClasses = "character")[1:5]
  export <- quiz("export.csv")
  write.csv(lines, export, row.names = FALSE)
  write.csv(key, quiz("key.csv"), row.names = FALSE)
  said <- list(
    file = c("--key", quiz("key.csv")),
    one = c("--key", paste(pairs, collapse = ",")),
    several = c("--key", pairs[1], "--key", paste(pairs[2:4], collapse = ", "))
  )
  for (way in names(said)) {
    do.call(run_here, as.list(c("new", quiz(way), "--from", export, said[[way]])))
    later <- quiz(paste0(way, "-later"))
    run_here("new", later, "--from", export, "--key", "later")
    # A trial row is no key where the key is said to come later.
    items <- read.csv(file.path(later, "items.csv"))
    expect_identical(items$item, key$item)
    expect_null(items$key)
    added <- do.call(run_here, as.list(c("add", later, said[[way]])))
    expect_identical(added$status, 0L, label = added$err)
    for (folder in c(quiz(way), later)) {
      expect_identical(read.csv(file.path(folder, "items.csv"))$key, key$key, label = way)
      expect_identical(read_sitting(folder)$students$student[1], "h001", label = way)
    }
  }
  # A change: only what differs, in one go.
  other <- transform(key, key = replace(key, 2:3, c("A", "D")))
  write.csv(other, quiz("other.csv"), row.names = FALSE)
  by_file <- run_here("what-if", quiz("file"), "--key", quiz("other.csv"))
  by_item <- run_here("what-if", quiz("file"), "--key", "Q2=A,Q3=D")
  expect_identical(by_file$out, by_item$out)
  run_here("adjust", quiz("file"), "--key", quiz("other.csv"), "--reason", "read again")
  changes <- read.csv(file.path(quiz("file"), "adjustments.csv"))
  expect_identical(changes[c("item", "value")], data.frame(item = c("Q2", "Q3"), value = c("A", "D")))
  again <- run_here("adjust", quiz("file"), "--key", quiz("other.csv"))
  expect_match(again$err, "already")
  # What does not go says what would.
  refused <- run_here("add", quiz("one"), "--key", "Q2=A")
  expect_match(refused$err, "--key Q2=A")
  refused <- run_here("add", quiz("one"), "--key", quiz("other.csv"))
  expect_match(refused$err, "--key other.csv")
  for (call in list(c("new", quiz("none"), "--from", export), c("adjust", quiz("one")))) {
    missing <- do.call(run_here, as.list(c(call, "--key", quiz("ky.csv"))))
    expect_identical(missing$status, 2L)
    expect_match(gsub("\\s+", " ", missing$err), "Did you mean .*key.csv")
  }
  meant <- run_here("new", quiz("one"), "--from", export, "--key", pairs[1], "--key", pairs[2])
  expect_match(meant$err, paste0("--key ", pairs[1], ",", pairs[2]), fixed = TRUE)
  both <- run_here("new", quiz("none"), "--from", export, "--key", "Q1=A", "--key", quiz("key.csv"))
  expect_match(both$err, "not both")
})

test_that("of several tests the one that failed is told, however quiet it is to be", {
  room <- tempfile("tests-")
  for (name in c("tides", "knots")) {
    dir.create(file.path(room, name), recursive = TRUE)
    files <- list.files(demo_path(if (name == "knots") "knots"), "[.](csv|yml)$", full.names = TRUE)
    file.copy(files, file.path(room, name))
  }
  cat("\"student\",\"K1\"\n\"h001", file = file.path(room, "knots", "responses.csv"))
  out <- tempfile("out-")
  ran <- run_here("report", room, "--out", out, "--quiet")
  expect_identical(ran$status, 1L)
  expect_match(ran$err, "knots: ")
  expect_no_match(ran$err, "written")
  logged <- run_here("report", room, "--out", out, "--log", "json", "--quiet")
  error <- jsonlite::fromJSON(strsplit(logged$err, "\n")[[1]][1])
  expect_identical(error$level, "error")
  expect_identical(basename(error$about), "knots")
  expect_match(error$where, "responses.csv", fixed = TRUE)
  expect_true(all(nzchar(c(error$what, error$fix))))
})
