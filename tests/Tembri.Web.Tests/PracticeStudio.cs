using System.IO.Compression;
using System.Net;
using System.Net.Http.Json;
using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Practice;
using Tembri.Web.Setup;

namespace Tembri.Web.Tests;

/// <summary>A studio with a song and a student who works on it, and what a phone does.</summary>
public abstract class PracticeStudio(TembriHost host)
{
    protected TembriHost Host { get; } = host;

    private const string Chart =
        "title: Low Bridge\nkey: C\ntempo: 84\nform: Verse, Chorus\n\n[Verse]\n| C | Am | F | G "
            + "|\n\n[Chorus]\n| F | G | C | C |";
    protected static readonly int?[] C = [-1, 3, 2, 0, 1, 0], G = [3, 2, 0, 0, 0, 3];

    protected async Task<(Visitor Visitor, string Song, string Student)> OpenAsync()
    {
        var visitor = await Host.VisitNewStudioAsync();
        var (song, student) = (await visitor.TakeDownAsync(Chart), await visitor.AddStudentAsync("Fern"));
        await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Work", ("song", song));
        return (visitor, song, student);
    }

    protected static string Practice(string student) => $"/students/{student}/practice";
    protected static string Log(string student) => $"/students/{student}/log";

    protected async Task<string> LinkAsync(Visitor visitor, string student, string days = "90")
    {
        var page =
            await Visitor.Read(await visitor.PostAsync(Practice(student), $"{Practice(student)}?handler=Link", ("days", days)));
        return new Uri(page.QuerySelector("input[readonly]")!.GetAttribute("value")!).AbsolutePath;
    }

    protected static object Count(int count, Guid? key = null, DateTimeOffset? at = null, int seconds = 60) => new
    {
        key = key ?? Guid.NewGuid(), at = at ?? DateTimeOffset.UtcNow, kind = "changes", text = "C to G",
        from = new { frets = C }, to = new { frets = G }, count, seconds,
    };

    protected static async Task<JsonElement> HandInAsync(HttpClient phone, string link, DateTimeOffset? sentAt,
        params object[] entries)
    {
        var answer = await phone.PostAsJsonAsync($"{link}/entries", new { sentAt = sentAt ?? DateTimeOffset.UtcNow, entries });
        Assert.Equal(HttpStatusCode.OK, answer.StatusCode);
        return await answer.Content.ReadFromJsonAsync<JsonElement>();
    }

    protected static List<bool> Kept(JsonElement answer) =>
        [.. answer.GetProperty("outcomes").EnumerateArray().Select(o => o.GetProperty("kept").GetBoolean())];

    protected async Task<int> EntriesAsync(Visitor visitor, string student) =>
        (await visitor.PageAsync(Log(student))).QuerySelectorAll("form[action*=TakeBack]").Length;
}
