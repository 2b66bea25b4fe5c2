# The sentences of a plan.

say_plan_reason <- function(standards, settings) {
  if (!nrow(standards)) return(character())
  cut <- percent(settings$mastery_cut)
  say(
    "judge-plan-say.of_are_below_the",
    below = standards$below,
    n = standards$n,
    cut = cut,
    share = percent(standards$share),
    is_priority = standards$emphasis %in% "priority",
    items = standards$items,
    thin = standards$items < thin_items
  )
}

# The strongest standards, and the items nearly everybody has.
say_well <- function(sitting, figures) {
  if (!anyone_scored(figures)) return(say("judge-plan-say.nobody_has_a_score"))
  items <- figures$items
  standards <- as.data.frame(figures$standards)
  leaf <- standards[
    !standards$code %in% sitting$standards$parent & !is.na(standards$share),
  ]
  leaf <- leaf[order(-leaf$share), ]
  settings <- sitting$settings
  good <- leaf[leaf$share >= settings$mastery_cut - 1e-9, ]
  # One of several that are alike is not the strongest.
  best <- leaf[leaf$share >= max(leaf$share, 0) - 1e-9, ]
  learnt <- items$item[
    items$difficulty >= settings$thresholds$easy & !is.na(items$difficulty)
  ]
  name <- function(rows) {
    say(
      "judge-plan-say.with",
      code = rows$code,
      title = or_blank(rows$title, paste0(" (", rows$title, ")")),
      share = percent(rows$share)
    )
  }
  students <- figures$students
  there <- sum(students$share >= settings$mastery_cut - 1e-9, na.rm = TRUE)
  c(
    say(
      "judge-plan-say.of_students_reached_on",
      there = there,
      n = sum(!is.na(students$share)),
      mastery_cut = percent(settings$mastery_cut)
    ),
    if (nrow(good)) {
      say("judge-plan-say.on_average_at_or", good = join_some(name(good), 3))
    } else if (nrow(best) && nrow(best) < nrow(leaf)) {
      say("judge-plan-say.strongest_was", leaf = join_some(name(best), 3), n = nrow(best))
    },
    if (length(learnt)) {
      say(
        "judge-plan-say.nearly_everybody_can_answer",
        learnt = join_some(learnt, 6)
      )
    }
  )
}

# Where nobody has a score nobody is below the cut, and nothing follows from it.
say_nothing <- function(plan, figures) {
  if (any(!is.na(plan$need)) || !anyone_scored(figures)) return(NULL)
  say("judge-plan-say.nothing_needs_to_be")
}

anyone_scored <- function(figures) any(!is.na(figures$students$share))

most_rationales <- 4

# The title is what a student should be able to do; the rationales what to know.
say_know <- function(sitting, code, evidence) {
  at <- match(evidence$item, sitting$items$item)
  known <- unique(sitting$items$rationale[at])
  known <- utils::head(known[!is.na(known)], most_rationales)
  title <- sitting$standards$title[match(code, sitting$standards$code)]
  asked <- sitting$items$prompt[at]
  asked <- utils::head(asked[!is.na(asked)], 2)
  asked <- paste(asked, collapse = " ")
  said <- c(
    if (!is.na(title)) {
      say("judge-plan-say.be_able_to", title = uncapital(title))
    },
    if (length(known)) {
      say("judge-plan-say.know", known = paste(known, collapse = " "))
    },
    if (!length(known) && nzchar(asked)) {
      say("judge-plan-say.answer_such_as", asked = asked)
    }
  )
  paste(said, collapse = " ")
}

uncapital <- function(text) {
  paste0(tolower(substr(text, 1, 1)), substring(text, 2))
}

# Misconceptions first, the one behind most of the most chosen wrong answers;
# then where many guess; then one wrong answer that many share.
say_cause <- function(sitting, evidence) {
  shown <- evidence[
    !is.na(evidence$wrong) &
      evidence$wrong_share >= sitting$settings$thresholds$working,
  ]
  coded <- shown[!is.na(shown$misconception), ]
  weight <- sort(
    tapply(coded$wrong_share, coded$misconception, sum),
    decreasing = TRUE
  )
  ideas <- vapply(names(weight), function(code) {
    mine <- coded[coded$misconception == code, ]
    about <- sitting$misconceptions$description[
      match(code, sitting$misconceptions$code)
    ]
    say(
      "judge-plan-say.the_idea",
      about = if (is.na(about)) {
        code
      } else {
        cited(about)
      },
      item = paste0(
        mine$item,
        " ",
        mine$wrong,
        ", ",
        percent(mine$wrong_share),
        collapse = "; "
      )
    )
  }, "")
  plain <- shown[is.na(shown$misconception) & shown$pattern %in% "shared", ]
  spread <- evidence$item[
    evidence$pattern %in% "spread" &
      evidence$difficulty < sitting$settings$mastery_cut
  ]
  said <- c(
    if (length(ideas)) {
      first <- utils::head(unname(ideas), 2)
      say("judge-plan-say.likely", ideas = join_words(first))
    },
    if (nrow(plain)) {
      words <- or_blank(
        plain$wrong_text,
        paste0(" ", cited(plain$wrong_text))
      )
      answer <- paste0(
        plain$item,
        " ",
        plain$wrong,
        words,
        ", ",
        percent(plain$wrong_share)
      )
      say(
        "judge-plan-say.many_share_a_wrong",
        item = paste(answer, collapse = "; ")
      )
    },
    if (length(spread)) {
      say("judge-plan-say.on_wrong_answers_are", spread = join_words(spread))
    }
  )
  if (length(said)) {
    paste(said, collapse = " ")
  } else {
    say("judge-plan-say.no_one_wrong_idea")
  }
}

say_settle <- function(evidence, pressing) {
  mine <- intersect(evidence$item, pressing)
  if (!length(mine)) return("")
  say("judge-plan-say.look_at_first_the", mine = join_words(mine))
}
