package template

import (
	"fmt"
	"slices"
	"strings"
)

// Closest gives " (did you mean x?)" for the known word that is most like the given one, or nothing.
func Closest(word string, known []string) string {
	best, bestDistance := "", len(word)/2+1
	for _, k := range known {
		if d := distance(strings.ToLower(word), k); d < bestDistance {
			best, bestDistance = k, d
		}
	}
	if best == "" {
		return ""
	}
	return fmt.Sprintf(" (did you mean %s?)", best)
}

// OneOff says whether two words differ by one letter.
func OneOff(a, b string) bool { return len(b) > 1 && distance(a, b) == 1 }

// distance is the number of letters to put in, take out or change to get from a to b.
func distance(a, b string) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		previous := row[0]
		row[0] = i + 1
		for j := range len(b) {
			cost := 1
			if a[i] == b[j] {
				cost = 0
			}
			previous, row[j+1] = row[j+1], slices.Min([]int{row[j+1] + 1, row[j] + 1, previous + cost})
		}
	}
	return row[len(b)]
}
