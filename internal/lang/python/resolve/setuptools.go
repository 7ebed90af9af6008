package resolve

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
	"crookedshelf/internal/lang/python/syntax"
	"crookedshelf/internal/manifest"
	"crookedshelf/internal/source"
)

// followSetuptools writes where packages lie, in whatever of the three files lists them or says how they are found.
func (d *distribution) followSetuptools() ([]lang.Duty, error) {
	var out []lang.Duty
	add := func(duties []lang.Duty, err error) error {
		for _, duty := range duties {
			if i := slices.IndexFunc(out, func(other lang.Duty) bool { return other.Path == duty.Path }); i >= 0 {
				out[i].Edits = append(out[i].Edits, duty.Edits...)
				continue
			}
			out = append(out, duty)
		}
		return err
	}
	said := false
	if options := d.pyproject.At("tool", "setuptools"); options != nil {
		folder := []string{"tool", "setuptools", "package-dir", ""}
		if find := options.At("packages", "find"); find != nil {
			said = true
			where := &manifest.Value{Kind: manifest.List, Items: []*manifest.Value{stringOf(d.shift.to)}}
			if err := add(d.set([]string{"tool", "setuptools", "packages", "find", "where"}, where)); err != nil {
				return nil, err
			}
			if d.shift.to == "." && len(d.others) > 0 && find.Get("include") == nil {
				if err := add(d.set([]string{"tool", "setuptools", "packages", "find", "include"},
					d.including())); err != nil {
					return nil, err
				}
			}
			if options.At("package-dir", "") != nil {
				if err := add(d.set(folder, stringOf(d.shift.to))); err != nil {
					return nil, err
				}
			}
		} else if options.Get("packages") != nil || options.Get("py-modules") != nil {
			said = true
			if err := add(d.set(folder, stringOf(d.shift.to))); err != nil {
				return nil, err
			}
		}
	}
	if !said && (d.config.At("options", "packages") != nil || d.config.At("options", "py_modules") != nil) {
		said = true
		if err := add(d.followConfig()); err != nil {
			return nil, err
		}
	}
	if _, is := d.files["setup.py"]; is && !said {
		script, tells, err := d.followScript()
		if err := add(script, err); err != nil {
			return nil, err
		}
		said = tells
	}
	if said {
		return out, nil
	}
	if strange := slices.DeleteFunc(slices.Clone(d.others),
		func(name string) bool { return unpackaged[name] }); d.shift.to == "." && len(strange) > 0 {
		if d.pyproject == nil {
			return nil, fmt.Errorf("%s would lie beside the packages, and setup.py does not say which are built",
				strange[0])
		}
		return d.set([]string{"tool", "setuptools", "packages", "find", "include"}, d.including())
	}
	return d.automatic()
}

// including are the patterns of the packages that go.
func (d *distribution) including() *manifest.Value {
	out := &manifest.Value{Kind: manifest.List}
	for _, top := range d.tops {
		out.Items = append(out.Items, stringOf(top), stringOf(top+".*"))
	}
	return out
}

// followConfig writes where packages lie in setup.cfg.
func (d *distribution) followConfig() ([]lang.Duty, error) {
	id := d.files["setup.cfg"]
	content, err := d.tree.Content(id)
	if err != nil {
		return nil, err
	}
	duty := lang.Duty{Path: d.tree.Path(id), Why: "where packages lie"}
	put := func(section, key, plain, lines string) {
		holder := d.config.Get(section)
		if have := holder.Get(key); have != nil {
			value := plain
			if have.Kind == manifest.Block || key == "package_dir" {
				value = strings.TrimPrefix(lines, "\n")
				if have.Kind != manifest.Block {
					value = lines
				}
				value = strings.TrimLeft(value, " \n")
			}
			duty.Edits = append(duty.Edits, source.Edit{Span: have.Span, New: value})
			return
		}
		line := key + " = " + plain + "\n"
		if lines != "" {
			line = key + " =" + lines + "\n"
		}
		if holder == nil {
			duty.Edits = append(duty.Edits, source.Edit{Span: source.Span{Start: len(content), End: len(content)},
				New: "\n[" + section + "]\n" + line})
			return
		}
		at := holder.Span.End
		if n := len(holder.Members); n > 0 {
			at = whole(holder.Members[n-1].Value)
		}
		if next := bytes.IndexByte(content[at:], '\n'); next >= 0 {
			at += next + 1
		} else {
			at, line = len(content), "\n"+line
		}
		duty.Edits = append(duty.Edits, source.Edit{Span: source.Span{Start: at, End: at}, New: line})
	}
	if strings.HasPrefix(strings.TrimSpace(d.config.At("options", "packages").String()), "find") {
		put("options.packages.find", "where", d.shift.to, "")
		if d.shift.to == "." && len(d.others) > 0 && d.config.At("options.packages.find", "include") == nil {
			lines := ""
			for _, item := range d.including().Items {
				lines += "\n    " + item.Text
			}
			put("options.packages.find", "include", "", lines)
		}
	}
	put("options", "package_dir", "", "\n    = "+d.shift.to)
	slices.SortStableFunc(duty.Edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
	return []lang.Duty{duty}, nil
}

func whole(v *manifest.Value) int {
	if v.Kind == manifest.String && v.Quote != 0 {
		return v.Span.End + 1
	}
	return v.Span.End
}

// followScript writes where packages lie in setup.py. tells: the script says which packages there are.
func (d *distribution) followScript() (out []lang.Duty, tells bool, err error) {
	id := d.files["setup.py"]
	src, err := d.tree.Content(id)
	if err != nil {
		return nil, false, err
	}
	s := &script{Reader: syntax.Reader{Src: src, Tokens: syntax.Tokenize(src)}, to: d.shift.to}
	s.Brackets()
	s.quote = "\""
	if bytes.Count(src, []byte("'")) > bytes.Count(src, []byte("\"")) {
		s.quote = "'"
	}
	call, found := s.call("setup")
	if !found {
		return nil, false, nil
	}
	packages, lists := s.argument(call, "packages")
	_, single := s.argument(call, "py_modules")
	if !lists && !single {
		return nil, false, nil
	}
	if lists {
		switch w := s.Word(packages); {
		case s.Is(packages, '['): // names of packages
		case w == "find_packages" || w == "find_namespace_packages" || s.finds(packages):
			s.where(s.opening(packages))
			if _, has := s.argument(s.opening(packages), "include"); !has && d.shift.to == "." && len(d.others) > 0 {
				var patterns []string
				for _, item := range d.including().Items {
					patterns = append(patterns, s.quote+item.Text+s.quote)
				}
				s.insert(s.Tokens[s.Match[s.opening(packages)]].Start, ", include=["+strings.Join(patterns, ", ")+"]")
			}
		default:
			return nil, true,
				errors.New("setup.py works out in code which packages are built, and that can't be followed")
		}
	}
	if err := s.packageDir(call); err != nil {
		return nil, true, err
	}
	slices.SortStableFunc(s.edits, func(a, b source.Edit) int { return a.Span.Start - b.Span.Start })
	return []lang.Duty{{Path: d.tree.Path(id), Edits: s.edits, Why: "where packages lie"}}, true, nil
}

// script is a setup.py that is edited.
type script struct {
	syntax.Reader
	to    string
	quote string
	edits []source.Edit
}

// call gives the place of the bracket that opens the arguments of a function's call.
func (s *script) call(name string) (int, bool) {
	for i := range s.Tokens {
		if s.Word(i) == name && s.Is(i+1, '(') && s.Word(i-1) != "def" {
			return i + 1, true
		}
	}
	return 0, false
}

// argument gives the first token of the value of a named argument.
func (s *script) argument(open int, name string) (int, bool) {
	for i := open + 1; i < s.Match[open]; i++ {
		if s.Word(i) == name && s.Is(i+1, '=') {
			return i + 2, true
		}
		if s.Opens(i) {
			i = s.Match[i]
		}
	}
	return 0, false
}

// finds says whether a value is a call by way of a module: setuptools.find_packages(…).
func (s *script) finds(i int) bool {
	last := s.Word(i + 2)
	return s.Is(i+1, '.') && (last == "find_packages" || last == "find_namespace_packages")
}

// opening is the bracket behind the name of a called function.
func (s *script) opening(i int) int {
	for !s.Is(i, '(') {
		i++
	}
	return i
}

func (s *script) insert(at int, text string) {
	s.edits = append(s.edits, source.Edit{Span: source.Span{Start: at, End: at}, New: text})
}

// where tells find_packages in which folder to look.
func (s *script) where(open int) {
	value := s.quote + s.to + s.quote
	if given, ok := s.argument(open, "where"); ok {
		s.replace(given, value)
		return
	}
	first := open + 1
	switch {
	case first == s.Match[open]:
		s.insert(s.Tokens[open].End, "where="+value)
	case s.Tokens[first].Kind == syntax.OtherToken: // the first one without a name is the folder
		s.replace(first, value)
	default:
		s.insert(s.Tokens[open].End, "where="+value+", ")
	}
}

func (s *script) replace(i int, value string) {
	s.edits = append(s.edits, source.Edit{Span: source.Span{Start: s.Tokens[i].Start, End: s.Tokens[i].End},
		New: value})
}

// packageDir tells setup in which folder the packages are.
func (s *script) packageDir(open int) error {
	value := s.quote + s.to + s.quote
	given, ok := s.argument(open, "package_dir")
	if !ok {
		text := fmt.Sprintf("package_dir={%s%s: %s},", s.quote, s.quote, value)
		at := s.Tokens[open].End
		indent := ""
		if line := bytes.IndexByte(s.Src[at:], '\n'); line >= 0 && len(bytes.TrimSpace(s.Src[at:at+line])) == 0 {
			rest := s.Src[at+line+1:]
			indent = "\n" + string(rest[:len(rest)-len(bytes.TrimLeft(rest, " \t"))])
			s.insert(at, indent+text)
			return nil
		}
		s.insert(at, text+" ")
		return nil
	}
	if !s.Is(given, '{') {
		return errors.New("setup.py works out in code in which folders packages are, and that can't be followed")
	}
	for i := given + 1; i < s.Match[given]; i++ {
		key := string(s.Src[s.Tokens[i].Start:s.Tokens[i].End])
		if (key == "''" || key == `""`) && s.Is(i+1, ':') && s.Tokens[i+2].Kind == syntax.OtherToken {
			s.replace(i+2, value)
			return nil
		}
	}
	return errors.New("setup.py says of single packages in which folders they are: name the new ones in package_dir")
}
