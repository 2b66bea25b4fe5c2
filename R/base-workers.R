# Many things of a kind, worked at by several processes or machines: by those of the plan
# that somebody set with future::plan(), else by forks of this process, as many as there
# are cores to use. What is lost with a worker that dies is done again, by itself and in a
# process of its own; what ends that one as well is given back as lost.

# make: what is done with a thing, and gives something; lost: what stands for a thing
# whose process died twice; label: what the bar says. A list along the things.
over_each <- function(things, make, lost, cores = cores_allowed(), label = "") {
  things <- as.list(things)
  force(cores) # before the option that it may be made of is set
  old <- options(pregunta.cores = 1)
  on.exit(options(old))
  bar <- cli::cli_progress_bar(label, total = length(things), clear = TRUE)
  tick <- function(n) cli::cli_progress_update(inc = n, id = bar)
  make <- spoken_along(make)
  kept <- function(thing) list(value = make(thing))
  done <- if (has_plan()) {
    by_plan(things, make, tick)
  } else if (!can_fork() || is.na(cores) || cores < 2 || length(things) < 2) {
    lapply(things, function(thing) {
      tick(1)
      kept(thing)
    })
  } else {
    by_forks(things, kept, cores, tick)
  }
  gone <- which(vapply(done, is.null, TRUE))
  done[gone] <- lapply(gone, function(k) {
    again <- by_itself(function() kept(things[[k]]))
    if (is.null(again)) list(value = lost(things[[k]])) else again
  })
  cli::cli_progress_done(id = bar)
  lapply(done, `[[`, "value")
}

# How many processes over_each() would have.
workers_at_once <- function(cores = cores_allowed()) {
  if (has_plan()) return(future::nbrOfWorkers())
  if (!can_fork() || is.na(cores)) 1 else cores
}

# NULL where the process died.
by_itself <- function(work) {
  begun <- begin_anew(work)
  begun$process$wait()
  found <- result_of(begun)
  if (is.null(found$error)) return(found$value)
  if (nzchar(conditionMessage(found$error))) stop(found$error)
  NULL
}

# A batch at a time, so that the bar moves.
by_forks <- function(things, make, cores, tick) {
  cores <- min(cores, length(things))
  batches <- split(seq_along(things), (seq_along(things) - 1) %/% (8 * cores))
  done <- lapply(batches, function(batch) {
    # Of children that died it warns; they are seen by what is lacking.
    made <- suppressWarnings(parallel::mclapply(things[batch], function(thing) {
      end_with_parent()
      make(thing)
    }, mc.cores = cores))
    failed <- Filter(function(one) inherits(one, "try-error"), made)
    if (length(failed)) stop(attr(failed[[1]], "condition"))
    tick(length(batch))
    made
  })
  unlist(unname(done), recursive = FALSE)
}

# ---- the user's plan ---------------------------------------------------------------

# Whether somebody said how; without that nobody needs the package.
has_plan <- function() {
  "future" %in% loadedNamespaces() && !inherits(future::plan(), "sequential")
}

# Some things to a worker at once: what goes along with them is sent each time. A fault in
# what is done with a thing comes back as one; any other is the plan's, and its things are
# done again.
by_plan <- function(things, make, tick, renewals = 3) {
  done <- vector("list", length(things))
  caught <- function(thing) {
    interpret_here()
    tryCatch(list(value = make(thing)), error = function(e) list(fault = e))
  }
  size <- max(1, length(things) %/% (8 * future::nbrOfWorkers()))
  left <- split(seq_along(things), (seq_along(things) - 1) %/% size)
  while (length(left) && renewals > 0) {
    died <- FALSE
    begun <- list()
    # No more are begun once a worker has died: the plan would give them to it.
    while (length(begun) < length(left) && !died) {
      work <- begin_future(things[left[[length(begun) + 1]]], caught)
      died <- is.null(work)
      begun <- c(begun, list(work))
    }
    made <- lapply(begun, result_of_future)
    for (one in unlist(made, recursive = FALSE)) if (!is.null(one$fault)) stop(one$fault)
    for (k in which(!vapply(made, is.null, TRUE))) {
      done[left[[k]]] <- made[[k]]
      tick(length(left[[k]]))
    }
    undone <- c(vapply(made, is.null, TRUE), rep(TRUE, length(left) - length(begun)))
    if (any(undone)) {
      renewals <- renewals - 1
      renew_plan()
      # One of them may be what ends a worker: each goes by itself.
      tried <- seq_along(left) <= length(begun)
      left <- c(as.list(unlist(left[undone & tried])), left[undone & !tried])
    } else {
      left <- list()
    }
  }
  done
}

# A worker does them one after the other. NULL where it could not be begun.
begin_future <- function(things, make) {
  tryCatch(
    future::future(
      {
        options(pregunta.process = TRUE)
        lapply(things, make)
      },
      globals = list(things = things, make = make),
      packages = "pregunta",
      seed = NULL
    ),
    error = function(e) NULL
  )
}

# NULL where its worker died.
result_of_future <- function(begun) {
  if (is.null(begun)) return(NULL)
  tryCatch(future::value(begun), error = function(e) NULL)
}

# Workers that have died are started anew, where the plan can.
renew_plan <- function() {
  plans <- future::plan("list")
  future::plan("sequential")
  future::plan(plans)
}

# A plan by name: sequential; processes, or processes:4; machines:ada,bert, which are
# reached by ssh; or the plan of a package, such as one for a queue of a cluster. Gives
# what takes it back.
use_plan <- function(text) {
  need_package("future")
  kind <- sub(":.*$", "", text)
  more <- if (grepl(":", text, fixed = TRUE)) sub("^[^:]*:", "", text)
  before <- future::plan("list")
  tryCatch(
    if (grepl("^[A-Za-z][A-Za-z0-9.]*::[A-Za-z_.][A-Za-z0-9_.]*$", text)) {
      parts <- strsplit(text, "::", fixed = TRUE)[[1]]
      need_package(parts[1])
      strategy <- getExportedValue(parts[1], parts[2])
      future::plan(strategy)
    } else if (kind == "sequential" && is.null(more)) {
      future::plan("sequential")
    } else if (text == "processes") {
      future::plan("multisession", workers = cores_here())
    } else if (kind == "processes" && grepl("^[1-9][0-9]{0,3}$", more)) {
      future::plan("multisession", workers = as.integer(more))
    } else if (kind == "machines" && length(more) && nzchar(more)) {
      future::plan("cluster", workers = trimws(strsplit(more, ",", fixed = TRUE)[[1]]))
    } else {
      abort_plan(text)
    },
    error = function(e) {
      if (inherits(e, "pregunta_error")) stop(e)
      abort_plan(text, conditionMessage(e))
    }
  )
  function() future::plan(before)
}

abort_plan <- function(text, why = NULL) {
  abort_pregunta(
    "call",
    say("base-workers.no_plan", plan = quoted(text)),
    if (length(why)) gsub("\\s+", " ", why),
    say("base-workers.plans_are"),
    value = text
  )
}
