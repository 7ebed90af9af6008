package script

import (
	"crookedshelf/internal/lang"
	"crookedshelf/internal/source"
)

// StructureKind is a lexical decision that depends on context; the comparison with the compiler looks at these.
type StructureKind uint8

// The structures that a trace reports.
const (
	RegularExpression StructureKind = iota
	ElementOpen
	TemplatePiece
)

// Structure is one such decision with the bytes it covers: the whole regular expression, the `<` of an element, or a
// template piece with its delimiters.
type Structure struct {
	Kind StructureKind
	Span source.Span
}

// Ablation switches one rule of the scanner off. Only the comparison with the compiler uses it, to show that the
// comparison would notice.
type Ablation uint8

// The rules that can be switched off.
const (
	NoJSX Ablation = 1 << iota
	NoRegularExpressions
	NoTemplateNesting
)

// ScanTraced is Scan with the structure of the text reported as well, and with rules switched off.
func ScanTraced(src []byte, dialect Dialect, ablation Ablation) ([]lang.Mention, []Structure) {
	var trace []Structure
	s := &scanner{
		input:   input{src: src, dialect: dialect},
		wishes:  wishes{wanted: len(src), ablation: ablation},
		results: results{trace: &trace},
	}
	return s.scan(), trace
}

func (s *scanner) report(kind StructureKind, start, end int) {
	if s.trace != nil {
		*s.trace = append(*s.trace, Structure{kind, source.Span{Start: start, End: end}})
	}
}
