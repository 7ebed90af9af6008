package script

import (
	"slices"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/paths"
	"crookedshelf/internal/manifest"
)

// configure reads the object that a configuration file exports: which of its strings define aliases, and which the
// convention states to be mentions, or to be none.
func (s *scanner) configure() {
	root := ReadObject(s.src)
	for _, d := range append(AliasDefinitions(root), SetAliases(s.src)...) {
		for i := range s.mentions {
			m := &s.mentions[i]
			if m.Span.Start < d.Value.Span.Start || m.Span.End > d.Value.Span.End {
				continue
			}
			if m.Kind == paths.Setting || m.Kind == paths.SettingGlob {
				m.Kind = paths.AliasTarget
			}
			m.Likely = false
			more := lang.Detail{}
			if m.Detail != nil {
				more = *m.Detail
			}
			more.Alias = d.Pattern
			m.Detail = &more
		}
	}
	if root == nil || s.declared == nil || len(s.declared.Convention.Mentions) == 0 {
		return
	}
	root.Walk(func(key []string, v *manifest.Value) {
		rule := 0
		if v.Kind == manifest.String {
			rule = s.declared.Key(s.path, key)
		}
		if rule == 0 {
			return
		}
		s.mentions = slices.DeleteFunc(s.mentions, func(m lang.Mention) bool { return m.Span.Start == v.Span.Start })
		s.addStated(v.Span, v.Text, rule, v.Quote)
	})
	slices.SortFunc(s.mentions, func(a, b lang.Mention) int { return a.Span.Start - b.Span.Start })
}
