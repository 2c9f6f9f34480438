# Two commands are all one needs:  make demo   and   make test
PY ?= python3
VENV := .venv
CORE := .venv-core
MUTANT := .venv-mutants
BIN := $(VENV)/bin

SLOW := test_cli_odd test_once_unseen test_soak_share test_laying test_block_properties test_skirt_properties

# what make test tries a share of; make soak tries all of it
SHARED = $(shell grep -l "tests.share import" -r tests --include=test_*.py)

.PHONY: libraries demo setup check test test-core soak mutants lint bench screenshots lock clean

demo: setup
	@$(BIN)/caddet --demo

setup: $(VENV)/.ready

libraries:
	@scripts/system-libraries $(PY)

$(VENV)/.ready: requirements.lock pyproject.toml | libraries
	@test -x $(BIN)/python || { echo "Making the environment $(VENV)…"; $(PY) -m venv $(VENV); }
	@echo "Installing the packages (a minute or so)…"
	@$(BIN)/python -m pip install -qq --disable-pip-version-check -r requirements.lock
	@$(BIN)/python -m pip install -qq --disable-pip-version-check --no-deps -e .
	@touch $@

$(CORE)/.ready: requirements-core.lock pyproject.toml | libraries
	@test -x $(CORE)/bin/python || { echo "Making the environment $(CORE), without Qt…"; $(PY) -m venv $(CORE); }
	@echo "Installing the core's packages…"
	@$(CORE)/bin/python -m pip install -qq --disable-pip-version-check -r requirements-core.lock
	@$(CORE)/bin/python -m pip install -qq --disable-pip-version-check --no-deps -e .
	@touch $@

lint: setup
	$(BIN)/ruff check src tests bench scripts
	$(BIN)/mypy
	$(BIN)/lint-imports

# The core and the command line, in an environment where Qt is not installed: a handful, not the suite twice.
test-core: $(CORE)/.ready
	$(CORE)/bin/python -m pytest -p no:pytestqt -c pytest-core.ini tests/core/test_cli.py tests/core/test_documents.py tests/core/test_formats.py tests/core/test_migrate.py

# The quick lane, about a minute: lint, types, import contracts, and the core's tests without the longest.
check: lint
	$(BIN)/python -m pytest -n 2 --dist worksteal tests/core $(foreach name,$(SLOW),--ignore=tests/core/$(name).py)

test:
	@$(MAKE) --no-print-directory -j2 lint test-core
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m pytest -n 2 --dist worksteal

# The long ones, not part of make test: kills, bad input, edits, full disks. SOAK="--inputs 1000" runs fewer.
soak: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m tests.soak $(SOAK)
	CADDET_IN_FULL=1 QT_QPA_PLATFORM=offscreen $(BIN)/python -m pytest -n 2 $(SHARED)

# Faults put in by machine into the core, one at a time, and the share that the tests don't see. MUTANTS="--count 50".
mutants: setup
	@test -x $(MUTANT)/bin/python || $(PY) -m venv $(MUTANT)
	@$(MUTANT)/bin/python -m pip install -qq --disable-pip-version-check -r requirements-mutants.lock
	@$(MUTANT)/bin/python -u tests/soak/mutants.py $(MUTANTS)

bench: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python -m bench

screenshots: setup
	@scripts/screenshots

# Run after changing the pins in pyproject.toml.
lock:
	$(PY) -m venv .venv-lock && .venv-lock/bin/pip install --quiet pip-tools
	.venv-lock/bin/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-trusted-host --no-header --no-annotate --no-emit-find-links --extra dev -o requirements.lock pyproject.toml
	grep -vE '^(pyqt6|pytest-qt|pytest-xdist|execnet|ruff|mypy|import-linter)' requirements.lock > requirements-core.lock
	rm -rf .venv-lock

clean:
	rm -rf $(VENV) $(CORE) $(MUTANT) .pytest_cache .mypy_cache .ruff_cache .hypothesis
