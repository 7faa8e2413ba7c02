using System.Diagnostics;
using System.Net;

namespace Tembri.Fault.Tests;

/// <summary>What holds when the application or the database is killed, is away, or has no room: nothing that was acknowledged is
/// lost, nothing is there twice.</summary>
[Collection("one database, which is killed"), Trait("Category", "Faults")]
public sealed class FaultTests(OwnDatabase database)
{
    /// <summary>Writes numbered charts as fast as they are acknowledged, until told to stop.</summary>
    private static async Task<(int Acknowledged, int Sent)> WriteAsync(Writer writer, string song,
        Dictionary<string, string> fields, int from, CancellationToken stop)
    {
        var (acknowledged, sent) = (from, from);
        while (!stop.IsCancellationRequested)
        {
            sent++;
            if (await writer.KeepAsync(song, fields, $"title: Number {sent}\n| C |") is not { } version) break;
            (acknowledged, fields["Version"]) = (sent, version.ToString());
        }
        return (acknowledged, sent);
    }

    private static int NumberIn(string text) => int.Parse(text.Split('\n')[0].Split(' ')[^1]);

    [Fact]
    public async Task Nothing_acknowledged_is_lost_and_nothing_is_twice_when_the_application_is_killed_in_mid_save()
    {
        var connection = await database.NewDatabaseAsync();
        var random = new Random(1);
        var tembri = await new RunningTembri(connection).ReadyAsync();
        using var writer = new Writer(tembri.Address);
        await writer.OpenStudioAsync();
        var song = await writer.NewSongAsync("title: Number 0\n| C |");
        var stored = 0;
        for (var round = 0; round < OwnDatabase.Rounds(1); round++)
        {
            var fields = await writer.FieldsAsync($"/songs/{song}/chart");
            var newSong = await writer.FieldsAsync("/songs/new");
            newSong["Text"] = $"title: Round {round}\n| G |";
            using var stop = new CancellationTokenSource();
            var writing = WriteAsync(writer, song, fields, stored, stop.Token);
            var adding = writer.PostAsync("/songs/new", newSong)
                .ContinueWith(t => t.IsCompletedSuccessfully && t.Result.StatusCode == HttpStatusCode.Redirect,
                    TaskScheduler.Default);
            await Task.Delay(random.Next(40, 400));
            tembri.Kill();
            stop.Cancel();
            var (acknowledged, sent) = await writing;
            await adding;
            tembri.Dispose();
            tembri = await new RunningTembri(connection, tembri.Port).ReadyAsync();
            stored = NumberIn(await writer.TextAsync(song));
            Assert.InRange(stored, acknowledged, sent);
            // The new song is sent again, as the teacher does who saw no answer: it is there once.
            Assert.Equal(HttpStatusCode.Redirect, (await writer.PostAsync("/songs/new", newSong)).StatusCode);
            Assert.Single((await writer.Client.GetStringAsync("/songs")).Split($"Round {round}<").Skip(1));
        }
        tembri.Dispose();
    }

    [Fact]
    public async Task Nothing_acknowledged_is_lost_when_the_database_is_killed_in_mid_save_and_all_recovers_by_itself()
    {
        var random = new Random(2);
        var tembri = await database.TembriAsync();
        using var writer = new Writer(tembri.Address);
        await writer.OpenStudioAsync();
        var song = await writer.NewSongAsync("title: Number 0\n| C |");
        var stored = 0;
        for (var round = 0; round < OwnDatabase.Rounds(1); round++)
        {
            var fields = await writer.FieldsAsync($"/songs/{song}/chart");
            using var stop = new CancellationTokenSource();
            var writing = WriteAsync(writer, song, fields, stored, stop.Token);
            await Task.Delay(random.Next(40, 400));
            database.Kill();
            stop.Cancel();
            var (acknowledged, sent) = await writing;
            await database.StartAsync();
            await Until(async () => (await writer.Client.GetAsync($"/songs/{song}/chart")).StatusCode == HttpStatusCode.OK);
            stored = NumberIn(await writer.TextAsync(song));
            Assert.InRange(stored, acknowledged, sent);
        }
    }

    [Fact]
    public async Task While_the_database_is_down_every_page_says_so_at_once_and_the_log_holds_one_line_each_and_nothing_typed()
    {
        var tembri = await database.TembriAsync();
        using var writer = new Writer(tembri.Address);
        await writer.OpenStudioAsync();
        var song = await writer.NewSongAsync("title: Secret Orchard\n| C |");
        var fields = await writer.FieldsAsync($"/songs/{song}/chart");
        var before = tembri.Log.Count;
        database.Stop();
        try
        {
            var asked = 0;
            foreach (var page in new[]
            {
                "/", $"/songs/{song}/chart", "/songs/new", "/studio", "/account", "/account/sign-in",
                $"/?handler=Row&song={song}"
            })
            {
                var watch = Stopwatch.StartNew();
                var answer = await writer.Client.GetAsync(page);
                var body = await answer.Content.ReadAsStringAsync();
                Assert.True(answer.StatusCode == HttpStatusCode.ServiceUnavailable, $"{page}: {answer.StatusCode}");
                Assert.True(watch.ElapsedMilliseconds < 1_000, $"{page} took {watch.ElapsedMilliseconds} ms");
                Assert.True(answer.Headers.RetryAfter!.Delta > TimeSpan.Zero);
                Assert.Contains("What you saved before is safe", body, StringComparison.Ordinal);
                Assert.Matches("give this number: [0-9a-f]{32}", body);
                asked++;
            }
            fields["Text"] = "title: Secret Orchard\n| Typed while it was down |";
            using var request = new HttpRequestMessage(HttpMethod.Post, $"/songs/{song}/chart?handler=Keep")
            {
                Content = new FormUrlEncodedContent(fields)
            };
            request.Headers.Add("X-Tembri", "script");
            var keep = await writer.Client.SendAsync(request);
            Assert.Equal((HttpStatusCode.ServiceUnavailable, "application/problem+json"),
                (keep.StatusCode, keep.Content.Headers.ContentType!.MediaType));
            Assert.Contains("\"database\"", await keep.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            asked++;
            // Computing needs no database.
            Assert.Equal(HttpStatusCode.OK,
                (await writer.Client.PostAsync("/api/v1/chords",
                    new StringContent("{\"symbols\":[\"Am7\"]}", System.Text.Encoding.UTF8, "application/json"))).StatusCode);
            var lines = tembri.Log.Skip(before).Where(l => l.Contains(" ERR ", StringComparison.Ordinal)).ToList();
            // That the database is away is said once beside them, within ten seconds.
            Assert.InRange(lines.RemoveAll(l => l.Contains("What is needed does not answer", StringComparison.Ordinal)), 0, 1);
            Assert.Equal(asked, lines.Count);
            Assert.All(lines,
                l => Assert.Matches(@"^\d{4}-\d\d-\d\d \d\d:\d\d:\d\d\.\d{3} \S+ ERR ""?(GET|POST)""? ""?/\S* 503 trace ""?[0-9a-f]{32}""? studio \S+: ",
                    l));
        }
        finally { await database.StartAsync(); }
        await Until(async () => (await writer.Client.GetAsync("/")).StatusCode == HttpStatusCode.OK);
        foreach (var secret in new[] { "Secret Orchard", "Typed while", writer.Email, "quiet-blue-door" })
            Assert.DoesNotContain(secret, string.Join('\n', tembri.Log), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_backup_taken_while_teachers_work_brings_everything_back_and_what_was_there_stays_beside_it()
    {
        var connection = await database.NewDatabaseAsync();
        var file = Path.Combine(Path.GetTempPath(), $"{Guid.NewGuid():N}.tar");
        using var tembri = await new RunningTembri(connection).ReadyAsync();
        using var writer = new Writer(tembri.Address);
        await writer.OpenStudioAsync();
        var song = await writer.NewSongAsync("title: Before\n| C |");
        try
        {
            Assert.True(database.RunScript("backup", connection, file));
            Assert.False(database.RunScript("backup", connection, file), "a backup is never written over");
            // Only its owner may read it: it holds what students practised.
            Assert.True(
                OperatingSystem.IsLinux() && File.GetUnixFileMode(file) == (UnixFileMode.UserRead | UnixFileMode.UserWrite));
            var fields = await writer.FieldsAsync($"/songs/{song}/chart");
            Assert.NotNull(await writer.KeepAsync(song, fields, "title: After\n| G |"));
            Assert.False(database.RunScript("restore", connection, file), "while somebody is connected nothing is brought back");
            tembri.Kill();
            // A backup that is not whole changes nothing.
            var part = file + ".part";
            await File.WriteAllBytesAsync(part, (await File.ReadAllBytesAsync(file))[..20_000]);
            Assert.False(database.RunScript("restore", connection, part));
            File.Delete(part);
            Assert.True(database.RunScript("restore", connection, file));
            using var again = await new RunningTembri(connection, tembri.Port).ReadyAsync();
            // The same sign-in holds, and the song is as it was.
            Assert.StartsWith("title: Before", await writer.TextAsync(song), StringComparison.Ordinal);
            var name = new Npgsql.NpgsqlConnectionStringBuilder(connection).Database!;
            var beside = Assert.Single(
                await database.AskAsync("postgres", $"select datname from pg_database where datname like '{name}_before_%'"));
            Assert.StartsWith("title: After", Assert.Single(await database.AskAsync(beside, "select chart_text from songs")),
                StringComparison.Ordinal);
        }
        finally { File.Delete(file); }
    }

    [Fact]
    public async Task Two_instances_that_start_on_an_empty_database_both_come_up()
    {
        var connection = await database.NewDatabaseAsync();
        using var first = new RunningTembri(connection);
        using var second = new RunningTembri(connection);
        await Task.WhenAll(first.ReadyAsync(), second.ReadyAsync());
        // And share it: who signs in at one is known at the other.
        using var writer = new Writer(first.Address);
        await writer.OpenStudioAsync();
        var cookies = (await writer.Client.GetAsync("/")).StatusCode;
        Assert.Equal(HttpStatusCode.OK, cookies);
        using var other = new Writer(second.Address);
        var fields = await other.FieldsAsync("/account/sign-in");
        (fields["Email"], fields["Password"]) = (writer.Email, "quiet-blue-door");
        Assert.Equal(HttpStatusCode.Redirect, (await other.PostAsync("/account/sign-in", fields)).StatusCode);
    }

    [Fact]
    public async Task A_full_disk_loses_nothing_acknowledged_and_writing_goes_on_when_there_is_room_again()
    {
        if (!OwnDatabase.IsLong) Assert.Skip("Takes long; run by scripts/faults.");
        if (SmallDisk.Mount() is not { } mounted) { Assert.Skip("This machine lets nobody mount a small disk."); return; }
        using var disk = mounted;
        var connection = await database.NewDatabaseAsync(disk.Folder);
        try { await FillAndFreeAsync(connection, disk); }
        finally { await database.DropAsync(connection); }
    }

    private static async Task FillAndFreeAsync(string connection, SmallDisk disk)
    {
        using var tembri = await new RunningTembri(connection).ReadyAsync();
        using var writer = new Writer(tembri.Address);
        await writer.OpenStudioAsync();
        var song = await writer.NewSongAsync("title: Number 0\n| C |");
        var fields = await writer.FieldsAsync($"/songs/{song}/chart");
        disk.Fill();
        // Long charts need new room soon; what is refused is told, what is acknowledged stays.
        var (acknowledged, refused) = (0, 0);
        string Chart(int n) =>
            $"title: Number {n}\n" + string.Concat(Enumerable.Range(0, 4_000).Select(i => $"# {Guid.NewGuid()}\n")) + "| C |";
        for (var n = 1; n <= 400 && refused < 3; n++)
        {
            if (await writer.KeepAsync(song, fields, Chart(n)) is { } version)
                (acknowledged, fields["Version"]) = (n, version.ToString());
            else refused++;
        }
        Assert.True(refused > 0, "The disk never was full.");
        disk.Free();
        await Until(async () => (await writer.Client.GetAsync($"/songs/{song}/chart")).StatusCode == HttpStatusCode.OK);
        Assert.Equal(acknowledged, NumberIn(await writer.TextAsync(song)));
        Assert.NotNull(
            await writer.KeepAsync(song, await writer.FieldsAsync($"/songs/{song}/chart"), "title: Number 9999\n| C |"));
    }

    internal static async Task Until(Func<Task<bool>> test)
    {
        for (var i = 0; i < 150; i++)
        {
            try { if (await test()) return; }
            catch (HttpRequestException) { }
            await Task.Delay(100);
        }
        Assert.Fail("It did not recover within 15 seconds.");
    }
}
