"""Builds the wheel of the project in this folder, unpacks it where nothing else is, and prints the files that it has, what it says that it
starts, and how importing each of its modules ends. That is the same wherever the sources stand."""
import os
import shutil
import subprocess
import sys
import tempfile
import zipfile

IMPORT = """
import importlib, sys, warnings
warnings.simplefilter("ignore")
for name in sys.argv[1:]:
    try:
        module = importlib.import_module(name)
        print(name, "imported")
    except BaseException as e:
        print(name, type(e).__name__, str(e).splitlines()[:1])
"""

folder = tempfile.mkdtemp()
copy = os.path.join(folder, "sources") # what builders leave behind is no part of the project
shutil.copytree(".", copy, ignore=shutil.ignore_patterns(".crooked", "build", "*.egg-info"))
subprocess.run([sys.executable, "-m", "pip", "wheel", "--quiet", "--disable-pip-version-check", "--no-deps", "--no-build-isolation", "--wheel-dir", folder, "."],
               cwd=copy, check=True, stdout=sys.stderr, env=os.environ | {"SETUPTOOLS_SCM_PRETEND_VERSION": "1.0"})
wheel = zipfile.ZipFile(next(os.path.join(folder, f) for f in os.listdir(folder) if f.endswith(".whl")))
names = sorted(wheel.namelist())
installed = os.path.join(folder, "installed")
wheel.extractall(installed)
modules = []
for name in names:
    if ".dist-info/" not in name:
        print(name, wheel.getinfo(name).CRC)
        stem = name.removesuffix(".py").removesuffix("/__init__")
        if name.endswith(".py") and not stem.endswith("__main__") and "/tests" not in name and stem.replace("/", "").isidentifier():
            modules.append(stem.replace("/", "."))
    elif name.endswith(("entry_points.txt", "top_level.txt")):
        print(wheel.read(name).decode())
ended = subprocess.run([sys.executable, "-c", IMPORT, *modules], cwd=installed, env=os.environ | {"PYTHONPATH": installed}, capture_output=True, text=True, check=True)
print(ended.stdout)
if " imported" not in ended.stdout:
    sys.exit("no module can be imported: " + ended.stdout + ended.stderr)
shutil.rmtree(folder)
