package engine

import (
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"strings"

	"crookedshelf/internal/rootfs"
)

// The key by which a user's records of the journal are told apart from those that came with a project is one file in
// the folder of the user's settings. It never leaves the machine, and nothing of it is in a project.
const keyLength = 32 // bytes

func keyPath() (string, error) {
	folder, err := os.UserConfigDir()
	if err != nil {
		return "", fmt.Errorf("%w: there is no folder of settings (%w)", fs.ErrNotExist, err)
	}
	return filepath.Join(folder, "crooked", "journal-key"), nil
}

// readKey reads the key; the error is fs.ErrNotExist where there is none yet.
func readKey() ([]byte, error) {
	p, err := keyPath()
	if err != nil {
		return nil, err
	}
	text, err := rootfs.ReadRegular(p, 1<<10)
	if err != nil {
		return nil, fmt.Errorf("the journal's key can't be read: %w", err)
	}
	info, err := rootfs.LookAt(p)
	if err == nil && runtime.GOOS != "windows" && (info.Permissions()&0o077 != 0 || info.UID != os.Geteuid()) {
		return nil,
			fmt.Errorf("the journal's key %q can be read by others, or is not yours: delete it, and a new one is made",
				p)
	}
	key, err := hex.DecodeString(strings.TrimSpace(string(text)))
	if err != nil || len(key) != keyLength {
		return nil, fmt.Errorf("the journal's key %q is damaged: delete it, and a new one is made", p)
	}
	return key, nil
}

// usedKey is the key by which records are known; nil where there is none.
func usedKey() ([]byte, error) {
	key, err := readKey()
	if errors.Is(err, fs.ErrNotExist) || errors.Is(err, fs.ErrPermission) {
		return nil, nil
	}
	return key, err
}

// makeKey reads the key, and makes it where there is none. Where none can be kept there is none: problem says why.
func makeKey() (key []byte, problem, err error) {
	key, err = readKey()
	switch {
	case errors.Is(err, fs.ErrPermission):
		return nil, err, nil
	case !errors.Is(err, fs.ErrNotExist):
		return key, nil, err
	}
	if problem := newKey(); problem != nil {
		return nil, problem, nil
	}
	key, err = readKey() // another process may have been first
	return key, nil, err
}

// newKey makes a key, unless there is one.
func newKey() error {
	p, err := keyPath()
	if err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(p), 0o700); err != nil {
		return err
	}
	temporary, err := os.CreateTemp(filepath.Dir(p), "key-*") // for this user alone
	if err != nil {
		return err
	}
	defer os.Remove(temporary.Name())
	key := make([]byte, keyLength)
	_, _ = rand.Read(key) // it never fails
	_, err = fmt.Fprintln(temporary, hex.EncodeToString(key))
	if err = errors.Join(err, temporary.Sync(), temporary.Close()); err != nil {
		return err
	}
	if err := os.Link(temporary.Name(), p); err != nil && !errors.Is(err, fs.ErrExist) {
		return err
	}
	return nil
}

// KeyProblem says why the records of this user can't be told apart from others; empty if they can.
func KeyProblem() string {
	_, problem, err := makeKey()
	if problem == nil || err != nil {
		return ""
	}
	return fmt.Sprintf("no key for the journal can be kept (%s), so crooked undo will not know it for yours and will "+
		"need --trust", problem)
}
