# Installs what DESCRIPTION names and is not there: Debian's built packages
# first when this machine can install them, CRAN for the rest. Silent when all
# is there. Also what the tests take, where Debian has it: a browser (and pdftotext), a
# PostgreSQL server, shells and locales.
fields <- read.dcf(
  "DESCRIPTION",
  fields = c("Depends", "Imports", "LinkingTo", "Suggests", "Config/Needs/development")
)
named <- unlist(strsplit(fields[!is.na(fields)], ","))
named <- setdiff(unique(gsub("[[:space:]]|[(].*", "", named)), c("R", "base"))
missing_packages <- function() {
  named[!nzchar(vapply(named, function(name) system.file(package = name), ""))]
}

quietly <- function(command, arguments) {
  log <- tempfile(fileext = ".log")
  status <- suppressWarnings(system2(
    command,
    arguments,
    stdout = log,
    stderr = log,
    env = c("DEBIAN_FRONTEND=noninteractive")
  ))
  if (status != 0) {
    message(paste(utils::tail(readLines(log, warn = FALSE), 5), collapse = "\n"))
  }
  status == 0
}

can_use_apt <- nzchar(Sys.which("apt-get")) && Sys.info()[["user"]] == "root"
has_browser <- any(nzchar(Sys.which(c("chromium", "chromium-browser", "google-chrome"))))
wanted <- missing_packages()
has_server <- length(Sys.glob("/usr/lib/postgresql/*/bin/initdb")) ||
  nzchar(Sys.which("initdb"))
extra <- c(
  if (!has_browser) "chromium", if (!has_server) "postgresql",
  if (!nzchar(Sys.which("pdftotext"))) "poppler-utils",
  # shells to complete words in, and what a locale of Windows is made of
  names(which(!nzchar(Sys.which(c(zsh = "zsh", fish = "fish"))))),
  if (!file.exists("/usr/share/i18n/charmaps/CP1252.gz")) "locales",
  if ("RPostgres" %in% wanted) "libpq-dev"
)

is_offered <- function(name) {
  suppressWarnings(system2(
    "apt-cache",
    c("show", name),
    stdout = FALSE,
    stderr = FALSE
  )) == 0
}

# The Debian packages among these R packages.
in_debian <- function(names) {
  debian <- paste0("r-cran-", tolower(names))
  debian[vapply(debian, is_offered, TRUE)]
}

# What the packages that only CRAN has are built on comes from Debian too, where
# it is there: that saves minutes of compiling.
built_on <- function(names) {
  base <- rownames(utils::installed.packages())
  known <- tryCatch(utils::available.packages(), error = function(e) NULL)
  if (is.null(known) || !length(names)) return(character())
  needed <- unlist(tools::package_dependencies(names, known, recursive = TRUE))
  setdiff(needed, c(base, names))
}

install_debian <- function(packages) {
  if (length(packages)) {
    quietly("apt-get", c("install", "-y", "-q", "--no-install-recommends", packages))
  }
}

if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@")) {
  utils::chooseCRANmirror(ind = 1)
}
if (can_use_apt && (length(wanted) || length(extra))) {
  message("Installing: ", paste(c(wanted, extra), collapse = ", "))
  invisible(quietly("apt-get", c("update", "-q")))
  invisible(install_debian(c(in_debian(wanted), extra)))
  invisible(install_debian(in_debian(built_on(missing_packages()))))
}

wanted <- missing_packages()
if (length(wanted)) {
  message("From CRAN: ", paste(wanted, collapse = ", "))
  Sys.setenv(MAKEFLAGS = paste0("-j", max(1, parallel::detectCores(), na.rm = TRUE)))
  library_path <- .libPaths()[1]
  if (file.access(library_path, 2) != 0) {
    library_path <- Sys.getenv("R_LIBS_USER")
    dir.create(library_path, recursive = TRUE, showWarnings = FALSE)
  }
  utils::install.packages(wanted, lib = library_path, quiet = TRUE)
}
wanted <- missing_packages()
if (length(wanted)) {
  stop(
    "These packages could not be installed: ",
    paste(wanted, collapse = ", "),
    call. = FALSE
  )
}
# The rules for accessibility that the tests of the pages go by.
if (!dir.exists(".check/node_modules/axe-core") && nzchar(Sys.which("npm"))) {
  dir.create(".check", showWarnings = FALSE)
  invisible(quietly(
    "npm",
    c(
      "install", "--prefix", ".check", "--no-audit", "--no-fund", "--no-save",
      "axe-core@4"
    )
  ))
}
# A stamp of an installation that is gone would keep make from installing.
if (!nzchar(system.file(package = "pregunta"))) unlink(".check/installed")
