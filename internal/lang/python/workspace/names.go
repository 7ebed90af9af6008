package workspace

import (
	"regexp"
	"slices"
	"strings"

	"crookedshelf/internal/lang"
)

// This file says which distribution a module is of. Their names differ, and only an installed distribution says which
// modules it has. So a name counts that is alike, and those that are known.

// covers says whether a distribution has a module, by their names, and how far: the longer the name that fits, the
// surer.
func covers(distribution, module string) (fits int) {
	name := normal(distribution)
	own, known := modules[name]
	for _, one := range strings.Fields(own) {
		if module == one || strings.HasPrefix(module, one+".") {
			fits = max(fits, len(one))
		}
	}
	if known {
		return fits
	}
	// the name itself, with dots where it has hyphens (google-cloud-storage), or without the language's
	parts := strings.Split(module, ".")
	for n := len(parts); n > 0; n-- {
		path := strings.Join(parts[:n], ".")
		if alike(name, normal(path)) {
			return len(path)
		}
	}
	return 0
}

func alike(distribution, module string) bool {
	if distribution == module {
		return true
	}
	for _, rest := range []string{strings.TrimPrefix(distribution, "python-"), strings.TrimSuffix(distribution, "-python"),
		strings.TrimPrefix(distribution, "py"), strings.TrimSuffix(distribution, "-py"), strings.TrimPrefix(distribution,
			"django-")} {
		if rest != distribution && rest == module {
			return true
		}
	}
	return false
}

var runs = regexp.MustCompile(`[-_.]+`)

// normal is the name of a distribution in its normal form (packaging.python.org, name normalization).
func normal(name string) string { return strings.ToLower(runs.ReplaceAllString(name, "-")) }

// ofPlatform says whether a module is of the language's own library.
func ofPlatform(module string) bool {
	top, _, _ := strings.Cut(module, ".")
	return platform[top] || strings.HasPrefix(top, "_") && platform[strings.TrimLeft(top, "_")] ||
		slices.Contains([]string{"__future__", "__main__"}, top)
}

// platform are the modules of the language's own library (sys.stdlib_module_names), with those that it has had.
var platform = lang.Words(`
	abc aifc annotationlib antigravity argparse array ast asynchat asyncio asyncore atexit audioop base64 bdb
	binascii binhex bisect builtins bz2 cProfile calendar cgi cgitb chunk cmath cmd code codecs codeop collections
	colorsys compileall compression concurrent configparser contextlib contextvars copy copyreg crypt csv ctypes
	curses dataclasses datetime dbm decimal difflib dis distutils doctest email encodings ensurepip enum errno
	faulthandler fcntl filecmp fileinput fnmatch formatter fractions ftplib functools gc genericpath getopt
	getpass gettext glob graphlib grp gzip hashlib heapq hmac html http idlelib imaplib imghdr imp importlib
	inspect io ipaddress itertools json keyword lib2to3 linecache locale logging lzma mailbox mailcap marshal math
	mimetypes mmap modulefinder msilib msvcrt multiprocessing netrc nis nntplib nt ntpath nturl2path numbers
	opcode operator optparse os ossaudiodev parser pathlib pdb pickle pickletools pipes pkgutil platform plistlib
	poplib posix posixpath pprint profile pstats pty pwd py_compile pyclbr pydoc pydoc_data pyexpat queue quopri
	random re readline reprlib resource rlcompleter runpy sched secrets select selectors shelve shlex shutil
	signal site smtpd smtplib sndhdr socket socketserver spwd sqlite3 sre_compile sre_constants sre_parse ssl stat
	statistics string stringprep struct subprocess sunau symbol symtable sys sysconfig syslog tabnanny tarfile
	telnetlib tempfile termios textwrap this threading time timeit tkinter token tokenize tomllib trace traceback
	tracemalloc tty turtle turtledemo types typing unicodedata unittest urllib uu uuid venv warnings wave weakref
	webbrowser winreg winsound wsgiref xdrlib xml xmlrpc zipapp zipfile zipimport zlib zoneinfo`)

// modules are those of distributions that bear other names, by normal names.
var modules = map[string]string{
	"adafruit-blinka": "board busio digitalio", "antlr4-python3-runtime": "antlr4", "argon2-cffi": "argon2",
	"attrs": "attr attrs", "backports-zoneinfo": "backports.zoneinfo", "beautifulsoup4": "bs4",
	"biopython": "Bio", "discord-py": "discord", "django-allauth": "allauth",
	"django-cors-headers": "corsheaders", "django-crispy-forms": "crispy_forms", "django-debug-toolbar": "debug_toolbar",
	"django-environ": "environ", "django-filter": "django_filters", "django-guardian": "guardian",
	"django-mptt": "mptt", "django-storages": "storages", "django-taggit": "taggit",
	"djangorestframework": "rest_framework", "djangorestframework-simplejwt": "rest_framework_simplejwt",
	"dnspython":   "dns",
	"elastic-apm": "elasticapm", "factory-boy": "factory", "faiss-cpu": "faiss",
	"faiss-gpu": "faiss", "gdal": "osgeo gdal", "gitpython": "git",
	"google-api-core": "google.api_core", "google-api-python-client": "googleapiclient apiclient",
	"google-auth":              "google.auth google.oauth2",
	"googleapis-common-protos": "google.api google.rpc google.type", "grpcio": "grpc", "grpcio-status": "grpc_status",
	"grpcio-tools": "grpc_tools", "hydra-core": "hydra", "ipython": "IPython",
	"kafka-python": "kafka", "markdown-it-py": "markdown_it", "matplotlib": "matplotlib mpl_toolkits pylab",
	"msgpack-python": "msgpack", "mysqlclient": "MySQLdb", "netcdf4": "netCDF4",
	"opencv-contrib-python": "cv2", "opencv-python": "cv2", "opencv-python-headless": "cv2",
	"opensearch-py": "opensearchpy", "paho-mqtt": "paho", "pastedeploy": "paste.deploy",
	"pdfminer-six": "pdfminer", "pillow": "PIL", "plotly": "plotly _plotly_utils",
	"protobuf": "google.protobuf", "psycopg-binary": "psycopg", "psycopg2-binary": "psycopg2",
	"pycryptodome": "Crypto", "pycryptodomex": "Cryptodome", "pygithub": "github",
	"pygobject": "gi", "pyhamcrest": "hamcrest", "pyinstaller": "PyInstaller",
	"pyjwt": "jwt", "pymongo": "pymongo bson gridfs", "pyopenssl": "OpenSSL",
	"pyqt5": "PyQt5", "pyqt6": "PyQt6", "pyserial": "serial",
	"pyside6": "PySide6 shiboken6", "pysocks": "socks", "pytest": "pytest _pytest",
	"python-consul": "consul", "python-crontab": "crontab", "python-dateutil": "dateutil",
	"python-docx": "docx", "python-dotenv": "dotenv", "python-gitlab": "gitlab",
	"python-jose": "jose", "python-json-logger": "pythonjsonlogger", "python-ldap": "ldap",
	"python-levenshtein": "Levenshtein", "python-magic": "magic", "python-multipart": "multipart python_multipart",
	"python-pptx": "pptx", "python-slugify": "slugify", "python-telegram-bot": "telegram",
	"pyusb": "usb", "pywin32": "win32api win32con win32gui pythoncom pywintypes win32com", "pyyaml": "yaml",
	"pyzmq": "zmq", "rpi-gpio": "RPi", "ruamel-yaml": "ruamel.yaml",
	"scikit-image": "skimage", "scikit-learn": "sklearn", "setuptools": "setuptools pkg_resources",
	"slack-sdk": "slack_sdk slack", "slackclient": "slack", "tensorflow-cpu": "tensorflow",
	"torch": "torch functorch", "umap-learn": "umap", "websocket-client": "websocket",
	"wxpython": "wx", "zope-interface": "zope.interface",
}
