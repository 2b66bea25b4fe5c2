# The options that verbs take. A name is the verb's; the flag may mean something
# else to another verb (--key is a file to new, a change to adjust).

command_options <- list(
  format = list(
    "--format",
    type = "character",
    default = "text",
    metavar = "text|csv|json",
    help = "how the table is written [text]"
  ),
  by = list(
    "--by",
    type = "character",
    metavar = "COLUMN",
    help = paste0(
      "apart for each value of a column of the students; teacher,section for each ",
      "section within each teacher"
    )
  ),
  sort = list(
    "--sort",
    type = "character",
    metavar = "COLUMN",
    help = "order of the rows; --sort=-COLUMN turns it round"
  ),
  item = list(
    "--item",
    type = "character",
    metavar = "ITEM",
    help = "only this question (more with commas)"
  ),
  student = list(
    "--student",
    type = "character",
    metavar = "ID",
    help = "only this student (more with commas)"
  ),
  only = list(
    "--only",
    type = "character",
    metavar = "COLUMN=VALUE",
    help = paste(
      paste0(
        "only the students or questions of which this holds, such as section=A,B or ",
        "type=choice or"
      ),
      "\"submitted>=2026-10-05\"; more by saying it again"
    )
  ),
  out = list(
    "--out",
    type = "character",
    metavar = "FILE",
    help = "write to a file instead of the screen"
  ),
  `for` = list(
    "--for",
    type = "character",
    default = "teacher",
    metavar = "teacher|coordinator|head",
    help = "whom the report is for [teacher]"
  ),
  parts = list(
    "--parts",
    type = "character",
    metavar = "PARTS",
    help = paste0(
      "of a slip, with commas: message,score,standards,next,answers,why,comments (all ",
      "of these), place"
    )
  ),
  paper = list(
    "--paper",
    type = "character",
    default = "A4",
    metavar = "A4|letter",
    help = "the sheet [A4]"
  ),
  `slips-as` = list(
    "--as",
    type = "character",
    default = "html",
    metavar = "html|pdf",
    help = "a page to print, or a PDF by an installed Chromium [html]"
  ),
  mail = list(
    "--mail",
    action = "store_true",
    default = FALSE,
    help = "a draft to each guardian_email instead; nothing is sent"
  ),
  send = list(
    "--send",
    type = "character",
    metavar = "smtp://HOST:PORT",
    help = "send the mail by this server"
  ),
  `mail-from` = list(
    "--from",
    type = "character",
    metavar = "ADDRESS",
    help = "your own address, for mail"
  ),
  as = list(
    "--as",
    type = "character",
    default = "qti",
    metavar = "qti|case|long|oneroster",
    help = paste(
      paste0(
        "questions and results as QTI, standards as CASE, a row for each student and ",
        "question, or scores as"
      ),
      "OneRoster CSV [qti]"
    )
  ),
  picture = list(
    "--of",
    type = "character",
    default = "spread",
    metavar = "PICTURE",
    help = paste0(
      "spread, items, options, grid, standards, levels, precision, lengths, ",
      "misconceptions, or all [spread]"
    )
  ),
  `picture-as` = list(
    "--as",
    type = "character",
    default = "svg",
    metavar = "svg|png|pdf",
    help = "the kind of file, where --out does not say [svg]"
  ),
  back = list(
    "--back",
    type = "character",
    metavar = "FILE",
    help = "read a filled-in sheet (CSV or .xlsx) back"
  ),
  from = list(
    "--from",
    type = "character",
    metavar = "FILE...",
    help = "the exports: CSV, text, .xlsx, QTI, xAPI, zip; several become one sitting"
  ),
  source = list(
    "--from",
    type = "character",
    metavar = "PATH",
    help = "draw from this folder or items.csv instead of a bank"
  ),
  used = list(
    "--used",
    type = "character",
    metavar = "FOLDER",
    help = "tests whose questions they had as well (more with commas)"
  ),
  `used-record` = list(
    "--record",
    type = "character",
    metavar = "FILE",
    help = "what they had in any test of this record is used as well"
  ),
  length = list(
    "--length",
    type = "integer",
    metavar = "N",
    help = "how many questions [8]"
  ),
  forms = list(
    "--forms",
    type = "character",
    default = "one",
    metavar = "one|group",
    help = "one form for all, or one for each group of students with the same need [one]"
  ),
  `key-file` = list(
    "--key",
    type = "character",
    metavar = "FILE",
    help = "a key: columns item and key, or a line of answers"
  ),
  students = list(
    "--students",
    type = "character",
    metavar = "FILE",
    help = "a list of students, or OneRoster CSV"
  ),
  standards = list(
    "--standards",
    type = "character",
    metavar = "FILE",
    help = "code, parent, title; or CASE"
  ),
  like = list(
    "--like",
    type = "character",
    metavar = "FOLDER",
    help = "take over the layout, settings, standards and students of an earlier test"
  ),
  sheet = list(
    "--sheet",
    type = "character",
    metavar = "NAME",
    help = "the sheet of a workbook"
  ),
  set = list(
    "--set",
    type = "character",
    metavar = "WHAT=NAME",
    help = "say what a column is, such as --set student=Code (more with ; between)"
  ),
  `no-names` = list(
    "--no-names",
    action = "store_true",
    default = FALSE,
    help = "no name and no id of a student in the file"
  ),
  key = list(
    "--key",
    type = "character",
    metavar = "ITEM=KEY",
    help = "the item's key is this; more by saying it again"
  ),
  accept = list(
    "--accept",
    type = "character",
    metavar = "ITEM=ANSWER",
    help = "this answer is right too"
  ),
  drop = list(
    "--drop",
    type = "character",
    metavar = "ITEM",
    help = "the item does not count"
  ),
  credit = list(
    "--credit",
    type = "character",
    metavar = "ITEM",
    help = "the item earns everybody its points"
  ),
  points = list(
    "--points",
    type = "character",
    metavar = "POINTS",
    help = "what the answer of --student to --item earns"
  ),
  excuse = list(
    "--excuse",
    action = "store_true",
    default = FALSE,
    help = "--student is excused from --item, or without it from the whole test"
  ),
  extra = list(
    "--extra",
    type = "character",
    metavar = "POINTS",
    help = "extra points for --student, or without it for all"
  ),
  comment = list(
    "--comment",
    type = "character",
    metavar = "TEXT",
    help = "for --student to read, on --item"
  ),
  undo = list(
    "--undo",
    type = "character",
    metavar = "LINE",
    help = "take back the change of this line of the list"
  ),
  reason = list("--reason", type = "character", metavar = "TEXT", help = "why"),
  apply = list(
    "--apply",
    action = "store_true",
    default = FALSE,
    help = "make the changes"
  ),
  about = list(
    "--about",
    type = "character",
    default = "students",
    metavar = "students|test|items",
    help = "which of the tables as CSV or JSON [students]"
  ),
  review = list(
    "--review",
    action = "store_true",
    default = FALSE,
    help = "a verdict on each question: what happened, and what to do"
  ),
  keys = list(
    "--keys",
    action = "store_true",
    default = FALSE,
    help = "the keys that are in doubt, and what a change would do"
  ),
  close = list(
    "--close",
    action = "store_true",
    default = FALSE,
    help = "write what came of it into plan.csv of the earlier test"
  ),
  before = list(
    "--before",
    type = "character",
    metavar = "FOLDER",
    help = "with --review: the same questions before teaching"
  ),
  bootstrap = list(
    "--bootstrap",
    type = "integer",
    metavar = "N",
    help = "replicates for intervals of resampled students; 0 for none"
  ),
  target = list(
    "--target",
    type = "double",
    metavar = "ALPHA",
    help = "the reliability to reach [0.8]"
  ),
  cut = list(
    "--cut",
    type = "character",
    metavar = "SHARE",
    help = "a cut such as 0.7 or 70% (more with commas) instead of those of the levels"
  ),
  strata = list(
    "--strata",
    type = "character",
    metavar = "COLUMN",
    help = "standards, type, or a column of items.csv [standards]"
  ),
  reference = list(
    "--reference",
    type = "character",
    metavar = "GROUP",
    help = "compare with this group [the largest]"
  ),
  focal = list(
    "--focal",
    type = "character",
    metavar = "GROUP",
    help = "look at this group [all others]"
  ),
  most = list(
    "--most",
    type = "integer",
    metavar = "N",
    help = "only the N hardest questions, or the N most pressing standards"
  ),
  who = list(
    "--who",
    action = "store_true",
    default = FALSE,
    help = "the students who gave each answer"
  ),
  whole = list(
    "--whole",
    action = "store_true",
    default = FALSE,
    help = paste0(
      "answers of several parts (sets, orders, pairs) as wholes, with the slip that ",
      "explains them"
    )
  ),
  basis = list(
    "--basis",
    type = "character",
    metavar = "BASIS",
    help = "need, score or mixed [need]"
  ),
  size = list(
    "--size",
    type = "integer",
    metavar = "N",
    help = "the most students in a group [6]"
  ),
  least = list(
    "--least",
    type = "integer",
    metavar = "N",
    help = "the fewest students in a group by need, or questions on a standard [2]"
  ),
  groups = list(
    "--groups",
    type = "integer",
    metavar = "N",
    help = "the number of groups, by need the most"
  ),
  tagged = list(
    "--tag",
    type = "character",
    metavar = "COLUMN",
    help = paste0(
      "by the values of this column of the items instead of standards: type, or a tag ",
      "of your own"
    )
  ),
  grid = list(
    "--grid",
    action = "store_true",
    default = FALSE,
    help = "students down, standards across"
  ),
  below = list(
    "--below",
    type = "character",
    metavar = "LEVEL",
    help = "only who has not reached this level"
  ),
  answers = list(
    "--answers",
    type = "character",
    default = "all",
    metavar = "all|wrong|right|none",
    help = "with --student: which of the answers [all]"
  ),
  uncoded = list(
    "--uncoded",
    action = "store_true",
    default = FALSE,
    help = "wrong answers without a code that the same students chose, more than chance"
  ),
  guessing = list(
    "--guessing",
    action = "store_true",
    default = FALSE,
    help = "who does no better than guessing, and who is wrong in one direction"
  ),
  status = list(
    "--status",
    type = "character",
    metavar = "STATUS",
    help = paste0(
      "only those: sat, late, unfinished, waiting, absent, excused, or missing (has yet ",
      "to sit or finish)"
    )
  ),
  record = list(
    "--record",
    type = "character",
    default = "record.sqlite",
    metavar = "FILE",
    help = paste0(
      "the file of the record, or postgresql://HOST/NAME; record.yml beside it names ",
      "windows and ladders"
    )
  ),
  name = list(
    "--name",
    type = "character",
    metavar = "NAME",
    help = "what the test is called in the record [its folder's name]"
  ),
  history = list(
    "--history",
    action = "store_true",
    default = FALSE,
    help = "with what was replaced"
  ),
  section = list(
    "--section",
    type = "character",
    metavar = "SECTION",
    help = "only this section (more with commas)"
  ),
  skills = list(
    "--skills",
    type = "character",
    default = "last",
    metavar = "last|all",
    help = "only what the last test covered, or all there is [last]"
  ),
  window = list(
    "--window",
    type = "character",
    metavar = "WINDOW",
    help = "this window of the year [the last]"
  ),
  ladder = list(
    "--ladder",
    type = "character",
    metavar = "CODE,CODE...",
    help = "skills from the first to the last, instead of the ladders of record.yml"
  ),
  since = list(
    "--since",
    type = "character",
    metavar = "DATE",
    help = "only tests from this day on"
  ),
  until = list(
    "--until",
    type = "character",
    metavar = "DATE",
    help = "only tests up to this day"
  ),
  kind = list(
    "--kind",
    type = "character",
    metavar = "KIND",
    help = "only tests of this kind (more with commas)"
  ),
  bank = list(
    "--bank",
    type = "character",
    default = "item-bank.sqlite",
    metavar = "FILE",
    help = "the file of the bank [item-bank.sqlite]"
  ),
  items = list(
    "--items",
    type = "character",
    metavar = "ITEM",
    help = "keep these (more with commas)"
  ),
  missed = list(
    "--missed",
    type = "integer",
    metavar = "N",
    help = "keep the N questions with the fewest points earned"
  ),
  sound = list(
    "--sound",
    action = "store_true",
    default = FALSE,
    help = "keep all that tell strong from weak and have nothing against them"
  ),
  standard = list(
    "--standard",
    type = "character",
    metavar = "CODE",
    help = "only this standard and its parts"
  ),
  tag = list(
    "--tag",
    type = "character",
    metavar = "COLUMN=VALUE",
    help = "only with this tag; more by saying it again"
  ),
  type = list(
    "--type",
    type = "character",
    metavar = "TYPE",
    help = "only this type of question"
  ),
  difficulty = list(
    "--difficulty",
    type = "character",
    metavar = "LOW..HIGH",
    help = paste(
      "only with a difficulty (share of points earned) in this range,",
      "such as 0.3..0.8"
    )
  ),
  discrimination = list(
    "--discrimination",
    type = "character",
    metavar = "LOW..HIGH",
    help = "only with a discrimination in this range, such as 0.3..1"
  )
)

# Changes of questions: adjust makes them, what-if tries them.
change_flags <- c("key", "accept", "drop", "credit")

# An option said several times holds all that was said.
repeated <- c("--only", "--key", "--accept", "--drop", "--credit", "--tag")
between_repeated <- "\u001f"

gather_repeated <- function(arguments) {
  for (flag in repeated) {
    joined <- which(startsWith(arguments, paste0(flag, "=")))
    apart <- which(arguments == flag)
    apart <- apart[apart < length(arguments)]
    if (length(joined) + length(apart) < 2) next
    at <- sort(c(joined, apart))
    value <- ifelse(
      at %in% joined,
      substring(arguments[at], nchar(flag) + 2),
      arguments[at + 1]
    )
    kept <- arguments[-c(joined, apart, apart + 1)]
    arguments <- c(paste0(flag, "=", paste(value, collapse = between_repeated)), kept)
  }
  arguments
}

split_repeated <- function(value) {
  if (length(value)) strsplit(value, between_repeated, fixed = TRUE)[[1]]
}

# ITEM=VALUE, or several, as values named by their items.
read_pairs_of <- function(value, flag) {
  said <- split_repeated(value)
  if (!length(said)) return(NULL)
  at <- regexpr("=", said, fixed = TRUE)
  wrong <- which(at < 2 | at == nchar(said))
  if (length(wrong)) {
    abort_pregunta(
      "call",
      paste0(flag, " needs an item and a value with = between."),
      paste0("Given: ", said[wrong[1]]),
      paste0("For example: ", flag, " Q7=C")
    )
  }
  stats::setNames(trimws(substring(said, at + 1)), trimws(substr(said, 1, at - 1)))
}

split_commas <- function(value) {
  if (!length(value)) return(NULL)
  words <- trimws(unlist(strsplit(split_repeated(value), ",", fixed = TRUE)))
  words[nzchar(words)]
}
