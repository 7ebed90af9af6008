"""Reads a project's documents with their builder, and prints how many there are and what it warns of, without the folders. The arguments
are the folders in which they may lie; the first that is there is read."""
import os
import re
import subprocess
import sys
import tempfile

folder = next(a for a in sys.argv[1:] if os.path.isdir(a))
with tempfile.TemporaryDirectory() as out:
    run = subprocess.run(
        [sys.executable, "-m", "sphinx", "-E", "-C", "-b", "dummy", "-D", "extensions=sphinx.ext.autodoc", "-D", "root_doc=index", folder, out],
        capture_output=True, text=True, env=dict(os.environ, PYTHONPATH=os.path.abspath("src") + os.pathsep + os.getcwd(), LC_ALL="C.UTF-8"))
if run.returncode:
    sys.exit(run.stderr)
print(re.search(r"(\d+) source files", run.stdout).group(0))
for line in sorted(re.sub(r"^\S*/", "", re.sub(r":\d+:", ":", line)) for line in run.stderr.splitlines() if "WARNING" in line or "ERROR" in line):
    print(line)
