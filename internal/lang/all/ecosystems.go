package all

import (
	"crookedshelf/internal/lang/ecosystems"
	"crookedshelf/internal/project"
)

// What is known of the files of a project by the ecosystems that it is of.
type (
	Known = ecosystems.Facts
	Fact  = ecosystems.Fact
	Found = ecosystems.Found
)

// Recognise finds the ecosystems of a project.
func Recognise(tree *project.Project) Known { return ecosystems.Recognise(tree) }

// Commands lists what the manifests of a project say can be run.
func Commands(tree *project.Project) []ecosystems.Command { return ecosystems.Commands(tree) }

// Configures says whether the word of a command that stands behind a text is a setting of the command.
func Configures(before []byte) bool { return ecosystems.Configures(before) }
