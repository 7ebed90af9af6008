// Package cli is the command line: Cobra commands, flags, prompts and exit codes. It computes nothing; internal/engine
// does. Each command is a constructor in a file of its own, and streams come from outside.
package cli

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/signal"
	"path/filepath"
	"slices"
	"strings"
	"syscall"

	"github.com/mattn/go-isatty"
	"github.com/spf13/cobra"
	"golang.org/x/term"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/report"
	"crookedshelf/internal/rootfs"
	"crookedshelf/internal/show"
)

// The exit codes.
const (
	exitDone       = 0
	exitCrooked    = 1 // something is crooked, or a move is blocked
	exitUsage      = 2 // the command line or the convention is wrong
	exitFailed     = 3 // it could not be done; nothing is left half done
	exitUnreported = 4 // it was done, and the output could not be written
)

// Streams are where a run reads and writes.
type Streams struct {
	In       io.Reader
	Out, Err io.Writer
	Terminal bool // In and Out are a person's terminal
	Watched  bool // Err is a person's terminal
	Color    bool
	Width    int // of the terminal in cells; 0 where there is none
}

// SystemStreams are those of the process.
func SystemStreams() Streams {
	out := isatty.IsTerminal(os.Stdout.Fd())
	width := 0
	if out {
		width, _, _ = term.GetSize(int(os.Stdout.Fd())) // 0 if it can't say
	}
	return Streams{
		In: os.Stdin, Out: os.Stdout, Err: os.Stderr, Terminal: out && isatty.IsTerminal(os.Stdin.Fd()),
		Watched: isatty.IsTerminal(os.Stderr.Fd()),
		Color:   out && os.Getenv("NO_COLOR") == "" && os.Getenv("TERM") != "dumb",
		Width:   width,
	}
}

// app is what the commands share.
type app struct {
	Streams
	root       string
	convention string
	format     string
	noColor    bool
	quiet      bool
	all        bool          // long groups are written whole on a terminal too
	answers    *bufio.Reader // what a person answers
	changed    bool          // the project or a file that the user named was written
}

// output is where a command writes. It remembers that it could not.
type output struct {
	io.Writer
	failed error
}

func (o *output) Write(p []byte) (int, error) {
	n, err := o.Writer.Write(p)
	if err != nil && o.failed == nil {
		o.failed = err
	}
	return n, err
}

// crookedError ends a run with exit code 1; what is crooked has been reported.
type crookedError struct{}

func (crookedError) Error() string { return "crooked" }

// Run runs one command line and gives the exit code.
func Run(args []string, streams Streams) int {
	out := &output{Writer: streams.Out}
	streams.Out = out
	a := &app{Streams: streams}
	root := newRoot(a)
	root.SetArgs(args)
	err := root.Execute()
	code := exitCode(err)
	var crooked crookedError
	if err != nil && !errors.As(err, &crooked) && !errors.Is(err, out.failed) {
		fmt.Fprintf(streams.Err, "crooked: %s\n", show.Text(err.Error()))
	}
	if out.failed == nil {
		return code
	}
	if a.changed {
		fmt.Fprintf(streams.Err, "crooked: it was done, and what was done could not be written out: %s\n",
			show.Text(out.failed.Error()))
		return exitUnreported
	}
	fmt.Fprintf(streams.Err, "crooked: the output can't be written: %s\n", show.Text(out.failed.Error()))
	return exitFailed
}

func exitCode(err error) int {
	var crooked crookedError
	var usage *engine.UsageError
	var flags flagError
	switch {
	case err == nil:
		return exitDone
	case errors.As(err, &crooked):
		return exitCrooked
	case errors.As(err, &usage) || errors.As(err, &flags):
		return exitUsage
	}
	return exitFailed
}

// moreFormats annotates a command with the formats that it writes beside text and json.
const moreFormats = "formats"

// flagError is an error in the command line.
type flagError struct{ error }

// New makes the command with all below it.
func New(streams Streams) *cobra.Command { return newRoot(&app{Streams: streams}) }

func newRoot(a *app) *cobra.Command {
	streams := a.Streams
	root := &cobra.Command{
		Use:   "crooked",
		Short: "Check where a project's files stand against a convention, and move them",
		Long: `crooked compares a project's folders with the layout that its team agreed on, written down in
crooked.yaml. It reports which files stand elsewhere, and moves them while every import and path
that names them is rewritten.

Exit codes: 0 all straight, or done; 1 something is crooked, or a move is blocked; 2 the command
line or the convention is wrong; 3 it could not be done, and nothing is left half done; 4 it was
done, and could not be reported.`,
		Example: `  crooked demo             the whole story on the demo project, Hilltop Observatory
  crooked survey           a tour of this project as it is
  crooked move FROM TO     move a file now, with all that refers to it
  crooked check            what lies in the wrong place
  crooked why FILE         why a file belongs where it belongs
  crooked plan             the moves, and every rewrite that they cause
  crooked straighten       carry the plan out
  crooked map -o map.html  a page to look around in
  crooked undo             give the old tree back`,
		SilenceErrors: true, SilenceUsage: true,
		Args: func(cmd *cobra.Command, args []string) error {
			if len(args) > 0 {
				return noCommand(cmd, args[0])
			}
			return nil
		},
		RunE:                       func(cmd *cobra.Command, _ []string) error { return a.lookAround(cmd) },
		SuggestionsMinimumDistance: 2,
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error {
			sparing(cmd)
			if cmd.Annotations[garbage] != "" {
				watchMemory(a.Err)
			}
			formats := append([]string{"text", "json"}, strings.Fields(cmd.Annotations[moreFormats])...)
			if !slices.Contains(formats, a.format) {
				last := len(formats) - 1
				return flagError{fmt.Errorf("--format is %s or %s, not %q", strings.Join(formats[:last], ", "),
					formats[last], a.format)}
			}
			return nil
		},
	}
	root.SetOut(streams.Out)
	root.SetErr(streams.Err)
	root.SetIn(streams.In)
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return flagError{err} })
	flags := root.PersistentFlags()
	flags.StringVar(&a.root, "root", "",
		"the project's folder (default: the nearest folder upward with a crooked.yaml)")
	flags.StringVar(&a.convention, "convention", "", "the convention to go by (default: crooked.yaml in the root)")
	flags.StringVar(&a.format, "format", "text", "text or json; check also writes lines, sarif and quality")
	flags.BoolVar(&a.noColor, "no-color", false, "write without colours; so does the variable NO_COLOR")
	flags.BoolVarP(&a.quiet, "quiet", "q", false, "write only what is wrong")
	flags.BoolVar(&a.all, "all", false, "write each file on a line of its own, also on a terminal")
	_ = root.RegisterFlagCompletionFunc(
		"format",
		cobra.FixedCompletions([]string{"text", "json", "lines", "sarif", "quality"},
			cobra.ShellCompDirectiveNoFileComp),
	)
	root.AddCommand(
		newSurvey(a),
		newCheck(a),
		newPlan(a),
		newStraighten(a),
		newUndo(a),
		newWhy(a),
		newMove(a),
		newRemove(a),
		newBegin(a),
		newExplain(a),
		newAdopt(a),
		newDemo(a),
		newMap(a),
		newMan(a),
		newVersion(a),
	)
	refuseUnknown(root)
	return root
}

// refuseUnknown makes the commands that the library adds refuse what they do not know.
func refuseUnknown(root *cobra.Command) {
	root.InitDefaultHelpCmd()
	root.InitDefaultCompletionCmd()
	for _, cmd := range root.Commands() {
		switch cmd.Name() {
		case "help":
			cmd.Run = nil
			cmd.RunE = func(_ *cobra.Command, args []string) error {
				of, rest, err := root.Find(args)
				if err != nil || len(rest) > 0 {
					return noCommand(root, strings.Join(args, " "))
				}
				return of.Help()
			}
		case "completion":
			cmd.Args = cobra.ArbitraryArgs
			cmd.RunE = func(cmd *cobra.Command, args []string) error {
				if len(args) > 0 {
					return flagError{fmt.Errorf("there is no completion for %q; crooked completion --help lists the "+
						"shells", args[0])}
				}
				return cmd.Help()
			}
		}
	}
}

// noCommand says that there is no command of a name, and which may be meant.
func noCommand(root *cobra.Command, name string) error {
	meant := root.SuggestionsFor(name)
	if len(meant) == 0 {
		return flagError{fmt.Errorf("there is no command %q; crooked --help lists them", name)}
	}
	return flagError{fmt.Errorf("there is no command %q; did you mean %s? crooked --help lists them", name,
		strings.Join(meant, " or "))}
}

// oneOf refuses flags of which at most one may be given.
func oneOf(cmd *cobra.Command, names ...string) error {
	given := slices.DeleteFunc(names, func(name string) bool { return !cmd.Flags().Changed(name) })
	if len(given) > 1 {
		return flagError{fmt.Errorf("--%s do not go together: give one of them", strings.Join(given, " and --"))}
	}
	return nil
}

// noArgs is cobra.NoArgs with our exit code.
func noArgs(cmd *cobra.Command, args []string) error {
	if len(args) > 0 {
		if info, err := os.Stat(args[0]); err == nil && info.IsDir() {
			return flagError{fmt.Errorf("%s takes no argument; the project's folder is named by --root: %s --root %s",
				cmd.CommandPath(), cmd.CommandPath(), args[0])}
		}
		return flagError{fmt.Errorf("%s takes no argument, and got %q", cmd.CommandPath(), args[0])}
	}
	return nil
}

func (a *app) style() report.Style {
	return report.Style{Color: a.Color && !a.noColor, Quiet: a.quiet, Short: a.Terminal, Whole: a.all,
		Width: a.Width}
}

// folder is the project's root: --root, or the nearest folder upward that holds a convention, or this one.
func (a *app) folder() (string, error) {
	if a.root != "" {
		return a.root, nil
	}
	here, err := os.Getwd()
	if err != nil {
		return "", err
	}
	for dir := here; ; dir = filepath.Dir(dir) {
		if _, err := os.Lstat(filepath.Join(dir, convention.FileName)); err == nil {
			return dir, nil
		}
		if filepath.Dir(dir) == dir {
			return here, nil
		}
	}
}

// open opens the project.
func (a *app) open() (*engine.Project, error) {
	folder, err := a.folder()
	if err != nil {
		return nil, err
	}
	return engine.Open(folder, a.convention)
}

// openBare opens a project that may have no convention.
func (a *app) openBare() (*engine.Project, error) {
	folder, err := a.projectFolder()
	if err != nil {
		return nil, err
	}
	return engine.OpenBare(folder, a.convention)
}

// steady lets a command that writes to the project go on when nobody reads its output any more: it is not ended in the
// middle by the pipe's signal, and finds the error when it writes.
func steady() { signal.Notify(make(chan os.Signal, 1), syscall.SIGPIPE) }

// readNamed reads a file that the user named.
func readNamed(p string) ([]byte, error) { return rootfs.ReadOwn(p, largestNamed) }

// largestNamed is the most bytes that are read of a plan or a baseline.
const largestNamed = 1 << 30

// writeNamed writes a file that the user named. A link in its place may have come with the project, and would lead
// elsewhere.
func writeNamed(p string, text []byte) error {
	if info, err := os.Lstat(p); err == nil && info.Mode()&fs.ModeSymlink != 0 && !strings.HasPrefix(p, "/dev/") {
		return fmt.Errorf("%q is a link, and links are not followed: remove it first, or name another file", p)
	}
	return os.WriteFile(p, text, 0o666)
}

// nothingToUndo says whether an error is that of an empty journal.
func nothingToUndo(err error) bool { return errors.Is(err, journal.ErrNothing) }
