#!/usr/bin/env bash
# Installs what the moved packages and applications of Python need, and fetches the sources of the packages, into venv/ beside this
# script. Needs python3 with venv.
set -euo pipefail
cd "$(dirname "$0")"
[ ! -e venv/ready ] || exit 0
python3 -m venv venv
venv/bin/pip install --quiet --disable-pip-version-check -r requirements.txt
mkdir -p venv/fetched venv/sources
fetch() { venv/bin/pip download --quiet --disable-pip-version-check --no-deps --dest venv/fetched "$@"; }
fetch --only-binary :all: networkx==3.6.1
fetch --no-binary :all: --no-build-isolation wtforms==3.3.2
fetch --no-binary :all: sqlglot==30.30.0 # its description asks for tools of its own
for package in boltons==26.2.0 more-itertools==11.2.1 h11==0.16.0 tomlkit==0.15.2 mkdocs==1.6.1 cookiecutter==2.7.1 mistune==3.4.0 django-taggit==6.1.0 tabulate==0.10.0 werkzeug==3.1.9; do
  fetch --no-binary :all: --no-build-isolation "$package"
done
for wheel in venv/fetched/*.whl; do
  venv/bin/python -m zipfile -e "$wheel" "venv/sources/$(basename "$wheel" | cut -d - -f 1)"
done
for archive in venv/fetched/*.tar.gz; do
  target=venv/sources/$(basename "$archive" | sed 's/-[0-9].*//')
  mkdir "$target" && tar -xzf "$archive" -C "$target" --strip-components 1
done
touch venv/ready
