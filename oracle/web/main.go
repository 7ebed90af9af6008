// Command web compares the web scanner with the TypeScript compiler. It reads the lines that parse.cjs prints and scans
// the same files: specifiers and their byte spans must agree, and so must every regular expression, element and
// template piece. With -ablate a rule of the scanner is switched off; then the comparison must fail, or it has no
// teeth.
//
// Exit code 0: they agree. 1: they differ. 2: bad input.
package main

import (
	"bufio"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"os"
	"reflect"
	"slices"
	"strings"
	"sync"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/web"
	"crookedshelf/internal/lang/web/script"
)

// parsed is one line of parse.cjs.
type parsed struct {
	File      string   `json:"f"`
	Skip      string   `json:"skip"`
	Mentions  [][3]any `json:"m"`
	Regexps   [][2]int `json:"r"`
	Elements  []int    `json:"j"`
	Templates [][2]int `json:"t"`
}

type result struct {
	file       string
	skip       string
	specifiers int
	structures int
	kinds      map[string]int
	differ     []string
}

var ablations = map[string]script.Ablation{
	"": 0, "jsx": script.NoJSX, "regexp": script.NoRegularExpressions, "template": script.NoTemplateNesting,
}

func main() {
	ablate := flag.String("ablate", "", "rule to switch off: jsx, regexp, template")
	show := flag.Int("show", 40, "how many differing files to print")
	flag.Parse()
	ablation, known := ablations[*ablate]
	if !known {
		fmt.Fprintln(os.Stderr, "web: no such rule:", *ablate)
		os.Exit(2)
	}
	total, skipped, differ, err := compare(os.Stdin, ablation, *show, os.Stdout)
	if err != nil {
		fmt.Fprintln(os.Stderr, "web:", err)
		os.Exit(2)
	}
	if total == skipped {
		fmt.Fprintln(os.Stderr, "web: no file was compared")
		os.Exit(2)
	}
	if differ > 0 {
		os.Exit(1)
	}
}

func compare(in io.Reader, ablation script.Ablation, show int, out io.Writer) (total, skipped, differ int, err error) {
	lines := make(chan []byte, 64)
	results := make(chan result, 64)
	var workers sync.WaitGroup
	for range 2 {
		workers.Go(func() {
			for line := range lines {
				results <- compareFile(line, ablation)
			}
		})
	}
	go func() {
		reader := bufio.NewReaderSize(in, 1<<20)
		for {
			line, e := reader.ReadBytes('\n')
			if len(line) > 1 {
				lines <- line
			}
			if e != nil {
				if e != io.EOF {
					err = e
				}
				break
			}
		}
		close(lines)
		workers.Wait()
		close(results)
	}()
	skips, kinds := map[string]int{}, map[string]int{}
	specifiers, structures := 0, 0
	var differing []result
	for r := range results {
		total++
		if r.skip != "" {
			skipped++
			skips[r.skip]++
			continue
		}
		specifiers += r.specifiers
		structures += r.structures
		for k, n := range r.kinds {
			kinds[k] += n
		}
		if len(r.differ) > 0 {
			differing = append(differing, r)
		}
	}
	slices.SortFunc(differing, func(a, b result) int { return strings.Compare(a.file, b.file) })
	for _, r := range differing[:min(show, len(differing))] {
		fmt.Fprintf(out, "%s\n", r.file)
		for _, d := range r.differ[:min(4, len(r.differ))] {
			fmt.Fprintf(out, "    %s\n", d)
		}
	}
	fmt.Fprintf(out, "files %d, left out %d %v, compared %d; specifiers %d %v; structures %d; files that differ %d\n",
		total, skipped, skips, total-skipped, specifiers, kinds, structures, len(differing))
	return total, skipped, len(differing), err
}

func compareFile(line []byte, ablation script.Ablation) result {
	var want parsed
	if err := json.Unmarshal(line, &want); err != nil {
		return result{skip: "unreadable line: " + err.Error()}
	}
	r := result{file: want.File, skip: want.Skip, kinds: map[string]int{}}
	if r.skip != "" {
		return r
	}
	src, err := os.ReadFile(want.File)
	if err != nil {
		r.skip = "unreadable"
		return r
	}
	dialect, _ := script.DialectOf(want.File)
	mentions, trace := script.ScanTraced(src, dialect, ablation)
	r.specifiers, r.structures = len(want.Mentions), len(want.Regexps)+len(want.Elements)+len(want.Templates)

	expected, found := map[string]bool{}, map[string]bool{}
	for _, m := range want.Mentions {
		expected[fmt.Sprintf("%.0f-%.0f %v", m[0], m[1], m[2])] = true
		r.kinds[m[2].(string)]++
	}
	for _, m := range mentions {
		found[fmt.Sprintf("%d-%d %s", m.Span.Start, m.Span.End, kindName(m.Kind))] = true
	}
	for _, s := range want.Regexps {
		expected[fmt.Sprintf("%d-%d regular expression", s[0], s[1])] = true
	}
	for _, s := range want.Elements {
		expected[fmt.Sprintf("%d-%d element", s, s+1)] = true
	}
	for _, s := range want.Templates {
		expected[fmt.Sprintf("%d-%d template", s[0], s[1])] = true
	}
	for _, t := range trace {
		name := [...]string{"regular expression", "element", "template"}[t.Kind]
		found[fmt.Sprintf("%d-%d %s", t.Span.Start, t.Span.End, name)] = true
	}
	for k := range expected {
		if !found[k] {
			r.differ = append(r.differ, "the compiler alone: "+k)
		}
	}
	for k := range found {
		if !expected[k] {
			r.differ = append(r.differ, "the scanner alone:  "+k)
		}
	}
	slices.SortFunc(r.differ, func(a, b string) int { return strings.Compare(a[20:], b[20:]) })
	if ablation == 0 {
		r.differ = append(r.differ, early(want.File, src)...)
	}
	return r
}

// early holds reading that stops behind the last place which matters against reading all: for all mentions, for certain
// ones, and for what the file declares.
func early(file string, src []byte) (differ []string) {
	declared := lang.NewDeclared(asking, false, nil)
	scan := func() lang.Scanned {
		found, err := web.Family().Scan(lang.Source{Path: file, As: file, Content: src, Declared: declared})
		if err != nil {
			differ = append(differ, err.Error())
		}
		return found
	}
	dialect, _ := script.DialectOf(file)
	whole := script.ScanWhole(file, src, dialect, declared)
	same := func(what string, wanted, found []lang.Mention) {
		if !slices.EqualFunc(wanted, found, func(a, b lang.Mention) bool {
			return a.Span == b.Span &&
				a.Kind == b.Kind && a.Text == b.Text
		}) {
			differ = append(differ, fmt.Sprintf("read early it has %d %s, read whole %d, or they stand elsewhere",
				len(found), what, len(wanted)))
		}
	}
	certain := func(mentions []lang.Mention) []lang.Mention {
		return slices.DeleteFunc(slices.Clone(mentions), func(m lang.Mention) bool { return m.Likely })
	}
	outlined := scan()
	same("mentions beside declarations", whole.Mentions, outlined.Mentions)
	if !reflect.DeepEqual(whole.Outline, outlined.Outline) {
		differ = append(differ, "with blocks passed over it declares something else")
	}
	declared.Outlines = false
	same("mentions", whole.Mentions, scan().Mentions)
	declared.Certain = true
	same("certain mentions", certain(whole.Mentions), certain(scan().Mentions))
	declared.Outlines = true
	asked := scan()
	same("certain mentions beside declarations", certain(whole.Mentions), certain(asked.Mentions))
	declared.AskAll()
	all := scan()
	same("certain mentions beside all declarations", certain(whole.Mentions), certain(all.Mentions))
	if !reflect.DeepEqual(whole.Outline, all.Outline) {
		differ = append(differ, "asked for all that it declares, it declares something else")
	}
	if asked.Early == nil {
		return differ
	}
	handsOn := !whole.Outline.Own && (len(whole.Outline.Exports) > 0 && len(certain(whole.Mentions)) > 0 ||
		slices.ContainsFunc(whole.Mentions, func(m lang.Mention) bool { return m.Kind == script.ExportFrom }))
	if handsOn && !asked.Early.ReExports {
		differ = append(differ, "read early it seems to hand nothing on")
	}
	ofKinds := func(declarations []lang.Declaration) (out []string) {
		for _, d := range declarations {
			if d.Kinds&asked.Early.Known != 0 {
				out = append(out, fmt.Sprint(d.Kinds&asked.Early.Known, d.Name, d.Offset, d.Extends, d.Marks))
			}
		}
		return out
	}
	if wanted, found := ofKinds(whole.Outline.Declarations),
		ofKinds(asked.Early.Declarations); asked.Early.Known == 0 || !slices.Equal(wanted, found) {
		differ = append(differ, fmt.Sprintf("read early it declares %v, read whole %v", found, wanted))
	}
	return differ
}

// asking is a convention that asks for all kinds of declaration that are told early.
var asking = func() *convention.Convention {
	c, err := convention.Read("crooked.yaml",
		[]byte("crooked: 1\nshelves: { a: { at: a/, takes: [{ declares: [class, type, component, hook] }] } }\n"))
	if err != nil {
		panic(err)
	}
	return c
}()

func kindName(k *lang.Kind) string {
	if k == script.ExportFrom {
		return "export"
	}
	return k.String()
}
