# Two commands: `make demo` starts Rhombex with the sample designs, `make test` runs every check.
PYTHON ?= python3
PORT ?= 8137
DATA ?= data
CHROMIUM ?=
BIN := .venv/bin
# tests in the browser wait for pages, so one more than two cores are
WORKERS := $(shell n=$$(nproc 2>/dev/null || echo 2); [ $$n -gt 3 ] && echo $$n || echo 3)
FRONT := $(shell find frontend/src frontend/public -type f -not -name schema.d.ts 2>/dev/null) frontend/index.html frontend/vite.config.ts
CORE := $(shell find src/rhombex -name '*.py' -o -name '*.toml')
# Compiled modules are kept, whatever the shell says: the suite starts some two hundred processes, and each would compile all of them.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: demo setup prepared test fuzz mutants bench screenshots check check-core check-types lint-front clean
demo: setup
	$(BIN)/rhombex serve --demo --port $(PORT) --data $(DATA)

# Packages of both halves are fetched side by side. What is imported is compiled then: to compile all that is installed takes as long as to install it.
SIDE_BY_SIDE := @$(MAKE) --no-print-directory -j2 --output-sync=target
setup:
	$(SIDE_BY_SIDE) prepared

prepared: .stamps/front .stamps/compiled

.stamps/python: requirements.lock pyproject.toml
	@mkdir -p .stamps
	@test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-compile --require-hashes -r requirements.lock
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	touch $@

# What numba compiles where it is first called is compiled once, and not by every process that begins meanwhile.
.stamps/compiled: .stamps/python $(shell grep -rl njit src --include=*.py)
	$(BIN)/python scripts/compiled.py
	touch $@

.stamps/node: frontend/package-lock.json frontend/package.json frontend/.npmrc
	@mkdir -p .stamps
	cd frontend && npm ci --no-audit --no-fund --loglevel=error
	touch $@

.stamps/front: .stamps/node $(FRONT)
	@mkdir -p .stamps
	cd frontend && npx --no-install vite build --logLevel warn
	touch $@

# Debian's Chromium for the browser tests, where it is missing and we may install it: the one without windows, which is less work for the same pages.
HEADLESS := chromium-headless-shell
INSTALL = apt-get update -qq && $(1) apt-get install -y -qq $(HEADLESS) >/dev/null
.stamps/chromium:
	@mkdir -p .stamps
	@[ -x "$(CHROMIUM)" ] || [ -x /usr/bin/$(HEADLESS) ] \
	|| { [ "$$(id -u)" = 0 ] && $(call INSTALL,); } \
	|| { sudo -n true 2>/dev/null && sudo $(call INSTALL,sudo); } \
	|| [ -x /usr/bin/chromium ] \
	|| { echo "Chromium is missing: install $(HEADLESS) or chromium, or set CHROMIUM=/path/to/chromium"; exit 1; }
	touch $@

# Packages are unpacked by one core, so what needs none of them yet is done beside it.
test:
	$(SIDE_BY_SIDE) prepared .stamps/chromium lint-front check-core check-types
	CHROMIUM="$(CHROMIUM)" $(BIN)/python -m pytest -n $(WORKERS) --dist loadgroup --durations=12

# The types of the API are written from the API itself, so they are not kept.
frontend/src/api/schema.d.ts: .stamps/python .stamps/node $(CORE)
	$(BIN)/python scripts/openapi.py frontend/openapi.json
	cd frontend && npm run --silent api

check:
	$(SIDE_BY_SIDE) lint-front check-core check-types

check-core: .stamps/python
	$(BIN)/ruff format --check src tests benchmarks scripts
	$(BIN)/ruff check src tests benchmarks scripts
	$(BIN)/mypy -n 2
	$(BIN)/python scripts/schema.py --check

lint-front: .stamps/node
	cd frontend && npx --no-install prettier --check src && npx --no-install eslint src

check-types: frontend/src/api/schema.d.ts
	cd frontend && npx --no-install tsc --noEmit && npx --no-install vitest run --reporter=dot

# The property tests with other examples every time; `make test` always draws the same.
fuzz: setup
	HYPOTHESIS_PROFILE=fuzz $(BIN)/python -m pytest -n 2 -q tests/core

# All planted faults, one at a time: at least 85 in a hundred are found, survivors are listed. CI tries 4 of them.
mutants: setup
	$(BIN)/python scripts/mutants.py kept $(SAMPLE)

bench: setup
	$(BIN)/python benchmarks/accuracy.py
	$(BIN)/python -m pytest benchmarks -p no:xdist --benchmark-columns=median,min,rounds --benchmark-group-by=group

screenshots: setup .stamps/chromium
	CHROMIUM="$(CHROMIUM)" $(BIN)/python scripts/screenshots.py

clean:
	rm -rf .stamps frontend/node_modules src/rhombex/web/static
