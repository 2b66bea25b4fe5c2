# What of this package is compiled. A package whose every function is takes two megabytes
# more, is loaded later, and is no faster where a function does little but call others. So
# what has a loop of its own is compiled when the package is installed (zzz.R); the rest R
# may compile as it calls it again.

has_loop <- function(code) {
  any(c("for", "while", "repeat") %in% all.names(code))
}

compile_loops <- function(home) {
  quiet <- list(suppressAll = TRUE)
  for (name in ls(home, all.names = TRUE)) {
    value <- get(name, home)
    if (is.function(value) && has_loop(body(value))) {
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
