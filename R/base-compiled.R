# What of this package is compiled. A package whose every function is takes two
# megabytes more, takes longer to load, and is no faster: most of its functions do little
# but call others that are compiled. What has a loop within a loop is compiled when the
# package is installed (zzz.R); the rest R may compile as it calls it again.

loops_in_loops <- function(code, inside = FALSE) {
  if (!is.call(code)) return(FALSE)
  loop <- is.name(code[[1]]) && as.character(code[[1]]) %in% c("for", "while", "repeat")
  if (loop && inside) return(TRUE)
  for (part in as.list(code)) {
    if (!missing(part) && loops_in_loops(part, inside || loop)) return(TRUE)
  }
  FALSE
}

compile_loops <- function(home) {
  quiet <- list(suppressAll = TRUE)
  for (name in ls(home, all.names = TRUE)) {
    value <- get(name, home)
    if (is.function(value) && loops_in_loops(body(value))) {
      assign(name, compiler::cmpfun(value, quiet), home)
    }
  }
}

# To compile a function takes R longer than a few calls of it: until the calling function
# ends, it does not.
interpret_here <- function(frame = parent.frame()) {
  back <- bquote(compiler::enableJIT(.(compiler::enableJIT(0))))
  do.call(on.exit, list(back, add = TRUE), envir = frame)
}
