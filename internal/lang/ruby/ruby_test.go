package ruby

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each row is a text and the lines of what it says that matter: constants, modules, files; and how it is cut.
func TestSaid(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ name, src, want string }{
		{"modules", "module A\n  class B < C::D\n    E = F\n  end\n  class ::G; end\nend", "module A in ; class B in A; class ::G in A; value E in A|B; name C::D in A; name F in A|B"},
		{"compact", "class A::B::C; D; end", "class A::B::C in ; name A::B in ; name D in A::B::C"},
		{"the class of an object", "class A; class << self; B; end; end", "class A in ; name B in A"},
		{"modifiers open nothing", "class A; x if B; y while C; z rescue D; end; E", "class A in ; name B in A; name C in A; name D in A; name E in "},
		{"loops have a do", "while A do B end; until C; D; end; for x in E do F end; G", "name A in ; name B in ; name C in ; name D in ; name E in ; name F in ; name G in "},
		{"methods without an end", "class A; def b = C; def d(e) = F; def g; H; end; end; I", "class A in ; name C in A; name F in A; name H in A; name I in "},
		{"methods called as words", "class A; def if; end; def self.class; end; x.end; y.class; {end: B, if: C}; end; D", "class A in ; name B in A; name C in A; name D in "},
		{"methods that are signs", "class A; def /(x) = B; def []=(a, b); end; def `(c) = D; def !; end; end; E", "class A in ; name B in A; name D in A; name E in "},
		{"methods with a capital", "Integer(A); Rational B; x.C(D); E::F(G); H::i; J { K }", "name A in ; name B in ; name D in ; name E in ; name G in ; name H in ; name K in "},
		{"ternaries and paths", "a ? B : C; d ? E::F : ::G", "name B in ; name C in ; name E::F in ; name ::G in "},
		{"values", "A ||= B; C, D = 1, 2; E::F = 3; defined?(G)", "value A in ; value C in ; value D in ; value E::F in ; name A in ; name B in ; name E in ; name G in "},
		{"rescue", "begin; rescue A, B::C => d; E; end", "name A in ; name B::C in ; name E in "},
		{"patterns", "case x; in A(y:) then B; in C[z]; D; in {k: E}; end", "name A in ; name B in ; name C in ; name D in ; name E in "},
		{"strings", "\"a#{B}c\" + 'd#{E}' + %q(f(#{G})) + %Q[h[#{I}]] + %w(J #{K}) .x + %W[#{L}]", "name B in ; name I in ; name L in "},
		{"here documents", "a(<<A, <<~'B', <<-C)\nd #{E}\nA\n  f #{G}\n  B\n h #{I}\n  C\nJ", "name E in ; name I in ; name J in "},
		{"here documents in holes", "\"#{a(<<~B)}\"\n  #{C}\nB\nD", "name C in ; name D in "},
		{"shift is none", "a = []; a <<B; class C < D; x << E; end", "class C in ; name B in ; name D in ; name E in C"},
		{"division and expressions", "a = 1; a /B/ 2; c(/D#{E}/); f = g / H / 2; return /I/", "name B in ; name E in ; name H in "},
		{"rest and lists", "a = 5; a %B; c(%w[D]); e % F", "name B in ; name F in "},
		{"characters", "x = ?A; y = z ? ?B : C; w(?D)", "name C in "},
		{"comments and the end", "=begin\nA\n=end\n# B\nC\n__END__\nD", "name C in "},
		{"lines that go on", "a.\n  B\nc\n  .d(E)\n# f\n  &.g\nH", "name E in ; name H in "},
		{"files", "require 'a/b'; require_relative(\"c\"); load 'd.rb' if e; autoload :F, 'f'; require x; g.require 'h'; require 'i' + j", "require a/b; require_relative c; load d.rb; autoload f"},
		{"symbols", ":A; :\"b#{C}\"; {A: D, \"e\": F, :G => H}; %i[I J]; alias K L", "name C in ; name D in ; name F in ; name H in "},
		{"procs", "->(a, b = C) { D }; -> e do F end; g { |h, i = J| K }", "name C in ; name D in ; name F in ; name J in ; name K in "},
	} {
		t.Run(row.name, func(t *testing.T) {
			t.Parallel()
			lines, err := Said([]byte(row.src))
			require.NoError(t, err)
			var got []string
			for _, line := range lines {
				fields := strings.Fields(line)
				switch fields[0] {
				case "name", "value", "class", "module":
					got = append(got, strings.TrimSuffix(fields[0]+" "+strings.Join(fields[2:], " "), ""))
				case "require", "require_relative", "load", "autoload":
					got = append(got, line)
				}
			}
			assert.Equal(t, strings.ReplaceAll(row.want+";", " ;", ";"), strings.Join(got, "; ")+";")
		})
	}
}

// A text that is no Ruby is refused with the place, and never takes the program down.
func TestUnreadable(t *testing.T) {
	t.Parallel()
	for src, want := range map[string]string{
		"class A\n  b = \"c\n":      "line 2, column 7: what begins here has no end",
		"class A\n":                 "line 1, column 1: what begins here has no end",
		"end":                       "line 1, column 1: nothing is open that this closes",
		"a(b\nend":                  "line 1, column 2: what begins here is closed by something else",
		"=begin\n":                  "line 1, column 1: what begins here has no end",
		"%w[a":                      "line 1, column 1: what begins here has no end",
		strings.Repeat("\"#{", 200): "line 1, column",
	} {
		_, err := read("a.rb", []byte(src))
		require.Error(t, err, src)
		assert.Contains(t, err.Error(), want)
	}
}

func TestInflections(t *testing.T) {
	t.Parallel()
	x := inflections{acronyms: map[string]string{"api": "API", "ra": "RA"}, words: map[string]string{"html": "HTML"}}
	for p, want := range map[string]string{"night": "Night", "sky/star_map": "Sky::StarMap", "api/ra_dial": "API::RADial",
		"html": "HTML", "html_page": "HtmlPage", "a1_b": "A1B", "x_1": "X1"} {
		assert.Equal(t, want, x.constant(p+".rb"))
	}
	for name, want := range map[string]string{"Night": "night", "Sky::StarMap": "sky/star_map", "API::RADial": "api/ra_dial",
		"HTTPServer": "http_server", "A1B": "a1_b"} {
		assert.Equal(t, want, x.underscore(name))
	}
	for name, is := range map[string]bool{"A": true, "A::B1": true, "a": false, "A::b": false, "A::": false, "": false, "A-B": false} {
		assert.Equal(t, is, isConstant(name), name)
	}
	for word, want := range map[string]string{"night": "nights", "duty": "duties", "day": "days", "lens": "lenses", "watch": "watches"} {
		assert.Equal(t, want, plural(word))
	}
}

// Of a template only the code is read, where it stands.
func TestTemplates(t *testing.T) {
	t.Parallel()
	for _, row := range []struct{ path, src, want string }{
		{"a.html.erb", "<p><%= A.b %> C <%# D %><%% E %><% if F -%>\n<%= g do |h| %><% end %><% end %>", "A F"},
		{"a.haml", "%p C\n- if A\n  %b= B.x\n  = C::D\n", "A B C::D"},
		{"a.slim", "p = A\n- B.each do |c|\n  h1 Text\n  == D\n", "A B D"},
		{"a.erb", "<% # A %><% B %><%= C", "B"},
	} {
		f, err := read(row.path, []byte(row.src))
		require.NoError(t, err, row.src)
		var got []string
		for _, u := range f.uses {
			got = append(got, u.text)
			assert.Equal(t, u.text, row.src[u.at.Start:u.at.End])
		}
		assert.Equal(t, row.want, strings.Join(got, " "), row.src)
	}
}

// FuzzRead reads any text without taking the program down, and gives places that lie in it.
func FuzzRead(f *testing.F) {
	for _, src := range []string{"class A < B; def c(d = E) = \"f#{G}\"; end", "x <<~A, <<B\n#{c(<<D)}\nD\nA\nB\n", "a ? b : c / d / %w[e] %f",
		"File.join(__dir__, 'a', \"b\").x", "resources :a, controller: 'b' do get 'c', to: 'd#e' end", "case a; in B(c:) then d; end",
		"=begin\n=end\n__END__\n", "%W(#{config.root}/lib a)", "def `(a); end; ->(b) do |c; d| end"} {
		f.Add([]byte(src), "a.rb")
		f.Add([]byte("<%= "+src+" %>"), "a.erb")
		f.Add([]byte("= "+src), "a.haml")
	}
	f.Fuzz(func(t *testing.T, src []byte, name string) {
		got, err := read(name, src)
		if err != nil {
			return
		}
		in := func(start, end int) {
			if start < 0 || end > len(src) || start > end {
				t.Fatal("a place lies outside of the text", start, end)
			}
		}
		for _, u := range got.uses {
			in(u.at.Start, u.at.End)
		}
		for _, x := range got.texts {
			in(x.at.Start, x.at.End)
		}
		for _, x := range got.paths {
			in(x.at.Start, x.at.End)
			for _, at := range x.texts {
				in(at.Start, at.End)
			}
		}
		for _, c := range got.calls {
			in(c.at.Start, c.at.End)
		}
		for _, s := range got.spaces[1:] {
			in(s.from, s.head)
			in(s.head, s.tail)
		}
	})
}
