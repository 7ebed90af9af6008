using Hilltop.Common.Models;

namespace Hilltop.OldMount
{
    /// <summary>The mount that was taken down in spring.</summary>
    public class Mount : Instrument
    {
        public override string Name => "mount";
        public override string Say() => "{}";
    }
}
