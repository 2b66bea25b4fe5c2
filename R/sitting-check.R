#' What was read, and what does not add up
#'
#' @param sitting A [sitting()].
#' @return A data frame of class `pregunta_findings`, a row a finding, the
#'   gravest first: `severity` (`error`: something could not be counted;
#'   `warning`: probably a mistake; `note`: done for you, or good to know),
#'   `file`, `line` (of the file, `NA` where it is about more than one),
#'   `column`, `value`, `finding`, `action`. No rows when all adds up.
#' @export
#' @examples
#' check_sitting(read_sitting(demo_path()))
check_sitting <- function(sitting) {
  findings <- sitting$findings
  pick <- function(field, type) vapply(findings, function(f) f[[field]], type)
  table <- data.frame(
    severity = pick("severity", ""), file = pick("file", ""), line = pick("line", 0L),
    column = pick("column", ""), value = pick("value", ""),
    finding = pick("finding", ""), action = pick("action", "")
  )
  table <- table[order(match(table$severity, c("error", "warning", "note"))), ]
  rownames(table) <- NULL
  structure(table, class = c("pregunta_findings", "data.frame"), about = describe_sitting(sitting))
}

finding <- function(severity, file, column, value, finding, action, line = NA_integer_) {
  list(
    severity = severity, file = file, line = as.integer(line), column = as.character(column),
    value = as.character(value), finding = finding, action = action
  )
}

# A few lines of what the sitting holds.
describe_sitting <- function(sitting) {
  status <- sitting$students$status
  waiting <- sum(status == "waiting")
  kinds <- table(factor(sitting$items$type, names(score_types())))
  kinds <- kinds[kinds > 0]
  c(
    paste0(sitting$settings$title, if (!is.na(sitting$settings$date)) paste0(", ", sitting$settings$date)),
    paste0(count_of(nrow(sitting$items), "item"), " for ", format_plain(sum(sitting$items$points)),
      " points: ", paste(kinds, names(kinds), collapse = ", ")),
    paste0(count_of(length(status), "student"), ": ", sum(status != "absent"), " sat it, ",
      sum(status == "absent"), " absent",
      if (waiting) paste0(", ", waiting, " with answers that wait for a mark")),
    if (nrow(sitting$standards)) paste0(count_of(nrow(sitting$standards), "standard"), ", ",
      say_untagged(sum(is.na(sitting$items$standards))))
  )
}

say_untagged <- function(n) {
  if (n == 0) "every item has one" else paste(count_of(n, "item"), "without one")
}

check_codes_known <- function(items, options, standards, misconceptions) {
  findings <- list()
  with_code <- lengths(split_codes(items$standards)) > 0
  if (any(with_code)) {
    findings <- lapply(items$item[!with_code], function(item) {
      finding("warning", origin_of(items), "standards", item, "is an item without a standard",
        "It counts in the test but in no standard. Add a code.")
    })
  }
  if (nrow(misconceptions)) {
    unknown <- setdiff(options$misconception[!is.na(options$misconception)], misconceptions$code)
    findings <- c(findings, lapply(unknown, function(code) {
      finding("warning", origin_of(options), "misconception", code, "is a misconception that is not listed",
        did_you_mean(code, misconceptions$code), line = line_of(options)[match(code, options$misconception)])
    }))
  }
  used <- unlist(split_codes(items$standards))
  used <- unique(c(used, unlist(lapply(used, ancestors, standards = standards))))
  idle <- setdiff(standards$code, used)
  if (!length(idle)) return(findings)
  c(findings, list(finding(if (length(used)) "note" else "warning", origin_of(standards), "code", some_of(idle),
    if (length(idle) == 1) "is a standard that no item asks about" else "are standards that no item asks about",
    if (length(used)) "Nothing to do, if that was meant." else "Give items.csv a column standards with their codes.")))
}

check_keys_there <- function(items) {
  keyed <- !vapply(score_types()[items$type], function(type) is.null(type$read_key), TRUE)
  lapply(which(keyed & is.na(items$key)), function(row) {
    finding("error", origin_of(items), "key", items$item[row], "is an item without a key; its answers are not counted",
      paste0("Fill in its key, such as ", score_types()[[items$type[row]]]$example, "."), line = line_of(items)[row])
  })
}

check_keys_offered <- function(items, options) {
  findings <- list()
  offered_some <- items$type %in% c("choice", "multiple") & items$item %in% options$item & !is.na(items$key)
  for (row in which(offered_some)) {
    type <- score_types()[[items$type[row]]]
    right <- type$right_parts(type$read_key(items$key[row]))
    offered <- options$option[options$item == items$item[row]]
    for (key in setdiff(right, offered)) {
      findings <- c(findings, list(finding("error", origin_of(items), "key", key,
        paste("is the key of", items$item[row], "but not one of its options"),
        paste0("Its options are: ", some_of(offered), "."), line = line_of(items)[row])))
    }
  }
  findings
}

# Answers that are no option, no number, or no possible mark.
check_answers <- function(coded, item, options, rows) {
  offered <- options$option[options$item == item$item]
  problem <- coded$problem
  severity <- ifelse(is.na(problem), "warning", "error")
  type <- score_types()[[item$type]]
  if (item$type %in% c("choice", "multiple") && length(offered)) {
    chosen <- type$parts(type$normalise(coded$text, offered))
    strange <- !vapply(chosen, function(part) all(part %in% offered), TRUE) &
      !is_blank(coded$text) & !coded$text %in% blank_words
    problem[strange] <- paste0("is no option of ", item$item, " (", some_of(offered, 8), "); it earns nothing")
  }
  if (item$type == "number") {
    strange <- is.na(read_number(coded$text)) & !is_blank(coded$text) & !coded$text %in% blank_words
    problem[strange] <- "is no number; it earns nothing"
  }
  lapply(which(!is.na(problem)), function(k) {
    at <- which(coded$at == k)
    finding(severity[k], rows$origin, item$item, coded$text[k],
      paste0(problem[k], if (length(at) > 1) paste0(" (", length(at), " times)")),
      if (severity[k] == "error") "It is not counted until it is put right in the responses."
      else "If it was misread, put it right in the responses.",
      line = rows$line[at[1]])
  })
}
