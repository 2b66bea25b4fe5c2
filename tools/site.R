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

# What the README links to besides pages.
for (folder in c("docs", "bench", "inst")) dir.create(file.path(place, folder))
shown <- c("docs/screenshots", "docs/pictures.md")
invisible(file.copy(shown, file.path(place, "docs"), recursive = TRUE))
invisible(file.copy("bench/last.txt", file.path(place, "bench")))
invisible(file.copy("inst/schema", file.path(place, "inst"), recursive = TRUE))

# Pages fetch nothing: what would come from elsewhere is taken out, and what is on a page,
# which a script from elsewhere would list, is listed here.
pages <- list.files(place, "[.]html$", recursive = TRUE, full.names = TRUE)
fetched <- "<(script|link)[^>]*(src|href)=\"https?://[^\"]*\"[^>]*>(</script>)?"
contents_of <- function(text) {
  heading <- "(?s)<h[23][^>]*id=\"[^\"]+\"[^>]*>.*?</h[23]>"
  heads <- regmatches(text, gregexpr(heading, text, perl = TRUE))[[1]]
  if (!length(heads)) return("")
  id <- sub("(?s)^<h[23][^>]*id=\"([^\"]+)\".*$", "\\1", heads, perl = TRUE)
  said <- trimws(gsub("<[^>]*>", "", heads))
  deep <- ifelse(startsWith(heads, "<h3"), " class=\"deep\"", "")
  lines <- paste0("<li", deep, "><a href=\"#", id, "\">", said, "</a></li>")
  paste0("<ul>", paste(lines, collapse = ""), "</ul>")
}
elsewhere <- c(
  "../../docs/" = "../docs/", "articles/articles/" = "articles/",
  "href=\"NEWS.html" = "href=\"news/index.html",
  "docs/pictures.html" = "docs/pictures.md"
)
for (page in pages) {
  text <- paste(readLines(page, encoding = "UTF-8", warn = FALSE), collapse = "\n")
  text <- gsub(fetched, "", text)
  text <- gsub("<img src=\"\"[^>]*>", "", text) # the place of a logo
  vignette <- "href=\"vignettes/(articles/)?([a-z]+)[.]Rmd"
  text <- gsub(vignette, "href=\"articles/\\2.html", text)
  for (from in names(elsewhere)) text <- gsub(from, elsewhere[[from]], text, fixed = TRUE)
  parts <- strsplit(text, "<h2>On this page</h2>", fixed = TRUE)[[1]]
  if (length(parts) == 2) {
    text <- paste0(parts[1], "<h2>On this page</h2>", contents_of(parts[1]), parts[2])
  }
  writeLines(enc2utf8(text), page, useBytes = TRUE)
}

# Links between its pages lead somewhere, and pictures are what their names say.
is_picture <- function(path) {
  first <- readBin(path, "raw", 300)
  if (grepl("[.]png$", path)) return(identical(rawToChar(first[2:4]), "PNG"))
  grepl("<svg", rawToChar(first), useBytes = TRUE)
}
broken <- unlist(lapply(pages, function(page) {
  parts <- xml2::xml_find_all(xml2::read_html(page), "//a/@href | //img/@src")
  links <- xml2::xml_text(parts)
  own <- sub("[?#].*$", "", grep("^([a-z]+:|#|//)", links, value = TRUE, invert = TRUE))
  own <- unique(utils::URLdecode(own[nzchar(own)]))
  own <- own[!startsWith(own, "data:")]
  there <- file.path(dirname(page), own)
  lost <- own[!file.exists(there) | !vapply(there, function(path) {
    !grepl("[.](png|svg)$", path) || !file.exists(path) || is_picture(path)
  }, TRUE)]
  if (length(lost)) paste(substring(page, nchar(place) + 2), "->", lost)
}))
if (length(broken)) stop("Links that lead nowhere:\n", paste(broken, collapse = "\n"))
message("Open ", file.path("site", "index.html"))
