# Times as they are written in exports: 2026-10-05, 2026-10-05 10:00,
# 2026-10-05T10:00:03.25Z, 2026-10-05T10:00+02:00. Without a zone they are taken
# as the clock on the wall. NA for anything else.
read_time <- function(x) {
  x <- sub(
    "[.,][0-9]+",
    "",
    gsub("T", " ", as.character(x), fixed = TRUE)
  )
  zone <- sub(
    "^.*:[0-9]{2} *(Z|[+-][0-9]{2}:?[0-9]{2})$",
    "\\1",
    x
  )
  zoned <- !is.na(x) & zone != x
  plain <- ifelse(zoned, substr(x, 1, nchar(x) - nchar(zone)), x)
  out <- rep(as.POSIXct(NA, tz = "UTC"), length(x))
  for (format in c("%Y-%m-%d %H:%M:%S", "%Y-%m-%d %H:%M", "%Y-%m-%d")) {
    shape <- gsub(
      "%Y",
      "[0-9]{4}",
      gsub("%[mdHMS]", "[0-9]{1,2}", format)
    )
    fits <- which(is.na(out) & grepl(paste0("^", shape, "$"), trimws(plain)))
    out[fits] <- as.POSIXct(
      trimws(plain[fits]),
      tz = "UTC",
      format = format
    )
  }
  if (any(zoned)) {
    out[zoned] <- on_the_wall(out[zoned], zone[zoned])
  }
  out
}

# A time with a zone, as this machine's clock showed it.
on_the_wall <- function(time, zone) {
  zone[zone == "Z"] <- "+00:00"
  hours <- as.numeric(substr(zone, 2, 3)) +
    as.numeric(substring(zone, nchar(zone) - 1)) / 60
  moment <- time -
    ifelse(startsWith(zone, "-"), -1, 1) * hours * 3600
  as.POSIXct(
    format(moment, tz = "", "%Y-%m-%d %H:%M:%S"),
    tz = "UTC",
    format = "%Y-%m-%d %H:%M:%S"
  )
}

# The latest of some written times, as it was written.
latest <- function(written) {
  time <- read_time(written)
  if (all(is.na(time))) {
    written[!is.na(written)][1]
  } else {
    written[which.max(time)]
  }
}
