# make demo | desk | live | test | current | check | lint | style | bench | fuzz | kill |
# accuracy | screenshots | site | install | deps | document
# Each sets up what it needs on a machine that has only R, a compiler and make.

R ?= R
RSCRIPT ?= Rscript
SOURCES := DESCRIPTION NAMESPACE $(wildcard R/*.R src/*.cpp src/Makevars exec/* inst/extdata/*/* inst/extdata/*/*/* inst/page/* inst/completion/* inst/words/* inst/schema/* inst/rmarkdown/*/*/*)
STAMP := .check/installed

CASES ?= 2000
KILLS ?= 240
SEED ?= 1
TESTS ?=
MINUTES ?= Inf

.PHONY: all deps install demo desk live test current check checked bench fuzz kill accuracy screenshots site document lint style clean

all: install

deps:
	@$(RSCRIPT) tools/deps.R

install: deps $(STAMP)

$(STAMP): $(SOURCES)
	@mkdir -p .check
	@$(RSCRIPT) tools/install.R

demo: install
	@exec/pregunta demo pregunta-demo

# The desk in the browser, on the demo.
desk: install
	@test -d pregunta-demo || exec/pregunta demo pregunta-demo
	@exec/pregunta desk pregunta-demo

# A made-up class answers while you look on, in the terminal; FACE=desk in the browser.
live: install
ifeq ($(FACE),desk)
	@mkdir -p pregunta-class && (exec/pregunta desk pregunta-class --port 8765 & \
	  sleep 4; exec/pregunta demo --class pregunta-class --to http://127.0.0.1:8765/xapi; wait)
else
	@exec/pregunta demo --class pregunta-class
endif

# TESTS=all: the long ones as well; with MINUTES=1, as in CI, those of a third of the files
# by turns and what begins within a minute (tools/test.R). What this make was given is
# not for those that a test calls.
test: install
	@MAKEFLAGS= PREGUNTA_TESTS=$(TESTS) PREGUNTA_MINUTES=$(MINUTES) $(RSCRIPT) tools/test.R

# The same with CRAN's packages of today in place of Debian's.
current: deps
	@MAKEFLAGS= PREGUNTA_TESTS=$(TESTS) $(RSCRIPT) tools/current.R

# Both at once: the check keeps one core busy at most.
check: deps
	@$(MAKE) --no-print-directory -j2 lint checked

checked: deps
	@$(RSCRIPT) tools/check.R

lint: deps
	@$(RSCRIPT) tools/lint.R

style:
	@$(RSCRIPT) tools/style.R

# What it prints is kept in bench/last.txt.
bench: install
	@$(RSCRIPT) tools/bench.R
	@$(RSCRIPT) bench/exports.R 2000

# Broken files of every kind, a case a seed; and every verb that writes, killed.
fuzz: install
	@$(RSCRIPT) bench/fuzz.R $(CASES) $(SEED)

kill: install
	@$(RSCRIPT) bench/kill.R $(KILLS) $(SEED)

accuracy: install
	@$(RSCRIPT) bench/accuracy.R

# The site in the folder site, to be opened from disk.
site: install
	@$(RSCRIPT) tools/site.R

screenshots: install
	@$(RSCRIPT) tools/screenshots.R

document: deps
	@$(RSCRIPT) -e 'Rcpp::compileAttributes(); roxygen2::roxygenise(load_code = "source")'

clean:
	rm -rf .check site pregunta-demo pregunta-class src/*.o src/*.so
