#' Which questions to keep?
#'
#' @inheritParams what_if
#' @param missed How many of the questions with the fewest points earned.
#' @param sound Whether to take all that are sound after [review_items()] and
#'   tell strong from weak (discrimination at least `good`).
#' @return Names of items in printed order.
#' @export
#' @examples
#' choose_items(read_sitting(demo_path()), sound = TRUE)
choose_items <- function(sitting, missed = 0, sound = FALSE) {
  items <- summarise_items(sitting)
  thresholds <- sitting$settings$thresholds
  hardest <- utils::head(order(items$difficulty, na.last = NA), missed)
  good <- if (sound) {
    review <- review_items(sitting)
    which(
      items$item %in% review$item[review$verdict == "sound"] &
        items$discrimination >= thresholds$good
    )
  }
  items$item[sort(union(hardest, good))]
}
