package python

import "crookedshelf/internal/lang"

var facts = lang.Facts{
	Called:   map[string]string{".py": "Python"},
	Programs: []string{".py"},
	Records:  lang.Marks{Folders: []string{"migrations", "fixtures"}},
	Marker:   "__init__.py",
	Made:     []string{"PKG-INFO"}, MadeBelow: []string{".egg-info", ".dist-info"},
	Entry: "__init__",
}
