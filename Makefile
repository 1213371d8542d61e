# Setting up, running and checking. `make demo` and `make test` need nothing done before them.
PY := .venv/bin/python
KERNELS := $(shell grep -rl --include='*.py' '@njit' skeinwork/core 2>/dev/null)
SOURCES := $(shell find skeinwork -name '*.py' 2>/dev/null)
WEB := $(shell find web/src web/public web/index.html web/vite.config.ts -type f 2>/dev/null)
STATIC := skeinwork/server/static/index.html
WORKED := skeinwork/demo/worked.skein.zip
STEPS := $(shell find skeinwork/core skeinwork/demo skeinwork/work/steps -name '*.py' -o -name '*.toml' 2>/dev/null)

.PHONY: demo test test-long test-bounds lint bench bench-large bench-quick bench-faults calibrate fuzz dev client format setup clean

demo: setup $(WORKED)
	.venv/bin/skeinwork demo

test: setup .venv/.browser
	cd web && npm test --silent
	$(PY) -m pytest -rR -n 2 --dist loadfile --no-loadscope-reorder -m "not long"

# What takes long by its nature: the bench's parts, what is learnt anew, more kills.
test-long: setup .venv/.browser
	$(PY) -m pytest -q -n 2 -m long --ignore=tests/test_faults.py
	$(PY) -m pytest -q -n 2 tests/test_faults.py --rounds 3

# The numeric kernels once more, each index into an array checked.
test-bounds: setup
	NUMBA_BOUNDSCHECK=1 $(PY) -m pytest -q -n 2 --dist loadfile tests/test_survey.py \
	  $(foreach part,segment clean matrix pruning topics expectation posterior constant_time prevalence tagging relate_trees relate_groups group_counts significance co_occurrence regression own_words vectors maps clusters,tests/core/test_$(part).py)

lint: setup
	$(PY) -m ruff check .
	$(PY) -m ruff format --check .
	$(PY) -m mypy
	.venv/bin/lint-imports
	$(PY) scripts/write_api.py --check
	cd web && npm run --silent check && npm run --silent lint && npm run --silent client:check

bench: setup
	PYTHONPATH=. $(PY) scripts/bench.py

# One fit of 20 million tokens: how much memory it takes.
bench-large: setup
	PYTHONPATH=. $(PY) scripts/bench_large.py

bench-quick: setup
	PYTHONPATH=. $(PY) scripts/bench.py --quick

# How often intervals cover, groups are told apart for nothing, and what is said of fits is so.
calibrate: setup
	PYTHONPATH=. $(PY) scripts/calibrate.py

# Requests of every kind at a running server, with all checks; CI takes a minute of it.
SECONDS := 600
fuzz: setup
	PYTHONPATH=. $(PY) scripts/fuzz.py --seconds $(SECONDS)

bench-faults: setup
	$(PY) -m pytest tests/test_faults.py --rounds 50

# The server on port 8642 and the front end with hot reload on port 5173.
dev: setup $(WORKED)
	trap 'kill 0' EXIT; .venv/bin/skeinwork demo & cd web && npm run dev

# Write the API's description and the client's types anew.
client: setup
	$(PY) scripts/write_api.py
	cd web && npm run --silent client

format: setup
	$(PY) -m ruff check --fix -q . ; $(PY) -m ruff format -q .
	cd web && npm run --silent format

setup: .venv/.installed $(STATIC) .venv/.compiled

.venv/.installed: pyproject.toml constraints.txt
	test -x $(PY) || python3 -m venv .venv || \
	  (apt-get update -qq && apt-get install -y -qq python3-venv && python3 -m venv --clear .venv)
	$(PY) -m pip install -q -c constraints.txt hatchling editables
	$(PY) -m pip install -q -c constraints.txt --no-build-isolation -e '.[dev]'
	touch $@

web/node_modules/.installed: web/package-lock.json
	cd web && npm ci --no-audit --no-fund --silent
	touch $@

$(STATIC): web/node_modules/.installed $(WEB)
	cd web && npm run --silent build -- --logLevel warn
	test -s $@

# All code and the numeric kernels are compiled once, here, and never at a start or inside a request.
.venv/.compiled: .venv/.installed $(KERNELS) $(SOURCES)
	$(PY) -m compileall -q skeinwork
	$(PY) -m skeinwork.core.warm
	touch $@

# The demo worked through: swept, chosen and labelled, so that every station is alive at once.
$(WORKED): .venv/.compiled scripts/make_worked_demo.py $(STEPS)
	$(PY) scripts/make_worked_demo.py $@

.venv/.browser: .venv/.installed
	command -v chromium >/dev/null && command -v chromedriver >/dev/null || \
	  (apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends \
	   chromium chromium-driver)
	touch $@

clean:
	rm -rf .venv web/node_modules skeinwork/server/static $(WORKED) build dist
