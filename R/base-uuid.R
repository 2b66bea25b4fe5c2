# Identifiers that follow from names: the same name has the same one every time.

# By name within a namespace (RFC 9562, version 5). namespace: a UUID.
uuid_of <- function(name, namespace = own_namespace) {
  space <- gsub("-", "", namespace, fixed = TRUE)
  pairs <- substring(space, seq(1, 31, 2), seq(2, 32, 2))
  space <- as.raw(strtoi(pairs, 16))
  vapply(enc2utf8(as.character(name)), function(one) {
    hash <- cli::hash_raw_sha1(c(space, charToRaw(one)))
    variant <- c("8", "9", "a", "b")[strtoi(substr(hash, 17, 17), 16) %% 4 + 1]
    paste(
      substr(hash, 1, 8),
      substr(hash, 9, 12),
      paste0("5", substr(hash, 14, 16)),
      paste0(variant, substr(hash, 18, 20)),
      substr(hash, 21, 32),
      sep = "-"
    )
  }, "", USE.NAMES = FALSE)
}

# The package's own, drawn once: what it names is its own and nobody else's.
own_namespace <- "6e1d5a0c-8f0b-4d0e-9a61-5b7c2f3de914"

uuid_form <- "^[0-9A-Fa-f]{8}(-[0-9A-Fa-f]{4}){3}-[0-9A-Fa-f]{12}$"
