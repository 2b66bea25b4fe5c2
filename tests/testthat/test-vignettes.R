# Each vignette is told to its end from the source beside the tests: what its code says is
# what its reader sees, so nothing in it warns or ends in an error.

vignettes <- list.files(
  test_path("..", "..", "vignettes"), "[.]Rmd$",
  full.names = TRUE
)

test_that("every vignette runs to its end without a warning", {
  only_in_all()
  skip_if(!length(vignettes), "the source is not beside the tests")
  skip_if(!rmarkdown::pandoc_available(), "no pandoc on this machine")
  expect_gt(length(vignettes), 7)
  index <- sub("[.]Rmd$", "", basename(vignettes))
  for (name in index) {
    place <- tempfile("vignette-")
    page <- rmarkdown::render(
      vignettes[match(name, index)],
      output_dir = place,
      intermediates_dir = place,
      envir = new.env(parent = globalenv()),
      quiet = TRUE
    )
    said <- paste(readLines(page, encoding = "UTF-8", warn = FALSE), collapse = "\n")
    text <- xml2::xml_text(xml2::read_html(said))
    shown <- strsplit(text, "\n")[[1]]
    wrong <- grep("^(## )?(Warning|Error)( in |:)", shown)
    expect_identical(shown[as.vector(outer(0:2, wrong, `+`))], character(), label = name)
    expect_gt(nchar(text), 3000, label = name)
    # A page holds all that it shows.
    expect_no_match(said, "<img[^>]*src=\"(?!data:)", perl = TRUE, label = name)
    fetched <- "<(script|link)[^>]*(src|href)=\"http|script[.]src *= *\"http"
    expect_no_match(said, fetched, perl = TRUE, label = name)
  }
})
