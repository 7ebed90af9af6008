package cli

import (
	"bytes"
	"fmt"
	"os/exec"
	"runtime"
	"strings"

	"crookedshelf/internal/report"
)

// lastLines is how much of a failed check's output is shown.
const lastLines = 20

// verify runs the commands that the user named or confirmed, in the project's folder. The error has the end of what the
// first that failed wrote.
func (s *stepper) verify(root string) error {
	for _, command := range s.opts.commands {
		shell, flag := "sh", "-c"
		if runtime.GOOS == "windows" {
			shell, flag = "cmd", "/c"
		}
		if !s.quiet && s.format != "json" {
			fmt.Fprintf(s.Out, "$ %s\n", report.Clean(command))
		}
		cmd := exec.Command(shell, flag, command)
		cmd.Dir = root
		out, err := cmd.CombinedOutput()
		if err != nil {
			return fmt.Errorf("the check %q failed (%w):\n%s", command, err, ending(out))
		}
	}
	return nil
}

// ending is the last lines of an output, fit for a terminal.
func ending(out []byte) string {
	lines := strings.Split(strings.TrimRight(string(bytes.ReplaceAll(out, []byte("\r\n"), []byte("\n"))), "\n"), "\n")
	var shown strings.Builder
	if len(lines) > lastLines {
		fmt.Fprintf(&shown, "  (%s before)\n", report.Count(len(lines)-lastLines, "line"))
		lines = lines[len(lines)-lastLines:]
	}
	for _, l := range lines {
		shown.WriteString("  " + report.Clean(l) + "\n")
	}
	return strings.TrimRight(shown.String(), "\n")
}
