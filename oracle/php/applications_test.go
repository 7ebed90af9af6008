package php_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"golang.org/x/tools/txtar"

	"crookedshelf/oracle/tree"
)

// finder loads the classes of an application by the roots of its manifest, and frameworks from where Debian has them.
const finder = `<?php
spl_autoload_register(function ($class) {
    $says = json_decode(file_get_contents(dirname(__DIR__) . '/composer.json'), true);
    foreach (($says['autoload']['psr-4'] ?? []) + ($says['autoload-dev']['psr-4'] ?? []) as $prefix => $dir) {
        $file = dirname(__DIR__) . "/$dir" . str_replace('\\', '/', substr($class, strlen($prefix))) . '.php';
        if (str_starts_with($class, $prefix) && is_file($file)) {
            require $file;
        }
    }
});
foreach (['Slim', 'Illuminate/View', 'Illuminate'] as $package) {
    is_file("/usr/share/php/$package/autoload.php") && require_once "/usr/share/php/$package/autoload.php";
}
`

// Applications of three frameworks say the same before and after: what their own checks say, and what a browser sees.
func TestApplicationsSayTheSame(t *testing.T) {
	has(t, "php")
	program := tree.Build(t)
	for _, app := range []struct {
		name   string
		needs  string
		checks [][]string
		pages  []string
		router string
	}{
		{"night-service", "/usr/share/php/Symfony/Bundle/TwigBundle/autoload.php", [][]string{{"bin/console", "lint:container"},
			{"bin/console", "lint:twig", "templates", "mail"}, {"bin/console", "lint:yaml", "config"}, {"bin/console", "app:close"},
			{"bin/console", "debug:router"}, {"/usr/bin/phpunit"}}, []string{"/nights", "/plain"}, "public/index.php"},
		{"night-board", "/usr/share/php/Slim/autoload.php", nil, []string{"/nights", "/nights/2026-03-15", "/clock"}, "public/index.php"},
		{"night-desk", "/usr/share/php/Illuminate/Foundation/Application.php", nil,
			[]string{"/nights", "/nights/2026-03-15", "/about"}, "public/index.php"},
	} {
		t.Run(app.name, func(t *testing.T) {
			has(t, app.needs)
			dir := t.TempDir()
			archive, err := txtar.ParseFile(filepath.Join("testdata", app.name+".txtar"))
			require.NoError(t, err)
			archive.Files = append(archive.Files, txtar.File{Name: "vendor/autoload.php", Data: []byte(finder)},
				txtar.File{Name: "var/.keep"})
			for _, f := range archive.Files {
				p := filepath.Join(dir, filepath.FromSlash(f.Name))
				require.NoError(t, os.MkdirAll(filepath.Dir(p), 0o755))
				require.NoError(t, os.WriteFile(p, f.Data, 0o600))
			}
			says := func() string {
				require.NoError(t, os.RemoveAll(filepath.Join(dir, "var")))
				require.NoError(t, os.MkdirAll(filepath.Join(dir, "var"), 0o755))
				var out strings.Builder
				for _, args := range app.checks {
					text, err := in(dir, "php", args...)
					require.NoError(t, err, "%v %s", args, text)
					out.WriteString(measured.ReplaceAllString(text, ""))
				}
				answers := pagesOf(t, dir, "public", app.router, app.pages)
				for _, page := range app.pages {
					require.NotContains(t, answers[page], "rror", page)
					out.WriteString(page + "\n" + answers[page])
				}
				return out.String()
			}
			before := says()
			require.Contains(t, before, "2026-03-14")
			out, err := in(dir, program, "straighten", "--yes", "--dirty")
			require.NoError(t, err, out)
			require.Contains(t, out, "Moved ")
			require.Equal(t, before, says())
			out, err = in(dir, program, "undo")
			require.NoError(t, err, out)
			require.Equal(t, before, says())
			for _, f := range archive.Files[:len(archive.Files)-1] {
				text, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(f.Name)))
				require.NoError(t, err)
				require.Equal(t, string(f.Data), string(text), f.Name)
			}
		})
	}
}

// measured are times and sizes in what commands say.
var measured = regexp.MustCompile(`[\d.:]+,? ?(?:Memory: )?[\d.]* ?(?:MiB|MB|ms|s)\b`)
