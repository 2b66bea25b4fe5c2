# Whether this machine has letters for a language. A page is drawn with the fonts of the
# machine that shows it, so that it can only be said of the one that prints here.

# Of languages those whose own name has a letter that no font has.
languages_without_font <- function(languages) {
  languages <- unique(languages)
  lacking <- vapply(languages, function(language) {
    !has_letters(language_fact("name", language))
  }, TRUE)
  languages[lacking]
}

has_letters <- function(text) {
  each <- unique(strsplit(gsub("[ -~]", "", text), "")[[1]])
  if (!length(each)) return(TRUE)
  known <- tryCatch(
    {
      font <- systemfonts::font_fallback(each)
      glyph <- Map(function(letter, path, index) {
        systemfonts::glyph_info(letter, path = path, index = index)$index[1]
      }, each, font$path, font$index)
      unlist(glyph) > 0
    },
    error = function(e) TRUE
  )
  all(known)
}
