# All that a page about a whole test shows, reckoned once.

# ---- for the teacher -----------------------------------------------------------------

# Above this many students a page is no place for each one's answers.
most_in_page <- 400
most_views <- 12

# The whole, and where there are a few sections each of them alone, by its name.
sections_shown <- function(sitting, is_class) {
  present <- was_present(sitting)
  sections <- sort(unique(sitting$students$section[present]), method = "radix")
  whole <- list(sitting)
  names(whole) <- if (length(sections) > 1) {
    say("view-report.all_sections")
  } else {
    say("view-report.all")
  }
  if (!is_class || length(sections) < 2 || length(sections) > most_views) {
    return(whole)
  }
  alone <- lapply(stats::setNames(nm = sections), function(section) {
    one <- with_students(sitting, which(sitting$students$section %in% section))
    one$view <- section
    one
  })
  c(whole, alone)
}

# groups: of these students, made before; plan: an earlier one.
view_report <- function(sitting, is_class, plan = NULL, groups = NULL) {
  sitting$coded <- coded_cells(sitting)
  tally <- tally_responses(sitting, products = TRUE)
  standards <- summarise_standards(sitting)
  by <- if (is.null(sitting$view)) section_to_compare(sitting)
  held <- length(sitting$coded) > 0
  figures <- c(
    figures_of_all(sitting, tally, standards),
    list(
      by_section = if (!is.null(by)) summarise_standards(sitting, by),
      own_standards = if (nrow(standards)) {
        summarise_standards(sitting, "student")
      },
      misconceptions = if (held) summarise_misconceptions(sitting),
      held = if (held && is_class) summarise_misconceptions(sitting, "student"),
      whole = answers_at(tally, told_whole(tally$about$items)),
      groups = groups,
      is_class = is_class
    )
  )
  figures$plan <- if (can_be_grouped(sitting)) plan_of_report(sitting, figures, plan)
  figures
}

# The plan, by the questions where none names a standard.
plan_of_report <- function(sitting, figures, earlier) {
  topical <- with_topics(sitting, titled = FALSE)
  if (!names_standards(sitting)) figures$standards <- summarise_standards(topical)
  # Where nobody is named, no groups are shown.
  plan_from(topical, figures, earlier = earlier, grouped = figures$is_class)
}

# What every page about the whole test shows, whoever it is for.
figures_of_all <- function(sitting, tally, standards) {
  about <- list(
    test = group_tests(sitting, tally, 0, 1),
    decisions = summarise_decisions(tally),
    students = summarise_students(sitting),
    standards = standards
  )
  c(judged_questions(tally), about)
}

# By need, where somebody has points.
can_be_grouped <- function(sitting) {
  any(was_present(sitting)) && has_package(package_of_groups)
}

# What an index says of a test, from what its report has reckoned.
headline_of <- function(figures) {
  list(
    n = figures$test$n,
    absent = figures$test$absent,
    mean_share = figures$test$mean_share,
    alpha = figures$test$alpha,
    settle = nrow(to_settle(figures$look))
  )
}

# ---- for who looks at several classes ------------------------------------------------

# Groups side by side, no student: what view_report() has, with the test by each of the
# columns, the standards by the finest of them, and what is still open.
view_classes <- function(sitting, by) {
  tally <- tally_responses(sitting, products = TRUE)
  standards <- summarise_standards(sitting)
  finest <- utils::tail(intersect(usual_columns, by), 1)
  told <- answers_at(tally, told_whole(tally$about$items))
  c(
    figures_of_all(sitting, tally, standards),
    list(
      by = lapply(stats::setNames(nm = by), function(column) {
        summarise_test(sitting, column)
      }),
      finest = finest,
      standing = if (length(finest) && nrow(standards)) {
        summarise_standards(sitting, finest)
      },
      is_class = FALSE,
      waiting = sum(cell_state_names[cell_states(sitting)] == "pending"),
      whole = frequent_answers(told, tally$about$items),
      mistakes = count_errors(sitting$findings)
    )
  )
}

# What leaves the class: groups of fewer than 5 are withheld.
least_shared_group <- 5

for_sharing <- function(sitting) {
  sitting$settings$smallest_group <- max(
    least_shared_group,
    sitting$settings$smallest_group
  )
  sitting$settings <- remember_others(
    sitting$settings,
    sitting$students,
    sitting$students$student
  )
  check_part_is_large(sitting$settings)
  check_enough_to_share(sitting)
  without_narrowing(sitting)
}

# With nobody there, there is nobody to be told apart.
check_enough_to_share <- function(sitting) {
  n <- sum(was_present(sitting))
  least <- sitting$settings$smallest_group
  if (n == 0 || n >= least) return(invisible())
  abort_pregunta(
    "call",
    say("view-report.too_few_to_share", n = n, least = least),
    NULL,
    say("view-report.write_with_names")
  )
}

# Without names not by which students it was narrowed either.
without_narrowing <- function(sitting) {
  says_who <- grepl(
    "(^|, )(student|name|email|guardian_email) ",
    sitting$narrowed
  )
  sitting$narrowed[says_who] <- say("view-report.some_of_the_students")
  sitting
}

most_subgroups <- 8

# Those of the usual columns that tell students apart, then others of a few groups.
columns_to_compare <- function(sitting, by) {
  students <- sitting$students
  if (!is.null(by)) {
    for (column in by) student_groups(sitting, column)
    return(by)
  }
  different <- vapply(students, function(column) {
    length(unique(column[!is.na(column)]))
  }, 0L)
  usual <- intersect(usual_columns, names(students)[different > 1])
  few <- names(students)[different > 1 & different <= most_subgroups]
  c(usual, setdiff(few, c(usual_columns, own_columns)))
}

# Whole answers of fewer students are not for the projector, nor for other eyes.
least_projected <- 3

# What only one or two students wrote is nobody else's to read.
is_rare <- function(table, type) {
  is_answered(type, "written") & is_wrong(table) & table$count < least_projected
}

shared_options <- function(figures) {
  options <- figures$options
  figures$options <- options[!is_rare(options, options$type), ]
  figures
}

frequent_answers <- function(whole, items) {
  if (is.null(whole)) return(NULL)
  type <- items$type[match(whole$item, items$item)]
  whole[!is_rare(whole, type), ]
}

# Groups by standards: shares and the step of their level (from 0).
standing_grid <- function(figures, settings) {
  standing <- as.data.frame(figures$standing)
  tree <- attr(figures$standards, "tree")
  codes <- figures$standards$code
  groups <- unique(standing[[figures$finest]])
  group <- match(standing[[figures$finest]], groups)
  shares <- matrix(NA_real_, length(groups), length(codes))
  shares[cbind(group, match(standing$code, codes))] <- standing$share
  step_of <- function(k) {
    own <- levels_for(codes[k], settings, tree)
    match(level_of(shares[, k], settings, own), names(own)) - 1
  }
  steps <- vapply(
    seq_along(codes),
    step_of,
    numeric(length(groups))
  )
  list(
    groups = groups,
    codes = codes,
    shares = shares,
    steps = matrix(steps, length(groups))
  )
}
