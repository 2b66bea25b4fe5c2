# One student's page in the terminal: every question with the answer, the right
# one, the points, the reason given and the comment.

show_student <- function(quiz, student) {
  answers <- student_answers(quiz, student)
  shown <- ifelse(is.na(answers$answer), paste0("(", answers$state, ")"), answers$answer)
  points <- paste(ifelse(is.na(answers$points), "\u2013", plain_points(answers$points)), "of",
    plain_points(answers$most))
  full <- answers$points > answers$most - 1e-9
  word <- ifelse(answers$state == "answered", "", answers$state)
  table <- format_table(list(
    text_column("", ifelse(full %in% TRUE, "\u2713", " "), colour = "teal"),
    text_column("item", answers$item), text_column("question", quiz$items$prompt, shrink = TRUE),
    text_column("answer", ifelse(answers$state %in% c("omitted", "not reached"), "", shown), shrink = TRUE),
    text_column("right", answers$right, shrink = TRUE),
    text_column("points", points, "right"), text_column("", word, colour = "ochre")
  ))
  about <- function(k) {
    c(if (!is.na(answers$explanation[k])) paste0(answers$item[k], ", their reason: ", answers$explanation[k]),
      if (nzchar(answers$comment[k])) paste0(answers$item[k], ", comment: ", answers$comment[k]))
  }
  said <- c(attr(answers, "comment"), unlist(lapply(seq_len(nrow(answers)), about)))
  c("", table, if (length(said)) "", wrap_lines(printable(said), 0, 2))
}
