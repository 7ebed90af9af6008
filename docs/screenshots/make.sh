#!/usr/bin/env bash
# Makes the pictures anew from the demo data, in a terminal window under a virtual screen. From the repository's root:
#
#   docs/screenshots/make.sh
#
# Needs go, node, and from Debian: xvfb xterm imagemagick fonts-dejavu-core chromium.
set -euo pipefail
out=$(pwd)/docs/screenshots
work=$(mktemp -d)
trap 'rm -rf "$work"; kill $screen 2>/dev/null || true' EXIT
CGO_ENABLED=0 go build -o "$work/crooked" ./cmd/crooked
Xvfb :77 -screen 0 1280x800x24 >/dev/null 2>&1 & screen=$!
export DISPLAY=:77 PATH="$work:$PATH"
sleep 1
"$work/crooked" demo "$work/hilltop" >/dev/null

# shown runs a command on a terminal of its own, as wide as the window, answers the question of a move with y, and gives some of its lines: what a person would
# see before scrolling. LINES is empty for all, +N for those from line N, N for the first N, -N for the last N.
shown() { # LINES COMMAND
  case "$2" in
    *move*) sleep 1; echo y ;;
  esac | script -qec "stty cols ${COLUMNS:-156} rows 200; $2" /dev/null > "$work/shown" || true
  case "$1" in
    '') cat "$work/shown" ;;
    /*) sed -n "$1,\$p" "$work/shown" | head -48 ;;
    -*) tail -n "${1#-}" "$work/shown" ;;
    *) head -n "$1" "$work/shown" ;;
  esac
}
export -f shown
export work

shot() { # NAME FONT-SIZE LINES COMMAND ...: types each command at a prompt in $project, as a user would, and shows its lines
  cat > "$work/session.sh" <<S
project=$project
S
  cat >> "$work/session.sh" <<'S'
cd $project
while [ $# -gt 0 ]; do
  printf '\033[1;34m%s\033[0m $ %s\n' "$project" "$2"
  shown "$1" "$2"
  echo
  shift 2
done
S
  (cd "$work" && exec xterm -u8 -fa 'DejaVu Sans Mono' -fs "$2" -geometry 400x200+0+0 -bg '#10131c' -fg '#d8d8d0' -b 12 +sb -T crooked \
    -maximized -e bash -c '. ./session.sh; touch ../shot-ready ./shot-ready; sleep 20' _ "${@:3}") & terminal=$!
  for _ in $(seq 200); do [ -e "$work/shot-ready" ] && break; sleep 0.1; done
  sleep 0.7
  import -window root "$out/$1.png"
  kill $terminal 2>/dev/null || true
  wait $terminal 2>/dev/null || true
  rm -f "$work/shot-ready" "$work/$project/shot-ready"
}

project=hilltop
shot survey 9 46 "crooked survey"
shot check 9 46 "crooked check"
shot plan 9 -47 "crooked plan"
shot why 9 '' "crooked why src/components/SkyPanel.tsx" '' "crooked why src/components/NewPanel.tsx" '' "crooked explain homeless"
shot everyday 10 '' "crooked remove src/components/Card.tsx" '' "crooked remove src/misc/ideas.ts --yes --dirty" '' "crooked undo" \
  '' "crooked begin tours WinterSky --yes --dirty" '' "ls src/tours/winter-sky" '' "crooked begin tours WinterSky" '' "crooked undo" '' "crooked"
shot move 9 '' "crooked move src/hooks src/lib/hooks" '' "crooked undo" '' "mv src/lib/http.ts src/helpers/" \
  '' "crooked move --already src/lib/http.ts src/helpers/" '' "crooked undo" '' "mv src/helpers/http.ts src/lib/"
shot straighten 9 '' "crooked straighten --rename --yes --dirty" '' "crooked check" '' "ls src src/screens src/panels/sky" '' "crooked plan"
shot undo 11 '' "crooked undo" '' "ls src" 20 "crooked check --format json"
shot journal 10 '' "crooked straighten --yes --dirty" '' "crooked undo --list" '' "crooked undo --verify" \
  '' "printf '\\x07' | dd of=.crooked/journal/0001/record.json bs=1 seek=700 conv=notrunc status=none" \
  '' "crooked undo --verify" '' "crooked undo" 7 "crooked undo --extract src/components/SkyPanel.tsx" '' "crooked undo --forget 1" -5 "crooked check -q"
rm -rf "$work/hilltop" && "$work/crooked" demo "$work/again" >/dev/null && mv "$work/again" "$work/hilltop" # what can't be undone is made anew
"$work/crooked" map --root "$work/hilltop" -o "$work/map.html" >/dev/null
(cd oracle/apps/npm && { test -d node_modules || npm ci --silent; })
SHOT="$out/map.png" SEARCH=SkyPanel FOUND=3 CHROMIUM=$(command -v chromium) node oracle/map/page.mjs "$work/map.html" "$(pwd)/oracle/apps/npm/node_modules"
project=hilltop-desk
shot adopt 8 -26 "crooked adopt" '' "crooked adopt by-feature" 3 "crooked survey --draft"
rm "$work/hilltop-desk/crooked.yaml"
shot grow 9 0 "crooked adopt by-feature" 22 "crooked check" '' "crooked straighten --yes --dirty" \
  0 "crooked adopt by-module --to next.yaml" -14 "crooked plan --convention next.yaml"
project=hilltop-service
shot service 9 12 "crooked why bookings/apps.py" /rewrites/ "crooked plan"
project=hilltop-rota
shot rota 9 /rewrites/ "crooked plan"
project=hilltop-visits
shot visits 8 /rewrites/ "crooked plan"
project=hilltop-schedule
shot schedule 8 /rewrites/ "crooked plan"
project=hilltop-gateway
shot gateway 8 /rewrites/ "crooked plan"
project=hilltop-guides
shot guides 9 -46 "crooked plan --all"
project=hilltop-dome
shot dome 8 -15 "crooked plan" -7 "crooked plan --root ../hilltop-display" \
  '' "crooked straighten --yes --dirty --steps --root ../hilltop-nights" -19 "cat ../hilltop-nights/crates/services/web-server/Cargo.toml"
