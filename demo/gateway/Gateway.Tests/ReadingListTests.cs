using System.IO;
using System.Linq;
using System.Text;
using Hilltop.WeatherService.Readings;
using NUnit.Framework;

namespace Hilltop.Gateway.Tests
{
    [TestFixture]
    public class ReadingListTests
    {
        [Test]
        public void EachLineIsAReading()
        {
            var lines = new MemoryStream(Encoding.UTF8.GetBytes("2027-02-01,1.5\n"));
            Assert.AreEqual(1.5m, new ReadingList(lines).All().Single().Value);
        }
    }
}
