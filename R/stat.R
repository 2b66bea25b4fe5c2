# The fixed set of reasons why a figure is not there.

reasons <- c(
  few = "too few students",
  all_right = "everyone got it right",
  none_right = "nobody got it right",
  same = "everyone earned the same points",
  no_rest = "no spread in the rest of the test",
  no_spread = "no spread in the totals",
  few_items = "fewer than 2 items",
  dropped = "dropped from the test",
  small = "group too small to show",
  zero_one = "only for items of 0 or 1 point",
  no_true = "reliability is not above 0",
  few_group = "fewer than 20 students in a group"
)
