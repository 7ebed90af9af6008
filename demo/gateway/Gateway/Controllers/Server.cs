using System;
using System.Net;
using System.Text;
using Hilltop.Common.Helpers;
using Hilltop.Common.Models;
using Hilltop.DomeService;
using Hilltop.Gateway.Generated;

namespace Hilltop.Gateway.Controllers
{
    public class Server
    {
        private readonly Registry registry;

        public Server(Registry registry) => this.registry = registry;

        public void Serve(string port)
        {
            var listener = new HttpListener();
            listener.Prefixes.Add("http://127.0.0.1:" + port + "/");
            listener.Start();
            Console.WriteLine("gateway: listens");
            for (bool open = true; open;)
            {
                HttpListenerContext context = listener.GetContext();
                string path = context.Request.Url.AbsolutePath;
                open = path != Addresses.Close;
                byte[] answer = Encoding.UTF8.GetBytes(Answer(path) + "\n");
                context.Response.OutputStream.Write(answer, 0, answer.Length);
                context.Response.Close();
            }
            listener.Stop();
        }

        public string Answer(string path)
        {
            switch (path)
            {
                case Addresses.Instruments:
                    return "[" + string.Join(", ", Array.ConvertAll(new System.Collections.Generic.List<string>(registry.Names).ToArray(), n => n.Quoted())) + "]";
                case Addresses.Open:
                    if (registry.Find("dome") is Dome dome) dome.Open();
                    break;
            }
            Instrument found = registry.Find(path.Trim('/').Split('/')[0]);
            return found == null ? "{}" : found.Say();
        }
    }
}
