package settings

import "crookedshelf/internal/lang"

// ImagePath is a path that a command has from a place of the image, or from the folder to which it went.
var ImagePath = &lang.Kind{Name: "path of a command"}

// BuildProject is the name of a project of a build, which is the path of its folder, with colons. It keeps its name when
// the folder moves: a line of its own says then where that is.
var BuildProject = &lang.Kind{Name: "project of a build", Role: lang.Configures}
