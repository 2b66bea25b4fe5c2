# The columns of the student: id, name, section, when and how long.

read_people <- function(rows, columns, origin) {
  cell <- function(role) {
    at <- which(columns$role %in% role)
    if (length(at)) apply_paste(rows$body[at]) else NULL
  }
  name <- cell("name")
  if (is.null(name) && !is.null(cell("last_name"))) {
    name <- trimws(paste(cell("first_name"), cell("last_name")))
  }
  if (is.null(name)) name <- cell("first_name")
  id <- first_of(cell("student"), name, cell("email"))
  if (is.null(id)) {
    ask_layout(
      origin,
      say("read-layout-people.no_column_looks_like"),
      say("read-layout-people.its_columns_are", name = some_of(columns$name, 20)),
      "student"
    )
  }
  id[id == ""] <- if (is.null(name)) "" else name[id == ""]
  id[id == ""] <- say("read-layout-people.line", line = rows$line[id == ""])
  people <- data.frame(student = id)
  people$name <- turn_names(name)
  for (role in c(
    "section", "email", "guardian_email", "teacher", "school", "district", "attempt",
    "submitted", "status"
  )) {
    people[[role]] <- cell(role)
  }
  if (!is.null(cell("seconds"))) {
    people$seconds <- format_plain(
      read_seconds(cell("seconds"), columns$name[columns$role %in% "seconds"])
    )
  }
  for (k in which(columns$role %in% "other")) {
    name <- columns$name[k]
    if (!name %in% names(people)) people[[name]] <- rows$body[[k]]
  }
  people
}

first_of <- function(...) {
  for (one in list(...)) if (!is.null(one)) return(one)
  NULL
}

apply_paste <- function(columns) {
  if (length(columns) == 1) columns[[1]] else trimws(do.call(paste, columns))
}

# "Anchorley, Ada" reads Ada Anchorley.
turn_names <- function(name) {
  if (is.null(name)) return(NULL)
  turned <- grepl("^[^,]+, *[^,]+$", name)
  name[turned] <- sub("^([^,]+), *([^,]+)$", "\\2 \\1", name[turned])
  name
}

# Seconds from a duration however it is written: 751, 12:31, 0:12:31, PT12M31S,
# "12 min 31 s".
read_seconds <- function(x, header = "") {
  seconds <- read_number(x)
  if (any(grepl("minute", header, ignore.case = TRUE))) seconds <- 60 * seconds
  clock <- grepl("^[0-9]+(:[0-9]{1,2}){1,2}([.][0-9]+)?$", x)
  seconds[clock] <- vapply(strsplit(x[clock], ":"), function(parts) {
    sum(as.numeric(rev(parts)) * 60^(seq_along(parts) - 1))
  }, 0)
  units <- c(h = 3600, m = 60, s = 1)
  worded <- is.na(seconds) & grepl("[0-9] ?[hms]", x, ignore.case = TRUE)
  seconds[worded] <- vapply(x[worded], function(one) {
    found <- regmatches(one, gregexpr("[0-9]+([.][0-9]+)? ?[hmsHMS]", one))[[1]]
    sum(
      as.numeric(gsub("[^0-9.]", "", found)) *
        units[tolower(gsub("[^hmsHMS]", "", found))]
    )
  }, 0)
  seconds
}
