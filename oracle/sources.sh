#!/usr/bin/env bash
# Gets the sources of Debian's packages into folders of their names below the current one, if they are not there yet:
#
#   ../../sources.sh PACKAGE...
set -euo pipefail
missing=""
for package in "$@"; do
  [ -d "$package" ] || missing="$missing $package"
done
[ -n "$missing" ] || exit 0
# the first of them tells whether apt knows where sources are
if ! apt-get source --tar-only --download-only -qq $(set -- $missing; echo "$1") >/dev/null 2>&1; then
  # the same places as for the programs, with sources
  for list in /etc/apt/sources.list.d/*.sources; do
    [ -f "$list" ] && sed -i '/^Types:/s/deb$/deb deb-src/;/^Types:/s/deb-src deb-src/deb-src/' "$list"
  done
  [ ! -f /etc/apt/sources.list ] || sed -n 's/^deb /deb-src /p' /etc/apt/sources.list >/etc/apt/sources.list.d/crooked-sources.list
  apt-get update -qq
fi
for package in $missing; do
  apt-get source --tar-only --download-only -qq "$package" >/dev/null
  mkdir "$package"
  tar -xf "$package"_*.orig.tar.* -C "$package" --strip-components=1
done
rm -f ./*.dsc ./*.tar.*
