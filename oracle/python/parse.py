"""Reads Python files, one name a line from the standard input, with the language's own parser, and writes for each a line of JSON:
the imports with their places in bytes, or why there are none."""
import ast
import json
import multiprocessing
import symtable
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
                out.append([place(a), "from name", a.name, module])
        elif isinstance(node, ast.Call):
            f = node.func
            name = f.id if isinstance(f, ast.Name) else f.attr if isinstance(f, ast.Attribute) else ""
            dotted = isinstance(f, ast.Attribute)
            if name == "import_module" or name == "__import__" and not dotted:
                if node.args and isinstance(node.args[0], ast.Constant) and isinstance(node.args[0].value, str):
                    a = node.args[0]
                    out.append([place(a), "module call", a.value, ""])
    return {"imports": sorted(out), "uses": uses(tree, source, name, place)}


def uses(tree, source, name, place):
    """Where the file uses what it imports: the name with what is taken from it by dots, by the language's own tables of scopes."""
    try:
        module = symtable.symtable(source, name, "exec")
    except (SyntaxError, ValueError, RecursionError):
        return None
    out = []
    brought = {(a.asname or a.name).split(".")[0] for n in ast.walk(tree) if isinstance(n, (ast.Import, ast.ImportFrom)) for a in n.names}

    class Visitor(ast.NodeVisitor):
        """Walks the tree with the tables beside it: the children of a table stand in the order of the source."""

        def __init__(self):
            self.tables = [module]
            self.next = {}
            self.known = {}

        def child(self, kinds):
            table = self.tables[-1]
            children = [c for c in table.get_children()]
            at = self.next.get(table.get_id(), 0)
            while at < len(children) and kind(children[at]) not in kinds:
                at += 1
            self.next[table.get_id()] = at + 1
            return children[at]

        def inside(self, table, visit):
            self.tables.append(table)
            visit()
            self.tables.pop()

        def imported(self, text):
            if text not in brought:
                return False
            key = (self.tables[-1].get_id(), text)
            if key not in self.known:
                self.known[key] = self.look(text)
            return self.known[key]

        def look(self, text):
            for i in range(len(self.tables) - 1, -1, -1):
                table = self.tables[i]
                if i < len(self.tables) - 1 and kind(table) == "class":
                    continue
                try:
                    symbol = table.lookup(text)
                except KeyError:
                    continue
                if symbol.is_declared_global():
                    return text in brought
                if symbol.is_imported():
                    return True
                if symbol.is_local():
                    return False
            return False

        def chain(self, node):
            names = []
            while isinstance(node, ast.Attribute):
                names.append(node.attr)
                node = node.value
            if not isinstance(node, ast.Name) or not isinstance(node.ctx, ast.Load):
                return False
            if self.imported(node.id):
                out.append([place(node), ".".join([node.id, *reversed(names)])])
            return True

        def visit_Attribute(self, node):
            if not self.chain(node):
                self.generic_visit(node)

        def visit_Name(self, node):
            self.chain(node)

        def visit_FunctionDef(self, node):
            if getattr(node, "type_params", None):
                raise NotImplementedError
            a = node.args
            for d in a.defaults + [d for d in a.kw_defaults if d]:
                self.visit(d)
            for arg in a.posonlyargs + a.args + [a.vararg, a.kwarg] + a.kwonlyargs:
                if arg is not None and arg.annotation is not None:
                    self.visit(arg.annotation)
            if node.returns is not None:
                self.visit(node.returns)
            for d in node.decorator_list:
                self.visit(d)
            self.inside(self.child({"function"}), lambda: [self.visit(b) for b in node.body])

        visit_AsyncFunctionDef = visit_FunctionDef

        def visit_Lambda(self, node):
            for d in node.args.defaults + [d for d in node.args.kw_defaults if d]:
                self.visit(d)
            self.inside(self.child({"function"}), lambda: self.visit(node.body))

        def visit_ClassDef(self, node):
            if getattr(node, "type_params", None):
                raise NotImplementedError
            for d in node.bases + [k.value for k in node.keywords] + node.decorator_list:
                self.visit(d)
            self.inside(self.child({"class"}), lambda: [self.visit(b) for b in node.body])

        def comprehension(self, node):
            self.visit(node.generators[0].iter)

            def inner():
                first = True
                for g in node.generators:
                    self.visit(g.target)
                    if not first:
                        self.visit(g.iter)
                    first = False
                    for c in g.ifs:
                        self.visit(c)
                for part in ("value", "key", "elt"):
                    if hasattr(node, part):
                        self.visit(getattr(node, part))

            self.inside(self.child({"function"}), inner)

        visit_ListComp = visit_SetComp = visit_DictComp = visit_GeneratorExp = comprehension

    def kind(table):
        got = table.get_type()
        return got if isinstance(got, str) else got.value

    try:
        Visitor().visit(tree)
    except (NotImplementedError, IndexError, RecursionError):
        return None
    return sorted(out)


def told(line):
    try:
        return json.dumps(read(line.rstrip("\n")))
    except Exception as e:  # a file that can't be read tells nothing
        return json.dumps({"skip": type(e).__name__})


if __name__ == "__main__":
    with multiprocessing.Pool() as pool:
        for text in pool.imap(told, sys.stdin, chunksize=8):
            print(text, flush=True)
