# Orthotrope: set-up, demo, tests. A set-up that was done is not done again.

PY := .venv/bin/python
UV := .venv/bin/uv
STAMPS := var/stamps
PORT ?= 8710
PRACTICE_PORT ?= 8720
export UV_LINK_MODE ?= copy
# Compiled once: where this is set, each start compiles 2,600 modules anew, 6 s of each process.
unexport PYTHONDONTWRITEBYTECODE

.PHONY: setup demo test test-all check bench hostile fuzz intervals mutate mutate-core screenshots format types rules lock

setup: $(STAMPS)/python $(STAMPS)/web $(STAMPS)/chromium $(STAMPS)/build

$(STAMPS)/python: requirements-dev.lock pyproject.toml
	@mkdir -p $(STAMPS)
	test -x $(PY) || python3 -m venv .venv
	test -x $(UV) || $(PY) -m pip install --quiet --disable-pip-version-check uv==0.13.9
	$(UV) pip install --quiet --compile-bytecode --python $(PY) --require-hashes -r requirements-dev.lock
	$(UV) pip install --quiet --python $(PY) --no-deps -e .
	touch $@

$(STAMPS)/web: web/package-lock.json
	@mkdir -p $(STAMPS)
	cd web && npm ci --silent
	touch $@

$(STAMPS)/chromium:
	@mkdir -p $(STAMPS)
	command -v chromium >/dev/null || (apt-get update -qq && apt-get install -y -qq chromium)
	touch $@

WEB_SOURCES := $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)

$(STAMPS)/build: $(STAMPS)/web $(WEB_SOURCES)
	cd web && npm run --silent build
	touch $@

demo: setup
	ORTHOTROPE_DEMO=1 $(PY) server/manage.py migrate -v0
	ORTHOTROPE_DEMO=1 $(PY) server/manage.py demo
	@echo "Orthotrope: http://localhost:$(PORT), practice machines: port $(PRACTICE_PORT)"
	$(PY) -m practice demo/setups/*.json --data var/practice --port $(PRACTICE_PORT) & \
	trap "kill $$! 2>/dev/null" EXIT; ORTHOTROPE_DEMO=1 \
	ORTHOTROPE_PRACTICE=http://127.0.0.1:$(PRACTICE_PORT) $(PY) server/manage.py serve --port $(PORT)

TYPES = .venv/bin/mypy --config-file mypy-tests.ini

check: setup
	.venv/bin/ruff format --check -q .
	.venv/bin/ruff check -q .
	PYTHONPATH=core:server:. .venv/bin/lint-imports --no-cache
	.venv/bin/mypy
	MYPYPATH=core/tests $(TYPES) core/tests tools
	MYPYPATH=core/tests:server/tests $(TYPES) server/tests
	MYPYPATH=e2e $(TYPES) e2e
	$(TYPES) practice/tests
	cd web && npm run --silent check
	$(PY) tools/layers.py
	$(PY) tools/composition.py
	$(PY) tools/kinds.py
	$(PY) tools/drift.py
	$(PY) tools/rules.py --check

test: check
	.venv/bin/pytest core/tests practice/tests server/tests -n 2 -m "not thorough"
	cd web && npm run --silent test
	.venv/bin/pytest e2e -n 2 -m "not thorough" || (echo "Failed beside others; once more, each by itself:"; .venv/bin/pytest e2e -n 0 -m "not thorough" --lf)

# What takes minutes each, too: whole proofs by their digests, hundreds of hidden machines, every edit of the longest text.
test-all: test
	.venv/bin/pytest core/tests practice/tests server/tests -n 2 -m thorough
	.venv/bin/pytest e2e -n 2 -m thorough

bench: setup
	$(PY) tools/bench.py

screenshots: setup
	$(PY) tools/screenshots.py

rules: setup
	$(PY) tools/rules.py

types:
	cd server && ../$(PY) manage.py export_openapi_schema --api shop.api.api --output openapi.json --indent 1 --sorted
	cd web && npm run --silent types

format:
	.venv/bin/ruff format -q .
	.venv/bin/ruff check -q --fix .
	cd web && npm run --silent format

lock:
	$(UV) pip compile -q --generate-hashes pyproject.toml -o requirements.lock
	$(UV) pip compile -q --generate-hashes --extra dev pyproject.toml -o requirements-dev.lock
	$(UV) pip compile -q --generate-hashes --extra dev --extra mutation -c requirements-dev.lock pyproject.toml -o requirements-mutation.lock

hostile: setup
	$(PY) tools/hostile.py

fuzz: setup
	$(PY) tools/fuzz.py

mutate: setup
	$(PY) tools/mutate.py --survivors docs/survivors.jsonl $(if $(SHARE),--share $(SHARE)) $(if $(SEED),--seed $(SEED)) $(MUTATE)

mutate-core: setup
	$(UV) pip install --quiet --python $(PY) --require-hashes -r requirements-mutation.lock
	$(PY) tools/mutate_core.py

intervals: setup
	$(PY) tools/intervals.py
