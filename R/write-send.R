# Statements on their way to a server of the standard, named by the user.

# Sends batch after batch, each tried again while the server cannot be reached or is busy:
# the ids stay, so that what came twice is kept once. told: a function of how many are
# there. Gives how many were taken.
send_statements <- function(statements, to, user, key, batch = 50, tries = 5, wait = 1,
                            told = function(n) NULL) {
  parts <- split(statements, (seq_along(statements) - 1) %/% batch)
  sent <- 0
  for (part in parts) {
    send_batch(json_line(unname(part)), to, user, key, tries, wait)
    sent <- sent + length(part)
    told(sent)
  }
  sent
}

send_batch <- function(body, to, user, key, tries, wait) {
  need_package("curl")
  for (try in seq_len(tries)) {
    if (try > 1) Sys.sleep(wait * 2^(try - 2))
    got <- tryCatch(
      curl::curl_fetch_memory(statements_at(to), statement_handle(body, user, key)),
      error = function(e) list(status_code = 0, problem = conditionMessage(e))
    )
    if (got$status_code %in% c(200, 204)) return(invisible())
    if (got$status_code %in% 400:499 && !got$status_code %in% c(408, 429)) break
  }
  said <- if (got$status_code == 0) {
    got$problem
  } else {
    rawToChar(utils::head(got$content, 400))
  }
  abort_pregunta(
    "output",
    say("write-send.was_not_taken", to = to),
    say("write-send.answered", status = got$status_code, said = said),
    say("write-send.send_again")
  )
}

statements_at <- function(to) paste0(sub("/+(statements)?/*$", "", to), "/statements")

statement_handle <- function(body, user, key) {
  handle <- curl::new_handle(
    customrequest = "POST",
    copypostfields = enc2utf8(body),
    followlocation = FALSE,
    connecttimeout = 10,
    timeout = 60
  )
  code <- jsonlite::base64_enc(charToRaw(enc2utf8(paste0(user, ":", key))))
  curl::handle_setheaders(
    handle,
    Authorization = paste("Basic", gsub("\n", "", code, fixed = TRUE)),
    `Content-Type` = "application/json",
    `X-Experience-API-Version` = "1.0.3"
  )
  handle
}
