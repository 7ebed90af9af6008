package rootfs

import "time"

// ReadRegular reads a file by a path of the system: a regular file of at most limit bytes, and no link. A pipe or a
// device in its place is an error and is not waited for.
func ReadRegular(p string, limit int64) ([]byte, error) {
	content, _, err := readOutside(p, limit, false)
	return content, err
}

// ReadRegularAt is ReadRegular that gives the file's time as well.
func ReadRegularAt(p string, limit int64) ([]byte, time.Time, error) {
	return readOutside(p, limit, false)
}

// ReadOwn is ReadRegular for a file of the user's own, such as one in the home folder, which may be reached by links.
func ReadOwn(p string, limit int64) ([]byte, error) {
	content, _, err := readOutside(p, limit, true)
	return content, err
}

func readOutside(p string, limit int64, follow bool) ([]byte, time.Time, error) {
	file, err := openOutside(p, follow)
	if err != nil {
		return nil, time.Time{}, err
	}
	defer file.Close()
	info, err := file.Stat()
	if err != nil {
		return nil, time.Time{}, err
	}
	content, err := readOpen(file, nil, p, limit)
	return content, info.ModTime(), err
}
