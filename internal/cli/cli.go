// Package cli is the command line: Cobra commands, flags, prompts and exit codes. It computes nothing; internal/engine
// does. Each command is a constructor in a file of its own, and streams come from outside.
package cli

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/mattn/go-isatty"
	"github.com/spf13/cobra"

	"crookedshelf/internal/convention"
	"crookedshelf/internal/engine"
	"crookedshelf/internal/journal"
	"crookedshelf/internal/report"
)

// The exit codes.
const (
	exitDone    = 0
	exitCrooked = 1 // something is crooked, or a move is blocked
	exitUsage   = 2 // the command line or the convention is wrong
	exitFailed  = 3 // it could not be done; nothing is left half done
)

// Streams are where a run reads and writes.
type Streams struct {
	In       io.Reader
	Out, Err io.Writer
	Terminal bool // In and Out are a person's terminal
	Watched  bool // Err is a person's terminal
	Color    bool
}

// SystemStreams are those of the process.
func SystemStreams() Streams {
	out := isatty.IsTerminal(os.Stdout.Fd())
	return Streams{
		In: os.Stdin, Out: os.Stdout, Err: os.Stderr, Terminal: out && isatty.IsTerminal(os.Stdin.Fd()), Watched: isatty.IsTerminal(os.Stderr.Fd()),
		Color: out && os.Getenv("NO_COLOR") == "" && os.Getenv("TERM") != "dumb",
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
	answers    *bufio.Reader // what a person answers
}

// crookedError ends a run with exit code 1; what is crooked has been told.
type crookedError struct{}

func (crookedError) Error() string { return "crooked" }

// Run runs one command line and gives the exit code.
func Run(args []string, streams Streams) int {
	root := New(streams)
	root.SetArgs(args)
	err := root.Execute()
	var crooked crookedError
	var usage *engine.UsageError
	var flags flagError
	switch {
	case err == nil:
		return exitDone
	case errors.As(err, &crooked):
		return exitCrooked
	}
	fmt.Fprintf(streams.Err, "crooked: %s\n", err)
	if errors.As(err, &usage) || errors.As(err, &flags) {
		return exitUsage
	}
	return exitFailed
}

// moreFormats annotates a command with the formats that it writes beside text and json.
const moreFormats = "formats"

// flagError is an error in the command line.
type flagError struct{ error }

// New makes the command with all below it.
func New(streams Streams) *cobra.Command {
	a := &app{Streams: streams}
	root := &cobra.Command{
		Use:   "crooked",
		Short: "Check where a project's files stand against a convention, and move them",
		Long: `crooked holds a project's folders against the layout that its team agreed on, written down in crooked.yaml.
It tells which files stand elsewhere, and moves them while every import and path that names them is rewritten.

Exit codes: 0 all straight, or done; 1 something is crooked, or a move is blocked; 2 the command line or the
convention is wrong; 3 it could not be done, and nothing is left half done.`,
		Example: `  crooked demo             the whole story on the demo project, Hilltop Observatory
  crooked survey           a tour of this project as it is
  crooked check            what stands crooked in it
  crooked why FILE         why a file belongs where it belongs
  crooked plan             the moves, and every rewrite that they cause
  crooked straighten       carry the plan out
  crooked undo             give the old tree back`,
		SilenceErrors: true, SilenceUsage: true,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 0 {
				return flagError{fmt.Errorf("there is no command %q; crooked --help lists them", args[0])}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, _ []string) error { return cmd.Help() },
		PersistentPreRunE: func(cmd *cobra.Command, _ []string) error {
			sparing(cmd)
			formats := append([]string{"text", "json"}, strings.Fields(cmd.Annotations[moreFormats])...)
			if !slices.Contains(formats, a.format) {
				last := len(formats) - 1
				return flagError{fmt.Errorf("--format is %s or %s, not %q", strings.Join(formats[:last], ", "), formats[last], a.format)}
			}
			return nil
		},
	}
	root.SetOut(streams.Out)
	root.SetErr(streams.Err)
	root.SetIn(streams.In)
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return flagError{err} })
	flags := root.PersistentFlags()
	flags.StringVar(&a.root, "root", "", "the project's folder (default: the nearest folder upward with a crooked.yaml)")
	flags.StringVar(&a.convention, "convention", "", "the convention to go by (default: crooked.yaml in the root)")
	flags.StringVar(&a.format, "format", "text", "text or json; check also writes lines and sarif")
	flags.BoolVar(&a.noColor, "no-color", false, "write without colours; so does the variable NO_COLOR")
	flags.BoolVarP(&a.quiet, "quiet", "q", false, "write only what is wrong")
	_ = root.RegisterFlagCompletionFunc("format", cobra.FixedCompletions([]string{"text", "json", "lines", "sarif"}, cobra.ShellCompDirectiveNoFileComp))
	root.AddCommand(newSurvey(a), newCheck(a), newPlan(a), newStraighten(a), newUndo(a), newWhy(a), newExplain(a), newAdopt(a), newDemo(a), newVersion(a))
	return root
}

// noArgs is cobra.NoArgs with our exit code.
func noArgs(cmd *cobra.Command, args []string) error {
	if len(args) > 0 {
		return flagError{fmt.Errorf("%s takes no argument, and got %q", cmd.CommandPath(), args[0])}
	}
	return nil
}

func (a *app) style() report.Style { return report.Style{Color: a.Color && !a.noColor, Quiet: a.quiet} }

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
		if _, err := os.Stat(filepath.Join(dir, convention.FileName)); err == nil {
			return dir, nil
		}
		if filepath.Dir(dir) == dir {
			return here, nil
		}
	}
}

// open opens the project, unless a straighten was stopped half way in it.
func (a *app) open() (*engine.Project, error) {
	folder, err := a.folder()
	if err != nil {
		return nil, err
	}
	p, err := engine.Open(folder, a.convention)
	if err != nil {
		return nil, err
	}
	if err := engine.CheckPending(p.Root); err != nil {
		p.Close()
		return nil, err
	}
	return p, nil
}

// pendingOrNothing turns an empty journal into a plain message.
func nothingToUndo(err error) bool { return errors.Is(err, journal.ErrNothing) }
