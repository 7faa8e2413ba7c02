using System.Net;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Routing;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.Configuration;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>Several databases behind one application: what a standby answers, and what the wall between studios holds when a
/// query forgets its filter.</summary>
public sealed class StandbyTests(TembriHost host)
{
    /// <summary>Addresses of the pages that may be read from a standby; SONG and STUDENT are filled in.</summary>
    private static readonly Dictionary<string, string> Looked = new()
    {
        ["/Index"] = "/", ["/Songs/Index"] = "/songs", ["/Students/Index"] = "/students",
        ["/Students/Road"] = "/students/STUDENT/road", ["/Lessons"] = "/lessons", ["/Sets"] = "/sets",
        ["/Find"] = "/find?q=bridge", ["/Grips"] = "/studio/grips", ["/Guitars"] = "/studio/guitars",
        ["/Songs/Steps"] = "/songs/SONG/ladder/STUDENT/steps", ["/Songs/Places"] = "/songs/SONG/places/STUDENT",
        ["/Songs/Changes"] = "/songs/SONG/changes/STUDENT",
        ["/Songs/Compare"] = "/songs/SONG/ladder/STUDENT/compare", ["/Songs/Listen"] = "/songs/SONG/listen?student=STUDENT",
        ["/Songs/Stage"] = "/songs/SONG/stage/STUDENT", ["/Songs/Ladder"] = "/songs/SONG/ladder/STUDENT",
        ["/Songs/Files"] = "/songs/SONG/files?student=STUDENT", ["/Songs/Sheet"] = "/songs/SONG/sheet/STUDENT",
        ["/Songs/History"] = "/songs/SONG/history", ["/Songs/Class"] = "/songs/SONG/class?with=STUDENT",
        ["/Songs/Figures"] = "/songs/SONG/figures/STUDENT", ["/Songs/RightHand"] = "/songs/SONG/right-hand/STUDENT",
    };

    /// <summary>Commands are prepared where the connection is one's own, and nowhere else; what cannot be read is named, and
    /// none of it repeated.</summary>
    [Theory]
    [InlineData("Host=db;Username=tembri", 120)]
    [InlineData("Host=db;Username=tembri;No Reset On Close=true", 0)]
    [InlineData("Host=db;Username=tembri;Max Auto Prepare=0", 0)]
    [InlineData("Host=db;Username=tembri;Max Auto Prepare=30", 30)]
    public void Commands_are_prepared_unless_a_pooler_lends_the_connection(string connection, int prepared)
    {
        static Databases Of(params (string Name, string Value)[] set) =>
            Databases.Of(new ConfigurationBuilder()
                .AddInMemoryCollection(
                    set.Select(s => KeyValuePair.Create<string, string?>($"ConnectionStrings:{s.Name}", s.Value))).Build());
        static int Prepared(string? connection) => new NpgsqlConnectionStringBuilder(connection).MaxAutoPrepare;
        var databases = Of(("Tembri", connection), ("Standby", connection));
        Assert.Equal((prepared, prepared), (Prepared(databases.Main), Prepared(databases.Standby)));
        Assert.Equal(("db", "tembri"),
            (new NpgsqlConnectionStringBuilder(databases.Main).Host,
                new NpgsqlConnectionStringBuilder(databases.Main).Username));
        Assert.Equal(Prepared(connection), Prepared(databases.Direct));
        Assert.Null(Of(("Tembri", connection)).Standby);
        foreach (var name in new[] { "Tembri", "Direct", "Standby" })
            foreach (var bad in new[] { "sesame", "Sesame=1;Host=db" })
            {
                var said = Assert.Throws<FormatException>(
                    () => Of([.. new[] { ("Tembri", connection) }.Where(_ => name != "Tembri"), (name, bad)])).Message;
                Assert.Contains($"ConnectionStrings:{name}", said, StringComparison.Ordinal);
                Assert.DoesNotContain("esame", said, StringComparison.Ordinal);
            }
    }

    [Fact]
    public async Task Pages_that_a_standby_may_answer_are_answered_by_one_and_write_nothing()
    {
        // A browser that saved something a moment ago, as this one that signs in, would be read from the primary.
        await using var application = WithStandby("standby", ownSaves: 0);
        var visitor =
            new Visitor(application.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));
        await visitor.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
        var (song, student) = (await visitor.SongAsync("Salt on the Sill"), await visitor.StudentAsync("Wren"));
        var marked = application.Services.GetRequiredService<EndpointDataSource>().Endpoints.Select(
                e => e.Metadata.GetMetadata<PageActionDescriptor>()).OfType<PageActionDescriptor>()
            .DistinctBy(p => p.ViewEnginePath);
        var loader = application.Services.GetRequiredService<Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure.PageLoader>();
        var paths = new List<string>();
        foreach (var page in marked)
            if (Attribute.IsDefined((await loader.LoadAsync(page, EndpointMetadataCollection.Empty)).ModelTypeInfo!,
                typeof(MayBeASecondOldAttribute)))
                paths.Add(page.ViewEnginePath);
        Assert.Equal(Looked.Keys.Order(), paths.Order());
        var failed = new List<string>();
        foreach (var address in Looked.Values)
        {
            var answer = await visitor.Client.GetAsync(
                address.Replace("SONG", song, StringComparison.Ordinal).Replace("STUDENT", student, StringComparison.Ordinal));
            if (answer.StatusCode != HttpStatusCode.OK) failed.Add($"{address}: {answer.StatusCode}");
        }
        Assert.Equal([], failed);
        Assert.True(await ReadsOfAsync("standby") > 0, "no page was read from the standby");
    }

    [Fact]
    public async Task A_browser_that_saved_something_reads_from_the_primary()
    {
        await using var application = WithStandby("unasked", ownSaves: 120);
        var visitor =
            new Visitor(application.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));
        var entered = await visitor.PostAsync("/account/sign-in", "/account/sign-in?handler=Demo");
        Assert.Equal("tembri.saved=1; max-age=120; path=/; samesite=lax; httponly",
            Assert.Single(entered.Headers.GetValues("Set-Cookie"),
                c => c.StartsWith(StandbyReads.Cookie, StringComparison.Ordinal)));
        await visitor.PageAsync("/students");
        Assert.Equal(0, await ReadsOfAsync("unasked"));
    }

    [Fact]
    public async Task A_page_of_a_standby_is_shown_while_nothing_can_be_written_however_long_nobody_looked()
    {
        await using var application = WithStandby("unwritten", ownSaves: 0);
        var visitor =
            new Visitor(application.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false }));
        await visitor.PostAsync("/account/open", "/account/open", ("StudioName", "Long Lunch"),
            ("Email", $"{Guid.NewGuid():N}@studio.example"), ("Password", "quiet-blue-door"));
        var session = (Guid)(await host.AskAsync("select s.id from sessions s join teachers t on t.id = s.teacher_id "
            + "join studios o on o.id = t.studio_id where o.name = 'Long Lunch'"))!;
        await host.AskAsync($"update sessions set seen_at = now() - interval '6 minutes' where id = '{session}'");
        var isSeen = $"select seen_at > now() - interval '1 minute' from sessions where id = '{session}'";
        await using (var holding = new NpgsqlConnection(host.ConnectionString))
        {
            await holding.OpenAsync(TestContext.Current.CancellationToken);
            await using var held = await holding.BeginTransactionAsync(TestContext.Current.CancellationToken);
            await using var hold = new NpgsqlCommand($"select 1 from sessions where id = '{session}' for update", holding);
            await hold.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
            // As long as this is held, nothing about the session can be written.
            foreach (var _ in Enumerable.Range(0, 3)) await visitor.PageAsync("/students");
            Assert.Equal(false, await host.AskAsync(isSeen));
        }
        Assert.True(await host.IsSoonAsync(isSeen), "the look was not noted when it could be");
    }

    private WebApplicationFactory<Program> WithStandby(string name, int ownSaves) => host.WithWebHostBuilder(builder =>
    {
        builder.UseSetting("ConnectionStrings:Standby",
            $"{host.ConnectionString};Application Name={name};Options=-c default_transaction_read_only=on");
        builder.UseSetting("Database:OwnSavesSeconds", $"{ownSaves}");
        builder.UseSetting("WarmUp", "false");
    });

    private async Task<long> ReadsOfAsync(string name)
    {
        await using var connection = new NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        await using var command =
            new NpgsqlCommand($"select count(*) from pg_stat_activity where application_name = '{name}'", connection);
        return (long)(await command.ExecuteScalarAsync())!;
    }

    [Fact]
    public async Task A_query_that_forgets_its_filter_sees_and_changes_one_studio_only()
    {
        var (first, second) = (await host.VisitNewStudioAsync(), await host.VisitNewStudioAsync());
        var (mine, others) = (Guid.Parse(await first.TakeDownAsync("title: Mine Alone\n| C | F |")),
            Guid.Parse(await second.TakeDownAsync("title: Another's\n| G | C |")));
        var role = $"forgetful_{Guid.NewGuid():N}";
        await using var connection = new NpgsqlConnection(host.ConnectionString);
        await connection.OpenAsync();
        async Task<object?> Ask(string sql)
        {
            await using var command = new NpgsqlCommand(sql, connection);
            return await command.ExecuteScalarAsync();
        }
        var studio = (Guid)(await Ask($"select studio_id from songs where id = '{mine}'"))!;
        await Ask($"create role {role} login password 'forgets'; grant select, insert, update, delete on all tables in schema public to {role}");
        try
        {
            var login = new NpgsqlConnectionStringBuilder(host.ConnectionString)
            {
                Username = role, Password = "forgets", Pooling = false
            }.ConnectionString;
            await using var context =
                new TembriDbContext((DbContextOptions<TembriDbContext>)new DbContextOptionsBuilder<TembriDbContext>()
                    .UseTembriDatabase(login).Options, new FixedStudio(studio));
            Assert.Equal([mine], await context.Songs.IgnoreQueryFilters().Select(s => s.Id).ToListAsync());
            Assert.Equal(1,
                await context.Songs.IgnoreQueryFilters().Where(s => s.Id == mine || s.Id == others)
                    .ExecuteUpdateAsync(set => set.SetProperty(s => s.Title, "Changed")));
            Assert.Equal(0, await context.Songs.IgnoreQueryFilters().Where(s => s.Id == others).ExecuteDeleteAsync());
            // The same inside a transaction, and once it is over; on another context's turn nothing is left of it.
            await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
            {
                await using var transaction = await context.Database.BeginTransactionAsync();
                Assert.Equal(1, await context.Songs.IgnoreQueryFilters().CountAsync());
                await transaction.CommitAsync();
            });
            Assert.Equal(1, await context.Songs.IgnoreQueryFilters().CountAsync());
            await using var nobody =
                new TembriDbContext((DbContextOptions<TembriDbContext>)new DbContextOptionsBuilder<TembriDbContext>()
                    .UseTembriDatabase(login).Options, new FixedStudio(null));
            Assert.Equal(0, await nobody.Songs.IgnoreQueryFilters().CountAsync());
            Assert.Equal("Another's", await Ask($"select title from songs where id = '{others}'"));
        }
        finally { await Ask($"drop owned by {role}; drop role {role}"); }
    }
}
