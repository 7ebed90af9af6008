import com.sun.source.tree.*;
import com.sun.source.util.*;
import java.io.*;
import java.nio.charset.StandardCharsets;
import java.nio.file.*;
import java.util.*;
import javax.lang.model.element.*;
import javax.tools.*;

/** Writes down what the compiler says of each name in files that stands for a type of theirs: where, and the file that declares it. */
public class Attributed {
    public static void main(String[] args) throws Exception {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        StandardJavaFileManager manager = compiler.getStandardFileManager(null, null, StandardCharsets.ISO_8859_1);
        List<String> files = Files.readAllLines(Path.of(args[0]));
        JavacTask task = (JavacTask) compiler.getTask(null, manager, d -> { }, List.of("-proc:none", "-nowarn", "-cp", args[2]), null,
                manager.getJavaFileObjectsFromStrings(files));
        Iterable<? extends CompilationUnitTree> units = task.parse();
        task.analyze();
        Trees trees = Trees.instance(task);
        try (PrintWriter out = new PrintWriter(args[1], StandardCharsets.ISO_8859_1)) {
            for (CompilationUnitTree unit : units) {
                String file = Path.of(unit.getSourceFile().toUri()).toString();
                new TreePathScanner<Void, Void>() {
                    @Override
                    public Void visitImport(ImportTree t, Void v) {
                        return null;
                    }

                    @Override
                    public Void visitPackage(PackageTree t, Void v) {
                        scan(t.getAnnotations(), v);
                        return null;
                    }

                    @Override
                    public Void visitIdentifier(IdentifierTree t, Void v) {
                        if (!t.getName().contentEquals("this") && !t.getName().contentEquals("super") && !t.getName().contentEquals("var")) say(t);
                        return null;
                    }

                    @Override
                    public Void visitMemberSelect(MemberSelectTree t, Void v) {
                        Element of = trees.getElement(new TreePath(getCurrentPath(), t.getExpression()));
                        if (of instanceof PackageElement) say(t);
                        return super.visitMemberSelect(t, v);
                    }

                    void say(Tree t) {
                        long start = trees.getSourcePositions().getStartPosition(unit, t);
                        Element e = trees.getElement(getCurrentPath());
                        if (start < 0 || trees.getSourcePositions().getEndPosition(unit, t) < 0 || !(e instanceof TypeElement)) return;
                        TreePath declared = trees.getPath(e);
                        if (declared == null) return;
                        String by = Path.of(declared.getCompilationUnit().getSourceFile().toUri()).toString();
                        if (!by.equals(file)) out.println(file + "\t" + start + "\t" + by);
                    }
                }.scan(unit, null);
            }
        }
    }
}
