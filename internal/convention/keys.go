package convention

// key is one key of the format: what it is for, whether this version has it, and the keys below it.
type key struct {
	name  string
	about string
	built bool
	shape shape
	below []key // of a mapping with fixed keys, or of the mappings in a list
}

// format is the whole of crooked.yaml. A key that is known and not built is refused by name, so that nobody believes
// that it was heeded.
var format = []key{
	{name: "crooked", about: "version of this format: 1", built: true},
	{name: "title", about: "what the project is called", built: true},
	{name: "starts_from", about: "a starter, or a path to another convention", built: true},
	{name: "vars", about: "names for what recurs", built: true, shape: namedTexts},
	{name: "where", about: "the values that a placeholder may take", built: true, shape: namedFields, below: whereKeys},
	{name: "needs", about: "what the project must already be", built: true, shape: entries, below: needKeys},
	{name: "leave", about: "files that are left alone", built: true, shape: fields, below: leaveKeys},
	{name: "roots", about: "where import names start", built: true, shape: namedFields, below: nowThenKeys},
	{name: "aliases", about: "import aliases, now and then", built: true, shape: namedFields, below: nowThenKeys},
	{name: "pools", about: "where a kind of thing lies today", built: true, shape: namedFields, below: poolKeys},
	{name: "shelves", about: "the places, each with its rule", built: true, shape: shelfMap, below: shelfKeys},
	{name: "generated", about: "folders that a program writes and that have a place: they move whole", built: true,
		shape: entries, below: generatedKeys},
	{name: "private", about: "files that git must ignore", built: true, shape: textEntries, below: privateKeys},
	{name: "thin", about: "entry files that declare nothing, and only load others", built: true, shape: manyTexts},
	{name: "discard", about: "files that are not wanted any more", built: true, shape: entries, below: discardKeys},
	{name: "coming_from", about: "what holds until the move is done; crooked straighten takes it out then", built: true,
		shape: fields, below: dayKeys},
	{name: "beside", about: "companions of the files of all shelves that say nothing of theirs", built: true,
		shape: fields, below: besideKeys},
	{name: "top", about: "what may stand at the root", built: true, shape: manyTexts},
	{name: "settings", about: "values that this convention requires", built: true, shape: entries, below: settingKeys},
	{name: "mentions", about: "text that names files in ways that no language defines", built: true, shape: entries,
		below: mentionKeys},
	{name: "public", about: "paths that are addresses", built: true, shape: entries, below: publicKeys},
	{name: "read_as", about: "how files are read that no name of theirs tells: a language, a format, by first line, plain",
		built: true, shape: namedTexts},
	{name: "data", about: "names of files of kinds that nothing reads and that hold no path: they move as they are",
		built: true, shape: manyTexts},
	{name: "stored", about: "files whose names a database or a queue remembers", built: true, shape: manyTexts},
	{name: "at_once", about: "shelves that move together or not at all", built: true, shape: anything},
	{name: "exceptions", about: "files that may stay crooked for a while", built: true, shape: entries,
		below: exceptionKeys},
	{name: "levels", about: "how grave each finding is", built: true, shape: namedTexts},
	{name: "workspace", about: "what the packages of a project have in common", built: true, shape: fields, below: workspaceKeys},
	{name: "verify", about: "the project's own checks: commands, run only when the user says so", built: true,
		shape: manyTexts},
}

var (
	whereKeys = []key{{name: "only", about: "the only values", built: true, shape: manyTexts},
		{name: "except", about: "values that it may not take", built: true, shape: manyTexts},
		{name: "today", about: "names that values have today, by the value", built: true, shape: namedLists}}
	nowThenKeys = []key{{name: "now", about: "today", built: true, shape: anything},
		{name: "then", about: "after the moves", built: true, shape: anything}}
	exceptionKeys = []key{
		{name: "file", about: "the files", built: true, shape: anything},
		{name: "rule", about: "the rule that they may break; all if absent", built: true},
		{name: "because", about: "the reason", built: true}, {name: "until", about: "the last day", built: true},
	}
	besideKeys = []key{{name: "must", about: "companions that must be there", built: true, shape: textEntries,
		below: companionKeys}, {name: "may", about: "companions that may be there", built: true, shape: textEntries,
		below: companionKeys}}
	companionKeys = []key{{name: "file", about: "the companion's path from the root", built: true, shape: anything},
		{name: "mirrors", about: "the folder below which owners lie", built: true, shape: anything}}
	generatedKeys = []key{{name: "files", about: "the folder, with what is below it", built: true},
		{name: "goes_with", about: "the shelf with which it goes", built: true},
		{name: "named_by", about: "the setting that names the folder", built: true, shape: fields, below: namedByKeys}}
	namedByKeys = []key{{name: "in", about: "the settings file", built: true},
		{name: "key", about: "the place of the value in it", built: true}}
	privateKeys = []key{{name: "file", about: "the files", built: true},
		{name: "example", about: "the file that shows others what they hold", built: true}}
	discardKeys = []key{{name: "file", about: "the files", built: true, shape: manyTexts},
		{name: "because", about: "the reason", built: true}}
	listedKeys = []key{{name: "in", about: "the settings file", built: true},
		{name: "key", about: "the place of the list in it", built: true},
		{name: "as", about: "how an instance is written; its path from the file's folder if absent", built: true}}
	partnerKeys = []key{{name: "shelf", about: "the other shelf", built: true},
		{name: "as", about: "how the partner is called there: <name|plural>", built: true}}
	apartKeys   = []key{{name: "but", about: "instances that the others may use", built: true, shape: manyTexts}}
	libraryKeys = []key{{name: "never", about: "packages that it may not use", built: true, shape: manyTexts},
		{name: "only", about: "the only packages that it may use", built: true, shape: manyTexts}}
	needKeys = []key{{name: "package", about: "a package's name", built: true},
		{name: "language", about: "instead of a package: the language's name, as go, python, node", built: true},
		{name: "at_least", about: "its lowest version", built: true}}
	settingKeys = []key{{name: "in", about: "the settings file", built: true, shape: manyTexts},
		{name: "set", about: "the values, by key", built: true, shape: anything}}
	publicKeys = []key{
		{name: "folder", about: "whose files have addresses", built: true, shape: anything},
		{name: "at", about: "the folder's address", built: true},
		{name: "routes", about: "true: the addresses are routes", built: true},
	}
	mentionKeys = []key{
		{name: "in", about: "the files that hold the text", built: true, shape: manyTexts},
		{name: "key", about: "the text's place in a settings file", built: true, shape: manyTexts},
		{name: "call", about: "the call whose first string is the text", built: true, shape: manyTexts},
		{name: "file", about: "what the text names", built: true, shape: anything},
		{name: "like", about: "what the text looks like", built: true, shape: manyTexts},
		{name: "each", about: "what parts a list in one text", built: true},
		{name: "base", about: "the folder that the text is read from", built: true, shape: anything},
		{name: "loaded", about: "by name: built at run time", built: true},
		{name: "is", about: "text: it is no path", built: true},
		{name: "in_templates", about: "true: the text is an element's name", built: true},
		{name: "in_code", about: "true: the text is the name of a function that is called and not imported",
			built: true},
	}
)

var leaveKeys = []key{
	{name: "stay", about: "never moved; what it mentions is rewritten", built: true, shape: manyTexts},
	{name: "untouched", about: "never moved nor edited", built: true, shape: manyTexts},
	{name: "generated", about: "a program writes these: not judged, not moved, not edited", built: true,
		shape: manyTexts},
	{name: "as_is", about: "may be moved, and never edited", built: true, shape: manyTexts},
	{name: "outside", about: "this convention does not speak of them", built: true, shape: manyTexts},
}

var shelfKeys = []key{
	{name: "for", about: "what the shelf is for", built: true},
	{name: "at", about: "where it stands", built: true},
	{name: "from", about: "where such files are found today", built: true, shape: boundTexts},
	{name: "takes", about: "what belongs on it", built: true, shape: entries, below: takeKeys},
	{name: "must", about: "files that each instance must have", built: true, shape: textEntries, below: mustKeys},
	{name: "door", about: "the one file that may be imported from outside", built: true},
	{name: "apart", about: "instances may not use one another", built: true, shape: textEntries, below: apartKeys},
	{name: "uses", about: "the shelves it may use", built: true, shape: manyTexts},
	{name: "inside", about: "shelves within", built: true, shape: shelfMap},
	{name: "beside", about: "companions", built: true, shape: fields, below: besideKeys},
	{name: "libraries", about: "the packages it may use", built: true, shape: fields, below: libraryKeys},
	{name: "closed", about: "true: what no shelf inside takes is homeless", built: true},
	{name: "order", about: "the instances in an order: a later one may use an earlier one", built: true,
		shape: manyTexts},
	{name: "partner", about: "what each file has on another shelf", built: true, shape: entries, below: partnerKeys},
	{name: "listed", about: "the list of a settings file in which each instance stands", built: true, shape: fields,
		below: listedKeys},
	{name: "whole", about: "folders that are one thing: <part>/; false for none", built: true, shape: manyTexts},
	{name: "widen", about: "needed: what others would not see any more may be seen as far as they need", built: true},
	{name: "laid_out_as", about: "each instance has the shelves declared below that folder", built: true},
	{name: "names", about: "how its files and folders are named", built: true, shape: fields, below: namesKeys},
	{name: "also_at", about: "places that are still tolerated", built: true, shape: textEntries, below: alsoAtKeys},
	{name: "package", about: "each instance is a package with a manifest: its name, or true", built: true, shape: anything,
		below: packageKeys},
}

var takeKeys = []key{
	{name: "name", about: "the file's name", built: true},
	{name: "pool", about: "the pool that it is of", built: true},
	{name: "needed_by", about: "who needs it: one of X, many of X, none", built: true},
	{name: "declares", about: "what it declares at its top level", built: true, shape: anything},
	{name: "extends", about: "what one of its declarations is built on", built: true, shape: manyTexts},
	{name: "marked", about: "what decorates one of its declarations", built: true, shape: manyTexts},
	{name: "imports", about: "a shelf or package that it uses", built: true, shape: manyTexts},
}

var (
	poolKeys = []key{{name: "in", about: "where its files lie", built: true, shape: manyTexts},
		{name: "counts", about: "users that count and usually do not: tests, stories, indexes", built: true,
			shape: manyTexts}}
	mustKeys = []key{{name: "file", about: "the file, below the instance", built: true, shape: anything},
		{name: "write", about: "what is written where it is missing: reexports, empty, or a file of the project",
			built: true}}
	alsoAtKeys = []key{
		{name: "place", about: "the folder", built: true}, {name: "until", about: "the last day", built: true},
		{name: "because", about: "the reason", built: true},
	}
	namesKeys = []key{
		{name: "files", about: "the case of a file's name up to its first dot", built: true},
		{name: "folders", about: "the case of the folders below", built: true},
		{name: "like", about: "what a file's name looks like", built: true, shape: manyTexts},
		{name: "declares", about: "same: a file is named after what it declares", built: true, shape: anything},
	}
)

func keyNames(keys []key) []string {
	var names []string
	for _, k := range keys {
		if k.built {
			names = append(names, k.name)
		}
	}
	return names
}
