# Free writing: points come by hand, until then the cell is pending.
type_open <- function() {
  line <- strrep("_", 86)
  new_item_type(
    "open",
    "marked",
    paper = list(hint = "", lines = rep(line, 4)),
    qti = list(interaction = "extendedTextInteraction"),
    xapi = c("long-fill-in", "performance")
  )
}
