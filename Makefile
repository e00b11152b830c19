# Two commands do all the set-up: `make demo` installs what users install, `make test` the rest.
PYTHON ?= python3
VENV ?= .venv
BIN := $(VENV)/bin
BASE := $(VENV)/.base
INSTALLED := $(VENV)/.ready
# Installing makes what is generated; it is made again where it was removed since.
MADE := src/vantric/typing.py
READY := $(INSTALLED) $(MADE)

.PHONY: demo docs statements test test-browser test-all test-docs test-packages test-clusters test-spark-3 lint types coverage bench bench-big bench-clusters bench-install bench-honest fuzz fuzz-charts screenshots data generated test-lowest clean

$(BASE): pyproject.toml Makefile
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e .
	touch $(BASE)

$(INSTALLED): $(BASE)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[dev]"
	touch $(INSTALLED)

$(MADE): | $(INSTALLED)
	$(BIN)/python -m tools.generate --package

demo: $(BASE)
	$(BIN)/vantric demo --to demo-output

# FLAGS=--all runs the long ones too, --coverage counts the lines that are run.
test: $(READY)
	$(BIN)/python -m tests.together $(FLAGS)

# The suite with all its examples and its long tests: hundreds of edits and charts, limits, every language and shell.
test-all:
	$(MAKE) test FLAGS=--all

lint: $(READY)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy

# A program as users write it, under a second type checker (mypy checks it in the suite).
types: $(READY)
	$(BIN)/pyright

# The whole suite, with the lines it runs counted.
coverage: $(READY)
	$(BIN)/python -m coverage erase
	$(MAKE) test FLAGS="--all --coverage"
	$(BIN)/python -m coverage combine --quiet
	$(BIN)/python -m coverage report

bench: $(READY)
	$(BIN)/python bench/run.py

# Ten and a hundred million records, made on the fly: minutes, and 4 GB of disk.
bench-big: $(READY)
	$(BIN)/python bench/big.py

# Twenty million records in Spark, on two threads and on a cluster of two workers.
bench-clusters: $(READY)
	$(BIN)/python bench/clusters.py

# Questions about tables of public data sets that hold no total (needs the extra bench).
bench-honest: $(READY)
	$(BIN)/python bench/honest_tables.py

# The base install and that of developers: seconds and megabytes, beside what a script by hand needs.
bench-install: $(READY)
	$(BIN)/python bench/installed.py

# How often the statements hold, simulated cell by cell: about an hour; writes docs/coverage.md.
statements: $(READY)
	$(BIN)/python bench/coverage.py --to docs/coverage.md

# Twenty thousand broken files, chart files and options over every command: about half an hour.
fuzz: $(READY)
	$(BIN)/python bench/fuzz.py

screenshots: $(READY)
	$(BIN)/python -m docs.make_screenshots

# The demo data, made again from its script (a test holds the shipped files to it).
data: $(READY)
	$(BIN)/python -m tools.demo.make_data

# What is made from the code (installing the project makes what the package needs): typed dictionaries, schemas, pages.
generated: $(READY)
	$(BIN)/python -m tools.generate

# Pictures in a real browser (Debian's package chromium).
test-browser: $(READY)
	$(BIN)/python -m unittest discover -s tests/browser -t .

# The documentation, without a network, warnings as errors: docs/_build/html.
docs: $(READY)
	$(BIN)/python -m tools.generate
	$(BIN)/python -m sphinx -W --keep-going -q -b html docs docs/_build/html

# Every command, block and link of the documentation, and the site in a real browser; after `make docs`.
test-docs: $(READY)
	$(BIN)/python -m unittest discover -s tests/site -t .

# The source and the wheel, built and installed in clean environments, on every Python from 3.11 that there is.
test-packages: $(READY)
	$(BIN)/python -m unittest discover -s tests/packages -t .

# A standalone cluster of Spark, its Connect server, and a cluster of Dask, on this machine (Java 17).
test-clusters: $(READY)
	$(BIN)/python -m unittest discover -s tests/clusters -t .

# The same on the oldest Spark that is supported, in an environment of its own.
test-spark-3:
	$(PYTHON) -m venv .venv-spark-3
	.venv-spark-3/bin/python -m pip install --quiet --disable-pip-version-check -e . "pyspark[connect]==3.5.*" \
		"numpy<2" "pandas<2.3" "pyarrow<18" "sqlglot>=26" hypothesis setuptools
	.venv-spark-3/bin/python -m unittest tests.clusters.test_spark.Everywhere

# Twenty thousand random charts, each held to geometry, numbers and rendered text: about half an hour.
fuzz-charts: $(READY)
	$(BIN)/python bench/fuzz_charts.py

# The suite once more, with the oldest versions that pyproject.toml allows.
test-lowest:
	$(PYTHON) -m venv .venv-lowest
	.venv-lowest/bin/python -m pip install --quiet --disable-pip-version-check -e ".[dev]" -c tests/lowest.txt
	.venv-lowest/bin/python -m unittest discover -s tests -t .

clean:
	rm -rf $(VENV) .venv-lowest .venv-spark-3 demo-output docs/_build docs/gallery docs/howto/made docs/reference/made
