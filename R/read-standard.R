# Documents of the open standards, told by their first element or first field.
# NULL for anything else.
read_standard <- function(path) {
  NULL
}
read_roster <- function(path) NULL
