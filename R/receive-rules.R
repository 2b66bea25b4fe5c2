# What the standard (xAPI 1.0.3, and IEEE 9274.1.1, which is its 2.0) asks of a statement,
# as rules put together: each takes a value and its place and gives the first fault, or
# NULL. A fault is a code (words: faults), the place and the value.

statement_fault <- function(statement) {
  fault <- rule_of_statement(statement, NULL)
  if (is.null(fault)) context_fault(statement) else fault
}

new_fault <- function(code, place, value = NULL) {
  list(code = code, place = place, value = value)
}

# ---- kinds of rule ---------------------------------------------------------------

is_object <- function(value) is.list(value) && !is.null(names(value))
is_array <- function(value) is.list(value) && is.null(names(value))

# A text of a form.
text_like <- function(code, pattern) {
  force(pattern)
  function(value, place) {
    fits <- is.character(value) && length(value) == 1 &&
      grepl(pattern, value, perl = TRUE)
    if (!fits) new_fault(code, place, value)
  }
}

one_kind <- function(code, is_kind) {
  force(is_kind)
  function(value, place) {
    if (!(length(value) == 1 && is_kind(value))) new_fault(code, place, value)
  }
}

one_of <- function(choices) {
  function(value, place) {
    known <- is.character(value) && length(value) == 1 && value %in% choices
    if (!known) new_fault("choice", place, value)
  }
}

no_fault <- function(value, place) NULL

# An object that has the fields of must, and others of those named only.
object_of <- function(..., must = character(), also = no_fault) {
  rules <- list(...)
  function(value, place) {
    if (!is_object(value)) return(new_fault("object", place, value))
    fault <- names_fault(names(value), names(rules), must, place)
    for (name in names(value)) {
      if (!is.null(fault)) return(fault)
      fault <- field_fault(rules[[name]], value[[name]], c(place, name))
    }
    if (is.null(fault)) also(value, place) else fault
  }
}

names_fault <- function(given, known, must, place) {
  strange <- setdiff(given, known)
  twice <- given[duplicated(given)]
  missing <- setdiff(must, given)
  if (length(strange)) return(new_fault("unknown", c(place, strange[1])))
  if (length(twice)) return(new_fault("once", c(place, twice[1])))
  if (length(missing)) new_fault("must", c(place, missing[1]))
}

field_fault <- function(rule, value, place) {
  if (is.null(value)) new_fault("empty", place) else rule(value, place)
}

array_of <- function(rule, also = no_fault) {
  function(value, place) {
    if (!is_array(value)) return(new_fault("array", place, value))
    for (k in seq_along(value)) {
      fault <- field_fault(rule, value[[k]], c(place, k))
      if (!is.null(fault)) return(fault)
    }
    also(value, place)
  }
}

# An object of which every name and every value is of a form.
map_of <- function(code, pattern, rule) {
  function(value, place) {
    if (!is_object(value)) return(new_fault("object", place, value))
    for (name in names(value)) {
      fits <- grepl(pattern, name, perl = TRUE)
      fault <- if (fits) {
        rule(value[[name]], c(place, name))
      } else {
        new_fault(code, c(place, name))
      }
      if (!is.null(fault)) return(fault)
    }
    twice <- names(value)[duplicated(names(value))]
    if (length(twice)) new_fault("once", c(place, twice[1]))
  }
}

# One after the other, the first fault counts.
all_rules <- function(...) {
  rules <- list(...)
  function(value, place) {
    for (rule in rules) {
      fault <- rule(value, place)
      if (!is.null(fault)) return(fault)
    }
  }
}

# Another rule for each objectType; without one it is the first.
by_object_type <- function(...) {
  rules <- list(...)
  function(value, place) {
    if (!is_object(value)) return(new_fault("object", place, value))
    type <- value$objectType
    if (is.null(type)) type <- names(rules)[1]
    known <- is.character(type) && length(type) == 1 && type %in% names(rules)
    if (!known) return(new_fault("choice", c(place, "objectType"), type))
    rules[[type]](value, place)
  }
}

# ---- forms -----------------------------------------------------------------------

iri_form <- "^[A-Za-z][A-Za-z0-9+.-]*:[^\\s<>\"{}|\\\\^`]+$"
tag_form <- "^[A-Za-z]{1,8}(-[A-Za-z0-9]{1,8})*$"
date_form <- "^[0-9]{4}-(0[1-9]|1[0-2])-(0[1-9]|[12][0-9]|3[01])"
clock_form <- "([01][0-9]|2[0-3]):[0-5][0-9](:([0-5][0-9]|60)([.,][0-9]+)?)?"
zone_form <- "(Z|[+][0-9]{2}(:?[0-9]{2})?|-(?!00(:?00)?$)[0-9]{2}(:?[0-9]{2})?)?$"
duration_form <- paste0(
  "^P(?=[0-9T])([0-9]+([.][0-9]+)?W|([0-9]+([.][0-9]+)?Y)?([0-9]+([.][0-9]+)?M)?",
  "([0-9]+([.][0-9]+)?D)?(T(?=[0-9])([0-9]+([.][0-9]+)?H)?([0-9]+([.][0-9]+)?M)?",
  "([0-9]+([.][0-9]+)?S)?)?)$"
)

is_iri <- text_like("iri", iri_form)
is_uuid <- text_like("uuid", uuid_form)
is_language_tag <- text_like("tag", tag_form)
is_moment <- text_like("moment", paste0(date_form, "[Tt\\s]", clock_form, zone_form))
is_length_of_time <- text_like("duration", duration_form)
is_mbox <- text_like("mbox", "^mailto:[^@\\s]+@[^@\\s]+$")
is_digest <- text_like("digest", "^[0-9A-Fa-f]{40}$")
is_sum <- text_like("digest", "^[0-9A-Fa-f]{56,128}$")
is_version <- text_like("version", "^(1[.]0|2[.]0)([.][0-9]+)?$")
any_text <- one_kind("text", is.character)
any_number <- one_kind("number", is.numeric)
any_truth <- one_kind("truth", function(value) is.logical(value) && !is.na(value))
language_map <- map_of("tag", tag_form, any_text)
extensions <- map_of("iri", iri_form, no_fault)

# ---- who -------------------------------------------------------------------------

names_of_one <- c("mbox", "mbox_sha1sum", "openid", "account")

# Who is named is named in one way.
one_name_only <- function(least) {
  function(value, place) {
    n <- length(intersect(names(value), names_of_one))
    if (n < least || n > 1) new_fault("name_of_one", place)
  }
}

an_account <- object_of(
  homePage = is_iri, name = any_text, must = c("homePage", "name")
)

an_agent <- object_of(
  objectType = one_of("Agent"), name = any_text, mbox = is_mbox, mbox_sha1sum = is_digest,
  openid = is_iri, account = an_account, also = one_name_only(1)
)

# Without a name of its own a group is told by its members.
a_group <- object_of(
  objectType = one_of("Group"), name = any_text, mbox = is_mbox, mbox_sha1sum = is_digest,
  openid = is_iri, account = an_account, member = array_of(an_agent), must = "objectType",
  also = function(value, place) {
    fault <- one_name_only(0)(value, place)
    named <- any(names_of_one %in% names(value))
    if (is.null(fault) && !named && is.null(value$member)) {
      fault <- new_fault("must", c(place, "member"))
    }
    fault
  }
)

an_actor <- by_object_type(Agent = an_agent, Group = a_group)

# ---- what was done ---------------------------------------------------------------

a_verb <- object_of(id = is_iri, display = language_map, must = "id")

kinds_of_interaction <- c(
  "true-false", "choice", "fill-in", "long-fill-in", "matching", "performance",
  "sequencing", "likert", "numeric", "other"
)

choice_lists <- c("choices", "scale", "source", "target", "steps")

components <- array_of(
  object_of(id = any_text, description = language_map, must = "id"),
  also = function(value, place) {
    ids <- vapply(value, function(one) one$id, "")
    if (anyDuplicated(ids)) new_fault("once", c(place, anyDuplicated(ids), "id"))
  }
)

a_definition <- object_of(
  name = language_map, description = language_map, type = is_iri, moreInfo = is_iri,
  extensions = extensions, interactionType = one_of(kinds_of_interaction),
  correctResponsesPattern = array_of(any_text), choices = components,
  scale = components, source = components, target = components, steps = components,
  also = function(value, place) {
    asks <- c("correctResponsesPattern", choice_lists)
    if (is.null(value$interactionType) && any(asks %in% names(value))) {
      new_fault("must", c(place, "interactionType"))
    }
  }
)

an_activity <- object_of(
  objectType = one_of("Activity"), id = is_iri, definition = a_definition, must = "id"
)

a_reference <- object_of(
  objectType = one_of("StatementRef"), id = is_uuid, must = c("objectType", "id")
)

a_score <- object_of(
  scaled = any_number, raw = any_number, min = any_number, max = any_number,
  also = function(value, place) {
    if (!is.null(value$scaled) && abs(value$scaled) > 1) {
      return(new_fault("scaled", c(place, "scaled"), value$scaled))
    }
    low <- if (is.null(value$min)) -Inf else value$min
    high <- if (is.null(value$max)) Inf else value$max
    raw <- if (is.null(value$raw)) low else value$raw
    if (low >= high) return(new_fault("score", c(place, "max"), value$max))
    if (raw < low || raw > high) new_fault("score", c(place, "raw"), value$raw)
  }
)

a_result <- object_of(
  score = a_score, success = any_truth, completion = any_truth, response = any_text,
  duration = is_length_of_time, extensions = extensions
)

# One activity, or an array of them.
activities <- function(value, place) {
  if (is_array(value)) array_of(an_activity)(value, place) else an_activity(value, place)
}

a_context <- object_of(
  registration = is_uuid, instructor = an_actor,
  team = all_rules(an_actor, function(value, place) {
    if (!identical(value$objectType, "Group")) new_fault("choice", c(place, "objectType"))
  }),
  contextActivities = object_of(
    parent = activities, grouping = activities, category = activities,
    other = activities
  ),
  contextAgents = array_of(no_fault),
  contextGroups = array_of(no_fault),
  revision = any_text, platform = any_text, language = is_language_tag,
  statement = a_reference, extensions = extensions
)

a_part <- object_of(
  objectType = one_of("SubStatement"), actor = an_actor, verb = a_verb,
  object = by_object_type(
    Activity = an_activity, Agent = an_agent, Group = a_group, StatementRef = a_reference
  ),
  result = a_result, context = a_context, timestamp = is_moment,
  must = c("objectType", "actor", "verb", "object"),
  also = function(value, place) context_fault(value, place)
)

# What is not written into the statement would have to come beside it, which this
# address does not take.
an_attachment <- object_of(
  usageType = is_iri, display = language_map, description = language_map,
  contentType = any_text, length = any_number, sha2 = is_sum, fileUrl = is_iri,
  must = c("usageType", "display", "contentType", "length", "sha2", "fileUrl")
)

an_object <- by_object_type(
  Activity = an_activity, Agent = an_agent, Group = a_group, StatementRef = a_reference,
  SubStatement = a_part
)

rule_of_statement <- object_of(
  id = is_uuid, actor = an_actor, verb = a_verb, object = an_object,
  result = a_result, context = a_context, timestamp = is_moment, stored = is_moment,
  authority = an_actor, version = is_version, attachments = array_of(an_attachment),
  must = c("actor", "verb", "object"),
  also = function(value, place) {
    voids <- is_voiding(value)
    if (voids && !identical(value$object$objectType, "StatementRef")) {
      new_fault("voiding", "object")
    }
  }
)

void_verb <- "http://adlnet.gov/expapi/verbs/voided"

is_voiding <- function(statement) identical(statement$verb$id, void_verb)

# Which edition and which system: of an activity only.
context_fault <- function(statement, place = NULL) {
  about <- intersect(c("revision", "platform"), names(statement$context))
  type <- statement$object$objectType
  if (length(about) && !is.null(type) && type != "Activity") {
    new_fault("of_activity", c(place, "context", about[1]))
  }
}
