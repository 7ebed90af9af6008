using System;
using System.Collections.Generic;
using System.IO;
using Hilltop.Common.Models;

namespace Hilltop.Gateway
{
    /// <summary>The instruments by their names, as the settings list their types.</summary>
    public class Registry
    {
        private readonly Dictionary<string, Instrument> instruments = new Dictionary<string, Instrument>();

        public Registry(string settings)
        {
            foreach (string line in File.ReadAllLines(settings))
            {
                if (line.Contains("type=\""))
                {
                    string name = line.Split('"')[1];
                    var one = (Instrument)Activator.CreateInstance(Type.GetType(name, true));
                    instruments[one.Name] = one;
                }
            }
        }

        public Instrument Find(string name) => instruments.TryGetValue(name, out Instrument found) ? found : null;
        public IEnumerable<string> Names => instruments.Keys;
    }
}
