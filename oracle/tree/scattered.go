package tree

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"path"
	"slices"
	"strings"
)

// Scattered is a convention by which some files go to other folders of theirs, or to new ones, and how many do.
func Scattered(random *rand.Rand, files []string) (string, int) {
	var dirs []string
	for _, p := range files {
		dirs = append(dirs, path.Dir(p))
	}
	slices.Sort(dirs)
	dirs = slices.Compact(dirs)
	for range 3 {
		dirs = append(dirs, path.Join(dirs[random.IntN(len(dirs))], fmt.Sprintf("part%d", random.IntN(9))))
	}
	homes, taken, n := map[string][]string{}, map[string]bool{}, 0
	for _, k := range random.Perm(len(files))[:min(len(files)/3, 25)] {
		p := files[k]
		to := dirs[random.IntN(len(dirs))]
		if name := path.Base(p); to == path.Dir(p) || to == "." || name == "package-info.java" || taken[path.Join(to, name)] ||
			slices.Contains(files, path.Join(to, name)) {
			continue
		}
		taken[path.Join(to, path.Base(p))] = true
		homes[to] = append(homes[to], p)
		n++
	}
	text := "crooked: 1\nshelves:\n"
	for i, to := range slices.Sorted(maps.Keys(homes)) {
		text += fmt.Sprintf("  s%d: { at: %s/, from: [%s] }\n", i, to, strings.Join(homes[to], ", "))
	}
	return text, n
}
