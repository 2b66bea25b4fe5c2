#' Which questions have become easier or harder than the rest?
#'
#' A question that was asked again, in a test with others that were: has it moved against
#' them? It may have become known, been taught to, or be read otherwise now.
#'
#' @inheritParams growth
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
    became = data.table::fcase(
      is.na(anchors$drift_p), NA_character_,
      anchors$drift_p >= 0.05, "none_seen",
      anchors$drift > 0, "harder",
      default = "easier"
    ),
    anchor = anchors$anchor
  )
}
