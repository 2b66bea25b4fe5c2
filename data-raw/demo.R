# Makes the demo: a made-up harbour school's unit test "Tides and Currents",
# the follow-up quiz three weeks later, a check of knots, a rated logbook, and two
# tests of the weather that share questions.
# Everything in it is invented, and things are planted in it to be found.
# Run from the project's root: Rscript data-raw/demo.R
set.seed(
  20260914,
  kind = "Mersenne-Twister",
  normal.kind = "Inversion",
  sample.kind = "Rejection"
)
root <- "inst/extdata/demo"

write_csv <- function(table, folder, name) {
  dir.create(file.path(root, folder), recursive = TRUE, showWarnings = FALSE)
  utils::write.csv(
    table,
    file.path(root, folder, name),
    row.names = FALSE,
    na = "",
    quote = TRUE,
    fileEncoding = "UTF-8",
    eol = "\n"
  )
}

# ---- students: three sections of 28 --------------------------------------
first <- c(
  "Ada", "Bela", "Caro", "Dario", "Edda", "Femi", "Gil", "Hana", "Ivo", "Jana", "Kofi",
  "Lio", "Mara", "Nilo", "Olga", "Pim", "Quin", "Rafa", "Suri", "Timo", "Uma", "Vito",
  "Wim", "Xenia", "Yara", "Zeno", "Alba", "Bo", "Cleo", "Duna", "Elio", "Fenna", "Goro",
  "Heli", "Inka", "Juno", "Kaja", "Lars", "Mika", "Nadi", "Ottis", "Pia"
)
last <- c(
  "Anchorley", "Bollard", "Capstan", "Driftwood", "Ebbing", "Fairlead", "Gunnel",
  "Halyard", "Inlet", "Jettison", "Keelson", "Lanyard", "Mooring", "Narrows", "Oarlock",
  "Pilotage", "Quayle-Ness", "Reefknot", "Sandbar", "Tiderace", "Undertow"
)
n <- 84
section <- rep(c("Harbour A", "Harbour B", "Harbour C"), each = 28)
students <- data.frame(
  student = sprintf("h%03d", seq_len(n)),
  name = paste(
    first[(seq_len(n) - 1) %% 42 + 1],
    last[((seq_len(n) - 1) * 8 + 5 * (seq_len(n) > 42)) %% 21 + 1]
  ),
  section = section,
  teacher = c("Ms Lantern", "Mr Beacon", "Mr Beacon")[match(section, unique(section))],
  boat = sample(c("rows", "sails", "neither"), n, TRUE, c(3, 3, 4))
)
ability <- rnorm(n) + c("Harbour A" = 0.35, "Harbour B" = 0, "Harbour C" = -0.3)[section]

standards <- data.frame(
  code = c("TC.1", "TC.1.a", "TC.1.b", "TC.1.c", "TC.2", "TC.2.a", "TC.2.b", "TC.2.c"),
  parent = c("", "TC.1", "TC.1", "TC.1", "", "TC.2", "TC.2", "TC.2"),
  title = c(
    "Explain and foretell the tides", "Explain how moon and sun make the tides",
    "Tell spring tides from neap tides", "Read a tide table", "Reckon with currents",
    "Follow a tidal stream through the day", "Tell what drives ocean currents",
    "Choose a safe time and course"
  ),
  emphasis = c(
    "priority", "priority", "supporting", "priority", "priority", "supporting",
    "supporting", "priority"
  )
)

misconceptions <- data.frame(
  code = c("WIND", "ONE-HIGH", "SEASON", "SLACK-LOW", "MOON-NEAR"),
  description = c(
    "The wind makes the tides", "There is one high tide a day, under the moon",
    "Spring tides come in spring", "Slack water only comes at low water",
    "High tides come when the moon looks big near the horizon"
  )
)

# ---- items -----------------------------------------------------------------
item <- function(id, type, key, standards, prompt, options = NULL, points = 1,
                 scoring = "", thinking = "recall", easy = 0, slope = 1.1, pull = NULL,
                 rationale = "", codes = NULL) {
  list(
    id = id,
    type = type,
    key = key,
    standards = standards,
    prompt = prompt,
    options = options,
    points = points,
    scoring = scoring,
    thinking = thinking,
    easy = easy,
    slope = slope,
    pull = pull,
    rationale = rationale,
    codes = codes
  )
}

items <- list(
  item(
    "Q1",
    "choice",
    "A",
    "TC.1.a",
    "What rises and falls at the quay twice a day?",
    c(A = "The tide", B = "The seabed", C = "The quay", D = "The salt"),
    easy = 30,
    rationale = "The water rises and falls; the quay stays where it is."
  ),
  item(
    "Q2",
    "choice",
    "C",
    "TC.1.a",
    "What pulls hardest on the sea and so makes most of the tide?",
    c(A = "The wind", B = "The sun", C = "The moon", D = "The turning of the earth"),
    easy = 1.0,
    pull = c(A = 4, B = 2, D = 1.5),
    rationale = "The moon is small but near.",
    codes = c(A = "WIND")
  ),
  item(
    "Q3",
    "choice",
    "B",
    "TC.1.b",
    "When are spring tides?",
    c(
      A = "In March, April and May",
      B = "At new and full moon",
      C = "After a storm",
      D = "When ice melts"
    ),
    easy = 0.3,
    pull = c(A = 5, C = 2, D = 1),
    rationale = "Spring here means to leap up.",
    codes = c(A = "SEASON", C = "WIND")
  ),
  item(
    "Q4",
    "choice",
    "B",
    "TC.1.c",
    "The table says high water 06:10. When is the next high water, about?",
    c(A = "12:10", B = "18:35", C = "06:10 tomorrow", D = "In a month"),
    easy = 0.7,
    pull = c(A = 3, C = 3, D = 0.02),
    thinking = "use",
    rationale = "High waters come about 12 hours and 25 minutes apart.",
    codes = c(C = "ONE-HIGH")
  ),
  item(
    "Q5",
    "choice",
    "D",
    "TC.2.a",
    "What does the stream do at slack water?",
    c(
      A = "It runs hardest",
      B = "It runs inland",
      C = "It runs out to sea",
      D = "It hardly runs"
    ),
    easy = 0.9,
    pull = c(A = 2, B = 1, C = 2),
    rationale = "Slack water is the pause between flood and ebb."
  ),
  item(
    "Q6",
    "choice",
    "A",
    "TC.2.b",
    "What drives the great currents at the surface of the ocean?",
    c(A = "Steady winds", B = "The moon", C = "Rivers", D = "Whales and fish"),
    easy = 0.4,
    pull = c(B = 3, C = 3, D = 0.5),
    rationale = "Here it is the wind, unlike with tides."
  ),
  item(
    "Q7",
    "choice",
    "B",
    "TC.1.b",
    "At half moon the tidal range at the quay is ...",
    c(A = "as always", B = "largest", C = "smallest", D = "zero"),
    easy = 0.6,
    pull = c(A = 3, B = 3, D = 0.8),
    rationale = "At half moon sun and moon pull at right angles: neap tide."
  ), # planted: the key should be C
  item(
    "Q8",
    "choice",
    "C",
    "TC.2.c",
    "You paddle a kayak home against a 3-knot ebb at 3 knots. What happens?",
    c(
      A = "You get home late",
      B = "You drift into the marsh",
      C = "You stay where you are",
      D = "You go twice as fast"
    ),
    easy = 0.8,
    thinking = "use",
    pull = c(A = 3, B = 1.5, D = 0.7),
    rationale = "3 knots forward less 3 knots back is none."
  ),
  item(
    "Q9",
    "choice",
    "C",
    "TC.1.a",
    "No wind for a week. What happens to the tides?",
    c(
      A = "They stop",
      B = "They get much smaller",
      C = "They go on as before",
      D = "They come once a day"
    ),
    easy = -0.6,
    thinking = "reason",
    pull = c(A = 1.2, B = 9, D = 1),
    rationale = "Tides do not need wind.",
    codes = c(A = "WIND", B = "WIND", D = "ONE-HIGH")
  ),
  item(
    "Q10",
    "choice",
    "B",
    "TC.1.a",
    "Why are there two high tides a day and not one?",
    c(
      A = "The moon goes round twice",
      B = "The sea bulges on both sides of the earth",
      C = "One is made by the sun",
      D = "The wind turns at noon"
    ),
    easy = -0.4,
    thinking = "reason",
    pull = c(A = 3, C = 4, D = 1.2),
    rationale = "One bulge is towards the moon, one away from it.",
    codes = c(A = "ONE-HIGH", D = "WIND")
  ),
  item(
    "Q11",
    "choice",
    "A",
    "TC.2.a",
    "Low water was at 11:00. At 11:20 the stream at the bridge ...",
    c(
      A = "still runs out",
      B = "runs in hard",
      C = "has stopped for the day",
      D = "hardly runs"
    ),
    easy = 0.1,
    slope = -0.9,
    thinking = "reason",
    pull = c(B = 0.8, C = 1, D = 5),
    rationale = "In narrow places the stream turns after low water.",
    codes = c(D = "SLACK-LOW")
  ), # planted: who has learnt the rule of thumb gets it wrong
  item(
    "Q12",
    "choice",
    "D",
    "TC.1.c",
    "Heights in the table count from ...",
    c(
      A = "the top of the quay",
      B = "the deepest point",
      C = "the mast",
      D = "the chart's zero level"
    ),
    easy = 0.5,
    pull = c(A = 3, B = 3, C = 0.6),
    rationale = "Chart and table share one zero."
  ),
  item(
    "Q13",
    "choice",
    "B|D",
    "TC.2.c",
    "Name one sign that the ebb has begun.",
    c(
      A = "Waves get higher",
      B = "Moored boats swing round",
      C = "Gulls fall silent",
      D = "A wet line shows on the wall"
    ),
    easy = 1.1,
    pull = c(A = 4, C = 1),
    rationale = "Both B and D show it."
  ),
  item(
    "Q14",
    "choice",
    "C",
    "TC.2.b",
    "Which way do surface currents turn in the oceans of the northern half?",
    c(
      A = "Anticlockwise",
      B = "Straight north",
      C = "Clockwise",
      D = "Straight south",
      E = "To and fro"
    ),
    easy = -1.3,
    slope = 0.5,
    pull = c(A = 1, B = 1, D = 1, E = 1),
    rationale = "The turning earth bends them to the right."
  ),
  # planted: guessing
  item(
    "Q15",
    "multiple",
    "A;C",
    "TC.1.a",
    "Which two pull on the sea and make tides?",
    c(A = "Moon", B = "Wind", C = "Sun", D = "Clouds", E = "Rivers"),
    points = 2,
    scoring = "each",
    easy = 0.4,
    rationale = "Wind makes waves, not tides.",
    codes = c(B = "WIND")
  ),
  item(
    "Q16",
    "multiple",
    "B;D;E",
    "TC.2.c",
    "What belongs in the boat before you cast off?",
    c(
      A = "A second anchor chain",
      B = "Life jackets",
      C = "Full sails",
      D = "Tide table",
      E = "A way to call for help"
    ),
    points = 3,
    scoring = "each",
    easy = 0.9,
    rationale = "Jackets, table, and a call for help."
  ),
  item(
    "Q17",
    "text",
    "ebb|ebb tide|the ebb",
    "TC.2.a",
    "What is the falling tide called?",
    easy = 0.9,
    pull = c(flood = 3, "low tide" = 2, ebbe = 1, eb = 1, neap = 1),
    rationale = "It is called the ebb."
  ),
  item(
    "Q18",
    "text",
    "neap|neap tide",
    "TC.1.b",
    "What is a tide of small range called?",
    easy = -0.1,
    pull = c("low tide" = 4, "neep tide" = 1.5, "little tide" = 1, ebb = 1.5, slack = 1),
    rationale = "It is called neap."
  ),
  item(
    "Q19",
    "number",
    "4.2\u00b10.1",
    "TC.1.c",
    "High water 5.1 m, low water 0.9 m. How many metres is the range?",
    easy = 0.6,
    thinking = "use",
    pull = c("6" = 4, "4" = 1, "0.42" = 0.6, "5.1" = 1.2),
    rationale = "5.1 - 0.9 = 4.2"
  ),
  item(
    "Q20",
    "number",
    "1.5..2",
    "TC.2.a",
    "A stream of 2 knots carries you how many nautical miles in 50 minutes?",
    easy = -0.3,
    thinking = "use",
    pull = c("2.5" = 1, "100" = 3, "1" = 2, "40" = 1),
    rationale = "2 x 50/60 = 1.7"
  ),
  item(
    "Q21",
    "order",
    "C>A>D>B",
    "TC.2.a",
    "Put in order from low water: A flood, B ebb, C slack at low, D slack at high",
    points = 2,
    scoring = "each",
    thinking = "use",
    easy = 0.2,
    rationale = "Slack, flood, slack, ebb."
  ),
  item(
    "Q22",
    "match",
    "1=B;2=C;3=A",
    "TC.1.b",
    paste0(
      "Match: 1 spring tide, 2 neap tide, 3 slack; A no stream, B large range, C small ",
      "range"
    ),
    points = 3,
    scoring = "each",
    easy = 0.3,
    rationale = "Spring is large, neap is small, slack is still."
  ),
  item(
    "Q23",
    "mark",
    "",
    "TC.1.c",
    "Read the gauge at the quay three times and note height and time.",
    points = 4,
    thinking = "use",
    easy = 0.5
  ),
  item(
    "Q24",
    "open",
    "",
    "TC.2.c",
    "Plan a trip to the island and back. Say when you leave and why.",
    points = 3,
    thinking = "reason",
    easy = -0.2
  )
)

# ---- answers ---------------------------------------------------------------
lead <- function(one, shift = 0) stats::plogis(one$slope * (ability + shift) + one$easy)

# The options that are right in truth, whatever the key says.
truth <- function(one) {
  if (one$id == "Q7") "C" else strsplit(one$key, "|", fixed = TRUE)[[1]]
}

answer_choice <- function(one, shift) {
  right <- truth(one)
  wrong <- setdiff(names(one$options), right)
  weight <- if (is.null(one$pull)) rep(1, length(wrong)) else one$pull[wrong]
  ifelse(
    stats::runif(n) < lead(one, shift),
    sample(rep(right, 2), n, TRUE),
    sample(wrong, n, TRUE, weight)
  )
}

answer_multiple <- function(one, shift) {
  right <- strsplit(one$key, ";")[[1]]
  p <- lead(one, shift)
  vapply(seq_len(n), function(i) {
    chosen <- c(
      right[stats::runif(length(right)) < 0.35 + 0.65 * p[i]],
      setdiff(names(one$options), right)[
        stats::runif(length(one$options) - length(right)) < 0.45 * (1 - p[i])
      ]
    )
    if (!length(chosen)) chosen <- sample(names(one$options), 1)
    paste(sort(chosen), collapse = ";")
  }, "")
}

answer_word <- function(one, shift) {
  spelled <- switch(one$id,
    Q17 = c("ebb", "Ebb", "ebb tide", " the  ebb", "EBB"),
    Q18 = c("neap", "Neap tide", "neap tide")
  )
  ifelse(
    stats::runif(n) < lead(one, shift),
    sample(spelled, n, TRUE),
    sample(names(one$pull), n, TRUE, one$pull)
  )
}

answer_number <- function(one, shift) {
  right <- switch(one$id,
    Q19 = c("4.2", "4,2", "4.20", "4.1"),
    Q20 = c("1.7", "1.67", "1,7", "1.6")
  )
  ifelse(
    stats::runif(n) < lead(one, shift),
    sample(right, n, TRUE, c(6, 2, 1, 1)),
    sample(names(one$pull), n, TRUE, one$pull)
  )
}

answer_order <- function(one, shift) {
  right <- strsplit(one$key, ">")[[1]]
  ifelse(
    stats::runif(n) < lead(one, shift),
    one$key,
    sample(
      c("C>B>D>A", "A>C>B>D", "D>A>C>B", "A>D>B>C", "C>D>A>B"),
      n,
      TRUE,
      c(5, 2, 1, 1, 2)
    )
  )
}

answer_match <- function(one, shift) {
  ifelse(
    stats::runif(n) < lead(one, shift),
    one$key,
    sample(
      c("1=C;2=B;3=A", "1=B;2=A;3=C", "1=A;2=C;3=B", "1=B;3=A"),
      n,
      TRUE,
      c(5, 2, 1, 2)
    )
  )
}

answer_mark <- function(one, shift) {
  as.character(stats::rbinom(n, one$points, lead(one, shift)))
}

answer_open <- function(one, shift) {
  good <- c(
    paste0(
      "We leave one hour after high water, the ebb carries us out and the flood brings ",
      "us home."
    ),
    paste0(
      "With the ebb out, wait for slack, home with the flood. I looked at the table: ",
      "09:40 and 15:50."
    ),
    "At 10 because the stream runs out then, back at 4 when it has turned."
  )
  weak <- c(
    "In the morning because then it is light.", "When the wind blows to the island.",
    "At high tide, then it is deep.", "I would ask the harbour master."
  )
  ifelse(stats::runif(n) < lead(one, shift), sample(good, n, TRUE), sample(weak, n, TRUE))
}

answer <- function(one, shift = 0) {
  switch(one$type,
    choice = answer_choice,
    multiple = answer_multiple,
    text = answer_word,
    number = answer_number,
    order = answer_order,
    match = answer_match,
    mark = answer_mark,
    open = answer_open
  )(
    one,
    shift
  )
}

answers <- as.data.frame(lapply(items, answer))
names(answers) <- vapply(items, function(one) one$id, "")
answers$Q1 <- "A" # planted: everybody got it right

# Planted, without a code: who takes the sea's streams for river water says that
# the stream runs out at slack water and that rivers drive the ocean's currents.
astray <- which(!answers$Q5 %in% c("D", "") & !answers$Q6 %in% c("A", ""))
rivers <- astray[seq_along(astray) %% 8 != 0]
for (id in c("Q5", "Q6")) {
  others <- setdiff(which(answers[[id]] == "C"), rivers)
  answers[[id]][others] <- rep_len(
    if (id == "Q5") c("A", "B") else c("B", "C", "D"),
    length(others)
  )
  answers[[id]][rivers] <- "C"
}

# Blanks: some left out, some ran out of time.
for (id in names(answers)[-1]) answers[[id]][stats::runif(n) < 0.015] <- ""
slow <- sample(which(ability < 0.3), 9)
for (i in slow) answers[i, sample(19:23, 1):24] <- ""

# Points by hand for the last item: the third section still waits.
quality <- ifelse(grepl("ebb|stream", answers$Q24), 2, 0) +
  stats::rbinom(n, 1, stats::plogis(ability))
marks <- ifelse(answers$Q24 == "" | section == "Harbour C", "", as.character(quality))

responses <- data.frame(
  student = students$student,
  answers,
  "Q24 points" = marks,
  check.names = FALSE
)
away <- c(17, 40, 63) # planted: three were absent
responses[away, -1] <- ""
halves <- responses[31, ] # planted: one student's connection dropped
responses[31, 12:26] <- ""
halves[, 2:11] <- ""
trial <- responses[1, ] # planted: the teacher's own trial run
trial$student <- "trial-lantern"
trial[, -1] <- c(
  rep("A", 14), "A;C", "B;D;E", "ebb", "neap", "4.2", "1.7", "C>A>D>B", "1=B;2=C;3=A",
  "4", "Just trying.", ""
)
responses$Q12[50] <- "F" # planted: an answer that is no option
responses$Q20[which(responses$Q20 == "1")[1]] <- "-1.7" # planted: a slip of the sign
responses$Q23[22] <- "14" # planted: 14 where 4 is the most
responses <- rbind(trial, responses, halves)
responses <- responses[-(1 + 77), ] # planted: a listed student without a row

field <- function(name) vapply(items, function(one) as.character(one[[name]]), "")
write_csv(responses, "", "responses.csv")
write_csv(
  data.frame(
    item = field("id"),
    type = field("type"),
    key = field("key"),
    points = field("points"),
    scoring = field("scoring"),
    standards = field("standards"),
    prompt = field("prompt"),
    rationale = field("rationale"),
    thinking = field("thinking")
  ),
  "",
  "items.csv"
)
write_csv(
  do.call(
    rbind,
    lapply(Filter(function(one) !is.null(one$options), items), function(one) {
      code <- unname(one$codes[names(one$options)])
      data.frame(
        item = one$id,
        option = names(one$options),
        text = unname(one$options),
        misconception = if (is.null(code)) "" else ifelse(is.na(code), "", code)
      )
    })
  ),
  "",
  "options.csv"
)
write_csv(misconceptions, "", "misconceptions.csv")
write_csv(students, "", "students.csv")
write_csv(standards, "", "standards.csv")
writeLines(
  c(
    "title: Tides and Currents", "date: 2026-09-14",
    "levels: {emerging: 0, developing: 0.5, secure: 0.7, deep: 0.9}", "exclude:",
    "  - trial-*   # the teacher trying it out"
  ),
  file.path(root, "test.yml")
)

# ---- the follow-up quiz, three weeks later ---------------------------------
again <- items[c(2, 9, 10, 3, 18, 20, 21, 14)]
later <- as.data.frame(lapply(again, answer, shift = 0.8))
names(later) <- paste0("F", seq_along(again))
here <- setdiff(seq_len(n), c(17, 29, 77))
# What follows has a stream of its own, so that the rest stays as it was.
stream <- .Random.seed

# Taken online: up to three tries, each answer with its seconds, some reasons.
retry <- function(given) {
  for (k in seq_along(again)) {
    right <- truth(again[[k]])
    better <- !given[[k]] %in% right & stats::runif(n) < 0.4
    given[[k]][better] <- sub("1.5..2", "1.7", right[1], fixed = TRUE)
  }
  given
}
tries <- list(later, retry(later))
tries[[3]] <- retry(tries[[2]])
n_right <- rowSums(mapply(function(one, answer) answer %in% truth(one), again, later))
n_tries <- 1 + (n_right < 5) * stats::rbinom(n, 2, 0.6)
reasons <- list(
  F2 = list(
    C = c(
      "The moon is still there when the wind is not.",
      "Tides come from the moon and the sun, not the wind.",
      "We had a calm week in June and the quay still fell dry twice a day."
    ),
    A = "No wind, no waves, no tide.",
    B = c(
      "The wind pushes the water up, so less wind, less tide.",
      "Because the wind makes the big ones.",
      "My uncle says in calm weather the boat hardly moves."
    ),
    D = "There is only one a day if nothing pushes."
  ),
  F3 = list(
    B = c(
      "There is a bulge towards the moon and one on the far side.",
      "The earth turns under two bulges."
    ),
    A = "The moon goes fast.",
    C = c("One is the sun's and one is the moon's.", "The sun makes the second one."),
    D = "In the morning the wind is from land."
  )
)
reason_for <- function(item, answer) {
  said <- reasons[[item]][[answer]]
  if (is.null(said) || stats::runif(1) < 0.35) return("")
  sample(c(said, said), 1)
}
words <- vapply(again, function(one) {
  length(strsplit(paste(c(one$prompt, one$options), collapse = " "), " ")[[1]])
}, 0)
moment <- as.POSIXct("2026-10-05 10:00:00", tz = "UTC")
online <- do.call(
  rbind,
  lapply(here, function(i) {
    do.call(
      rbind,
      lapply(seq_len(n_tries[i]), function(try) {
        seconds <- round(
          stats::rlnorm(length(again), log(words / 2.2 + 8), 0.4) / try^0.5
        )
        # planted: clicked through without reading
        if (i == 47) seconds <- sample(1:2, length(again), TRUE)
        if (i == 9 && try == 1) seconds[7] <- 412 # planted: stuck on one question
        done <- moment + sum(seconds) + (try - 1) * 600 + 60 * i / 10
        if (i %in% c(22, 58)) done <- done + 3600 # planted: two handed in late
        answer <- vapply(tries[[try]][i, ], as.character, "")
        asked <- if (i == 66) 1:4 else seq_along(again) # planted: one has not finished
        data.frame(
          student = students$student[i],
          attempt = try,
          item = names(later)[asked],
          response = answer[asked],
          seconds = seconds[asked],
          submitted = if (i == 66) "" else format(done, "%Y-%m-%d %H:%M:%S"),
          explanation = mapply(reason_for, names(later)[asked], answer[asked]),
          role = "student"
        )
      })
    )
  })
)
online <- rbind(
  data.frame(
    student = "lantern",
    attempt = 1,
    item = names(later),
    response = "A",
    seconds = 3,
    submitted = "2026-10-05 07:45:00",
    explanation = "",
    role = "teacher"
  ),
  online
) # planted: the teacher's trial run
# Planted: what students type is data.
like_code <- online$student == "h005" & online$item == "F2" & online$attempt == 1
online$explanation[which(like_code)] <- "=1+1 looks like <b>code</b>, but is an answer"
write_csv(online, "follow-up", "responses.csv")
write_csv(
  data.frame(
    student = c("h010", "h020", "h033", "h003", "", "", "h041", "h017"),
    item = c("F8", "F6", "", "F2", "F5", "F5", "F6", ""),
    action = c(
      "excuse", "points", "extra", "comment", "accept", "undo", "points", "excuse"
    ),
    value = c(
      "", "1", "1", "Well reasoned: say it to the class?", "low tide", "accept", "0.5", ""
    ),
    reason = c(
      "called away", "right, in other units", "brought a tide table for all", "",
      "seemed right at first", "it is another thing", "right way, slip at the end",
      "with the school band"
    )
  ),
  "follow-up",
  "adjustments.csv"
)
.Random.seed <- stream
pick <- function(name) vapply(again, function(one) as.character(one[[name]]), "")
write_csv(
  data.frame(
    item = names(later),
    type = pick("type"),
    key = pick("key"),
    points = pick("points"),
    scoring = pick("scoring"),
    standards = pick("standards"),
    prompt = pick("prompt"),
    used_before = pick("id")
  ),
  "follow-up",
  "items.csv"
)
write_csv(
  do.call(
    rbind,
    lapply(seq_along(again), function(k) {
      one <- again[[k]]
      if (is.null(one$options)) return(NULL)
      code <- unname(one$codes[names(one$options)])
      data.frame(
        item = names(later)[k],
        option = names(one$options),
        text = unname(one$options),
        misconception = if (is.null(code)) "" else ifelse(is.na(code), "", code)
      )
    })
  ),
  "follow-up",
  "options.csv"
)
write_csv(misconceptions, "follow-up", "misconceptions.csv")
write_csv(students, "follow-up", "students.csv")
write_csv(standards, "follow-up", "standards.csv")
writeLines(
  c(
    "title: Tides and Currents, follow-up", "date: 2026-10-05", "attempts: best",
    "due: 2026-10-05 11:00", "exclude:", "  - role: teacher   # the trial run"
  ),
  file.path(root, "follow-up", "test.yml")
)

# ---- the knots check and the rated logbook ---------------------------------
knots <- c(
  "Figure eight", "Reef knot", "Bowline", "Clove hitch", "Sheet bend", "Rolling hitch"
)
tied <- as.data.frame(
  lapply(seq_along(knots), function(k) {
    as.character(stats::rbinom(n, 1, stats::plogis(ability + 2.2 - 0.7 * k)))
  })
)
names(tied) <- paste0("K", seq_along(knots))
tied[away, ] <- ""
write_csv(data.frame(student = students$student, tied), "knots", "responses.csv")
write_csv(
  data.frame(
    item = names(tied),
    type = "mark",
    points = 1,
    standards = paste0("KN.", c(1, 1, 2, 2, 3, 3)),
    prompt = knots
  ),
  "knots",
  "items.csv"
)
write_csv(
  data.frame(
    code = c("KN", "KN.1", "KN.2", "KN.3"),
    parent = c("", "KN", "KN", "KN"),
    title = c("Tie what holds", "First knots", "Knots for mooring", "Knots for towing")
  ),
  "knots",
  "standards.csv"
)
write_csv(students, "knots", "students.csv")
writeLines(
  c("title: Knots check", "date: 2026-09-21", "kind: skills check"),
  file.path(root, "knots", "test.yml")
)

criteria <- c(
  "Weather and tide noted", "Course and speed noted", "Observations in full sentences",
  "Sketch of the harbour"
)
rated <- as.data.frame(
  lapply(seq_along(criteria), function(k) {
    as.character(1 + stats::rbinom(n, 3, stats::plogis(0.8 * ability + 0.6 - 0.3 * k)))
  })
)
names(rated) <- paste0("L", seq_along(criteria))
write_csv(data.frame(student = students$student, rated), "logbook", "responses.csv")
write_csv(
  data.frame(
    item = names(rated),
    type = "mark",
    points = 4,
    standards = c("TC.1.c", "TC.2.a", "TC.2.c", "TC.2.c"),
    prompt = criteria
  ),
  "logbook",
  "items.csv"
)
write_csv(standards, "logbook", "standards.csv")
write_csv(students, "logbook", "students.csv")
writeLines(
  c("title: Logbook of the harbour day", "date: 2026-09-28"),
  file.path(root, "logbook", "test.yml")
)

# ---- questions that nobody has had yet, to draw a follow-up from -----------------
ask <- function(standard, type, key, prompt, rationale, ..., points = "1", scoring = "",
                codes = NULL) {
  list(
    standard = standard,
    type = type,
    key = key,
    prompt = prompt,
    rationale = rationale,
    options = c(...),
    points = points,
    scoring = scoring,
    codes = codes
  )
}
pool <- list(
  ask(
    "TC.1.a",
    "choice",
    "B",
    "A harbour lies in still air behind high cliffs. What of its tides?",
    "Moon and sun pull there as well.",
    A = "It has none",
    B = "They come as elsewhere",
    C = "Only in autumn",
    D = "Only at night",
    codes = c(A = "WIND")
  ),
  ask(
    "TC.1.a",
    "choice",
    "D",
    "Where does the sea bulge when the moon stands over Africa?",
    "Towards the moon and away from it.",
    A = "Off Africa alone",
    B = "Nowhere",
    C = "At both poles",
    D = "Off Africa and on the far side of the earth",
    codes = c(A = "ONE-HIGH")
  ),
  ask(
    "TC.1.a",
    "choice",
    "A",
    "The moon looks huge at moonrise. The next high tide is then ...",
    "How big it looks changes nothing.",
    A = "as the table says",
    B = "much higher",
    C = "an hour early",
    D = "none",
    codes = c(B = "MOON-NEAR")
  ),
  ask(
    "TC.1.a",
    "open",
    "",
    "Explain to a younger pupil why the quay falls dry twice a day.",
    "Two bulges, and the earth turns under them.",
    points = "2"
  ),
  ask(
    "TC.1.b",
    "choice",
    "C",
    "Which moon goes with a spring tide?",
    "Sun and moon then pull in one line.",
    A = "Half moon",
    B = "Any moon in April",
    C = "New moon",
    D = "No moon",
    codes = c(B = "SEASON")
  ),
  ask(
    "TC.1.b",
    "text",
    "spring|spring tide",
    "What is a tide of large range called?",
    "It is called a spring tide."
  ),
  ask(
    "TC.1.b",
    "choice",
    "A",
    "At half moon sun and moon pull ...",
    "Then the range is small.",
    A = "at right angles",
    B = "in one line",
    C = "not at all"
  ),
  ask(
    "TC.1.c",
    "number",
    "3.6\u00b10.1",
    "High water 4.9 m, low water 1.3 m. How many metres is the range?",
    "4.9 - 1.3 = 3.6"
  ),
  ask(
    "TC.1.c",
    "choice",
    "B",
    "High water is at 09:00. When is low water, about?",
    "Low water follows some six hours later.",
    A = "10:00",
    B = "15:10",
    C = "21:25",
    D = "09:00 tomorrow",
    codes = c(D = "ONE-HIGH")
  ),
  ask(
    "TC.1.c",
    "number",
    "2.4",
    "The chart says 1.8 m, the table 0.6 m. How many metres deep is it?",
    "1.8 + 0.6 = 2.4"
  ),
  ask(
    "TC.2.b",
    "choice",
    "C",
    "What pushes the great streams at the ocean's surface along?",
    "Winds that blow the same way all year.",
    A = "The tides",
    B = "Rivers",
    C = "Steady winds",
    D = "Ships"
  ),
  ask(
    "TC.2.b",
    "choice",
    "A",
    "In the oceans of the southern half surface currents turn ...",
    "There the earth's turning bends them to the left.",
    A = "anticlockwise",
    B = "clockwise",
    C = "not at all"
  ),
  ask(
    "TC.2.b",
    "multiple",
    "A;C",
    "Which two shape the course of ocean currents?",
    "Wind drives them, the turning earth bends them.",
    A = "Steady winds",
    B = "The moon's face",
    C = "The turning of the earth",
    D = "Fish",
    points = "2",
    scoring = "each"
  ),
  ask(
    "TC.2.a",
    "order",
    "B>C>A",
    "Put in order from high water: A slack at low, B slack at high, C ebb",
    "Slack, ebb, slack.",
    points = "2",
    scoring = "each"
  ),
  ask(
    "TC.2.c",
    "choice",
    "B",
    "The ebb runs out at 2 knots, you row at 3. How fast do you come home against it?",
    "3 less 2 is 1.",
    A = "5 knots",
    B = "1 knot",
    C = "3 knots"
  )
)
of_pool <- function(name) vapply(pool, function(one) one[[name]], "")
number_of_pool <- sprintf("P%02d", seq_along(pool))
write_csv(
  data.frame(
    item = number_of_pool,
    type = of_pool("type"),
    key = of_pool("key"),
    points = of_pool("points"),
    scoring = of_pool("scoring"),
    standards = of_pool("standard"),
    prompt = of_pool("prompt"),
    rationale = of_pool("rationale")
  ),
  "pool",
  "items.csv"
)
write_csv(
  do.call(
    rbind,
    lapply(which(lengths(lapply(pool, `[[`, "options")) > 0), function(k) {
      one <- pool[[k]]
      code <- unname(one$codes[names(one$options)])
      data.frame(
        item = number_of_pool[k],
        option = names(one$options),
        text = unname(one$options),
        misconception = if (is.null(code)) "" else ifelse(is.na(code), "", code)
      )
    })
  ),
  "pool",
  "options.csv"
)
write_csv(misconceptions, "pool", "misconceptions.csv")
write_csv(standards, "pool", "standards.csv")

# ---- the knots again, four weeks later: what was passed stays passed ---------------
later_tied <- as.data.frame(
  lapply(seq_along(knots), function(k) {
    again <- stats::rbinom(n, 1, stats::plogis(ability + 3.2 - 0.7 * k))
    as.character(pmax(again, suppressWarnings(as.numeric(tied[[k]])), na.rm = TRUE))
  })
)
names(later_tied) <- names(tied)
later_tied[c(8, 50), ] <- "" # planted: two have yet to be tested
later_tied[c(24, 71), "K1"] <- "" # planted: a pass mark was forgotten
write_csv(
  data.frame(student = students$student, later_tied),
  "knots-again",
  "responses.csv"
)
write_csv(
  data.frame(
    item = names(tied),
    type = "mark",
    points = 1,
    standards = paste0("KN.", c(1, 1, 2, 2, 3, 3)),
    prompt = knots
  ),
  "knots-again",
  "items.csv"
)
file.copy(
  file.path(root, "knots", "standards.csv"),
  file.path(root, "knots-again", "standards.csv"),
  overwrite = TRUE
)
write_csv(students, "knots-again", "students.csv")
writeLines(
  c("title: Knots check, October", "date: 2026-10-19", "kind: skills check"),
  file.path(root, "knots-again", "test.yml")
)

# ---- weather at sea, in November and in February: ten questions are in both -----------
# Planted: what is new in February is easier, so that the plain scores rise much more than
# the students; and W4 had been gone over in class.
weather <- read.csv("data-raw/weather.csv", strip.white = TRUE, encoding = "UTF-8")
sit_weather <- function(folder, asked, place, grown, missing, about) {
  mine <- weather[weather$asked %in% c("both", asked), ]
  ids <- paste0("W", seq_len(nrow(mine)))
  key <- c("A", "B", "C", "D")[(seq_along(ids) * 7) %% 4 + 1]
  # The right text stands where the key is, the others keep their order.
  texts <- lapply(seq_along(ids), function(j) {
    own <- unlist(mine[j, c("A", "B", "C", "D")], use.names = FALSE)
    append(own[-1], own[1], match(key[j], LETTERS) - 1)
  })
  answers <- vapply(seq_along(ids), function(j) {
    right <- stats::runif(n) < stats::plogis(ability + grown - mine[[place]][j])
    wrong <- sample(setdiff(LETTERS[1:4], key[j]), n, replace = TRUE)
    ifelse(right, key[j], wrong)
  }, character(n))
  answers[missing, ] <- ""
  colnames(answers) <- ids
  write_csv(data.frame(student = students$student, answers), folder, "responses.csv")
  write_csv(
    data.frame(
      item = ids, type = "choice", key = key, points = 1, standards = mine$standards,
      prompt = mine$prompt
    ),
    folder,
    "items.csv"
  )
  write_csv(
    data.frame(
      item = rep(ids, each = 4), option = LETTERS[1:4], text = unlist(texts),
      misconception = ""
    ),
    folder,
    "options.csv"
  )
  write_csv(
    data.frame(
      code = c("WX", "WX.1", "WX.2"), parent = c("", "WX", "WX"),
      title = c("Weather at sea", "Read the signs of weather", "Decide by the weather")
    ),
    folder,
    "standards.csv"
  )
  write_csv(students, folder, "students.csv")
  writeLines(about, file.path(root, folder, "test.yml"))
}
sit_weather(
  "weather", "first", "place", 0, 17,
  c("title: Weather at sea, November", "date: 2026-11-16", "kind: benchmark")
)
sit_weather(
  "weather-again", "second", "place_later", 0.2, c(17, 52),
  c("title: Weather at sea, February", "date: 2027-02-15", "kind: benchmark")
)

# ---- the year: windows and a ladder for the record of all of them ----------------
writeLines(
  c(
    "windows:", "  September: 2026-09-01..2026-09-27",
    "  harbour day: 2026-09-28..2026-10-02", "  October: 2026-10-03..2026-10-31",
    "  November: 2026-11-01..2026-11-30", "  February: 2027-02-01..2027-02-28",
    "ladders:", "  Knots: [KN.1, KN.2, KN.3]"
  ),
  file.path(root, "record.yml")
)
