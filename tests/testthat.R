library(testthat)
library(pregunta)

test_check("pregunta")
