namespace Hilltop.Common.Models
{
    /// <summary>What stands on the hill and answers the gateway.</summary>
    public abstract class Instrument
    {
        public abstract string Name { get; }
        public abstract string Say();
    }
}
