package java_test

import (
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/oracle/tree"
)

// made is a program that is made at random: many classes with few names, in few packages, so that names are taken twice,
// hidden, inherited and had by imports of whole packages.
type made struct {
	random  *rand.Rand
	classes []*madeClass
	text    map[string]string
}

type madeClass struct {
	pkg, name string
	open      bool // public
	base      *madeClass
	inner     string
	sees      string // who sees a method of it
	values    int
}

// names are few, and some are those of types of the language.
var names = []string{"Star", "Moon", "Night", "Record", "Process", "Package", "Module", "List", "Set", "Map", "Row", "Desk"}

func (m *made) pick(n int) int { return m.random.IntN(n) }

// program makes the classes, and a class that runs what each does.
func (m *made) program() map[string]string {
	m.text = map[string]string{}
	taken := map[string]bool{}
	for i := 0; len(m.classes) < 40 && i < 400; i++ {
		c := &madeClass{pkg: fmt.Sprintf("p%d", m.pick(6)), name: names[m.pick(len(names))], open: m.pick(5) > 0, values: i,
			sees: []string{"public ", "", "protected "}[m.pick(3)]}
		if m.pick(3) == 0 {
			c.name += strconv.Itoa(m.pick(9))
		}
		if taken[c.pkg+"."+c.name] {
			continue
		}
		taken[c.pkg+"."+c.name] = true
		if m.pick(3) == 0 {
			c.inner = names[m.pick(len(names))]
			if c.inner == c.name {
				c.inner = ""
			}
		}
		m.classes = append(m.classes, c)
	}
	for _, c := range m.classes {
		m.write(c)
	}
	var main strings.Builder
	main.WriteString("package all;\n\npublic class Main {\n    public static void main(String[] a) {\n")
	for _, c := range m.classes {
		if c.open {
			fmt.Fprintf(&main, "        System.out.println(%s.%s.say());\n", c.pkg, c.name)
		}
	}
	main.WriteString("    }\n}\n")
	m.text["src/main/java/all/Main.java"] = main.String()
	return m.text
}

// write writes a class: it names others in all the ways that there are, where the compiler takes that.
func (m *made) write(c *madeClass) {
	var imports, body []string
	simple := map[string]string{c.name: c.pkg + "." + c.name} // what a simple name means in the file
	if c.inner != "" {
		simple[c.inner] = "inner"
	}
	head := "class " + c.name
	for _, other := range m.classes {
		if m.pick(20) == 0 && c.base == nil && other != c && other.pkg == c.pkg && !m.builtOn(other, c) && other.name != c.inner {
			c.base = other
			head += " extends " + other.name
		}
	}
	for b := c.base; b != nil; b = b.base { // what it inherits hides what is outside
		if b.inner != "" && simple[b.inner] == "" {
			simple[b.inner] = "inherited"
		}
	}
	for _, other := range m.classes {
		if other.pkg == c.pkg && simple[other.name] == "" {
			simple[other.name] = other.pkg + "." + other.name
		}
	}
	use := func(name, as string) {
		body = append(body, fmt.Sprintf("        text += %s.value();", as))
		for _, other := range m.classes { // what it may be for its package alone
			if full := other.pkg + "." + other.name; full == name && (other.pkg == c.pkg || other.sees == "public ") && m.pick(4) == 0 {
				body = append(body, fmt.Sprintf("        text += %s.own%d();", as, other.values))
			}
		}
	}
	for range 6 {
		other := m.classes[m.pick(len(m.classes))]
		full := other.pkg + "." + other.name
		switch {
		case other == c || !other.open && other.pkg != c.pkg:
		case simple[other.name] == full:
			use(full, other.name)
		case m.pick(3) == 0 || simple[other.name] != "" && simple[other.name] != "import" && other.pkg != c.pkg:
			use(full, full)
		case simple[other.name] == "":
			simple[other.name] = full
			imports = append(imports, "import "+full+";")
			use(full, other.name)
		}
		if other.open && other.inner != "" && m.pick(2) == 0 {
			use("", full+"."+other.inner)
		}
	}
	if m.pick(2) == 0 { // all of another package: what it has and nothing else means yet
		pkg := fmt.Sprintf("p%d", m.pick(6))
		if slices.ContainsFunc(m.classes, func(o *madeClass) bool { return o.pkg == pkg && o.open }) && pkg != c.pkg {
			imports = append(imports, "import "+pkg+".*;")
			for _, o := range m.classes {
				if o.pkg == pkg && o.open && simple[o.name] == "" && !ofLanguage(o.name) && m.pick(2) == 0 {
					use("", o.name)
				}
			}
		}
	}
	if m.pick(3) == 0 { // names of the language, where nothing else has them
		for _, name := range []string{"Record", "Process", "Package", "Module"} {
			if simple[name] == "" && m.pick(2) == 0 && !slices.ContainsFunc(imports, func(i string) bool { return strings.HasSuffix(i, ".*;") }) {
				body = append(body, fmt.Sprintf("        text += %s.class.getName();", name))
			}
		}
	}
	if m.pick(3) == 0 && simple["List"] == "" {
		if m.pick(2) == 0 {
			imports = append(imports, "import java.util.List;")
			simple["List"] = "java.util.List"
			body = append(body, "        text += List.class.getName();")
		} else if !slices.ContainsFunc(imports, func(i string) bool { return strings.HasSuffix(i, ".*;") }) {
			imports = append(imports, "import java.util.*;")
			body = append(body, "        text += List.class.getName();")
		}
	}
	if c.open {
		head = "public " + head
	}
	inner := ""
	if c.inner != "" {
		inner = fmt.Sprintf("    public static class %s { public static String value() { return \"%d.%s \"; } }\n", c.inner, c.values, c.inner)
		body = append(body, "        text += "+c.inner+".value();")
	}
	if m.pick(3) == 0 { // a variable that is called as a type
		name := names[m.pick(len(names))]
		body = append(body, fmt.Sprintf("        { String %s = \"v\"; text += %s.length(); }", name, name))
	}
	if c.base != nil && c.base.inner != "" && simple[c.base.inner] == "inherited" {
		body = append(body, "        text += "+c.base.inner+".value();") // which it inherits
	}
	if m.pick(3) == 0 { // a type parameter and a local class that are called as types
		name, local := names[m.pick(len(names))], names[m.pick(len(names))]
		inner += fmt.Sprintf("    static <%s> int typed(%s a) { %s b = a; return b == a ? 1 : 0; }\n", name, name, name)
		inner += fmt.Sprintf("    static int local() { class %s { int c = 1; } %s d = new %s(); return d.c; }\n", local, local, local)
		body = append(body, "        text += typed(text) + local();")
	}
	slices.Sort(imports)
	imports = slices.Compact(imports)
	if len(imports) > 0 {
		imports = append(imports, "")
	}
	m.text[path.Join("src/main/java", c.pkg, c.name+".java")] = fmt.Sprintf(
		"package %s;\n\n%s\n%s {\n    public static String value() { return \"%d \"; }\n    %sstatic int own%d() { return %d; }\n%s"+
			"    public static String say() {\n        String text = \"\" + own%d();\n%s\n        return text;\n    }\n}\n",
		c.pkg, strings.Join(imports, "\n"), head, c.values, c.sees, c.values, c.values, inner, c.values, strings.Join(body, "\n"))
}

func ofLanguage(name string) bool {
	return slices.Contains([]string{"Record", "Process", "Package", "Module"}, name)
}

func (m *made) builtOn(c, base *madeClass) bool {
	for ; c != nil; c = c.base {
		if c == base {
			return true
		}
	}
	return false
}

// layMade lays a program out.
func layMade(t *testing.T, round int) string {
	t.Helper()
	dir := t.TempDir()
	m := made{random: rand.New(rand.NewPCG(uint64(round), 11))}
	for p, text := range m.program() {
		require.NoError(t, os.MkdirAll(filepath.Dir(filepath.Join(dir, p)), 0o755))
		require.NoError(t, os.WriteFile(filepath.Join(dir, p), []byte(text), 0o644))
	}
	return dir
}

var ownPackage = regexp.MustCompile(`\bp\d\.`)

// outcomes compiles and runs programs.
func outcomes(t *testing.T, dirs []string) []string {
	t.Helper()
	list := filepath.Join(t.TempDir(), "list")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(dirs, "\n")), 0o644))
	out, err := exec.Command("java", "Runs.java", list).Output()
	require.NoError(t, err)
	lines := strings.Split(strings.TrimSuffix(string(out), "\n"), "\n")
	require.Len(t, lines, len(dirs))
	return lines
}

// Programs that are made at random say the same before and after their classes went to other packages at random.
func TestProgramsAtRandom(t *testing.T) {
	has(t, "java")
	rounds := 25
	if n, err := strconv.Atoi(os.Getenv("RANDOM_PROGRAMS")); err == nil {
		rounds = n
	}
	program := tree.Build(t)
	var dirs []string
	for round := range rounds {
		dirs = append(dirs, layMade(t, round))
	}
	before := outcomes(t, dirs)
	var ran []string
	var said []string
	moved := 0
	for round, dir := range dirs {
		if strings.HasPrefix(before[round], "does not compile") { // what is made at random is not always Java
			continue
		}
		convention, n := tree.Scattered(rand.New(rand.NewPCG(uint64(round), 13)),
			slices.DeleteFunc(sourcesOf(t, dir), func(p string) bool { return path.Base(p) == "Main.java" }))
		require.NoError(t, os.WriteFile(filepath.Join(dir, "crooked.yaml"), []byte(convention), 0o644))
		out, err := tree.Call(program, dir, "straighten", "--yes", "--dirty", "--partial")
		require.True(t, err == nil || strings.Contains(out, "Moved") || strings.Contains(out, "blocked"), out)
		ran, said, moved = append(ran, dir), append(said, before[round]), moved+n
	}
	t.Logf("%d programs compile, %d files were to move", len(ran), moved)
	require.Greater(t, len(ran)*3, rounds)
	for i, after := range outcomes(t, ran) {
		// the package of a class of the project changes in its name, where a program writes that
		if !assert.Equal(t, ownPackage.ReplaceAllString(said[i], ""), ownPackage.ReplaceAllString(after, ""), ran[i]) && os.Getenv("KEEP") != "" {
			require.NoError(t, os.CopyFS(filepath.Join(os.Getenv("KEEP"), fmt.Sprint("program", i)), os.DirFS(ran[i])))
		}
	}
}
