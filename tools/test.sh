#!/usr/bin/env bash
# All checks and tests. Those of the core need no database: they take the second processor from the start.
set -euo pipefail
cd "$(dirname "$0")/.."
step() { echo "== $*"; "$@"; }

.venv/bin/pytest tests/core >.knead/core-tests.log 2>&1 &
core=$!
trap 'kill $core 2>/dev/null || true' EXIT

step .venv/bin/ruff check .
step .venv/bin/ruff format --check .
step .venv/bin/mypy
step .venv/bin/lint-imports
step npm run --prefix frontend --silent lint
step npm run --prefix frontend --silent check
step npm run --prefix frontend --silent test
failed=0
step .venv/bin/pytest --ignore tests/core || failed=$?
echo "== .venv/bin/pytest tests/core"
wait $core || failed=$?
cat .knead/core-tests.log
exit $failed
