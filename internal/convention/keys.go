package convention

// key is one key of the format: what it is for, and the keys below it.
type key struct {
	name  string
	about string
	shape shape
	below []key // of a mapping with fixed keys, or of the mappings in a list
}

// format is the whole of crooked.yaml.
var format = []key{
	{name: "crooked", about: "version of this format: 1"},
	{name: "title", about: "what the project is called"},
	{name: "starts_from", about: "a starter, or a path to another convention"},
	{name: "vars", about: "names for what recurs", shape: namedTexts},
	{name: "where", about: "the values that a placeholder may take", shape: namedFields, below: whereKeys},
	{name: "needs", about: "what the project must already be", shape: entries, below: needKeys},
	{name: "leave", about: "files that are left alone", shape: fields, below: leaveKeys},
	{name: "roots", about: "where import names start", shape: namedFields, below: nowThenKeys},
	{name: "aliases", about: "import aliases, now and then", shape: namedFields, below: nowThenKeys},
	{name: "pools", about: "where a kind of thing lies today", shape: namedFields, below: poolKeys},
	{name: "shelves", about: "the places, each with its rule", shape: shelfMap, below: shelfKeys},
	{name: "generated", about: "folders that a program writes and that have a place: they move whole",
		shape: entries, below: generatedKeys},
	{name: "private", about: "files that git must ignore", shape: textEntries, below: privateKeys},
	{name: "thin", about: "entry files that declare nothing, and only load others", shape: manyTexts},
	{name: "discard", about: "files that are not wanted any more", shape: entries, below: discardKeys},
	{name: "coming_from", about: "what holds until the move is done; crooked straighten takes it out then",
		shape: fields, below: dayKeys},
	{name: "beside", about: "companions of the files of all shelves that say nothing of theirs",
		shape: fields, below: besideKeys},
	{name: "top", about: "what may stand at the root", shape: manyTexts},
	{name: "settings", about: "values that this convention requires", shape: entries, below: settingKeys},
	{name: "mentions", about: "text that names files in ways that no language defines", shape: entries,
		below: mentionKeys},
	{name: "public", about: "paths that are addresses", shape: entries, below: publicKeys},
	{name: "read_as", about: "how files are read that no name of theirs tells: a language, a format, by first line, plain", shape: namedTexts},
	{name: "data", about: "names of files of kinds that nothing reads and that hold no path: they move as they are", shape: manyTexts},
	{name: "stored", about: "files whose names a database or a queue remembers", shape: manyTexts},
	{name: "at_once", about: "shelves that move together or not at all", shape: anything},
	{name: "exceptions", about: "files that may stay crooked for a while", shape: entries,
		below: exceptionKeys},
	{name: "levels", about: "how grave each finding is", shape: namedTexts},
	{name: "workspace", about: "what the packages of a project have in common", shape: fields, below: workspaceKeys},
	{name: "verify", about: "the project's own checks: commands, run only when the user says so",
		shape: manyTexts},
}

var (
	whereKeys = []key{{name: "only", about: "the only values", shape: manyTexts},
		{name: "except", about: "values that it may not take", shape: manyTexts},
		{name: "today", about: "names that values have today, by the value", shape: namedLists}}
	nowThenKeys = []key{{name: "now", about: "today", shape: anything},
		{name: "then", about: "after the moves", shape: anything}}
	exceptionKeys = []key{
		{name: "file", about: "the files", shape: anything},
		{name: "rule", about: "the rule that they may break; all if absent"},
		{name: "because", about: "the reason"}, {name: "until", about: "the last day"},
	}
	besideKeys = []key{{name: "must", about: "companions that must be there", shape: textEntries,
		below: companionKeys}, {name: "may", about: "companions that may be there", shape: textEntries,
		below: companionKeys}}
	companionKeys = []key{{name: "file", about: "the companion's path from the root", shape: anything},
		{name: "mirrors", about: "the folder below which owners lie", shape: anything}}
	generatedKeys = []key{{name: "files", about: "the folder, with what is below it"},
		{name: "goes_with", about: "the shelf with which it goes"},
		{name: "named_by", about: "the setting that names the folder", shape: fields, below: namedByKeys}}
	namedByKeys = []key{{name: "in", about: "the settings file"},
		{name: "key", about: "the place of the value in it"}}
	privateKeys = []key{{name: "file", about: "the files"},
		{name: "example", about: "the file that shows others what they hold"}}
	discardKeys = []key{{name: "file", about: "the files", shape: manyTexts},
		{name: "because", about: "the reason"}}
	listedKeys = []key{{name: "in", about: "the settings file"},
		{name: "key", about: "the place of the list in it"},
		{name: "as", about: "how an instance is written; its path from the file's folder if absent"}}
	partnerKeys = []key{{name: "shelf", about: "the other shelf"},
		{name: "as", about: "how the partner is called there: <name|plural>"}}
	apartKeys   = []key{{name: "but", about: "instances that the others may use", shape: manyTexts}}
	libraryKeys = []key{{name: "never", about: "packages that it may not use", shape: manyTexts},
		{name: "only", about: "the only packages that it may use", shape: manyTexts}}
	needKeys = []key{{name: "package", about: "a package's name"},
		{name: "language", about: "instead of a package: the language's name, as go, python, node"},
		{name: "at_least", about: "its lowest version"}}
	settingKeys = []key{{name: "in", about: "the settings file", shape: manyTexts},
		{name: "set", about: "the values, by key", shape: anything}}
	publicKeys = []key{
		{name: "folder", about: "whose files have addresses", shape: anything},
		{name: "at", about: "the folder's address"},
		{name: "routes", about: "true: the addresses are routes"},
	}
	mentionKeys = []key{
		{name: "in", about: "the files that hold the text", shape: manyTexts},
		{name: "key", about: "the text's place in a settings file", shape: manyTexts},
		{name: "call", about: "the call whose first string is the text", shape: manyTexts},
		{name: "file", about: "what the text names", shape: anything},
		{name: "like", about: "what the text looks like", shape: manyTexts},
		{name: "each", about: "what parts a list in one text"},
		{name: "base", about: "the folder that the text is read from", shape: anything},
		{name: "loaded", about: "by name: built at run time"},
		{name: "is", about: "text: it is no path"},
		{name: "in_templates", about: "true: the text is an element's name"},
		{name: "in_code", about: "true: the text is the name of a function that is called and not imported"},
	}
)

var leaveKeys = []key{
	{name: "stay", about: "never moved; what it mentions is rewritten", shape: manyTexts},
	{name: "untouched", about: "never moved nor edited", shape: manyTexts},
	{name: "generated", about: "a program writes these: not judged, not moved, not edited",
		shape: manyTexts},
	{name: "as_is", about: "may be moved, and never edited", shape: manyTexts},
	{name: "outside", about: "this convention does not speak of them", shape: manyTexts},
}

var shelfKeys = []key{
	{name: "for", about: "what the shelf is for"},
	{name: "at", about: "where it stands"},
	{name: "from", about: "where such files are found today", shape: boundTexts},
	{name: "takes", about: "what belongs on it", shape: entries, below: takeKeys},
	{name: "must", about: "files that each instance must have", shape: textEntries, below: mustKeys},
	{name: "door", about: "the one file that may be imported from outside"},
	{name: "apart", about: "instances may not use one another", shape: textEntries, below: apartKeys},
	{name: "uses", about: "the shelves it may use", shape: manyTexts},
	{name: "inside", about: "shelves within", shape: shelfMap},
	{name: "beside", about: "companions", shape: fields, below: besideKeys},
	{name: "libraries", about: "the packages it may use", shape: fields, below: libraryKeys},
	{name: "closed", about: "true: what no shelf inside takes is homeless"},
	{name: "order", about: "the instances in an order: a later one may use an earlier one",
		shape: manyTexts},
	{name: "partner", about: "what each file has on another shelf", shape: entries, below: partnerKeys},
	{name: "listed", about: "the list of a settings file in which each instance stands", shape: fields,
		below: listedKeys},
	{name: "whole", about: "folders that are one thing: <part>/; false for none", shape: manyTexts},
	{name: "widen", about: "needed: what others would not see any more may be seen as far as they need"},
	{name: "laid_out_as", about: "each instance has the shelves declared below that folder"},
	{name: "names", about: "how its files and folders are named", shape: fields, below: namesKeys},
	{name: "also_at", about: "places that are still tolerated", shape: textEntries, below: alsoAtKeys},
	{name: "package", about: "each instance is a package with a manifest: its name, or true", shape: anything,
		below: packageKeys},
}

var takeKeys = []key{
	{name: "name", about: "the file's name"},
	{name: "pool", about: "the pool that it is of"},
	{name: "needed_by", about: "who needs it: one of X, many of X, none"},
	{name: "declares", about: "what it declares at its top level", shape: anything},
	{name: "extends", about: "what one of its declarations is built on", shape: manyTexts},
	{name: "marked", about: "what decorates one of its declarations", shape: manyTexts},
	{name: "imports", about: "a shelf or package that it uses", shape: manyTexts},
}

var (
	poolKeys = []key{{name: "in", about: "where its files lie", shape: manyTexts},
		{name: "counts", about: "users that count and usually do not: tests, stories, indexes",
			shape: manyTexts}}
	mustKeys = []key{{name: "file", about: "the file, below the instance", shape: anything},
		{name: "write", about: "what is written where it is missing: reexports, empty, or a file of the project"}}
	alsoAtKeys = []key{
		{name: "place", about: "the folder"}, {name: "until", about: "the last day"},
		{name: "because", about: "the reason"},
	}
	namesKeys = []key{
		{name: "files", about: "the case of a file's name up to its first dot"},
		{name: "folders", about: "the case of the folders below"},
		{name: "like", about: "what a file's name looks like", shape: manyTexts},
		{name: "declares", about: "same: a file is named after what it declares", shape: anything},
	}
)
