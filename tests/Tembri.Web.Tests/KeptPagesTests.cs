using System.IO.Compression;
using System.Net;
using Npgsql;

namespace Tembri.Web.Tests;

/// <summary>Pages that are given again as they were: never to another browser, never after something was saved, whoever saved
/// it.</summary>
public sealed class KeptPagesTests(TembriHost host) : PracticeStudio(host)
{
    private static async Task<string> OpenAsync(Visitor visitor, string address, string accepted = "br", string packed = "br")
    {
        using var asked = new HttpRequestMessage(HttpMethod.Get, address);
        if (accepted.Length > 0) asked.Headers.Add("Accept-Encoding", accepted);
        using var answer = await visitor.Client.SendAsync(asked);
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        Assert.Contains("no-store", answer.Headers.GetValues("Cache-Control").Single(), StringComparison.Ordinal);
        Assert.Contains("Accept-Encoding", answer.Headers.Vary);
        Assert.Equal(packed, string.Join(' ', answer.Content.Headers.ContentEncoding));
        var body = await answer.Content.ReadAsStreamAsync();
        await using var unpacked = packed switch
        {
            "br" => new BrotliStream(body, CompressionMode.Decompress),
            "gzip" => new GZipStream(body, CompressionMode.Decompress),
            _ => body,
        };
        using var reader = new StreamReader(unpacked);
        return await reader.ReadToEndAsync();
    }

    [Theory]
    [InlineData("gzip, deflate", "gzip")]
    [InlineData("br;q=0, gzip", "gzip")]
    [InlineData("gzip;q=0.5, br", "br")]
    [InlineData("deflate", "")]
    [InlineData("", "")]
    public async Task A_page_is_kept_for_callers_that_unpack_otherwise_or_nothing(string accepted, string packed)
    {
        var (visitor, song, student) = await OpenAsync();
        var ladder = $"/songs/{song}/ladder/{student}";
        await OpenAsync(visitor, ladder);
        var first = await OpenAsync(visitor, ladder, accepted, packed);
        Assert.EndsWith("</html>", first.TrimEnd(), StringComparison.Ordinal);
        // Tokens in forms are sealed anew in a page that is made anew.
        Assert.Equal(first, await OpenAsync(visitor, ladder, accepted, packed));
    }

    [Fact]
    public async Task A_page_opened_again_is_the_same_until_anything_of_the_studio_is_saved_by_anybody()
    {
        var (visitor, song, student) = await OpenAsync();
        var ladder = $"/songs/{song}/ladder/{student}";
        await OpenAsync(visitor, ladder);
        // The first visit leaves its cookies; from then on the answer is kept. Tokens in forms are sealed anew in a page that is
        // made anew.
        var first = await OpenAsync(visitor, ladder);
        Assert.Equal(first, await OpenAsync(visitor, ladder));
        var link = await LinkAsync(visitor, student);
        async Task MakesNewAsync(string address, Func<Task> save)
        {
            await OpenAsync(visitor, address);
            var before = await OpenAsync(visitor, address);
            await save();
            Assert.NotEqual(before, await OpenAsync(visitor, address));
        }
        await MakesNewAsync(ladder, async () => await visitor.PostAsync(ladder, $"{ladder}?handler=Capo", ("capo", "2")));
        Assert.Contains("capo 2", await OpenAsync(visitor, ladder), StringComparison.OrdinalIgnoreCase);
        // A phone hands in, another browser of the teacher saves, a setting of the studio changes.
        foreach (var address in (string[])["/", "/songs", "/students", ladder])
        {
            // Two tabs with the same answer must not send the same request.
            Assert.DoesNotContain("name=\"key\"", await OpenAsync(visitor, address), StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain("RequestKey", await OpenAsync(visitor, address), StringComparison.OrdinalIgnoreCase);
            await MakesNewAsync(address, async () => await HandInAsync(Host.Visit().Client, link, null, Count(20)));
        }
        await MakesNewAsync("/songs", async () => await visitor.TakeDownAsync("title: Another\n| C | G |"));
        await MakesNewAsync("/", async () => await visitor.PostAsync("/", "/?handler=Begun"));
    }

    [Fact]
    public async Task What_is_kept_for_one_browser_is_nobody_elses_and_ends_with_the_session()
    {
        var (visitor, song, student) = await OpenAsync();
        var ladder = $"/songs/{song}/ladder/{student}";
        foreach (var _ in (int[])[1, 2, 3]) await OpenAsync(visitor, ladder);
        var other = await Host.VisitNewStudioAsync();
        using var asked = new HttpRequestMessage(HttpMethod.Get, ladder) { Headers = { { "Accept-Encoding", "br" } } };
        Assert.Equal(HttpStatusCode.NotFound, (await other.Client.SendAsync(asked)).StatusCode);
        await visitor.PostAsync(ladder, "/account/sign-out");
        using var after = new HttpRequestMessage(HttpMethod.Get, ladder) { Headers = { { "Accept-Encoding", "br" } } };
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.Client.SendAsync(after)).StatusCode);
    }

    [Fact]
    public async Task Every_table_of_a_studio_notes_its_changes()
    {
        await using var connection = new NpgsqlConnection(Host.ConnectionString);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        await using var command = new NpgsqlCommand("""
            select string_agg(relname, ' ' order by relname) from pg_class c join pg_attribute a on a.attrelid = c.oid
            where c.relkind = 'r' and a.attname = 'studio_id' and c.relforcerowsecurity
              and not exists (select from pg_trigger t where t.tgrelid = c.oid and t.tgname = 'note_change')
            """, connection);
        Assert.Equal(DBNull.Value, await command.ExecuteScalarAsync(TestContext.Current.CancellationToken));
    }
}
