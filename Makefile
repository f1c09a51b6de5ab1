# Everything a developer or a player runs. Stamps keep second runs short: nothing is installed or
# built again that has not changed.

PY := .venv/bin
SITE := src/orexis/server/site/index.html
WEB_SOURCES := $(shell find web/src web/public -type f) web/index.html web/vite.config.ts web/svelte.config.js

.PHONY: demo dev test bench lint format types screenshots lock clean

demo: $(SITE)
	$(PY)/orexis demo

dev: .venv/stamp web/node_modules/.stamp
	@echo "Open http://localhost:5173; changes to the server and the front end show at once."
	@trap 'kill 0' EXIT INT TERM; \
	$(PY)/python -m orexis.server.dev & \
	cd web && npm run --silent dev

test: $(SITE)
	tools/ensure-chromium
	$(PY)/pytest -q

bench: .venv/bench-stamp
	$(PY)/python -m bench

lint: .venv/stamp web/node_modules/.stamp
	$(PY)/ruff check .
	$(PY)/ruff format --check .
	$(PY)/mypy
	$(PY)/lint-imports
	tools/check-types
	cd web && npm run --silent check && npm run --silent lint && npm run --silent format:check

format: .venv/stamp web/node_modules/.stamp
	$(PY)/ruff check --fix .
	$(PY)/ruff format .
	cd web && npm run --silent format

types: .venv/stamp web/node_modules/.stamp
	$(PY)/orexis openapi > docs/openapi.json
	cd web && npm run --silent types

screenshots: $(SITE)
	tools/ensure-chromium
	$(PY)/python -m tools.screenshots

LOCK := $(PY)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links \
  --no-emit-trusted-host pyproject.toml

lock: .venv/stamp
	$(PY)/pip install --quiet pip-tools
	$(LOCK) --extra dev -o requirements.lock
	$(LOCK) --extra dev --extra bench -c requirements.lock -o requirements-bench.lock

clean:
	rm -rf .venv web/node_modules src/orexis/server/site

.venv/stamp: requirements.lock pyproject.toml
	test -x $(PY)/python || python3 -m venv .venv
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements.lock
	$(PY)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

.venv/bench-stamp: .venv/stamp requirements-bench.lock
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements-bench.lock
	touch $@

web/node_modules/.stamp: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	touch $@

$(SITE): .venv/stamp web/node_modules/.stamp $(WEB_SOURCES)
	cd web && npm run --silent build
	touch $@
