# The site, from the help pages, the vignettes and the README into the folder site; each
# code block is run on the way. It needs nothing but its own files when it is opened.
if (!nzchar(system.file(package = "pkgdown"))) {
  if (nzchar(Sys.which("apt-get")) && Sys.info()[["user"]] == "root") {
    system2("apt-get", c("install", "-y", "-q", "r-cran-pkgdown"), stdout = FALSE)
  }
  if (!nzchar(system.file(package = "pkgdown"))) utils::install.packages("pkgdown")
}
place <- normalizePath("site", mustWork = FALSE)
options(pkgdown.internet = FALSE, pkgdown.timestamp = FALSE)
# Where packages that are only mentioned have their pages is asked of nobody.
no_urls <- function() data.frame(Package = character(), URL = character())
utils::assignInNamespace("CRAN_urls", no_urls, "downlit")
unlink(place, recursive = TRUE)
package <- pkgdown::as_pkgdown(".", override = list(destination = place))
pkgdown::init_site(package)
pkgdown::build_home(package, preview = FALSE)
pkgdown::build_reference(package, lazy = FALSE, preview = FALSE, devel = FALSE)
pkgdown::build_articles(package, lazy = FALSE, preview = FALSE)
pkgdown::build_news(package, preview = FALSE)

# The pictures of the README.
pictures <- file.path(place, "docs")
dir.create(pictures)
invisible(file.copy("docs/screenshots", pictures, recursive = TRUE))

# Pages fetch nothing: what would come from elsewhere is taken out.
pages <- list.files(place, "[.]html$", recursive = TRUE, full.names = TRUE)
fetched <- "<(script|link)[^>]*(src|href)=\"https?://[^\"]*\"[^>]*>(</script>)?"
for (page in pages) {
  text <- readChar(page, file.size(page), useBytes = TRUE)
  text <- gsub(fetched, "", text, useBytes = TRUE)
  text <- gsub("../../docs/", "../docs/", text, fixed = TRUE, useBytes = TRUE)
  con <- file(page, "wb")
  writeChar(text, con, eos = NULL, useBytes = TRUE)
  close(con)
}

# Links between its pages lead somewhere.
broken <- unlist(lapply(pages, function(page) {
  links <- xml2::xml_attr(xml2::xml_find_all(xml2::read_html(page), "//a[@href]"), "href")
  own <- sub("[?#].*$", "", grep("^([a-z]+:|#|//)", links, value = TRUE, invert = TRUE))
  own <- unique(utils::URLdecode(own[nzchar(own)]))
  lost <- own[!file.exists(file.path(dirname(page), own))]
  if (length(lost)) paste(substring(page, nchar(place) + 2), "->", lost)
}))
if (length(broken)) stop("Links that lead nowhere:\n", paste(broken, collapse = "\n"))
message("Open ", file.path("site", "index.html"))
