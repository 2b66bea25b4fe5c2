# The cell is points already.
score_mark <- list(
  example = "none",
  scorings = "all",
  read_key = NULL,
  normalise = function(x, offered) x,
  parts = function(x) as.list(x),
  right_parts = NULL
)
