// Command parts compares the scanners of style sheets, single-file components and pages with the languages' own
// parsers. It reads the lines that parse.mjs prints and scans the same files: references, their kinds and byte spans
// must agree. With
// -ablate a part of a scanner's output is dropped; then the comparison must fail, or it has no teeth.
//
// Exit code 0: they agree. 1: they differ. 2: bad input.
package main

import (
	"bufio"
	"encoding/json"
	"flag"
	"fmt"
	"maps"
	"os"
	"path"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/all"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/lang/style"
	"crookedshelf/internal/lang/web/script"
)

// parsed is one line of parse.mjs.
type parsed struct {
	File     string   `json:"f"`
	Skip     string   `json:"skip"`
	Mentions [][3]any `json:"m"`
	LeftOut  [][2]int `json:"out"` // spans that the parsers could not read
}

// tally is what was compared of one language.
type tally struct{ files, skipped, mentions, differ int }

func main() {
	show := flag.Int("show", 40, "how many differing files to print")
	ablate := flag.String("ablate", "", "drop what was found by: attributes, urls or imports")
	least := flag.Int("least", 1, "fail if fewer files of a language were compared")
	flag.Parse()
	by := map[string]*tally{}
	kinds, skips := map[string]int{}, map[string]int{}
	in := bufio.NewReaderSize(os.Stdin, 1<<20)
	for {
		line, err := in.ReadBytes('\n')
		if len(line) > 1 {
			compare(line, *ablate, by, kinds, skips, show)
		}
		if err != nil {
			break
		}
	}
	failed := len(by) == 0
	for _, name := range slices.Sorted(maps.Keys(by)) {
		t := by[name]
		fmt.Printf("%-5s compared %d, left out %d, references %d, files that differ %d\n", name, t.files-t.skipped,
			t.skipped, t.mentions, t.differ)
		failed = failed || t.differ > 0 || t.files-t.skipped < *least
	}
	fmt.Println("references", kinds, "left out", skips)
	if failed {
		os.Exit(1)
	}
}

func compare(line []byte, ablate string, by map[string]*tally, kinds, skips map[string]int, show *int) {
	var want parsed
	if err := json.Unmarshal(line, &want); err != nil {
		fmt.Fprintln(os.Stderr, "parts:", err)
		os.Exit(2)
	}
	ext := strings.TrimPrefix(path.Ext(want.File), ".")
	t := by[ext]
	if t == nil {
		t = &tally{}
		by[ext] = t
	}
	t.files++
	src, err := os.ReadFile(want.File)
	if want.Skip != "" || err != nil {
		t.skipped++
		skips[want.Skip]++
		return
	}
	expected, found := map[string]bool{}, map[string]bool{}
	for _, m := range want.Mentions {
		expected[fmt.Sprintf("%7.0f-%.0f %v", m[0], m[1], m[2])] = true
		kinds[m[2].(string)]++
		t.mentions++
	}
	for _, m := range scan(want.File, src) {
		left := slices.ContainsFunc(want.LeftOut, func(s [2]int) bool {
			return m.Span.Start >= s[0] &&
				m.Span.Start <= s[1]
		})
		if !left && !dropped(m, ablate) && reported(m) {
			found[fmt.Sprintf("%7d-%d %s", m.Span.Start, m.Span.End, kindName(m.Kind))] = true
		}
	}
	var differ []string
	for k := range expected {
		if !found[k] {
			differ = append(differ, k+" the parser alone")
		}
	}
	for k := range found {
		if !expected[k] {
			differ = append(differ, k+" the scanner alone")
		}
	}
	if len(differ) == 0 {
		return
	}
	t.differ++
	if *show--; *show >= 0 {
		slices.Sort(differ)
		fmt.Println(want.File)
		for _, d := range differ[:min(4, len(differ))] {
			fmt.Println("   ", d)
		}
	}
}

func scan(file string, src []byte) []lang.Mention {
	languages := all.Languages()
	found, err := languages.Scan(languages.FamilyOf(file), file, file, src, nil)
	if err != nil {
		fmt.Fprintln(os.Stderr, "parts:", file, err)
		os.Exit(2)
	}
	return found.Mentions
}

// reported says whether the parsers report the kind too; strings that only look like paths they do not.
func reported(m lang.Mention) bool {
	switch m.Kind {
	case script.Import, script.ExportFrom, script.DynamicImport, script.Require, style.StyleImport, style.SassImport,
		style.LessImport, paths.StyleAsset, paths.Asset:
		return true
	}
	return false
}

func dropped(m lang.Mention, ablate string) bool {
	switch ablate {
	case "attributes":
		return m.Kind == paths.Asset
	case "urls":
		return m.Kind == paths.StyleAsset
	case "imports":
		return slices.Contains(script.Kinds, m.Kind) || slices.Contains(style.Kinds, m.Kind)
	}
	return false
}

func kindName(k *lang.Kind) string {
	if k == script.ExportFrom {
		return "export"
	}
	return k.String()
}
