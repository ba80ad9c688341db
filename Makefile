# Chimney: `make demo` to look at it, `make run` to work with it, `make test` before every commit.
# A distribution builds its Python for speed; one that was built by hand is often a fifth slower.
PYTHON ?= $(shell /usr/bin/python3.11 -c "import ensurepip" 2>/dev/null && echo /usr/bin/python3.11 || echo python3)
VENV := .venv
BIN := $(VENV)/bin
PORT ?= 8000
CHROMIUM := /usr/bin/chromium
BIOME := node_modules/.bin/biome
RUN := $(VENV)/installed-run
TEST := $(VENV)/installed-test
DEMO := CHIMNEY_DATA=var/demo CHIMNEY_ZONE=Europe/Stockholm CHIMNEY_DEMO=1
GUNICORN := $(BIN)/gunicorn chimney.wsgi
TESTING := CHIMNEY_DATA=var/test CHIMNEY_ZONE=Europe/Stockholm
HERE := CHIMNEY_BIND=127.0.0.1:$(PORT)

.PHONY: demo run serve test fuzz mutants bench soak screenshots lint styles clean-demo

$(BIN)/python:
	$(PYTHON) -m venv $(VENV)

$(RUN): requirements/run.txt requirements/constraints.txt | $(BIN)/python
	@echo "Installing what Chimney needs into $(VENV), once ..."
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements/run.txt
	touch $@

$(TEST): requirements/test.txt requirements/run.txt requirements/constraints.txt | $(BIN)/python
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements/test.txt
	touch $@ $(RUN)

$(CHROMIUM):
	apt-get update -qq
	DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium

## An invented year on Rauholm, in a database of its own: http://127.0.0.1:8000
demo: $(RUN)
	@echo "Laying out a database and living an invented year in it: some 30 seconds, the first time ..."
	$(DEMO) $(BIN)/python manage.py demo --if-empty --from-nothing
	$(DEMO) $(HERE) $(GUNICORN)

clean-demo:
	rm -rf var/demo

## Your own work, kept in var/own
run: $(RUN)
	$(BIN)/python manage.py prepare
	$(BIN)/python manage.py collectstatic --noinput --verbosity 0
	$(HERE) $(GUNICORN)

## The same for phones on your home network, after a passphrase that is asked for at the first start
serve: $(RUN)
	$(BIN)/python manage.py prepare
	$(BIN)/python manage.py passphrase --if-none
	$(BIN)/python manage.py collectstatic --noinput --verbosity 0
	@echo "On a phone in your network: http://$$(hostname -I 2>/dev/null | cut -d' ' -f1):$(PORT)"
	CHIMNEY_SERVE=1 CHIMNEY_BIND=0.0.0.0:$(PORT) $(GUNICORN)

test: $(TEST) $(CHROMIUM)
	$(TESTING) $(BIN)/python manage.py test --noinput --parallel 3

## The property tests at large, other ones each time: states, every address and field, every hour
fuzz: $(TEST)
	$(TESTING) CHIMNEY_FUZZ=1 $(BIN)/python manage.py test --noinput --parallel 2 tests.pinhole tests.chimney.test_model tests.chimney.test_fuzz tests.chimney.test_sweep tests.chimney.test_exchange tests.chimney.test_beside

mutants: $(TEST)
	$(BIN)/python scripts/mutants.py

bench: $(TEST)
	$(BIN)/python scripts/bench.py

## Twenty people at work for a minute, also beside a long import, and fifty times a server that is killed
soak: $(RUN)
	$(BIN)/python scripts/soak.py
	$(BIN)/python scripts/killing.py

screenshots: $(TEST) $(CHROMIUM)
	$(BIN)/python scripts/screenshots.py

## Format and lint everything: Python, templates, scripts and styles
lint: $(TEST) $(BIOME)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(TESTING) $(BIN)/mypy --no-error-summary pinhole chimney demo
	$(BIN)/djlint --lint --quiet chimney/templates
	$(BIOME) ci

## The style file of every page, of chimney/styles and the parts of Bootstrap that it names
styles: $(BIOME)
	sh scripts/styles.sh

$(BIOME): package.json package-lock.json
	command -v npm >/dev/null || (apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends nodejs npm)
	npm ci --silent --no-audit --no-fund
	touch $@
