#' Write a plan as a document or a table
#'
#' @param plan A plan of [plan_reteach()].
#' @param path Path of the file: its ending says what it is, `.docx` and `.md` for
#'   a document to edit and print, `.csv` for the table that [plan_reteach()] takes
#'   up again.
#' @param title,date What is planned for, as it stands at the top of a document.
#' @param names Whether students stand in it by name; else only how many they are. The
#'   table (`.csv`) names students by id, or says how many they are.
#' @return The path, invisibly.
#' @details A document holds what went well, and for each standard the reason, what
#'   a student should know, the questions that show it, the likely cause, who needs
#'   it by group, and the fields to fill in with what `plan.csv` holds of them. A
#'   document that is there already is written over: give it another name when
#'   somebody wrote in it; the command line does so by itself.
#' @section Errors: `pregunta_error_output` when the file cannot be written,
#'   `pregunta_error_call` for another ending.
#' @export
#' @examples
#' plan <- plan_reteach(read_sitting(demo_path()))
#' path <- tempfile(fileext = ".md")
#' write_plan(plan, path, "Tides and Currents")
#' cat(head(readLines(path), 12), sep = "\n")
write_plan <- function(plan, path, title = "Plan", date = NA, names = TRUE) {
  check_summary(plan, "plan")
  ending <- tolower(tools::file_ext(path))
  if (!ending %in% c("docx", "md", "csv")) {
    abort_pregunta(
      "call",
      say("write-plan.a_plan_is_not", ending = quoted(ending)),
      path,
      say("write-plan.end_the_name_with")
    )
  }
  check_output(path, plan = ending == "csv")
  if (ending == "csv") return(write_csv_table(flat_plan(plan, names), path))
  parts <- plan_parts(plan, title, date, names)
  if (ending == "md") {
    write_text(markdown_of(parts), path)
  } else {
    write_docx(parts, path)
  }
}

# "Group 1: h002, h009 | ..." as how many there are in each group.
counted_students <- function(students) {
  groups <- strsplit(students, " | ", fixed = TRUE)
  vapply(groups, function(one) {
    ids <- strsplit(sub("^.*?: ", "", one, perl = TRUE), ", ", fixed = TRUE)
    group <- sub(": .*", "", one)
    many <- say("write-plan.how_many", n = lengths(ids))
    paste(group, many, sep = ": ", collapse = " | ")
  }, "")
}

flat_plan <- function(plan, names = TRUE) {
  plain <- plain_table(plan)
  if (!names) plain$students <- counted_students(plain$students)
  plain[c("share", "need", "share_after")] <- lapply(
    plain[c("share", "need", "share_after")],
    round,
    4
  )
  plain
}

# Where the plan of a test stands, or of a part of it: under the part's name, so that
# neither takes up what was typed into the other. part: the conditions, by column; A,B is
# the part that B,A is.
plan_path <- function(folder, part = NULL, ending = "csv") {
  said <- if (length(part)) {
    values <- vapply(part, function(one) paste(sort(one), collapse = ", "), "")
    paste(sort(paste(names(part), values)), collapse = " ")
  }
  stem <- paste(c("plan", if (length(part)) file_word(said)), collapse = "-")
  file.path(folder, paste0(stem, ".", ending))
}

is_plan_name <- function(name) grepl("^plan(-[a-z0-9-]+)?[.]csv$", name)

# A plan.csv as it was written or edited; NULL when there is none.
read_plan <- function(path) {
  if (!file.exists(path)) return(NULL)
  plan <- text_columns(read_table_file(path))
  require_its_columns(plan, "plan")
  twice <- which(duplicated(plan$code) & !is.na(plan$code))
  if (length(twice)) {
    abort_cell(
      plan,
      twice[1],
      "code",
      say("write-plan.a_standard_stands_in"),
      say("write-plan.put_the_two_rows")
    )
  }
  plan
}

# The document as a list of parts, whatever it is written as: each has a kind
# (title, heading, subheading, text, list, table, fields) and what is in it.
plan_parts <- function(plan, title, date, names) {
  part <- function(kind, content, ...) list(kind = kind, content = content, ...)
  chosen <- which(!is.na(plan$need))
  left <- plan[is.na(plan$need), , drop = FALSE]
  about <- c(
    if (!is.na(date)) say("write-plan.test_of", date = date),
    say("write-plan.standards_to_teach_again", n = length(chosen))
  )
  head <- list(
    part("title", say("write-plan.plan", title = title)),
    part("text", paste(about, collapse = " ")),
    part("heading", say("write-plan.what_went_well")),
    part("list", attr(plan, "well"))
  )
  standards <- lapply(
    chosen,
    function(k) standard_parts(plan, k, part, names)
  )
  earlier <- if (nrow(left)) {
    list(
      part("heading", say("write-plan.from_the_earlier_plan")),
      part("list", say_left(left))
    )
  }
  c(head, unlist(standards, recursive = FALSE), earlier)
}

say_left <- function(left) {
  vapply(seq_len(nrow(left)), function(k) {
    typed <- unlist(left[k, plan_fields])
    said <- paste(typed[!is_blank(typed)], collapse = "; ")
    said <- c(said, say_closed(left[k, ]))
    paste0(left$code[k], ": ", paste(said, collapse = ". "))
  }, "")
}

standard_parts <- function(plan, k, part, names) {
  one <- plan_row(plan, k, c("learns", "helps"))
  row <- one$row
  title <- paste0(row$code, or_blank(row$title, paste0("  ", row$title)))
  evidence <- attr(plan, "evidence")[[row$code]]
  closed <- say_closed(row)
  fields <- unlist(row[plan_fields])
  names(fields) <- capital(words_for(plan_fields, "plan_fields_written"))
  who <- if (NROW(one$groups)) {
    part(
      "table",
      groups_table(one$groups, names),
      widths = c(20, 80)
    )
  } else {
    part("text", say("write-plan.nobody_is_in_a"))
  }
  parts <- list(
    part("heading", paste0(k, ". ", title)),
    part("text", say("write-plan.why", reason = row$reason)),
    part("text", row$know),
    part("text", say("write-plan.what_is_behind_it", cause = row$cause)),
    if (nzchar(row$settle)) part("text", row$settle),
    part("subheading", say("write-plan.what_shows_it")),
    part(
      "table",
      evidence_table(evidence),
      widths = c(14, 39, 11, 36)
    ),
    part("subheading", say("write-plan.who")),
    who,
    part("subheading", say("write-plan.what_we_do")),
    part("fields", fields),
    if (length(closed)) part("text", closed)
  )
  Filter(Negate(is.null), parts)
}

say_closed <- function(row) {
  if (is.na(row$closed)) return(NULL)
  say(
    "write-plan.closed_of_the_points",
    closed = row$closed,
    share_after = percent(row$share_after),
    reached = plain_points(row$reached),
    still_below = plain_points(row$still_below)
  )
}

evidence_table <- function(evidence) {
  text <- or_blank(evidence$wrong_text, paste0(" ", evidence$wrong_text))
  wrong <- or_blank(
    evidence$wrong,
    paste0(
      evidence$wrong, text, " (", percent(evidence$wrong_share), ")"
    )
  )
  wrong <- paste0(wrong, say_behind(evidence))
  cells <- list(
    evidence$item,
    or_blank(evidence$prompt),
    percent(evidence$difficulty),
    wrong
  )
  names(cells) <- all_words("evidence_columns")
  as.data.frame(cells, check.names = FALSE)
}

# What stands behind the wrong answers of each item: an idea, one that many share
# without a name, or guessing.
say_behind <- function(evidence) {
  data.table::fcase(
    !is.na(evidence$idea), say("write-plan.the_idea", idea = evidence$idea),
    evidence$pattern %in% "shared", say("write-plan.many_share_it"),
    evidence$pattern %in% "spread", say("write-plan.spread_as_by_guessing"),
    default = ""
  )
}

groups_table <- function(groups, names) {
  by <- attr(groups, "by")
  class <- if (is.null(by)) say("write-plan.group") else groups[[by]]
  group <- in_order(paste(class, groups$group))
  said <- say(
    "write-plan.could_explain_it",
    who = or_else(groups$name, groups$student),
    is_helps = groups$role == "helps"
  )
  who <- if (names) {
    tapply(said, group, paste, collapse = ", ")
  } else {
    say("write-plan.how_many", n = tabulate(group, nlevels(group)))
  }
  cells <- list(levels(group), as.vector(who))
  names(cells) <- c(say("write-plan.group"), say("write-plan.students"))
  as.data.frame(cells, check.names = FALSE)
}

# ---- as Markdown -------------------------------------------------------------------

markdown_of <- function(parts) {
  plain <- function(text) {
    gsub(
      "([\\\\`*_{}\\[\\]<>#|])",
      "\\\\\\1",
      gsub("[\r\n]+", " ", text),
      perl = TRUE
    )
  }
  lines <- lapply(parts, function(part) {
    content <- part$content
    switch(part$kind,
      title = paste("#", plain(content)),
      heading = paste("##", plain(content)),
      subheading = paste("###", plain(content)),
      text = plain(content),
      list = paste("-", plain(content)),
      table = markdown_table(content, plain),
      fields = paste0(
        "- **",
        names(content),
        ":** ",
        ifelse(is_blank(content), "____", plain(content))
      )
    )
  })
  unlist(lapply(lines, function(piece) c(piece, "")))
}

markdown_table <- function(table, plain) {
  row <- function(cells) paste0("| ", paste(cells, collapse = " | "), " |")
  c(
    row(names(table)),
    row(rep("---", ncol(table))),
    apply(as.matrix(table), 1, function(cells) row(plain(cells)))
  )
}

# ---- closed ------------------------------------------------------------------------

# What came of the plan beside a test goes into its rows: path, how many of its
# standards were closed now, and how many it has.
close_plan_file <- function(folder, change, after, path = plan_path(folder)) {
  lock <- take_lock(folder)
  on.exit(release_lock(lock))
  plan <- read_plan(path)
  if (is.null(plan)) {
    abort_pregunta(
      "call",
      say("write-plan.no_plan_to_close", path = path),
      NULL,
      say("write-plan.make_one_first", folder = folder, part = path != plan_path(folder))
    )
  }
  date <- if (is.na(after$settings$date)) {
    after$settings$title
  } else {
    after$settings$date
  }
  plan <- close_plan(plan, change, date)
  write_csv_table(plan, path)
  list(
    path = path,
    done = sum(plan$closed %in% date),
    n = nrow(plan)
  )
}

# A name that is not taken: plan.docx, else plan-2.docx. Somebody may have written into
# the one that is there; one that is as it was made is written over.
free_path <- function(path) {
  ending <- tools::file_ext(path)
  k <- 1
  free <- path
  while (file.exists(free) && !is_as_made(free)) {
    k <- k + 1
    free <- paste0(
      sub(paste0("[.]", ending, "$"), "", path), "-", k, ".", ending
    )
  }
  free
}
