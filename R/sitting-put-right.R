# What is put right in the tables beside the responses so that the rest can be
# read: each time a finding, kept with the table.
put_right <- function(table, findings) {
  attr(table, "put_right") <- c(attr(table, "put_right"), findings)
  table
}

drop_rows <- function(table, gone, findings) {
  if (!any(gone)) return(table)
  kept <- keep_origin(table[!gone, , drop = FALSE], table)
  rownames(kept) <- NULL
  attr(kept, "line") <- line_of(table)[!gone]
  put_right(kept, findings)
}

# Of lines with the same id the first counts.
drop_twins <- function(table, columns) {
  twice <- which(duplicated(table[columns]))
  if (!length(twice)) return(table)
  key <- do.call(paste, table[columns])
  column <- columns[length(columns)]
  drop_rows(
    table,
    seq_len(nrow(table)) %in% twice,
    lapply(twice, function(row) {
      new_finding(
        "error",
        origin_of(table),
        column,
        table[[column]][row],
        say(
          "sitting-put-right.stands_there_twice_first",
          no_table = is.null(attr(table, "line")),
          table = line_of(table)[match(key[row], key)]
        ),
        say("sitting-put-right.give_each_its_own"),
        line = line_of(table)[row]
      )
    })
  )
}

without_orphans <- function(standards) {
  orphans <- which(
    !is.na(standards$parent) & !standards$parent %in% standards$code
  )
  strange <- lapply(orphans, function(row) {
    new_finding(
      "error",
      origin_of(standards),
      "parent",
      standards$parent[row],
      say("sitting-put-right.is_the_parent_of"),
      did_you_mean(standards$parent[row], standards$code),
      line = line_of(standards)[row]
    )
  })
  standards$parent[orphans] <- NA
  put_right(standards, strange)
}

# The first standard of a loop loses its parent.
break_loops <- function(standards) {
  for (row in seq_len(nrow(standards))) {
    if (!standards$code[row] %in% ancestors(standards$code[row], standards)) {
      next
    }
    standards <- put_right(
      standards,
      list(new_finding(
        "error",
        origin_of(standards),
        "parent",
        standards$parent[row],
        say(
          "sitting-put-right.makes_stand_above_itself",
          code = standards$code[row]
        ),
        say("sitting-put-right.follow_the_parents_from"),
        line = line_of(standards)[row]
      ))
    )
    standards$parent[row] <- NA
  }
  standards
}
