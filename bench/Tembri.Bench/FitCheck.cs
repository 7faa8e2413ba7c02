using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Bench;

/// <summary>Prints the fit of every rung of every demo song for every demo student, to be judged by eye.</summary>
internal static class FitCheck
{
    private static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web)
    {
        ReadCommentHandling = JsonCommentHandling.Skip, Converters = { new JsonStringEnumConverter(JsonNamingPolicy.CamelCase) }
    };

    private sealed record StudentFile(string Nickname, string Hand, string Guitar, bool Thumb, BarreGoal Barres, Skills Skills);

    private sealed record StudioFile(IReadOnlyList<StudentFile> Students);

    /// <summary>The students of a studio's file as players.</summary>
    public static IReadOnlyList<Player> Players(string folder) => [.. Students(folder).Select(ToPlayer)];

    private static IReadOnlyList<StudentFile> Students(string folder) =>
        JsonSerializer.Deserialize<StudioFile>(File.ReadAllText(Path.Combine(folder, "studio.json")), Options)!.Students;

    private static Player ToPlayer(StudentFile s) =>
        new()
        {
            Hand = Hand.Preset(s.Hand), Guitar = Guitar.Preset(s.Guitar), Thumb = s.Thumb, Barres = s.Barres, Skills = s.Skills
        };

    public static int Run(string folder)
    {
        var students = Students(folder);
        var songs = Directory.EnumerateFiles(Path.Combine(folder, "songs"), "*.txt").Order(StringComparer.Ordinal)
            .Select(f => ChartReader.Read(File.ReadAllText(f)).Chart).ToList();
        var builder = new LadderBuilder(new ResultCache());
        static string Bold(string text, bool bold) => bold ? $"**{text}**" : text;
        Console.WriteLine($"| song | {string.Join(" | ", students.Select(s => s.Nickname))} "
            + $"|\n|---|{string.Concat(students.Select(_ => "---|"))}");
        foreach (var song in songs)
        {
            var cells = students.Select(s =>
            {
                var player = ToPlayer(s);
                var graded =
                    new StudentLadder(builder.Build(new ArrangementRequest { Chart = song, Kind = player.Kind }), player);
                var fits = graded.Ladder.Rungs.Select(r => graded.FitOf(r) is { } f
                    ? Bold((100 * f.Value).ToString("0", CultureInfo.InvariantCulture), r.Number == graded.WorkingRung)
                    : "–");
                return $"{string.Join(" ", fits)}, capo {graded.Ladder.Capo}";
            });
            Console.WriteLine($"| {song.Title} | {string.Join(" | ", cells)} |");
        }
        return 0;
    }
}
