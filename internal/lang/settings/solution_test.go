package settings

import (
	"crookedshelf/internal/lang"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/source"
)

const solutionBefore = `
# Made up
Project("{K1}") = "Old", "old\old.csproj", "{11}"
EndProject
Project("{K1}") = "Dome", "dome\Dome.csproj", "{22}"
	ProjectSection(ProjectDependencies) = postProject
		{11} = {11}
	EndProjectSection
EndProject
Project("{2150e333-8fdc-42a3-9474-1a3956d46de8}") = "src", "src", "{44}"
EndProject
Project("{K2}") = "Site", "site\site.webproj", "{33}"
	ProjectSection(ProjectDependencies) = postProject
		{22} = {22}
	EndProjectSection
EndProject
Global
	GlobalSection(ProjectConfigurationPlatforms) = postSolution
		{11}.Debug.ActiveCfg = Debug
		{22}.Debug.ActiveCfg = Debug
		{22}.Debug.Build.0 = Debug
		{33}.Debug.ActiveCfg = Debug
	EndGlobalSection
	GlobalSection(NestedProjects) = preSolution
		{22} = {44}
	EndGlobalSection
EndGlobal
`

const solutionAfter = `
# Made up
Project("{K1}") = "Dome", "dome\Dome.csproj", "{22}"
	ProjectSection(ProjectDependencies) = postProject
	EndProjectSection
EndProject
Project("{K1}") = "Sky", "sky\Sky.csproj", "{NEW}"
EndProject
Project("{2150e333-8fdc-42a3-9474-1a3956d46de8}") = "src", "src", "{44}"
EndProject
Project("{K2}") = "Site", "site\site.webproj", "{33}"
	ProjectSection(ProjectDependencies) = postProject
		{22} = {22}
	EndProjectSection
EndProject
Global
	GlobalSection(ProjectConfigurationPlatforms) = postSolution
		{22}.Debug.ActiveCfg = Debug
		{22}.Debug.Build.0 = Debug
		{NEW}.Debug.ActiveCfg = Debug
		{NEW}.Debug.Build.0 = Debug
		{33}.Debug.ActiveCfg = Debug
	EndGlobalSection
	GlobalSection(NestedProjects) = preSolution
		{22} = {44}
		{NEW} = {44}
	EndGlobalSection
EndGlobal
`

func TestSolution(t *testing.T) {
	t.Parallel()
	for _, newline := range []string{"\n", "\r\n"} {
		with := func(s string) string { return strings.ReplaceAll(s, "\n", newline) }
		src := []byte(with(solutionBefore))
		edits, err := EditList("all.sln", src, []string{"projects"}, []string{"sky/Sky.csproj"}, []string{"old/old.csproj"})
		require.NoError(t, err)
		got, err := source.Apply(src, edits)
		require.NoError(t, err)
		want := strings.ReplaceAll(solutionAfter, "NEW", lang.GUID("sky/Sky.csproj"))
		assert.Equal(t, with(want), string(got))
	}
	assert.Regexp(t, "^[0-9A-F]{8}-[0-9A-F]{4}-5[0-9A-F]{3}-[89AB][0-9A-F]{3}-[0-9A-F]{12}$", lang.GUID(`sky\Sky.csproj`))
}

func TestSolutionsThatCantBeEdited(t *testing.T) {
	t.Parallel()
	open := `Project("{K}") = "A", "a.csproj", "{1}"` + "\n"
	for name, c := range map[string]struct{ src, add, drop, says string }{
		"no project":        {"", "new.csproj", "", "no entry that a new one could be like"},
		"of another ending": {open + "EndProject\n", "new.fsproj", "", "no entry that a new one could be like"},
		"the model goes":    {open + "EndProject\n", "new.csproj", "a.csproj", "no entry that a new one could be like"},
		"no end":            {open, "", "a.csproj", "has no EndProject"},
		"its GUID is taken": {open + "EndProject\n# " + lang.GUID("new.csproj"), "new.csproj", "", "the same GUID"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := EditList("all.sln", []byte(c.src), []string{"projects"}, strings.Fields(c.add), strings.Fields(c.drop))
			assert.ErrorContains(t, err, c.says)
		})
	}
}
