#!/usr/bin/env bash
# Gets what the comparisons of Dart need into oracle/dart/sources: a virtual machine of the language (one that a package
# of another registry ships), a parser, and the sources of packages. From the repository's root:
#
#   oracle/dart/fetch.sh
set -euo pipefail
cd "$(dirname "$0")"
[ ! -e sources/ready ] || exit 0
mkdir -p sources/files
cd sources
command -v dpkg-source >/dev/null || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends dpkg-dev >/dev/null; }
# the machine is built for 32 bits
npm pack --silent sass-embedded-linux-ia32@1.89.0 >/dev/null
tar -xzf sass-embedded-linux-ia32-*.tgz
rm -rf debs && mkdir debs && (cd debs && { apt-get download -qq libc6-i386 lib32gcc-s1 2>/dev/null || { apt-get update -qq && apt-get download -qq libc6-i386 lib32gcc-s1 2>/dev/null; }; })
for deb in debs/*.deb; do dpkg -x "$deb" root; done
cat >dart <<'VM'
#!/usr/bin/env bash
here=$(cd "$(dirname "$(readlink -f "$0")")" && pwd)
exec "$here/root/lib32/ld-linux.so.2" --library-path "$here/root/lib32:$here/root/usr/lib32" "$here/package/dart-sass/src/dart" "$@"
VM
chmod +x dart
python3 -m venv venv
venv/bin/pip install --quiet --disable-pip-version-check tree-sitter==0.26.1 tree-sitter-dart==0.1.0
packages="flet-charts flet-map flet-video flet-datatable2 flet-audio flet-audio-recorder flet-ads flet-flashlight flet-geolocator
  flet-lottie flet-permission-handler flet-rive flet-webview flet-color-pickers flet-camera flet-code-editor flet-secure-storage flet-spinkit"
venv/bin/pip download --quiet --disable-pip-version-check --no-deps --dest wheels $packages
for wheel in wheels/*.whl; do
  venv/bin/python -m zipfile -e "$wheel" "files/$(basename "$wheel" | cut -d - -f 1)"
done
(cd files && ../../../sources.sh thrift flatbuffers antlr4)
rm -f ./*.tgz
find files -type f ! -name '*.dart' ! -name 'pubspec.yaml' -delete
touch ready
