# Caltin's few commands. Each step leaves a stamp when it is whole, so a run that was cut off goes on.
SHELL := /bin/bash
.SHELLFLAGS := -eu -o pipefail -c
.DELETE_ON_ERROR:
.DEFAULT_GOAL := help
export PORT ?= 8000
export OPENBLAS_NUM_THREADS ?= 1
export COLOUR_SCIENCE__FILTER_USAGE_WARNINGS ?= True
PY := .venv/bin/python
WEB_SOURCES := $(shell find web/src web/index.html web/vite.config.ts web/tsconfig.json -type f 2>/dev/null)

.PHONY: help demo run test test-core test-site test-journeys bench lint lint-python lint-web dev types screenshots
help:
	@echo "make demo | run | test | bench | lint | dev | types | screenshots   (README.md says more)"

.stamps/venv:
	scripts/make_venv.sh
	mkdir -p .stamps && touch $@
.stamps/app: requirements/app.txt .stamps/venv
	scripts/install_python.sh requirements/app.txt
	touch $@
.stamps/test: requirements/test.txt .stamps/app
	scripts/install_python.sh requirements/test.txt
	touch $@
.stamps/pango: | .stamps/venv
	scripts/install_debian.sh libpango-1.0-0 libpangoft2-1.0-0 libharfbuzz-subset0
	mkdir -p .stamps && touch $@
.stamps/chromium: .stamps/pango
	scripts/install_debian.sh chromium
	touch $@
.stamps/node: web/package-lock.json
	cd web && npm ci --no-audit --no-fund
	mkdir -p .stamps && touch $@
.stamps/web: .stamps/node $(WEB_SOURCES)
	cd web && npm run build
	touch $@

demo:
	$(MAKE) -j2 .stamps/app .stamps/web .stamps/pango
	$(PY) manage.py launch --demo-artist

run:
	$(MAKE) -j2 .stamps/app .stamps/web .stamps/pango
	$(PY) manage.py launch --own-shelf

test:
	$(MAKE) -j3 --output-sync=target test-journeys lint test-core test-site

# Three lanes for two cores, each begun as soon as it has what it needs. A browser half waits, and must not be kept waiting: the
# others, of about the same length, take what it leaves, the site with the core's longest files.
LONGEST = $(addprefix tests/core/test_,schools.py family.py coverage.py correction.py cure.py)
test-journeys: .stamps/test .stamps/web .stamps/chromium
	$(PY) -m pytest tests/journeys
test-core: .stamps/test .stamps/node
	nice -n 19 $(PY) -m pytest tests/core $(addprefix --ignore=,$(LONGEST))
test-site: .stamps/test .stamps/web .stamps/chromium
	nice -n 19 $(PY) -m pytest tests/site $(LONGEST)

lint: lint-python lint-web
lint-python: .stamps/test
	.venv/bin/ruff check .
	.venv/bin/ruff format --check .
	nice -n 19 .venv/bin/mypy
	.venv/bin/lint-imports
lint-web: .stamps/node
	cd web && nice -n 19 npm run check

bench: .stamps/test .stamps/web .stamps/chromium
	$(PY) -m bench

dev: .stamps/app .stamps/node .stamps/pango
	$(PY) manage.py launch --demo-artist --dev

types: .stamps/test .stamps/node
	$(PY) manage.py export_openapi_schema --api caltin_site.api.api --indent 1 --output web/src/api/openapi.json
	cd web && npx openapi-typescript src/api/openapi.json -o src/api/schema.d.ts && npx prettier --write src/api/openapi.json src/api/schema.d.ts

screenshots: .stamps/test .stamps/web .stamps/chromium
	$(PY) -m scripts.screenshots
