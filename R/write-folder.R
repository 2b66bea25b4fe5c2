#' Make a test folder from raw exports
#'
#' Turns whatever there is (a spreadsheet, a CSV file, scanned sheets, results
#' in an open standard) into a test folder that [read_sitting()] reads. What a
#' column or a row is, is recognised by its name and by what stands in it; the
#' account says what was taken for what. The originals are only read; copies of
#' them go into `source/`.
#'
#' @section Layouts: *Wide*: a row a student, a column a question with answers or marks;
#' or two or three columns a question (answer, points, comment) in any order; names and
#' totals around them; rows of points, standards, key, level above or below. *Long*: a row
#' for each student and question, with attempts if there are any. *Scan*: an id and a
#' string of marks a line, one line of them the key. Comma, semicolon, tab or bar; UTF-8,
#' UTF-16 or Windows-1252; `.xlsx`. *Open standards*: QTI 2.1, 2.2 and 3.0 results and
#' items, also in a content package; xAPI statements; CASE for `standards`; OneRoster for
#' `students`.
#'
#' @param folder Path of the folder to make. It may be there already, with
#'   nothing in it but a `test.yml`.
#' @param from Paths of the exports. Several become one sitting; the file's name
#'   is the section of its students when it says none.
#' @param key `"later"` where the key is not there yet, or the path of a key: a table with
#'   `item`, `key` and any other column of `items.csv`; or a line of answers in printed
#'   order; or QTI items. Or keys named by their items, such as `c(Q1 = "B", Q2 = "C")`.
#' @param students Path of a list of students, or of a OneRoster folder or zip.
#' @param standards Path of a table with `code`, `parent`, `title`, or of a CASE
#'   document.
#' @param like Path of an earlier test folder: its layout, settings, standards
#'   and students are taken over.
#' @param sheet Name or number of the sheet, when a workbook has several; several of them
#'   are joined.
#' @param layout A list of what cannot be recognised, such as `list(student = "Code",
#'   questions = "A1..A20")`: `shape` (`wide`, `long`, `scan`), `header` (line of the
#'   column names), `student`, `name`, `section` and other columns, `questions`,
#'   `leave_out`, `rows` (such as `list(points = "Max")`), `blank_mark`, `several_mark`,
#'   `id_width`; `scale`, the steps of a rating from the lowest, as points (`1:4`) or as
#'   words that count 1, 2, 3 and so on; `namesakes`: `one` or `apart`, where a name
#'   stands twice and nothing says whether it is one student.
#' @param take Number of the reading to take, where a file can be read in several ways;
#'   numbers named by the files, such as `c(a.csv = 2)`, where they differ;
#'   also 1 to read a file that contradicts itself.
#' @param language The code of the language that the test is in, for its `test.yml`; see
#'   [languages()]. In which language a file's own headings are is told in the account.
#' @return The account, invisibly; see [read_account()]. The answers themselves stand in
#'   the folder.
#' @section Errors: `pregunta_error_undecided` when something cannot be told from the
#' file, when its own totals or points contradict what was read, or when there is neither
#' a key nor points: the message shows the readings that there are, and what to set.
#' `pregunta_error_output` when the folder holds a test already. `pregunta_error_input`
#' when a file cannot be read. Nothing is written then.
#' @export
#' @examples
#' export <- system.file("extdata", "exports", "wide-answers.csv", package = "pregunta")
#' key <- file.path(demo_path(), "items.csv")
#' folder <- file.path(tempdir(), "my-test")
#' new_test(folder, export, key = key)
#' read_sitting(folder)
new_test <- function(folder, from, key = NULL, students = NULL,
                     standards = NULL, like = NULL, sheet = NULL,
                     layout = list(), take = NULL, language = NULL) {
  if (!is.null(language)) language <- checked_language(language, "home")
  stop_if_test(folder)
  from <- export_files(from)
  bundle <- read_raw(
    folder,
    from,
    key,
    students,
    standards,
    like,
    sheet,
    layout,
    take
  )
  bundle$settings$language <- language
  account <- structure(new_account(bundle), folder = folder, responses = NULL)
  # Read back as a test when it is written: the answers of a district are not there twice.
  made <- new.env(parent = emptyenv())
  made$bundle <- bundle
  rm(bundle)
  write_test(folder, made, from)
  invisible(account)
}

#' What raw exports would be taken for
#'
#' Reads exports as [new_test()] does, and writes nothing: the account of the reading as
#' data, so that it can be looked at, corrected by `layout` or `take`, and read again.
#'
#' @inheritParams new_test
#' @return The account: a data frame with `file`, `what` (a code: `read_as`, `questions`,
#'   `left_out`, `checked`, ...) and `taken` (what was taken for it, in words). Its
#'   attributes are tables: `columns` (`file`, `column`, `role`: what each column was
#'   taken for; `first`: its first cells), `rows` (`file`, `line`, `label`, `kind`: the
#'   rows that are no students), and `responses` and `items` as they would stand in the
#'   test folder.
#' @section Errors: as those of [new_test()], but a key that is not there yet is none. A
#'   `pregunta_error_undecided` carries in `choices` a table of the readings that could be
#'   taken: `take` (its number), `students`, `questions`, `points` (how many there would
#'   be), `against` (what makes it unsure) and `set` (a layout that says the same).
#' @export
#' @examples
#' export <- system.file("extdata", "exports", "wide-marks.tsv", package = "pregunta")
#' account <- read_account(export)
#' head(attr(account, "columns"))
read_account <- function(from, key = NULL, students = NULL, standards = NULL,
                         like = NULL, sheet = NULL, layout = list(),
                         take = NULL) {
  from <- export_files(from)
  nowhere <- tempfile()
  new_account(
    read_raw(
      nowhere,
      from,
      key,
      students,
      standards,
      like,
      sheet,
      layout,
      take,
      TRUE
    )
  )
}

# The tables of a test folder, and how they were read; to look at, also without a key.
read_raw <- function(folder, from, key, students, standards, like, sheet,
                     layout, take, look = FALSE) {
  old <- earlier_test(folder, like)
  later <- identical(tolower(key), "later")
  told <- c(
    utils::modifyList(old$layout, layout[names(layout) != "scale"]),
    list(kept = old$kept, key_later = later)
  )
  key <- if (!is.null(key) && !later) read_key_file(key)
  files <- read_exports(
    from,
    told,
    sheet,
    known = key$items,
    take = take
  )
  stop_if_same(files)
  stop_if_merged(files)
  files <- align_questions(files, !is.null(take))
  bundle <- combine_bundles(files, names(files))
  check_table_sizes(bundle, from[1])
  kept <- c(old$settings, list(scale = read_scale(layout$scale)))
  bundle$settings <- replace_fields(bundle$settings, kept)
  people <- old$students
  if (!is.null(students)) {
    people <- read_student_list(students)
  }
  codes <- old$standards
  if (!is.null(standards)) {
    codes <- read_standards_file(standards)
  }
  bundle <- tell_other_ids(bundle, files) |>
    add_key(key) |>
    add_students(people) |>
    add_standards(codes)
  bundle <- options_as_digits(read_ticks(clean_marks(bundle)), later)
  bundle <- settle_items(bundle)
  bundle <- check_reading(
    bundle,
    files,
    later || look,
    !is.null(take)
  )
  bundle$files <- files
  bundle
}

# The same file twice would make every student sit twice.
stop_if_same <- function(files) {
  again <- duplicated(lapply(files, `[[`, "responses"))
  if (!any(again)) return(invisible())
  at <- which(again)[1]
  first <- match(
    TRUE,
    vapply(files, function(one) {
      identical(one$responses, files[[at]]$responses)
    }, TRUE)
  )
  abort_pregunta(
    "input",
    say("write-folder.the_same_twice", file = files[[at]]$origin),
    say(
      "write-folder.holds_what_holds",
      file = names(files)[at],
      other = names(files)[first]
    ),
    say("write-folder.name_each_once")
  )
}

# An id that stands for one student here and for another there, as numbers of a list do.
stop_if_merged <- function(files) {
  people <- lapply(files, function(file) {
    if (is.null(file$students$name)) return(NULL)
    file$students[c("student", "name")]
  })
  people <- unique(do.call(rbind, unname(people)))
  people <- people[!is_blank(people$name), ]
  # However it is spelled, and whichever half comes first.
  words <- strsplit(plain_heading(people$name), " ", fixed = TRUE)
  called <- vapply(
    words,
    function(one) paste(sort(one), collapse = " "),
    ""
  )
  people <- people[!duplicated(data.frame(people$student, called)), ]
  again <- people$student[duplicated(people$student)]
  if (!length(again)) return(invisible())
  names <- people$name[people$student == again[1]]
  abort_pregunta(
    "undecided",
    say(
      "write-folder.one_id_two_students",
      id = quoted(again[1]),
      n = length(unique(again))
    ),
    join_words(quoted(names)),
    say("write-folder.say_who_is_who")
  )
}

new_account <- function(bundle) {
  account <- bundle$account
  rownames(account) <- NULL
  part <- function(name) {
    tables <- lapply(bundle$files, function(file) {
      table <- file$reading[[name]]
      if (length(table) && nrow(table)) data.frame(file = file$origin, table)
    })
    table <- do.call(rbind, unname(tables))
    rownames(table) <- NULL
    table
  }
  structure(
    account,
    class = c("pregunta_account", "data.frame"),
    columns = part("columns"),
    rows = part("rows"),
    responses = bundle$responses,
    items = bundle$items,
    students = bundle$students
  )
}

# The steps of a rating: numbers are their own points, words count from 1. 1:4 and 1..4
# stand for 1, 2, 3, 4.
read_scale <- function(steps) {
  if (is.null(steps)) return(NULL)
  if (length(steps) == 1 && grepl("^[0-9]{1,3} *(:|[.][.]) *[0-9]{1,3}$", steps)) {
    ends <- as.integer(regmatches(steps, gregexpr("[0-9]+", steps))[[1]])
    steps <- seq(ends[1], ends[2])
  }
  points <- read_number(as.character(steps))
  if (anyNA(points)) {
    points <- seq_along(steps)
  }
  stats::setNames(as.list(points), as.character(steps))
}

stop_if_test <- function(folder) {
  check_is_path(folder)
  if (is_half_made(folder)) clear_half_made(folder)
  there <- intersect(made_in_folder, list.files(folder))
  if (!length(list.files(file.path(folder, "source")))) {
    there <- setdiff(there, "source")
  }
  if (!length(there)) return(invisible())
  abort_pregunta(
    "output",
    say("write-folder.the_folder_holds_a", folder = quoted(folder)),
    file.path(folder, there[1]),
    say("write-folder.name_a_new_folder")
  )
}

# What would be written over, were there something of that name already.
made_in_folder <- c(paste0(folder_tables, ".csv"), "test.xlsx", "source")

clear_half_made <- function(folder) {
  unlink(file.path(folder, made_in_folder), recursive = TRUE)
  clear_dead(folder)
}

# A folder among the exports stands for the files in it.
export_files <- function(from) {
  check_is_path(from, several = TRUE)
  files <- unlist(lapply(from, function(path) {
    if (dir.exists(path)) {
      sort(list.files(
        path,
        full.names = TRUE,
        pattern = "[.](csv|tsv|txt|xlsx|xls|html?|xml|json|jsonl|zip)$",
        ignore.case = TRUE
      ))
    } else {
      path
    }
  }))
  if (!length(files)) {
    abort_pregunta(
      "call",
      say("write-folder.there_is_no_file"),
      some_of(from),
      say("write-folder.name_the_exports_after")
    )
  }
  invisible(lapply(files, check_file))
  files
}

# What an earlier folder, or a test.yml that lies in the new one, says.
earlier_test <- function(folder, like) {
  own <- folder_settings(folder)
  old <- if (is.null(like)) list() else folder_settings(check_old(like))
  settings <- replace_fields(
    old[setdiff(names(old), c("title", "date", "layout"))],
    own[setdiff(names(own), "layout")]
  )
  table <- function(name) {
    path <- file.path(c(like, "")[1], name)
    if (!is.null(like) && file.exists(path)) {
      list(
        table = read_table_file(path),
        origin = file.path(basename(like), name)
      )
    }
  }
  students <- table("students.csv")
  standards <- table("standards.csv")
  list(
    settings = settings,
    layout = as.list(own$layout),
    kept = as.list(old$layout),
    students = if (!is.null(students)) {
      list(students = students$table, origin = students$origin)
    },
    standards = if (!is.null(standards)) {
      list(standards = standards$table, origin = standards$origin)
    }
  )
}

check_old <- function(like) {
  if (dir.exists(like)) return(like)
  abort_pregunta(
    "folder",
    say("write-folder.there_is_no_folder", like = quoted(like)),
    NULL,
    say("write-folder.give_like_the_path")
  )
}

folder_settings <- function(folder) {
  path <- file.path(folder, "test.yml")
  if (file.exists(path)) read_settings(path) else list()
}

add_standards <- function(bundle, given) {
  if (is.null(given)) return(bundle)
  bundle$standards <- given$standards
  bundle$settings$framework <- given$settings$framework
  said <- say("write-folder.taken_over", n = nrow(given$standards))
  tell(bundle, given$origin, account_line("standards", said))
}

# ---- writing -------------------------------------------------------------------

write_test <- function(folder, made, from) {
  write_folder_whole(folder, function(draft) {
    dir.create(file.path(draft, "source"))
    write_tables(draft, made$bundle, file.path(folder, "test.yml"))
    made$bundle <- NULL
    copy_sources(from, file.path(draft, "source"))
  })
}

# The files of the demo, each whole.
copy_demo <- function(place) {
  for (file in list.files(demo_path(), recursive = TRUE)) {
    path <- file.path(place, file)
    dir.create(dirname(path), recursive = TRUE, showWarnings = FALSE)
    copy_whole(file.path(demo_path(), file), path)
  }
}

# All files are made in a folder beside it first and read back as a test; only
# then does it get its name, by one step. fill: writes them into the folder it is given.
write_folder_whole <- function(folder, fill) {
  if (!dir.exists(dirname(folder))) {
    above <- quoted(dirname(folder))
    abort_pregunta(
      "output",
      say("write-folder.there_is_no_folder_to", folder = above),
      NULL,
      say("write-folder.make_it_first_or")
    )
  }
  folder <- sub("/+$", "", folder)
  draft <- aside(folder)
  clear_dead(dirname(folder))
  dir.create(draft)
  on.exit(unlink(draft, recursive = TRUE))
  errors_about(
    {
      fill(draft)
      read_sitting(draft)
    },
    draft,
    folder
  )
  moved <- if (length(list.files(folder, all.files = TRUE, no.. = TRUE))) {
    move_into(draft, folder)
  } else {
    file.rename(draft, folder)
  }
  if (!all(moved)) {
    abort_pregunta(
      "output",
      say("write-folder.the_folder_could_not", folder = quoted(folder)),
      NULL,
      say("write-folder.see_that_it_may")
    )
  }
  invisible(folder)
}

# Into a folder that is there, file by file; a note of who does so stands there meanwhile,
# so that one that was broken off is no test.
move_into <- function(draft, folder) {
  stop_if_there(folder, setdiff(list.files(draft), "test.yml"))
  note <- aside(file.path(folder, being_made))
  file.create(note)
  files <- list.files(draft)
  files <- files[order(files == "responses.csv")] # it makes a folder a test
  moved <- file.rename(file.path(draft, files), file.path(folder, files))
  if (all(moved)) unlink(note)
  moved
}

stop_if_there <- function(folder, files) {
  there <- intersect(files, list.files(folder))
  if (!length(there)) return(invisible())
  abort_pregunta(
    "output",
    say("write-folder.the_folder_holds", folder = quoted(folder), file = there[1]),
    file.path(folder, there[1]),
    say("write-folder.name_a_new_folder")
  )
}

being_made <- "being-made"

# What stands in a folder that a process that died was making into a test: it is made
# anew, its test.yml kept.
is_half_made <- function(folder) {
  notes <- list.files(folder, paste0("^[.]", being_made, "-"), all.files = TRUE)
  length(notes) > 0 && all(is_left_behind(notes, file.path(folder, notes)))
}

write_tables <- function(folder, bundle, own) {
  put <- function(table, name) {
    if (!is.null(table) && nrow(table)) {
      write_csv_table(table, file.path(folder, name))
    }
  }
  items <- bundle$items[
    vapply(bundle$items, function(x) !all(is_blank(x)), TRUE)
  ]
  put(bundle$responses, "responses.csv")
  put(items, "items.csv")
  if (length(bundle$students) > 1) put(bundle$students, "students.csv")
  put(bundle$options, "options.csv")
  put(bundle$misconceptions, "misconceptions.csv")
  put(bundle$standards, "standards.csv")
  write_text(settings_lines(bundle, own), file.path(folder, "test.yml"))
}

# A test.yml that somebody wrote keeps its lines; what it does not say follows.
settings_lines <- function(bundle, own) {
  said <- if (file.exists(own)) text_lines(own)
  settings <- c(Filter(length, bundle$settings), list(layout = bundle$layout))
  settings <- settings[
    setdiff(names(settings), if (length(said)) names(read_settings(own)))
  ]
  if (!length(settings)) return(said)
  c(
    said,
    strsplit(yaml::as.yaml(settings, indent.mapping.sequence = TRUE), "\n")[[1]]
  )
}

write_csv_table <- function(table, path) {
  write_whole(path, function(temporary) {
    data.table::fwrite(
      defuse(plain_table(table)),
      temporary,
      na = "",
      quote = "auto",
      scipen = 15L,
      eol = "\n"
    )
  })
}

copy_sources <- function(from, folder) {
  names <- basename(from)
  twice <- duplicated(names)
  names[twice] <- paste0(
    seq_along(names)[twice], "-", names[twice]
  )
  if (!all(file.copy(from, file.path(folder, names), copy.date = TRUE))) {
    abort_pregunta(
      "output",
      say("write-folder.a_copy_of_an"),
      folder,
      say("write-folder.see_that_the_disk")
    )
  }
}
