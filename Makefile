# Two commands do all the set-up: `make demo` and `make test`.
PYTHON ?= python3
VENV ?= .venv
BIN := $(VENV)/bin
READY := $(VENV)/.ready

.PHONY: demo test lint bench bench-big fuzz screenshots data schema test-lowest clean

$(READY): pyproject.toml Makefile
	$(PYTHON) -m venv $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -e ".[dev]"
	touch $(READY)

demo: $(READY)
	$(BIN)/vantric demo --to demo-output

test: $(READY)
	$(BIN)/python -m unittest discover -s tests -t .

lint: $(READY)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy

bench: $(READY)
	$(BIN)/python bench/run.py

# Ten and a hundred million records, made on the fly: minutes, and 4 GB of disk.
bench-big: $(READY)
	$(BIN)/python bench/big.py

# Twenty thousand broken files, chart files and options over every command: about half an hour.
fuzz: $(READY)
	$(BIN)/python bench/fuzz.py

screenshots: $(READY)
	$(BIN)/python docs/make_screenshots.py

# The demo data, made again from its script (a test holds the shipped files to it).
data: $(READY)
	$(BIN)/python -m vantric.demo.make_data

# The JSON Schema of chart files, made again from its model (a test holds the shipped file to it).
schema: $(READY)
	$(BIN)/python -m vantric.chartfile.model

# The suite once more, with the oldest versions that pyproject.toml allows.
test-lowest:
	$(PYTHON) -m venv .venv-lowest
	.venv-lowest/bin/python -m pip install --quiet --disable-pip-version-check -e ".[dev]" -c tests/lowest.txt
	.venv-lowest/bin/python -m unittest discover -s tests -t .

clean:
	rm -rf $(VENV) .venv-lowest demo-output
