#!/usr/bin/env bash
# Compares the scanners of style sheets, single-file components and pages with the languages' own parsers on real packages.
# From the repository's root:
#
#   oracle/parts/run.sh [FOLDER]    more than 15,000 files, some minutes
#
# Needs node, npm, go, and the parsers in oracle/npm (cd oracle/npm && npm ci). FOLDER keeps what was fetched.
set -euo pipefail
folder=${1:-$(mktemp -d)}
here=$(pwd)/oracle/parts
source oracle/fetch.sh
fetch_locked "$here/packages.lock" "$folder"
find "$folder/files" -type f -size -2M \( -name '*.css' -o -name '*.scss' -o -name '*.less' -o -name '*.vue' -o -name '*.html' \) ! -name '*.min.css' | LC_ALL=C sort > "$folder/list.txt"
for part in 0 1; do
  (cd oracle/npm && node "$here/parse.mjs" "$folder/list.txt" $part 2 > "$folder/parsed.$part") &
done
wait
go build -o "$folder/compare" ./oracle/parts
cat "$folder"/parsed.* | "$folder/compare" -least 2000
for what in attributes urls imports; do
  if cat "$folder"/parsed.* | "$folder/compare" -ablate $what -show 0 >/dev/null; then
    echo "dropping $what changed nothing: the comparison has no teeth" >&2
    exit 1
  fi
done
echo "the scanners agree, and what was dropped was noticed"
