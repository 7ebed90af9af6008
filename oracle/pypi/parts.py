"""Builds the wheels of the project in this folder and of all distributions below it, and unpacks them into one folder where nothing else
is. There it runs the project's tests and prints how each ended, and it reads what each wheel asks for: by the imports of its files, as
the language's own parser has them, and by the modules that the installed distributions say they have, nothing may be missing and nothing too
much. The argument is the folder of the tests."""
import ast
import importlib.metadata
import os
import re
import shutil
import subprocess
import sys
import tempfile
import zipfile

work = tempfile.mkdtemp()
copy = os.path.join(work, "sources")
shutil.copytree(".", copy, ignore=shutil.ignore_patterns(".crooked", "build", "*.egg-info"))
folders = [d for d, _, files in os.walk(copy) if "pyproject.toml" in files and "/tests" not in d]
for folder in folders:
    subprocess.run([sys.executable, "-m", "pip", "wheel", "--quiet", "--disable-pip-version-check", "--no-deps", "--no-build-isolation", "--wheel-dir", work, "."],
                   cwd=folder, check=True, stdout=sys.stderr)


def normal(name):
    return re.sub(r"[-_.]+", "-", name).lower()


installed = os.path.join(work, "installed")
own, asked, imported = {}, {}, {}
for name in sorted(os.listdir(work)):
    if not name.endswith(".whl"):
        continue
    wheel = zipfile.ZipFile(os.path.join(work, name))
    wheel.extractall(installed)
    metadata = next(n for n in wheel.namelist() if n.endswith(".dist-info/METADATA"))
    lines = wheel.read(metadata).decode().splitlines()
    distribution = normal(next(line[6:] for line in lines if line.startswith("Name: ")))
    asked[distribution] = {normal(re.match(r"[\w.-]+", line[15:])[0]) for line in lines if line.startswith("Requires-Dist: ") and "extra ==" not in line}
    imported[distribution] = set()
    for file in wheel.namelist():
        if not file.endswith(".py"):
            continue
        own[file.split("/")[0]] = distribution
        for node in ast.walk(ast.parse(wheel.read(file))):
            if isinstance(node, ast.Import):
                imported[distribution] |= {alias.name.split(".")[0] for alias in node.names}
            elif isinstance(node, ast.ImportFrom) and node.level == 0:
                imported[distribution].add(node.module.split(".")[0])

holders = importlib.metadata.packages_distributions()
faults = []
for distribution, modules in imported.items():
    needs = set()
    for module in modules - sys.stdlib_module_names:
        found = {own[module]} if module in own else {normal(d) for d in holders.get(module, [])}
        if not found & (asked[distribution] | {distribution}):
            faults.append(f"{distribution} imports {module} and does not ask for it")
        needs |= found
    if len(asked) > 1 and distribution != min(asked, key=len): # the one that was there before may have what its tests need
        faults += [f"{distribution} asks for {name} and imports nothing of it" for name in asked[distribution] - needs]
if faults:
    sys.exit("\n".join(faults))
print(sum(len(a) for a in asked.values()), "requirements of", len(asked), "distributions", file=sys.stderr)

shutil.copytree(sys.argv[1], os.path.join(work, sys.argv[1]))
ended = subprocess.run([sys.executable, os.path.join(os.environ["TOOLS"], "suite.py"), sys.argv[1]], cwd=work, env=os.environ | {"PYTHONPATH": installed}, capture_output=True, text=True)
print(ended.stdout)
if ended.returncode:
    sys.exit(ended.stdout[-2000:] + ended.stderr[-2000:])
shutil.rmtree(work)
