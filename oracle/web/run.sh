#!/usr/bin/env bash
# Compares the scanner with the TypeScript compiler on real packages. From the repository's root:
#
#   oracle/web/run.sh ci  [FOLDER]    a fixed sample of more than 20,000 files, some minutes
#   oracle/web/run.sh all [FOLDER]    all packages of packages.lock, more than 300,000 files
#
# Needs node, npm, go, and the compiler in oracle/npm (cd oracle/npm && npm ci). FOLDER keeps what was fetched.
set -euo pipefail
which=${1:-ci}
folder=${2:-$(mktemp -d)}
here=$(pwd)/oracle/web
source oracle/fetch.sh
fetch_locked "$here/packages.lock" "$folder" "$([ "$which" = all ] || echo ci)"
find "$folder/files" -type f -size -8M \( -name '*.js' -o -name '*.jsx' -o -name '*.mjs' -o -name '*.cjs' -o -name '*.ts' -o -name '*.tsx' -o -name '*.mts' -o -name '*.cts' \) | LC_ALL=C sort > "$folder/list.txt"
echo "files to compare: $(wc -l < "$folder/list.txt")"
for part in 0 1; do
  (cd oracle/npm && node --stack-size=4000 "$here/parse.cjs" "$folder/list.txt" $part 2 > "$folder/parsed.$part") &
done
wait
go build -o "$folder/compare" ./oracle/web
cat "$folder"/parsed.* | "$folder/compare"
for rule in jsx regexp template; do
  if cat "$folder"/parsed.* | "$folder/compare" -ablate $rule -show 0; then
    echo "switching off $rule changed nothing: the comparison has no teeth" >&2
    exit 1
  fi
done
echo "the scanner agrees, and each rule that was switched off was noticed"
