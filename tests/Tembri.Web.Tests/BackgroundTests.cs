using System.Net;
using System.Text.RegularExpressions;
using Hangfire;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Tembri.Data.Studios;
using Tembri.Web.Ladders;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>The library arranged in the background: by any instance, nothing twice, with progress, and taken back when
/// asked.</summary>
public sealed partial class BackgroundTests(TembriHost host)
{
    private static readonly string[] Chords = ["C", "G", "Am", "F", "D", "Em", "A", "E"];

    private static async Task<(Visitor Visitor, List<string> Songs)> Library(Visitor visitor, int songs)
    {
        var ids = new List<string>();
        for (var i = 0; i < songs; i++)
            ids.Add(await visitor.TakeDownAsync(
                $"title: Lantern {i}\ntempo: {80 + i}\n| {Chords[i % 8]} | {Chords[(i + 3) % 8]} |"));
        return (visitor, ids);
    }

    private static async Task<string> Progress(Visitor visitor) =>
        (await visitor.PageAsync("/songs?handler=Arranging")).QuerySelector("#arranging")!.TextContent;

    private static async Task<string> AddAsync(Visitor visitor, string hand, string pace = "26")
    {
        var saved = await visitor.PostAsync("/students/new", "/students/new", ("Form.Nickname", hand), ("Form.HandId", hand),
            ("Form.GuitarId", "steel"), ("Form.Barres", "Neutral"), ("Form.Changes", pace));
        return saved.Headers.Location!.ToString();
    }

    [Fact]
    public async Task Two_instances_arrange_two_libraries_and_every_version_once()
    {
        var libraries = new List<(Visitor Visitor, List<string> Songs)>();
        foreach (var _ in Enumerable.Range(0, 2))
        {
            var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 4);
            foreach (var hand in new[] { "medium", "child" }) await AddAsync(visitor, hand);
            // Nobody works here, so the orders wait; ordering again adds none.
            Assert.Contains("4 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
            await visitor.PostAsync("/songs/new", "/songs?handler=Arrange");
            Assert.Contains("4 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
            libraries.Add((visitor, songs));
        }
        // However often a studio ordered, one run stands in the queue for it.
        var studios = $"select studio_id from songs where id in ('{libraries[0].Songs[0]}', '{libraries[1].Songs[0]}')";
        Assert.Equal(2L, await host.AskAsync($"select count(*) from arranging_runs where studio_id in ({studios})"));
        await using (var one = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        await using (var two = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        {
            using var first = one.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
            using var second = two.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
            var until = DateTime.UtcNow.AddSeconds(180);
            while ((long)(await host.AskAsync($"select count(*) from arranging_runs where studio_id in ({studios})"))! > 0
                && DateTime.UtcNow < until)
                await Task.Delay(200, TestContext.Current.CancellationToken);
        }
        foreach (var (visitor, songs) in libraries)
        {
            Assert.Equal("", Spaces().Replace(await Progress(visitor), ""));
            var desk = await visitor.PageAsync("/songs");
            Assert.All(songs, song => Assert.False(desk.QuerySelector($"#song-{song}")!.HasAttribute("hx-get")));
            // xmax is 0 in a row that was written once and never over.
            Assert.Equal("8 of 8",
                await host.AskAsync($"select count(*) filter (where xmax = 0) || ' of ' || count(*) from arranged_ladders where song_id = any(array['{string.Join("','", songs)}']::uuid[])"));
        }
    }

    [Fact]
    public async Task Work_that_a_newer_version_queued_waits_until_an_instance_knows_it()
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 1);
        await AddAsync(visitor, "medium");
        await visitor.PostAsync("/songs/new", "/songs?handler=Arrange");
        var ofStudio = $"arguments::text like '%' || (select studio_id from songs where id = '{songs[0]}') || '%'";
        string Renamed(string from, string to) =>
            $"with changed as (update hangfire.job set invocationdata = replace(invocationdata::text, '{from}', '{to}')::jsonb where {ofStudio} returning 1) select count(*) from changed";
        // The method of a version to come, which this one does not have.
        Assert.NotEqual(0L, await host.AskAsync(Renamed("RunAsync", "RunBetterAsync")));
        await using (var old = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        {
            using var _ = old.CreateClient();
            await Until($"select count(*) from hangfire.job where {ofStudio} and id not in (select jobid from hangfire.state where name = 'Scheduled' and reason like 'Retry%')",
                0L);
        }
        Assert.Equal(1L, await host.AskAsync($"select count(*) from arranging_orders where song_id = '{songs[0]}'"));
        // The version that knows it comes; nobody waits here for the seconds until the next try.
        Assert.NotEqual(0L, await host.AskAsync(Renamed("RunBetterAsync", "RunAsync")));
        await host.AskAsync($"update hangfire.set set score = 0 where key = 'schedule' and value in (select id::text from hangfire.job where {ofStudio})");
        await using (var later = host.WithWebHostBuilder(b => b.UseSetting("Background:Workers", "1")))
        {
            using var _ = later.CreateClient();
            await Until($"select count(*) from arranging_orders where song_id = '{songs[0]}'", 0L);
        }
        Assert.Equal(1L, await host.AskAsync($"select count(*) from arranged_ladders where song_id = '{songs[0]}'"));
    }

    private async Task Until(string sql, long wanted)
    {
        var until = DateTime.UtcNow.AddSeconds(90);
        while (!Equals(await host.AskAsync(sql), wanted))
        {
            Assert.True(DateTime.UtcNow < until, $"After 90 s still not {wanted}: {sql}");
            await Task.Delay(200, TestContext.Current.CancellationToken);
        }
    }

    [Fact]
    public async Task What_is_ordered_anew_while_it_is_worked_on_stays_ordered()
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 2);
        await visitor.AddStudentAsync("Fern");
        await using var scope = host.Services.CreateAsyncScope();
        ((SignedInStudio)scope.ServiceProvider.GetRequiredService<ICurrentStudio>()).Override =
            (Guid)(await host.AskAsync($"select studio_id from songs where id = '{songs[0]}'"))!;
        var orders = scope.ServiceProvider.GetRequiredService<ArrangingOrders>();
        var order = (await orders.NextAsync(default))!;
        await orders.OrderAsync(order.SongId, default);
        await orders.CrossOffAsync(order, default);
        Assert.Contains("2 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
        await orders.CrossOffAsync((await orders.NextAsync(default))!, default);
        Assert.Contains("One song is still to be arranged", await Progress(visitor), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("Form.Changes", "90", true)]
    [InlineData("Form.HandId", "child", true)]
    [InlineData("Form.Stretch", "90", false)]
    public async Task The_library_is_ordered_when_a_student_becomes_another_kind_of_player(string field, string value,
        bool isOrdered)
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 1);
        var student = await AddAsync(visitor, "medium");
        await visitor.PageAsync($"/songs?handler=Row&song={songs[0]}");
        await visitor.PostAsync("/songs/new", "/songs?handler=StopArranging");
        var fields = new Dictionary<string, string>
        {
            ["Form.Nickname"] = "Fern", ["Form.HandId"] = "medium", ["Form.GuitarId"] = "steel", ["Form.Barres"] = "Neutral",
            ["Form.Changes"] = "26", [field] = value
        };
        var saved = await visitor.PostAsync(student, student, [.. fields.Select(f => (f.Key, f.Value))]);
        Assert.Equal(HttpStatusCode.Redirect, saved.StatusCode);
        Assert.Equal(isOrdered,
            (await Progress(visitor)).Contains("One song is still to be arranged", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Orders_are_taken_back_and_songs_are_then_arranged_when_they_are_looked_at()
    {
        var (visitor, songs) = await Library(await host.VisitNewStudioAsync(), 3);
        await visitor.AddStudentAsync("Fern");
        Assert.Contains("3 songs are still to be arranged", await Progress(visitor), StringComparison.Ordinal);
        var stopped = await visitor.PostAsync("/songs/new", "/songs?handler=StopArranging");
        Assert.Equal(HttpStatusCode.Redirect, stopped.StatusCode);
        Assert.Contains("3 versions are not made yet", await Progress(visitor), StringComparison.Ordinal);
        await visitor.PageAsync($"/songs?handler=Row&song={songs[0]}");
        Assert.Contains("2 versions are not made yet", await Progress(visitor), StringComparison.Ordinal);
    }

    /// <summary>A queue whose connection broke since it was last used is asked again; what is no outage, and one that lasts, is
    /// told.</summary>
    [Theory]
    [InlineData(2, true, 3)]
    [InlineData(9, true, 3)]
    [InlineData(9, false, 1)]
    public async Task A_job_is_given_out_again_where_the_connection_of_the_queue_broke(int broken, bool isOutage, int expected)
    {
        var tries = 0;
        void Give(IBackgroundJobClient _)
        {
            if (++tries <= broken)
                throw new BackgroundJobClientException("The queue was not reached.",
                    isOutage ? new NpgsqlException("broken", new IOException()) : new InvalidOperationException());
        }
        var given = host.Services.GetRequiredService<IBackgroundJobClient>()
            .GiveAsync(Give, TestContext.Current.CancellationToken);
        if (broken < expected) await given;
        else await Assert.ThrowsAsync<BackgroundJobClientException>(() => given);
        Assert.Equal(expected, tries);
    }

    [GeneratedRegex(@"\s")]
    private static partial Regex Spaces();
}
