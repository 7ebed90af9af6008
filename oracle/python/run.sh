#!/usr/bin/env bash
# Compares the imports of Python with the language's own parser, on the standard library and real packages, and where they lead with
# the language's own finders. From the repository's root:
#
#   oracle/python/run.sh ci            six packages
#   oracle/python/run.sh all [FOLDER]  all of packages.txt; FOLDER keeps what was fetched
#
# Needs python3 with pip, unzip and go.
set -euo pipefail
folder=${2:-$(mktemp -d)}
mkdir -p "$folder/wheels" "$folder/src"
command -v unzip >/dev/null || { apt-get update -qq && apt-get install -y -qq unzip >/dev/null; }
python3 -m pip --version >/dev/null 2>&1 || { apt-get update -qq && apt-get install -y -qq python3-pip >/dev/null; }
grep -v '^#' oracle/python/packages.txt | { [ "$1" = all ] && cat || grep ' ci$'; } | cut -d ' ' -f 1 |
  xargs python3 -m pip download --quiet --disable-pip-version-check --no-deps --only-binary :all: --dest "$folder/wheels"
for wheel in "$folder"/wheels/*.whl; do
  target=$folder/src/$(basename "$wheel" .whl)
  [ -d "$target" ] || { mkdir "$target"; unzip -qq "$wheel" '*.py' -d "$target"; }
done
CROOKED_PYTHON=$folder/src go test -v -timeout 30m ./oracle/python
