package picture

import (
	_ "embed"
	"encoding/json"
	"io"
	"text/template"

	"crookedshelf/internal/engine"
)

// The parts of the page. page.js is made of main.js and what that imports: npm ci && npm run build, in page/.
var (
	//go:embed page/page.html
	pageHTML string
	//go:embed page/page.css
	pageStyle string
	//go:embed page/page.js
	pageScript string
)

var page = template.Must(template.New("page").Parse(pageHTML))

// Page draws a project as one page of HTML that needs no network: its tree now and then, with a search, filters and the
// details of each file. now shows the tree as it is first.
func Page(out io.Writer, m *engine.Map, now bool) error {
	data, err := json.Marshal(struct { // which writes < and > as escapes, so that no text of the project ends the script
		*engine.Map
		Purposes map[string]string `json:"purposes"`
		Now      bool              `json:"now"`
	}{m, m.Purposes(), now})
	if err != nil {
		return err
	}
	return page.Execute(out, map[string]string{"Title": escaped(m.Title), "Style": pageStyle, "Data": string(data),
		"Script": pageScript})
}
