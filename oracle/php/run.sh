#!/usr/bin/env bash
# Compares what is read in PHP with PHP's own tokenizer and parser on more than 25,000 files, and moves files of real
# packages at random. From the repository's root, on Debian:
#
#   oracle/php/run.sh
#
# Needs go, and the network for the sources.
set -euo pipefail
oracle/php/fetch.sh all
PHP_FILES=$(pwd)/oracle/php/sources CI=1 go test -count=1 -timeout 60m -v -run 'Parser|Fails|Random' ./oracle/php
