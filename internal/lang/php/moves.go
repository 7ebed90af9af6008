package php

import (
	"crookedshelf/internal/lang"
)

// Owes says what moves owe: nothing yet.
func (r *Resolver) Owes(*lang.Rules, []lang.Moved) []lang.Duty { return nil }
