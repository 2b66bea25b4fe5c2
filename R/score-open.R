# Free writing: points come by hand, until then the cell is pending.
type_open <- function() {
  new_item_type(
    "open",
    "marked",
    paper = list(hint = "", lines = rep(strrep("_", 86), 4)),
    qti = list(interaction = "extendedTextInteraction"),
    xapi = c("long-fill-in", "performance")
  )
}
