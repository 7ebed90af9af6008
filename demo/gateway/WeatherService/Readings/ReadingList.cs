using System.Collections.Generic;
using System.Globalization;
using System.IO;
using Hilltop.Common.Models;

namespace Hilltop.WeatherService.Readings
{
    public class ReadingList
    {
        private readonly Stream stream;

        public ReadingList(Stream stream) => this.stream = stream;

        /// <summary>One <see cref="Reading"/> a line.</summary>
        public IEnumerable<Reading> All()
        {
            using (var lines = new StreamReader(stream))
            {
                for (string line = lines.ReadLine(); line != null; line = lines.ReadLine())
                {
                    string[] parts = line.Split(',');
                    yield return new Reading(parts[0], decimal.Parse(parts[1], CultureInfo.InvariantCulture));
                }
            }
        }
    }
}
