#' Put the command `pregunta` on the path
#'
#' Writes a small file that starts the command line of this package, so that `pregunta`
#' can be typed in a terminal: `pregunta`, or `pregunta.cmd` on Windows.
#'
#' @param folder Where it goes; by default a folder of your own that the terminal looks
#'   into already (on the `PATH`), else `~/.local/bin`, or `pregunta` among your programs
#'   on Windows, which is made.
#' @return The path of the file, invisibly. Where the terminal does not look into the
#'   folder yet, it is said what to do.
#' @details The file names the R and the library that it was made by: make it anew after a
#'   new version of R. It changes no setting of the system and no file of the shell. It
#'   has been tried on Linux; the one for Windows has not been tried on Windows.
#' @section Errors: `pregunta_error_output` when the folder cannot be written to, or holds
#'   another program of this name.
#' @export
#' @examples
#' install_command(tempdir())
install_command <- function(folder = NULL) {
  windows <- .Platform$OS.type == "windows"
  if (is.null(folder)) folder <- folder_for_command(windows)
  if (!dir.exists(folder)) dir.create(folder, recursive = TRUE, showWarnings = FALSE)
  path <- file.path(folder, if (windows) "pregunta.cmd" else "pregunta")
  check_own_command(path)
  write_text(command_lines(windows), path)
  Sys.chmod(path, "0755")
  tell_user(say("cli-install.written", path = path))
  on_path <- plain_place(folder) %in% plain_place(folders_of_path(windows))
  if (!on_path) {
    tell_user(say("cli-install.add_to_path", folder = folder, windows = windows))
  }
  invisible(path)
}

command_sign <- "pregunta::install_command()"

# Another program of this name is nobody's to write over.
check_own_command <- function(path) {
  if (!file.exists(path)) return(invisible())
  own <- any(grepl(command_sign, readLines(path, 5, warn = FALSE), fixed = TRUE))
  if (own) return(invisible())
  abort_pregunta(
    "output",
    say("cli-install.is_another", path = quoted(path)),
    NULL,
    say("cli-install.name_a_folder")
  )
}

# Starts R with room for what is read at the start, which spares it some collecting.
command_lines <- function(windows, r = file.path(R.home("bin"), "Rscript"),
                          library = dirname(system.file(package = "pregunta"))) {
  script <- file.path(library, "pregunta", "exec", "pregunta")
  if (windows) {
    native <- function(path) paste0("\"", gsub("/", "\\", path, fixed = TRUE), "\"")
    return(c(
      "@echo off",
      paste("rem", command_sign),
      "setlocal",
      paste0("set \"R_LIBS=", gsub("/", "\\", library, fixed = TRUE), ";%R_LIBS%\""),
      "if not defined R_NSIZE set R_NSIZE=1M",
      paste(native(paste0(r, ".exe")), native(script), "%*"),
      "exit /b %ERRORLEVEL%"
    ))
  }
  c(
    "#!/bin/sh",
    paste("#", command_sign),
    paste0("R_LIBS=", shQuote(library), "${R_LIBS:+:$R_LIBS}"),
    "R_NSIZE=${R_NSIZE:-1M}",
    "export R_LIBS R_NSIZE",
    paste("exec", shQuote(r), shQuote(script), "\"$@\"")
  )
}

# Folders that a terminal looks into.
folders_of_path <- function(windows) {
  folders <- strsplit(Sys.getenv("PATH"), if (windows) ";" else ":", fixed = TRUE)[[1]]
  folders[nzchar(folders)]
}

# Of one's own, that exists and may be written to, the usual one first; else that.
folder_for_command <- function(windows) {
  home <- if (windows) Sys.getenv("LOCALAPPDATA") else path.expand("~")
  usual <- if (windows) {
    file.path(home, c("Microsoft/WindowsApps", "Programs/pregunta"))
  } else {
    file.path(home, c(".local/bin", "bin"))
  }
  known <- plain_place(folders_of_path(windows))
  own <- known[startsWith(known, paste0(plain_place(home), "/"))]
  open <- own[dir.exists(own) & file.access(own, 2) == 0]
  first <- usual[plain_place(usual) %in% open]
  c(first, if (windows) rev(usual) else usual)[1]
}

plain_place <- function(folders) normalizePath(folders, "/", mustWork = FALSE)
