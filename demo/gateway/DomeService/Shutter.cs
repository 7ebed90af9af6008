namespace Hilltop.DomeService
{
    internal class Shutter
    {
        public string State { get; private set; } = "closed";
        public void Open() => State = "open";
    }
}
