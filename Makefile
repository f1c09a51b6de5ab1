# Everything a developer or a player runs. Stamps keep second runs short: nothing is installed or
# built again that has not changed.

PY := .venv/bin
SITE := src/orexis/server/site/index.html
WEB_SOURCES := $(shell find web/src web/public web/pair -type f) web/index.html web/vite.config.ts web/vite.alone.config.ts web/vite.pair.config.ts web/svelte.config.js docs/guide.md

.PHONY: demo dev test test-deep bench mutants soak lint format types words screenshots wheel lock clean

demo: $(SITE)
	$(PY)/orexis demo

dev: .venv/dev-stamp web/node_modules/.dev-stamp
	@echo "Open http://localhost:5173; changes to the server and the front end show at once."
	@trap 'kill 0' EXIT INT TERM; \
	$(PY)/python -m orexis.server.dev & \
	cd web && npm run --silent dev

test: $(SITE) .venv/dev-stamp web/node_modules/.dev-stamp
	tools/ensure-chromium
	cd web && npm run --silent test
	$(PY)/pytest -q -n 3 --dist worksteal -m "not microphone and not deep"
	$(PY)/pytest -q -m "microphone and not deep" tests/browser

# The rest: months simulated, random sound by the hundred, each view at every size and shade.
test-deep: $(SITE) .venv/dev-stamp web/node_modules/.dev-stamp
	tools/ensure-chromium
	$(PY)/pytest -q -n 3 --dist worksteal -m "deep and not microphone"
	$(PY)/pytest -q -m "deep and microphone" tests/browser

bench: .venv/bench-stamp
	$(PY)/python -m bench

# ROOM=session, coach, judging or progress; ONLY=running for one module of it, SAMPLE=300 for some.
mutants: .venv/mutants-stamp
	$(PY)/python -m tools.mutants

soak: .venv/dev-stamp
	$(PY)/python -m tools.soak

lint: .venv/dev-stamp web/node_modules/.dev-stamp
	$(PY)/ruff check .
	$(PY)/ruff format --check .
	$(PY)/mypy
	$(PY)/lint-imports
	tools/check-types
	cd web && npm run --silent check && npm run --silent lint && npm run --silent format:check

format: .venv/dev-stamp web/node_modules/.dev-stamp
	$(PY)/ruff check --fix .
	$(PY)/ruff format .
	cd web && npm run --silent format

types: .venv/dev-stamp web/node_modules/.dev-stamp
	$(PY)/orexis openapi > docs/openapi.json
	cd web && npm run --silent types

words: .venv/dev-stamp
	$(PY)/python -m tools.words

screenshots: $(SITE) .venv/dev-stamp
	tools/ensure-chromium
	$(PY)/python -m tools.screenshots

wheel: $(SITE) .venv/stamp
	rm -rf dist
	$(PY)/hatchling build -t wheel
	$(PY)/python tools/try_wheel.py

LOCK := $(PY)/pip-compile --quiet --strip-extras --no-emit-index-url --no-emit-find-links \
  --no-emit-trusted-host pyproject.toml

lock: .venv/stamp
	$(PY)/pip install --quiet pip-tools
	$(LOCK) --extra build -o requirements.lock
	$(LOCK) --extra build --extra dev -c requirements.lock -o requirements-dev.lock
	$(LOCK) --extra build --extra dev --extra bench -c requirements-dev.lock -o requirements-bench.lock
	$(LOCK) --extra build --extra dev --extra mutants -c requirements-dev.lock -o requirements-mutants.lock

clean:
	rm -rf .venv web/node_modules src/orexis/server/site

.venv/stamp: requirements.lock pyproject.toml
	test -x $(PY)/python || python3 -m venv .venv
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements.lock
	$(PY)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

.venv/dev-stamp: .venv/stamp requirements-dev.lock
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements-dev.lock
	touch $@

.venv/bench-stamp: .venv/dev-stamp requirements-bench.lock
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements-bench.lock
	touch $@

.venv/mutants-stamp: .venv/dev-stamp requirements-mutants.lock
	$(PY)/pip install --quiet --disable-pip-version-check -r requirements-mutants.lock
	touch $@

# What builds the front end; what checks it comes on top.
web/node_modules/.stamp: web/package-lock.json
	cd web && npm ci --omit=dev --no-audit --no-fund
	touch $@

web/node_modules/.dev-stamp: web/node_modules/.stamp
	cd web && npm install --no-save --no-audit --no-fund
	touch $@

$(SITE): .venv/stamp web/node_modules/.stamp $(WEB_SOURCES)
	@# What listening needs is compiled meanwhile, so that the first start does not wait for it.
	@$(PY)/python -m orexis.server.warming & compiling=$$!; \
	(cd web && npm run --silent build) && { wait $$compiling || true; }
	touch $@
