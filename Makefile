# The developer's menu. `make demo` and `make test` are all that a newcomer needs.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
DATA ?= $(HOME)/.elvatch
PORT ?= 8765
UV := uv==0.13.9
# uv puts the packages there in a third of the time; where it cannot be had, pip does
install = $(BIN)/uv pip install --quiet --compile-bytecode --python $(BIN)/python $(1) 2>$(VENV)/said || $(BIN)/pip install --quiet --disable-pip-version-check $(1)
STATIC := src/elvatch/web/static/index.html
UI_SOURCES := $(shell find ui/src ui/public ui/index.html ui/vite.config.ts -type f 2>/dev/null)

.PHONY: demo serve wheel trial test bench bench-small lint types screenshots packs setup setup-dev clean

demo: setup ## set everything up and start with the demo site
	$(BIN)/elvatch demo --data $(DATA) --port $(PORT)

serve: setup
	$(BIN)/elvatch serve --data $(DATA) --port $(PORT)

test: setup-dev ## set up what tests need and run them all
	cd ui && npm run --silent test
	$(BIN)/pytest -n 2 --dist worksteal

trial: setup-dev ## try to break it: kills, full disks, hostile files and requests, two servers; some minutes
	$(BIN)/pytest -q -n 2 -p no:cacheprovider trials

bench: setup-dev $(VENV)/.bench ## ratios against plain references, measured in one run
	$(BIN)/python -m benchmarks

bench-small: setup-dev $(VENV)/.bench ## every benchmark at small sizes: it runs, and both sides agree
	$(BIN)/python -m benchmarks --small

lint: setup-dev ## format, lint and strict types on both sides
	$(BIN)/ruff format --check src tests trials benchmarks tools examples
	$(BIN)/ruff check src tests trials benchmarks tools examples
	$(BIN)/mypy
	cd ui && npx --no-install tsc --noEmit && npx --no-install eslint src tests && npx --no-install prettier --log-level warn --check src tests *.ts *.mjs

types: setup-dev ## write the schemas and the TypeScript types made from them
	$(BIN)/elvatch schema > docs/recipe.schema.json
	$(BIN)/elvatch schema --of stock > docs/stock.schema.json
	$(BIN)/elvatch schema --of hand-off > docs/hand-off.schema.json
	$(BIN)/elvatch schema --of answers > docs/answers.schema.json
	$(BIN)/elvatch schema --of catalogue > docs/catalogue.json
	cd ui && npm run --silent types

wheel: setup ## a wheel with the page inside, for machines without Node
	rm -rf build
	$(BIN)/pip wheel --quiet --disable-pip-version-check --no-deps --no-build-isolation -w dist .

screenshots: setup-dev ## one current picture of each main view, from the demo
	$(BIN)/python -m tools.screenshots

packs: setup-dev ## draw the pictures of the supplier's packs anew, after a generator has changed
	$(BIN)/python -m tools.pack_swatches

setup: ## packages and the page, side by side
	@$(MAKE) --no-print-directory -j2 $(VENV)/.run $(STATIC)
	@$(BIN)/python -m compileall -q -j 2 src/elvatch # a start takes a fifth less, where Python may not keep it itself

setup-dev: setup $(VENV)/.dev $(VENV)/.warm ui/node_modules/.done
	@command -v chromium >/dev/null || { apt-get update -q && DEBIAN_FRONTEND=noninteractive apt-get install -y -q chromium; }

$(VENV)/.run: requirements.lock pyproject.toml
	$(PYTHON) -c 'import sys; sys.exit(sys.version_info < (3, 11) and "Elvatch needs Python 3.11 or later")'
	test -x $(BIN)/python || $(PYTHON) -m venv $(VENV)
	test -x $(BIN)/uv || $(BIN)/pip install --quiet --disable-pip-version-check $(UV) || true
	$(call install,-r requirements.lock)
	$(call install,--no-deps --no-build-isolation -e .)
	touch $@

$(VENV)/.dev: requirements-dev.lock $(VENV)/.run
	$(call install,-r requirements-dev.lock)
	touch $@

$(VENV)/.bench: requirements-bench.lock $(VENV)/.dev
	$(call install,-r requirements-bench.lock)
	touch $@

# npm ci refuses a lock file without the platform packages that a registry does not serve
ui/node_modules/.done: ui/package-lock.json
	cd ui && npm install --no-save --silent --no-audit --no-fund
	touch $@

$(STATIC): ui/node_modules/.done $(UI_SOURCES)
	cd ui && npm run --silent build -- --logLevel warn
	touch $@

$(VENV)/.warm: $(VENV)/.run $(shell grep -rlE '@(kernel|inner|part)' src/elvatch/core 2>/dev/null)
	$(BIN)/elvatch warm
	touch $@

clean:
	rm -rf $(VENV) ui/node_modules src/elvatch/web/static
