using System.Buffers.Binary;
using System.Diagnostics;
using System.Net;
using System.Text;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>What the server says of itself and whom it believes: hosts, proxies, limits, cookies, packing and keeping.</summary>
public sealed class ServerTests(TembriHost host)
{
    /// <summary>Lets a test say which network address a request comes from.</summary>
    private sealed class FromAddress : IStartupFilter
    {
        public Action<IApplicationBuilder> Configure(Action<IApplicationBuilder> next) => app =>
        {
            app.Use((context, rest) =>
            {
                if (IPAddress.TryParse(context.Request.Headers["X-Test-From"], out var address))
                    context.Connection.RemoteIpAddress = address;
                return rest(context);
            });
            next(app);
        };
    }

    /// <summary>A start that finds nothing to do does not ask; so it is asked here, of the database this host has just
    /// made.</summary>
    [Fact]
    public async Task The_migrations_end_where_the_model_of_the_tables_is()
    {
        await using var scope = host.Services.CreateAsyncScope();
        var database = scope.ServiceProvider.GetRequiredService<TembriDbContext>().Database;
        Assert.Empty(await database.GetPendingMigrationsAsync());
        Assert.NotEmpty(await database.GetAppliedMigrationsAsync());
        Assert.False(database.HasPendingModelChanges());
    }

    /// <summary>What the hosts of tests leave out is in the application that is started.</summary>
    [Fact]
    public async Task Passwords_are_slow_to_guess_and_the_process_is_kept_small_where_no_test_says_otherwise()
    {
        var builder = WebApplication.CreateBuilder();
        builder.Configuration["ConnectionStrings:Tembri"] = host.ConnectionString;
        builder.AddTembri();
        Assert.Contains(builder.Services, s => s.ImplementationType == typeof(Housekeeping));
        await using var application = builder.Build();
        await using var scope = application.Services.CreateAsyncScope();
        var kept = scope.ServiceProvider.GetRequiredService<IPasswordHasher<Teacher>>().HashPassword(new(), "quiet-blue-door");
        // Identity's third form: a byte for the form, then the kind of digest and the rounds, four bytes each, high byte first.
        Assert.InRange(BinaryPrimitives.ReadInt32BigEndian(Convert.FromBase64String(kept).AsSpan(5)), 210_000, 10_000_000);
    }

    private HttpClient With(params (string Name, string Value)[] settings) => host.WithWebHostBuilder(builder =>
    {
        foreach (var (name, value) in settings) builder.UseSetting(name, value);
        builder.UseSetting("WarmUp", "false");
        builder.ConfigureTestServices(services => services.AddSingleton<IStartupFilter, FromAddress>());
    }).CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });

    private static async Task<HttpResponseMessage> CallAsync(HttpClient client, string from, string? forwarded = null)
    {
        var request = new HttpRequestMessage(HttpMethod.Post, "/api/v1/chords")
        {
            Content = new StringContent("{\"symbols\":[\"C\"]}", Encoding.UTF8, "application/json")
        };
        request.Headers.Add("X-Test-From", from);
        if (forwarded is not null) request.Headers.Add("X-Forwarded-For", forwarded);
        return await client.SendAsync(request);
    }

    [Fact]
    public async Task Too_many_calls_are_answered_429_with_when_to_come_back_and_proxies_are_believed_only_when_named()
    {
        using var client = With(("RateLimits:ApiCallsPerMinute", "2"), ("Proxies", "10.0.0.1"));
        // Through the named proxy each caller has a limit of his own.
        foreach (var caller in new[] { "203.0.113.1", "203.0.113.2" })
            for (var i = 0; i < 2; i++)
                Assert.Equal(HttpStatusCode.OK, (await CallAsync(client, "10.0.0.1", caller)).StatusCode);
        var refused = await CallAsync(client, "10.0.0.1", "203.0.113.1");
        Assert.Equal((HttpStatusCode.TooManyRequests, "application/problem+json"),
            (refused.StatusCode, refused.Content.Headers.ContentType!.MediaType));
        Assert.InRange(refused.Headers.RetryAfter!.Delta!.Value.TotalSeconds, 1, 60);
        // Anybody else may claim what he wants: his limit is his own.
        for (var i = 0; i < 2; i++)
            Assert.Equal(HttpStatusCode.OK, (await CallAsync(client, "198.51.100.7", $"192.0.2.{i}")).StatusCode);
        Assert.Equal(HttpStatusCode.TooManyRequests, (await CallAsync(client, "198.51.100.7", "192.0.2.9")).StatusCode);
    }

    [Fact]
    public async Task Only_listed_hosts_are_answered()
    {
        var client = host.Visit().Client;
        foreach (var (name, status) in new[]
        {
            ("localhost", HttpStatusCode.OK), ("127.0.0.1", HttpStatusCode.OK), ("elsewhere.example", HttpStatusCode.BadRequest),
            ("127.0.0.1.elsewhere.example", HttpStatusCode.BadRequest)
        })
        {
            var request = new HttpRequestMessage(HttpMethod.Get, "/account/sign-in");
            request.Headers.Host = name;
            Assert.Equal(status, (await client.SendAsync(request)).StatusCode);
        }
    }

    [Fact]
    public async Task Behind_a_public_https_address_cookies_are_secure_and_the_host_is_listed()
    {
        using var client = With(("PublicAddress", "https://studio.example"), ("Proxies", "10.0.0.1"));
        var request = new HttpRequestMessage(HttpMethod.Get, "/account/sign-in");
        request.Headers.Host = "studio.example";
        request.Headers.Add("X-Test-From", "10.0.0.1");
        request.Headers.Add("X-Forwarded-Proto", "https");
        var answer = await client.SendAsync(request);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Contains("secure",
            answer.Headers.GetValues("Set-Cookie").Single(c => c.StartsWith("tembri.form", StringComparison.Ordinal)),
            StringComparison.OrdinalIgnoreCase);
        Assert.StartsWith("max-age=", answer.Headers.GetValues("Strict-Transport-Security").Single(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("br")]
    [InlineData("gzip")]
    [InlineData("identity")]
    public async Task Assets_have_fingerprints_and_are_packed_and_kept_and_nothing_else_is_kept(string encoding)
    {
        var visitor = await host.VisitDemoAsync();
        async Task<HttpResponseMessage> Get(string address)
        {
            var request = new HttpRequestMessage(HttpMethod.Get, address);
            request.Headers.Add("Accept-Encoding", encoding);
            return await visitor.Client.SendAsync(request);
        }
        var page = await visitor.PageAsync("/songs");
        foreach (var address in page.QuerySelectorAll("link[rel=stylesheet], script[src]")
            .Select(e => e.GetAttribute("href") ?? e.GetAttribute("src")!))
        {
            Assert.Matches(@"^/assets/[a-z-]+\.[0-9a-f]{10}\.(css|js)$", address);
            var asset = await Get(address);
            Assert.Equal("public, max-age=31536000, immutable", asset.Headers.CacheControl!.ToString());
            Assert.Equal(encoding == "identity" ? [] : [encoding], asset.Content.Headers.ContentEncoding);
            Assert.Contains(asset.Content.Headers.ContentType!.MediaType, new[] { "text/css", "text/javascript" });
        }
        var plain = await Get("/");
        Assert.Contains("no-store", plain.Headers.CacheControl!.ToString(), StringComparison.Ordinal);
        Assert.Equal(encoding == "identity" ? [] : [encoding], plain.Content.Headers.ContentEncoding);
        // Where secrets of an account may stand, nothing is packed.
        Assert.Empty((await Get("/account")).Content.Headers.ContentEncoding);
        Assert.Equal("no-cache", (await Get("/assets/names.json")).Headers.CacheControl!.ToString());
    }

    /// <summary>Two poolers stand before the database, of which one may be gone; with both gone a command is tried again for as
    /// long as was promised, and it is an outage, whatever the driver remembers of them.</summary>
    [Fact]
    public async Task Of_two_poolers_one_may_be_gone_and_with_both_gone_it_is_an_outage()
    {
        var there = new NpgsqlConnectionStringBuilder(host.ConnectionString);
        string Gone() => $"127.0.0.1:{TestServer.FreePort()}";
        TembriDbContext Context(string hosts, int remembered)
        {
            var said = new NpgsqlConnectionStringBuilder(host.ConnectionString)
            {
                Host = hosts, LoadBalanceHosts = true, HostRecheckSeconds = remembered, Timeout = 3
            };
            var options = new DbContextOptionsBuilder<TembriDbContext>();
            options.UseTembriDatabase(said.ConnectionString, TimeSpan.FromSeconds(0.8));
            return new TembriDbContext(options.Options, new FixedStudio(null));
        }
        var leaving = TestContext.Current.CancellationToken;
        var half = $"{Gone()},{there.Host}:{there.Port}";
        await Task.WhenAll(Enumerable.Range(0, 8).Select(async _ =>
        {
            await using var context = Context(half, 0);
            Assert.True(await context.Studios.CountAsync(leaving) >= 0);
            await context.Database.OpenConnectionAsync(leaving);
        }));
        foreach (var remembered in new[] { 0, 10 })
        {
            await using var context = Context($"{Gone()},{Gone()}", remembered);
            var began = Stopwatch.GetTimestamp();
            var fault = await Assert.ThrowsAnyAsync<Exception>(() => context.Studios.CountAsync(leaving));
            Assert.True(Faults.DatabaseFaults.IsOutage(fault), fault.ToString());
            Assert.True(Stopwatch.GetElapsedTime(began) > TimeSpan.FromSeconds(0.3), "it was not tried again");
        }
    }

    [Fact]
    public async Task A_call_that_takes_too_long_is_left_off_and_told_to_come_back()
    {
        using var client = With(("Compute:ApiSeconds", "0.02"));
        var chart = string.Join(" ",
            new[] { "C", "D", "Eb", "F#", "G", "A", "B" }.SelectMany(
                r => new[] { "9", "m7b5", "13", "maj9" }.Select(k => $"| {r}{k}")));
        var answer = await client.PostAsync("/api/v1/ladder",
            new StringContent(System.Text.Json.JsonSerializer.Serialize(new { chart }), Encoding.UTF8, "application/json"));
        Assert.Equal((HttpStatusCode.ServiceUnavailable, "application/problem+json"),
            (answer.StatusCode, answer.Content.Headers.ContentType!.MediaType));
        Assert.True(answer.Headers.RetryAfter!.Delta >= TimeSpan.FromSeconds(1));
    }

    [Fact]
    public async Task It_says_that_it_lives_that_it_is_ready_and_what_it_measures_on_a_port_of_its_own()
    {
        var port = TestServer.FreePort();
        using var client = With(("Metrics:Port", $"{port}"), ("Compute:ApiSeconds", "0.02"));
        foreach (var path in new[] { "/health", "/health/live", "/health/ready" })
            Assert.Equal(HttpStatusCode.OK, (await client.GetAsync(path)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await client.GetAsync("/metrics")).StatusCode);
        var chart = string.Join(" ",
            new[] { "A", "Bb", "B", "F#" }.SelectMany(r => new[] { "9", "m7b5", "13", "maj9" }.Select(k => $"| {r}{k}")));
        await client.PostAsync("/api/v1/ladder",
            new StringContent(System.Text.Json.JsonSerializer.Serialize(new { chart }), Encoding.UTF8, "application/json"));
        using var watcher = new HttpClient();
        var told = await watcher.GetStringAsync($"http://127.0.0.1:{port}/metrics");
        Assert.Matches(@"tembri_compute_duration_count\{lane=""api""\} [1-9]", told);
        Assert.Matches(@"tembri_compute_refused\{lane=""api"",why=""late""\} [1-9]", told);
        Assert.Matches(@"tembri_background_waiting \d+", told);
        Assert.DoesNotContain("Password", told, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task When_too_many_wait_for_their_turn_more_are_refused_and_pages_go_on()
    {
        using var client = With(("Compute:AtOnce", "1"), ("Compute:Waiting", "1"), ("Compute:ApiSeconds", "120"));
        var chart = string.Join(" ",
            new[] { "C", "Db", "D", "Eb", "E" }.SelectMany(r => new[] { "m9", "7#9", "m11", "maj13" }.Select(k => $"| {r}{k}")));
        var body = System.Text.Json.JsonSerializer.Serialize(new { chart });
        var calls = Enumerable.Range(0, 8)
            .Select(_ => client.PostAsync("/api/v1/ladder", new StringContent(body, Encoding.UTF8, "application/json")))
            .ToList();
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/account/sign-in")).StatusCode);
        var statuses = (await Task.WhenAll(calls)).Select(a => a.StatusCode).ToList();
        Assert.Contains(HttpStatusCode.OK, statuses);
        Assert.Contains(HttpStatusCode.ServiceUnavailable, statuses);
        Assert.All(statuses, s => Assert.True(s is HttpStatusCode.OK or HttpStatusCode.ServiceUnavailable));
    }
}
