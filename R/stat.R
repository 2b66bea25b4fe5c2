# The fixed set of reasons why a figure is not there; in words they are the section
# `reasons`.

reason_codes <- c(
  "few_students", "all_right", "none_right", "same_points", "no_rest",
  "no_spread", "few_items", "few_complete", "dropped", "small_group",
  "no_reliability", "few_in_group", "many_values", "not_linked", "absent",
  "no_place", "no_shared_items", "few_shared_items", "other_scale",
  "reversed", "markers_differ", "no_order"
)

# Below these nothing is said about a test that its figures would have to bear.
least_students <- 15
least_items <- 5

bears_claims <- function(n, items = least_items) {
  n >= least_students & items >= least_items
}

say_reason <- function(reason) words_for(reason, "reasons")
