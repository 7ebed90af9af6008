package rust_test

import (
	"testing"

	"crookedshelf/oracle/tree"
)

// TestEachRuleIsNeeded takes rules out of the reader: the comparison must notice each of them.
func TestEachRuleIsNeeded(t *testing.T) {
	has(t, "cargo", "sources/said")
	t.Setenv("RUST_FILES", "testdata/traps")
	tree.Needed(t, "../../internal/lang/rust", "TestAgainstAReader", []tree.Rule{
		{Name: "comments nest", File: "lex.go", Text: "case src[k] == '/' && src[k+1] == '*':", Without: "case false:"},
		{Name: "raw strings end with their hashes", File: "lex.go", Text: "hashes++", Without: "hashes += 0"},
		{Name: "lifetimes are no characters", File: "lex.go", Text: "return i, tLifetime", Without: "return len(src), tLifetime"},
		{Name: "two dots end a number", File: "lex.go", Text: "src[i+1] != '.' && classes[src[i+1]] != cLetter", Without: "classes[src[i+1]] != cLetter"},
		{Name: "rules of macros are no code", File: "parse.go", Text: "if t.first == '{' && p.where != inRule {", Without: "if t.first == '{' {"},
		{Name: "for with a lifetime is no implementation", File: "items.go", Text: "(p.tok[k+2].kind == tLifetime || p.is(k+2, '>'))", Without: "false"},
		{Name: "members of traits are not private", File: "items.go", Text: "ctx, owner = ofTrait, p.typeName(forAt+1, where)", Without: "ctx, owner = ofType, p.typeName(forAt+1, where)"},
		{Name: "self of a group is the group", File: "items.go", Text: `one.bound == "self" && len(path) > 1`, Without: "false"},
		{Name: "what is behind arguments is no path", File: "parse.go", Text: "p.is(i-1, '>') && (p.tok[i-1].end == p.tok[i].start ||", Without: "false && (p.tok[i-1].end == p.tok[i].start ||"},
		{Name: "names behind r#", File: "lex.go", Text: "own := i // behind r#", Without: "own := start"},
	})
}
