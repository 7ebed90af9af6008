// Package ruby_test compares what the program reads in Ruby with the language's own reader and with running programs, and
// moves real libraries and an application that must say the same afterwards.
package ruby_test

import (
	"bufio"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/lang/ruby"
	"crookedshelf/internal/parallel"
	"crookedshelf/internal/project"
	"crookedshelf/oracle/tree"
)

// has skips a test on a machine that has not what it needs.
func has(t *testing.T, needs ...string) {
	t.Helper()
	tree.Has(t, "run oracle/ruby/fetch.sh", needs...)
}

// filesBelow are the files of Ruby below some folders.
func filesBelow(roots ...string) (files []string) {
	for _, root := range roots {
		if real, err := filepath.EvalSymlinks(root); err == nil {
			root = real
		}
		_ = filepath.WalkDir(root, func(p string, e fs.DirEntry, err error) error {
			if err == nil && e.Type().IsRegular() && strings.HasSuffix(p, ".rb") {
				files = append(files, p)
			}
			return nil
		})
	}
	return files
}

// TestAgainstTheReader compares what is read of each file with what the language's own reader and its tree say.
func TestAgainstTheReader(t *testing.T) {
	has(t, "ruby", "sources/rails")
	roots := []string{"testdata", "../../demo/guides", "sources/rails/activesupport", "sources/rails/actionpack", "sources/rails/activerecord/lib", "/usr/lib/ruby/3.1.0"}
	if other := os.Getenv("RUBY_FILES"); other != "" {
		roots = strings.Split(other, ":")
	}
	files := filesBelow(roots...)
	require.NotEmpty(t, files)
	list := filepath.Join(t.TempDir(), "list")
	require.NoError(t, os.WriteFile(list, []byte(strings.Join(files, "\n")+"\n"), 0o644))
	cmd := exec.Command("ruby", "said.rb", list)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	type reading struct {
		path       string
		said       []string
		less, more []string
		err        error
	}
	var readings []*reading
	in := bufio.NewScanner(out)
	in.Buffer(make([]byte, 1<<20), 1<<28)
	for in.Scan() {
		if path, is := strings.CutPrefix(in.Text(), "file "); is {
			readings = append(readings, &reading{path: path})
			continue
		}
		last := readings[len(readings)-1]
		last.said = append(last.said, in.Text())
	}
	require.NoError(t, cmd.Wait())
	parallel.Do(len(readings), func(i int) {
		r := readings[i]
		if slices.Equal(r.said, []string{"bad"}) {
			return
		}
		content, _ := os.ReadFile(r.path)
		mine, err := ruby.Said(content)
		if r.err = err; err != nil {
			return
		}
		slices.Sort(mine)
		slices.Sort(r.said)
		r.less, r.more = tree.Without(r.said, mine), tree.Without(mine, r.said)
	})
	lines, bad, differ, refused := 0, 0, 0, 0
	for _, r := range readings {
		lines += len(r.said)
		switch {
		case slices.Equal(r.said, []string{"bad"}):
			bad++
		case r.err != nil:
			refused++
			t.Logf("%s: %v", r.path, r.err)
		case len(r.less)+len(r.more) > 0:
			differ++
			t.Logf("%s\n   less %v\n   more %v", r.path, r.less[:min(6, len(r.less))], r.more[:min(6, len(r.more))])
		}
	}
	t.Logf("%d files, %d lines, %d that the reader refuses, %d refused, %d differ", len(readings), lines, bad, refused, differ)
	assert.Zero(t, differ+refused)
}

// body is a program whose constants are compared with those of the running program.
type body struct {
	name    string
	from    []string // folders below here, each with the one that it is laid out in
	program string   // loads all files
	below   string   // what is compared
	least   int      // how many constants of the tree must be named
}

var bodies = []body{
	{"scopes", []string{"testdata/scopes", "."}, `
root = File.expand_path("tree", __dir__)
require "#{root}/sky"
require "#{root}/star"
`, "", 20},
	{"activemodel", []string{"sources/rails/activemodel", "activemodel", "sources/rails/activesupport", "activesupport"}, `
$VERBOSE = nil
root = File.expand_path("tree", __dir__)
%w[activesupport activemodel].each { |g| $LOAD_PATH.unshift("#{root}/#{g}/lib") }
require "active_support/all"
require "active_model"
ActiveSupport.eager_load!
ActiveModel.eager_load!
Dir["#{root}/activemodel/lib/active_model/**/*.rb"].sort.each { |f| require f unless f.include?("railtie") || f.include?("lint") }
`, "activemodel/lib/", 200},
	{"actionview", []string{"sources/rails/actionview", "actionview", "sources/rails/activesupport", "activesupport", "sources/rails/actionpack", "actionpack"}, `
$VERBOSE = nil
root = File.expand_path("tree", __dir__)
%w[activesupport actionpack actionview].each { |g| $LOAD_PATH.unshift("#{root}/#{g}/lib") }
require "active_support/all"
require "action_controller"
require "action_view"
[ActiveSupport, ActionView, ActionController, ActionDispatch, AbstractController].each(&:eager_load!)
`, "", 2000},
	{"guides", []string{"../../demo/guides", "."}, `
ENV["RAILS_ENV"] = "test"
require File.expand_path("tree/config/environment", __dir__)
Rails.application.eager_load!
`, "", 30},
}

// TestConstantsAgainstRunningPrograms compares what each constant means with what it means to the running program. None may
// be missed, and none may mean something else.
func TestConstantsAgainstRunningPrograms(t *testing.T) {
	has(t, "ruby", "sources/rails")
	for _, b := range bodies {
		t.Run(b.name, func(t *testing.T) {
			dir := t.TempDir()
			root := filepath.Join(dir, "tree")
			for i := 0; i < len(b.from); i += 2 {
				require.NoError(t, os.CopyFS(filepath.Join(root, b.from[i+1]), os.DirFS(b.from[i])))
			}
			compareConstants(t, dir, root, b)
		})
	}
}

func compareConstants(t *testing.T, dir, root string, b body) {
	files, _, err := tree.Graph(root)
	require.NoError(t, err)
	meanings := ruby.Meanings(all.Languages().Tree(files, nil))
	type asked struct {
		file, at, text, full string
		leads                bool
	}
	var questions []asked
	var list strings.Builder
	for id, f := range files.Files {
		if !strings.HasPrefix(f.Path, b.below) || !strings.HasSuffix(f.Path, ".rb") || strings.Contains(f.Path, "test/") ||
			strings.Contains(f.Path, "generators/") {
			continue
		}
		for _, line := range meanings(project.FileID(id)) {
			at, rest, _ := strings.Cut(line, " ")
			around, rest, _ := strings.Cut(rest, " ")
			text, rest, _ := strings.Cut(rest, " ")
			full, leads, _ := strings.Cut(rest, " ")
			if around == "" {
				around = "-"
			}
			questions = append(questions, asked{f.Path, at, text, full, leads == "true"})
			fmt.Fprintf(&list, "%s %s\n", around, text)
		}
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "list"), []byte(list.String()), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "program.rb"), []byte(b.program), 0o644))
	cmd := exec.Command("ruby", "meanings.rb", filepath.Join(dir, "program.rb"), filepath.Join(dir, "list"))
	var said strings.Builder
	cmd.Stderr = &said
	out, err := cmd.Output()
	require.NoError(t, err, &said)
	answers := strings.Split(strings.TrimSuffix(string(out), "\n"), "\n")
	require.Len(t, answers, len(questions))
	real, err := filepath.EvalSymlinks(root)
	require.NoError(t, err)
	named, missed, elsewhere, many, unknown := 0, 0, 0, 0, 0
	for i, q := range questions {
		if answers[i] == "?" {
			unknown++
			continue
		}
		want := "-" // the longest beginning that the tree defines
		for _, one := range strings.Fields(answers[i]) {
			name, file, _ := strings.Cut(one, "=")
			if !strings.HasPrefix(file, real+"/") && !strings.HasPrefix(file, root+"/") {
				break
			}
			want = name
		}
		switch {
		case want != "-":
			named++
			if q.full == "-" {
				missed++
				t.Logf("missed: %s at %s: %s is %s", q.file, q.at, q.text, want)
			} else if q.full != want {
				elsewhere++
				t.Logf("elsewhere: %s at %s: %s is %s, not %s", q.file, q.at, q.text, want, q.full)
			}
		case q.leads:
			many++
		}
	}
	t.Logf("%d constants, %d of the tree: %d missed, %d elsewhere, %d too many, %d that the program can't say",
		len(questions), named, missed, elsewhere, many, unknown)
	assert.Zero(t, missed)
	assert.Zero(t, elsewhere)
	assert.GreaterOrEqual(t, named, b.least)
}

// Each rule by which a text is cut or a constant is found is needed: without it the comparison differs.
func TestRulesAreNeeded(t *testing.T) {
	has(t, "ruby", "sources/rails")
	t.Setenv("RUBY_FILES", "testdata:../../demo/guides:sources/rails/activesupport/lib")
	tree.Needed(t, "../../internal/lang/ruby", "TestAgainstTheReader", []tree.Rule{
		{Name: "regular expressions", File: "lex.go",
			Text: "if st.begins() || argument && next != '=' {\n			return l.quoted(i, i+1, c, c, true, litRegexp", Without: "if false {\n			return l.quoted(i, i+1, c, c, true, litRegexp"},
		{Name: "here documents", File: "lex.go",
			Text: "if next == '<' && st != sDot", Without: "if false && st != sDot"},
		{Name: "variables", File: "lex.go",
			Text: "if k == tName && (l.params != noParams || l.known.has(word)) {", Without: "if k == tName && l.params != noParams {"},
		{Name: "words behind statements", File: "lex.go",
			Text: "if opens = begins && word != \"rescue\"; !begins {", Without: "if opens = word != \"rescue\"; !begins {"},
		{Name: "the do of loops", File: "lex.go",
			Text: "l.loops, opens = l.loops[:n-1], false", Without: "l.loops, opens = l.loops[:n-1], true"},
		{Name: "labels", File: "lex.go",
			Text: "l.at(i+1) != ':' && (st == sBegName || st == sArg || st == sEndName)", Without: "false"},
		{Name: "lines that go on with a dot", File: "lex.go",
			Text: "if l.at(k) == '.' && l.at(k+1) != '.' ||", Without: "if false && l.at(k+1) != '.' ||"},
		{Name: "methods without an end", File: "parse.go",
			Text: "if p.sign(k) == '=' && p.t[k].kind == tOperator { // without an end", Without: "if false {"},
		{Name: "what is put into texts", File: "literals.go",
			Text: "case c == '#' && holes && l.at(i+1) == '{':", Without: "case false:"},
		{Name: "methods with a capital", File: "parse.go",
			Text: "if !rooted && p.callsAt(i) {", Without: "if !rooted && rooted && p.callsAt(i) {"},
	})
	tree.Needed(t, "../../internal/lang/ruby", "TestConstantsAgainstRunningPrograms", []tree.Rule{
		{Name: "the modules around", File: "lookup.go",
			Text: "for _, around := range nesting {\n		if r.exists(join(around, name)) {", Without: "for _, around := range nesting[:0] {\n		if r.exists(join(around, name)) {"},
		{Name: "what a class is built on", File: "lookup.go",
			Text: "for _, base := range above {\n			if r.exists(join(base, name)) {\n				return join(base, name), false", Without: "for _, base := range above[:0] {\n			if r.exists(join(base, name)) {\n				return join(base, name), false"},
		{Name: "modules that are included", File: "parse.go",
			Text: "case \"include\", \"prepend\":", Without: "case \"prepend\":"},
		{Name: "names from the top", File: "lookup.go",
			Text: "if rooted {\n		if !r.exists(parts[0]) {\n			return m", Without: "if rooted && !rooted {\n		if !r.exists(parts[0]) {\n			return m"},
	})
}
