//go:build linux

package cli_test

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"crookedshelf/internal/project/projecttest"
)

// A project that is a folder of its repository is committed where it stands, also where the same paths stand at the
// top.
func TestCommitsBelowTheTop(t *testing.T) {
	t.Parallel()
	for _, how := range [][]string{{}, {"--steps"}} {
		files := projecttest.Files(twoSteps)
		text := "-- src/utils/dates.ts --\nexport const top = 1\n-- src/tools/other.ts --\n"
		for name, data := range files {
			text += "-- deep/app/" + name + " --\n" + data
		}
		dir := repository(t, text)
		app := filepath.Join(dir, "deep", "app")
		done := run(t, app, append([]string{"straighten", "--commit", "--yes"}, how...)...)
		require.Equal(t, 0, done.code, done.err)
		assert.Empty(t, output(t, dir, "status", "--short"))
		require.NoError(t, os.RemoveAll(filepath.Join(app, ".crooked")))
		clone := t.TempDir()
		git(t, clone, "clone", "-q", dir, ".")
		assert.Equal(t, tree(t, dir), tree(t, clone), "what was committed is what is there")
		assert.Equal(t, "export const top = 1\n", output(t, dir, "show", "HEAD:src/utils/dates.ts"))
		assert.NotContains(t, output(t, dir, "ls-files"), "\nsrc/tools/dates.ts")
		assert.Contains(t, output(t, dir, "ls-files"), "deep/app/src/tools/dates.ts")
	}
}

// A hook that changes what is committed, or files of the work tree, is found out: what it changed is kept, all else is
// as it was.
func TestHooksThatChangeThings(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		hook string
		said []string
	}{
		"a commit of the renames with another content": {`test -e src/parts/Card.ts && echo "// formatted" >> src/parts/Card.ts && git add src/parts/Card.ts; exit 0`,
			[]string{"the commit of the renames has something else than the renames", "src/parts/Card.ts"}},
		"a file that is edited before the hook fails": {`echo "// edited by the hook" >> src/parts/Card.ts; exit 1`,
			[]string{"what was changed meanwhile was kept",
				"src/parts/Card.ts was changed after the move; it was left there"}},
		"a file that is edited behind the commit of the rewrites": {`git diff --cached --quiet --diff-filter=M || echo "// later" >> src/parts/Card.ts; exit 0`,
			[]string{"the commit of the rewrites has not what stands in the work tree"}},
	} {
		dir := repository(t, twoSteps)
		head := output(t, dir, "rev-parse", "HEAD")
		hook := filepath.Join(dir, ".git", "hooks", "pre-commit")
		require.NoError(t, os.MkdirAll(filepath.Dir(hook), 0o755))
		require.NoError(t, os.WriteFile(hook, []byte("#!/bin/sh\n"+c.hook+"\n"), 0o755))
		old := tree(t, dir)
		done := run(t, dir, "straighten", "--commit", "--yes")
		assert.Equal(t, 3, done.code, name)
		for _, said := range c.said {
			assert.Contains(t, done.err, said, name)
		}
		assert.NotContains(t, done.err, "all is as it was", name)
		assert.Equal(t, head, output(t, dir, "rev-parse", "HEAD"), "%s: the branch is where it was", name)
		assert.Empty(t, output(t, dir, "diff", "--cached", "--name-only"), "%s: and the index", name)
		now := tree(t, dir)
		for p, content := range old {
			assert.Equal(t, content, now[p], "%s: %s", name, p)
		}
		require.NoError(t, os.Remove(hook))
	}
}

// programs are the settings of git that name a program, with a value that shows whether it was started.
func programs(mark string) map[string]string {
	shell := "touch " + mark + "; false"
	out := map[string]string{"extensions.partialClone": "origin", "remote.origin.url": "ssh://observer@127.0.0.1/x"}
	for _, setting := range strings.Fields(`core.fsmonitor core.pager core.editor core.sshCommand core.gitProxy core.askPass
		core.alternateRefsCommand diff.external diff.x.command diff.x.textconv difftool.x.cmd
		difftool.x.path diff.tool merge.x.driver mergetool.x.cmd mergetool.x.path merge.tool filter.x.clean
		filter.x.smudge filter.x.process credential.helper credential.https://127.0.0.1.helper gpg.program
		gpg.openpgp.program gpg.x509.program gpg.ssh.program gpg.ssh.defaultKeyCommand sequence.editor
		pager.diff-index pager.rev-parse pager.log interactive.diffFilter browser.x.cmd browser.x.path
		man.x.cmd man.x.path help.browser web.browser instaweb.httpd instaweb.browser guitool.x.cmd
		sendemail.smtpServer sendemail.sendmailCmd sendemail.toCmd sendemail.ccCmd sendemail.headerCmd
		imap.tunnel remote.origin.uploadpack remote.origin.receivepack remote.origin.vcs
		uploadpack.packObjectsHook gc.recentObjectsHook trailer.x.command trailer.x.cmd tar.x.command
		hook.x.command core.preloadIndexCommand`) {
		out[setting] = shell
	}
	for _, alias := range []string{"diff-index", "rev-parse", "fetch", "config", "status"} {
		out["alias."+alias] = "!" + shell
	}
	out["submodule.x.update"] = "!" + shell
	out["hook.x.event"] = "pre-commit"
	return out
}

// promising makes a repository that says that it is a partial clone, lacks an object, and whose hooks are programs.
func promising(t *testing.T, mark string) string {
	t.Helper()
	dir := repository(t, twoSteps+"-- .gitattributes --\n* filter=x diff=x merge=x\n")
	lost := strings.TrimSpace(output(t, dir, "rev-parse", "HEAD^{tree}"))
	git(t, dir, "config", "core.repositoryformatversion", "1")
	git(t, dir, "config", "extensions.partialClone", "origin")
	git(t, dir, "config", "remote.origin.promisor", "true")
	require.NoError(t, os.MkdirAll(filepath.Join(dir, ".git/hooks"), 0o755))
	for _, hook := range strings.Fields("fsmonitor-watchman post-index-change reference-transaction pre-commit " +
		"post-checkout proc-receive pre-auto-gc sendemail-validate") {
		require.NoError(t, os.WriteFile(filepath.Join(dir, ".git/hooks", hook), []byte("#!/bin/sh\ntouch "+mark+"\n"),
			0o755))
	}
	require.NoError(t, os.Remove(filepath.Join(dir, ".git/objects", lost[:2], lost[2:])))
	return dir
}

// askingCommands are the commands that ask git, and some that read its files.
var askingCommands = [][]string{
	{"check", "--since", "HEAD"}, {"straighten", "--yes"}, {"straighten", "--yes", "--steps"}, {"check"}, {"survey"},
	{"plan"}, {"why", "src/utils/dates.ts"}, {"undo", "--list"}, {"undo"}, {"undo", "--verify"},
}

// No setting of a repository makes a command start a program, but those that the user named: one setting after the
// other, with every way of fetching what a partial clone lacks, and all of them under the eyes of strace.
func TestNoSettingOfGitStartsAProgram(t *testing.T) {
	t.Parallel()
	mark := filepath.Join(t.TempDir(), "ran")
	settings := programs(mark)
	addresses := []string{"ext::sh -c touch% " + mark, "git://127.0.0.1/x", "https://127.0.0.1:1/x", "evil::x",
		"file:///nowhere"}
	for i, address := range addresses {
		settings[fmt.Sprintf("url.%s.insteadOf", address)] = fmt.Sprintf("ssh://way%d/", i)
	}
	dir := promising(t, mark)
	config := filepath.Join(dir, ".git/config")
	plain, err := os.ReadFile(config)
	require.NoError(t, err)
	runs := 0
	commands := askingCommands
	if os.Getenv("CI") == "" {
		commands = commands[:2] // those that start git; CI tries all
	}
	try := func(name string) {
		for _, command := range commands {
			runWith(t, dir, []string{"SSH_ASKPASS=" + mark}, command...)
			runs++
			require.NoFileExists(t, mark, "%s by %v", name, command)
		}
	}
	for setting, value := range settings {
		require.NoError(t, os.WriteFile(config, plain, 0o644))
		git(t, dir, "config", setting, value)
		if !strings.HasPrefix(setting, "remote.origin.url") {
			for i, address := range addresses {
				if setting == fmt.Sprintf("url.%s.insteadOf", address) {
					git(t, dir, "config", "remote.origin.url", fmt.Sprintf("ssh://way%d/", i))
				}
			}
		}
		try(setting)
	}
	require.NoError(t, os.WriteFile(config, plain, 0o644))
	for setting, value := range settings {
		if setting != "remote.origin.vcs" {
			git(t, dir, "config", setting, value)
		}
	}
	try("all settings")
	t.Logf("%d settings, %d runs", len(settings), runs)

	strace, err := exec.LookPath("strace")
	if err != nil {
		require.Empty(t, os.Getenv("CI"), "strace is not installed")
		t.Skip("strace is not installed: what is started is seen by its mark alone")
	}
	gitPath, err := exec.LookPath("git")
	require.NoError(t, err)
	for _, command := range askingCommands {
		log := filepath.Join(t.TempDir(), "trace")
		cmd := exec.Command(strace, append([]string{"-f", "-qq", "-s", "4096", "-e", "trace=" + traced, "-y", "-o", log,
			program}, command...)...)
		cmd.Dir = dir
		_ = cmd.Run()
		harmless(t, log, dir, gitPath)
		require.NoFileExists(t, mark, command)
	}
}

// Variables of the environment do not choose another repository, nor settings.
func TestTheEnvironmentChoosesNoRepository(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	other := repository(t, "-- a.ts --\n")
	mark := filepath.Join(t.TempDir(), "ran")
	for _, env := range [][]string{
		{"GIT_DIR=" + filepath.Join(other, ".git")}, {"GIT_DIR=" + filepath.Join(other, ".git"), "GIT_WORK_TREE=" +
			other}, {"GIT_INDEX_FILE=" + filepath.Join(other, ".git/index")},
		{"GIT_OBJECT_DIRECTORY=" + other}, {"GIT_CONFIG_COUNT=1", "GIT_CONFIG_KEY_0=core.fsmonitor",
			"GIT_CONFIG_VALUE_0=touch " + mark}, {"GIT_CEILING_DIRECTORIES=" + dir},
		{"GIT_EXTERNAL_DIFF=touch " + mark}, {"GIT_PAGER=touch " + mark}, {"GIT_SSH_COMMAND=touch " + mark},
		{"GIT_COMMON_DIR=" + filepath.Join(other, ".git")}, {"GIT_NAMESPACE=x"},
	} {
		assert.Equal(t, 0, runWith(t, dir, env, "check", "--since", "HEAD").code, env)
		done := runWith(t, dir, env, "straighten", "--yes", "--commit")
		require.Equal(t, 0, done.code, "%v: %s", env, done.err)
		assert.Empty(t, output(t, dir, "status", "--short"), env)
		git(t, dir, "reset", "-q", "--hard", "HEAD~2")
		require.NoError(t, os.RemoveAll(filepath.Join(dir, ".crooked")))
		assert.NoFileExists(t, mark, env)
		assert.Equal(t, "first\n", output(t, other, "log", "--format=%s"), env)
	}
}

// A git that can't be asked is said to be so. It is no reason to go on without it.
func TestGitThatCannotBeAsked(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	old := tree(t, dir)
	without := runWith(t, dir, []string{"PATH=/nowhere"}, "straighten", "--yes")
	assert.Equal(t, 3, without.code)
	assert.Contains(t, without.err, "git is not installed")
	if os.Geteuid() == 0 {
		require.NoError(t, exec.Command("chown", "-R", "65534:65534", dir).Run())
		doubtful := run(t, dir, "straighten", "--yes")
		assert.Equal(t, 3, doubtful.code)
		assert.Contains(t, doubtful.err, "git refuses to read this repository, since it belongs to another user")
		assert.NotContains(t, doubtful.err, "have uncommitted changes")
		assert.NotContains(t, doubtful.err, "--dirty")
		require.NoError(t, exec.Command("chown", "-R", "0:0", dir).Run())
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, ".git/index"), []byte("DIRC and no more"), 0o644))
	for _, command := range [][]string{{"straighten", "--yes"}, {"check", "--since", "HEAD"}} {
		damaged := run(t, dir, command...)
		assert.Equal(t, 3, damaged.code, command)
		assert.Contains(t, damaged.err, "git's view of the project can't be read: its index can't be read", command)
		assert.NotContains(t, damaged.err, "have uncommitted changes")
	}
	assert.Contains(t, run(t, dir, "check").out, "git's view of the project can't be read: its index can't be read")
	assert.Equal(t, old, tree(t, dir))
}

// A file whose size and time were set back after its content changed has changed.
func TestSameSizeAndTimeIsNotTheSameContent(t *testing.T) {
	t.Parallel()
	dir := repository(t, twoSteps)
	file := filepath.Join(dir, "src/utils/dates.ts")
	info, err := os.Stat(file)
	require.NoError(t, err)
	content, err := os.ReadFile(file)
	require.NoError(t, err)
	past := info.ModTime().AddDate(-1, 0, 0)
	require.NoError(t, os.Chtimes(file, past, past))
	git(t, dir, "update-index", "--refresh", "-q")
	content[0] ^= 1
	require.NoError(t, os.WriteFile(file, content, 0o644))
	require.NoError(t, os.Chtimes(file, past, past))
	refused := run(t, dir, "straighten", "--yes")
	assert.Equal(t, 3, refused.code)
	assert.Contains(t, refused.err, "1 file to be touched has uncommitted changes")
}
