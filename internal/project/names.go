package project

import (
	"path"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// Fold is what file systems may take for the same name: Unicode's composed form in folded case.
func Fold(p string) string {
	for i := range len(p) {
		if p[i] >= utf8.RuneSelf {
			return cases.Fold().String(norm.NFC.String(p))
		}
	}
	return strings.ToLower(p)
}

// CleanPath says whether p is a path below the root in its shortest form, and none of git's own or of the journal.
// Everything that comes from a stored file must pass it before it is used.
func CleanPath(p string) bool {
	if p == "" || p == "." || path.Clean(p) != p || strings.HasPrefix(p, "/") || strings.Contains(p, "\x00") {
		return false
	}
	start := 0
	for i := 0; i <= len(p); i++ {
		if i < len(p) && p[i] != '/' && p[i] != '\\' {
			continue
		}
		if part := p[start:i]; !plain(part) {
			switch kept := bare(part); {
			case part == "..", kept == ".git", kept == "git~1":
				return false
			case kept == ".crooked" && strings.Trim(p[:start], "\\") == "":
				return false
			}
		}
		start = i + 1
	}
	return true
}

// plain says whether a name can't be taken for one of git's or of the journal, by its first letter.
func plain(name string) bool {
	if name != "" && (name[0] == '.' || name[0]|0x20 == 'g') {
		return false
	}
	for i := range len(name) {
		if name[i] >= utf8.RuneSelf {
			return false
		}
	}
	return true
}

// bare is a name without what some file systems leave out of names: case and characters without a width (HFS+), dots
// and spaces at the end and what follows a colon (NTFS).
func bare(name string) string {
	name, _, _ = strings.Cut(name, ":")
	name = strings.Map(func(r rune) rune {
		if r >= 0x200c && r <= 0x200f || r >= 0x202a && r <= 0x202e || r >= 0x206a && r <= 0x206f || r == 0xfeff {
			return -1
		}
		return r
	}, name)
	return strings.TrimRight(Fold(name), ". ")
}
