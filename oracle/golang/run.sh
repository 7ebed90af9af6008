#!/usr/bin/env bash
# Compares the names that Go files use with the language's own type checker, on the standard library and on modules of all
# sizes, and moves files of real modules at random. From the repository's root:
#
#   oracle/golang/run.sh    more than 15,000 files, some minutes
#
# Needs go, and the network for the modules.
set -euo pipefail
GO_NAMES=all go test -count=1 -timeout 60m -v -run 'Names' ./oracle/golang
GO_MOVES_ROUNDS=${GO_MOVES_ROUNDS:-40} go test -count=1 -timeout 60m -v -run 'AtRandom|RealModules' ./oracle/golang
