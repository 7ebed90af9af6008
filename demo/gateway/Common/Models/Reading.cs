namespace Hilltop.Common.Models
{
    public class Reading
    {
        public Reading(string night, decimal value)
        {
            Night = night;
            Value = value;
        }

        public string Night { get; }
        public decimal Value { get; }
    }
}
