using System.Text.Json;
using System.Text.RegularExpressions;
using Npgsql;

namespace Tembri.Web.Tests;

/// <summary>A new entry is learnt from by itself, and what is stored then is what the whole log teaches.</summary>
public sealed partial class LogStandingTests(TembriHost host) : PracticeStudio(host)
{
    [GeneratedRegex("\"entries\": *(\\d+)")]
    private static partial Regex EntriesLearnt();

    private async Task<T?> AskAsync<T>(string sql, string student)
    {
        await using var connection = new NpgsqlConnection(Host.ConnectionString);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        await using var command = new NpgsqlCommand(sql, connection) { Parameters = { new() { Value = Guid.Parse(student) } } };
        return await command.ExecuteScalarAsync(TestContext.Current.CancellationToken) is T answer ? answer : default;
    }

    private Task<string?> StandingAsync(string student) =>
        AskAsync<string>("select learner from learning_states where student_id = $1", student);

    private async Task<(List<double> Numbers, string Dates)> StoredAsync(string student)
    {
        var learnt = await AskAsync<string>("select learnt from student_progresses where student_id = $1", student);
        var dates = await AskAsync<string>(
            "select concat(hurt_at, ' ', practised_at) from student_progresses where student_id = $1", student);
        var numbers = new List<double>();
        if (learnt is { Length: > 0 }) Walk(JsonDocument.Parse(learnt).RootElement);
        return (numbers, dates!);
        void Walk(JsonElement e)
        {
            if (e.ValueKind == JsonValueKind.Number) numbers.Add(e.GetDouble());
            if (e.ValueKind == JsonValueKind.Array) foreach (var item in e.EnumerateArray()) Walk(item);
            if (e.ValueKind == JsonValueKind.Object) foreach (var item in e.EnumerateObject()) Walk(item.Value);
        }
    }

    /// <summary>What is stored is what the whole log teaches, some seconds later.</summary>
    private async Task AssertIsAsTheWholeLogAsync(Visitor visitor, string student)
    {
        var stored = await StoredAsync(student);
        await AskAsync<int>("delete from learning_states where student_id = $1", student);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "MoveBack"), ("key", "warm-up"));
        var anew = await StoredAsync(student);
        Assert.Equal(stored.Dates, anew.Dates);
        Assert.Equal(stored.Numbers.Count, anew.Numbers.Count);
        Assert.All(stored.Numbers.Zip(anew.Numbers), n => Assert.Equal(n.First, n.Second, 1e-3));
        Assert.NotNull(await StandingAsync(student));
    }

    [Fact]
    public async Task What_is_handed_in_later_is_learnt_from_alone_and_anything_else_from_the_whole_log()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        // After the first guess, in times finer than the database keeps.
        var start = DateTimeOffset.UtcNow.AddMinutes(1).AddTicks(7);
        object Tries(int second, int clean, bool hurt = false) => new
        {
            key = Guid.NewGuid(), at = start.AddSeconds(second), kind = "shape", text = "C", to = new { frets = C }, tries = 10,
            count = clean, song, rung = 1, hurt,
        };
        await HandInAsync(phone, link, null, Count(22, at: start), Tries(1, 4, hurt: true));
        await AssertIsAsTheWholeLogAsync(visitor, student);
        // Two in one sending, in the wrong order, and two of one moment.
        await HandInAsync(phone, link, null, Tries(6, 9), Count(31, at: start.AddSeconds(5)), Tries(7, 2), Tries(7, 10));
        await AssertIsAsTheWholeLogAsync(visitor, student);
        // It goes on from where it stood: what was written there comes through.
        var standing = await StandingAsync(student);
        Assert.Equal("6", EntriesLearnt().Match(standing!).Groups[1].Value);
        await AskAsync<int>("""
            update learning_states set learner = replace(learner, '"entries":6', '"entries":1006') where student_id = $1
            """, student);
        await HandInAsync(phone, link, null, Count(33, at: start.AddSeconds(8)));
        Assert.Equal("1007", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        // A note alone tells nothing of the skills, and what is sent twice counts once.
        await HandInAsync(phone, link, null,
            new { key = Guid.NewGuid(), at = start.AddSeconds(8.5), kind = "note", text = "the thumb is tired" });
        var twice = Guid.NewGuid();
        foreach (var _ in (int[])[1, 2]) await HandInAsync(phone, link, null, Count(34, twice, start.AddSeconds(9)));
        Assert.Equal("1008", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        // What is earlier than something in the log needs all of it.
        await HandInAsync(phone, link, null, Tries(3, 7));
        Assert.Equal("9", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await AssertIsAsTheWholeLogAsync(visitor, student);
        // So does what is taken back.
        var entry = (await visitor.PageAsync(Log(student))).QuerySelector("form[action*=TakeBack] input[name=entry]")!
            .GetAttribute("value")!;
        await visitor.PostAsync(Log(student), $"{Log(student)}?handler=TakeBack", ("entry", entry));
        Assert.Equal("8", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await AssertIsAsTheWholeLogAsync(visitor, student);
    }

    [Fact]
    public async Task Whoever_changes_a_log_past_Tembri_is_learnt_from_too()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        var start = DateTimeOffset.UtcNow.AddMinutes(1);
        string[] changes =
        [
            "update practice_entries set count = 60 where student_id = $1 and count = 20",
            """
            insert into practice_entries (studio_id, id, student_id, at, kind, rung, text, capo, by, hurt, count, seconds,
              from_frets, to_frets)
            select studio_id, gen_random_uuid(), student_id, at, kind, rung, text, capo, by, hurt, 55, seconds, from_frets,
              to_frets from practice_entries where student_id = $1 limit 1
            """,
            "delete from practice_entries where student_id = $1 and count = 60",
        ];
        await HandInAsync(phone, link, null, Count(20, at: start));
        foreach (var (change, second) in changes.Select((c, i) => (c, i + 1)))
        {
            Assert.NotNull(await StandingAsync(student));
            await AskAsync<int>(change, student);
            Assert.Null(await StandingAsync(student));
            await HandInAsync(phone, link, null, Count(24 + second, at: start.AddSeconds(second)));
            await AssertIsAsTheWholeLogAsync(visitor, student);
        }
    }

    [Fact]
    public async Task Other_numbers_of_the_teacher_begin_the_learning_anew()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var phone = Host.Visit().Client;
        await HandInAsync(phone, link, null, Count(45));
        Assert.Equal("1", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await visitor.PostAsync($"/students/{student}", $"/students/{student}?handler=TakeLearnt");
        Assert.Equal("0", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await HandInAsync(phone, link, null, Count(46));
        Assert.Equal("1", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await AssertIsAsTheWholeLogAsync(visitor, student);
    }

    [Fact]
    public async Task Phones_that_hand_in_at_once_are_learnt_from_all_and_a_plan_changed_between_loses_nothing()
    {
        var (visitor, _, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        var start = DateTimeOffset.UtcNow.AddMinutes(1);
        var phones = Enumerable.Range(0, 6).Select(_ => Host.Visit().Client).ToList();
        // Each sends its own, and the first one's again: whoever is first, all seven count once.
        var twice = Guid.NewGuid();
        await Task.WhenAll(phones.Select((phone, i) => HandInAsync(phone, link, null,
            Count(20 + i, at: start.AddSeconds(i)), Count(50, twice, start.AddSeconds(30)))));
        Assert.Equal("7", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        var standing = await StandingAsync(student);
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Plan", ("act", "MoveBack"), ("key", "warm-up"));
        Assert.Equal(standing, await StandingAsync(student));
        await HandInAsync(phones[0], link, null, Count(33, at: start.AddSeconds(40)));
        Assert.Equal("8", EntriesLearnt().Match((await StandingAsync(student))!).Groups[1].Value);
        await AssertIsAsTheWholeLogAsync(visitor, student);
    }
}
