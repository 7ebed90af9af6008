using System.IO;
using Hilltop.Gateway.Controllers;
using NUnit.Framework;

namespace Hilltop.Gateway.Tests
{
    [TestFixture]
    public class ServerTests
    {
        private static Server Server()
        {
            string settings = Path.GetTempFileName();
            File.WriteAllText(settings, "<a type=\"Hilltop.DomeService.Dome, Hilltop.DomeService\" />\n<a type=\"Hilltop.WeatherService.Station, Hilltop.WeatherService\" />\n");
            return new Server(new Registry(settings));
        }

        [Test]
        public void ADomeOpens()
        {
            Server server = Server();
            Assert.AreEqual("{\"shutter\": \"closed\"}", server.Answer("/dome"));
            Assert.AreEqual("{\"shutter\": \"open\"}", server.Answer("/dome/open"));
        }

        [Test]
        public void TheWeatherIsRead() => StringAssert.Contains("\"2027-01-15\": -1.0", Server().Answer("/weather"));
    }
}
