# A roster fetched from a server of the standard, as the standard's own files: what
# new_test() reads the students from, and what a person can open.

#' Fetch a roster from a school's server
#'
#' Asks a server of OneRoster 1.2 (1EdTech, REST) who is in which class, and writes the
#' answer as OneRoster CSV files, for `students` of [new_test()] and [add_to_test()].
#'
#' @param address Address of the services, such as
#'   `https://sis.school.example/ims/oneroster`. Nothing else on the network is asked than
#'   this and `token_at`.
#' @param folder Folder to write to: a new one, or one that holds such a roster; it is
#'   written anew.
#' @param token_at Address where the server gives tokens (OAuth 2 client credentials).
#' @param id,secret The school's client id and secret, from the environment variables
#'   `PREGUNTA_ONEROSTER_ID` and `PREGUNTA_ONEROSTER_SECRET` unless given.
#' @param classes Identifiers of the classes to take; all when `NULL`.
#' @return The paths of the files, invisibly: `users.csv`, `classes.csv`,
#'   `enrollments.csv`, `orgs.csv`, `academicSessions.csv` (the grading periods).
#' @section Errors: `pregunta_error_output` when the server does not answer, refuses the
#'   key, or `folder` holds other files; `pregunta_error_input` when it answers with what
#'   the standard does not know; `pregunta_error_call` for a class that is not there.
#' @references 1EdTech OneRoster 1.2, Rostering Service REST binding; RFC 6749, section
#'   4.4.
#' @seealso [export_sitting()] and [send_marks()] for the way back.
#' @export
#' @examples
#' \dontrun{
#' fetch_roster(
#'   "https://sis.school.example/ims/oneroster", "roster",
#'   token_at = "https://sis.school.example/token"
#' )
#' new_test("quiz", "answers.csv", students = "roster")
#' }
fetch_roster <- function(address, folder, token_at,
                         id = Sys.getenv("PREGUNTA_ONEROSTER_ID"),
                         secret = Sys.getenv("PREGUNTA_ONEROSTER_SECRET"),
                         classes = NULL) {
  service <- new_service(
    checked_server(address),
    checked_server(token_at),
    checked_key(id),
    checked_key(secret)
  )
  check_roster_folder(folder)
  tables <- service_roster(service, classes)
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE)
  paths <- file.path(folder, paste0(names(tables), ".csv"))
  Map(write_csv_table, tables, paths)
  invisible(paths)
}

check_roster_folder <- function(folder) {
  ours <- paste0(c(roster_names, "manifest"), ".csv")
  other <- setdiff(list.files(folder), ours)
  if (!length(other)) return(invisible())
  abort_pregunta(
    "output",
    say("write-roster.holds_other", folder = quoted(folder)),
    file.path(folder, other[1]),
    say("write-roster.name_a_new")
  )
}

# ---- a server that the user names --------------------------------------------------

# Over a network it is encrypted; a name and key within the address stand in lists of
# processes.
checked_server <- function(address) {
  host <- sub("^https?://([^/:]*).*$", "\\1", address)
  here <- host %in% c("127.0.0.1", "localhost")
  sound <- is.character(address) && length(address) == 1 &&
    grepl("^https?://[^/@?#]+(/[^@?#]*)?$", address)
  if (sound && (here || startsWith(address, "https://"))) return(address)
  shown <- quoted(sub("//[^/@]*@", "//", paste0("", address)[1]))
  abort_pregunta(
    "call",
    say("write-roster.no_such_address", address = shown),
    NULL,
    say("write-roster.for_example")
  )
}

checked_key <- function(key) {
  if (nzchar(key)) return(key)
  abort_pregunta(
    "call",
    say("write-roster.needs_a_key"),
    NULL,
    say("write-roster.set_them")
  )
}
