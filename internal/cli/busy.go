package cli

import (
	"fmt"
	"sync"
	"time"

	"crookedshelf/internal/engine"
	"crookedshelf/internal/report"
)

// How long a command may be silent, and how often it then says how far it is.
const (
	silence = time.Second
	rate    = 100 * time.Millisecond
)

// busy shows a person on a terminal how far a long command is, on one line that goes away with the function that it
// gives. Without a project it has no files to count. Elsewhere, and for what is done within a second, it shows nothing.
func (a *app) busy(what string, p *engine.Project) (done func()) {
	if !a.Watched || a.quiet {
		return func() {}
	}
	stop, ended := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(ended)
		started := time.Now()
		select {
		case <-stop:
			return
		case <-time.After(silence):
		}
		tick := time.NewTicker(rate)
		defer tick.Stop()
		for {
			read, files, slow := 0, 0, ""
			if p != nil {
				read, files = p.Progress()
				if file, since := p.Tree.Slow(); since > silence {
					slow = report.Clean(file)
				}
			}
			fmt.Fprintf(a.Err, "\r\x1b[K%s", progress(what, read, files, slow, time.Since(started)))
			select {
			case <-stop:
				fmt.Fprint(a.Err, "\r\x1b[K")
				return
			case <-tick.C:
			}
		}
	}()
	return sync.OnceFunc(func() {
		close(stop)
		<-ended
	})
}

// progress is the line: files are read first, and what follows is counted by time alone. slow is a file that takes
// long; empty for none.
func progress(what string, read, files int, slow string, since time.Duration) string {
	seconds := since.Truncate(time.Second)
	if files == 0 {
		return fmt.Sprintf("%s, %s", what, seconds)
	}
	if slow != "" {
		return fmt.Sprintf("%s: %d of %s read, still at %s, %s", what, read, report.Count(files, "file"), slow, seconds)
	}
	if read < files {
		return fmt.Sprintf("%s: %d of %s read, %s", what, read, report.Count(files, "file"), seconds)
	}
	return fmt.Sprintf("%s: %s read, working it out, %s", what, report.Count(files, "file"), seconds)
}
