// Retarget writes the assemblies of a folder anew so that they run on another runtime: without the machine code that was
// made for another system, and with references to the versions that the runtime has.
using System;
using System.IO;
using Mono.Cecil;

static class Retarget
{
    // the folder, where to write, and the folder of the runtime
    static void Main(string[] args)
    {
        var resolver = new DefaultAssemblyResolver();
        resolver.AddSearchDirectory(args[0]);
        resolver.AddSearchDirectory(args[2]);
        foreach (var from in Directory.GetFiles(args[0], "*.dll", SearchOption.AllDirectories))
        {
            var to = Path.Combine(args[1], from.Substring(args[0].TrimEnd('/').Length + 1));
            Directory.CreateDirectory(Path.GetDirectoryName(to));
            try
            {
                using (var module = ModuleDefinition.ReadModule(from, new ReaderParameters { AssemblyResolver = resolver }))
                {
                    var library = (ModuleAttributes)4; // what has machine code in it
                    module.Attributes = (module.Attributes | ModuleAttributes.ILOnly) & ~library & ~ModuleAttributes.Required32Bit;
                    module.Architecture = TargetArchitecture.I386;
                    foreach (var reference in module.AssemblyReferences)
                    {
                        var there = Path.Combine(args[2], reference.Name + ".dll");
                        if (!File.Exists(there) || File.Exists(Path.Combine(args[0], reference.Name + ".dll"))) continue;
                        var has = AssemblyDefinition.ReadAssembly(there).Name.Version;
                        if (reference.Version > has) reference.Version = has;
                    }
                    module.Write(to);
                }
            }
            catch (BadImageFormatException) // no assembly
            {
                File.Copy(from, to, true);
            }
        }
    }
}
