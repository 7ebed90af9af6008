package report_test

import (
	"bytes"
	"errors"
	"fmt"
	"path"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/carry"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/finding"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/plan"
	"crookedshelf/internal/report"
)

var plain = report.Style{}

func TestClean(t *testing.T) {
	t.Parallel()
	for path, want := range map[string]string{
		"src/a.ts": "src/a.ts", "": "", "a b~": "a b~", "café/ü.ts": "café/ü.ts", "観測.ts": "観測.ts",
		"a\nb": `"a\nb"`, "\x1b[31mred": `"\x1b[31mred"`, "bell\x07": `"bell\a"`, "tab\t": `"tab\t"`,
		"del\x7f":   `"del\x7f"`,
		"latin\xe9": `"latin\xe9"`, "right\u202eleft": `"right\u202eleft"`, "line\u2028end": `"line\u2028end"`,
		"c1\u0085": `"c1\u0085"`,
	} {
		assert.Equal(t, want, report.Clean(path), "%q", path)
	}
}

func TestCount(t *testing.T) {
	t.Parallel()
	assert.Equal(t, []string{"0 files", "1 file", "2 files"}, []string{report.Count(0, "file"), report.Count(1, "file"),
		report.Count(2, "file")})
}

// crooked is a check with findings of several rules.
func crooked() *engine.Check {
	return &engine.Check{
		Title: "Hilltop", All: 12, Files: 7, Warnings: []string{"logs/\x1bold is a pipe"}, Accepted: 2,
		Idle:     []engine.Idle{{What: "shelf", Name: "charts", Line: 3}, {What: "mention", Line: 9}},
		Unspoken: 5, UnspokenSources: []string{"x.ts", "y.ts", "z.ts", "zz.ts"},
		Findings: []finding.Finding{
			{Rule: finding.Misplaced, Path: "src/a.ts", Shelf: "helpers", Home: "src/helpers/a.ts", Line: 4,
				Reason: "it belongs on helpers", Level: finding.Error},
			{Rule: finding.Misplaced, Path: "src/longer/b.ts", Shelf: "parts", Home: "src/parts/b.ts", Line: 5,
				Reason: "it belongs on parts: several need it", Level: finding.Error},
			{Rule: finding.Misplaced, Path: "src/c.ts", Shelf: "helpers", Home: "src/helpers/c.ts", Line: 2,
				Convention: "src/crooked.yaml", Reason: "it belongs on helpers", Level: finding.Error},
			{Rule: finding.Overreach, Path: "src/d.ts", At: "3:9", Shelf: "parts", Line: 5,
				Reason: "parts may not use pages", Level: finding.Error},
			{Rule: finding.Dangling, Path: "src/e.ts", At: "1:8", Reason: "import \"./gone\" leads nowhere",
				Level: finding.Warn},
		},
	}
}

func TestCheck(t *testing.T) {
	t.Parallel()
	var out strings.Builder
	require.NoError(t, report.Check(&out, crooked(), "crooked.yaml", plain))
	text := out.String()
	for _, line := range []string{
		"warning: \"logs/\\x1bold is a pipe\"\n", "misplaced 3  stands elsewhere than the convention wants it\n",
		"  helpers\n    src/a.ts        -> src/helpers/a.ts  crooked.yaml:4\n" +
			"    src/c.ts        -> src/helpers/c.ts  src/crooked.yaml:2\n",
		"  parts\n    src/longer/b.ts -> src/parts/b.ts  crooked.yaml:5  several need it\n",
		"overreach 1  ", "  src/d.ts:3:9  parts may not use pages\n", "dangling 1  warning: ",
		"  src/e.ts:1:8  import \"./gone\" leads nowhere\n",
		"note: nothing here fits the shelf charts (line 3), the mention (line 9)\n",
		"note: no rule speaks of 5 files, of them 4 source files: x.ts, y.ts, z.ts, 1 more\n", "note: the baseline accepts 2 findings\n",
		"Hilltop: 7 of 12 files judged, 5 findings.\n",
	} {
		assert.Contains(t, text, line)
	}
	order := []string{"warning:", "misplaced 3", "overreach 1", "dangling 1", "note: nothing", "Hilltop:",
		"crooked plan shows"}
	last := -1
	for _, part := range order {
		at := strings.Index(text, part)
		assert.Greater(t, at, last, part)
		last = at
	}
	assert.NotContains(t, text, "\x1b")

	out.Reset()
	require.NoError(t, report.Check(&out, crooked(), "crooked.yaml", report.Style{Quiet: true}))
	assert.NotContains(t, out.String(), "Hilltop")
	assert.NotContains(t, out.String(), "misplaced 3")
	assert.Contains(t, out.String(), "src/a.ts")

	out.Reset()
	require.NoError(t, report.Check(&out, &engine.Check{All: 1, Files: 1}, "crooked.yaml", plain))
	assert.Equal(t, "All straight. The project: 1 file judged.\n", out.String())
	out.Reset()
	require.NoError(t, report.Check(&out, &engine.Check{Title: "Hilltop"}, "crooked.yaml", plain))
	assert.Equal(t, "Hilltop: the convention matches nothing here; no file was judged\n", out.String())
}

// Colour adds escape codes and nothing else.
func TestColour(t *testing.T) {
	t.Parallel()
	var with, without strings.Builder
	require.NoError(t, report.Check(&with, crooked(), "crooked.yaml", report.Style{Color: true}))
	require.NoError(t, report.Check(&without, crooked(), "crooked.yaml", plain))
	assert.Contains(t, with.String(), "\x1b[32m", "homes are green")
	bare := with.String()
	for {
		start := strings.Index(bare, "\x1b[")
		if start < 0 {
			break
		}
		end := start + strings.IndexByte(bare[start:], 'm')
		bare = bare[:start] + bare[end+1:]
	}
	assert.Equal(t, without.String(), bare)
}

func TestLines(t *testing.T) {
	t.Parallel()
	c := crooked()
	c.Findings = append(c.Findings, finding.Finding{Rule: finding.Dangling, Path: "bad\n.ts", At: "2:1",
		Reason: "one\ntwo"})
	var out strings.Builder
	require.NoError(t, report.Lines(&out, c))
	assert.Equal(t, `src/a.ts:1:1: misplaced: it belongs on helpers, as src/helpers/a.ts
src/longer/b.ts:1:1: misplaced: it belongs on parts: several need it, as src/parts/b.ts
src/c.ts:1:1: misplaced: it belongs on helpers, as src/helpers/c.ts
src/d.ts:3:9: overreach: parts may not use pages
src/e.ts:1:8: dangling: import "./gone" leads nowhere
"bad\n.ts":2:1: dangling: "one\ntwo"
`, out.String())
}

func TestPlan(t *testing.T) {
	t.Parallel()
	made := &plan.Plan{
		Warnings: []string{"src/x.ts is not written: why"},
		Steps: []plan.Step{
			{Title: "helpers at src/helpers/", Moves: []plan.Move{{From: "src/a.ts", To: "src/helpers/a.ts"},
				{From: "src/longer.ts", To: "src/helpers/longer.ts"}}},
			{Title: "parts at src/parts/", Moves: []plan.Move{{From: "src/b.ts", To: "src/parts/b.ts"}}},
		},
		Edits: []plan.FileEdits{{Path: "src/main.ts",
			Changes: []plan.Change{{Line: 12, Old: "./a", New: "./helpers/a"}}}},
		Writes:  []plan.NewFile{{Path: "src/parts/index.ts", Content: "1\n2\n3\n4\n5\n6\n7\n8\n"}},
		Removes: []plan.Removed{{Fingerprint: plan.Fingerprint{Path: "old/__init__.py"}}},
		Blocked: []plan.Blocked{{From: "src/c.ts", To: "src/parts/c.ts",
			Reason: "a file stands there already and stays"}},
		Leftovers: []plan.Leftover{
			{Path: "README.md", Line: 3, Text: "src/a.ts", Named: "src/a.ts", Now: "src/helpers/a.ts", Certain: true,
				Reason: carry.SamePath, New: "src/helpers/a.ts"},
			{Path: "tools/x.js", Line: 7, Text: "x/a.ts", Named: "src/a.ts", Now: "src/helpers/a.ts",
				Reason: "a string that only looks like a path"},
		},
		Remarks: []plan.Remark{{Path: "src/main.ts", Line: 12, Text: "it is longer now"}},
	}
	var out strings.Builder
	require.NoError(t, report.Plan(&out, made, plain))
	assert.Equal(t, `warning: src/x.ts is not written: why

step 1  helpers at src/helpers/
  src/a.ts      -> src/helpers/a.ts
  src/longer.ts -> src/helpers/longer.ts
step 2  parts at src/parts/
  src/b.ts -> src/parts/b.ts

rewrites  line, old text, new text; paths are those before the moves
  src/main.ts
     12  ./a -> ./helpers/a

note: src/main.ts:12: it is longer now

writes  files that are not there yet and must be
  src/parts/index.ts
         1
         2
         3
         4
         5
         6
         and 2 more lines

removes  what the convention discards, and marks of folders that nothing is left in
  old/__init__.py

left over 2  texts that still name what moves; paths and lines are those after the moves
  the path of what moves
    src/a.ts -> src/helpers/a.ts
      README.md:3  src/a.ts
  likely
    src/a.ts -> src/helpers/a.ts
      tools/x.js:7  x/a.ts  a string that only looks like a path
  --likely rewrite writes the strings in code and 1 of the other texts anew

blocked 1  these are not moved, the first cause first
  a file stands there already and stays
      src/c.ts -> src/parts/c.ts
      to go on without: leave: { stay: [src/c.ts] }

3 moves in 2 steps, 1 rewrite in 1 file, 1 file written, 1 file removed; proved.
1 move blocked: the rest can be carried out with --partial.
`, out.String())

	out.Reset()
	require.NoError(t, report.PlanSummary(&out, &plan.Plan{}, plain))
	assert.Equal(t, "Nothing to do: every file stands where it belongs.\n", out.String())
}

func TestUndo(t *testing.T) {
	t.Parallel()
	at := journal.Stamp{Seconds: time.Date(2031, 3, 1, 20, 0, 0, 0, time.UTC).Unix()}
	record := &journal.Record{Name: "0001", State: journal.Done, Title: "2 moves", Time: at,
		Files: make([]journal.Entry, 3)}
	var out strings.Builder
	require.NoError(t, report.Undo(&out, []*journal.Outcome{{Record: record, Kept: []string{"a.ts was changed"}}},
		plain))
	assert.Equal(t, "kept: a.ts was changed\nPut back 2 files (2 moves, of 2031-03-01 20:00 UTC).\n", out.String())
	out.Reset()
	stopped := &journal.Record{Name: "0002", Title: "1 move", Time: at, Files: make([]journal.Entry, 1),
		State: journal.Begun}
	require.NoError(t, report.Straightens(&out, []*journal.Record{record, stopped}, plain))
	assert.Equal(t, "record 2  2031-03-01 20:00 UTC  1 move  (1 file)  stopped half way\n"+
		"record 1  2031-03-01 20:00 UTC  2 moves  (3 files)\n", out.String())
}

// full is a file that takes no more.
type full struct{ buf int }

var errFull = errors.New("no space left")

func (f *full) Write(b []byte) (int, error) {
	if len(b) > f.buf {
		return 0, errFull
	}
	f.buf -= len(b)
	return len(b), nil
}

// What can't be written is told, not lost.
func TestWritingFails(t *testing.T) {
	t.Parallel()
	many := crooked()
	for range 5000 {
		many.Findings = append(many.Findings, many.Findings[0])
	}
	assert.ErrorIs(t, report.Check(&full{}, many, "crooked.yaml", plain), errFull)
	assert.ErrorIs(t, report.Check(&full{buf: 100_000}, many, "crooked.yaml", report.Style{Whole: true}), errFull)
	assert.ErrorIs(t, report.Lines(&full{}, many), errFull)
	assert.ErrorIs(t, report.JSON(&full{}, many), errFull)
	assert.ErrorIs(t, report.SARIF(&full{}, many, "crooked.yaml", "1"), errFull)
	assert.ErrorIs(t, report.PlanSummary(&full{}, &plan.Plan{}, plain), errFull)
	var enough bytes.Buffer
	assert.NoError(t, report.Check(&enough, many, "crooked.yaml", plain))
}

// Files that go from one folder to another are one line, a group is cut on a terminal and whole elsewhere, and what is
// blocked is told by its cause.
func TestManyFiles(t *testing.T) {
	t.Parallel()
	made := &plan.Plan{Steps: []plan.Step{{Title: "parts"}}}
	c := &engine.Check{Files: 40}
	for i := range 30 {
		from, to := fmt.Sprintf("src/components/deep/p%d.ts", i), fmt.Sprintf("src/parts/deep/p%d.ts", i)
		made.Steps[0].Moves = append(made.Steps[0].Moves, plan.Move{From: from, To: to})
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Misplaced, Path: from, Home: to, Shelf: "parts",
			Line: 4, Reason: "it belongs on parts"})
	}
	for i := range 12 {
		p := fmt.Sprintf("src/odd%d.ts", i)
		made.Blocked = append(made.Blocked, plan.Blocked{From: p, To: fmt.Sprintf("src/x%d/y.ts", i),
			Reason: "the root of it", Round: 1})
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Homeless, Path: p, Reason: "no shelf takes it"})
	}
	for i := range 20 {
		made.Blocked = append(made.Blocked, plan.Blocked{From: fmt.Sprintf("lib/a%d.ts", i),
			To: fmt.Sprintf("src/lib/a%d.ts", i), Reason: "for its sake", Round: 2})
	}
	text := func(write func(out *strings.Builder, s report.Style) error, s report.Style) string {
		var out strings.Builder
		require.NoError(t, write(&out, s))
		return out.String()
	}
	plans := func(out *strings.Builder, s report.Style) error { return report.Plan(out, made, s) }
	checks := func(out *strings.Builder, s report.Style) error { return report.Check(out, c, "crooked.yaml", s) }

	shown := text(plans, plain)
	assert.Contains(t, shown, "  src/components/deep/ (30 files) -> src/parts/deep/\n")
	assert.NotContains(t, shown, "p7.ts")
	assert.Less(t, strings.Index(shown, "the root of it"), strings.Index(shown, "for its sake"))
	assert.Contains(t, shown,
		"  for its sake\n      lib/ (20 files) -> src/lib/\n      to go on without: leave: { stay: [\"lib/**\"] }\n")
	assert.Contains(t, shown, "      src/odd11.ts -> src/x11/y.ts\n"+
		"      to go on without: leave: { stay: [src/odd0.ts, src/odd1.ts, src/odd2.ts, …] }\n")
	short := text(plans, report.Style{Short: true})
	assert.Contains(t, short, "src/odd7.ts -> src/x7/y.ts\n      and 4 more; --all shows them\n")
	assert.NotContains(t, short, "src/odd8.ts")
	assert.Equal(t, strings.Count(text(plans, report.Style{Short: true, Whole: true}), "\n"),
		strings.Count(text(plans, report.Style{Whole: true}), "\n"))
	assert.Contains(t, text(plans, report.Style{Short: true, Whole: true}), "src/components/deep/p7.ts ")

	shown = text(checks, plain)
	assert.Contains(t, shown, "    src/components/deep/ (30 files) -> src/parts/deep/  crooked.yaml:4\n")
	assert.Contains(t, shown, "by shelf\n  parts     30 misplaced\n  no shelf  12 other findings\n")
	assert.Contains(t, text(checks, report.Style{Short: true}), "and 4 more; --all shows them")
}

// A column is as wide as a terminal shows it: an ideograph and a picture take two cells, an accent of its own none.
func TestColumnsAreMeasuredInCells(t *testing.T) {
	t.Parallel()
	c := &engine.Check{}
	for _, name := range []string{"src/望遠鏡.ts", "src/🔭.ts", "src/nuit.ts", "src/e\u0301te.ts"} {
		c.Findings = append(c.Findings, finding.Finding{Rule: finding.Misplaced, Path: name, Home: "lib/" + path.Base(name),
			Shelf: "lib", Level: finding.Error})
	}
	var out bytes.Buffer
	require.NoError(t, report.Check(&out, c, "crooked.yaml", report.Style{Quiet: true, Whole: true}))
	assert.Contains(t, out.String(), "src/望遠鏡.ts -> ")
	assert.Contains(t, out.String(), "src/🔭.ts     -> ")
	assert.Contains(t, out.String(), "src/nuit.ts   -> ")
	assert.Contains(t, out.String(), "src/e\u0301te.ts    -> ")
}

// What is wider than the window goes on in a line of its own; what fits stays in one.
func TestRowsFitTheWindow(t *testing.T) {
	t.Parallel()
	c := &engine.Check{Findings: []finding.Finding{{Rule: finding.Misplaced, Path: "src/components/SkyPanel.tsx",
		Home: "src/panels/sky/SkyPanel.tsx", Shelf: "panels", Line: 4, Level: finding.Error}}}
	for width, want := range map[int]string{
		0:  "    src/components/SkyPanel.tsx -> src/panels/sky/SkyPanel.tsx  crooked.yaml:4\n",
		79: "    src/components/SkyPanel.tsx -> src/panels/sky/SkyPanel.tsx  crooked.yaml:4\n",
		60: "    src/components/SkyPanel.tsx\n      -> src/panels/sky/SkyPanel.tsx  crooked.yaml:4\n",
		40: "    src/components/SkyPanel.tsx\n      -> src/panels/sky/SkyPanel.tsx\n         crooked.yaml:4\n",
	} {
		var out bytes.Buffer
		require.NoError(t, report.Check(&out, c, "crooked.yaml", report.Style{Quiet: true, Width: width}))
		assert.Equal(t, want, out.String(), width)
	}
}
