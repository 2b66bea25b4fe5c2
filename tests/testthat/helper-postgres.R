# A PostgreSQL server of the tests' own, in a temporary folder, on a free port and
# a socket there; NULL where the machine has none.

postgres_program <- function(name) {
  found <- c(
    Sys.glob(file.path("/usr/lib/postgresql/*/bin", name)),
    unname(Sys.which(name))
  )
  found <- found[nzchar(found) & file.exists(found)]
  if (length(found)) found[1] else NA_character_
}

# The server does not run as root: then as the user that Debian's package made.
as_server_user <- function(program, arguments) {
  command <- paste(c(shQuote(program), shQuote(arguments)), collapse = " ")
  if (Sys.info()[["user"]] == "root") command <- paste("runuser -u postgres --", command)
  system(paste("cd /tmp &&", command, "> /dev/null 2>&1"))
}

start_postgres <- function() {
  programs <- vapply(c("initdb", "pg_ctl"), postgres_program, "")
  skip_if(
    anyNA(programs) || !requireNamespace("RPostgres", quietly = TRUE),
    "no PostgreSQL on this machine"
  )
  room <- tempfile("pg-", "/tmp")
  dir.create(room)
  if (Sys.info()[["user"]] == "root") system2("chown", c("postgres", room))
  data <- file.path(room, "data")
  server <- list(
    data = data,
    room = room,
    port = free_port(),
    pg_ctl = programs[["pg_ctl"]]
  )
  as_server_user(
    programs[["initdb"]],
    c("-D", data, "-U", "teacher", "-A", "trust", "-E", "UTF8", "--no-sync")
  )
  as_server_user(
    server$pg_ctl,
    c(
      "-D", data, "-w", "-l", file.path(room, "log"), "-o",
      paste0("-p ", server$port, " -k ", room, " -c listen_addresses='' -c fsync=off"),
      "start"
    )
  )
  reg.finalizer(
    globalenv(),
    function(e) stop_postgres(server, "immediate"),
    onexit = TRUE
  )
  server
}

stop_postgres <- function(server, mode = "fast") {
  as_server_user(server$pg_ctl, c("-D", server$data, "-m", mode, "-w", "stop"))
}

connect_postgres <- function(server) {
  # else loading asks a service that may not be there
  if (!nzchar(Sys.getenv("TZ"))) Sys.setenv(TZ = "UTC")
  DBI::dbConnect(
    RPostgres::Postgres(),
    host = server$room,
    port = server$port,
    user = "teacher",
    dbname = "postgres"
  )
}
