"""Reads Python files, one name a line from the standard input, with the language's own parser, and writes for each a line of JSON:
the imports with their places in bytes, or why there are none."""
import ast
import json
import sys
import tokenize
import warnings

warnings.simplefilter("ignore")


def starts(source):
    """The byte offset of each line, as the parser counts lines."""
    out, at = [0], 0
    for line in source.replace(b"\r\n", b"\n\0").replace(b"\r", b"\n").split(b"\n")[:-1]:
        at += len(line) + 1
        out.append(at)
    return out


def read(name):
    with open(name, "rb") as f:
        source = f.read()
    if b"\r" in source or b"\x0c" in source:
        lines = None  # places are not compared
    else:
        lines = starts(source)
    with open(name, "rb") as f:
        encoding, _ = tokenize.detect_encoding(f.readline)
    if encoding not in ("utf-8", "utf-8-sig"):
        return {"skip": "encoding"}
    bom = 3 if encoding == "utf-8-sig" else 0
    try:
        tree = ast.parse(source, name)
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        return {"skip": "syntax"}

    def place(node):
        if lines is None:
            return -1
        return lines[node.lineno - 1] + node.col_offset + (bom if node.lineno == 1 else 0)

    out = []
    for node in ast.walk(tree):
        if isinstance(node, ast.Import):
            for a in node.names:
                out.append([place(a), "module import", a.name, ""])
        elif isinstance(node, ast.ImportFrom):
            module = "." * node.level + (node.module or "")
            out.append([place(node), "from", module, ""])
            for a in node.names:
                if a.name != "*":
                    out.append([place(a), "from name", a.name, module])
        elif isinstance(node, ast.Call):
            f = node.func
            name = f.id if isinstance(f, ast.Name) else f.attr if isinstance(f, ast.Attribute) else ""
            dotted = isinstance(f, ast.Attribute)
            if name == "import_module" or name == "__import__" and not dotted:
                if node.args and isinstance(node.args[0], ast.Constant) and isinstance(node.args[0].value, str):
                    a = node.args[0]
                    out.append([place(a), "module call", a.value, ""])
    return {"imports": sorted(out)}


for line in sys.stdin:
    name = line.rstrip("\n")
    try:
        got = read(name)
    except Exception as e:  # a file that can't be read tells nothing
        got = {"skip": repr(e)}
    print(json.dumps(got))
