# Functions for the comparisons: fetches locked packages from npm and lays their files out. Read with `source`.
#
#   fetch_locked LOCK FOLDER [MARK]    the packages of LOCK, or those that end with MARK, into FOLDER/files
fetch_one() { # NAME VERSION SUM
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
export -f fetch_one

fetch_locked() {
  export folder=$2
  mkdir -p "$folder/archives" "$folder/files"
  grep -v '^#' "$1" | { [ -z "${3:-}" ] && cat || grep " $3\$"; } | cut -d ' ' -f 1-3 | xargs -P 6 -L 1 bash -c 'fetch_one "$@"' fetch
}
