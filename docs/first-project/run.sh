#!/usr/bin/env bash
# The first five minutes of the README, on a project fresh from a generator. From the repository's root:
#
#   docs/first-project/run.sh
#
# It needs node and what oracle/templates/npm installs (npm ci), and builds the program itself. The project is type-checked
# before, between and after, and is at the end what it was.
set -euo pipefail
modules=$(pwd)/oracle/templates/npm/node_modules
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
CGO_ENABLED=0 go build -o "$work/crooked" ./cmd/crooked
export PATH="$work:$modules/.bin:$PATH"

cd "$work"
create-vite hilltop --template react-ts --no-interactive </dev/null >/dev/null
cd hilltop
ln -s "$modules" node_modules
git init -q && git add -A && git -c user.name=x -c user.email=x@example.org commit -qm "As the generator made it"
tsc -b --noEmit

step() { printf '\n$ %s\n' "$*"; "$@"; }
step crooked
step crooked survey --depth 1
step crooked move src/App.tsx src/app/ --yes # with its styles
tsc -b --noEmit
crooked undo
printf '\n$ crooked survey --draft > crooked.yaml\n'
crooked survey --draft > crooked.yaml
step crooked check
cat > crooked.yaml <<'YAML'
crooked: 1
leave: { stay: [src/main.tsx, src/*.d.ts] }
shelves:
  app: { for: the page and what it alone needs, at: src/app/, from: [src/App.*] }
  pictures: { for: what the page shows, at: src/app/pictures/, from: [src/assets/**] }
  styles: { for: what all pages share, at: src/styles/, from: [src/index.css] }
YAML
git add -A && git -c user.name=x -c user.email=x@example.org commit -qm "A layout"
step crooked check || test $? = 1
step crooked why src/App.tsx
step crooked plan
step crooked straighten --yes
tsc -b --noEmit
step crooked check
step crooked undo
git add -A
test -z "$(git status --porcelain)" || { git status; exit 1; }
echo "The project is what it was."
