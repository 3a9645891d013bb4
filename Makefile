# Iron Rake. `make help` lists what can be made.
PYTHON ?= python3
VENV := .venv
RUN := $(VENV)/bin/python
MANAGE := $(RUN) manage.py
PORT ?= 8000

.DEFAULT_GOAL := help
.PHONY: help setup browser demo test test-postgres lint screenshots bench attack fuzz ratio seal docs backup clean

help: ## list what can be made
	@grep -hE '^[a-z-]+:.*##' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 14

$(VENV)/made: requirements/base.txt requirements/dev.txt
	$(PYTHON) -c 'import sys; sys.exit(0 if sys.version_info >= (3, 11) else "Iron Rake needs Python 3.11 or newer; try: make PYTHON=python3.11 ...")'
	$(PYTHON) -m venv $(VENV)
	$(RUN) -m pip install --quiet --disable-pip-version-check --require-hashes -r requirements/dev.txt
	touch $@

setup: $(VENV)/made ## make .venv from hashed requirements

browser: ## install Debian's newest Chromium and print its version
	@tools/install_chromium.sh

demo: setup ## set up, load the demo holdings, serve them and say where
	@$(RUN) tools/demo.py --port $(PORT)

test: setup browser lint ## run all checks and tests
	$(MANAGE) collectstatic --noinput -v 0
	$(RUN) -m pytest -n 2

test-postgres: setup browser ## the whole suite again on PostgreSQL, in a folder of its own (installs Debian's postgresql where missing)
	$(MANAGE) collectstatic --noinput -v 0
	$(RUN) tools/test_postgres.py $(TESTS)

lint: setup ## style, imports, licences, outside hosts, deployment checks
	$(VENV)/bin/ruff check .
	$(VENV)/bin/ruff format --check --quiet .
	$(VENV)/bin/djlint web/templates --lint --quiet
	@! grep -rnE '^.{141,}' web/templates web/static/css web/static/js || { echo 'lines over 140 characters'; exit 1; }
	$(VENV)/bin/lint-imports --no-logo > /dev/null || $(VENV)/bin/lint-imports
	$(MANAGE) makemigrations --check --dry-run -v 0
	IRON_RAKE_PRODUCTION=1 $(MANAGE) check --deploy --fail-level WARNING
	$(VENV)/bin/mypy
	$(RUN) tools/check_length.py
	$(RUN) tools/check_words.py
	$(RUN) tools/check_hosts.py
	$(RUN) tools/check_licences.py
	$(RUN) tools/make_docs.py --check

screenshots: setup browser ## remake docs/screenshots from the demo holdings
	$(RUN) tools/screenshots.py

bench: setup ## measure speed and memory; rewrites docs/benchmarks.md
	$(MANAGE) collectstatic --noinput -v 0
	$(RUN) -m benchmarks.run

attack: setup ## attack core, readers, pages and database, on this machine only; PARTS="races kills" for some of it
	$(RUN) -m attack $(PARTS)

fuzz: setup ## read laboratory files that nobody has seen; FILES=5000 SEED=of the commit
	$(RUN) -m attack.laboratory --files $(or $(FILES),5000) --seed $(or $(SEED),0)

docs: setup ## remake the schemas and tables in docs/
	$(RUN) tools/make_docs.py

backup: setup ## copy the database while the server runs, to var/backups/
	$(RUN) tools/backup.py

seal: setup ## write down the figures of the tables after a change that was meant
	$(RUN) -m tools.seal_tables

ratio: setup ## lines of tests beside lines of code
	@$(RUN) tools/ratio.py

clean: ## remove what was made (the database in var/ stays)
	rm -rf $(VENV) .pytest_cache .ruff_cache .hypothesis var/static
