#!/usr/bin/env bash
# Installs what is missing, and nothing else: Debian packages, .venv, compiled code, npm packages, the front end.
# Usage: tools/setup.sh [run|test|npm|python]. Run again it does nothing and needs no network. The last two stop once
# npm packages, or Python's and what is compiled, are there for tests: those need not wait for the rest.
set -euo pipefail
cd "$(dirname "$0")/.."
unset PYTHONDONTWRITEBYTECODE # what is compiled as it is first used is kept
what=${1:-run}
mkdir -p .knead

die() { echo "knead: $*" >&2; exit 1; }

stamped() { # stamped NAME SUM: whether step NAME was last done for this content
  [ -f ".knead/$1.stamp" ] && [ "$(cat ".knead/$1.stamp")" = "$2" ]
}
sum_of() { cat "$@" | sha256sum | cut -d' ' -f1; }

debian() { # debian PACKAGE...: install Debian packages that are not there yet
  local missing=()
  for package in "$@"; do
    [ "$(dpkg-query -W -f='${Status}' "$package" 2>/dev/null)" = "install ok installed" ] || missing+=("$package")
  done
  [ ${#missing[@]} -eq 0 ] && return
  command -v apt-get >/dev/null || die "please install these, then start again: ${missing[*]}"
  local root=""
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true 2>/dev/null || die "no rights to install packages. Run 'sudo apt-get install ${missing[*]}', then start again."
    root="sudo"
  fi
  echo "Installing ${missing[*]} ..."
  $root apt-get update -qq || die "apt-get can't be reached. Connect to the network once, then start again."
  $root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "${missing[@]}" >.knead/apt.log 2>&1 ||
    { tail -5 .knead/apt.log >&2; die "installing ${missing[*]} failed; see .knead/apt.log."; }
}

# python_packages ARGUMENT...: by uv, in a quarter of pip's time; by pip, if its settings name a mirror that uv can't know
python_packages() {
  local pip=(.venv/bin/pip install -q --disable-pip-version-check --no-compile)
  [ -x .venv/bin/uv ] || "${pip[@]}" uv==0.13.9 || return
  .venv/bin/uv pip install -q --python .venv/bin/python "$@" || "${pip[@]}" "$@"
}

npm_packages() {
  command -v npm >/dev/null || die "Node 20 with npm is not installed. Install it, then start again."
  local sum
  sum=$(sum_of frontend/package-lock.json)
  stamped npm "$sum" && [ -d frontend/node_modules ] && return
  echo "Installing front end packages ..."
  npm ci --prefix frontend --silent --no-audit --no-fund || die "installing front end packages failed. Connect to the network once, then start again."
  echo "$sum" >.knead/npm.stamp
}

if [ "$what" = npm ]; then
  npm_packages
  exit
fi

postgres_there() { compgen -G "/usr/lib/postgresql/*/bin/initdb" >/dev/null; }
postgres_there || debian postgresql

python=$(command -v python3.11 || command -v python3) || die "Python 3.11 is not installed. Install it, then start again."
"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || die "Python 3.11 or newer is needed; $python is older."

if [ "$what" != python ]; then
  npm_packages & # beside those of Python: both take half a minute on a fresh machine
  npm=$!
  trap 'kill $npm 2>/dev/null || true' EXIT
fi

lock=requirements.txt
[ "$what" = run ] || lock=requirements-dev.txt
[ -x .venv/bin/python ] || "$python" -m venv .venv 2>/dev/null || { debian python3-venv; "$python" -m venv .venv; }
sum=$(sum_of $lock)
if ! stamped "$lock" "$sum"; then
  echo "Installing Python packages ..."
  python_packages --require-hashes -r $lock ||
    die "installing Python packages failed. Connect to the network once, then start again."
  echo "$sum" >".knead/$lock.stamp"
fi

loops=knead/core/outline/compiled
sum=$(cat pyproject.toml setup.py $loops/*.py <(grep -m1 flags /proc/cpuinfo || uname -m) | sha256sum | cut -d' ' -f1)
if ! stamped knead "$sum" || ! compgen -G "$loops/*.so" >/dev/null; then
  echo "Compiling for this machine ..."
  command -v gcc >/dev/null || debian gcc libc6-dev
  [ -f "$(.venv/bin/python -c 'import sysconfig; print(sysconfig.get_path("include"))')/Python.h" ] || debian python3-dev
  rm -f $loops/*.so
  python_packages --no-deps --no-build-isolation -e . || die "installing Knead into .venv failed."
  echo "$sum" >.knead/knead.stamp
fi

[ "$what" = python ] && exit

[ "$what" = test ] && debian chromium chromium-driver
wait $npm
sum=$( (find frontend/src -type f | sort | xargs cat; cat frontend/index.html frontend/vite.config.ts frontend/package-lock.json; find knead -name '*.py' | sort | xargs cat) | sha256sum | cut -d' ' -f1)
if ! stamped build "$sum" || [ ! -f frontend/dist/index.html ]; then
  echo "Building the front end ..."
  .venv/bin/python -m compileall -q knead
  .venv/bin/knead schemas .knead/openapi.json .knead/scene-bundle.schema.json
  npm run --prefix frontend --silent types >/dev/null
  npm run --prefix frontend --silent build >.knead/build.log 2>&1 || { tail -20 .knead/build.log >&2; die "building the front end failed."; }
  echo "$sum" >.knead/build.stamp
fi
