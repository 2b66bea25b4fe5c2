# The tests with CRAN's packages of today, which is what install.packages() brings, in
# place of Debian's: in a library of their own, which takes half an hour the first time.
# What they are compiled against comes from Debian where that can be installed.
library_path <- file.path(getwd(), ".check", "current")
dir.create(library_path, recursive = TRUE, showWarnings = FALSE)
Sys.setenv(R_LIBS = library_path)

compiled_against <- c(
  "libcurl4-openssl-dev", "libfontconfig1-dev", "libfribidi-dev", "libglpk-dev",
  "libharfbuzz-dev", "libjpeg-dev", "libpq-dev", "libtiff-dev", "libuv1-dev",
  "libwebp-dev", "libxml2-dev"
)
if (nzchar(Sys.which("apt-get")) && Sys.info()[["user"]] == "root") {
  system2("apt-get", c("install", "-y", "-q", compiled_against), stdout = FALSE)
}

if (identical(unname(getOption("repos")["CRAN"]), "@CRAN@")) {
  utils::chooseCRANmirror(ind = 1)
}
fields <- read.dcf("DESCRIPTION", fields = c("Imports", "LinkingTo", "Suggests"))
named <- gsub("[[:space:]]|[(].*", "", unlist(strsplit(fields[!is.na(fields)], ",")))
offered <- utils::available.packages()
below <- unlist(tools::package_dependencies(named, offered, recursive = TRUE))
needed <- intersect(c(named, below), rownames(offered))
here <- utils::installed.packages(lib.loc = library_path)
newest <- offered[needed, "Version"]
as_here <- here[match(needed, rownames(here)), "Version"]
lacking <- needed[is.na(as_here) | as_here != newest]
if (length(lacking)) {
  message("From CRAN: ", paste(lacking, newest[match(lacking, needed)], collapse = ", "))
  utils::install.packages(
    lacking,
    lib = library_path,
    Ncpus = max(1, parallel::detectCores(), na.rm = TRUE),
    INSTALL_opts = "--no-docs",
    quiet = TRUE
  )
}
lacking <- setdiff(needed, rownames(utils::installed.packages(lib.loc = library_path)))
if (length(lacking)) message("Not to be had: ", paste(lacking, collapse = ", "))

run <- function(script) {
  status <- system2(file.path(R.home("bin"), "Rscript"), file.path("tools", script))
  if (status != 0) quit(status = 1)
}
run("install.R")
run("test.R")
