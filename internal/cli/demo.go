package cli

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"crookedshelf/demo"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

func newDemo(a *app) *cobra.Command {
	var whole bool
	cmd := &cobra.Command{
		Use:   "demo [DIR]",
		Short: "Unpack the demo project and run the whole story on it",
		Long: `demo unpacks eleven projects of Hilltop Observatory, where people book nights at a telescope: the web
client as it grew, into DIR or a new temporary folder; and into folders beside it whose names end in
-desk, -service, -rota, -visits, -schedule, -gateway, -guides, -dome, -display and -nights the desk, which
is to grow, the booking service in Python, the night rota in Go, the visitors' desk in PHP, the schedule
service in Java, the instrument gateway in C#, the guides' desk in Ruby, the dome's control in Rust, the
public display in Dart, and the booking of nights in Rust, which becomes a workspace. It runs the commands on them, says what each shows, and leaves all as they
were, for you to try things on. Of what a command writes it shows the beginning.`,
		Example: `  crooked demo
  crooked demo --whole                         all that the commands write
  crooked demo hilltop && cd hilltop && crooked check`,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 1 {
				return flagError{errors.New("demo takes one folder at the most")}
			}
			return nil
		},
		RunE: func(_ *cobra.Command, args []string) error {
			folder := ""
			if len(args) == 1 {
				folder = filepath.Clean(args[0])
			}
			folder, err := unpack(demo.Hilltop(), folder)
			if err != nil {
				return err
			}
			stories := []story{clientStory(folder)}
			for _, beside := range []struct {
				end   string
				files fs.FS
				tell  func(folder string) story
			}{
				{"-desk", demo.Desk(), deskStory}, {"-service", demo.Service(), serviceStory},
				{"-rota", demo.Rota(), rotaStory}, {"-visits", demo.Visits(), visitsStory},
				{"-schedule", demo.Schedule(), scheduleStory}, {"-gateway", demo.Gateway(), gatewayStory},
				{"-guides", demo.Guides(), guidesStory}, {"-dome", demo.Dome(), domeStory},
				{"-display", demo.Display(), displayStory}, {"-nights", demo.Nights(), nightsStory},
			} {
				other, err := unpack(beside.files, folder+beside.end)
				if err != nil {
					return err
				}
				stories = append(stories, beside.tell(other))
			}
			most := linesOfScene
			if whole {
				most = math.MaxInt
			}
			sum := telling{}
			for _, s := range stories {
				if err := a.tell(s, most, &sum); err != nil {
					return err
				}
			}
			_, err = fmt.Fprintf(
				a.Out,
				`That was the story: %d commands on %d projects, in %.1f s. %s moved to where they belong, every import and path
that names them followed, each plan was proved before a byte changed, and undo gave every byte back.

The projects are in %s and beside it in folders that end in
-desk, -service, -rota, -visits, -schedule, -gateway, -guides, -dome, -display and -nights, as they were. Try: cd %s && crooked straighten
`,
				sum.commands,
				len(stories),
				sum.took.Seconds(),
				report.Count(sum.moved, "file"),
				folder,
				folder,
			)
			return err
		},
	}
	cmd.Flags().BoolVar(&whole, "whole", false, "show all that the commands write")
	return cmd
}

// linesOfScene is how many lines are shown of what a command writes, where not all is asked for.
const linesOfScene = 6

// telling counts what a story shows.
type telling struct {
	commands, moved int
	took            time.Duration
}

// count adds the files that the last straighten of a project moved.
func (t *telling) count(folder string) error {
	records, err := engine.Straightens(folder)
	if err != nil || len(records) == 0 {
		return err
	}
	for _, f := range records[len(records)-1].Files {
		if f.From != "" && f.To != "" && f.From != f.To {
			t.moved++
		}
	}
	return nil
}

// beginning passes on the first lines of what is written, and counts the others.
type beginning struct {
	io.Writer
	most, lines, left int
}

func (b *beginning) Write(p []byte) (int, error) {
	for line := range bytes.Lines(p) {
		if b.lines >= b.most {
			b.left++
			continue
		}
		if line[len(line)-1] == '\n' {
			b.lines++
		}
		if _, err := b.Writer.Write(line); err != nil {
			return 0, err
		}
	}
	return len(p), nil
}

// unpack writes a project into an empty folder; without a name, into a new one.
func unpack(files fs.FS, folder string) (string, error) {
	if folder == "" {
		made, err := os.MkdirTemp("", "hilltop-")
		if err != nil {
			return "", err
		}
		folder = made
	}
	if entries, err := os.ReadDir(folder); err == nil && len(entries) > 0 {
		return "", flagError{fmt.Errorf("the folder %s is not empty; the demo needs one of its own", folder)}
	}
	err := fs.WalkDir(files, ".", func(p string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		target := filepath.Join(folder, filepath.FromSlash(p))
		if d.IsDir() {
			return os.MkdirAll(target, 0o755)
		}
		content, err := fs.ReadFile(files, p)
		if err != nil {
			return err
		}
		return os.WriteFile(target, content, 0o644)
	})
	return folder, err
}

// story is what is said of one project.
type story struct {
	folder string
	scenes []scene
	made   []string // files that the commands write and that go at the end
}

// scene is one command of a story, with what is said before it and the exit code that belongs to it.
type scene struct {
	say  string
	args []string
	code int
}

// clientStory straightens the web client, accepts what a person must decide, and goes back.
func clientStory(folder string) story {
	accepted := filepath.Join(folder, "accepted.txt")
	return story{folder: folder, made: []string{accepted}, scenes: []scene{
		{"First a tour of the project as it is, with no regard to what was agreed.", []string{"survey", "--depth", "1"},
			exitDone},
		{"The client grew for three years. The team has agreed on shelves and written them into crooked.yaml.\n" +
			"What lies in the wrong place?", []string{"check"}, exitCrooked},
		{
			"The shelves as a tree, and who uses whom. map -o map.html draws a page to look around in.",
			[]string{"map"},
			exitDone,
		},
		{"Why does one of them belong there, and what hangs on it?", []string{"why", "src/components/SkyPanel.tsx"},
			exitDone},
		{"What would have to move, and what must be rewritten for it? Nothing is changed yet.",
			[]string{"plan", "--rename"}, exitDone},
		{"Carry it out.", []string{"straighten", "--rename", "--yes", "--dirty"}, exitDone},
		{"What is left is for people to decide.", []string{"check"}, exitCrooked},
		{"Until they have, it is written down, so that only what is new counts.",
			[]string{"check", "--quiet", "--write-baseline", accepted}, exitCrooked},
		{"", []string{"check", "--baseline", accepted}, exitDone},
		{"And back, every byte.", []string{"undo"}, exitDone},
	}}
}

// deskStory grows the desk from one room by feature to modules.
func deskStory(folder string) story {
	feature, module := filepath.Join(folder, "by-feature.yaml"), filepath.Join(folder, "by-module.yaml")
	return story{folder: folder, made: []string{filepath.Join(folder, "crooked.yaml"), feature, module},
		scenes: []scene{
			{"The desk is small and has no convention. What starters are there?", []string{"adopt"}, exitDone},
			{"It already is one room.", []string{"adopt", "one-room"}, exitDone},
			{"", []string{"check"}, exitDone},
			{"The team grows: what one page alone needs shall stand with its feature.",
				[]string{"adopt", "by-feature", "--to", feature}, exitDone},
			{"", []string{"check", "--convention", feature}, exitCrooked},
			{"", []string{"straighten", "--yes", "--dirty", "--convention", feature}, exitDone},
			{"And grows again: every module with the same structure inside, and one front door.",
				[]string{"adopt", "by-module", "--to", module}, exitDone},
			{"", []string{"plan", "--convention", module}, exitDone},
			{"", []string{"straighten", "--yes", "--dirty", "--convention", module}, exitDone},
			{"", []string{"check", "--convention", module}, exitDone},
			{"And back to one room, step by step.", []string{"undo"}, exitDone},
			{"", []string{"undo"}, exitDone},
		}}
}

// serviceStory moves the applications of a service, whose settings name its modules by dots.
func serviceStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The booking service is written in Python. Its applications shall stand in a folder of their own.",
			[]string{"check"}, exitCrooked},
		{"Who names the one file that says what the application is called?", []string{"why", "bookings/apps.py"},
			exitDone},
		{"", []string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"One thing is left, and it is no matter of places.", []string{"check"}, exitCrooked},
		{"", []string{"undo"}, exitDone},
	}}
}

// rotaStory takes one package of a service apart into layers.
func rotaStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The night rota is written in Go, and is one package. It shall have layers, each a package of its own.",
			[]string{"check"}, exitCrooked},
		{"Its files use one another's names without a word. Which names need a package in front then?",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"check"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// visitsStory puts what the world may see behind one door.
func visitsStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The visitors' desk is written in PHP. All of it lies where a browser may ask for it: the pages shall stand " +
			"behind\none door, and the classes get folders, which their namespaces follow.", []string{"check"}, exitCrooked},
		{"Pages include by where they run, classes are neighbours without a use, and a web server is told its root.",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"check"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// scheduleStory takes a service in layers apart by what it is about.
func scheduleStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The schedule service is written in Java, in layers. A change to bookings touched four packages: now each thing " +
			"shall\nhave one of its own.", []string{"check"}, exitCrooked},
		{"Neighbours need imports then and others lose them, and a list of services is called as an interface that moves.",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"check"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// gatewayStory puts the projects of a solution into groups.
func gatewayStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The instrument gateway is a solution of six projects in C#, side by side. They shall stand in groups, and the " +
			"project\nof a mount that was taken down shall go.", []string{"check"}, exitCrooked},
		{"The solution, references between projects, the image and what a generator names follow; a namespace is split off.",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"check"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// guidesStory puts what belongs together into namespaces.
func guidesStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The guides' desk in Ruby began with all services in one folder and all controllers in another. Now what belongs\n" +
			"together shall stand together. Nothing is imported there: a file's path is its constant's name.", []string{"check"}, exitCrooked},
		{"Constants are wrapped in their new modules, and each use follows; so do routes, templates and keys of texts.",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// domeStory puts modules by what they are about.
func domeStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The dome's control in Rust grew in one folder. A file is a module there because another says so: the lines that say so\n" +
			"go to new parents, no further seen than before; uses, paths, links and macros follow.", []string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// displayStory puts what is shown together.
func displayStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The public display in Dart knows its libraries by two kinds of address, and neither may become the other.",
			[]string{"plan"}, exitDone},
		{"", []string{"straighten", "--yes", "--dirty"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// nightsStory puts what is shown together.
func nightsStory(folder string) story {
	return story{folder: folder, scenes: []scene{
		{"The booking of nights is one package, and parts of it are wanted elsewhere. Each becomes a package of its own: its\n" +
			"manifest asks for what its files use, what others need becomes public, features and the lock file follow.",
			[]string{"plan"}, exitDone},
		{"From the bottom up; after each step all is whole.", []string{"straighten", "--yes", "--dirty", "--steps"}, exitDone},
		{"", []string{"undo"}, exitDone},
	}}
}

// tell runs the commands of a story one after the other, as a user would type them, and shows the first lines of what
// each writes.
func (a *app) tell(story story, most int, sum *telling) error {
	for _, s := range story.scenes {
		if s.say != "" {
			fmt.Fprintf(a.Out, "%s\n\n", s.say)
		}
		shown := strings.ReplaceAll(strings.Join(s.args, " "), story.folder+string(filepath.Separator), "")
		fmt.Fprintf(a.Out, "$ crooked %s\n\n", shown)
		args := append(s.args, "--root", story.folder)
		if a.noColor {
			args = append(args, "--no-color")
		}
		shows, begun := &beginning{Writer: a.Out, most: most}, time.Now()
		streams := a.Streams
		streams.Out = shows
		if code := Run(args, streams); code != s.code {
			return fmt.Errorf("crooked %s ended with exit code %d in %s", s.args[0], code, story.folder)
		}
		sum.took += time.Since(begun)
		sum.commands++
		if s.args[0] == "straighten" {
			if err := sum.count(story.folder); err != nil {
				return err
			}
		}
		if shows.left > 0 {
			fmt.Fprintf(a.Out, "… and %s\n", report.Count(shows.left, "more line"))
		}
		fmt.Fprintln(a.Out)
	}
	for _, file := range story.made {
		if err := os.Remove(file); err != nil {
			return err
		}
	}
	return nil
}
