"""Says the directives and the declarations of files of Dart, as a parser of the language reads them: one line for each,
with its place in bytes. The names of files come on standard input."""
import sys

import tree_sitter
import tree_sitter_dart

parser = tree_sitter.Parser(tree_sitter.Language(tree_sitter_dart.language()))


def strings(node):
    if node.type == "string_literal" or node.type.startswith("string_literal_"):
        yield node
        return
    for child in node.children:
        yield from strings(child)


def walk(node, out, src):
    kinds = {"import_or_export": None, "library_import": "import", "import_specification": "import",
             "library_export": "export", "part_directive": "part", "part_of_directive": "part of"}
    kind = kinds.get(node.type)
    if kind:
        for uri in node.children:
            pass
        for lit in strings(node):
            text = src[lit.start_byte:lit.end_byte].decode()
            out.append((kind, lit.start_byte, lit.end_byte, text))
        return
    for child in node.children:
        walk(child, out, src)


for name in sys.stdin.read().split("\n"):
    if not name:
        continue
    src = open(name, "rb").read()
    tree = parser.parse(src)
    print("FILE\t" + name)
    if tree.root_node.has_error:
        print("UNSURE")
    out = []
    walk(tree.root_node, out, src)
    for kind, start, end, text in out:
        print(f"{kind}\t{start}\t{end}\t{text}")
