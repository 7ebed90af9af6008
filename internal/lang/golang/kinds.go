package golang

import "crookedshelf/internal/lang"

// The kinds of mention of Go.
var (
	// PackageImport is an import of a package: a folder's files.
	PackageImport = &lang.Kind{Name: "package import", Role: lang.Imports | lang.Loads | lang.Packed | lang.Whole}
	// x.Name of an imported package, Name of the file's own
	NameUse = &lang.Kind{Name: "name", Role: lang.Binds | lang.Brought}
	Embed   = &lang.Kind{Name: "embedded files"} // a pattern of files that the compiler embeds
	// PackageText is the path of a package in a text that is no import, with a name of the package or /... behind it.
	PackageText = &lang.Kind{Name: "package path", Role: lang.Packed | lang.Doubtful,
		Looks: "it is the path of a package in a text"}
	// ModuleFolder is a folder that a module file names: it means the module, whatever else lies there.
	ModuleFolder = &lang.Kind{Name: "module", Role: lang.Configures | lang.Decides}
	// DocLink is a name in brackets in a comment (go.dev/doc/comment, doc links).
	DocLink = &lang.Kind{Name: "doc link", Role: lang.Brought, Looks: "it is a name in a comment"}
)

// Kinds are the kinds of mention that the package answers for.
var Kinds = []*lang.Kind{PackageImport, NameUse, Embed, PackageText, ModuleFolder, DocLink}

// Rules are what the resolver answers.
func (r *Resolver) Rules() lang.Rules {
	return lang.Rules{
		Kinds: Kinds, Resolver: r, Warnings: r.warnings, Settles: settles, Settle: r.Settle, Owes: r.Owes,
		Links: r.Links, Asks: r.Asks, Second: r.Second, Bindings: bindings, Packages: r.Packages, Part: r.Part,
	}
}

func settles(m *lang.Mention) bool {
	return m.Kind == PackageImport || m.Kind == NameUse || m.Kind == DocLink
}

// bindings are the names that a mention brings: a name itself, and of a package everything.
func bindings(_ []byte, m *lang.Mention) []lang.Binding {
	if m.Kind == NameUse || m.Kind == DocLink {
		return []lang.Binding{{Name: m.Text, Local: m.Text}}
	}
	return []lang.Binding{{Name: lang.Everything, Local: lang.Everything}}
}
