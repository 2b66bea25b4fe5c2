# Students by standards: a row a student, a column a standard.

# Shares, with the level and whether it is unsure beside them as facts; the weakest
# student first. Students and standards without a result are not in it.
standards_grid <- function(sitting, standards) {
  standards <- standards[!is.na(standards$share), ]
  codes <- intersect(
    c(tree_order(attr(standards, "tree")), unique(standards$code)),
    standards$code
  )
  people <- summarise_students(sitting)
  people <- people[
    people$student %in% standards$student,
    c("student", "name", "section", "share", "level")
  ]
  people <- plain_rows(people[order(people$share, people$student), ])
  at <- cbind(match(standards$student, people$student), match(standards$code, codes))
  wide <- function(value, empty) {
    cells <- matrix(
      empty,
      nrow(people),
      length(codes),
      dimnames = list(people$student, codes)
    )
    cells[at] <- value
    cells
  }
  shares <- wide(standards$share, NA_real_)
  new_summary(
    cbind(people, as.data.frame(shares, check.names = FALSE)),
    "standards_grid",
    sitting$settings,
    "student",
    codes = codes,
    level = wide(standards$level, NA_character_),
    unsure = wide(standards$unsure %in% TRUE, FALSE),
    priority = priority_mark(standards)[match(codes, standards$code)],
    levels = names(sitting$settings$levels)
  )
}
