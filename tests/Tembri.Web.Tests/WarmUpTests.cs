using System.Net;
using System.Net.Http.Json;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>An instance goes through its pages before others send it anybody, and nobody can tell afterwards.</summary>
public sealed class WarmUpTests(TembriHost host) : PracticeStudio(host)
{
    /// <summary>Every row of a studio, whatever table it is in, and its sessions: a line each.</summary>
    private async Task<string> RowsAsync(string studio)
    {
        var tables = (string)(await Host.AskAsync("""
            select string_agg(table_name, ' ') from information_schema.columns
            where table_schema = 'public' and column_name = 'studio_id' and table_name in (select tablename from pg_tables where schemaname = 'public')
            """))!;
        Assert.Contains("student_sights", tables, StringComparison.Ordinal);
        Assert.Contains("studio_changes", tables, StringComparison.Ordinal);
        var rows = string.Join(" union all ", tables.Split(' ')
            .Select(t => $"select '{t}' as name, t::text as line from {t} t where studio_id = '{studio}'")
            .Append($"select 'sessions', s::text from sessions s join teachers on teachers.id = s.teacher_id where studio_id = '{studio}'"));
        return (string)(await Host.AskAsync($"select string_agg(name || ' ' || line, e'\n' order by name, line) from ({rows}) as r"))!;
    }

    [Fact]
    public async Task It_opens_the_pages_of_the_studio_at_work_last_and_leaves_nothing_behind()
    {
        var (visitor, song, student) = await OpenAsync();
        var link = await LinkAsync(visitor, student);
        using (var phone = Host.CreateClient()) await HandInAsync(phone, link, null, Count(31));
        foreach (var page in new[] { "/", "/songs", Practice(student), Log(student), $"/songs/{song}/ladder/{student}", link })
            await visitor.PageAsync(page);
        var studio = $"{await Host.AskAsync($"select studio_id from songs where id = '{song}'")}";
        await Host.AskAsync($"update sessions set seen_at = now() + interval '1 hour' where teacher_id in (select id from teachers where studio_id = '{studio}')");
        // As on the first day of somebody who looked yesterday: what would be noted of a look is not there yet.
        await Host.AskAsync($"delete from student_sights where studio_id = '{studio}'");
        var before = await RowsAsync(studio);
        await using (var application = Host.WithWebHostBuilder(builder =>
        {
            builder.UseSetting("WarmUp", "true");
            // As a host has it: cookies over TLS only.
            builder.UseSetting("PublicAddress", "https://localhost");
        }))
        {
            using var client = application.CreateClient();
            var answers = new List<(HttpStatusCode Status, string Text)>();
            while (answers.Count == 0 || answers[^1].Status != HttpStatusCode.OK)
            {
                using var answer = await client.GetAsync("/health/ready", TestContext.Current.CancellationToken);
                answers.Add((answer.StatusCode, await answer.Content.ReadAsStringAsync()));
            }
            Assert.All(answers.SkipLast(1), a => Assert.Equal((HttpStatusCode.ServiceUnavailable, "Warming up"), a));
            var warmUp = application.Services.GetRequiredService<WarmUp>();
            Assert.True(warmUp.IsOver);
            Assert.All(warmUp.GoneThrough!, a => Assert.Equal((a.What, 200), (a.What, a.Status)));
            Assert.Equal([$"/songs/{song}/ladder/{student}", $"/songs/{song}/chart", Practice(student), "/my/…", "/my/…/entries"],
                warmUp.GoneThrough!.Select(a => a.What).Where(a => a.Contains("/ladder/", StringComparison.Ordinal)
                    || a.EndsWith("/chart", StringComparison.Ordinal) || a.EndsWith("/practice", StringComparison.Ordinal)
                    || a.StartsWith("/my", StringComparison.Ordinal)));
        }
        Assert.Equal(before, await RowsAsync(studio));
        await Host.AskAsync($"update sessions set seen_at = now() where teacher_id in (select id from teachers where studio_id = '{studio}')");
        // A teacher who looks is noted, on an instance that was warmed or not.
        await visitor.PageAsync(Practice(student));
        Assert.Equal(0L, await Host.AskAsync($"select count(*) from student_sights where studio_id = '{studio}' and who = 'nobody'"));
    }

    [Fact]
    public async Task What_opens_a_page_in_a_rehearsal_opens_nothing_from_outside()
    {
        using var stranger = Host.CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });
        Assert.Equal(HttpStatusCode.NotFound, (await stranger.GetAsync("/my/nobody")).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound,
            (await stranger.PostAsJsonAsync("/my/nobody/entries", new { entries = Array.Empty<object>() })).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await stranger.GetAsync("/songs")).StatusCode);
    }
}
