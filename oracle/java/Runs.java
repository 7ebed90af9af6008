import java.io.*;
import java.lang.reflect.InvocationTargetException;
import java.net.*;
import java.nio.file.*;
import java.util.*;
import java.util.stream.*;
import javax.tools.*;

/** Compiles the sources below each folder of a list and runs its class all.Main; writes down what that prints, or what is wrong. */
public class Runs {
    public static void main(String[] args) throws Exception {
        JavaCompiler compiler = ToolProvider.getSystemJavaCompiler();
        PrintStream console = System.out;
        for (String folder : Files.readAllLines(Path.of(args[0]))) {
            Path root = Path.of(folder, "src"), classes = Files.createTempDirectory("classes");
            List<Path> sources;
            try (Stream<Path> all = Files.walk(root)) {
                sources = all.filter(p -> p.toString().endsWith(".java")).collect(Collectors.toList());
            }
            ByteArrayOutputStream said = new ByteArrayOutputStream();
            String result;
            try (StandardJavaFileManager manager = compiler.getStandardFileManager(null, null, null)) {
                StringWriter faults = new StringWriter();
                boolean fine = compiler.getTask(faults, manager, null, List.of("-nowarn", "-proc:none", "-d", classes.toString()), null,
                        manager.getJavaFileObjectsFromPaths(sources)).call();
                if (!fine) {
                    result = "does not compile: " + faults.toString().replace(folder, "").replace('\n', '|');
                } else {
                    System.setOut(new PrintStream(said, true));
                    try (URLClassLoader loader = new URLClassLoader(new URL[] {classes.toUri().toURL()})) {
                        loader.loadClass("all.Main").getMethod("main", String[].class).invoke(null, (Object) new String[0]);
                    } catch (InvocationTargetException e) {
                        System.out.println(e.getCause());
                    } finally {
                        System.setOut(console);
                    }
                    result = said.toString().replace('\n', '|');
                }
            }
            console.println(result);
        }
    }
}
