using System.Collections.Generic;
using System.IO;
using System.Linq;
using Hilltop.Common.Helpers;
using Hilltop.Common.Models;
using Hilltop.WeatherService.Readings;

namespace Hilltop.WeatherService
{
    public class Station : Instrument
    {
        public override string Name => "weather";

        public override string Say()
        {
            using (Stream sample = typeof(Station).Assembly.GetManifestResourceStream("Hilltop.WeatherService.Readings.sample.csv"))
            {
                IEnumerable<Reading> all = new ReadingList(sample).All();
                return "[" + string.Join(", ", all.Select(r => r.Night.Quoted() + ": " + r.Value.Plain())) + "]";
            }
        }
    }
}
