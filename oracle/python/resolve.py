"""Tells where imports lead, by the finders of importlib and, for names that packages hold, by the language's parser; nothing is run. Reads lines of JSON, each [root, file, module,
name], where name is empty for an import of the module itself, and writes for each the path of the file below the root, the path of a
folder with a slash for a package that is a folder alone, or an empty text for what is not found below the root."""
import ast
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


def statements(body):
    """The statements that run when a module is loaded."""
    for node in body:
        if isinstance(node, ast.If) and ast.unparse(node.test) in ("TYPE_CHECKING", "typing.TYPE_CHECKING"):
            yield from statements(node.orelse)
            continue
        yield node
        for part in ("body", "orelse", "finalbody"):
            if not isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
                yield from statements(getattr(node, part, None) or [])
        for handler in getattr(node, "handlers", []):
            yield from statements(handler.body)


def targets(node):
    if isinstance(node, ast.Name):
        yield node.id
    for child in getattr(node, "elts", []):
        yield from targets(child)


@functools.lru_cache(maxsize=None)
def names(starts, module):
    """What a module gives values to, in the order of its statements: for each name None, or the module and the name that it is imported
    from; and what it lists as exported, if it does so plainly."""
    place, below = find(starts, module)
    out, exported = {}, None
    try:
        with open(place, "rb") as f:
            tree = ast.parse(f.read())
    except (OSError, SyntaxError, ValueError):
        return out, exported
    package = module.split(".") if below is not None else module.split(".")[:-1]
    for node in statements(tree.body):
        if isinstance(node, (ast.FunctionDef, ast.AsyncFunctionDef, ast.ClassDef)):
            out[node.name] = None
        elif isinstance(node, (ast.Assign, ast.AnnAssign, ast.AugAssign)):
            for target in node.targets if isinstance(node, ast.Assign) else [node.target]:
                for name in targets(target):
                    out[name] = None
                    if name == "__all__" and isinstance(node.value, (ast.List, ast.Tuple)):
                        exported = (exported or set()) | {e.value for e in node.value.elts if isinstance(e, ast.Constant)}
        elif isinstance(node, ast.Import):
            for alias in node.names:
                source, _, what = alias.name.rpartition(".")
                out[alias.asname or alias.name.split(".")[0]] = (source, what) if alias.asname else None
        elif isinstance(node, ast.ImportFrom):
            source = node.module or ""
            if node.level:
                source = ".".join(filter(None, package[: len(package) - node.level + 1] + [source]))
            if source.startswith(module + "."):
                out.setdefault(source[len(module) + 1 :].split(".")[0], (module, source[len(module) + 1 :].split(".")[0]))
            for alias in node.names:
                if alias.name != "*":
                    out[alias.asname or alias.name] = (source, alias.name)
                elif source != module:
                    theirs, listed = names(starts, source)
                    for name, origin in theirs.items():
                        if name in listed if listed is not None else not name.startswith("_"):
                            out[name] = origin or (source, name)
    return out, exported


def hides(starts, module, name):
    """Whether a package gives a name another value than its own module of that name."""
    held, _ = names(starts, module)
    if name not in held:
        return False
    if held[name] is None:
        return True
    source, what = held[name]
    return source + "." + what != module + "." + name


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
    if name and below is not None and (place == file or not hides(starts, module, name)):
        place = find(starts, module + "." + name)[0] or place
    print(os.path.relpath(place, root) + "/" * place.endswith("/") if place.startswith(root + "/") else "")
