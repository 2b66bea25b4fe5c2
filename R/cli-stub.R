run_mark <- run_explanations <- run_time <- run_attempts <- run_bank <- function(call) 0L
