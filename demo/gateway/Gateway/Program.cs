using System;
using Hilltop.Gateway.Controllers;

namespace Hilltop.Gateway
{
    public static class Program
    {
        public static void Main(string[] args)
        {
            var server = new Server(new Registry(args.Length > 1 ? args[1] : "gateway.config"));
            server.Serve(args.Length > 0 ? args[0] : "8080");
            Console.WriteLine("gateway: closed");
        }
    }
}
