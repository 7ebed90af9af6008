package manifest

import "testing"

// FuzzParse: no text makes a reader panic or run on, and the span of every value lies in the text.
func FuzzParse(f *testing.F) {
	names := []string{"a.json", "a.yaml", "a.toml", "a.xml", "a.ini"}
	for i, seed := range []string{
		`{"a": [1, "x", {"b": null}], // c` + "\n}", "a: &x [1, 'two', \"th\\u0072ee\"]\nb: |\n  text\nc: *x\n",
		"a = 'x'\n[b.c]\nd = [1, \"\"\"e\"\"\"]\n", "<a b='c'>d<e/><![CDATA[f]]></a>", "a=b\n[c]\nd: e ; f\n",
	} {
		for k := range names {
			f.Add(uint8(k), []byte(seed))
			_ = i
		}
	}
	f.Fuzz(func(t *testing.T, which uint8, text []byte) {
		format := FormatOf(names[int(which)%len(names)])
		root, err := format.Parse(text)
		if err != nil || root == nil {
			return
		}
		var walk func(v *Value, depth int)
		walk = func(v *Value, depth int) {
			if v == nil || depth > 10_000 {
				return
			}
			if v.Span.Start < 0 || v.Span.End < v.Span.Start || v.Span.End > len(text) {
				t.Fatalf("%s: span %v in %d bytes", format.Name, v.Span, len(text))
			}
			for _, m := range v.Members {
				walk(m.Value, depth+1)
			}
			for _, e := range v.Items {
				walk(e, depth+1)
			}
		}
		walk(root, 0)
	})
}
