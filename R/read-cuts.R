# What judges and teachers said of where a cut goes, beside the responses of a test.

read_judges <- function(folder) read_part(folder, "judges")

read_placements <- function(folder) read_part(folder, "placements")
