# What the files of a folder were made from, so that it can be said which of them are
# stale, and only those be made again. It stands in a file of its own beside them; where
# that is not there, or says nothing of a file, nothing is known.

made_name <- ".made.json"

# For each file's name a list: from, a mark of what it was made from; as, of what was
# asked for; sum, of the bytes that were written; more, whatever was found out on the way.
read_made <- function(home) {
  path <- file.path(home, made_name)
  if (!file.exists(path) || file.size(path) > 2e7) return(list())
  said <- tryCatch(
    jsonlite::fromJSON(path, simplifyVector = FALSE),
    error = function(e) NULL
  )
  whole <- function(one) {
    is.list(one) && all(vapply(one[c("from", "as", "sum")], is_word, TRUE))
  }
  if (!is.list(said) || is.null(names(said))) return(list())
  Filter(whole, said)
}

is_word <- function(x) is.character(x) && length(x) == 1 && !is.na(x)

# files: paths; from, as: marks; more: a list along the files. Notes of files that are
# gone go as well.
note_made <- function(files, from, as, more = NULL) {
  for (home in unique(dirname(files))) {
    mine <- which(dirname(files) == home & file.exists(files))
    noted <- read_made(home)
    noted <- noted[file.exists(file.path(home, names(noted)))]
    for (k in mine) {
      noted[[basename(files[k])]] <- list(
        from = rep_len(from, length(files))[k],
        as = as,
        sum = unname(tools::md5sum(files[k])),
        more = more[[k]]
      )
    }
    # Where it cannot be written, only what it would have spared is lost.
    text <- jsonlite::toJSON(noted, auto_unbox = TRUE, digits = NA, null = "null")
    try(write_text(text, file.path(home, made_name)), silent = TRUE)
  }
}

# What was found out of a file that would come out the same; NULL where it would not, or
# is not there as it was written.
still_made <- function(file, from, as, noted = read_made(dirname(file))) {
  entry <- noted[[basename(file)]]
  if (is.null(entry) || entry$from != from || entry$as != as) return(NULL)
  if (!file.exists(file) || !is_as_made(file, entry)) return(NULL)
  if (is.null(entry$more)) list() else entry$more
}

# What was made from a test folder into it, so that it can be said when it is stale.
# plan: the path of the plan that it tells of, if it tells of one.
note_output <- function(folder, paths, plan = NULL) {
  home <- full_path(folder)
  own <- vapply(paths, function(path) dirname(full_path(path)) == home, TRUE)
  if (!any(own)) return(invisible())
  name <- if (is.null(plan)) "" else basename(plan)
  more <- rep(list(list(plan = name)), sum(own))
  note_made(paths[own], folder_mark(home, name), asked_mark(), more)
}

# Whether nobody has written into a file since it was made.
is_as_made <- function(file, entry = read_made(dirname(file))[[basename(file)]]) {
  !is.null(entry) && identical(unname(tools::md5sum(file)), entry$sum)
}

# A mark of all that a test folder's outputs are made from, with what was typed into the
# plan of that name. A file of more than 100 MB is known by its size and time.
folder_mark <- function(folder, plan = "plan.csv") {
  inputs <- c(paste0(folder_tables, ".csv"), "test.yml", "test.xlsx")
  names <- sort(intersect(list.files(folder), inputs), method = "radix")
  paths <- file.path(folder, names)
  about <- file.info(paths, extra_cols = FALSE)
  large <- which(about$size > 1e8)
  sums <- unname(tools::md5sum(paths[setdiff(seq_along(paths), large)]))
  about <- lapply(about[large, c("size", "mtime")], as.numeric)
  typed <- if (nzchar(plan)) typed_into(file.path(folder, plan))
  cli::hash_obj_md5(list(names, sums, about, typed))
}

# What a teacher typed into a plan; NULL where that is nothing. Of a plan that cannot be
# read the sum of its bytes.
typed_into <- function(path) {
  plan <- tryCatch(
    read_plan(path),
    pregunta_error = function(e) unname(tools::md5sum(path))
  )
  if (!is.data.frame(plan)) return(plan)
  made <- names(plan)[seq_len(match("students", names(plan), 0L))]
  typed <- setdiff(names(plan), made)
  rows <- which(rowSums(!is_blank(as.matrix(plan[typed]))) > 0)
  if (length(rows)) lapply(plan[c("code", typed)], function(column) column[rows])
}

# Of what was asked for, and of who made it.
asked_mark <- function(...) {
  made_by <- utils::packageDescription("pregunta", fields = c("Version", "Built"))
  cli::hash_obj_md5(list(..., unlist(made_by)))
}

# The files of a test folder that were made before it changed.
stale_files <- function(folder) {
  noted <- read_made(folder)
  if (!length(noted)) return(character())
  plans <- vapply(noted, noted_plan, "")
  told <- unique(plans)
  marks <- vapply(told, function(plan) folder_mark(folder, plan), "")
  now <- marks[match(plans, told)]
  from <- vapply(noted, `[[`, "", "from")
  whole <- !startsWith(from, own_sign)
  there <- file.exists(file.path(folder, names(noted)))
  names(noted)[whole & there & from != now]
}

noted_plan <- function(entry) {
  plan <- if (is.list(entry$more)) entry$more[["plan"]]
  if (is_word(plan)) basename(plan) else "plan.csv"
}

# Before marks that are not of the whole folder: of a part's students, of many folders.
own_sign <- "own-"
