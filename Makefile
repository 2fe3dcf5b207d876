# Everything sets itself up; `make demo` and `make test` are all a fresh machine needs.
SHELL := bash
.SHELLFLAGS := -eu -o pipefail -c
.DEFAULT_GOAL := help
PY := .venv/bin/python
PORT ?= 8642
SPREAD ?= -n auto --maxprocesses 4 # tests over the cores
BY_FILE := --dist loadfile # a shop a file, none meets another's data
# A download that hangs is ended and begun anew: what arrived is in the cache.
thrice = for n in 1 2 3; do { $(1); } && break || { test $$n -lt 3 && echo "once more: $$n of 3 did not end well" >&2 && sleep 5; }; done
apt := DEBIAN_FRONTEND=noninteractive timeout -k 10 400 apt-get -qq -y install --no-install-recommends
FRONT := src/clothyard/documents/drawings.json $(shell find frontend/src frontend/public -type f) $(wildcard frontend/*.html frontend/*.ts frontend/*.json)

.PHONY: help setup demo test test-core test-browser check check-python check-front format types bench soak shots count pins chromium pdftoppm clean

help: ## list the targets
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | sed -E 's/:.*## /\t/' | expand -t 16

.venv/.run: requirements.txt pyproject.toml
	@python3 -c 'import sys; sys.exit(sys.version_info < (3, 11) and "Python 3.11 or newer is needed")'
	@test -f $@ || rm -rf .venv
	@test -d .venv || python3 -m venv .venv || { rm -rf .venv; echo "install python3-venv"; exit 1; }
	@$(call thrice,timeout -k 10 400 $(PY) -m pip -q install --require-hashes -r requirements.txt) 2>&1 | { grep -v 'is ignored' || true; }
	@$(PY) -m pip -q install --no-deps --no-build-isolation -e . 2>&1 | { grep -v 'is ignored' || true; }
	@test -x .venv/bin/clothyard && touch $@

.venv/.dev: requirements-dev.txt .venv/.run
	@$(call thrice,timeout -k 10 400 $(PY) -m pip -q install --require-hashes -r requirements-dev.txt) 2>&1 | { grep -v 'is ignored' || true; }
	@test -x .venv/bin/pytest && touch $@

frontend/node_modules/.ok: frontend/package-lock.json frontend/.npmrc
	@npm --version | { IFS=. read -r major _; test "$$major" -ge 11 || { echo "npm 11 or newer is needed"; exit 1; }; }
	@cd frontend && { $(call thrice,timeout -k 10 300 npm ci --no-progress --silent); } && touch node_modules/.ok

frontend/dist/.ok: frontend/node_modules/.ok $(FRONT)
	@cd frontend && npm run -s build --loglevel=error >/dev/null && touch dist/.ok

chromium: # the one without a window of its own where there is one: quicker to fetch and to run
	@command -v chromium-headless-shell >/dev/null || command -v chromium >/dev/null || { $(call thrice,timeout -k 10 120 apt-get -qq update && { $(apt) chromium-headless-shell || $(apt) chromium; } >/dev/null 2>&1); command -v chromium-headless-shell || command -v chromium; }

setup: .venv/.run frontend/dist/.ok ## install what running needs, build the front end

demo: setup ## the sample shop on http://127.0.0.1:8642 (RESET=1 builds it anew)
	@.venv/bin/clothyard demo --port $(PORT) $(if $(RESET),--reset)

test: test-core test-browser ## every test

test-core: .venv/.dev frontend/node_modules/.ok ## all but the browser
	@$(PY) -m pytest $(SPREAD) --doctest-modules src tests --ignore tests/browser --ignore tests/tools --ignore src/clothyard/store/migrations
	@cd frontend && npm run -s test -- --reporter=dot

test-browser: .venv/.dev frontend/dist/.ok chromium ## the real interface in headless Chromium
	@$(PY) -m pytest $(SPREAD) $(BY_FILE) tests/browser

check: .venv/.dev frontend/node_modules/.ok ## format, lint, types, import rules, generated client
	@$(MAKE) --no-print-directory -j 2 -O check-python check-front

check-python: .venv/.dev
	@mkdir -p build
	@$(PY) -m ruff format --check -q src tests
	@$(PY) -m ruff check -q src tests
	@.venv/bin/lint-imports --no-cache >build/imports.log || { cat build/imports.log; exit 1; }
	@$(PY) -m mypy --no-error-summary

check-front: .venv/.dev frontend/node_modules/.ok
	@mkdir -p build
	@$(PY) tests/tools/openapi.py > build/openapi.json
	@cd frontend && npx openapi-typescript ../build/openapi.json -o ../build/schema.d.ts >/dev/null 2>&1
	@cmp -s build/schema.d.ts frontend/src/api/schema.d.ts || { echo "the generated client is stale: make types"; exit 1; }
	@cd frontend && npx tsc && npm run -s lint

format: .venv/.dev frontend/node_modules/.ok ## put everything in shape
	@$(PY) -m ruff check -q --fix src tests; $(PY) -m ruff format -q src tests
	@cd frontend && npx prettier --write --log-level warn src

types: .venv/.dev frontend/node_modules/.ok ## renew the generated client types
	@mkdir -p build
	@$(PY) tests/tools/openapi.py > build/openapi.json
	@cd frontend && npx openapi-typescript ../build/openapi.json -o src/api/schema.d.ts >/dev/null

.venv/.bench: requirements-bench.txt .venv/.dev
	@$(call thrice,timeout -k 10 400 $(PY) -m pip -q install --require-hashes -r requirements-bench.txt) 2>&1 | { grep -v 'is ignored' || true; }
	@touch $@

bench: .venv/.bench ## every time an issue names; ratios in one run
	@PYTHONPATH=. $(PY) tests/tools/bench.py

soak: .venv/.dev frontend/dist/.ok chromium ## the long damage, kill, write-storm and random-job runs (CI runs a short cut of each)
	@CLOTHYARD_SOAK=1 $(PY) -m pytest -s tests/files/test_damage.py tests/store/test_storms.py tests/store/test_restore.py tests/store/test_soak.py tests/store/test_machine_kills.py tests/store/test_old_shop.py tests/services/test_once.py tests/core/test_fixes_hold.py tests/core/test_metamorphic.py tests/core/test_schedule.py tests/api/test_fuzz.py tests/api/test_accepted.py tests/api/test_strangers.py tests/services/test_exchange.py tests/browser/test_slow.py "tests/browser/test_bench.py::test_every_size_is_usable_and_axe_clean"

pdftoppm:
	@command -v pdftoppm >/dev/null || { apt-get -qq update && $(apt) poppler-utils >/dev/null; }

shots: .venv/.dev frontend/dist/.ok chromium pdftoppm ## renew docs/screenshots from the demo data
	@PYTHONPATH=. $(PY) tests/tools/shots.py

count: ## tests against product code, non-blank lines
	@python3 tests/tools/count.py

pins: .venv/.dev ## renew the pinned requirements
	@.venv/bin/uv pip compile -q requirements.in --python-version 3.11 --generate-hashes --no-emit-index-url -o requirements.txt
	@.venv/bin/uv pip compile -q requirements-dev.in --python-version 3.11 --generate-hashes --no-emit-index-url -o requirements-dev.txt
	@.venv/bin/uv pip compile -q requirements-bench.in --python-version 3.11 --generate-hashes --no-emit-index-url -o requirements-bench.txt

clean: ## remove what was built
	@rm -rf .venv frontend/node_modules frontend/dist build
