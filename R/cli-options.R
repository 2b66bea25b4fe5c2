# The options that verbs take. A name is the verb's; the flag may mean something
# else to another verb (--key is a file to new, a change to adjust).

command_options <- list(
  format = list(
    "--format",
    type = "character",
    default = "text",
    metavar = "text|csv|json"
  ),
  by = list(
    "--by",
    type = "character",
    metavar = "COLUMN"
  ),
  sort = list(
    "--sort",
    type = "character",
    metavar = "COLUMN"
  ),
  item = list(
    "--item",
    type = "character",
    metavar = "ITEM"
  ),
  student = list(
    "--student",
    type = "character",
    metavar = "ID"
  ),
  only = list(
    "--only",
    type = "character",
    metavar = "COLUMN=VALUE"
  ),
  out = list(
    "--out",
    type = "character",
    metavar = "FILE"
  ),
  `for` = list(
    "--for",
    type = "character",
    default = "teacher",
    metavar = "teacher|coordinator|head"
  ),
  parts = list(
    "--parts",
    type = "character",
    metavar = "PARTS"
  ),
  anew = list(
    "--anew",
    action = "store_true"
  ),
  workers = list(
    "--plan",
    type = "character",
    metavar = "PLAN"
  ),
  each = list(
    "--each",
    type = "character",
    metavar = "COLUMN"
  ),
  paper = list(
    "--paper",
    type = "character",
    default = "A4",
    metavar = "A4|letter"
  ),
  `slips-as` = list(
    "--as",
    type = "character",
    default = "html",
    metavar = "html|pdf"
  ),
  mail = list(
    "--mail",
    action = "store_true",
    default = FALSE
  ),
  send = list(
    "--send",
    type = "character",
    metavar = "smtp://HOST:PORT"
  ),
  unencrypted = list(
    "--unencrypted",
    action = "store_true",
    default = FALSE
  ),
  `mail-from` = list(
    "--sender",
    type = "character",
    metavar = "ADDRESS"
  ),
  as = list(
    "--as",
    type = "character",
    default = "qti",
    metavar = "qti|case|long|oneroster|xapi"
  ),
  version = list(
    "--version",
    type = "character",
    metavar = "VERSION"
  ),
  picture = list(
    "--of",
    type = "character",
    default = "spread",
    metavar = "PICTURE"
  ),
  `picture-as` = list(
    "--as",
    type = "character",
    default = "svg",
    metavar = "svg|png|pdf"
  ),
  back = list(
    "--back",
    type = "character",
    metavar = "FILE"
  ),
  replace = list(
    "--replace",
    action = "store_true",
    default = FALSE
  ),
  from = list(
    "--from",
    type = "character",
    metavar = "FILE..."
  ),
  source = list(
    "--from",
    type = "character",
    metavar = "PATH"
  ),
  used = list(
    "--used",
    type = "character",
    metavar = "FOLDER"
  ),
  `used-record` = list(
    "--record",
    type = "character",
    metavar = "FILE"
  ),
  length = list(
    "--length",
    type = "integer",
    metavar = "N"
  ),
  forms = list(
    "--forms",
    type = "character",
    default = "one",
    metavar = "one|group"
  ),
  students = list(
    "--students",
    type = "character",
    metavar = "FILE"
  ),
  standards = list(
    "--standards",
    type = "character",
    metavar = "FILE"
  ),
  like = list(
    "--like",
    type = "character",
    metavar = "FOLDER"
  ),
  sheet = list(
    "--sheet",
    type = "character",
    metavar = "NAME"
  ),
  take = list(
    "--take",
    type = "character",
    metavar = "N"
  ),
  preview = list(
    "--preview",
    action = "store_true",
    default = FALSE
  ),
  set = list(
    "--set",
    type = "character",
    metavar = "WHAT=NAME"
  ),
  `no-names` = list(
    "--no-names",
    action = "store_true",
    default = FALSE
  ),
  key = list(
    "--key",
    type = "character",
    metavar = "FILE|ITEM=KEY"
  ),
  accept = list(
    "--accept",
    type = "character",
    metavar = "ITEM=ANSWER"
  ),
  drop = list(
    "--drop",
    type = "character",
    metavar = "ITEM"
  ),
  credit = list(
    "--credit",
    type = "character",
    metavar = "ITEM"
  ),
  points = list(
    "--points",
    type = "character",
    metavar = "POINTS"
  ),
  excuse = list(
    "--excuse",
    action = "store_true",
    default = FALSE
  ),
  extra = list(
    "--extra",
    type = "character",
    metavar = "POINTS"
  ),
  comment = list(
    "--comment",
    type = "character",
    metavar = "TEXT"
  ),
  group = list(
    "--group",
    type = "character",
    metavar = "PLACE"
  ),
  undo = list(
    "--undo",
    type = "character",
    metavar = "LINE",
    bare = "last" # what it says where no number follows
  ),
  `undo-step` = list(
    "--undo",
    action = "store_true",
    default = FALSE
  ),
  again = list(
    "--again",
    type = "character",
    metavar = "attempt|skip|replace"
  ),
  reason = list("--reason", type = "character", metavar = "TEXT"),
  apply = list(
    "--apply",
    action = "store_true",
    default = FALSE
  ),
  about = list(
    "--about",
    type = "character",
    default = "students",
    metavar = "students|test|items"
  ),
  review = list(
    "--review",
    action = "store_true",
    default = FALSE
  ),
  keys = list(
    "--keys",
    action = "store_true",
    default = FALSE
  ),
  close = list(
    "--close",
    action = "store_true",
    default = FALSE
  ),
  before = list(
    "--before",
    type = "character",
    metavar = "FOLDER"
  ),
  bootstrap = list(
    "--bootstrap",
    type = "integer",
    metavar = "N"
  ),
  target = list(
    "--target",
    type = "double",
    metavar = "ALPHA"
  ),
  cut = list(
    "--cut",
    type = "character",
    metavar = "SHARE"
  ),
  strata = list(
    "--strata",
    type = "character",
    metavar = "COLUMN"
  ),
  reference = list(
    "--reference",
    type = "character",
    metavar = "GROUP"
  ),
  focal = list(
    "--focal",
    type = "character",
    metavar = "GROUP"
  ),
  most = list(
    "--most",
    type = "integer",
    metavar = "N"
  ),
  who = list(
    "--who",
    action = "store_true",
    default = FALSE
  ),
  whole = list(
    "--whole",
    action = "store_true",
    default = FALSE
  ),
  basis = list(
    "--basis",
    type = "character",
    metavar = "BASIS"
  ),
  size = list(
    "--size",
    type = "integer",
    metavar = "N"
  ),
  `per-standard` = list(
    "--per-standard",
    type = "integer",
    metavar = "N"
  ),
  least = list(
    "--least",
    type = "integer",
    metavar = "N"
  ),
  groups = list(
    "--groups",
    type = "integer",
    metavar = "N"
  ),
  tagged = list(
    "--tag",
    type = "character",
    metavar = "COLUMN"
  ),
  grid = list(
    "--grid",
    action = "store_true",
    default = FALSE,
    also = "all" # a word that may follow a switch, and says no more than it
  ),
  below = list(
    "--below",
    type = "character",
    metavar = "LEVEL"
  ),
  answers = list(
    "--answers",
    type = "character",
    default = "all",
    metavar = "all|wrong|right|none"
  ),
  uncoded = list(
    "--uncoded",
    action = "store_true",
    default = FALSE
  ),
  guessing = list(
    "--guessing",
    action = "store_true",
    default = FALSE
  ),
  status = list(
    "--status",
    type = "character",
    metavar = "STATUS"
  ),
  record = list(
    "--record",
    type = "character",
    default = "record.sqlite",
    metavar = "FILE"
  ),
  name = list(
    "--name",
    type = "character",
    metavar = "NAME"
  ),
  history = list(
    "--history",
    action = "store_true",
    default = FALSE
  ),
  section = list(
    "--section",
    type = "character",
    metavar = "SECTION"
  ),
  skills = list(
    "--skills",
    type = "character",
    default = "last",
    metavar = "last|all"
  ),
  window = list(
    "--window",
    type = "character",
    metavar = "WINDOW"
  ),
  ladder = list(
    "--ladder",
    type = "character",
    metavar = "CODE,CODE..."
  ),
  helped = list(
    "--helped",
    action = "store_true",
    default = FALSE
  ),
  choose = list(
    "--choose",
    type = "character",
    metavar = "CUT"
  ),
  judges = list(
    "--judges",
    action = "store_true",
    default = FALSE
  ),
  level = list(
    "--level",
    type = "character",
    metavar = "LEVEL"
  ),
  sheets = list(
    "--sheets",
    type = "character",
    metavar = "FILE,FILE"
  ),
  pairs = list(
    "--pairs",
    action = "store_true",
    default = FALSE
  ),
  slopes = list(
    "--slopes",
    action = "store_true",
    default = FALSE
  ),
  scale = list(
    "--scale",
    type = "character",
    metavar = "NAME"
  ),
  since = list(
    "--since",
    type = "character",
    metavar = "DATE"
  ),
  until = list(
    "--until",
    type = "character",
    metavar = "DATE"
  ),
  kind = list(
    "--kind",
    type = "character",
    metavar = "KIND"
  ),
  bank = list(
    "--bank",
    type = "character",
    default = "item-bank.sqlite",
    metavar = "FILE"
  ),
  missed = list(
    "--missed",
    type = "integer",
    metavar = "N"
  ),
  sound = list(
    "--sound",
    action = "store_true",
    default = FALSE
  ),
  standard = list(
    "--standard",
    type = "character",
    metavar = "CODE"
  ),
  type = list(
    "--type",
    type = "character",
    metavar = "TYPE"
  ),
  difficulty = list(
    "--difficulty",
    type = "character",
    metavar = "LOW..HIGH"
  ),
  discrimination = list(
    "--discrimination",
    type = "character",
    metavar = "LOW..HIGH"
  ),
  port = list(
    "--port",
    type = "character",
    metavar = "NUMBER"
  ),
  `no-browser` = list(
    "--no-browser",
    action = "store_true",
    default = FALSE
  ),
  class = list("--class", action = "store_true", default = FALSE),
  minutes = list("--minutes", type = "character", metavar = "NUMBER"),
  to = list("--to", type = "character", metavar = "URL"),
  token = list("--token", type = "character", metavar = "URL"),
  `roster-from` = list("--from", type = "character", metavar = "URL"),
  `class-ids` = list("--classes", type = "character", metavar = "ID,ID"),
  `send-as` = list(
    "--as",
    type = "character",
    default = "xapi",
    metavar = "xapi|oneroster"
  ),
  people = list("--people", type = "character", metavar = "FILE"),
  interface = list("--interface", type = "character", metavar = "NUMBER"),
  address = list("--address", type = "character", metavar = "URL")
)

# Changes of questions: adjust makes them, what-if tries them.
change_flags <- c("key", "accept", "drop", "credit")

# Options that may be said several times.
options_of_several <- c(
  "only", change_flags, "by", "item", "student", "standard", "section", "kind", "from",
  "used", "focal", "class-ids", "set"
)
between_repeated <- "\u001f"

split_repeated <- function(value) {
  if (length(value)) strsplit(value, between_repeated, fixed = TRUE)[[1]]
}

# What --key is given: keys named by their items, or the path of a file.
# known: the items of the test, if it is there.
key_asked <- function(said, known = NULL) {
  if (is.null(said)) return(NULL)
  words <- split_repeated(said)
  is_pair <- grepl("=", words, fixed = TRUE)
  is_file <- file.exists(words) |
    (!is_pair & (is.null(known) | grepl("[.][[:alpha:]]+$", words)))
  if (!any(is_file)) return(read_pairs_of(said, "--key", known))
  if (length(words) == 1) return(words)
  abort_pregunta("call", say("cli-options.one_file_of_keys", said = words[is_file][1]))
}

# ITEM=VALUE, or several, as values named by their items. known: names that may hold a =
# of their own.
read_pairs_of <- function(value, flag, known = NULL) {
  said <- unlist(lapply(split_repeated(value), split_pairs, known))
  if (!length(said)) return(NULL)
  at <- vapply(said, function(one) {
    places <- gregexpr("=", one, fixed = TRUE)[[1]]
    is_known <- trimws(substring(one, 1, places - 1)) %in% known
    c(places[is_known], places)[1]
  }, 0L, USE.NAMES = FALSE)
  wrong <- which(at < 2 | at == nchar(said))
  if (length(wrong)) {
    abort_pregunta(
      "call",
      say("cli-options.needs_an_item_and", flag = flag),
      say("cli-options.given", said = said[wrong[1]]),
      say("cli-options.for_example_q7_c", flag = flag)
    )
  }
  stats::setNames(
    trimws(substring(said, at + 1)),
    trimws(substr(said, 1, at - 1))
  )
}

# A=1,B=2 taken apart where what follows a comma names an item; an answer may hold one.
split_pairs <- function(said, known = NULL) {
  pieces <- strsplit(said, ",", fixed = TRUE)[[1]]
  if (length(pieces) < 2) return(said)
  starts <- if (is.null(known)) {
    grepl("=", pieces, fixed = TRUE)
  } else {
    begins <- paste0(known, "=")
    vapply(trimws(pieces), function(piece) any(startsWith(piece, begins)), TRUE)
  }
  pairs <- split(pieces, cumsum(starts))
  vapply(pairs, paste, "", collapse = ",", USE.NAMES = FALSE)
}

split_commas <- function(value) {
  if (!length(value)) return(NULL)
  words <- trimws(unlist(strsplit(split_repeated(value), ",", fixed = TRUE)))
  words[nzchar(words)]
}
