#!/usr/bin/env bash
# Gets what the comparisons of PHP need on Debian: PHP with its parser, the runner of tests, and the sources of packages
# that are moved, into oracle/php/sources. From the repository's root:
#
#   oracle/php/fetch.sh          what CI needs
#   oracle/php/fetch.sh all      more sources, for the whole comparison
set -euo pipefail
cd "$(dirname "$0")"
packages="php-cli php-xml php-mbstring php-sqlite3 php-curl php-intl php-zip composer phpunit php-parser php-symfony php-twig
  php-laravel-framework php-monolog php-slim php-symfony-phpunit-bridge php-league-config php-dflydev-dot-access-data
  php-nette-schema php-nette-utils php-phpstan-phpdoc-parser dpkg-dev"
dpkg -s $packages >/dev/null 2>&1 || { apt-get update -qq && apt-get install -y -qq --no-install-recommends $packages >/dev/null; }
sources="php-parser php-twig php-league-commonmark"
[ "${1:-}" != all ] || sources="$sources symfony php-monolog phpunit composer php-laravel-framework doctrine phpmyadmin roundcube"
mkdir -p sources && cd sources
if ! ls -d php-parser-*/ php-twig-*/ php-league-commonmark-*/ >/dev/null 2>&1 || [ "${1:-}" = all ]; then
  if ! apt-get source --download-only -qq php-parser >/dev/null 2>&1; then
    # the same places as for the programs, with sources
    for list in /etc/apt/sources.list.d/*.sources; do
      [ -f "$list" ] && sed -i '/^Types:/s/deb$/deb deb-src/;/^Types:/s/deb-src deb-src/deb-src/' "$list"
    done
    [ ! -f /etc/apt/sources.list ] || sed -n 's/^deb /deb-src /p' /etc/apt/sources.list >/etc/apt/sources.list.d/crooked-sources.list
    apt-get update -qq
  fi
  for package in $sources; do
    apt-get source --download-only -qq "$package" >/dev/null || echo "$package can't be had"
  done
  for d in *.dsc; do
    [ -d "$(basename "${d%-*}" | tr _ -)" ] || dpkg-source --no-check -x "$d" >/dev/null
  done
fi
ls -d */
