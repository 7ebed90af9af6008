package cli_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// head is a convention that moves src/old/ to src/new/.
const head = "crooked: 1\nleave: { stay: [src/*] }\n"

const moving = head + "shelves: { new: { at: src/new/, from: [src/old/**] } }\n"

// line is a dimension of one file: its text is made of n copies, and stands beside one that moves.
func line(file string, n int, before, format, after string) dimension {
	return dimension{name: "a line of " + file, n: n, make: func(n int, put func(name, text string)) {
		put("crooked.yaml", moving)
		put("src/old/a.ts", "export const a = 1\n")
		put("src/old/b.py", "b = 1\n")
		put(file, before+repeated(n, format)+after)
	}}
}

// written is a dimension of the convention: n copies of a text in it, with one file that moves.
func written(name string, n int, before, format, after string) dimension {
	return dimension{name: "a convention with " + name, n: n, args: "check -q",
		make: func(n int, put func(name, text string)) {
			put("crooked.yaml", head+before+repeated(n, format)+after)
			put("src/old/a.ts", "export const a = 1\n")
			put("src/b.ts", "import { a } from './old/a'\n")
		}}
}

func dimensions() []dimension {
	all := []dimension{
		{name: "files", n: 100, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/a"+is+".ts", "import { a } from '../more/b"+is+"'\nimport { c } from './a"+
					strconv.Itoa(i/2)+"'\n")
				put("src/more/b"+is+".ts", "import { a } from '../old/a"+is+"'\n")
			}
		}},
		{name: "files in folders of their own", n: 100, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/d"+is+"/a.ts", "import { a } from '../../more/d"+is+"/b'\nimport { c } from '../d"+
					strconv.Itoa(i/2)+"/a'\n")
				put("src/more/d"+is+"/b.ts", "import { a } from '../../old/d"+is+"/a'\n")
			}
		}},
		{name: "files that move by name", n: 100, args: "move src/old lib/ --patch", make: func(n int, put func(name, text string)) {
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/a"+is+".ts", "import './a"+strconv.Itoa(i/2)+"'\nconst p = path.join(__dirname, 'none"+is+"')\n")
				put("src/old/a"+is+".test.ts", "import './a"+is+"'\n")
				put("src/b"+is+".ts", "import './old/a"+is+"'\n")
			}
		}},
		{name: "paths in a file that moves by name", n: 500, args: "move src/old/a.ts lib/ --patch",
			make: func(n int, put func(name, text string)) {
				put("src/old/a.ts", repeated(n, "import '../x#'\nconst p# = path.join(__dirname, 'none#')\n"))
				put("src/b.ts", "import './old/a'\n")
			}},
		{name: "files in a map", n: 100, args: "map --format json", make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/a"+is+".ts", "import './a"+strconv.Itoa(i/2)+"'\n")
				put("src/d"+is+"/b.ts", "import '../old/a"+is+"'\n")
			}
		}},
		{name: "files of a Go package that parts", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: new/, from: [old/a*.go] } }\n")
			put("go.mod", "module hilltop.example/m\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa(i/2)
				put("old/a"+is+".go", "package old\n\ntype A"+is+" struct{ own"+is+" int }\n\nfunc (a A"+is+
					") Get() int { return a.own"+is+" }\n\nvar _ = A"+other+"{}.Get()\n")
				put("old/b"+is+".go", "package old\n\nvar B"+is+" = A"+is+"{}.Get() + A"+other+"{}.Get()\n")
				put("user/u"+is+".go", "package user\n\nimport \"hilltop.example/m/old\"\n\nvar _, _ = old.A"+is+
					"{}, old.B"+other+"\n")
			}
		}},
		{name: "files of PHP that use and include one another", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/New/, from: [src/Old/**] } }\n")
			put("composer.json", `{"autoload": {"psr-4": {"A\\": "src/"}}}`)
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa(i/2)
				put("src/Old/A"+is+".php", "<?php\nnamespace A\\Old;\nclass A"+is+" extends A"+other+" {}\n")
				put("src/B"+is+".php", "<?php\nnamespace A;\nuse A\\Old\\A"+is+";\nclass B"+is+" { function f(A"+is+
					" $a): Old\\A"+other+" { require __DIR__ . '/Old/A"+other+".php'; return 'A\\Old\\A"+is+"'; } }\n")
				put("page"+is+".php", "<?php include 'inc/top.php';\n")
			}
			put("inc/top.php", "<link href=\"css/a.css\"><?php include 'inc/menu.php';\n")
			put("inc/menu.php", "<a href=\"page1.php\"></a>\n")
			put("css/a.css", "")
		}},
		{name: "names and paths in one file of PHP", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/New/, from: [src/Old/**] } }\n")
			put("composer.json", `{"autoload": {"psr-4": {"A\\": "src/"}}}`)
			put("src/Old/C.php", "<?php\nnamespace A\\Old;\nclass C {}\n")
			put("src/u.php", "<?php\nnamespace A;\n"+repeated(n, "$a# = __DIR__ . '/Old/x#'; f($a# . '/y', new Old\\C, "+
				"'A\\Old\\C'); function g#(Old\\C $c) { return $c ? B : D; } /** @var Old\\C */\n"))
		}},
		{name: "files of a Java package that parts", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/main/java/hill/fresh/, from: [src/main/java/hill/old/A*.java] } }\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa((i+1)%n)
				put("src/main/java/hill/old/A"+is+".java", "package hill.old;\n\n@Service public class A"+is+" extends B"+other+
					" { protected int f(B"+is+" b) { return b.g() + g(); } }\n")
				put("src/main/java/hill/old/B"+is+".java", "package hill.old;\n\npublic class B"+is+
					" { public int g() { return 1; } int own() { return 2; } }\n")
				put("src/main/java/hill/user/U"+is+".java", "package hill.user;\n\nimport hill.old.*;\n\nclass U"+is+" { A"+is+" a; B"+
					other+" b; String s = \"hill.old.A"+is+"\"; /** {@link A"+other+"} */ int g() { return b.g(); } }\n")
			}
			put("src/main/java/hill/App.java", "package hill;\n\n@SpringBootApplication class App {}\n")
		}},
		{name: "names and members in one file of Java", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/main/java/hill/fresh/, from: [src/main/java/hill/old/C.java] } }\n")
			put("src/main/java/hill/old/C.java", "package hill.old;\n\npublic class C { int same; "+
				repeated(n, "int f#(C c) { return c.same + same; } public void g#() { } ")+"}\n")
			put("src/main/java/hill/old/D.java", "package hill.old;\n\nclass D extends C { "+
				repeated(n, "int h# = 1; void i#(C c) { D d = new D(); d.g#(); c.g#(); } class E# extends C { } ")+"}\n")
		}},
		{name: "files of a namespace of C# that parts", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nleave: { stay: [A.csproj] }\nshelves: { new: { at: Fresh/, from: [Old/A*.cs] } }\n")
			put("A.csproj", "<Project Sdk=\"Microsoft.NET.Sdk\" />\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa((i+1)%n)
				put("Old/A"+is+".cs", "namespace A.Old;\n\npublic class A"+is+" : B"+other+" { int F(B"+is+" b) => b.G() + \"x\".Own"+other+"(); }\n")
				put("Old/B"+is+".cs", "namespace A.Old;\n\npublic class B"+is+" { public int G() => 1; }\n"+
					"public static class C"+is+" { public static int Own"+is+"(this string a) => 1; }\n")
				put("User/U"+is+".cs", "using A.Old;\n\nnamespace A.User;\n\n/// <see cref=\"A"+other+"\"/>\nclass U"+is+" { A"+is+" a; B"+other+
					" b; string s = \"A.Old.A"+is+"\"; int g() => s.Own"+is+"(); }\n")
			}
		}},
		{name: "names and branches in one file of C#", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nleave: { stay: [A.csproj] }\nshelves: { new: { at: Fresh/, from: [Old/C.cs] } }\n")
			put("A.csproj", "<Project Sdk=\"Microsoft.NET.Sdk\" />\n")
			put("Old/C.cs", "namespace A.Old;\n\npublic class C { public class D { } }\n"+
				"public static class E { "+repeated(n, "public static int F#(this C c) => 1; ")+"}\n")
			put("User/U.cs", "using A.Old;\n\nnamespace A.User;\n\nclass U {\n"+
				repeated(n, "#if X#\nC a#; C.D b#;\n#else\nA.Old.C a#;\n#endif\nint g#(C c) => c.F#() + (c is C d ? 1 : 0);\n")+"}\n")
		}},
		{name: "constants of Ruby in folders that load by themselves", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: app/models/fresh/, from: [app/models/old/**] } }\n")
			put("config/application.rb", "class Application < Rails::Application\nend\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa((i+1)%n)
				put("app/models/old/a"+is+".rb", "module Old\n  class A"+is+"\n    def f = [A"+other+", Old::A"+other+", B"+is+"]\n  end\nend\n")
				put("app/models/b"+is+".rb", "class B"+is+"\n  has_many :x, class_name: 'Old::A"+is+"'\n  def g = Old::A"+other+".new\nend\n")
				put("app/views/b"+is+"/show.html.erb", "<%= render 'row' %><%= Old::A"+is+".name %>\n")
			}
		}},
		{name: "files of Ruby that require one another", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: lib/hill/fresh/, from: [lib/hill/old/**] } }\n")
			put("hill.gemspec", "Gem::Specification.new { |s| s.name = 'hill'; s.files = Dir['lib/**/*'] }\n")
			put("lib/hill.rb", "module Hill; end\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa(i/2)
				put("lib/hill/old/a"+is+".rb", "require_relative 'a"+other+"'\nmodule Hill\n  class A"+is+"\n    B = A"+other+"\n  end\nend\n")
				put("lib/hill/u"+is+".rb", "require 'hill/old/a"+is+"'\nmodule Hill\n  class U"+is+" < A"+is+"\n    autoload :C, 'hill/old/a"+other+"'\n  end\nend\n")
			}
		}},
		{name: "constants in one file of Ruby", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: app/models/fresh/, from: [app/models/old/**] } }\n")
			put("config/application.rb", "class Application < Rails::Application\nend\n")
			put("app/models/old/a.rb", "module Old\n  class A\n"+repeated(n, "    C# = 1\n    class D#; def e = C#; end\n")+"  end\nend\n")
			put("app/models/u.rb", "class U\n"+strings.ReplaceAll(
				repeated(n, "  def f# = [Old::A, Old::A::C#, \"@{Old::A::D#.new}\", :'Old::A']\n"), "@", "#")+"end\n")
		}},
		{name: "modules of Rust that use one another", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/fresh/, from: [src/old/**] } }\n")
			put("Cargo.toml", "[package]\nname = \"hill\"\nedition = \"2021\"\n")
			put("src/lib.rs", "pub mod old;\npub mod users;\npub use old::*;\n")
			put("src/old/mod.rs", repeated(n, "pub mod a#;\npub use a#::A#;\n"))
			put("src/users/mod.rs", repeated(n, "mod u#;\n"))
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa((i+1)%n)
				put("src/old/a"+is+".rs", "use super::a"+other+"::A"+other+" as B;\npub struct A"+is+" { b: Option<Box<B>> }\nimpl A"+is+" { fn f(&self) -> &Option<Box<B>> { &self.b } }\n")
				put("src/users/u"+is+".rs", "use crate::old::{a"+is+"::{self, A"+is+"}, a"+other+"};\nuse crate::*;\nfn g(x: A"+is+", y: a"+other+"::A"+other+") -> a"+is+"::A"+is+" { h!(A"+other+") }\n")
			}
		}},
		{name: "names in one file of Rust", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/fresh/, from: [src/old/**] } }\n")
			put("Cargo.toml", "[package]\nname = \"hill\"\nedition = \"2021\"\n")
			put("src/lib.rs", "pub mod old;\nmod user;\n")
			put("src/old/mod.rs", "pub mod a;\n")
			put("src/old/a.rs", repeated(n, "pub fn f#() { use super::a::f#; mod m# { pub use super::f#; } }\npub struct S# { x#: u8 }\n"))
			put("src/user.rs", "use crate::old::a::*;\n"+repeated(n, "fn g#(s: S#) { f#(); crate::old::a::f#(); /* x */ s.x; { use crate::old::a::S# as T; } }\n"))
		}},
		{name: "libraries of Dart", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: lib/src/fresh/, from: [lib/src/old/**] } }\n")
			put("pubspec.yaml", "name: hill\npublish_to: none\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa((i+1)%n)
				put("lib/src/old/a"+is+".dart", "import 'a"+other+".dart';\npart 'a"+is+".g.dart';\nclass A"+is+" {}\n")
				put("lib/src/old/a"+is+".g.dart", "part of 'a"+is+".dart';\n")
				put("lib/u"+is+".dart", "import 'package:hill/src/old/a"+is+".dart';\nexport 'src/old/a"+other+".dart';\n")
			}
		}},
		{name: "Go packages", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: new/, from: [old/**] } }\n")
			put("go.mod", "module hilltop.example/m\n")
			for i := range n {
				is, other := strconv.Itoa(i), strconv.Itoa(i/2)
				put("old/a"+is+"/a.go", "package a"+is+"\n\nfunc A() {}\n")
				put("user/u"+is+"/u.go", "package u"+is+"\n\nimport (\n\t\"hilltop.example/m/old/a"+is+
					"\"\n\tx \"hilltop.example/m/old/a"+other+"\"\n)\n\nvar _, _ = a"+is+".A, x.A\n")
			}
		}},
		{name: "names and imports in one Go file", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: new/, from: [old/**] } }\n")
			put("go.mod", "module hilltop.example/m\n")
			var imports, uses strings.Builder
			for i := range n {
				is := strconv.Itoa(i)
				put("old/a"+is+"/a.go", "package a"+is+"\n\nfunc A() {}\n")
				imports.WriteString("\t\"hilltop.example/m/old/a" + is + "\"\n")
				uses.WriteString("\ta" + is + ".A()\n\tv" + is + " := Map{Key" + is + ": 1}\n\t_ = v" + is + ".field\n")
			}
			put("user/u.go", "package user\n\nimport (\n"+imports.String()+")\n\nfunc U() {\n"+uses.String()+"}\n")
		}},
		{name: "packages of a workspace", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", head+"shelves: { new: { at: libs/<name>/, from: packages/<name>/** } }\n")
			put("package.json", `{"private": true, "workspaces": ["packages/*", "libs/*"]}`)
			for i := range n {
				is := strconv.Itoa(i)
				put("packages/p"+is+"/package.json", `{"name": "@hill/p`+is+
					`", "main": "src/index.ts", "dependencies": {"@hill/p`+strconv.Itoa(i/2)+`": "*"}}`)
				put("packages/p"+is+"/tsconfig.json", `{"compilerOptions": {"paths": {"@/*": ["./src/*"]}}}`)
				put("packages/p"+is+"/src/index.ts", "export { a } from '@hill/p"+strconv.Itoa(i/2)+
					"'\nexport { b } from '@/b'\n")
				put("packages/p"+is+"/src/b.ts", "export const b = 1\n")
				put("packages/p"+is+"/README.md", "See x/src/index.ts and p"+is+"/src/b.ts, and src/b.js.\n")
			}
		}},
		{name: "Python files", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml",
				"crooked: 1\nshelves: { new: { at: hill/new/, from: [hill/old/**] } }\nleave: { stay: [hill/*] }\n")
			put("pyproject.toml", "[project]\nname = \"hill\"\n")
			put("hill/__init__.py", "")
			put("hill/old/__init__.py", "")
			for i := range n {
				is, half := strconv.Itoa(i), strconv.Itoa(i/2)
				put("hill/old/d"+is+"/__init__.py", "")
				put("hill/old/d"+is+"/a.py", "from hill.old.d"+half+" import a\nimport hill.old.d"+half+
					".a\nhill.old.d"+half+".a.x()\n")
			}
		}},
		{name: "the depth of folders", n: 12, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			deep := strings.Repeat("d/", n)
			for i := range 20 {
				is := strconv.Itoa(i)
				put("src/old/"+deep+"a"+is+".ts", "import { b } from './a"+strconv.Itoa(i/2)+
					"'\nimport { a } from '../"+strings.Repeat("../", n)+"more'\n")
			}
			put("src/more.ts", "import { a } from './old/"+deep+"a1'\n")
		}},
		{name: "a folder of many files", n: 500, args: "check -q", make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				put("src/old/a"+strconv.Itoa(i)+".ts", "")
			}
		}},
		{name: "who imports one file", n: 100, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			put("src/old/one.ts", "export const one = 1\n")
			for i := range n {
				put("src/more/b"+strconv.Itoa(i)+".ts", "import { one } from '../old/one'\n")
			}
		}},
		{name: "what one file exports", n: 60, args: "check -q", make: func(n int, put func(name, text string)) {
			put("crooked.yaml", head+"pools: { parts: [src/parts/**] }\nshelves:\n"+
				"  pages: { at: src/pages/<page>/, inside: { parts: { takes: [{ pool: parts, needed_by: one of pages "+
				"}] } } }\n  parts: { at: src/parts/, takes: [{ pool: parts }] }\n")
			put("src/parts/index.ts", repeated(n, "export { p# } from './p#'\n"))
			for i := range n {
				is := strconv.Itoa(i)
				put("src/parts/p"+is+".ts", "export const p"+is+" = 1\n")
				put("src/pages/a"+is+"/b.ts", "import { p"+is+" } from '../../parts'\n")
			}
		}},
		{name: "what one file hands on by stars", n: 60, args: "check -q",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", head+"pools: { parts: [src/parts/**] }\nshelves:\n"+
					"  pages: { at: src/pages/<page>/, inside: { parts: { takes: [{ pool: parts, needed_by: one of "+
					"pages }] } } }\n  parts: { at: src/parts/, takes: [{ pool: parts }] }\n")
				put("src/parts/index.ts", repeated(n, "export * from './p#'\n"))
				for i := range n {
					is := strconv.Itoa(i)
					put("src/parts/p"+is+".ts", "export const p"+is+" = 1\n")
					put("src/pages/a"+is+"/b.ts", "import { p"+is+" } from '../../parts'\n")
				}
			}},
		{name: "a door with many exports", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml",
				head+
					"shelves: { modules: { at: src/modules/<module>/, from: 'src/old/<module>/**', door: index.ts } }\n")
			put("src/modules/sky/index.ts", repeated(n, "export { p# } from './p#'\n"))
			for i := range n {
				is := strconv.Itoa(i)
				put("src/modules/sky/p"+is+".ts", "export const p"+is+" = 1\n")
				put("src/old/a"+is+"/b.ts", "import { p"+is+" } from '../../modules/sky/p"+is+"'\n")
			}
		}},
		{name: "files of a torn folder", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/new/<kind>/, from: ['src/old/**/<kind>.*.ts'] "+
				"} }\nleave: { stay: [src/*, '*'] }\n")
			put("tsconfig.json", `{"include": ["src/old", "src/old/deep", "src/old/deep/er"]}`)
			for i := range n {
				put("src/old/deep/er/k"+strconv.Itoa(i)+".a.ts", "")
			}
		}},
		{name: "steps", n: 8, args: "straighten -q --yes --dirty --steps",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", head+"shelves:\n"+repeated(n, "  s#: { at: src/s#/, from: [src/old/m#/**] }\n"))
				for i := range 64 {
					is := strconv.Itoa(i)
					put("src/old/m"+is+"/a.ts", "import '../m"+strconv.Itoa(i/2)+"/a'\n")
				}
			}},
		{name: "earlier records", n: 8, args: "straighten -q --yes --dirty",
			make: func(_ int, put func(name, text string)) {
				put("crooked.yaml", moving)
				put("src/old/a.ts", "")
			}, runs: func(t *testing.T, dir string, n int) {
				for range n {
					require.Equal(t, 0, run(t, dir, "straighten", "-q", "--yes", "--dirty").code)
					require.NoError(t, moveBack(dir))
				}
			}},
		{name: "paths of the compiler's settings", n: 100, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			put("tsconfig.json", `{"compilerOptions": {"paths": {"@old/*": ["./src/old/*"]`+
				repeated(n, `, "@p#/*": ["./src/p#/*"]`)+"}}}")
			for i := range n {
				is := strconv.Itoa(i)
				put("src/p"+is+"/a.ts", "import '@p"+strconv.Itoa(i/2)+"/a'\nimport '@old/a'\n")
			}
			put("src/old/a.ts", "")
		}},
		{name: "instances that use one another", n: 60, args: "check -q",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", head+"shelves: { pages: { at: src/pages/<page>/, uses: [], apart: true, door: "+
					"index.ts, must: [README.md], names: { files: kebab, like: ['*.ts'] }, libraries: { never: "+
					"[chart] } } }\n")
				for i := range n {
					is := strconv.Itoa(i)
					put("src/pages/p"+is+"/index.ts", "import '../p"+strconv.Itoa((i+1)%n)+
						"/index'\nimport 'chart'\nimport './none'\n")
					put("src/pages/p"+is+"/BigName.ts", "import '../p"+strconv.Itoa(i/2)+"/BigName'\n")
				}
			}},
		{name: "companions", n: 60, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", head+"shelves: { new: { at: src/new/, from: ['src/old/*.ts'], beside: { must: "+
				"[<name>.css], may: [{ file: test/<path>/<name>Test.ts, mirrors: src/ }] } } }\n")
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/a"+is+".ts", "import './a"+is+".css'\n")
				put("src/old/a"+is+".css", "")
				put("test/old/a"+is+"Test.ts", "import '../../src/old/a"+is+"'\n")
			}
		}},
		{name: "moves that block one another", n: 40, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", head+"shelves:\n  last: { at: src/d0/, from: ['src/old/*.ts'] }\n")
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/a"+is+".ts", "import '../d0/a"+is+"'\n")
				put("src/d0/a"+is+".ts", "import '../old/a"+strconv.Itoa(i/2)+"'\n")
			}
		}},
		{name: "what earlier straightens left", n: 40, args: "check -q",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", moving)
				put("NOTES.txt", repeated(n, "# see src/old/a#.ts for it\n"))
				for i := range n {
					put("src/old/a"+strconv.Itoa(i)+".ts", "")
				}
			}, runs: func(t *testing.T, dir string, _ int) {
				require.Equal(t, 0, run(t, dir, "straighten", "-q", "--yes", "--dirty").code)
			}},
		{name: "a baseline", n: 100, args: "check -q --baseline accepted.txt",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", moving)
				for i := range n {
					put("src/more/a"+strconv.Itoa(i)+".ts", "import './none'\n")
				}
			}, runs: func(t *testing.T, dir string, _ int) {
				run(t, dir, "check", "-q", "--write-baseline", "accepted.txt")
			}},
		{name: "conventions further down", n: 30, args: "check -q", make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				is := strconv.Itoa(i)
				put("apps/a"+is+"/crooked.yaml", "crooked: 1\nshelves: { parts: { at: parts/, from: 'old/**' } }\n")
				put("apps/a"+is+"/old/b.ts", "import '../../a"+strconv.Itoa(i/2)+"/old/b'\n")
			}
		}},
		{name: "a survey", n: 100, args: "survey -q", make: func(n int, put func(name, text string)) {
			for i := range n {
				is := strconv.Itoa(i)
				put("src/d"+is+"/a"+is+".ts", "import '../d"+strconv.Itoa(i/2)+"/a"+strconv.Itoa(i/2)+
					"'\nexport class A {}\n")
			}
		}},
		{name: "a draft", n: 100, args: "survey --draft", make: func(n int, put func(name, text string)) {
			for i := range n {
				is := strconv.Itoa(i)
				put("src/d"+is+"/index.ts", "import '../d"+strconv.Itoa(i/2)+"/index'\n")
				put("src/d"+is+"/model.ts", "")
			}
		}},
		{name: "folders that are torn", n: 30, make: func(n int, put func(name, text string)) {
			put("crooked.yaml", "crooked: 1\nshelves: { new: { at: src/new/<kind>/, from: ['src/old/**/<kind>.*.ts'] "+
				"} }\nleave: { stay: [src/*, '*'] }\n")
			put("tsconfig.json", `{"include": ["src/new"`+repeated(n, `, "src/old/d#"`)+"]}")
			for i := range n {
				is := strconv.Itoa(i)
				put("src/old/d"+is+"/k"+is+".a.ts", "")
				put("src/old/d"+is+"/l"+is+".a.ts", "")
			}
		}},
		{name: "undoing", n: 60, args: "undo -q", make: func(n int, put func(name, text string)) {
			put("crooked.yaml", moving)
			for i := range n {
				put("src/old/a"+strconv.Itoa(i)+".ts", "import './a"+strconv.Itoa(i/2)+"'\n")
			}
		}, runs: func(t *testing.T, dir string, _ int) {
			require.Equal(t, 0, run(t, dir, "straighten", "-q", "--yes", "--dirty").code)
		}},
		{name: "straightening", n: 60, args: "straighten -q --yes --dirty",
			make: func(n int, put func(name, text string)) {
				put("crooked.yaml", moving)
				for i := range n {
					put("src/old/d"+strconv.Itoa(i)+"/a.ts", "import '../d"+strconv.Itoa(i/2)+"/a'\n")
				}
			}},
		{name: "shelves that take two names", n: 50, args: "check -q",
			make: shelves("{ at: src/a#/, takes: [{ name: \"*A#.ts\" }, { name: \"*B#.tsx\" }] }")},
		{name: "shelves with one home each", n: 50, args: "check -q",
			make: shelves("{ at: src/a#/, from: ['old/a#/**', 'src/old/a#_*.ts'] }")},
		{name: "shelves with bare places", n: 50, args: "check -q", make: shelves("src/a#/")},
		{name: "shelves that use many", n: 25, args: "check -q", make: shelves("{ at: src/a#/, uses: [s0, s1] }")},
		{name: "shelves laid out", n: 25, args: "check -q",
			make: shelves("{ at: 'apps/a#/<x>/', laid_out_as: base/ }")},
	}
	all = append(all,
		written("values of a placeholder", 100, "where: { page: { only: [old", ", p#",
			"] } }\nshelves: { pages: { at: src/new/<page>/, from: 'src/<page>/**' } }\n"),
		written("values left out", 100, "where: { page: { except: [p", ", p#",
			"] } }\nshelves: { pages: { at: src/new/<page>/, from: 'src/<page>/**' } }\n"),
		written("exceptions", 100, "exceptions:\n", "  - { file: src/x#/**, rule: misplaced, because: later }\n",
			"shelves: { new: { at: src/new/, from: [src/old/**] } }\n"),
		written("mentions by their look", 50, "mentions:\n", "  - { like: 'x#:<a>', file: src/old/<a>.ts }\n",
			"shelves: { new: { at: src/new/, from: [src/old/**] } }\n"),
		written("mentions by key", 50, "mentions:\n", "  - { in: deploy.yaml, key: 'a.b#', file: <path> }\n",
			"shelves: { new: { at: src/new/, from: [src/old/**] } }\n"),
		written("mentions in code", 50, "mentions:\n", "  - { like: 'x#<a>', file: src/old/x#<a>.ts, in_code: true }\n",
			"shelves: { new: { at: src/new/, from: [src/old/**] } }\n"),
		written("declarations", 50, "shelves: { new: { at: src/new/, takes: [", "{ declares: { class: 'A#*' } }, ",
			"{ name: a.ts }] } }\n"),
		written("places from", 50, "shelves: { new: { at: src/new/, from: [", "'src/x#/**', ", "'src/old/**'] } }\n"),
		written("names asked for", 50, "shelves: { new: { at: src/new/, takes: [", "{ name: 'x#*.ts' }, ",
			"{ name: a.ts }] } }\n"),
		written("aliases", 50, "shelves: { new: { at: src/new/, from: [src/old/**] } }\naliases:\n",
			"  '@x#/*': { now: src/x#/*, then: src/y#/* }\n", ""),
		written("folders with addresses", 50, "shelves: { new: { at: src/new/, from: [src/old/**] } }\npublic:\n",
			"  - { folder: web#/, at: /w#/ }\n", ""),
		written("settings", 50, "shelves: { new: { at: src/new/, from: [src/old/**] } }\nsettings:\n",
			"  - { in: a#.json, set: { b: c } }\n", ""),
		written("pools", 50, "pools: { p: [src/old/**]", ", p#: [src/x#/**]",
			" }\nshelves: { new: { at: src/new/, takes: [{ pool: p }] } }\n"),
		written("shelves of pools", 30, "pools: { p: [src/old/**] }\nshelves:\n",
			"  s#: { at: src/s#/<x>/, takes: [{ pool: p, name: 'z#_<x>.ts' }] }\n",
			"  new: { at: src/new/, takes: [{ pool: p }] }\n"),
		written("names that shelves want", 50,
			"shelves: { new: { at: src/new/, from: [src/old/**], names: { like: [a.ts", ", 'x#*.ts'", "] } } }\n"),
		written("libraries", 4000, "shelves: { new: { at: src/new/, from: [src/old/**], libraries: { never: [chart",
			", 'x#-*'", "] } } }\n"),
		written("shelves that may be used", 50, "shelves:\n  new: { at: src/new/, from: [src/old/**] }\n",
			"  s#: { at: src/s#/, uses: [new] }\n", ""),
		written("variables", 50, "vars: { app: src", ", v#: x#",
			" }\nshelves: { new: { at: <app>/new/, from: [<app>/old/**] } }\n"),
		written("inner shelves", 30,
			"shelves:\n  new: { at: src/new/, from: [src/old/**] }\n  pages:\n    at: src/pages/<page>/\n    inside:\n",
			"      i#: { takes: [{ name: 'x#_<page>.ts' }] }\n", ""),
		written("groups that move at once", 30,
			"shelves:\n  new: { at: src/new/, from: [src/old/**] }\n  other: src/other/\nat_once:\n",
			"  - [new, other]\n", ""),
		written("things left alone", 100, "shelves: { new: { at: src/new/, from: [src/old/**] } }\ntop: [src/",
			", 'x#/'", "]\n"),
	)
	for _, kind := range []struct {
		file, before, format, after string
	}{
		{"a.json", `{"a": "src/old/a.ts"`, `, "k#": "src/x#", "l#": ["begin name: dir"]`, "}"},
		{"a.yaml", "a: [src/old/a.ts", ", src/x#, 'begin name: dir'", "]\n"},
		{"a.toml", "a = [\"src/old/a.ts\"", ", \"src/x#\"", "]\n"},
		{"a.ini", "[a]\nb = src/old/a.ts", " src/x# name:dir", "\n"},
		{"a.xml", "<a>", "<b c=\"src/x#\">src/old/a.ts</b>", "</a>"},
		{"a.min.js", "import '../old/a';", "var a#='b/c',d=/e/.test(a#)?'./f'+d:{'g':h};", "\n"},
		{"a.js", "import './src/old/a';", "var a#=import('./src/b'+c),d=`x${e}`;require('./f#');", "\n"},
		{"a.tsx", "import './src/old/a';", "a=<b c=\"d/e#\">{f}</b>;", "\n"},
		{"a.d.ts", "/** ", "@type {import('./src/old/a')} {@link x#} ", "*/\n"},
		{"a.css", "", ".a#{b:url(src/x#.png)}@import 'c';", "\n"},
		{"a.scss", "", ".a#{b:url(src/x#.png);$c: 'd/e'}", "\n"},
		{"a.less", "", ".a#{b:url('src/x#.png');@c: 'd/e'}", "\n"},
		{"a.html", "<p>", "<a href=\"src/x#.html\" style='b'>c</a><img srcset=\"d#.png 1x, e.png 2x\">", "</p>"},
		{"a.vue", "<template>", "<a :src=\"require('./x#')\">{{ c }}</a>", "</template>\n"},
		{"a.md", "", "[a#](src/b#.md) `src/old/a.ts` <c@d> ", "\n"},
		{"b.md", "", "[a# [ `b ](", "\n"},
		{"a.rst", "", ":doc:`a# <b>` `c <d.rst>`_ ``e`` ", "\n"},
		{"a.ipynb", `{"cells": [{"cell_type": "code", "source": [`, `"import a#\n", `, `""]}]}`},
		{"a.py", "import b; x = [", "'src/old/a.ts', f'{c#}/d', e.f.g#, ", "]\n"},
		{"b.py", "x = '''", ":class:`a.b#` >>> import c.d ", "'''\n"},
		{"a.rb", "x = [", "'src/old/a.ts', E::F#, %w[g h], /i/, ?j, ", "]\n"},
		{"b.rb", "", "y# = [<<~A, <<'B']\n  src/x#\nA\n  c\nB\n", ""},
		{"a.html.erb", "<p>", "<a href=\"src/x#\"><%= render 'b#' %></a>", "</p>"},
		{"a.go", "package a\n\nvar a = []string{", "\"src/x#\", ", "}\n"},
		{"Dockerfile", "FROM a\nCOPY", " src/x# \"b c\"", " /d\n"},
		{"Makefile", "a:\n\t", "begin src/x# name: \"dir\" ", "\n"},
		{"a.sh", "", "cd src/x# && b --c=src/old/a.ts; ", "\n"},
		{".dockerignore", "", "src/x#/b\n", ""},
		{"MANIFEST.in", "include", " src/x#", "\n"},
		{"a.graphql", "", "#import \"src/x#\" ", "\n"},
		{"a.pug", "", "a(href=\"src/x#\")\n", ""},
		{"b.pug", "a(", "href=\"src/x#\" ", ")\n"},
		{"c.py", "x = 1\n", "y = 'a' # src.old.b and src/old/b.py\nz# = 'src'\n", ""},
		{"c.ts", "const x = 1\n", "// src/old/a.ts\nconst z# = 'src', y# = join(z#, \"b\")\n", ""},
		{"a.svelte", "<p>", "<a href=\"src/x#\">{b}</a>", "</p>"},
		{"a.mdx", "import A from './b'\n\n", "<A b=\"c/#\"/> [d](e.md) ", "\n"},
		{"a.sass", "", ".a#\n  b: url(src/x#.png)\n", ""},
		{"nginx.conf", "server {", " root src/x#; include b.conf;", "}\n"},
		{"CODEOWNERS", "", "src/x#/ @b\n", ""},
		{"a.proto", "", "import \"src/x#.proto\";\n", ""},
		{"a.po", "", "#: src/x#.py:1\nmsgid \"a\"\n", ""},
		{"setup.py", "from setuptools import setup\nsetup(name='a', packages=[", "'src.x#', ", "])\n"},
		{"setup.cfg", "[options]\npackages =\n", "    src.x#\n", ""},
		{"pyproject.toml", "[tool.setuptools]\npackages = [", "\"src.x#\", ", "]\n"},
		{"docker-compose.yml", "services:\n", "  s#: { build: ./src/x#, volumes: ['./src/y#:/b'] }\n", ""},
		{".github/workflows/a.yml", "on: push\njobs:\n  a:\n    steps:\n", "      - run: cd src/x# && test src/y#\n",
			""},
		{"index.html", "<html>", "<script src=\"/src/x#.js\"></script>", "</html>"},
		{"a.txt", "", "src/old/a.ts and old/x# ", "\n"},
		{"b.txt", "", "src/old/ src.old. ", "\n"},
		{"package.json", `{"name": "a", "scripts": {"b": "c`, ` src/x# && d --e=src/old/a.ts`, `"}}`},
		{"tsconfig.json", `{"compilerOptions": {}, "include": ["src"`, `, "src/x#"`, `]}`},
	} {
		all = append(all, line(kind.file, 800, kind.before, kind.format, kind.after))
	}
	return all
}

// shelves gives a convention with n shelves, and files on each.
func shelves(format string) func(n int, put func(name, text string)) {
	return func(n int, put func(name, text string)) {
		put("crooked.yaml", head+"shelves:\n  base: { at: base/in/, takes: [{ name: \"*.in.ts\" }] }\n"+
			repeated(n, "  s#: "+format+"\n"))
		put("src/a1/oneA1.ts", "import { b } from '../a2/twoB2'\n")
		put("src/a2/twoB2.tsx", "export const b = 1\n")
		put("src/old/a1x.ts", "")
		put("base/in/more.in.ts", "")
		put("apps/a1/x/in/more.in.ts", "")
	}
}
