# build.sh OUT: builds the library and its tests, as their project files list them, and runs the tests in OUT.
set -e
out=$1
mkdir -p "$out/Schema"
project() { dirname "$(ls ./*/"$1" ./*/*/"$1" 2>/dev/null | head -n 1)"; }
listed() { grep -o '<Compile Include="[^"]*"' "$1/$2" | sed 's/.*Include="//; s/"$//' | tr '\\' '/' | sed "s|^|$1/|"; }
libraries=System.Core,System.Xml,System.Xml.Linq,System.Data,System.Runtime.Serialization,System.Numerics,Microsoft.CSharp
of=$(project Newtonsoft.Json.Net40.csproj)
listed "$of" Newtonsoft.Json.Net40.csproj >"$out/library.txt"
mcs -nologo -d:NET40 -d:TRACE -warn:0 -target:library -out:"$out/Newtonsoft.Json.dll" -r:$libraries @"$out/library.txt"
of=$(project Newtonsoft.Json.Tests.Net40.csproj)
nunit=$(ls /usr/lib/cli/nunit.framework-*/nunit.framework.dll)
# without what needs another language
listed "$of" Newtonsoft.Json.Tests.Net40.csproj | grep -v 'FSharpTests\|DiscriminatedUnionConverterTests\|/Currency.cs\|/Shape.cs' >"$out/tests.txt"
mcs -nologo -d:NET40 -d:TRACE -warn:0 -target:library -out:"$out/Newtonsoft.Json.Tests.dll" -r:"$out/Newtonsoft.Json.dll" -r:"$nunit" \
  -r:$libraries,System.Data.Linq,System.Data.Entity,System.ComponentModel.DataAnnotations,System.Web,System.Web.Extensions,System.ServiceModel,System.ServiceModel.Web,System.Drawing,System.Security \
  @"$out/tests.txt"
cp "$nunit" "$of"/*.json "$of"/*.xml "$of"/*.txt "$of"/*.bson "$of"/*.jpg "$out"
cp -r "$of/Schema/Specs" "$out/Schema"
cd "$out"
nunit-console -domain:None -nologo Newtonsoft.Json.Tests.dll -xml:result.xml >run.txt 2>&1 || true # some fail on mono
