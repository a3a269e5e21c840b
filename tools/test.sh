#!/usr/bin/env bash
# Sets up what is missing, and runs all checks and tests. Two processors have work from the start: the tests of the front
# end run while Python is set up, and most of those of the core, which need no database, while the rest is.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE # what is compiled as it is first used is kept
mkdir -p .knead
step() { echo "== $*"; "$@"; }

(
  tools/setup.sh npm
  step npm run --prefix frontend --silent lint
  step npm run --prefix frontend --silent test
) >.knead/front-tests.log 2>&1 &
front=$!
trap 'kill $front 2>/dev/null || true' EXIT
tools/setup.sh python
.venv/bin/pytest tests/core/test_[a-pr-t]*.py >.knead/core-tests.log 2>&1 &
core=$!
trap 'kill $front $core 2>/dev/null || true' EXIT

failed=0
wait $front || failed=$?
cat .knead/front-tests.log
[ $failed = 0 ] || exit $failed
tools/setup.sh test
step npm run --prefix frontend --silent check
step .venv/bin/ruff check .
step .venv/bin/ruff format --check .
step .venv/bin/mypy
step .venv/bin/lint-imports
step .venv/bin/pytest --ignore-glob "tests/core/test_[a-pr-t]*" || failed=$?
echo "== .venv/bin/pytest tests/core/test_[a-pr-t]*.py"
wait $core || failed=$?
cat .knead/core-tests.log
exit $failed
