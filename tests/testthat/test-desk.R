# The desk, driven in a real browser.

test_that("a key is changed, shown before, written, and taken back; as on the command line", {
  desk <- open_desk_here()
  page <- open_page(desk)
  list_of <- function(folder) {
    read.csv(file.path(folder, "adjustments.csv"), colClasses = "character")
  }
  tides <- file.path(desk$folder, "tides")
  other <- demo_copy()
  go_place(page, "#tides")
  press(page, "a[data-open='Q7']")
  expect_match(text_of(page, "#beside"), "Check the key")
  press(page, "#beside button[data-action='key'][data-value='C']")
  expect_match(text_of(page, "#ask"), "the score of 52 rises, of 16 falls")
  expect_false(file.exists(file.path(tides, "adjustments.csv")))
  type_into(page, "#ask input[name='reason']", "half moon is neap tide")
  send_form(page, "#ask form")
  expect_match(text_of(page, "#done"), "Done: the key of Q7 is C")
  run_here(
    "adjust", other, "--key", "Q7=C", "--reason", "half moon is neap tide"
  )
  expect_equal(list_of(tides)[-6], list_of(other)[-6])
  # The words that it shows do the same.
  line <- run_js(page, "document.querySelector('#done .terminal code').textContent")
  expect_match(line, "^pregunta adjust .* --key Q7=C --reason 'half moon is neap tide'$")
  press(page, "#done button[data-act='undo']")
  run_here("adjust", other, "--undo", "2")
  expect_equal(list_of(tides)[-6], list_of(other)[-6])
  expect_match(text_of(page, "#beside"), "Check the key")
})

test_that("every place shows, at a desk's and a phone's width, in the dark, and axe finds nothing", {
  axe <- Sys.getenv("PREGUNTA_AXE")
  desk <- open_desk_here()
  page <- open_page(desk)
  places <- c(
    "#shelf", "#new", "#year", "#tides", "#tides/came", "#tides/mark",
    "#tides/questions/Q7", "#tides%2Fknots/students/h012", "#tides%2Fknots/students/h012/K1",
    "#tides/standards/TC.1.a", "#tides/next", "#tides/give", "#year/h012",
    "#tides/show/2", "#tides%2Fknots", "#tides%2Fknots/students"
  )
  has_axe <- file.exists(axe)
  if (has_axe) run_js(page, paste(readLines(axe, warn = FALSE), collapse = "\n"))
  for (place in thinned(places, 6)) {
    go_place(page, place)
    said <- text_of(page)
    expect_gt(nchar(said), 40, label = place)
    expect_no_match(said, "went wrong|no such place", label = place)
    expect_equal(
      run_js(page, "document.documentElement.scrollWidth <= innerWidth"), TRUE,
      label = place
    )
    if (!has_axe) next
    found <- run_js(page, paste0(
      "axe.run(document, {resultTypes: ['violations']}).then(function (r) { return ",
      "r.violations.map(function (v) { return v.id + ': ' + v.nodes[0].html; }).join(' | '); })"
    ))
    expect_equal(found, "", label = place)
  }
  run_js(page, "(document.documentElement.dataset.room = 'dark', true)")
  page$Emulation$setDeviceMetricsOverride(390, 800, 1, TRUE)
  for (place in thinned(places[c(1, 4, 5, 6, 7, 10, 11, 12)], 3)) {
    go_place(page, place)
    expect_equal(
      run_js(page, "document.documentElement.scrollWidth <= innerWidth + 1"), TRUE,
      label = paste("phone:", place)
    )
    if (!has_axe) next
    found <- run_js(page, paste0(
      "axe.run(document, {runOnly: ['color-contrast']}).then(function (r) { return ",
      "r.violations.map(function (v) { return v.nodes[0].html; }).join(' | '); })"
    ))
    expect_equal(found, "", label = paste("dark:", place))
  }
  # On paper what was looked at, without places, buttons and fields.
  page$Emulation$setEmulatedMedia(media = "print")
  for (place in c("#tides/questions/Q7", "#tides/next", "#tides/came", "#year/h012")) {
    go_place(page, place)
    expect_gt(nchar(text_of(page)), 300, label = paste("print:", place))
    expect_equal(run_js(page, paste0(
      "[...document.querySelectorAll('nav, form, button:not(.term), input')]",
      ".filter(e => e.offsetHeight > 0).length"
    )), 0, label = paste("print:", place))
  }
})

test_that("a messy export comes in by what is shown, corrected, and kept as by `new`", {
  only_in_all()
  desk <- open_desk_here()
  page <- open_page(desk)
  export <- system.file("extdata", "exports", "wide-names-totals.csv", package = "pregunta")
  # alone, without the options that stand beside it in its folder
  key <- file.path(folder_of(), "items.csv")
  file.copy(file.path(demo_path(), "items.csv"), key)
  go_place(page, "#new")
  drop_files(page, "#arriving", export)
  expect_match(text_of(page), "24: Q1 to Q24")
  expect_length(list.files(desk$folder), 1)
  drop_files(page, "#arriving_key", key)
  expect_match(text_of(page), "of 24 of the 24 questions")
  type_into(page, "form[data-act='keep'] input[name='name']", "unit one")
  send_form(page, "form[data-act='keep']")
  wait_for(function() grepl("unit%20one", run_js(page, "location.hash")))
  other <- tempfile("by-hand-")
  run_here("new", other, "--from", export, "--key", key)
  same <- list.files(other, recursive = TRUE)
  made <- file.path(desk$folder, "unit one")
  expect_setequal(list.files(made, recursive = TRUE), same)
  expect_equal(
    unname(tools::md5sum(file.path(made, same))),
    unname(tools::md5sum(file.path(other, same)))
  )
})

test_that("a Sunday evening takes few presses and no terminal", {
  desk <- open_desk_here()
  page <- open_page(desk)
  presses <- 0
  count <- function(done) {
    force(done)
    presses <<- presses + 1
  }
  export <- system.file("extdata", "exports", "wide-names-totals.csv", package = "pregunta")
  # results in
  count(press(page, "a[href='#new']"))
  count(drop_files(page, "#arriving", export))
  count(drop_files(page, "#arriving_key", file.path(demo_path(), "items.csv")))
  count(send_form(page, "form[data-act='keep']"))
  wait_for(function() grepl("/came$", run_js(page, "location.hash")))
  settle(page)
  # what went wrong
  count(press(page, ".places a[href$='/went']"))
  expect_match(text_of(page), "How it went.*What first.*Who first")
  count(press(page, "a[data-open='Q7']"))
  # mend a key
  count(press(page, "#beside button[data-action='key'][data-value='C']"))
  type_into(page, "#ask input[name='reason']", "wrong in the key")
  count(send_form(page, "#ask form"))
  expect_match(text_of(page, "#done"), "Done: the key of Q7 is C")
  # who needs what on Monday
  count(press(page, ".places a[href$='/next']"))
  expect_match(text_of(page), "Groups to teach.*What to teach again")
  # pages home
  count(press(page, ".places a[href$='/give']"))
  count(press(page, "#main button[value='slips']"))
  wait_for(function() grepl("Made: ", text_of(page, "#done")))
  expect_lte(presses, 25)
  made <- setdiff(list.files(desk$folder), "tides")
  expect_true(file.exists(file.path(desk$folder, made, "slips.html")))
  # A new test is taken back as a whole, as long as nothing was changed in it.
  go_place(page, "#new")
  drop_files(page, "#arriving", export)
  drop_files(page, "#arriving_key", file.path(demo_path(), "items.csv"))
  type_into(page, "form[data-act='keep'] input[name='name']", "by mistake")
  send_form(page, "form[data-act='keep']")
  wait_for(function() dir.exists(file.path(desk$folder, "by mistake")))
  settle(page)
  press(page, "#done button[data-act='unmake']")
  expect_false(dir.exists(file.path(desk$folder, "by mistake")))
})

test_that("from the shelf to a changed key and back by the keyboard alone", {
  desk <- open_desk_here()
  page <- open_page(desk)
  enter <- function(selector) {
    tab_to(page, selector)
    type_keys(page, "Enter")
  }
  enter("#main a[href='#tides']")
  enter("a[data-open='Q7']")
  enter("#beside button[data-action='key'][data-value='C']")
  # What would move has the focus, and its reason comes next.
  expect_equal(tab_to(page, "#ask input[name='reason']"), 1)
  page$Input$insertText("by keys")
  type_keys(page, "Enter")
  expect_match(text_of(page, "#done"), "Done: the key of Q7 is C")
  enter("#done button[data-act='undo']")
  expect_match(text_of(page, "#done"), "Taken back")
  go_place(page, "#tides/students")
  run_js(page, "(document.querySelector('#grid tbody td[tabindex]').focus(), true)")
  type_keys(page, c("ArrowDown", "ArrowRight", "Enter"))
  expect_match(run_js(page, "location.hash"), "#tides/students/[^/]+/Q")
  expect_match(text_of(page, "#beside"), "Points:")
})

test_that("a second test is chosen, made, taken back; what came of it closes the plan", {
  only_in_all()
  desk <- open_desk_here()
  page <- open_page(desk)
  tides <- file.path(desk$folder, "tides")
  go_place(page, "#tides/next")
  send_form(page, "form[data-act='draw']")
  expect_match(text_of(page, "form[data-act='followup']"), "F1 .*F8")
  run_js(page, "(document.querySelector('input[name=ticked][value=F2]').click(), true)")
  send_form(page, "form[data-act='followup']")
  made <- wait_for(function() {
    found <- setdiff(list.files(desk$folder), "tides")
    if (length(found)) file.path(desk$folder, found)
  })
  settle(page)
  expect_equal(nrow(read.csv(file.path(made, "items.csv"))), 7)
  expect_no_match(readLines(file.path(made, "items.csv")), "southern half")
  expect_true(all(file.exists(file.path(made, c("paper.docx", "key.docx")))))
  press(page, "#done button[data-act='unmake']")
  expect_false(dir.exists(made))
  run_here("plan", tides)
  other <- demo_copy()
  run_here("plan", other)
  go_place(page, "#tides/next")
  run_js(page, "(document.querySelector('select[name=other]').value = 'tides/follow-up', true)")
  send_form(page, "form[data-act='compare']")
  expect_match(text_of(page), "79 students sat both and earned 58% before, 78% after")
  before <- readLines(file.path(tides, "plan.csv"))
  press(page, "button[data-act='close-plan']")
  run_here("compare", other, demo_path("follow-up"), "--close")
  expect_identical(
    readLines(file.path(tides, "plan.csv")), readLines(file.path(other, "plan.csv"))
  )
  press(page, "#done button[data-act='put-back']")
  expect_identical(readLines(file.path(tides, "plan.csv")), before)
})

test_that("of who is there twice it is asked what the rows are; no words of a terminal", {
  desk <- open_desk_here()
  tides <- file.path(desk$folder, "tides")
  lines <- readLines(file.path(tides, "responses.csv"))
  late <- c(lines[1], sub("h001", "h900", lines[3]), sub("\"D\"", "\"A\"", lines[4]))
  file <- file.path(folder_of(late.csv = late), "late.csv")
  page <- open_page(desk)
  go_place(page, "#tides/came")
  drop_files(page, "#late", file)
  asked <- text_of(page, "#main .asked-here")
  expect_match(asked, "answers in the folder already.*another attempt.*Leave these rows out")
  expect_no_match(asked, "--again", fixed = TRUE)
  press(page, "#main button[data-again='skip']")
  press(page, "#main button[data-act='keep']")
  wait_for(function() grepl("Take back", text_of(page, "#done")))
  line <- run_js(page, "document.querySelector('#done .terminal code').textContent")
  expect_match(line, "--again skip")
  expect_equal(sum(summarise_students(read_sitting(tides))$student == "h900"), 1)
  # An export without a key: what the desk says is what can be done at it.
  keyless <- file.path(folder_of(k.csv = c("id,Q1,Q2", "a,A,B", "b,C,B")), "k.csv")
  go_place(page, "#new")
  drop_files(page, "#arriving", keyless)
  expect_match(text_of(page), "drop it here, now or later")
  send_form(page, "#main form[data-act='keep']")
  expect_match(text_of(page, "#main .asked-here"), "No question has a key.*Drop the key")
  expect_no_match(text_of(page, "#main"), "--", fixed = TRUE)
})

test_that("what was tried follows what a spreadsheet changes meanwhile, and both stand", {
  desk <- open_desk_here()
  tides <- file.path(desk$folder, "tides")
  page <- open_page(desk)
  go_place(page, "#tides/questions/Q7")
  press(page, "#beside button[data-action='key'][data-value='C']")
  expect_match(text_of(page, "#ask"), "the score of 52 rises, of 16 falls")
  type_into(page, "#ask input[name='reason']", "half moon")
  path <- file.path(tides, "responses.csv")
  table <- data.table::fread(path, colClasses = "character", data.table = FALSE)
  changed <- which(table$Q7 == "C")[1:2]
  table$Q7[changed] <- "B"
  data.table::fwrite(table, path)
  wait_for(function() grepl("the score of 50 rises, of 18 falls", text_of(page, "#ask")))
  settle(page)
  field <- "document.querySelector(\"#ask input[name='reason']\").value"
  expect_equal(run_js(page, field), "half moon")
  send_form(page, "#ask form")
  expect_match(text_of(page, "#done"), "Done: the key of Q7 is C")
  expect_equal(read_sitting(tides)$changes$reason, "half moon")
  again <- data.table::fread(path, colClasses = "character", data.table = FALSE)
  expect_equal(again$Q7[changed], c("B", "B"))
})

test_that("what is no export is answered in words, and a name of a file reaches no path", {
  desk <- open_desk_here()
  page <- open_page(desk)
  bad <- folder_of(
    "empty.csv" = character(), "page.csv" = "<svg onload=document.title=1>",
    "zip.xlsx" = "PK nothing"
  )
  writeBin(as.raw(sample(0:255, 5000, TRUE)), file.path(bad, "noise.csv"))
  for (file in list.files(bad, full.names = TRUE)) {
    go_place(page, "#new")
    drop_files(page, "#arriving", file)
    expect_gt(nchar(text_of(page, "#main .trouble, #main .asked-here")), 20, label = file)
    press(page, "button[data-act='forget']")
  }
  expect_no_match(run_js(page, "document.title"), "^1$")
  expect_length(list.files(desk$folder), 1)
  internal <- getFromNamespace("kept_uploads", "pregunta")
  source <- tempfile()
  writeLines("x", source)
  kept <- internal(NULL, data.frame(name = "../../etc/passwd", datapath = source))
  expect_equal(basename(kept), "passwd")
  expect_match(dirname(kept), "^.*/came-[0-9a-f]+$")
})

test_that("marks are given by keys, half points by a comma first, and taken back", {
  desk <- open_desk_here()
  page <- open_page(desk)
  go_place(page, "#tides/mark/Q24/1")
  answer <- text_of(page, ".marking .answer")
  type_keys(page, c(",", "2"))
  expect_match(text_of(page, "#done"), "Q24: kept")
  sitting <- read_sitting(file.path(desk$folder, "tides"))
  given <- sitting$adjustments
  expect_true(all(given$action == "points" & given$item == "Q24" & given$value == "2.5"))
  expect_equal(nrow(given), 5) # five students wrote the same
  expect_false(text_of(page, ".marking .answer") == answer)
  press(page, "#done button[data-act='undo']")
  after <- read_sitting(file.path(desk$folder, "tides"))
  expect_equal(summarise_students(after)$points, summarise_students(
    read_sitting(demo_path())
  )$points)
  type_keys(page, "ArrowRight")
  expect_match(run_js(page, "location.hash"), "mark/Q24/2")
})

test_that("a paper test is typed in at the speed of the sheets, differences are shown", {
  folder <- tempfile("shelf-")
  dir.create(folder)
  test <- plain_folder(
    c("student,Q1,Q2,Q3", "s1,A,,", "s2,,,"),
    items = c("item,type,key", "Q1,choice,A", "Q2,choice,B", "Q3,text,ebb tide"),
    students.csv = c("student,name", "s1,Ada", "s2,Ben")
  )
  file.rename(test, file.path(folder, "paper"))
  desk <- open_desk_here(folder = folder)
  page <- open_page(desk)
  go_place(page, "#paper/type")
  run_js(page, "(document.querySelectorAll('.typing input')[1].focus(), true)")
  for (key in c("b", "e", "b", "b")) page$Input$insertText(key)
  type_keys(page, "Enter")
  for (key in c("A", "C")) page$Input$insertText(key)
  # What is half typed is there again after the page is loaded anew.
  page$Page$reload()
  wait_js(page, "document.querySelector('.typing input')")
  settle(page)
  expect_equal(
    run_js(page, "Array.from(document.querySelectorAll('.typing input')).map(e => e.value).join()"),
    "A,b,ebb,A,C,"
  )
  press(page, "#keep-typed")
  expect_match(text_of(page, "#done"), "4 answers kept")
  kept <- read.csv(file.path(folder, "paper", "responses.csv"))
  expect_equal(unname(unlist(kept[1, ])), c("s1", "A", "b", "ebb"))
  expect_equal(unname(unlist(kept[2, ])), c("s2", "A", "C", ""))
  press(page, "#done button[data-act='put-back']")
  expect_equal(read.csv(file.path(folder, "paper", "responses.csv"))$Q2, c(NA, NA))
  press(page, "#keep-typed") # nothing is left to keep
  run_js(page, "(document.querySelectorAll('.typing input')[3].focus(), true)")
  page$Input$insertText("A")
  press(page, "#keep-typed")
  go_place(page, "#paper/type/again")
  run_js(page, "(document.querySelectorAll('.typing input')[0].focus(), true)")
  for (key in c("A", "D", "x")) page$Input$insertText(key)
  type_keys(page, "Enter")
  page$Input$insertText("B")
  expect_match(text_of(page, "#differs"), "1 differ")
  # What was typed first stays until one of the two is chosen.
  path <- file.path(folder, "paper", "responses.csv")
  press(page, "#keep-typed")
  expect_match(text_of(page, "#done"), "2 answers kept. 1 differs.*Ben Q1 A . B")
  expect_equal(read.csv(path)$Q1, c("A", "A"))
  press(page, "#done button[data-act='type-over']")
  expect_equal(read.csv(path)$Q1, c("A", "B"))
})

test_that("two who type the same cell: the first stays, the second is shown and can be taken", {
  only_in_all()
  folder <- tempfile("shelf-")
  dir.create(folder)
  test <- plain_folder(
    c("student,Q1,Q2", "s1,,", "s2,,"),
    items = c("item,type,key", "Q1,choice,A", "Q2,choice,B"),
    students.csv = c("student,name", "s1,Ada", "s2,Ben")
  )
  file.rename(test, file.path(folder, "paper"))
  path <- file.path(folder, "paper", "responses.csv")
  desk <- open_desk_here(folder = folder)
  pages <- list(open_page(desk), open_page(desk))
  type_in <- function(page, from, keys) {
    run_js(page, sprintf("(document.querySelectorAll('.typing input')[%d].focus(), true)", from))
    for (key in keys) page$Input$insertText(key)
  }
  for (page in pages) go_place(page, "#paper/type")
  type_in(pages[[1]], 0, c("A", "B"))
  type_in(pages[[2]], 1, c("C", "D"))
  press(pages[[1]], "#keep-typed")
  # What is half typed stays, also when the page is drawn anew for what the other kept.
  shown <- "[...document.querySelectorAll('.typing input')].map(e => e.value).join()"
  wait_for(function() run_js(pages[[2]], shown) == "A,C,D,")
  press(pages[[2]], "#keep-typed")
  expect_match(text_of(pages[[2]], "#done"), "1 answer kept. 1 differs.*Ada Q2 B . C")
  expect_equal(unlist(read.csv(path)[c("Q1", "Q2")], use.names = FALSE), c("A", "D", "B", ""))
  # Only what was shown is replaced: meanwhile somebody put it right by hand.
  writeLines(c("student,Q1,Q2", "s1,A,D", "s2,D,"), path)
  press(pages[[2]], "#done button[data-act='type-over']")
  expect_match(text_of(pages[[2]], "#done"), "Nothing new was kept. 1 differs.*Ada Q2 D . C")
  expect_equal(read.csv(path)$Q2, c("D", ""))
  press(pages[[2]], "#done button[data-act='type-over']")
  expect_equal(read.csv(path)$Q2, c("C", ""))
})

test_that("the plan is typed where it stands and kept in the folder", {
  desk <- open_desk_here()
  page <- open_page(desk)
  go_place(page, "#tides/next")
  type_into(page, "form[data-field='activity'] input", "read tables in pairs")
  type_keys(page, "Tab")
  wait_for(function() file.exists(file.path(desk$folder, "tides", "plan.csv")))
  settle(page)
  plan <- read.csv(file.path(desk$folder, "tides", "plan.csv"))
  expect_equal(plan$activity[1], "read tables in pairs")
  run_here("plan", file.path(desk$folder, "tides"))
  again <- read.csv(file.path(desk$folder, "tides", "plan.csv"))
  expect_equal(again$activity[1], "read tables in pairs")
})

test_that("three who have all right, and nobody, are shown in every room or it is said", {
  only_in_all()
  shelf <- tempfile("shelf-")
  dir.create(shelf)
  answers <- list(
    three = c("student,Q1,Q2", "a,A,B", "b,A,B", "c,A,B"),
    nobody = c("student,Q1,Q2", "a,,", "b,,")
  )
  for (name in names(answers)) {
    made <- folder_of(
      responses.csv = answers[[name]],
      items.csv = c("item,key,standards", "Q1,A,S.1", "Q2,B,S.2"),
      test.yml = "date: 2026-09-01"
    )
    file.rename(made, file.path(shelf, name))
  }
  desk <- open_desk_here(folder = shelf)
  page <- open_page(desk)
  rooms <- c("", "/came", "/questions/Q1", "/students/a", "/standards/S.1", "/next", "/give")
  for (place in c("#year", "#year/a", outer(c("#three", "#nobody"), rooms, paste0))) {
    go_place(page, place)
    said <- text_of(page)
    expect_no_match(said, "went wrong|no such place|NaN|0 of 0", label = place)
    expect_gt(nchar(said), 40, label = place)
  }
  go_place(page, "#three/next")
  expect_match(text_of(page), "Ready for more.* a .* b .* c ")
  go_place(page, "#year/a")
  expect_no_match(text_of(page, "#beside"), "\u00b10")
})

test_that("a name is dragged to another group, moved by keyboard, and taken back", {
  only_in_all()
  desk <- open_desk_here()
  page <- open_page(desk)
  tides <- file.path(desk$folder, "tides")
  moves <- function() {
    table <- as.data.frame(group_students(read_sitting(tides)))
    table[table$by_hand, c("student", "topic")]
  }
  first <- as.data.frame(group_students(read_sitting(tides)))
  id <- first$student[1]
  taught <- first$topic[first$section == first$section[1] & first$role == "learns"]
  other <- setdiff(taught, first$topic[1])[1]
  group_of <- function(topic) {
    sprintf(".group[data-class='%s'][data-to='%s']", first$section[1], topic)
  }
  go_place(page, "#tides/next")
  drag(page, paste(group_of(first$topic[1]), "li a"), group_of(other))
  expect_equal(unlist(moves(), use.names = FALSE), c(id, other))
  expect_match(text_of(page, "#done"), paste0("Done: ", first$name[1], " goes to the group"))
  expect_match(text_of(page, group_of(other)), paste(first$name[1], "moved"))
  line <- run_js(page, "document.querySelector('#done .terminal code').textContent")
  expect_match(line, paste("adjust .* --student", id, "--group", other))
  press(page, "#done button[data-act='undo']")
  expect_equal(nrow(moves()), 0)
  # Not into another class.
  drag(page, paste(group_of(first$topic[1]), "li a"), ".group[data-class='Harbour B']")
  expect_equal(nrow(moves()), 0)
  # The same by keyboard alone, with a reason.
  button <- sprintf(".move[data-student='%s']", id)
  tab_to(page, button)
  type_keys(page, "Enter")
  expect_match(text_of(page, "#ask"), first$because[1], fixed = TRUE)
  tab_to(page, "#ask select")
  type_keys(page, c("O", "n"))
  tab_to(page, "#ask input[name='reason']")
  page$Input$insertText("comes at noon")
  type_keys(page, "Enter")
  table <- as.data.frame(group_students(read_sitting(tides)))
  expect_equal(table$role[table$by_hand], "on_their_own")
  expect_match(table$because[table$by_hand], "comes at noon")
  press(page, button)
  press(page, "#ask button[data-act='undo']")
  expect_equal(nrow(moves()), 0)
})

test_that("the year is what the record says of the same tests, and follows a change", {
  only_in_all()
  desk <- open_desk_here()
  tides <- file.path(desk$folder, "tides")
  inside <- c(
    ".", "knots", "logbook", "follow-up", "knots-again", "weather", "weather-again"
  )
  record <- open_record(tempfile(fileext = ".sqlite"))
  defer_here(close_record(record), environment())
  for (one in inside) add_sitting(record, read_sitting(file.path(tides, one)), one)
  windows <- list(
    September = "2026-09-01..2026-09-27", `harbour day` = "2026-09-28..2026-10-02",
    October = "2026-10-03..2026-10-31", November = "2026-11-01..2026-11-30",
    February = "2027-02-01..2027-02-28"
  )
  page <- open_page(desk)
  go_place(page, "#year/h012")
  own <- as.data.frame(growth(record, "student", windows, "all", student = "h012"))
  last <- own[own$code == "KN.2" & own$window == "October", ]
  expect_match(
    text_of(page, "#beside"),
    paste0(
      "KN.2 Knots for mooring \\+50, ", last$level, ", first there ", last$first_there,
      " 50% \\(50%\\) 100%"
    )
  )
  shown <- text_of(page)
  expect_match(shown, "2 of 84 are not tested yet in February")
  expect_match(shown, "On one scale, as shares of the questions of Weather at sea, November")
  growth <- as.data.frame(growth(record, "section", windows))
  whole <- growth[growth$code == "(all)" & growth$section == "Harbour B", ]
  expect_match(shown, paste0(
    "\\(all\\) the whole test Harbour B ",
    paste(internal("percent")(whole$share), collapse = " ")
  ))
  expect_match(shown, "working on KN.1 3 3 3 9 students")
  run_here("adjust", file.path(tides, "knots"), "--student", "h012", "--excuse")
  go_place(page, "#year/h012")
  wait_for(function() {
    !grepl("KN.2 Knots for mooring .50, [a-z]+, first there [-0-9]+ 50%", text_of(page))
  })
  expect_match(text_of(page), "KN.2 Knots for mooring")
})

test_that("a report is made while the desk stays alive, is the command line's, and opens", {
  only_in_all()
  desk <- open_desk_here()
  page <- open_page(desk)
  tides <- file.path(desk$folder, "tides")
  go_place(page, "#tides/give")
  press(page, "button[data-kind='report']")
  go_place(page, "#tides/questions")
  expect_match(text_of(page), "Hardest first")
  wait_for(function() grepl("Made: ", text_of(page, "#done")))
  out <- tempfile(fileext = ".html")
  run_here("report", tides, "--out", out)
  expect_identical(readLines(file.path(tides, "report.html")), readLines(out))
  got <- ask_desk(desk, "/made/tides/report.html", cookie_of(desk))
  expect_equal(got$status_code, 200)
  expect_match(curl::parse_headers_list(got$headers)$`content-security-policy`, "sandbox")
  for (path in c("/made/tides/responses.csv", "/made/..%2F..%2Fetc/passwd", "/made/tides")) {
    expect_equal(ask_desk(desk, path, cookie_of(desk))$status_code, 404, label = path)
  }
})

test_that("pages home: chosen parts, one looked at, all made, drafts; reports of all", {
  only_in_all()
  desk <- open_desk_here()
  tides <- file.path(desk$folder, "tides")
  students <- file.path(tides, "students.csv")
  table <- utils::read.csv(students, colClasses = "character", check.names = FALSE)
  table$guardian_email <- paste0(table$student, "@example.org")
  data.table::fwrite(table, students)
  page <- open_page(desk)
  go_place(page, "#tides/give")
  tick <- function(part) press(page, sprintf(".tick input[value='%s']", part))
  for (part in c("score", "why")) tick(part)
  run_js(page, "document.querySelector('select[name=student]').value = 'h004'; null")
  press(page, "#main button[value='preview']")
  shown <- run_js(page, "document.querySelector('#ask iframe').srcdoc")
  expect_match(shown, "Dario Driftwood", fixed = TRUE)
  expect_no_match(shown, "Ada Anchorley", fixed = TRUE)
  expect_identical(run_js(page, "document.querySelector('#ask iframe').sandbox.length"), 0L)
  expect_false(file.exists(file.path(tides, "slips.html")))
  press(page, "#main button[value='slips']")
  wait_for(function() grepl("Made: ", text_of(page, "#done")))
  line <- run_js(page, "document.querySelector('#done .terminal code').textContent")
  words <- strsplit(line, " ")[[1]][-1]
  expect_equal(words[3:4], c("--parts", "message,standards,next,answers,comments"))
  other <- tempfile(fileext = ".html")
  do.call(run_here, as.list(c(words, "--out", other)))
  expect_identical(readLines(file.path(tides, "slips.html")), readLines(other))
  type_into(page, "#main input[name='from']", "teacher@example.org")
  press(page, "#main button[value='mail']")
  wait_for(function() grepl("drafts are in", text_of(page, "#done")))
  expect_length(list.files(file.path(tides, "mail")), 80)
  # What cannot be made is said; the desk and the next job go on.
  type_into(page, "#main input[name='from']", "nobody")
  press(page, "#main button[value='mail']")
  wait_for(function() grepl("own address", text_of(page, "#done")))
  go_place(page, "#shelf")
  press(page, "button[data-act='make-all']")
  wait_for(function() grepl("Made: .*index.html", text_of(page, "#done")))
  expect_match(
    run_js(page, "document.querySelector('#main table a[target]').getAttribute('href')"),
    "made/tides/report.html"
  )
  # The plan as a document, beside one that somebody may have written into.
  go_place(page, "#tides/give")
  for (name in c("plan.docx", "plan-2.docx")) {
    press(page, "button[data-kind='plan']")
    wait_for(function() grepl(paste0("Made: .*", name), text_of(page, "#done")))
    expect_true(file.exists(file.path(tides, name)))
    cat("written into", file = file.path(tides, name), append = TRUE)
  }
  # Stopped: the process and what it began are gone, nothing is left.
  go_place(page, "#tides/give")
  press(page, "button[data-kind='workbook']")
  press(page, "button[data-act='stop']")
  expect_match(text_of(page, "#done"), "Stopped")
  expect_false(file.exists(file.path(tides, "workbook.xlsx")))
})

test_that("what another does shows, fifty changes from two sides are fifty lines", {
  only_in_all()
  desk <- open_desk_here()
  page <- open_page(desk)
  tides <- file.path(desk$folder, "tides")
  go_place(page, "#tides/came")
  job <- parallel::mcparallel(for (k in 1:25) {
    suppressMessages(utils::capture.output(run_command(c(
      "adjust", tides, "--student", sprintf("h%03d", k), "--extra", "1", "--reason", "there"
    ))))
  })
  for (k in 26:50) {
    tell_act(
      page,
      act = "change", action = "extra", student = sprintf("h%03d", k), value = "1",
      reason = "here"
    )
  }
  parallel::mccollect(job)
  made <- read.csv(file.path(tides, "adjustments.csv"))
  expect_equal(nrow(made), 50)
  expect_equal(as.vector(table(made$reason)), c(25, 25))
  wait_for(function() grepl("h025", text_of(page)))
})

test_that("without the key, from elsewhere, or under another name nothing is told or done", {
  desk <- open_desk_here(alone = TRUE)
  tides <- file.path(desk$folder, "tides")
  cookie <- cookie_of(desk)
  host <- sub("^http://([^/]+)/.*", "\\1", desk$address)
  expect_equal(ask_desk(desk)$status_code, 403)
  expect_equal(ask_desk(desk, "/?key=0123456789abcdef0123456789abcdef")$status_code, 403)
  expect_equal(ask_desk(desk, cookie = sub(".$", "_", cookie))$status_code, 403)
  expect_equal(ask_desk(desk, cookie = cookie)$status_code, 200)
  for (path in c("/desk.js", "/shared/shiny.min.js", "/shared/jquery.min.js", "/session/x")) {
    expect_equal(ask_desk(desk, path)$status_code, 403, label = path)
  }
  expect_equal(ask_desk(desk, "/shared/shiny.min.js", cookie)$status_code, 200)
  expect_equal(ask_desk(desk, "/shared/shiny.js.map", cookie)$status_code, 404)
  for (headers in list(
    list(Host = "evil.example"), list(Origin = "http://evil.example"),
    list(Origin = "http://127.0.0.1:9"), list(Host = "evil.example:80", Origin = "null")
  )) {
    got <- ask_desk(desk, cookie = cookie, headers = headers)
    expect_equal(got$status_code, 403, label = names(headers)[1])
    expect_no_match(rawToChar(got$content), "shiny")
  }
  policy <- curl::parse_headers_list(ask_desk(desk, cookie = cookie)$headers)
  expect_match(policy$`content-security-policy`, "frame-ancestors 'none'")
  expect_no_match(policy$`content-security-policy`, "script-src[^;]*unsafe")
  # A second page, of another port of this machine, with the cookie in its browser.
  elsewhere <- folder_of(index.html = "<h1>elsewhere</h1>")
  port <- free_port()
  server <- httpuv::startServer("127.0.0.1", port, list(
    staticPaths = list("/" = elsewhere), call = function(req) list(status = 404L, body = "")
  ))
  on.exit(server$stop(), add = TRUE)
  page <- open_page(desk)
  page$Page$navigate(sprintf("http://127.0.0.1:%d/index.html", port))
  wait_js(page, "document.querySelector('h1').innerText === 'elsewhere'")
  read <- run_js(page, sprintf(
    "fetch('http://%s/').then(r => r.text()).catch(e => 'refused')", host
  ))
  expect_equal(read, "refused")
  spoke <- run_js(page, sprintf(paste0(
    "new Promise(function (done) { var said = '', socket = new WebSocket('ws://%s/websocket/'); ",
    "socket.onopen = function () { socket.send(JSON.stringify({method: 'init', data: {place: 'tides'}})); ",
    "setTimeout(function () { socket.send(JSON.stringify({method: 'update', data: {act: {act: 'change', ",
    "action: 'extra', student: 'h001', value: '1'}}})); }, 300); }; ",
    "socket.onmessage = function (event) { said += event.data; }; ",
    "setTimeout(function () { done(said); }, 2000); })"
  ), host))
  expect_no_match(spoke, "Tides|Q7|h001")
  expect_false(file.exists(file.path(tides, "adjustments.csv")))
})

test_that("two hundred bad requests a second are refused, and the desk answers on", {
  only_in_all()
  desk <- open_desk_here(alone = TRUE)
  page <- open_page(desk)
  pool <- curl::new_pool()
  status <- integer()
  for (k in 1:400) {
    curl::multi_add(
      curl::new_handle(url = sub("[?]key.*", "?key=none", desk$address)),
      done = function(got) status <<- c(status, got$status_code),
      pool = pool
    )
  }
  curl::multi_run(pool = pool)
  expect_equal(status, rep(403L, 400))
  go_place(page, "#tides/questions")
  expect_match(text_of(page), "Hardest first")
})

test_that("a folder that breaks or goes is said, and comes back", {
  only_in_all()
  desk <- open_desk_here(alone = TRUE)
  page <- open_page(desk)
  tides <- file.path(desk$folder, "tides")
  go_place(page, "#tides/questions")
  items <- readLines(file.path(tides, "items.csv"))
  writeLines(sub("choice", "chioce", items), file.path(tides, "items.csv"))
  wait_for(function() grepl("chioce", text_of(page, "#main")))
  writeLines(items, file.path(tides, "items.csv"))
  wait_for(function() grepl("Hardest first", text_of(page, "#main")))
  file.rename(tides, paste0(tides, "-away"))
  wait_for(function() !grepl("Hardest first", text_of(page, "#main")))
  expect_no_match(text_of(page, "#main"), "did not foresee")
  file.rename(paste0(tides, "-away"), tides)
  wait_for(function() grepl("Hardest first", text_of(page, "#main")))
})

test_that("what students typed is text in every place, and in the names of things", {
  only_in_all()
  hostile <- "<svg onload=document.title='taken'><b>x</b>"
  folder <- tempfile("shelf-")
  dir.create(folder)
  csv <- function(text) paste0("\"", gsub("\"", "\"\"", text), "\"")
  test <- plain_folder(
    c(
      "student,Q1,Q2",
      paste(csv(hostile), csv(hostile), csv(hostile), sep = ","),
      paste0("s", 1:5, ",A,", csv(paste(hostile, 1:5)))
    ),
    items = c("item,type,key,prompt,points", paste0("Q1,text,A,", csv(hostile), ",1"),
      paste0("Q2,open,,", csv(hostile), ",2")),
    students.csv = c(
      "student,name,section", paste(csv(hostile), csv(hostile), csv(hostile), sep = ","),
      paste0("s", 1:5, ",N", 1:5, ",", csv(hostile))
    ),
    test.yml = paste0("title: '", gsub("'", "''", hostile), "'")
  )
  file.rename(test, file.path(folder, "t"))
  desk <- open_desk_here(folder = folder)
  page <- open_page(desk)
  id <- utils::URLencode(hostile, reserved = TRUE)
  for (place in c(
    "#shelf", "#t", "#t/came", "#t/mark", "#t/type", "#t/questions/Q1", "#t/questions/Q2",
    paste0("#t/students/", id), paste0("#t/students/", id, "/Q1"), "#t/next", "#year",
    "#t/show"
  )) {
    go_place(page, place)
    expect_equal(run_js(page, "document.querySelectorAll('svg[onload]').length"), 0, label = place)
    expect_no_match(run_js(page, "document.title"), "^taken", label = place)
    expect_no_match(text_of(page), "no such place|went wrong", label = place)
  }
})

test_that("the port, the folder and a taken port are checked in words", {
  for (port in c("80", "x", "70000")) {
    said <- run_here("desk", demo_path(), "--port", port, "--no-browser")
    expect_equal(said$status, 2)
    expect_match(paste(said$err, collapse = " "), "cannot be listened on")
  }
  said <- run_here("desk", tempfile(), "--no-browser")
  expect_equal(said$status, 2)
  server <- httpuv::startServer(
    "127.0.0.1", port <- free_port(), list(call = function(req) NULL)
  )
  on.exit(server$stop())
  said <- run_here("desk", demo_path(), "--port", port, "--no-browser")
  expect_match(paste(said$err, collapse = " "), "cannot be listened on")
})

test_that("killed at any moment of an action the files are whole, and the next one clears up", {
  only_in_all()
  kills <- as.integer(Sys.getenv("PREGUNTA_DESK_KILLS", "4"))
  actions <- list(
    list(act = "change", action = "points", student = "h001", item = "Q24", value = "1"),
    list(act = "plan", code = "TC.2.b", field = "note", value = "in pairs", live = "yes"),
    list(act = "mark", item = "Q23", answer = "14", points = "2"),
    list(act = "make", kind = "walkthrough")
  )
  sums <- function(folder) {
    files <- list.files(folder, recursive = TRUE, all.files = TRUE)
    stats::setNames(unname(tools::md5sum(file.path(folder, files))), files)
  }
  written <- c("adjustments.csv", "plan.csv", "adjustments.csv", "walkthrough.html")
  for (k in seq_len(kills)) {
    set.seed(as.integer(Sys.getenv("PREGUNTA_DESK_SEED", "0")) + k)
    which <- (k - 1) %% length(actions) + 1
    desk <- open_desk_here(alone = TRUE)
    tides <- file.path(desk$folder, "tides")
    before <- sums(tides)
    socket <- open_socket(desk)
    socket$press("tides/came", 1)
    wait_for(function() {
      later::run_now(0.01)
      socket$answered(1)
    })
    socket$act(actions[[which]], 2)
    later::run_now(0.01)
    Sys.sleep(stats::runif(1, 0, if (which == 4) 2.5 else 0.5))
    desk$process$signal(9)
    desk$process$wait(2000)
    Sys.sleep(0.3)
    now <- sums(tides)
    label <- paste(actions[[which]]$act, "kill", k)
    # Whatever was there stays as it was; what came is whole, or an aside of the dead.
    expect_identical(now[names(before)], before, label = label)
    new <- setdiff(names(now), names(before))
    aside <- startsWith(basename(new), ".")
    expect_true(all(new[!aside] == written[which]), label = paste(label, toString(new)))
    expect_silent(sitting <- suppressWarnings(read_sitting(tides)))
    expect_lte(nrow(sitting$adjustments), 1)
    if (written[which] == "plan.csv" && "plan.csv" %in% new) {
      expect_match(readLines(file.path(tides, "plan.csv")), "in pairs", all = FALSE)
    }
    run_here("adjust", tides, "--student", "h002", "--extra", "1", "--reason", "after")
    left <- basename(list.files(tides, all.files = TRUE, no.. = TRUE))
    left <- left[startsWith(left, ".")]
    expect_identical(setdiff(left, c(".pregunta-lock", ".made.json")), character(), label = label)
  }
})

end_desk_in_turn()
