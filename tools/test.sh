#!/usr/bin/env bash
# All checks and tests. Those of the core need no database: most of them take the second processor from the start, and
# those at the end of the alphabet the first one, so that both have done at about the same time.
set -euo pipefail
cd "$(dirname "$0")/.."
step() { echo "== $*"; "$@"; }

.venv/bin/pytest tests/core/test_[a-r]*.py >.knead/core-tests.log 2>&1 &
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
step .venv/bin/pytest --ignore-glob "tests/core/test_[a-r]*" || failed=$?
echo "== .venv/bin/pytest tests/core/test_[a-r]*.py"
wait $core || failed=$?
cat .knead/core-tests.log
exit $failed
