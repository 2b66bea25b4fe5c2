# Two sittings side by side: the same students, the standards that both ask
# about, and the items that were used in both.

# The whole of what both ask about stands first, under this code.
whole_code <- "(all)"

# As it is read.
shown_codes <- function(codes) {
  replace(codes, which(codes == whole_code), say("stat-pair.whole_mark"))
}

# people: who was in either, as they are listed last; tree: the standards that
# both ask about, with the items of each; earned, open: students by standards.
pair_sittings <- function(before, after, renamed = NULL) {
  check_is_sitting(before)
  check_is_sitting(after)
  before <- with_renamed_codes(before, renamed)
  shared <- shared_standards(before, after)
  people <- people_of_both(before, after)
  list(
    settings = after$settings,
    standards = shared$standards,
    people = people,
    tree = shared$tree,
    items = shared[c("before", "after")],
    before = scores_of_pair(before, shared$before, people),
    after = scores_of_pair(after, shared$after, people)
  )
}

# Old codes as they are called now: in the items, the list and the cuts.
with_renamed_codes <- function(sitting, renamed) {
  if (!length(renamed)) return(sitting)
  now <- function(codes) {
    at <- match(codes, names(renamed))
    ifelse(
      is.na(at),
      codes,
      unlist(renamed, use.names = FALSE)[at]
    )
  }
  sitting$items$standards <- vapply(
    split_codes(sitting$items$standards),
    function(codes) {
      if (length(codes)) {
        paste(unique(now(codes)), collapse = ";")
      } else {
        NA_character_
      }
    },
    ""
  )
  standards <- sitting$standards
  standards$code <- now(standards$code)
  standards$parent <- now(standards$parent)
  sitting$standards <- standards[!duplicated(standards$code), , drop = FALSE]
  if (length(sitting$settings$cuts)) {
    names(sitting$settings$cuts) <- now(names(sitting$settings$cuts))
  }
  sitting
}

# Only items count that ask about what the other sitting asks about too: else a
# parent would be other parts the second time.
shared_standards <- function(before, after) {
  standards <- rbind_standards(after$standards, before$standards)
  closed <- lapply(list(before = before, after = after), function(sitting) {
    dropped <- sitting$items$item %in% dropped_items(sitting)
    own <- split_codes(ifelse(dropped, NA, sitting$items$standards))
    list(
      own = own,
      all = lapply(own, function(codes) {
        with_ancestors(codes, standards)
      })
    )
  })
  if (!length(unlist(closed$before$own)) && !length(unlist(closed$after$own))) {
    all_of <- function(items) list(seq_len(nrow(items)))
    return(list(
      standards = standards,
      tree = whole_tree(before, after),
      before = all_of(before$items),
      after = all_of(after$items)
    ))
  }
  items <- Map(
    function(mine, other) items_asked_by_both(mine, other),
    closed,
    rev(closed)
  )
  codes <- intersect(
    unlist(closed$before$all[items$before]),
    unlist(closed$after$all[items$after])
  )
  codes <- intersect(tree_order(standards), codes)
  if (!length(codes)) stop_nothing_shared(closed)
  under <- Map(function(mine, kept) {
    c(
      list(kept),
      lapply(codes, function(code) {
        kept[
          vapply(
            mine$all[kept],
            function(all) code %in% all,
            TRUE
          )
        ]
      })
    )
  }, closed, items)
  at <- match(codes, standards$code)
  tree <- data.frame(
    code = c(whole_code, codes),
    title = c(say("stat-pair.all_of_them"), standards$title[at]),
    emphasis = c(NA, standards$emphasis[at]),
    items_before = lengths(under$before),
    items_after = lengths(under$after)
  )
  tree$leaf <- !tree$code %in% c(
    whole_code,
    standards$parent[standards$code %in% codes]
  )
  list(
    standards = standards,
    tree = tree,
    before = under$before,
    after = under$after
  )
}

# An item is asked about by both when the other has an item on one of its
# standards, on one above it, or on one below it.
items_asked_by_both <- function(mine, other) {
  own <- unique(unlist(other$own))
  all <- unique(unlist(other$all))
  which(
    mapply(
      function(codes, above) any(above %in% own) || any(codes %in% all),
      mine$own,
      mine$all
    )
  )
}

rbind_standards <- function(first, second) {
  columns <- c("code", "parent", "title", "emphasis")
  both <- rbind(first[columns], second[columns])
  both <- break_loops(both[!duplicated(both$code), , drop = FALSE])
  both$parent[!both$parent %in% both$code] <- NA
  rownames(both) <- NULL
  both
}

whole_tree <- function(before, after) {
  data.frame(
    code = whole_code,
    title = say("stat-pair.the_whole_test"),
    emphasis = NA_character_,
    items_before = nrow(before$items),
    items_after = nrow(after$items),
    leaf = TRUE
  )
}

stop_nothing_shared <- function(closed) {
  asked <- function(one) some_of(sort(unique(unlist(one$own))), 8)
  abort_pregunta(
    "call",
    say("stat-pair.the_two_sittings_ask"),
    say(
      "stat-pair.before_after",
      before = asked(closed$before),
      after = asked(closed$after)
    ),
    say("stat-pair.if_codes_were_renamed")
  )
}

# As the later sitting lists them; who is only in the earlier one follows.
people_of_both <- function(before, after) {
  columns <- union(names(after$students), names(before$students))
  columns <- setdiff(columns, c("seconds", "submitted", "late"))
  fill <- function(table) {
    for (column in setdiff(columns, names(table))) {
      table[[column]] <- rep(NA_character_, nrow(table))
    }
    table[columns]
  }
  gone <- !before$students$student %in% after$students$student
  people <- rbind(
    fill(after$students),
    fill(before$students[gone, , drop = FALSE])
  )
  at <- match(people$student, before$students$student)
  # What only the earlier list knows.
  for (column in setdiff(columns, c("student", "status"))) {
    unknown <- is.na(people[[column]]) & column %in% names(before$students)
    people[[column]][unknown] <- before$students[[column]][at[unknown]]
  }
  people$section_before <- before$students$section[at]
  people$status_before <- before$students$status[at]
  people$status_after <- after$students$status[
    match(people$student, after$students$student)
  ]
  people$status <- NULL
  rownames(people) <- NULL
  people
}

scores_of_pair <- function(sitting, items, people) {
  at <- match(people$student, sitting$students$student[was_present(sitting)])
  at <- which(was_present(sitting))[at]
  scores <- lapply(items, function(j) {
    row_scores(sitting$codes, sitting$cells, j)
  })
  pick <- function(field) {
    matrix(
      unlist(lapply(scores, function(score) score[[field]][at])),
      length(at)
    )
  }
  points <- cell_points(sitting)[was_present(sitting), , drop = FALSE]
  list(
    earned = pick("earned"),
    open = pick("open"),
    share = pick("share"),
    alpha = vapply(items, function(j) {
      alpha_of_points(points[, j, drop = FALSE])
    }, 0)
  )
}

# Alpha over the students who have points on all of the items.
alpha_of_points <- function(points) {
  points <- points[, colSums(!is.na(points)) > 0, drop = FALSE]
  points <- points[rowSums(is.na(points)) == 0, , drop = FALSE]
  if (nrow(points) < 2) return(NA_real_)
  squares <- function(x) sum((x - mean(x))^2)
  alpha_of(
    ncol(points),
    sum(apply(points, 2, squares)),
    squares(rowSums(points))
  )
}

# ---- items used in both --------------------------------------------------------

# Each item of the later sitting that was in the earlier one: by the column
# `used_before`, else by wording, type and options, else by name and key.
paired_items <- function(before, after) {
  said <- after$items[["used_before"]]
  at <- if (is.null(said)) {
    rep(NA_integer_, nrow(after$items))
  } else {
    match(said, before$items$item)
  }
  alike <- match(
    item_fingerprints(after),
    item_fingerprints(before),
    incomparables = NA
  )
  at <- ifelse(
    is.na(at) & is.na(if (is.null(said)) NA else said),
    alike,
    at
  )
  found <- which(!is.na(at))
  data.frame(before = at[found], after = found)
}

# What makes an item the same: wording, type and options; without a wording its
# name and key.
item_fingerprints <- function(sitting) {
  items <- sitting$items
  vapply(seq_len(nrow(items)), function(j) {
    options <- sitting$options[
      sitting$options$item == items$item[j], ,
      drop = FALSE
    ]
    item_fingerprint(
      items[j, ],
      options,
      paste(items$key[j], "name")
    )
  }, "")
}

# test: what a name without a wording belongs to.
item_fingerprint <- function(item, options, test) {
  asked <- if (is.na(item$prompt)) {
    paste(test, item$item)
  } else {
    plain_text(item$prompt)
  }
  text <- plain_text(or_blank(options$text))
  paste(
    c(item$type, asked, paste(options$option, text)),
    collapse = "\r"
  )
}
