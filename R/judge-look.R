# What to look at first: the verdicts that ask for something to be done.

asking_verdicts <- c("check_key", "drop_or_rewrite", "look")

# A row an item to look at, the most pressing first: item, rule, what, do.
look_first <- function(items, options) look_of(review_figures(items, options))

look_of <- function(review) {
  look <- as.data.frame(review)[
    review$verdict %in% asking_verdicts & review$rule != "dropped",
    c("item", "rule", "what", "do", "verdict")
  ]
  rownames(look) <- NULL
  look
}
