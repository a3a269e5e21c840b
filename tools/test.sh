#!/usr/bin/env bash
# All checks and tests, in the order in which they fail fastest.
set -euo pipefail
cd "$(dirname "$0")/.."
step() { echo "== $*"; "$@"; }
step .venv/bin/ruff check .
step .venv/bin/ruff format --check .
step .venv/bin/mypy
step .venv/bin/lint-imports
step npm run --prefix frontend --silent lint
step npm run --prefix frontend --silent check
step npm run --prefix frontend --silent test
step .venv/bin/pytest
