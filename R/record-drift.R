#' Which questions have become easier or harder than the rest?
#'
#' A question that was asked again, in a test with others that were: has it moved against
#' them? It may have become known, been taught to, or be read otherwise now.
#'
#' @inheritParams growth
#' @param bank The path of a bank of questions; see [keep_items()].
#' @return A data frame, a row a question of a later sitting that an earlier one on the
#'   same scale asked: `sitting`, `date`, `item`, `prompt`; `sitting_before`,
#'   `item_before`: where it was last asked; `against`: how many other questions it is set
#'   against; `drift`: by how many logits it has become harder than these (easier when
#'   below 0), with its standard error `drift_se`; `drift_p`: the chance of that much or
#'   more without any, corrected for the number of questions of the sitting (Holm 1979);
#'   `became`: `harder` or `easier` where that is below .05, else `none_seen`: in a
#'   sitting without drift anything is called in at most 1 of 20; `anchor`: `kept`, or why
#'   it is not used to set the sitting on the scale: `drifted`, `other_rule`, `not_placed`
#'   (the last two have no drift).
#' @details Places of the partial credit model (see [summarise_scale()]) on the scale of
#'   the first sitting; of several earlier ones the mean. [compare_sittings()] says how
#'   tests are linked. The error is that of the places in samples of students: with
#'   thousands of students every trifle is beyond it, so look at the size: half a logit is
#'   about 12 points of 100 for a question of middling difficulty.
#' @section Errors: As [growth()].
#' @export
#' @examples
#' record <- open_record(tempfile(fileext = ".sqlite"))
#' add_sitting(record, read_sitting(demo_path()), "tides")
#' add_sitting(record, read_sitting(demo_path("follow-up")), "tides again")
#' item_drift(record)[c("item", "item_before", "drift", "became")]
#' close_record(record)
item_drift <- function(record, from = NULL, to = NULL, kind = NULL, scale = NULL) {
  sittings <- sittings_between(record, from, to, kind)
  nobody <- data.frame(id = integer())
  link <- link_of_record(
    record, sittings, nobody, character(), NULL, NULL, scale
  )
  anchors <- as.data.frame(data.table::rbindlist(link$anchors))
  table <- drift_rows(record, anchors, sittings)
  new_summary(table, "drift", settings_recorded(sittings), NULL)
}

#' @rdname item_drift
#' @export
bank_drift <- function(bank) {
  require_bank(bank)
  pool <- bank_pool(bank)
  places <- with_bank(bank, places_in_bank)
  sets <- sets_of_bank(places, pool)
  dates <- vapply(sets, function(set) or_blank(set$date), "")
  new_summary(
    drift_of_sets(sets[order(dates)], pool$items), "drift", default_settings(), NULL
  )
}

# Each test's questions against those of the tests before it, on the scale of the first
# that it is linked to.
drift_of_sets <- function(sets, items) {
  none <- data.frame(
    sitting = character(), date = character(), item = character(), prompt = character(),
    sitting_before = character(), item_before = character(), against = integer(),
    drift = numeric(), drift_se = numeric(), drift_p = numeric(), became = character(),
    anchor = character()
  )
  left <- seq_along(sets)
  pieces <- list()
  while (length(left) > 1) {
    shift <- shifts_of_sets(sets[left])
    linked <- left[!is.na(shift)]
    shift <- shift[!is.na(shift)]
    for (t in seq_along(linked)[-1]) {
      pieces <- c(pieces, list(drift_of_set(sets[linked[seq_len(t)]], shift[seq_len(t)])))
    }
    left <- setdiff(left, linked)
  }
  table <- do.call(rbind, c(list(none), pieces))
  table$prompt <- items$prompt[match(table$item, items$item)]
  table
}

# Of the last of some sets.
drift_of_set <- function(sets, shift) {
  last <- length(sets)
  own <- sets[[last]]
  earlier <- lapply(seq_len(last - 1), function(s) {
    shared <- same_questions(sets[[s]]$items, own$items)
    data.frame(
      from = rep(s, nrow(shared)), number = shared$other, same = shared$same,
      place = sets[[s]]$places[shared$one] + shift[s], se = sets[[s]]$se[shared$one]
    )
  })
  earlier <- do.call(rbind, earlier)
  earlier <- earlier[earlier$same & !is.na(earlier$place), ]
  number <- sort(unique(earlier$number))
  mean_of <- function(x) as.vector(tapply(x, factor(earlier$number, number), mean))
  times <- tabulate(match(earlier$number, number), length(number))
  moved <- own$places[number] - mean_of(earlier$place)
  out <- robust_z(moved)$out
  kept <- !seq_along(moved) %in% out
  drift <- moved - mean(moved[kept])
  # The mean of those kept wavers as well.
  square <- own$se[number]^2 + mean_of(earlier$se^2) / times
  k <- sum(kept)
  se <- sqrt(ifelse(kept, square * (1 - 2 / k), square) + sum(square[kept]) / k^2)
  p <- stats::p.adjust(2 * stats::pnorm(-abs(drift) / se), "holm")
  before <- vapply(number, function(j) max(earlier$from[earlier$number == j]), 0)
  data.frame(
    sitting = rep(own$test, length(number)), date = rep(own$date, length(number)),
    item = own$items$item[number], prompt = NA_character_,
    sitting_before = vapply(before, function(s) sets[[s]]$test, ""),
    item_before = own$items$item[number], against = as.integer(k - kept),
    drift = drift, drift_se = se, drift_p = p, became = became_of(drift, p),
    anchor = ifelse(kept, "kept", "drifted")
  )
}

became_of <- function(drift, p) {
  data.table::fcase(
    is.na(p), NA_character_,
    p >= 0.05, "none_seen",
    drift > 0, "harder",
    default = "easier"
  )
}

drift_rows <- function(record, anchors, sittings) {
  if (!nrow(anchors)) anchors <- no_anchors()
  items <- ask_record(
    record,
    "SELECT sitting, place, item, prompt FROM pregunta_item ORDER BY sitting, place"
  )
  asked <- function(sitting, number, column) {
    at <- match(
      paste(sittings$id[sitting], number), paste(items$sitting, items$place)
    )
    items[[column]][at]
  }
  # Of several earlier sittings the last.
  anchors <- anchors[order(anchors$sitting, anchors$number, -anchors$from), ]
  anchors <- anchors[!duplicated(anchors[c("sitting", "number")]), ]
  used <- stats::ave(
    anchors$anchor %in% "kept", anchors$sitting, FUN = sum
  )
  data.frame(
    sitting = sittings$name[anchors$sitting],
    date = sittings$date[anchors$sitting],
    item = asked(anchors$sitting, anchors$number, "item"),
    prompt = asked(anchors$sitting, anchors$number, "prompt"),
    sitting_before = sittings$name[anchors$from],
    item_before = asked(anchors$from, anchors$number_from, "item"),
    against = as.integer(used - (anchors$anchor %in% "kept")),
    drift = anchors$drift,
    drift_se = anchors$drift_se,
    drift_p = anchors$drift_p,
    became = became_of(anchors$drift, anchors$drift_p),
    anchor = anchors$anchor
  )
}
