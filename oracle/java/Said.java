import com.sun.source.doctree.DocCommentTree;
import com.sun.source.tree.*;
import com.sun.source.util.*;
import java.io.*;
import java.nio.charset.StandardCharsets;
import java.nio.file.*;
import java.util.*;
import javax.lang.model.element.Modifier;
import javax.tools.*;

/** Writes down what the compiler's own parser says of files, a line each, so that it can be compared. */
public class Said {
    public static void main(String[] args) throws Exception {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        StandardJavaFileManager manager = compiler.getStandardFileManager(null, null, StandardCharsets.ISO_8859_1);
        List<String> files = Files.readAllLines(Path.of(args[0]));
        try (PrintWriter out = new PrintWriter(args[1], StandardCharsets.ISO_8859_1)) {
            for (int from = 0; from < files.size(); from += 500) {
                List<String> some = files.subList(from, Math.min(files.size(), from + 500));
                DiagnosticCollector<JavaFileObject> faults = new DiagnosticCollector<>();
                JavacTask task = (JavacTask) compiler.getTask(null, manager, faults, List.of("-proc:none"), null,
                        manager.getJavaFileObjectsFromStrings(some));
                Map<String, CompilationUnitTree> units = new LinkedHashMap<>();
                for (CompilationUnitTree unit : task.parse()) {
                    units.put(Path.of(unit.getSourceFile().toUri()).toString(), unit);
                }
                Set<String> broken = new HashSet<>();
                for (Diagnostic<? extends JavaFileObject> d : faults.getDiagnostics()) {
                    if (d.getKind() == Diagnostic.Kind.ERROR && d.getSource() != null) {
                        broken.add(Path.of(d.getSource().toUri()).toString());
                    }
                }
                for (String file : some) {
                    out.println("# " + file);
                    CompilationUnitTree unit = units.get(Path.of(file).toAbsolutePath().toString());
                    if (unit == null || broken.contains(Path.of(file).toAbsolutePath().toString())) {
                        out.println("!");
                        continue;
                    }
                    new Reader(task, unit, out).scan(unit, null);
                }
            }
        }
    }

    static class Reader extends TreePathScanner<Void, Void> {
        final CompilationUnitTree unit;
        final SourcePositions positions;
        final DocTrees docs;
        final PrintWriter out;
        final Deque<String> owners = new ArrayDeque<>();
        final Deque<ClassTree> classes = new ArrayDeque<>();
        final CharSequence text;
        int code; // how deep in code

        Reader(JavacTask task, CompilationUnitTree unit, PrintWriter out) throws IOException {
            this.unit = unit;
            this.out = out;
            docs = DocTrees.instance(task);
            positions = docs.getSourcePositions();
            text = unit.getSourceFile().getCharContent(true);
        }

        long start(Tree t) {
            return positions.getStartPosition(unit, t);
        }

        @Override
        public Void visitPackage(PackageTree t, Void v) {
            doc();
            out.println("package " + t.getPackageName().toString().replace(" ", ""));
            scan(t.getAnnotations(), v);
            return null;
        }

        @Override
        public Void visitImport(ImportTree t, Void v) {
            out.println("import " + (t.isStatic() ? "static " : "") + t.getQualifiedIdentifier());
            return null;
        }

        @Override
        public Void visitModule(ModuleTree t, Void v) {
            scan(t.getAnnotations(), v); // its directives are names in settings
            return null;
        }

        String sees(Set<Modifier> m, Tree owner) {
            if (m.contains(Modifier.PUBLIC)) return "public";
            if (m.contains(Modifier.PROTECTED)) return "protected";
            if (m.contains(Modifier.PRIVATE)) return "private";
            if (owner != null && (owner.getKind() == Tree.Kind.INTERFACE || owner.getKind() == Tree.Kind.ANNOTATION_TYPE)) return "public";
            return "package-private";
        }

        @Override
        public Void visitClass(ClassTree t, Void v) {
            String name = t.getSimpleName().toString();
            Tree around = getCurrentPath().getParentPath().getLeaf();
            if (!(around instanceof BlockTree || around instanceof CaseTree)) doc();
            boolean member = around instanceof ClassTree || around instanceof CompilationUnitTree;
            if (member && code == 0) {
                String kind = switch (t.getKind()) {
                    case INTERFACE -> "interface";
                    case ENUM -> "enum";
                    case RECORD -> "record";
                    case ANNOTATION_TYPE -> "annotation";
                    default -> "class";
                };
                owners.addLast(name);
                out.println("declares " + kind + " " + String.join(".", owners) + " "
                        + sees(t.getModifiers().getFlags(), around instanceof ClassTree ? around : null));
            } else {
                code++;
            }
            classes.addLast(t);
            scan(t.getModifiers(), v);
            scan(t.getTypeParameters(), v);
            type(t.getExtendsClause());
            for (Tree one : t.getImplementsClause()) type(one);
            for (Tree one : t.getPermitsClause()) type(one);
            scan(t.getExtendsClause(), v);
            scan(t.getImplementsClause(), v);
            scan(t.getPermitsClause(), v);
            scan(t.getMembers(), v);
            classes.removeLast();
            if (member && code == 0) owners.removeLast();
            else code--;
            return null;
        }

        /** A place where the tree has something that the text has not: what the compiler adds to enums and records. */
        boolean made(Tree t) {
            return start(t) < 0 || positions.getEndPosition(unit, t) <= start(t);
        }

        @Override
        public Void visitMethod(MethodTree t, Void v) {
            doc();
            ClassTree owner = classes.getLast();
            boolean compact = t.getName().contentEquals("<init>") && owner.getKind() == Tree.Kind.RECORD;
            if (made(t)) return null;
            if (code == 0 && !compact) {
                String name = t.getName().contentEquals("<init>") ? "" : t.getName().toString();
                String sees = name.isEmpty() && owner.getKind() == Tree.Kind.ENUM ? "private" : sees(t.getModifiers().getFlags(), owner);
                out.println("method " + String.join(".", owners) + "." + name + " " + sees + " " + t.getParameters().size());
            }
            code++;
            type(t.getReturnType());
            for (Tree one : t.getThrows()) type(one);
            if (compact && t.getParameters().stream().anyMatch(p -> before(p, t))) {
                scan(t.getModifiers(), v);
                scan(t.getBody(), v);
            } else {
                super.visitMethod(t, v);
            }
            code--;
            return null;
        }

        boolean before(Tree a, Tree b) {
            return start(a) < start(b);
        }

        @Override
        public Void visitVariable(VariableTree t, Void v) {
            Tree owner = getCurrentPath().getParentPath().getLeaf();
            if (owner instanceof NewClassTree) owner = classes.getLast();
            if (owner instanceof ClassTree) doc();
            if (made(t) && t.getType() == null) return null;
            boolean constant = owner instanceof ClassTree c && c.getKind() == Tree.Kind.ENUM
                    && t.getInitializer() instanceof NewClassTree n && t.getModifiers().getFlags().contains(Modifier.STATIC)
                    && t.getType() instanceof IdentifierTree i && i.getName().contentEquals(c.getSimpleName())
                    && start(n) >= 0 && !text.subSequence((int) start(t), (int) positions.getEndPosition(unit, t)).toString().contains("new " + c.getSimpleName());
            boolean component = owner instanceof ClassTree c && c.getKind() == Tree.Kind.RECORD
                    && !t.getModifiers().getFlags().contains(Modifier.STATIC);
            if (owner instanceof ClassTree c && code == 0 && !component) {
                out.println("field " + String.join(".", owners) + "." + t.getName() + " "
                        + (constant ? "public" : sees(t.getModifiers().getFlags(), c)));
            }
            code++;
            if (constant) {
                scan(t.getModifiers().getAnnotations(), v);
                NewClassTree n = (NewClassTree) t.getInitializer();
                scan(n.getArguments(), v);
                if (n.getClassBody() != null) members(n.getClassBody());
            } else {
                type(t.getType());
                super.visitVariable(t, v);
            }
            code--;
            return null;
        }

        void members(ClassTree t) {
            classes.addLast(t);
            scan(t.getMembers(), null);
            classes.removeLast();
        }

        void type(Tree t) {
            if (t == null) return;
            if (t instanceof IdentifierTree i) {
                if (start(i) >= 0 && !primitive(i)) out.println("type " + start(i) + " " + i.getName());
            } else if (t instanceof MemberSelectTree m) {
                type(m.getExpression());
            } else if (t instanceof ParameterizedTypeTree p) {
                type(p.getType());
                p.getTypeArguments().forEach(this::type);
            } else if (t instanceof ArrayTypeTree a) {
                type(a.getType());
            } else if (t instanceof AnnotatedTypeTree a) {
                type(a.getUnderlyingType());
            } else if (t instanceof WildcardTree w) {
                type(w.getBound());
            } else if (t instanceof UnionTypeTree u) {
                u.getTypeAlternatives().forEach(this::type);
            } else if (t instanceof IntersectionTypeTree u) {
                u.getBounds().forEach(this::type);
            }
        }

        boolean primitive(IdentifierTree i) {
            return i.getName().contentEquals("var");
        }

        @Override
        public Void visitTypeParameter(TypeParameterTree t, Void v) {
            t.getBounds().forEach(this::type);
            return super.visitTypeParameter(t, v);
        }

        @Override
        public Void visitMethodInvocation(MethodInvocationTree t, Void v) {
            t.getTypeArguments().forEach(this::type);
            return super.visitMethodInvocation(t, v);
        }

        @Override
        public Void visitNewArray(NewArrayTree t, Void v) {
            type(t.getType());
            return super.visitNewArray(t, v);
        }

        @Override
        public Void visitParameterizedType(ParameterizedTypeTree t, Void v) {
            if (getCurrentPath().getParentPath().getLeaf() instanceof MemberReferenceTree) type(t);
            return super.visitParameterizedType(t, v);
        }

        @Override
        public Void visitArrayType(ArrayTypeTree t, Void v) {
            Tree around = getCurrentPath().getParentPath().getLeaf();
            if (around instanceof MemberReferenceTree || around instanceof MemberSelectTree) type(t);
            return super.visitArrayType(t, v);
        }

        @Override
        public Void visitNewClass(NewClassTree t, Void v) {
            type(t.getIdentifier());
            if (t.getClassBody() == null) return super.visitNewClass(t, v);
            scan(t.getEnclosingExpression(), v);
            scan(t.getTypeArguments(), v);
            scan(t.getIdentifier(), v);
            scan(t.getArguments(), v);
            code++;
            members(t.getClassBody());
            code--;
            return null;
        }

        @Override
        public Void visitTypeCast(TypeCastTree t, Void v) {
            // a name alone in brackets looks like a condition to who has no tree
            Tree bare = t.getType() instanceof AnnotatedTypeTree a ? a.getUnderlyingType() : t.getType();
            boolean plain = bare instanceof IdentifierTree || bare instanceof MemberSelectTree && !bare.toString().contains("<");
            if (!plain) type(t.getType());
            return super.visitTypeCast(t, v);
        }

        @Override
        public Void visitInstanceOf(InstanceOfTree t, Void v) {
            type(t.getType());
            return super.visitInstanceOf(t, v);
        }

        @Override
        public Void visitAnnotation(AnnotationTree t, Void v) {
            type(t.getAnnotationType());
            scan(t.getAnnotationType(), v);
            for (ExpressionTree one : t.getArguments()) {
                if (one instanceof AssignmentTree a) {
                    scan(a.getExpression(), v); // the name of an element is none of a type
                } else {
                    scan(one, v);
                }
            }
            return null;
        }

        @Override
        public Void visitCase(CaseTree t, Void v) {
            for (ExpressionTree one : t.getExpressions()) {
                if (!(one instanceof IdentifierTree)) scan(one, v);
            }
            scan(t.getStatements(), v);
            if (t.getStatements() == null) scan(t.getBody(), v);
            return null;
        }

        @Override
        public Void visitIdentifier(IdentifierTree t, Void v) {
            String name = t.getName().toString();
            if (start(t) >= 0 && !name.equals("this") && !name.equals("super") && !name.equals("var") && !name.equals("<error>")) {
                out.println("name " + start(t) + " " + name);
            }
            return null;
        }

        @Override
        public Void visitMemberSelect(MemberSelectTree t, Void v) {
            select(t.getIdentifier().toString(), positions.getEndPosition(unit, t));
            return super.visitMemberSelect(t, v);
        }

        @Override
        public Void visitMemberReference(MemberReferenceTree t, Void v) {
            if (t.getTypeArguments() != null) t.getTypeArguments().forEach(this::type);
            if (t.getMode() == MemberReferenceTree.ReferenceMode.INVOKE) {
                select(t.getName().toString(), positions.getEndPosition(unit, t));
            } else {
                type(t.getQualifierExpression());
            }
            return super.visitMemberReference(t, v);
        }

        void select(String name, long end) {
            if (!name.equals("class") && !name.equals("this") && !name.equals("super") && end >= 0) {
                out.println("select " + end + " " + name);
            }
        }

        @Override
        public Void visitLiteral(LiteralTree t, Void v) {
            if (t.getKind() == Tree.Kind.STRING_LITERAL) out.println("string " + start(t));
            return null;
        }

        /** The references of the comment before a declaration. */
        void doc() {
            DocCommentTree comment = docs.getDocCommentTree(getCurrentPath());
            if (comment == null) return;
            new DocTreeScanner<Void, Void>() {
                @Override
                public Void visitReference(com.sun.source.doctree.ReferenceTree t, Void v) {
                    String signature = t.getSignature();
                    int slash = signature.indexOf('/');
                    if (slash >= 0) signature = signature.substring(slash + 1);
                    int at = signature.indexOf('(');
                    String head = at < 0 ? signature : signature.substring(0, at);
                    String type = head.contains("#") ? head.substring(0, head.indexOf('#')) : head;
                    say(type);
                    if (at >= 0) {
                        for (String one : signature.substring(at + 1).replace(")", "").split(",")) {
                            say(one.strip().split("[\\s<\\[.]*\\.\\.\\.|[\\s<\\[]")[0]);
                        }
                    }
                    return null;
                }

                void say(String type) {
                    type = type.strip().replaceAll("<.*", "");
                    if (!type.isEmpty() && !Set.of("boolean", "byte", "short", "int", "long", "char", "float", "double", "void").contains(type)) {
                        out.println("doc " + type);
                    }
                }
            }.scan(comment, null);
        }
    }
}
