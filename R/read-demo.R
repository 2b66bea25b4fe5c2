demo_path <- function() system.file("demo", package = "pregunta")
