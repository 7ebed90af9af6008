// Made from api/instruments.json by api/generate.sh.
namespace Hilltop.Gateway.Generated
{
    public static class Addresses
    {
        public const string Instruments = "/instruments";
        public const string Open = "/dome/open";
        public const string Close = "/close";
    }
}
