using System.Net;
using System.Text;
using System.Text.Json;

namespace Tembri.Web.Tests;

/// <summary>No body of an API call ends in a fault of the server: bodies kept in the repository, and as many made from them by
/// chance.</summary>
public sealed class ApiFuzzTests(TembriHost host)
{
    private const int Made = 700;

    private static readonly Lazy<Dictionary<string, List<string>>> Corpus =
        new(() => JsonSerializer.Deserialize<Dictionary<string, List<string>>>(
        File.ReadAllText(Path.Combine(TestServer.Folder, "tests", "corpora", "api.json")),
        new JsonSerializerOptions { ReadCommentHandling = JsonCommentHandling.Skip })!);

    private static readonly string[] Pieces = ["null", "[", "]", "{", "}", ",", "\"", "\\u0000", "-1", "1e308", "2147483648",
        "0", "\"C\"", "true", " ", "\\", "\n| C |", "| G7#9 ", "x20", "\uD83C\uDFB8"];

    public static IEnumerable<TheoryDataRow<string>> Calls => Corpus.Value.Keys.Select(k => new TheoryDataRow<string>(k));

    [Theory]
    [MemberData(nameof(Calls))]
    public async Task Every_body_gets_an_answer_or_is_told_what_is_wrong(string call)
    {
        var client = host.Visit().Client;
        var kept = Corpus.Value[call];
        var random = new Random(call.Length);
        foreach (var body in kept.Concat(
            Enumerable.Range(0, Made / Corpus.Value.Count).Select(_ => Spoil(random, kept[random.Next(kept.Count)]))))
        {
            var answer = await client.PostAsync($"/api/v1/{call}", new StringContent(body, Encoding.UTF8, "application/json"));
            Assert.True(answer.StatusCode is HttpStatusCode.OK or HttpStatusCode.BadRequest, $"{answer.StatusCode} for {body}");
            if (answer.StatusCode == HttpStatusCode.OK) continue;
            Assert.Equal("application/problem+json", answer.Content.Headers.ContentType!.MediaType);
            Assert.True(JsonDocument.Parse(await answer.Content.ReadAsStringAsync()).RootElement.GetProperty("detail")
                        .GetString()!.Length > 10, body);
        }
    }

    private static string Spoil(Random random, string body)
    {
        var text = new StringBuilder(body);
        for (var i = random.Next(1, 5); i > 0; i--)
        {
            var at = random.Next(text.Length + 1);
            if (random.Next(3) == 0 && at < text.Length) text.Remove(at, Math.Min(random.Next(1, 6), text.Length - at));
            else text.Insert(at, Pieces[random.Next(Pieces.Length)]);
        }
        return text.ToString();
    }
}
