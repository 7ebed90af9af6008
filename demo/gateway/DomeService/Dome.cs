using Hilltop.Common.Helpers;
using Hilltop.Common.Models;

namespace Hilltop.DomeService
{
    public class Dome : Instrument
    {
        private readonly Shutter shutter = new Shutter();

        public override string Name => "dome";
        public override string Say() => "{\"shutter\": " + shutter.State.Quoted() + "}";
        public void Open() => shutter.Open();
    }
}
