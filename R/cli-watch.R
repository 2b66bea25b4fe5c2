# The class at work, in a terminal: drawn again in place as answers come. Without a
# terminal it is one table.

run_watch <- function(call) {
  live <- open_live(call$folder)
  people <- !call$`no-names`
  look_live(live)
  if (!is.null(live$trouble) && is.null(live$items)) {
    abort_pregunta("input", live$trouble$said)
  }
  drawn <- isatty(stdout()) && call$format == "text" && is.null(call$out) &&
    sink.number() == 0
  if (!drawn) {
    view <- view_live(live, people)
    table <- if (is.null(view$table)) empty_live() else view$table
    return(put_out(call, table, function(table) show_live(view), show_live(view)))
  }
  watch_on(live, people)
  0L
}

empty_live <- function() {
  cells <- list(share = matrix(0, 0, 0), there = matrix(NA, 0, 0))
  cbind(live_figures(cells, character(), 0), fresh = integer(), at = integer())
}

# Once a second; what did not change is drawn again only for the times in it.
watch_on <- function(live, people) {
  on.exit(cat("\033[?25h\n"))
  repeat {
    draw_live(live, people)
    Sys.sleep(1)
  }
}

# In place, from the first line of the window.
draw_live <- function(live, people) {
  look_live(live)
  lines <- c(
    show_live(view_live(live, people), terminal_lines() - 2),
    paint(say("cli-watch.ends_by", time = format(Sys.time(), "%H:%M:%S")), "faint")
  )
  draw_in_place(lines, first = is.null(live$drawn))
  live$drawn <- TRUE
}

terminal_lines <- function() {
  said <- suppressWarnings(as.integer(Sys.getenv("LINES")))
  if (!is.na(said)) return(said)
  size <- tryCatch(
    system2("stty", "size", stdout = TRUE, stderr = FALSE, stdin = "/dev/tty"),
    error = function(e) "",
    warning = function(w) ""
  )
  rows <- suppressWarnings(as.integer(sub(" .*", "", size[1])))
  if (is.na(rows) || rows < 10) 40L else rows
}

# most: so many lines; questions that do not fit are told.
show_live <- function(view, most = Inf) {
  head <- c(
    if (!is.null(view$title)) bold_line(view$title),
    wrap_lines(view$head),
    if (!is.null(view$trouble)) paint(wrap_lines(view$trouble), "ochre")
  )
  if (is.null(view$table)) return(head)
  below <- c("", wrap_lines(c(
    say_live_signs(view$table),
    say_stuck(utils::head(view$stuck, 5)),
    if (nrow(view$stuck) > 5) say("cli-watch.and_more", n = nrow(view$stuck) - 5)
  )))
  room <- most - length(head) - length(below) - 3
  table <- view$table
  hidden <- max(0, nrow(table) - max(room, 3))
  c(
    head, "", live_table(utils::head(table, nrow(table) - hidden)),
    if (hidden) say("cli-watch.more_questions", n = hidden),
    below,
    paint(wrap_lines(say("legends.live")), "faint")
  )
}

live_table <- function(table) {
  format_table(
    text_column("item", table$item),
    text_column("so_far", live_bars(table)),
    text_column("right", table$right, "right"),
    text_column("partly", table$partly, "right"),
    text_column("wrong", table$wrong, "right"),
    if (any(table$waiting > 0)) text_column("waiting_short", table$waiting, "right"),
    text_column("not_yet", table$not_yet, "right"),
    text_column("fresh", ifelse(table$fresh > 0, paste0("+", table$fresh), ""), "right"),
    text_column("here_now", table$at, "right"),
    share_column("share_so_far", table$share),
    interval_column("interval", table$share_low, table$share_high)
  )
}

# Right, partly, wrong, waiting, and who is not there yet, as one bar.
live_bars <- function(table, cells = 30) {
  marks <- c("\u2588", "\u2593", "\u2591", "?", "\u00b7")
  counts <- as.matrix(table[c("right", "partly", "wrong", "waiting", "not_yet")])
  apply(counts, 1, function(count) {
    if (!sum(count)) return(strrep("\u00b7", cells))
    ends <- round_half_up(cells * cumsum(count) / sum(count))
    paste(strrep(marks, diff(c(0, ends))), collapse = "")
  })
}
