# A bundle is what every reader returns: the tables of a test folder as far as a
# file gives them, the settings that follow from it, the layout it was read by and
# the account of the reading. Several become one.

# origin: the name of the file, or how several are called; alone: whether the file
# is one of many that make a whole, such as a document a student; roster: the
# tables of an open standard for classes, until it is known which ids are used.
# reading: what speaks for the way it was read and against it (read-evidence.R).
# A part that the file does not give is NULL.
new_bundle <- function(responses = NULL, items = NULL, options = NULL,
                       students = NULL, standards = NULL, misconceptions = NULL,
                       settings = list(), layout = list(), account = NULL,
                       origin, title = NULL, alone = FALSE, roster = NULL,
                       reading = NULL) {
  bundle <- list(
    responses = responses,
    items = items,
    options = options,
    students = students,
    standards = standards,
    misconceptions = misconceptions,
    settings = settings,
    layout = layout,
    account = account,
    origin = origin,
    title = title,
    alone = alone,
    roster = roster,
    reading = reading
  )
  wrong <- bundle_faults(bundle)
  if (length(wrong)) {
    stop(
      say(
        "read-bundle.this_is_no_bundle",
        wrong = paste(wrong, collapse = "; ")
      ),
      call. = FALSE
    )
  }
  bundle
}

# What is not as every bundle is; nothing when all is well.
bundle_faults <- function(bundle) {
  needed <- list(
    responses = "student",
    items = "item",
    options = c("item", "option"),
    students = "student",
    standards = "code",
    misconceptions = "code"
  )
  lacking <- unlist(lapply(names(needed), function(name) {
    table <- bundle[[name]]
    if (is.null(table)) return(NULL)
    if (!is.data.frame(table)) {
      return(say("read-bundle.is_no_table", name = name))
    }
    gone <- setdiff(needed[[name]], names(table))
    if (length(gone)) say("read-bundle.has_no_column", name = name, gone = gone)
  }))
  account <- bundle$account
  c(
    lacking,
    if (is.null(bundle$responses) +
      is.null(bundle$items) +
      is.null(bundle$students) +
      is.null(bundle$standards) +
      is.null(bundle$roster) == 5) {
      say("read-bundle.there_is_nothing_in")
    },
    if (!is.character(bundle$origin) || length(bundle$origin) != 1) {
      say("read-bundle.it_does_not_say")
    },
    if (!is.list(bundle$settings) || !is.list(bundle$layout)) {
      say("read-bundle.settings_or_layout_is")
    },
    if (!is.null(account) && !all(c("what", "taken") %in% names(account))) {
      say("read-bundle.its_account_does_not")
    }
  )
}

combine_bundles <- function(bundles, labels) {
  if (length(bundles) > 1) {
    bundles <- Map(fill_section, bundles, labels)
  }
  responses <- join_responses(
    lapply(bundles, `[[`, "responses"),
    lapply(bundles, function(one) one$items$item)
  )
  list(
    responses = responses,
    items = join_items(bundles),
    options = bind_first(bundles, "options", c("item", "option")),
    students = bind_first(bundles, "students", "student"),
    standards = bind_first(bundles, "standards", "code"),
    misconceptions = bind_first(
      bundles,
      "misconceptions",
      "code"
    ),
    settings = Reduce(
      function(a, b) utils::modifyList(b, a),
      lapply(bundles, function(one) Filter(length, one$settings))
    ),
    layout = bundles[[1]]$layout,
    account = join_accounts(bundles),
    # What an open standard says is kept as it is written.
    strict = unlist(lapply(bundles, function(one) {
      if (is.null(one$reading)) one$items$item
    }))
  )
}

# Of several files without a section, each file is one.
fill_section <- function(bundle, label) {
  if (isTRUE(bundle$alone)) return(bundle) # a document a student
  if (is.null(bundle$students)) {
    bundle$students <- data.frame(student = unique(bundle$responses$student))
  }
  if (is.null(bundle$students$section)) {
    bundle$students$section <- label
    bundle$account <- rbind(
      bundle$account,
      account_line("section", say("read-bundle.the_files_name"))
    )
  }
  bundle
}

# Wide tables stay wide; with a long one among them all become long. An item
# that a file does not have was not given to its students.
join_responses <- function(tables, items) {
  long <- vapply(tables, is_long_table, TRUE)
  if (any(long)) {
    tables <- Map(function(table, names) {
      if (is_long_table(table)) table else long_table(table, names)
    }, tables, items)
    return(bind_filled(tables, ""))
  }
  all_items <- unique(unlist(items))
  tables <- lapply(tables, function(table) {
    for (item in setdiff(all_items, names(table))) {
      table[[item]] <- rep(blank_words[["not_given"]], nrow(table))
    }
    table
  })
  bind_filled(tables, "")
}

bind_filled <- function(tables, blank) {
  if (length(tables) == 1) return(tables[[1]])
  columns <- unique(unlist(lapply(tables, names)))
  tables <- lapply(tables, function(table) {
    for (column in setdiff(columns, names(table))) {
      table[[column]] <- rep(blank, nrow(table))
    }
    table[columns]
  })
  as.data.frame(data.table::rbindlist(tables), check.names = FALSE)
}

# A wide table of responses as a row for each student and item.
long_table <- function(table, items) {
  per_row <- intersect(c("attempt", "submitted"), names(table))
  one <- function(item) {
    out <- data.frame(
      student = table$student,
      item = rep(item, nrow(table)),
      response = table[[item]]
    )
    for (part in c("points", "seconds", "explanation", "comment")) {
      out[[part]] <- table[[paste(item, part)]]
    }
    for (column in per_row) out[[column]] <- table[[column]]
    out
  }
  rows <- bind_filled(lapply(items, one), "")
  row <- rep(seq_len(nrow(table)), length(items))
  rows[order(row), ]
}

# The first file's word on an item stands; two that differ in key are a mistake.
join_items <- function(bundles) {
  tables <- Filter(
    Negate(is.null),
    lapply(bundles, `[[`, "items")
  )
  all <- bind_filled(tables, NA_character_)
  for (item in unique(all$item[duplicated(all$item)])) {
    at <- which(all$item == item)
    keys <- unique(stats::na.omit(all$key[at]))
    if (length(keys) > 1) {
      abort_pregunta(
        "input",
        say("read-bundle.two_files_have_different", item = item),
        join_words(quoted(keys)),
        say("read-bundle.make_them_the_same")
      )
    }
    for (column in names(all)) {
      all[at[1], column] <- c(stats::na.omit(all[at, column]), NA)[1]
    }
  }
  all <- all[!duplicated(all$item), , drop = FALSE]
  rownames(all) <- NULL
  all
}

bind_first <- function(bundles, name, key) {
  tables <- Filter(Negate(is.null), lapply(bundles, `[[`, name))
  if (!length(tables)) return(NULL)
  all <- bind_filled(tables, NA_character_)
  all <- all[!duplicated(all[key]), , drop = FALSE]
  rownames(all) <- NULL
  all
}

join_accounts <- function(bundles) {
  do.call(
    rbind,
    lapply(bundles, function(one) {
      if (is.null(one$account)) NULL else tell_file(one)$account
    })
  )
}

# The account of a file bears its name.
tell_file <- function(bundle) {
  if (!"file" %in% names(bundle$account)) {
    bundle$account <- data.frame(file = bundle$origin, bundle$account)
  }
  bundle
}

# ---- students and standards from files of their own ---------------------------

# A list of students in any table: columns are recognised as in an export.
read_student_list <- function(path, told = list()) {
  roster <- read_roster(path)
  if (!is.null(roster)) return(roster)
  frame <- frame_grid(read_grids(path)[[1]])
  columns <- data.frame(
    name = frame$names,
    role = heading_means(frame$renamed, "person"),
    prefix = "",
    number = NA,
    part = NA,
    most = NA
  )
  columns <- settle_people(columns, column_looks(frame$body))
  columns$role[is.na(columns$role)] <- "other"
  people <- read_people(
    list(body = frame$body, line = frame$line),
    columns,
    frame$origin
  )
  twice <- duplicated(people$student)
  account <- rbind(
    person_account(columns),
    account_line("kept_with_students", say_columns(columns, "other"))
  )
  if (any(twice)) {
    left <- say("read-bundle.lines_of_a_student", n = sum(twice))
    account <- rbind(account, account_line("left_out", left))
  }
  new_bundle(
    students = people[!twice, ],
    origin = frame$origin,
    account = account
  )
}

# Who is on the list comes first; what the list does not say is taken from the
# export. Names in place of ids are looked up in the list.
add_students <- function(bundle, list) {
  if (is.null(list)) return(bundle)
  if (!is.null(list$roster)) {
    list$students <- roster_students(
      list$roster,
      unique(bundle$responses$student)
    )
    list$account <- account_line(
      "read_as",
      say(
        "read-bundle.oneroster_the_id_is",
        students = attr(list$students, "id")
      )
    )
    period <- roster_period(list$roster, bundle$settings$date)
    if (!is.null(period) && is.null(bundle$settings$grading_period)) {
      bundle$settings$grading_period <- period$sourcedId
      said <- say(
        "read-bundle.marks_go_to_the_period",
        title = quoted(period$title), first = period$startDate, last = period$endDate
      )
      list$account <- rbind(list$account, account_line("read_as", said))
    }
  }
  listed <- list$students
  bundle <- ids_of_list(bundle, listed)
  mine <- bundle$students
  for (column in setdiff(names(mine), "student")) {
    old <- listed[[column]]
    found <- mine[[column]][match(listed$student, mine$student)]
    listed[[column]] <- if (is.null(old)) {
      found
    } else {
      ifelse(is_blank(old), found, old)
    }
  }
  bundle$students <- listed
  found <- say(
    "read-bundle.on_the_list_of",
    n = nrow(listed),
    n_listed = sum(listed$student %in% mine$student)
  )
  tell(
    bundle,
    list$origin,
    account_line("students", found),
    list$account,
    if (bundle$renamed) {
      account_line(
        "student",
        say("read-bundle.found_by_their_names", n = bundle$renamed)
      )
    }
  )
}

# Names in place of ids become the ids of a list; `renamed`: how many.
ids_of_list <- function(bundle, listed) {
  mine <- bundle$students
  if (is.null(mine)) {
    mine <- data.frame(student = unique(bundle$responses$student))
  }
  ids <- ids_by_name(mine, listed)
  new_id <- function(id) or_else(unname(ids[id]), id)
  bundle$responses$student <- new_id(bundle$responses$student)
  mine$student <- new_id(mine$student)
  bundle$students <- mine
  bundle$renamed <- length(ids)
  bundle
}

ids_by_name <- function(mine, listed) {
  if (is.null(listed$name)) return(character())
  lost <- mine$student[!mine$student %in% listed$student]
  name <- mine$name[match(lost, mine$student)]
  shown <- if (is.null(name)) {
    lost
  } else {
    ifelse(is_blank(name), lost, name)
  }
  at <- match(plain_words(shown), plain_words(listed$name))
  unsure <- plain_words(shown) %in% plain_words(listed$name)[
    duplicated(plain_words(listed$name))
  ]
  keep <- !is.na(at) & !unsure
  stats::setNames(listed$student[at[keep]], lost[keep])
}

# Standards: a CASE document or a table with code, parent, title.
read_standards_file <- function(path) {
  standard <- read_standard(path)
  if (!is.null(standard$standards)) return(standard)
  table <- read_table_file(path)
  require_its_columns(table, "standards")
  said <- say("read-bundle.in_a_table", n = nrow(table))
  new_bundle(
    standards = table,
    origin = basename(path),
    account = account_line("standards", said)
  )
}
