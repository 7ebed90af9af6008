#!/usr/bin/env bash
# Gets what the comparisons of Rust need into oracle/rust/sources: the sources of packages, with their dependencies; what
# the compiler says of the files that it loads for each; and a reader of the language. From the repository's root:
#
#   oracle/rust/fetch.sh          what CI needs
#   oracle/rust/fetch.sh all      more sources, for the whole comparison
set -euo pipefail
cd "$(dirname "$0")"
command -v cargo >/dev/null || { apt-get update -qq && apt-get install -y -qq cargo >/dev/null; }
small="petgraph@=0.8.3 serde@=1.0.229 serde_json@=1.0.154 regex@=1.13.2 clap@=4.6.9 itertools@=0.14.0 rayon@=1.12.0 nom@=8.0.0 indexmap@=2.14.2
  httparse@=1.10.1 smallvec@=1.16.6 sqlparser@=0.64.0"
large="$small tokio@=1.54.1 syn@=2.0.119 rand@=0.10.4 reqwest@=0.13.5 hyper@=1.12.0 axum@=0.8.9 sqlx@=0.9.0 diesel@=2.3.14 chrono@=0.4.45
  tracing@=0.1.44 image@=0.25.10 comrak@=0.59.0 just@=1.59.0 static-web-server@=3.0.0-beta.2 actix-web bevy_ecs"
wanted=small list=$small
[ "${1:-}" != all ] || { wanted=large list=$large; }
if [ ! -e "sources/$wanted" ]; then
  rm -rf sources/all sources/crates
  mkdir -p sources/all/src
  printf '[package]\nname = "all"\nversion = "0.1.0"\nedition = "2021"\n\n[workspace]\n' >sources/all/Cargo.toml
  echo >sources/all/src/lib.rs
  # what these depend on has its versions from a list, so that each run reads the same texts
  (cd sources/all && cargo add --quiet $list 2>/dev/null && cargo generate-lockfile --quiet &&
    while read -r name version; do cargo update --quiet --precise "$version" "$name" 2>/dev/null || true; done <../../versions.txt &&
    mkdir -p .cargo && cargo vendor --quiet --versioned-dirs ../crates >.cargo/config.toml 2>/dev/null)
  rm -f sources/small sources/large
  touch "sources/$wanted"
fi
[ -e sources/said ] || (cd said && CARGO_TARGET_DIR=../sources/target cargo build --quiet --release && cp ../sources/target/release/said ../sources/said)
