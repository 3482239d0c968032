# Two commands do everything: `make demo` and `make test`. Both set up first; set-up is skipped when nothing changed.
PY := .venv/bin/python
# Compiled files are kept even where the caller's environment says no: the tests start the program some forty times.
export PYTHONDONTWRITEBYTECODE :=

.PHONY: setup demo test check probe schemas samples lock house mutants demo-shop pictures bench install uninstall manual phrases clean

setup:
	@bash scripts/setup.sh

demo: setup
	@bash scripts/demo.sh

test: setup check
	@$(PY) -m pytest -n 3 --dist loadfile --no-loadscope-reorder

check: setup
	@.venv/bin/ruff format --check src tests benchmarks
	@.venv/bin/ruff check src tests benchmarks
	@.venv/bin/mypy
	@.venv/bin/lint-imports

probe:
	@bash scripts/probe.sh

demo-shop: setup
	@$(PY) scripts/demo_shop.py
	@$(PY) -m scripts.demo_record

schemas: setup
	@$(PY) scripts/schemas.py

lock: setup
	@$(PY) -m scripts.lock

house: setup
	@$(PY) -m scripts.house

mutants: setup
	@$(PY) -m benchmarks.mutants

samples: setup
	@$(PY) -m scripts.keep_samples

pictures: setup
	@bash scripts/pictures.sh

bench: setup
	@$(PY) -m benchmarks.run

install: setup
	@bash scripts/install.sh

uninstall:
	@bash scripts/install.sh uninstall

manual: setup
	@$(PY) -m scripts.manual

phrases: setup
	@$(PY) -m scripts.phrases

clean:
	rm -rf .venv demo-out .pytest_cache .mypy_cache .ruff_cache .hypothesis .import_linter_cache
