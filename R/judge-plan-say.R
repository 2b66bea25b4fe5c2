# The sentences of a plan.

say_plan_reason <- function(standards, settings) {
  if (!nrow(standards)) return(character())
  cut <- percent(settings$mastery_cut)
  paste0(
    standards$below,
    " of ",
    standards$n,
    " are below ",
    cut,
    ", the mean is ",
    percent(standards$share),
    ifelse(standards$emphasis %in% "priority", "; a priority standard", ""),
    ifelse(
      standards$items < thin_items,
      paste0(
        "; thin evidence, ", standards$items,
        ifelse(standards$items == 1, " item", " items")
      ),
      ""
    )
  )
}

# The strongest standards, and the items nearly everybody has.
say_well <- function(sitting, figures) {
  items <- figures$items
  standards <- as.data.frame(figures$standards)
  leaf <- standards[
    !standards$code %in% sitting$standards$parent & !is.na(standards$share),
  ]
  leaf <- leaf[order(-leaf$share), ]
  settings <- sitting$settings
  good <- leaf[leaf$share >= settings$mastery_cut - 1e-9, ]
  learnt <- items$item[
    items$difficulty >= settings$thresholds$easy & !is.na(items$difficulty)
  ]
  name <- function(rows) {
    paste0(
      rows$code, ifelse(is.na(rows$title), "", paste0(" (", rows$title, ")")), " with ",
      percent(rows$share)
    )
  }
  students <- figures$students
  there <- sum(students$share >= settings$mastery_cut - 1e-9, na.rm = TRUE)
  c(
    paste0(
      there, " of ", sum(!is.na(students$share)), " students reached ",
      percent(settings$mastery_cut), " on the whole."
    ),
    if (nrow(good)) {
      paste0("On average at or above the cut: ", join_some(name(good), 3), ".")
    } else if (nrow(leaf)) {
      paste0("Strongest was ", name(leaf[1, ]), ".")
    },
    if (length(learnt)) paste0("Nearly everybody can answer ", join_some(learnt, 6), ".")
  )
}

most_rationales <- 4

# The title is what a student should be able to do; the rationales what to know.
say_know <- function(sitting, code, evidence) {
  at <- match(evidence$item, sitting$items$item)
  known <- unique(sitting$items$rationale[at])
  known <- utils::head(known[!is.na(known)], most_rationales)
  title <- sitting$standards$title[match(code, sitting$standards$code)]
  asked <- sitting$items$prompt[at]
  asked <- utils::head(asked[!is.na(asked)], 2)
  paste(
    c(
      if (!is.na(title)) paste0("Be able to: ", uncapital(title), "."),
      if (length(known)) paste0("Know: ", paste(known, collapse = " ")),
      if (!length(known) && length(asked)) {
        paste0("Answer such as: ", paste(asked, collapse = " "))
      }
    ),
    collapse = " "
  )
}

uncapital <- function(text) paste0(tolower(substr(text, 1, 1)), substring(text, 2))

# Misconceptions first, the one behind most of the most chosen wrong answers;
# then where many guess; then one wrong answer that many share.
say_cause <- function(sitting, evidence) {
  shown <- evidence[
    !is.na(evidence$wrong) & evidence$wrong_share >= sitting$settings$thresholds$working,
  ]
  coded <- shown[!is.na(shown$misconception), ]
  weight <- sort(tapply(coded$wrong_share, coded$misconception, sum), decreasing = TRUE)
  ideas <- vapply(names(weight), function(code) {
    mine <- coded[coded$misconception == code, ]
    about <- sitting$misconceptions$description[match(code, sitting$misconceptions$code)]
    paste0(
      "the idea ",
      if (is.na(about)) code else paste0("\u201c", about, "\u201d"),
      " (",
      paste0(
        mine$item, " ", mine$wrong, ", ", percent(mine$wrong_share), collapse = "; "
      ),
      ")"
    )
  }, "")
  plain <- shown[is.na(shown$misconception) & shown$pattern %in% "shared", ]
  spread <- evidence$item[
    evidence$pattern %in% "spread" & evidence$difficulty < sitting$settings$mastery_cut
  ]
  said <- c(
    if (length(ideas)) paste0("Likely ", join_words(utils::head(unname(ideas), 2)), "."),
    if (nrow(plain)) {
      paste0(
        "Many share a wrong answer that no idea is named for: ",
        paste0(
          plain$item,
          " ",
          plain$wrong,
          ifelse(
            is.na(plain$wrong_text),
            "",
            paste0(" \u201c", plain$wrong_text, "\u201d")
          ),
          ", ",
          percent(plain$wrong_share),
          collapse = "; "
        ),
        "."
      )
    },
    if (length(spread)) {
      paste0(
        "On ", join_words(spread),
        " wrong answers are spread as by guessing: begin from the start."
      )
    }
  )
  if (length(said)) paste(said, collapse = " ") else "No one wrong idea stands out."
}

say_settle <- function(evidence, pressing) {
  mine <- intersect(evidence$item, pressing)
  if (!length(mine)) return("")
  paste0("Look at ", join_words(mine), " first: the question itself may be at fault.")
}
