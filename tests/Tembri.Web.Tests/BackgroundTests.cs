using System.Net;
using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;

namespace Tembri.Web.Tests;

/// <summary>The library arranged in the background: by any instance, nothing twice, with progress, and taken back when asked.</summary>
public sealed partial class BackgroundTests(TembriHost host)
{
    private static readonly string[] Chords = ["C", "G", "Am", "F", "D", "Em", "A", "E"];

    private static async Task<(Visitor Visitor, List<string> Songs)> Library(Visitor visitor, int songs)
    {
        var ids = new List<string>();
        for (var i = 0; i < songs; i++) ids.Add(await visitor.TakeDownAsync($"title: Lantern {i}\ntempo: {80 + i}\n| {Chords[i % 8]} | {Chords[(i + 3) % 8]} |"));
        return (visitor, ids);
    }

    private static async Task<string> Progress(Visitor visitor) => (await visitor.PageAsync("/?handler=Arranging")).QuerySelector("#arranging")!.TextContent;

    [Fact]
    public async Task Two_instances_arrange_a_library_together_and_every_version_once()
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 6);
        foreach (var hand in new[] { "medium", "child" })
            await visitor.PostAsync("/students/new", "/students/new", ("Form.Nickname", hand), ("Form.HandId", hand), ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral"));
        // Nobody works here, so the orders wait; ordering again adds none.
        Assert.Contains("6 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
        await visitor.PostAsync("/songs/new", "/?handler=Arrange");
        Assert.Contains("6 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
        await using (var one = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        await using (var two = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        {
            using var first = one.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
            using var second = two.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
            var until = DateTime.UtcNow.AddSeconds(90);
            while ((await Progress(visitor)).Contains("still to be arranged", StringComparison.Ordinal) && DateTime.UtcNow < until) await Task.Delay(200, TestContext.Current.CancellationToken);
        }
        Assert.Equal("", Spaces().Replace(await Progress(visitor), ""));
        var desk = await visitor.PageAsync("/");
        Assert.All(songs, song => Assert.False(desk.QuerySelector($"#song-{song}")!.HasAttribute("hx-get")));
        await using var connection = new Npgsql.NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        // xmax is 0 in a row that was written once and never over.
        await using var command = new Npgsql.NpgsqlCommand($"select count(*) filter (where xmax = 0) || ' of ' || count(*) from arranged_ladders where song_id = any(array['{string.Join("','", songs)}']::uuid[])", connection);
        Assert.Equal("12 of 12", await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task Orders_are_taken_back_and_songs_are_then_arranged_when_they_are_looked_at()
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 3);
        await visitor.AddStudentAsync("Fern");
        Assert.Contains("3 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
        var stopped = await visitor.PostAsync("/songs/new", "/?handler=StopArranging");
        Assert.Equal(HttpStatusCode.Redirect, stopped.StatusCode);
        Assert.Contains("3 versions are not made yet", await Progress(visitor), StringComparison.Ordinal);
        await visitor.PageAsync($"/?handler=Row&song={songs[0]}");
        Assert.Contains("2 versions are not made yet", await Progress(visitor), StringComparison.Ordinal);
    }

    [GeneratedRegex(@"\s")]
    private static partial Regex Spaces();
}
