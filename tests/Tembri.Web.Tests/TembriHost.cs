using System.Net;
using AngleSharp.Html.Dom;
using AngleSharp.Html.Parser;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Tembri.Web.Setup;

[assembly: AssemblyFixture(typeof(Tembri.Web.Tests.TembriHost))]

namespace Tembri.Web.Tests;

/// <summary>The application on a database of its own, with the demo studio loaded.</summary>
public sealed class TembriHost : WebApplicationFactory<Program>, IAsyncLifetime
{
    private readonly string _database = $"tembri_test_{Guid.NewGuid():N}";

    private static string DatabaseServer => Environment.GetEnvironmentVariable("TEMBRI_TEST_SERVER") ?? TestServer.OfStart();

    public string ConnectionString => $"{DatabaseServer};Database={_database}";

    public async ValueTask InitializeAsync()
    {
        await Administer($"create database {_database}");
        _ = Services; // starts the host, which migrates and loads the demo
    }

    public override async ValueTask DisposeAsync()
    {
        await base.DisposeAsync();
        NpgsqlConnection.ClearAllPools();
        await Administer($"drop database {_database} with (force)");
    }

    private static async Task Administer(string sql)
    {
        await using var connection = new NpgsqlConnection($"{DatabaseServer};Database=postgres");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }

    /// <summary>Asks the database of the application; the first field of the first row.</summary>
    public async Task<object?> AskAsync(string sql)
    {
        await using var connection = new NpgsqlConnection(ConnectionString);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        return await command.ExecuteScalarAsync();
    }

    /// <summary>Asks until the answer is true, for ten seconds at most: for what is written behind an answer.</summary>
    /// <returns>True when it became true.</returns>
    public async Task<bool> IsSoonAsync(string sql)
    {
        for (var i = 0; i < 200; i++)
        {
            if (await AskAsync(sql) is true) return true;
            await Task.Delay(50, TestContext.Current.CancellationToken);
        }
        return false;
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        Environment.SetEnvironmentVariable("TEMBRI_DATABASE", null);
        builder.UseSetting("ConnectionStrings:Tembri", ConnectionString);
        builder.UseSetting("Demo", "true");
        builder.UseSetting("DemoFolder", Path.Combine(Folder(AppContext.BaseDirectory), "demo"));
        builder.UseSetting("RateLimits:SignInsPerMinute", "1000");
        builder.UseSetting("Background:Workers", "0");
        builder.UseSetting("WarmUp", "false");
        builder.UseSetting("Background:PauseSeconds", "0");
        // Everything runs at once here; deadlines have tests of their own.
        foreach (var lane in (string[])["Api", "Page", "Hearing"]) builder.UseSetting($"Compute:{lane}Seconds", "90");
        builder.UseSetting("Serilog:MinimumLevel:Default", "Fatal");
        builder.UseSetting("Serilog:MinimumLevel:Override:Microsoft.AspNetCore", "Fatal");
        builder.UseSetting("Database:WatchContexts", "true");
        builder.UseEnvironment("Production");
        builder.ConfigureTestServices(services =>
        {
            services.Configure<PasswordHasherOptions>(LightPasswords.Use);
            // Several hosts in one process would each collect what all of them made.
            services.Remove(services.Single(s => s.ImplementationType == typeof(Housekeeping)));
        });
    }

    private static string Folder(string from) =>
        File.Exists(Path.Combine(from, "Tembri.slnx")) ? from : Folder(Path.GetDirectoryName(from)!);

    /// <summary>A visitor with her own cookies.</summary>
    public Visitor Visit() => new(CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));

    /// <summary>A visitor who is signed in as the demo teacher.</summary>
    public async Task<Visitor> VisitDemoAsync()
    {
        var visitor = Visit();
        var answer = await visitor.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return visitor;
    }

    /// <summary>A visitor with a new studio of her own.</summary>
    public async Task<Visitor> VisitNewStudioAsync(string? email = null)
    {
        var visitor = Visit();
        var answer = await visitor.PostAsync("/account/open", "/account/open", ("StudioName", "Second Studio"),
            ("Email", email ?? $"{Guid.NewGuid():N}@studio.example"), ("Password", "quiet-blue-door"));
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return visitor;
    }
}

/// <summary>A browser without a window: cookies, pages, forms.</summary>
public sealed class Visitor(HttpClient client)
{
    private static readonly HtmlParser Parser = new();

    public HttpClient Client => client;

    public async Task<IHtmlDocument> PageAsync(string address)
    {
        var answer = await client.GetAsync(address);
        Assert.True(answer.StatusCode == HttpStatusCode.OK, $"{address} answered {answer.StatusCode} {answer.Headers.Location}");
        return Parser.ParseDocument(await answer.Content.ReadAsStringAsync());
    }

    public static async Task<IHtmlDocument> Read(HttpResponseMessage answer) =>
        Parser.ParseDocument(await answer.Content.ReadAsStringAsync());

    /// <summary>Posts a form with the token of a page.</summary>
    public async Task<HttpResponseMessage> PostAsync(string page, string address, params (string Name, string Value)[] fields)
    {
        var document = await PageAsync(page);
        var token = document.QuerySelector("input[name=__RequestVerificationToken]")!.GetAttribute("value")!;
        // What the page's forms carry besides what is typed: the count of decisions on a ladder, the version of a studio or
        // student.
        var carried = fields.Concat(new[] { "revision", "Form.Version" }.Where(name => fields.All(f => f.Name != name))
            .Select(name => (name, document.QuerySelector($"input[name='{name}']")?.GetAttribute("value") ?? ""))
            .Where(f => f.Item2.Length > 0));
        return await client.PostAsync(address,
            new FormUrlEncodedContent(
                carried.Append(("__RequestVerificationToken", token)).Select(f => KeyValuePair.Create(f.Item1, f.Item2))));
    }

    public async Task<string> SongAsync(string title)
    {
        var desk = await PageAsync("/songs");
        return desk.QuerySelectorAll(".desk .song").Single(a => a.TextContent == title).GetAttribute("href")!.Split('/')[2];
    }

    public async Task<string> StudentAsync(string nickname)
    {
        var desk = await PageAsync("/songs");
        return desk.QuerySelectorAll(".desk thead a").Single(a => a.TextContent == nickname).GetAttribute("href")!.Split('/')[2];
    }

    public async Task<string> LadderAsync(string title, string nickname) =>
        $"/songs/{await SongAsync(title)}/ladder/{await StudentAsync(nickname)}";

    /// <summary>Takes a new chart down and gives its identifier.</summary>
    public async Task<string> TakeDownAsync(string text)
    {
        var saved = await PostAsync("/songs/new", "/songs/new", ("Text", text), ("Version", "0"));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        return saved.Headers.Location!.ToString().Split('/')[2];
    }

    /// <summary>Adds a student and gives the identifier.</summary>
    public async Task<string> AddStudentAsync(string nickname)
    {
        var saved = await PostAsync("/students/new", "/students/new", ("Form.Nickname", nickname), ("Form.HandId", "medium"),
            ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral"));
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        return saved.Headers.Location!.ToString().Split('/')[2];
    }
}
