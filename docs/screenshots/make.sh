#!/usr/bin/env bash
# Makes the pictures anew from the demo data, in a terminal window under a virtual screen. From the repository's root:
#
#   docs/screenshots/make.sh
#
# Needs go, and from Debian: xvfb xterm imagemagick fonts-dejavu-core.
set -euo pipefail
out=$(pwd)/docs/screenshots
work=$(mktemp -d)
trap 'rm -rf "$work"; kill $screen 2>/dev/null || true' EXIT
CGO_ENABLED=0 go build -o "$work/crooked" ./cmd/crooked
Xvfb :77 -screen 0 1280x800x24 >/dev/null 2>&1 & screen=$!
export DISPLAY=:77 PATH="$work:$PATH"
sleep 1
"$work/crooked" demo "$work/hilltop" >/dev/null

shot() { # NAME FONT-SIZE COMMANDS: types each command at a prompt in $project, as a user would
  cat > "$work/session.sh" <<S
project=$project
S
  cat >> "$work/session.sh" <<'S'
cd $project
for line in "$@"; do
  printf '\033[1;34m%s\033[0m $ %s\n' "$project" "$line"
  eval "$line"
  echo
done
S
  (cd "$work" && exec xterm -u8 -fa 'DejaVu Sans Mono' -fs "$2" -geometry 400x200+0+0 -bg '#10131c' -fg '#d8d8d0' -b 12 +sb -T crooked \
    -maximized -e bash -c '. ../session.sh 2>/dev/null || . ./session.sh; touch ../shot-ready ./shot-ready; sleep 20' _ "${@:3}") & terminal=$!
  for _ in $(seq 100); do [ -e "$work/shot-ready" ] && break; sleep 0.1; done
  sleep 0.7
  import -window root "$out/$1.png"
  kill $terminal 2>/dev/null || true
  wait $terminal 2>/dev/null || true
  rm -f "$work/shot-ready" "$work/$project/shot-ready"
}

project=hilltop
shot survey 9 "crooked survey | head -46"
shot check 9 "crooked check | head -46"
shot plan 9 "crooked plan | tail -47"
shot why 9 "crooked why src/components/SkyPanel.tsx" "crooked why src/components/NewPanel.tsx" "crooked explain homeless"
shot everyday 10 "crooked remove src/components/Card.tsx" "crooked remove src/misc/ideas.ts --yes --dirty" "crooked undo" "crooked begin tours WinterSky --yes --dirty" "ls src/tours/winter-sky" "crooked begin tours WinterSky" "crooked undo" "crooked check | tail -4"
shot straighten 9 "crooked straighten --rename --yes --dirty" "crooked check" "ls src src/screens src/panels/sky" "crooked plan"
shot undo 11 "crooked undo" "ls src" "crooked check --format json | head -20"
shot journal 10 "crooked straighten --yes --dirty" "crooked undo --list" "crooked undo --verify" "printf '\\x07' | dd of=.crooked/journal/0001/record.json bs=1 seek=700 conv=notrunc status=none" \
  "crooked undo --verify" "crooked undo" "crooked undo --extract src/components/SkyPanel.tsx | head -7" "crooked undo --forget 1" "crooked check -q | tail -5"
rm -rf "$work/hilltop" && "$work/crooked" demo "$work/again" >/dev/null && mv "$work/again" "$work/hilltop" # what can't be undone is made anew
project=hilltop-desk
shot adopt 8 "crooked adopt" "crooked adopt by-feature" "crooked survey --draft | head -3"
rm "$work/hilltop-desk/crooked.yaml"
shot grow 9 "crooked adopt by-feature >/dev/null; crooked check | head -22" "crooked straighten --yes --dirty" \
  "crooked adopt by-module --to next.yaml >/dev/null; crooked plan --convention next.yaml | tail -14"
project=hilltop-service
shot service 9 "crooked why bookings/apps.py | head -12" "crooked plan | sed -n '/^rewrites/,\$p' | head -34"
shot leftover 11 "crooked straighten --yes --dirty" "crooked check | sed -n '/^leftover/,\$p'"
project=hilltop-rota
shot rota 9 "crooked plan | sed -n '/^rewrites/,\$p' | head -46"
