# The bank of questions: what it keeps, how it is asked, and what it refuses.

test_that(
  "items are kept with options, standards, tags, figures and every use, and no student",
  {
    bank <- tempfile(fileext = ".sqlite")
    quiz <- read_sitting(demo_path())
    again <- read_sitting(demo_path("follow-up"))
    kept <- keep_items(quiz, quiz$items$item, bank)
    expect_equal(kept$kept, rep("new", 24))
    items <- bank_items(bank)
    figures <- summarise_items(quiz)
    for (column in c(
      "item", "type", "points", "n", "difficulty", "discrimination", "reason"
    )) {
      expect_equal(items[[column]], figures[[column]], label = column)
    }
    expect_equal(items$standards, quiz$items$standards)
    expect_equal(items$tags, paste0("thinking=", quiz$items$thinking))
    # the same wording, type and options
    expect_equal(keep_items(again, again$items$item, bank)$kept, rep("known", 8))
    expect_equal(keep_items(quiz, "Q9", bank)$kept, "known")
    uses <- bank_uses(bank)
    expect_equal(nrow(uses), 32) # kept twice of one test is one use
    expect_equal(
      uses$test[uses$id == 9],
      c("Tides and Currents", "Tides and Currents, follow-up")
    )
    expect_equal(subset(bank_items(bank), id == 9)$item, "F2")
    bytes <- rawToChar(Filter(function(b) b != as.raw(0), readBin(bank, "raw", 1e6)))
    expect_false(grepl("Anchorley|h001", bytes, useBytes = TRUE))
  }
)

test_that(
  paste0(
    "the list is filtered by standard with its parts, tag, type and figures; values are ",
    "never SQL"
  ),
  {
    bank <- tempfile(fileext = ".sqlite")
    quiz <- read_sitting(demo_path())
    keep_items(quiz, quiz$items$item, bank)
    figures <- summarise_items(quiz)
    expect_equal(
      bank_items(bank, standard = "TC.1.b")$item,
      quiz$items$item[quiz$items$standards == "TC.1.b"]
    )
    expect_equal(
      bank_items(bank, standard = "TC.1")$item,
      grep("^TC.1", quiz$items$standards) |> (\(k) quiz$items$item[k])()
    )
    expect_equal(bank_items(bank, type = "number")$item, c("Q19", "Q20"))
    expect_equal(
      bank_items(bank, difficulty = c(0.3, 0.6), discrimination = c(0.3, 1))$item,
      with(
        figures,
        item[which(difficulty >= 0.3 & difficulty <= 0.6 & discrimination >= 0.3)]
      )
    )
    expect_equal(
      bank_items(bank, tag = c(thinking = "reason"), standard = "TC.1")$item,
      c("Q9", "Q10")
    )
    expect_equal(nrow(bank_items(bank, standard = "x' OR '1'='1")), 0)
    shown <- run_here(
      "bank",
      "list",
      "--bank",
      bank,
      "--only",
      "thinking=reason",
      "--only",
      "thinking=use"
    )$out
    # of one tag either
    expect_length(shown, 1 + sum(quiz$items$thinking %in% c("reason", "use")))
    expect_equal(
      run_here("bank", "list", "--bank", bank, "--only", "thinking=x")$out,
      "Nothing to show."
    )
    json <- jsonlite::fromJSON(
      paste(
        run_here(
          "bank",
          "list",
          "--bank",
          bank,
          "--difficulty",
          "0..0.3",
          "--format",
          "json"
        )$out,
        collapse = "\n"
      )
    )
    expect_equal(json$item, with(figures, item[difficulty <= 0.3]))
  }
)

test_that("the most missed and the sound ones are chosen by their figures", {
  quiz <- read_sitting(demo_path())
  figures <- summarise_items(quiz)
  expect_setequal(
    choose_items(quiz, missed = 3),
    figures$item[order(figures$difficulty)][1:3]
  )
  sound <- choose_items(quiz, sound = TRUE)
  expect_true(all(figures$discrimination[figures$item %in% sound] >= 0.3))
  expect_false(any(c("Q1", "Q7", "Q9", "Q11", "Q14") %in% sound))
  bank <- tempfile(fileext = ".sqlite")
  expect_match(
    run_here(
      "bank",
      "add",
      demo_path(),
      "--missed",
      "2",
      "--item",
      "Q1",
      "--bank",
      bank
    )$out,
    "3 new, 0 known",
    all = FALSE
  )
  expect_equal(
    run_here("bank", "uses", "--bank", bank, "--format", "csv")$out[1] |>
      strsplit(",") |>
      lengths(),
    13
  )
})

test_that(
  paste0(
    "a file that is no bank, another's database, a later version or a locked one is ",
    "refused and stays"
  ),
  {
    quiz <- read_sitting(demo_path("knots"))
    refused <- function(path, ...) {
      before <- readBin(path, "raw", 1e6)
      expect_refused(keep_items(quiz, "K1", path), "bank", ...)
      expect_identical(readBin(path, "raw", 1e6), before)
    }
    text <- tempfile()
    writeLines("item,key", text)
    refused(text, "is not a database", "stays as it is")
    broken <- tempfile()
    writeBin(c(charToRaw("SQLite format 3"), as.raw(0), as.raw(rep(7, 200))), broken)
    refused(broken, "could not be used")
    other <- tempfile()
    connection <- DBI::dbConnect(RSQLite::SQLite(), other)
    DBI::dbExecute(connection, "CREATE TABLE thing (a)")
    DBI::dbDisconnect(connection)
    refused(other, "a database, but no bank of questions")
    bank <- tempfile()
    keep_items(quiz, "K1", bank)
    connection <- DBI::dbConnect(RSQLite::SQLite(), bank)
    DBI::dbExecute(connection, "BEGIN EXCLUSIVE")
    refused(bank, "locked by another process", "try again")
    expect_refused(bank_items(bank), "bank", "locked by another process")
    DBI::dbExecute(connection, "ROLLBACK")
    DBI::dbExecute(connection, "PRAGMA user_version = 2")
    DBI::dbDisconnect(connection)
    refused(bank, "later version", "its schema is 2")
    expect_refused(bank_items(tempfile()), "bank", "is not there", "bank add")
    expect_refused(
      keep_items(quiz, "K1", file.path(tempfile(), "x")),
      "bank",
      "no folder"
    )
    expect_refused(keep_items(quiz, "K9", tempfile()), "call", "no item \"K9\"")
    for (call in list(
      character(),
      "lend",
      "add",
      c("add", demo_path()),
      c("list", "--difficulty", "hard")
    )) {
      expect_equal(
        run_here("bank", call, "--bank", tempfile())$status,
        2,
        label = paste(call, collapse = " ")
      )
    }
  }
)

test_that("a bank that was being written when the process died is whole again", {
  bank <- tempfile()
  quiz <- read_sitting(demo_path("knots"))
  keep_items(quiz, c("K1", "K2"), bank)
  before <- bank_items(bank)
  code <- sprintf(
    "c <- DBI::dbConnect(RSQLite::SQLite(), '%s', cache_size = 1); DBI::dbBegin(c)
    DBI::dbExecute(c, \"DELETE FROM item_use\"); DBI::dbExecute(c, \"DELETE FROM item\")
    tools::pskill(Sys.getpid(), tools::SIGKILL)",
    bank
  )
  suppressWarnings(system2(
    file.path(R.home("bin"), "Rscript"),
    c("-e", shQuote(code)),
    stdout = FALSE,
    stderr = FALSE
  ))
  expect_equal(bank_items(bank), before)
})
