// Said writes down what the compiler's own parser says of files, a line each, in the form of the program's own: the
// files of a list, each twice, with no symbol defined and with all that it asks for.
using System;
using System.Collections.Generic;
using System.IO;
using System.Linq;
using System.Text;
using Microsoft.CodeAnalysis;
using Microsoft.CodeAnalysis.CSharp;
using Microsoft.CodeAnalysis.CSharp.Syntax;

static class Said
{
    static void Main(string[] args)
    {
        var utf8 = new UTF8Encoding(false);
        using (var o = new StreamWriter(Console.OpenStandardOutput(), utf8, 1 << 16))
        {
            foreach (var path in File.ReadAllLines(args[0]))
            {
                var bytes = File.ReadAllBytes(path);
                string text;
                try { text = new UTF8Encoding(false, true).GetString(bytes); }
                catch (ArgumentException) { o.Write("file  " + path + "\nbad\n"); continue; }
                foreach (var symbols in new[] { new string[0], Symbols(text) })
                {
                    var options = new CSharpParseOptions(LanguageVersion.CSharp10, DocumentationMode.Parse, SourceCodeKind.Regular, symbols);
                    var tree = CSharpSyntaxTree.ParseText(text, options);
                    o.Write("file " + string.Join(",", symbols) + " " + path + "\n");
                    if (tree.GetDiagnostics().Any(d => d.Severity == DiagnosticSeverity.Error)) { o.Write("bad\n"); continue; }
                    new Walker(text, o).Visit(tree.GetRoot());
                }
            }
        }
    }

    static string[] Symbols(string text)
    {
        var found = new HashSet<string>();
        foreach (var line in text.Split('\n'))
        {
            var l = line.TrimStart(' ', '\t', '\uFEFF');
            if (!l.StartsWith("#")) continue;
            l = l.Substring(1).Trim();
            if (!l.StartsWith("if") && !l.StartsWith("elif")) continue;
            var at = l.IndexOf("//");
            if (at >= 0) l = l.Substring(0, at);
            var word = "";
            foreach (var c in l.Substring(l.StartsWith("if") ? 2 : 4) + " ")
            {
                if (char.IsLetterOrDigit(c) || c == '_') word += c;
                else { if (word != "" && word != "true" && word != "false" && !char.IsDigit(word[0])) found.Add(word); word = ""; }
            }
        }
        return found.OrderBy(s => s, StringComparer.Ordinal).ToArray();
    }

    class Walker : CSharpSyntaxWalker
    {
        readonly TextWriter o;
        readonly int[] at; // bytes by characters

        public Walker(string text, TextWriter o) : base(SyntaxWalkerDepth.StructuredTrivia)
        {
            this.o = o;
            at = new int[text.Length + 1];
            var n = 0;
            for (var i = 0; i < text.Length; i++)
            {
                at[i] = n;
                var c = text[i];
                n += c < 0x80 ? 1 : c < 0x800 ? 2 : char.IsSurrogate(c) ? 2 : 3;
            }
            at[text.Length] = n;
        }

        void Say(string s) { o.Write(s); o.Write('\n'); }

        static string Plain(SyntaxNode n)
        {
            switch (n)
            {
                case QualifiedNameSyntax q: return Plain(q.Left) + "." + q.Right.Identifier.ValueText;
                case AliasQualifiedNameSyntax a: return a.Alias.Identifier.ValueText == "global" ? "global::" + a.Name.Identifier.ValueText : a.Alias.Identifier.ValueText + "." + a.Name.Identifier.ValueText;
                case SimpleNameSyntax s: return s.Identifier.ValueText;
            }
            return n.ToString();
        }

        static string Space(SyntaxNode n)
        {
            var name = "";
            for (n = n.Parent; n != null; n = n.Parent)
                if (n is BaseNamespaceDeclarationSyntax s) name = Plain(s.Name) + (name == "" ? "" : "." + name);
            return name;
        }

        public override void VisitNamespaceDeclaration(NamespaceDeclarationSyntax n) { Namespace(n); base.VisitNamespaceDeclaration(n); }
        public override void VisitFileScopedNamespaceDeclaration(FileScopedNamespaceDeclarationSyntax n) { Namespace(n); base.VisitFileScopedNamespaceDeclaration(n); }

        void Namespace(BaseNamespaceDeclarationSyntax n)
        {
            var outer = Space(n);
            Say("namespace " + (outer == "" ? "" : outer + ".") + Plain(n.Name));
        }

        public override void VisitUsingDirective(UsingDirectiveSyntax n)
        {
            var head = (n.GlobalKeyword.RawKind != 0 ? "global " : "") + (n.StaticKeyword.RawKind != 0 ? "static " : "") + (n.Alias != null ? n.Alias.Name.Identifier.ValueText + " = " : "");
            var name = n.Name;
            var generic = name.DescendantNodesAndSelf().OfType<GenericNameSyntax>().FirstOrDefault(g => !g.Ancestors().OfType<TypeArgumentListSyntax>().Any());
            var text = Plain(name);
            if (generic != null)
            {
                // up to the first arguments
                SyntaxNode upto = generic;
                if (generic.Parent is QualifiedNameSyntax q && q.Right == generic) upto = q;
                text = Plain(upto);
            }
            Say("using " + head + text);
            base.VisitUsingDirective(n);
        }

        void Declares(SyntaxNode n, string kind, SyntaxToken name, SyntaxTokenList modifiers, int arity)
        {
            var path = name.ValueText;
            SyntaxNode around = null;
            for (var p = n.Parent; p != null; p = p.Parent)
            {
                if (p is BaseTypeDeclarationSyntax t) { path = t.Identifier.ValueText + "." + path; around = around ?? t; }
            }
            var space = Space(n);
            bool Has(SyntaxKind k) => modifiers.Any(m => m.IsKind(k));
            var sees = around == null ? "internal" : around is InterfaceDeclarationSyntax ? "public" : "private";
            if (Has(SyntaxKind.PublicKeyword)) sees = "public";
            else if (Has(SyntaxKind.ProtectedKeyword)) sees = Has(SyntaxKind.InternalKeyword) ? "protected internal" : Has(SyntaxKind.PrivateKeyword) ? "private protected" : "protected";
            else if (Has(SyntaxKind.InternalKeyword)) sees = "internal";
            else if (Has(SyntaxKind.PrivateKeyword)) sees = "private";
            Say("declares " + kind + " " + (space == "" ? "" : space + ".") + path + "`" + arity + " " + sees + (Has(SyntaxKind.PartialKeyword) ? " partial" : ""));
        }

        static int Arity(TypeParameterListSyntax l) => l == null ? 0 : l.Parameters.Count;

        public override void VisitClassDeclaration(ClassDeclarationSyntax n) { Declares(n, "class", n.Identifier, n.Modifiers, Arity(n.TypeParameterList)); base.VisitClassDeclaration(n); }
        public override void VisitStructDeclaration(StructDeclarationSyntax n) { Declares(n, "struct", n.Identifier, n.Modifiers, Arity(n.TypeParameterList)); base.VisitStructDeclaration(n); }
        public override void VisitInterfaceDeclaration(InterfaceDeclarationSyntax n) { Declares(n, "interface", n.Identifier, n.Modifiers, Arity(n.TypeParameterList)); base.VisitInterfaceDeclaration(n); }
        public override void VisitRecordDeclaration(RecordDeclarationSyntax n) { Declares(n, "record", n.Identifier, n.Modifiers, Arity(n.TypeParameterList)); base.VisitRecordDeclaration(n); }
        public override void VisitEnumDeclaration(EnumDeclarationSyntax n) { Declares(n, "enum", n.Identifier, n.Modifiers, 0); base.VisitEnumDeclaration(n); }
        public override void VisitDelegateDeclaration(DelegateDeclarationSyntax n) { Declares(n, "delegate", n.Identifier, n.Modifiers, Arity(n.TypeParameterList)); base.VisitDelegateDeclaration(n); }

        public override void VisitMethodDeclaration(MethodDeclarationSyntax n)
        {
            if (n.ParameterList.Parameters.Count > 0 && n.ParameterList.Parameters[0].Modifiers.Any(SyntaxKind.ThisKeyword))
                Say("extends " + n.Identifier.ValueText + " " + n.ParameterList.Parameters.Count);
            base.VisitMethodDeclaration(n);
        }

        public override void VisitLiteralExpression(LiteralExpressionSyntax n)
        {
            if (n.IsKind(SyntaxKind.StringLiteralExpression)) Say("string " + at[n.SpanStart]);
            base.VisitLiteralExpression(n);
        }

        public override void VisitIdentifierName(IdentifierNameSyntax n) { Name(n); base.VisitIdentifierName(n); }
        public override void VisitGenericName(GenericNameSyntax n) { Name(n); base.VisitGenericName(n); }

        void Name(SimpleNameSyntax n)
        {
            var name = n.Identifier.ValueText;
            if (name == "" || name == "var" || name == "_" || n.Parent is NameColonSyntax && Leading(n) || n.Parent is NameEqualsSyntax && !(n.Parent.Parent is UsingDirectiveSyntax) || n.Parent is NameEqualsSyntax) return;
            if (n.Ancestors().OfType<BaseNamespaceDeclarationSyntax>().Any(x => x.Name.Span.Contains(n.Span))) return;
            if (n.IsVar || n.Ancestors().Any(x => x is DirectiveTriviaSyntax)) return;
            var cref = n.Ancestors().OfType<CrefSyntax>().LastOrDefault();
            if (n.Ancestors().Any(p => p is XmlNameAttributeSyntax)) return;
            if (cref != null)
            {
                if (Leading(n) && !n.Ancestors().Any(p => p is TypeArgumentListSyntax) && !(n.Parent is QualifiedCrefSyntax) && !(n.Parent is NameMemberCrefSyntax && n.Parent.Parent is QualifiedCrefSyntax q && q.Member == n.Parent))
                    Say("doc " + name);
                else if (n.Parent is QualifiedCrefSyntax c && c.Container == n && !n.Ancestors().Any(p => p is TypeArgumentListSyntax)) Say("doc " + name);
                return;
            }
            if (n.Parent is AliasQualifiedNameSyntax a)
            {
                if (a.Alias == n)
                {
                    if (name != "global") Say("name " + at[n.SpanStart] + " " + name);
                    if (name != "global" && Type(a)) Say("type " + at[n.SpanStart] + " " + name);
                }
                else if (a.Alias.Identifier.ValueText == "global")
                {
                    Say("name " + at[n.SpanStart] + " " + name);
                    if (Type(a)) Say("type " + at[n.SpanStart] + " " + name);
                }
                else Say("select " + at[n.Identifier.Span.End] + " " + name);
                return;
            }
            // what an initializer sets
            if (n.Parent is AssignmentExpressionSyntax s && s.Left == n && s.Parent is InitializerExpressionSyntax i && (i.IsKind(SyntaxKind.ObjectInitializerExpression) || i.IsKind(SyntaxKind.WithInitializerExpression)))
            {
                Say("select " + at[n.Identifier.Span.End] + " " + name);
                return;
            }
            if (n.Ancestors().OfType<ExpressionColonSyntax>().Any(e => e.Expression.Span.Contains(n.Span)))
            {
                if (!Leading(n)) Say("select " + at[n.Identifier.Span.End] + " " + name);
                return;
            }
            if (n.Parent is GotoStatementSyntax g && g.CaseOrDefaultKeyword.RawKind == 0) return;
            if (!Leading(n)) { Say("select " + at[n.Identifier.Span.End] + " " + name); return; }
            Say("name " + at[n.SpanStart] + " " + name);
            if (Type(n)) Say("type " + at[n.SpanStart] + " " + name);
        }

        // Whether a type stands here, and nothing else can.
        static bool Type(NameSyntax n)
        {
            SyntaxNode t = n;
            if (n.Parent is MemberAccessExpressionSyntax && Selected(n)) return true;
            while (t.Parent is QualifiedNameSyntax) t = t.Parent;
            while (t.Parent is NullableTypeSyntax || t.Parent is ArrayTypeSyntax a && a.ElementType == t || t.Parent is PointerTypeSyntax) t = t.Parent;
            switch (t.Parent)
            {
                case CastExpressionSyntax c: return c.Type == t && !Bare(t);
                case BinaryExpressionSyntax b: return b.IsKind(SyntaxKind.AsExpression) && b.Right == t || b.IsKind(SyntaxKind.IsExpression) && b.Right == t && !Bare(t);
                case IsPatternExpressionSyntax _: case ConstantPatternSyntax _: case CaseSwitchLabelSyntax _: case TypePatternSyntax _: return false;
                case ExpressionSyntax e when !(e is TypeSyntax) && !(e is TypeOfExpressionSyntax) && !(e is SizeOfExpressionSyntax) && !(e is DefaultExpressionSyntax) && !(e is ObjectCreationExpressionSyntax) && !(e is ArrayCreationExpressionSyntax) && !(e is StackAllocArrayCreationExpressionSyntax) && !(e is DeclarationExpressionSyntax) && !(e is RefTypeExpressionSyntax): return false;
            }
            return n.Parent is TypeSyntax || t.Parent is TypeSyntax || t.Parent is BaseTypeSyntax || t.Parent is TypeConstraintSyntax || t.Parent is ParameterSyntax || t.Parent is VariableDeclarationSyntax || t.Parent is MemberDeclarationSyntax || t.Parent is AttributeSyntax
                || t.Parent is TypeArgumentListSyntax || t.Parent is ObjectCreationExpressionSyntax || t.Parent is TypeOfExpressionSyntax || t.Parent is DefaultExpressionSyntax || t.Parent is DeclarationPatternSyntax || t.Parent is RecursivePatternSyntax
                || t.Parent is CatchDeclarationSyntax || t.Parent is ForEachStatementSyntax e1 && e1.Type == t || t.Parent is UsingDirectiveSyntax || t.Parent is ExplicitInterfaceSpecifierSyntax || t.Parent is FromClauseSyntax e2 && e2.Type == t || t.Parent is JoinClauseSyntax e3 && e3.Type == t || t.Parent is LocalFunctionStatementSyntax
                || t.Parent is DeclarationExpressionSyntax || t.Parent is BinaryExpressionSyntax || t.Parent is SizeOfExpressionSyntax || t.Parent is TypeParameterConstraintClauseSyntax || t.Parent is TupleElementSyntax || t.Parent is StackAllocArrayCreationExpressionSyntax || t.Parent is ArrayCreationExpressionSyntax || t.Parent is FunctionPointerParameterSyntax || t.Parent is LambdaExpressionSyntax;
        }

        // Whether a name could be that of a value too.
        static bool Bare(SyntaxNode t)
        {
            return t is IdentifierNameSyntax || t is AliasQualifiedNameSyntax || t is QualifiedNameSyntax && !t.DescendantNodes().Any(d => d is GenericNameSyntax);
        }

        // Whether something is selected on a name with type arguments: that is a type.
        static bool Selected(SyntaxNode n)
        {
            var given = n is GenericNameSyntax;
            for (; n.Parent is MemberAccessExpressionSyntax m && m.Expression == n; n = m)
            {
                if (given) return true;
                given = m.Name is GenericNameSyntax;
            }
            return false;
        }

        // Whether nothing with a dot stands before a name.
        static bool Leading(SimpleNameSyntax n)
        {
            switch (n.Parent)
            {
                case QualifiedNameSyntax q: return q.Left == n;
                case MemberAccessExpressionSyntax m: return m.Expression == n;
                case MemberBindingExpressionSyntax _: return false;
                case QualifiedCrefSyntax c: return c.Container == n;
            }
            return true;
        }
    }
}
