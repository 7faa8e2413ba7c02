using System.Net;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging.Abstractions;
using Tembri.Web.Mail;
using Tembri.Web.Operating;

namespace Tembri.Web.Tests;

/// <summary>When nobody asks for the measures any more, operators hear of it once, from whichever instance notices.</summary>
public sealed class WhoWatchesTests(TembriHost host)
{
    private sealed class LaterClock : TimeProvider
    {
        public TimeSpan By { get; set; }
        public override DateTimeOffset GetUtcNow() => base.GetUtcNow() + By;
    }

    /// <summary>A mail server that is away until it is not.</summary>
    private sealed class Post : IMailer
    {
        public Exception? Fault { get; set; } = new IOException("away");

        /// <summary>An address that no server takes.</summary>
        public string Refused { get; } = $"{Guid.NewGuid():N}@nowhere.example";
        public List<(string To, string Body)> Sent { get; } = [];

        public Task SendAsync(string to, string subject, string body, CancellationToken cancel)
        {
            if (Fault is { } fault) throw fault;
            if (to == Refused) throw new InvalidOperationException("refused");
            Sent.Add((to, body));
            return Task.CompletedTask;
        }
    }

    [Fact]
    public async Task Nobody_who_asks_for_measures_is_told_once_and_over_when_somebody_does()
    {
        var leaving = TestContext.Current.CancellationToken;
        var (clock, post, port, email) = (new LaterClock(), new Post(), TestServer.FreePort(), $"{Guid.NewGuid():N}@studio.example");
        await using var instance = host.WithWebHostBuilder(builder =>
        {
            builder.UseSetting("Metrics:Port", $"{port}");
            builder.ConfigureTestServices(services =>
                services.AddSingleton<TimeProvider>(clock).AddSingleton<IMailer>(post));
        });
        var visitor = new Visitor(instance.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));
        await visitor.PostAsync("/account/open", "/account/open", ("StudioName", "Night Office"), ("Email", email),
            ("Password", "quiet-blue-door"));
        await host.VisitNewStudioAsync(post.Refused);
        await host.AskAsync(
            $"update teachers set is_operator = true, two_factor_enabled = true where email in ('{email}', '{post.Refused}')");
        async Task<(string Alert, string Figures)> SeenAsync() =>
            await visitor.PageAsync("/operator") is var page
                ? (page.QuerySelector("[role=alert]")?.TextContent ?? "", page.QuerySelector(".figures")!.TextContent)
                : default;
        async Task<long> ToldAsync() =>
            (long)(await host.AskAsync($"select count(*) from operator_acts where what = '{WhoWatches.Unwatched}'"))!;

        var watch = instance.Services.GetRequiredService<WhoWatches>();
        await watch.LookAsync(leaving);
        Assert.True(await SeenAsync() is ("", var calm) && calm.Contains("Watched", StringComparison.Ordinal), "a calm page");
        Assert.Equal(0, await ToldAsync());

        // What could not be sent is not taken for told.
        clock.By = TimeSpan.FromMinutes(10.5);
        await watch.LookAsync(leaving);
        Assert.Equal((0, 0), (await ToldAsync(), post.Sent.Count));
        post.Fault = new OperationCanceledException("its own time is up");
        await watch.LookAsync(leaving);
        post.Fault = null;
        await watch.LookAsync(leaving);
        // Another instance that misses it as well, and this one a minute later.
        using var other = new WhoWatches(instance.Services.GetRequiredService<IServiceScopeFactory>(),
            new ConfigurationBuilder().Build(), clock, NullLogger<WhoWatches>.Instance);
        clock.By = TimeSpan.FromMinutes(22);
        await other.LookAsync(leaving);
        await watch.LookAsync(leaving);
        Assert.Equal(1, await ToldAsync());
        var (to, body) = Assert.Single(post.Sent, s => s.To == email);
        Assert.Contains("no backup is made", body, StringComparison.Ordinal);
        var (alert, figures) = await SeenAsync();
        Assert.Contains("Nobody watches", alert, StringComparison.Ordinal);
        Assert.Contains("by nobody", figures, StringComparison.Ordinal);

        using var prometheus = new HttpClient();
        Assert.Contains("tembri_background_waiting",
            await prometheus.GetStringAsync($"http://127.0.0.1:{port}/metrics", leaving), StringComparison.Ordinal);
        await watch.LookAsync(leaving);
        Assert.Equal("", (await SeenAsync()).Alert);

        clock.By = TimeSpan.FromHours(12.5);
        await watch.LookAsync(leaving);
        Assert.Equal((2, 2), (await ToldAsync(), post.Sent.Count(s => s.To == email)));
        await host.AskAsync($"update teachers set is_operator = false where email in ('{email}', '{post.Refused}')");
    }
}
