# The cell is points already.
type_mark <- function() {
  new_item_type(
    "mark",
    "marked",
    cell = "points",
    # A step of the scale, yes or no, or the whole points.
    allowed = function(item, offered, scale) {
      if (length(scale)) return(names(scale))
      if (item$points == 1) c("yes", "no") else whole_points(item$points)
    },
    qti = list(interaction = NULL, cardinality = "none")
  )
}

# All whole points that an item can give, where they are few enough to choose from.
whole_points <- function(most) {
  if (most == round(most) && most <= 30) as.character(0:most)
}
