// Attributed compiles the files of a list and writes down what the compiler says of each name in them that stands for a
// type of theirs: where, and the files that declare it. It prints the errors.
using System;
using System.Collections.Generic;
using System.IO;
using System.Linq;
using System.Text;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

static class Attributed
{
    // list of files, output, folder with libraries, symbols
    static void Main(string[] args)
    {
        var options = new CSharpParseOptions(LanguageVersion.CSharp10, DocumentationMode.Diagnose, SourceCodeKind.Regular, args[3].Split(',').Where(s => s != ""));
        var texts = new Dictionary<string, string>();
        var trees = new List<SyntaxTree>();
        foreach (var path in File.ReadAllLines(args[0]))
        {
            texts[path] = Encoding.UTF8.GetString(File.ReadAllBytes(path));
            trees.Add(CSharpSyntaxTree.ParseText(texts[path], options, path));
        }
        var libraries = Directory.GetFiles(args[2], "*.dll").Where(f => Managed(f)).Select(f => MetadataReference.CreateFromFile(f));
        var all = CSharpCompilation.Create("x", trees, libraries, new CSharpCompilationOptions(OutputKind.DynamicallyLinkedLibrary, allowUnsafe: true));
        foreach (var d in all.GetDiagnostics().Where(d => d.Severity == DiagnosticSeverity.Error || d.Id == "CS1574" || d.Id == "CS1580"))
            Console.WriteLine(d.Id + "\t" + (d.Location.SourceTree == null ? "" : d.Location.SourceTree.FilePath) + "\t" + (d.Location.GetLineSpan().StartLinePosition.Line + 1) + "\t" + d.GetMessage());
        using (var o = new StreamWriter(args[1], false, new UTF8Encoding(false)))
            foreach (var tree in trees)
            {
                var at = Bytes(texts[tree.FilePath]);
                var model = all.GetSemanticModel(tree);
                foreach (var t in tree.GetRoot().DescendantTrivia().Where(t => t.IsKind(SyntaxKind.DisabledTextTrivia)))
                    o.Write(tree.FilePath + "\t" + at[t.SpanStart] + "\toff\t" + at[t.Span.End] + "\n");
                foreach (var n in tree.GetRoot().DescendantNodes(descendIntoTrivia: true).OfType<SimpleNameSyntax>())
                {
                    if (n.IsVar || n.Ancestors().Any(a => a is UsingDirectiveSyntax) || n.Parent is NameEqualsSyntax || n.Parent is NameColonSyntax) continue;
                    var symbol = Symbol(model, n);
                    if (symbol is IMethodSymbol m && m.ReducedFrom != null && m.ReducedFrom.Locations.Any(l => l.IsInSource))
                    {
                        Say(o, tree, "extension", at[n.SpanStart], m.ReducedFrom.ContainingType);
                        continue;
                    }
                    if (!(symbol is INamedTypeSymbol type) || !type.Locations.Any(l => l.IsInSource)) continue;
                    SyntaxNode whole = n;
                    SyntaxNode left = null;
                    if (n.Parent is QualifiedNameSyntax q && q.Right == n) { whole = q; left = q.Left; }
                    else if (n.Parent is MemberAccessExpressionSyntax ma && ma.Name == n) { whole = ma; left = ma.Expression; }
                    else if (n.Parent is AliasQualifiedNameSyntax aq && aq.Name == n) { whole = aq.Alias.Identifier.ValueText == "global" ? (SyntaxNode)n : aq; }
                    else if (n.Parent is NameMemberCrefSyntax nm && nm.Parent is QualifiedCrefSyntax qc && qc.Member == nm) { whole = qc; left = qc.Container; }
                    if (left != null)
                    {
                        var before = model.GetSymbolInfo(left).Symbol;
                        if (!(before is INamespaceSymbol)) continue;
                        while (left is QualifiedNameSyntax lq) left = lq.Left;
                        while (left is MemberAccessExpressionSyntax lm) left = lm.Expression;
                        if (left is AliasQualifiedNameSyntax la) left = la.Alias.Identifier.ValueText == "global" ? (SyntaxNode)la.Name : la;
                        whole = left;
                    }
                    var doc = n.Ancestors().Any(a => a is CrefSyntax);
                    Say(o, tree, doc ? "doc" : "name", at[whole.SpanStart], type);
                }
            }
    }

    static ISymbol Symbol(SemanticModel model, SimpleNameSyntax n)
    {
        var info = model.GetSymbolInfo(n);
        var s = info.Symbol ?? info.CandidateSymbols.FirstOrDefault();
        SyntaxNode top = n;
        while (top.Parent is QualifiedNameSyntax q && q.Right == top || top.Parent is AliasQualifiedNameSyntax a && a.Name == top) top = top.Parent;
        if (top.Parent is AttributeSyntax at && at.Name == top && s is IMethodSymbol c) return c.ContainingType;
        if (s is IMethodSymbol k && k.MethodKind == MethodKind.Constructor && n.Ancestors().Any(x => x is CrefSyntax)) return k.ContainingType;
        return s;
    }

    static bool Managed(string path)
    {
        try { System.Reflection.AssemblyName.GetAssemblyName(path); return true; } catch (Exception) { return false; }
    }

    static void Say(TextWriter o, SyntaxTree tree, string kind, int at, INamedTypeSymbol type)
    {
        var by = type.Locations.Where(l => l.IsInSource).Select(l => l.SourceTree.FilePath).Distinct().OrderBy(p => p, StringComparer.Ordinal).ToArray();
        if (by.Length == 1 && by[0] == tree.FilePath) return;
        o.Write(tree.FilePath + "\t" + at + "\t" + kind + "\t" + string.Join("|", by) + "\n");
    }

    static int[] Bytes(string text)
    {
        var at = new int[text.Length + 1];
        var n = 0;
        for (var i = 0; i < text.Length; i++)
        {
            at[i] = n;
            var c = text[i];
            n += c < 0x80 ? 1 : c < 0x800 ? 2 : char.IsSurrogate(c) ? 2 : 3;
        }
        at[text.Length] = n;
        return at;
    }
}
