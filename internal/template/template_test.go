package template

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWords(t *testing.T) {
	t.Parallel()
	for in, want := range map[string]string{
		"SeeingLog": "seeing log", "seeing-log": "seeing log", "seeing_log": "seeing log", "HTTPClient": "http client",
		"useHTTP":  "use http",
		"Log2Disk": "log2 disk", "": "", "--": "", "nächtlicheÄnderung": "nächtliche änderung", "A": "a", "v2": "v2",
		"already.dotted": "already dotted",
	} {
		assert.Equal(t, want, strings.Join(Words(in), " "), in)
	}
}

func TestFilters(t *testing.T) {
	t.Parallel()
	cases := []struct{ filter, in, want string }{
		{"kebab", "SeeingLog", "seeing-log"}, {"snake", "SeeingLog", "seeing_log"},
		{"camel", "seeing-log", "seeingLog"},
		{"pascal", "seeing-log", "SeeingLog"}, {"plural", "StarChart", "StarCharts"}, {"plural", "sky", "skies"},
		{"singular", "dome-shutters", "dome-shutter"}, {"singular", "Log", "Log"}, {"dots", "view/Main", "view.Main"},
		{"pascal", "ähre", "Ähre"},
	}
	for _, c := range cases {
		assert.Equal(t, c.want, Filters[c.filter](c.in), c.filter+" of "+c.in)
	}
	for _, name := range FilterNames {
		assert.Contains(t, Filters, name)
	}
	assert.Len(t, Filters, len(FilterNames))
}

func TestMatch(t *testing.T) {
	t.Parallel()
	cases := []struct {
		template, path string
		want           string // captures as name=value, ** as **=folders; "no" for no match
	}{
		{"src/a.ts", "src/a.ts", ""},
		{"src/a.ts", "src/a.tsx", "no"},
		{"src/*.ts", "src/a.ts", ""},
		{"src/*.ts", "src/b/a.ts", "no"},
		{"src/?.ts", "src/ä.ts", ""},
		{"src/?.ts", "src/ab.ts", "no"},
		{"src/**", "src/a", "**="},
		{"src/**", "src/a/b/c.ts", "**=a/b/"},
		{"src/**", "src", "no"},
		{"{{a.b}}/{c}/*.ts", "{{a.b}}/{c}/d.ts", ""},
		{"src/", "src/a/b.ts", "**=a/"},
		{"src/**/x*.ts", "src/x.ts", "**="},
		{"src/**/x*.ts", "src/a/b/xy.ts", "**=a/b/"},
		{"**/a.ts", "b/a.ts", "**=b/"},
		{"src/<s>Screen.tsx", "src/SeeingLogScreen.tsx", "s=SeeingLog"},
		{"src/<s>Screen.tsx", "src/Screen.tsx", "no"},
		{"src/<s>/<s>Panel.tsx", "src/seeing-log/SeeingLogPanel.tsx", "s=seeing-log"},
		{"src/<s>/<s>Panel.tsx", "src/sky/MoonPanel.tsx", "no"},
		{"src/<a>-<b>.ts", "src/x-y-z.ts", "a=x b=y-z"},
		{"src/<a>/parts/**", "src/x/parts/b/c.ts", "**=b/ a=x"},
		{"src/<a>/parts/**", "src/parts/c.ts", "no"},
		{"src/<a>/parts/**", "src/x/part/s/c.ts", "no"},
		{"a*b*c", "abc", ""},
		{"a*b*c", "ac", "no"},
		{"*ab*", "xab", ""},
		{"**/a/<b>/c/**", "a/x/c/d", "**= b=x"},
		{"src/<s|kebab>/**", "src/seeing-log/a.ts", "**= s=seeing-log"},
		{"src/<s|kebab>/**", "src/SeeingLog/a.ts", "no"},
		{"src/<s|plural>/<s|singular|pascal>.ts", "src/domes/Dome.ts", "s=domes"},
		{"src/<s|plural>/<s|singular|pascal>.ts", "src/domes/Domes.ts", "no"},
		{"src/<s|plural>/<s>.ts", "src/domes/dome.ts", "s=domes"},
		{"src/<s|plural>/<s>.ts", "src/domes/star.ts", "no"},
		{"src/[id]/(group)/$x/{a}.ts", "src/[id]/(group)/$x/{a}.ts", ""},
		{"*.json", ".hidden.json", "no"},
		{"*/a", ".git/a", "no"},
		{"src/*", "src/.env", ""},
		{"<a>/x", "b/x", "a=b"},
		{"*Service.ts", "bookingService.ts", ""},
		{"a*b*c", "aXbXbc", ""},
	}
	for _, c := range cases {
		tmpl, err := ParseName(c.template, nil)
		require.NoError(t, err, c.template)
		got, ok := tmpl.Match(c.path)
		assert.Equal(t, c.want != "no", ok, "%s on %s", c.template, c.path)
		if !ok {
			continue
		}
		var parts []string
		if tmpl.Carriers() > 0 {
			parts = append(parts, "**="+got.Dirs)
		}
		for _, n := range tmpl.Names() {
			parts = append(parts, n+"="+got.Values[n])
		}
		assert.Equal(t, c.want, strings.Join(parts, " "), "%s on %s", c.template, c.path)
	}
}

func TestFill(t *testing.T) {
	t.Parallel()
	tmpl, err := ParseName("<app>/screens/<s|kebab>/<t>.ts", map[string]string{"app": "src"})
	require.NoError(t, err)
	assert.Equal(t, "src/screens/seeing-log/x.ts", tmpl.Fill(map[string]string{"s": "SeeingLog", "t": "x"}))
	assert.Equal(t, []string{"s", "t"}, tmpl.Names())
	assert.Equal(t, "src/screens/", tmpl.Head())
	tmpl, err = ParseName("<s|singular|pascal>Service.ts", nil)
	require.NoError(t, err)
	assert.Equal(t, "DomeShutterService.ts", tmpl.Fill(map[string]string{"s": "dome-shutters"}))
}

func TestTemplateErrors(t *testing.T) {
	t.Parallel()
	for text, want := range map[string]string{
		"/src": "without a leading slash", "../x": "leaves the project's root", "a/../b": "leaves",
		"C:/x": "without a drive", `a\b`: "parted by /",
		"a//b": "two slashes", "a/b**": "must be alone", "a/<b": "never closed", "a/<>": "no placeholder",
		"a/<b|shout>": "not known", "a/{b,c}/**": "one path for each of {b,c}", "a/*.{js,ts}": "braces do not choose",
		"a/<b><c>": "nothing tells where one ends", "./a": "needs no ./", "a/<b|kebap>": "did you mean kebab?",
	} {
		_, err := ParseName(text, nil)
		assert.ErrorContains(t, err, want, text)
	}
}

func TestHostileTemplatesEnd(t *testing.T) {
	t.Parallel()
	path := strings.Repeat("a", 200)
	for _, text := range []string{strings.Repeat("*a", 40) + "b", strings.Repeat("<x>-", 30) + "<x>",
		strings.Repeat("**/", 30) + "b"} {
		tmpl, err := ParseName(text, nil)
		require.NoError(t, err)
		_, ok := tmpl.Match(path)
		assert.False(t, ok, text)
	}
}

func TestCovers(t *testing.T) {
	t.Parallel()
	cases := []struct {
		a, b string
		want bool
	}{
		{"src/**", "src/a/*.ts", true},
		{"src/**", "lib/a.ts", false},
		{"src/*", "src/a/b", false},
		{"src/**", "src/**/x.ts", true},
		{"src/**/x.ts", "src/**", false},
		{"*.ts", "*.test.ts", true},
		{"*.test.ts", "*.ts", false},
		{"<a>Panel.tsx", "SkyPanel.tsx", true},
		{"<a>Panel.tsx", "Panel.tsx", false},
		{"*Panel.tsx", "<a>Panel.tsx", true},
		{"src/<a>/x", "src/<b>/x", true},
		{"src/<a|kebab>/x", "src/<b>/x", false},
		{"a?c", "abc", true},
		{"src/**", "src/", true},
	}
	for _, c := range cases {
		a, errA := ParseName(c.a, nil)
		b, errB := ParseName(c.b, nil)
		require.NoError(t, errA)
		require.NoError(t, errB)
		assert.Equal(t, c.want, Covers([]*Template{a}, b), "%s covers %s", c.a, c.b)
	}
}

func FuzzMatch(f *testing.F) {
	for _, text := range []string{"src/**/x*.ts", "src/<s>/<s>Panel.tsx", "<a|kebab>-<b>", "**", "*"} {
		f.Add(text, "src/a/xy.ts")
	}
	f.Fuzz(func(t *testing.T, text, path string) {
		tmpl, err := ParseName(text, nil)
		if err != nil {
			return
		}
		if c, ok := tmpl.Match(path); ok {
			for _, n := range tmpl.Names() {
				require.NotEmpty(t, c.Values[n])
				require.NotContains(t, c.Values[n], "/")
			}
		}
	})
}
