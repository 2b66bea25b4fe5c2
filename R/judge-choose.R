#' Which questions to keep?
#'
#' @inheritParams what_if
#' @param missed How many of the questions with the fewest points earned.
#' @param sound Whether to take all that are sound: enough students had it, it
#'   tells strong from weak (discrimination at least `good`), and nothing stands
#'   against it among what to look at first.
#' @return Names of items in printed order.
#' @export
#' @examples
#' choose_items(read_sitting(demo_path()), sound = TRUE)
choose_items <- function(sitting, missed = 0, sound = FALSE) {
  items <- summarise_items(sitting)
  thresholds <- sitting$settings$thresholds
  hardest <- utils::head(order(items$difficulty, na.last = NA), missed)
  good <- if (sound) {
    look <- look_first(items, summarise_options(sitting, slips = FALSE))
    which(items$n >= thresholds$few_students & items$discrimination >= thresholds$good & !items$item %in% look$item)
  }
  items$item[sort(union(hardest, good))]
}
