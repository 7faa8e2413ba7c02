using System.Collections.Concurrent;
using System.Net;
using System.Net.Sockets;
using System.Text;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using OpenTelemetry.Trace;

namespace Tembri.Web.Tests;

/// <summary>Traces as a collector receives them.</summary>
public sealed class TracingTests(TembriHost host) : PracticeStudio(host)
{
    [Fact]
    public async Task Requests_queries_and_ladders_are_traced_without_secrets_or_words()
    {
        var leaving = TestContext.Current.CancellationToken;
        var port = TestServer.FreePort();
        using var collector = new HttpListener { Prefixes = { $"http://127.0.0.1:{port}/" } };
        collector.Start();
        var received = new ConcurrentQueue<string>();
        var receiving = Task.Run(async () =>
        {
            while (collector.IsListening)
            {
                try
                {
                    var call = await collector.GetContextAsync();
                    using var body = new MemoryStream();
                    await call.Request.InputStream.CopyToAsync(body, leaving);
                    received.Enqueue(Encoding.Latin1.GetString(body.ToArray()));
                    call.Response.Close();
                }
                catch (Exception e) when (e is HttpListenerException or ObjectDisposedException) { return; }
            }
        }, leaving);
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        await using (var application = Host.WithWebHostBuilder(builder =>
        {
            builder.UseSetting("Traces:Endpoint", $"http://127.0.0.1:{port}/v1/traces");
            builder.UseSetting("WarmUp", "false");
        }))
        {
            var teacher =
                new Visitor(application.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));
            await teacher.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
            await teacher.PageAsync(await teacher.LadderAsync("Salt on the Sill", "Wren"));
            await teacher.PageAsync("/find?q=peculiarword");
            Assert.Equal(HttpStatusCode.OK, (await teacher.Client.GetAsync(link, leaving)).StatusCode);
            application.Services.GetRequiredService<TracerProvider>().ForceFlush();
        }
        collector.Stop();
        await receiving;
        var sent = string.Concat(received);
        foreach (var there in new[] { "tembri", "make a ladder", "my/{secret}", "postgresql" })
            Assert.Contains(there, sent, StringComparison.Ordinal);
        foreach (var hidden in new[] { link.Split('/')[^1], "peculiarword", song, "kestrel.example", "set_config", "SELECT s." })
            Assert.DoesNotContain(hidden, sent, StringComparison.OrdinalIgnoreCase);
    }
}
