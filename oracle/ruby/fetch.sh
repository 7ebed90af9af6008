#!/usr/bin/env bash
# Gets what the comparisons of Ruby need on Debian: the language, the framework with its libraries, the runners of tests,
# and the sources of packages into oracle/ruby/sources. From the repository's root:
#
#   oracle/ruby/fetch.sh          what CI needs
#   oracle/ruby/fetch.sh all      more sources, for the whole comparison
set -euo pipefail
cd "$(dirname "$0")"
packages="ruby ruby-dev ruby-rails ruby-sinatra ruby-rspec ruby-rspec-rails rake ruby-zeitwerk ruby-rack-test ruby-minitest ruby-mocha ruby-test-unit
  ruby-sqlite3 puma bundler ruby-haml ruby-slim ruby-webrick ruby-bcrypt ruby-listen dpkg-dev"
dpkg -s $packages >/dev/null 2>&1 || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $packages >/dev/null; }

sources="rails"
if [ "${1:-}" = all ]; then
  sources="$sources redmine"
  apt-get install -y -qq --no-install-recommends ruby-roadie-rails ruby-rouge ruby-mail ruby-i18n ruby-nokogiri ruby-csv ruby-rbpdf ruby-rqrcode \
    ruby-net-ldap ruby-request-store ruby-mini-mime ruby-html-pipeline ruby-sanitize ruby-commonmarker ruby-task-list ruby-marcel ruby-rotp \
    ruby-actionpack-xml-parser ruby-mini-magick ruby-redcarpet ruby-addressable ruby-zip ruby-jquery-rails ruby-rails-observers \
    ruby-actionpack-action-caching ruby-coderay >/dev/null
fi
mkdir -p sources
cd sources
../../sources.sh $sources
