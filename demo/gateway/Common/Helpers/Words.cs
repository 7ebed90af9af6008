using System.Globalization;

namespace Hilltop.Common.Helpers
{
    public static class Words
    {
        public static string Quoted(this string text) => "\"" + text.Replace("\"", "\\\"") + "\"";
        public static string Plain(this decimal value) => value.ToString(CultureInfo.InvariantCulture);
    }
}
