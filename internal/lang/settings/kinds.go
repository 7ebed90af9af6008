package settings

import "crookedshelf/internal/lang"

// ImagePath is a path that a command has from a place of the image, or from the folder to which it went.
var ImagePath = &lang.Kind{Name: "path of a command"}
