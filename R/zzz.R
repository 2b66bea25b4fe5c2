# The last file that is read when the package is installed: see base-compiled.R.
compile_loops(environment())
