# Who gave which answer: a row a student, item and option, in the words of
# summarise_options(). Absent students gave none.
who_chose <- function(sitting) {
  tally <- tally_responses(sitting)
  parts <- answer_parts(tally)
  offset <- cell_offsets(tally$cells)
  present <- which(was_present(sitting))
  cell <- as.vector(
    sweep(
      sitting$codes[present, , drop = FALSE],
      2,
      offset[seq_along(tally$cells)],
      `+`
    )
  )
  width <- tabulate(parts$member$cell, parts$n_cells)
  start <- cumsum(c(1, width))
  row <- rep(seq_along(cell), width[cell])
  part <- parts$member$part[sequence(width[cell], start[cell])]
  data.frame(
    item = parts$table$item[part],
    option = parts$table$option[part],
    state = parts$table$state[part],
    student = sitting$students$student[present][
      (row - 1) %% length(present) + 1
    ]
  )
}
