"""Tells where imports lead, by the finders of importlib, without running anything. Reads lines of JSON, each [root, file, module,
name], where name is empty for an import of the module itself, and writes for each the path of the file below the root, the path of a
folder with a slash for a package that is a folder alone, or an empty text for what is not found below the root."""
import functools
import json
import os
import pkgutil
import sys


def around(file):
    """The folder around the outermost package that a file is in."""
    folder = os.path.dirname(file)
    while os.path.exists(os.path.join(folder, "__init__.py")):
        folder = os.path.dirname(folder)
    return folder


@functools.lru_cache(maxsize=None)
def find(starts, module):
    """Where a module is: its own place, and where its submodules are looked for."""
    parent, _, _ = module.rpartition(".")
    where = list(starts)
    if parent:
        _, where = find(starts, parent)
        if where is None:
            return "", None
    portions = []  # of a package that is folders alone
    for entry in where:
        spec = pkgutil.get_importer(entry).find_spec(module)
        if spec is not None and spec.loader is not None:
            return spec.origin, spec.submodule_search_locations
        if spec is not None:
            portions += spec.submodule_search_locations
    return (portions[0] + "/", portions) if portions else ("", None)


def package_of(root, file):
    """The folder from which a file's package has its name, and the parts of that name."""
    for start in (root, around(file)):
        relative = os.path.relpath(os.path.dirname(file), start)
        parts = [] if relative == "." else relative.split("/")
        if all(part.isidentifier() for part in parts):
            return start, parts
    return root, []


for line in sys.stdin:
    root, file, module, name = json.loads(line)
    starts = (root, around(file))
    level = len(module) - len(module.lstrip("."))
    if level:
        start, package = package_of(root, file)
        starts = (start,)
        if level > len(package):
            print()
            continue
        module = ".".join(filter(None, package[: len(package) - level + 1] + [module.lstrip(".")]))
    place, below = find(starts, module)
    if name and below is not None:
        place = find(starts, module + "." + name)[0] or place
    print(os.path.relpath(place, root) + "/" * place.endswith("/") if place.startswith(root + "/") else "")
