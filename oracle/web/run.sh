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
mkdir -p "$folder/archives" "$folder/files"

fetch() { # NAME VERSION SUM
  local archive="$folder/archives/$(echo "$1" | tr '@/' '__')-$2.tgz" got try
  if [ ! -f "$archive" ]; then
    for try in 1 2 3; do
      local d; d=$(mktemp -d)
      if got=$(cd "$d" && npm pack --silent --ignore-scripts "$1@$2" 2>/dev/null | tail -n 1) && [ -f "$d/$got" ]; then
        mv "$d/$got" "$archive"; rm -r "$d"; break
      fi
      rm -r "$d"
    done
  fi
  echo "$3  $archive" | sha512sum --check --quiet - || { echo "the archive of $1@$2 is not the one that was locked" >&2; return 1; }
  local target="$folder/files/$(basename "$archive" .tgz)"
  [ -d "$target" ] || { mkdir "$target"; tar xzf "$archive" -C "$target" --no-same-owner; }
}
export -f fetch; export folder

grep -v '^#' "$here/packages.lock" | { [ "$which" = all ] && cat || grep ' ci$'; } | cut -d ' ' -f 1-3 |
  xargs -P 6 -L 1 bash -c 'fetch "$@"' fetch
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
