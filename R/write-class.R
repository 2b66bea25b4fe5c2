# A made-up class at work: the answers of the demo, told one after the other as they would
# come from 84 screens: some late, some twice, some changed, some left out.

# When each of them is told: `time` in seconds from the start, and the statement. Of the
# students: each begins a little later and has a pace; two are long at one question; three
# are without a network and tell all of theirs at the end, at once.
class_events <- function(sitting, seconds, seed = 11) {
  base <- activity_base(sitting)
  with_seed(seed, {
    people <- sitting$students$student[was_present(sitting)]
    begin <- stats::runif(length(people), 0, 0.15 * seconds)
    pace <- exp(stats::rnorm(length(people), 0, 0.25))
    slow <- sample(length(people), 2)
    offline <- sample(setdiff(seq_along(people), slow), 3)
    events <- lapply(seq_along(people), function(i) {
      one <- events_of_student(sitting, base, people[i], begin[i], pace[i], seconds)
      if (i %in% slow) one <- with_long_stop(one, seconds)
      if (i %in% offline) one$time[] <- 0.96 * seconds + i / 1000
      one
    })
    with_second_thoughts(do.call(rbind, events), seconds)
  })
}

# A row an event; `statement` is a list.
events_of_student <- function(sitting, base, student, begin, pace, seconds) {
  row <- match(student, sitting$students$student)
  answers <- cell_answers(sitting)[row, ]
  activities <- activities_of(sitting, base)
  there <- which(!is.na(answers))
  m <- length(answers)
  spent <- 0.75 * seconds / m * pace * stats::rlnorm(m, 0, 0.5)
  at <- begin + cumsum(spent)
  name <- sitting$students$name[row]
  told <- lapply(there, function(j) {
    answer_statement(
      student, name, activities[[j]], base,
      response = answers[[j]], timestamp = NULL, id = drawn_uuid()
    )
  })
  end <- answer_statement(
    student, name, list(objectType = "Activity", id = base), base,
    id = drawn_uuid()
  )
  end$verb <- verb_named("completed")
  end$context <- NULL
  events <- data.frame(time = c(at[there], max(at) + 1))
  events$statement <- c(told, list(end))
  events[events$time <= seconds, ]
}

# From the seed, so that the same class comes every time.
drawn_uuid <- function() uuid_of(paste(sample.int(1e9, 3), collapse = "-"))

with_long_stop <- function(events, seconds) {
  half <- nrow(events) %/% 2
  later <- seq_len(nrow(events)) > half
  events$time[later] <- events$time[later] + 0.4 * seconds
  events[events$time <= seconds, ]
}

# One in 30 is told twice (the network), one in 30 changed a little later.
with_second_thoughts <- function(events, seconds) {
  n <- nrow(events)
  twice <- events[sample(n, n %/% 30), ]
  twice$time <- twice$time + 0.5
  changed <- events[sample(n, n %/% 30), ]
  changed$time <- pmin(seconds, changed$time + 0.02 * seconds)
  changed$statement <- lapply(changed$statement, function(one) {
    one$id <- drawn_uuid()
    is_choice <- identical(one$object$definition$interactionType, "choice")
    if (is_choice) one$result$response <- one_other(one)
    one
  })
  all <- rbind(events, twice, changed)
  all[order(all$time), ]
}

one_other <- function(statement) {
  ids <- vapply(statement$object$definition$choices, `[[`, "", "id")
  sample(c(ids, statement$result$response), 1)
}
