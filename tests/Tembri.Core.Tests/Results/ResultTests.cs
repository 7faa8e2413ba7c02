using System.Globalization;
using Tembri.Core.Ladders;

namespace Tembri.Core.Tests.Results;

/// <summary>
/// What the model gives is written down under the version it gave it with (<c>tests/corpora/results</c>). Ladders are stored
/// under that version, so whoever changes a result raises <see cref="ArrangementStamp.ModelVersion"/>; else studios would go on
/// with the old one. And whoever did not mean to change one sees which.
/// </summary>
/// <remarks>When it is meant: raise the version, run this class with <c>TEMBRI_WRITE_RESULTS=1</c> in the environment, read the
/// difference, and say in CHANGELOG.md why teachers see it.</remarks>
public sealed class ResultTests
{
    private const double Rounding = 0.0101;   // a last digit may fall on the other side on another processor
    private const int Shown = 8;

    private static readonly string Folder = Path.Combine(Repository.Folder, "tests", "corpora", "results");
    private static readonly string Version = $"model {ArrangementStamp.ModelVersion}";

    private static readonly Dictionary<string, Func<IEnumerable<string>>> All = new()
    {
        ["fingerings"] = ResultLines.Fingerings, ["substitutes"] = ResultLines.Substitutes, ["ladders"] = ResultLines.Ladders,
        ["hand-made"] = ResultLines.HandMades, ["plans"] = ResultLines.Plans, ["strums"] = ResultLines.Strums,
        ["doubts"] = LearningLines.Doubts, ["strokes"] = LearningLines.Strokes, ["learning"] = LearningLines.Learning,
        ["roads"] = LearningLines.Roads, ["changes"] = PartLines.Changes, ["closeness"] = PartLines.Closenesses,
        ["found"] = PartLines.Found, ["open"] = PartLines.Open, ["guards"] = PartLines.Guards, ["thinned"] = PartLines.Thinned,
        ["fits"] = PartLines.Fits, ["versions"] = PartLines.Versions, ["prices"] = PriceLines.Lines,
        ["charts"] = ChartResultLines.Charts, ["edits"] = ChartResultLines.Edits, ["heard"] = ChartResultLines.Heard,
        ["symbols"] = BasicLines.ChordSymbols, ["notes-named"] = BasicLines.NotesNamed, ["written"] = BasicLines.Written,
        ["necks"] = BasicLines.NecksAndHands, ["lessons"] = BasicLines.LessonsAndWishes,
    };

    public static TheoryData<string> Kinds => [.. All.Keys];

    [Theory]
    [MemberData(nameof(Kinds))]
    public void What_the_model_gives_is_what_it_gave_under_this_version(string what)
    {
        var file = Path.Combine(Folder, what + ".txt");
        string[] now = [Version, .. All[what]().Select(Spaced)];
        if (Environment.GetEnvironmentVariable("TEMBRI_WRITE_RESULTS") == "1")
        {
            File.WriteAllLines(file, now);
            Assert.Skip($"{what} were written down; look at the difference.");
        }
        var kept = File.ReadAllLines(file);
        var others = now.Zip(kept).Where(p => !Alike(p.First, p.Second)).Select(p => $"was  {p.Second}\nis   {p.First}").ToList();
        if (now.Length != kept.Length) others.Add($"was  {kept.Length} lines\nis   {now.Length} lines");
        Assert.True(others.Count == 0, $"{others.Count} results of {what} are others than under {kept[0]}:\n"
            + $"{string.Join("\n", others.Take(Shown))}\nIf that is meant, see the remarks of {nameof(ResultTests)}.");
    }

    private static string Spaced(string line) => string.Join(' ', line.Split(' ', StringSplitOptions.RemoveEmptyEntries));

    private static bool Alike(string now, string kept)
    {
        if (now == kept) return true;
        var (a, b) = (now.Split(' '), kept.Split(' '));
        return a.Length == b.Length && a.Zip(b).All(p => p.First == p.Second
            || Read(p.First) is { } x && Read(p.Second) is { } y && Math.Abs(x - y) < Rounding);
    }

    /// <summary>A number with decimals; whole ones are counts and have to be the same.</summary>
    private static double? Read(string word) =>
        word.Contains('.', StringComparison.Ordinal)
            && double.TryParse(word.TrimEnd(',', ':'), NumberStyles.Float, CultureInfo.InvariantCulture, out var value)
            ? value
            : null;
}
