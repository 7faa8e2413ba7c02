using System.Globalization;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Tests.Charts;

/// <summary>One song, whose sections are named in every way people name rows of chords, whose rows are written in the usual
/// ways, and whose order is said in several.</summary>
public sealed class NamedRowsTests
{
    private static readonly (string Name, string[][] Rows)[] Song =
    [
        ("Verse", [["Am", "G", "F", "E"], ["Am", "G", "F", "G"]]), ("Chorus", [["C", "G", "Am", "F"], ["C", "G", "F", "F"]]),
        ("Bridge", [["Dm", "Am", "Dm", "E7"]]),
    ];

    private static readonly Dictionary<string, Func<string[], string>> Rows = new()
    {
        ["blanks"] = row => string.Join("  ", row),
        ["bars"] = row => $"| {string.Join(" | ", row)} |",
        ["open bars"] = row => string.Join(" | ", row),
        ["beats"] = row => $"| {string.Join(" . . . | ", row)} . . . |",
        ["dashes"] = row => string.Join(" - ", row),
    };

    /// <summary>In front of the first row; those below it are set in as far.</summary>
    private static readonly string[] InFront =
    [
        "Verse: ", "Verse:      ", "Verse    ", "VERSE    ", "Verse - ", "Verse -> ", "Verse = ", "Verse ..... ", "[Verse] ", "[Verse]   ",
        "(Verse) ", "*Verse* ", "**Verse:** ", "V: ", "V   ", "V. ", "v: ", "Verse | ", "Verse (softly): ", "Verse 1: ", "Verse1: ", "1. Verse: ",
    ];

    /// <summary>In front of each row.</summary>
    private static readonly string[] OnEach = ["Verse: ", "Verse | ", "V: ", "V   ", "[Verse] "];

    /// <summary>In a line above the rows.</summary>
    private static readonly string[] Above =
    [
        "Verse", "VERSE", "Verse:", "[Verse]", "(Verse)", "*Verse*", "{c: Verse}", "== Verse ==", "--- Verse ---", "# Verse", "Verse goes",
        "Now the verse:", "[Verse 1]", "1. Verse", "Verse (softly)", "[Verse - softly]", "[Verse | softly]", "<Verse>", "> Verse", "Verse1", "[VERSE1]",
    ];

    /// <summary>Behind the first row.</summary>
    private static readonly string[] Behind = ["   (verse)", "  <- verse", "  -- verse", "   (Verse 1)"];

    private static readonly string[] Played = ["Verse", "Chorus", "Verse", "Chorus", "Bridge", "Chorus"];

    private static readonly string[] Orders =
    [
        "", "Order: Verse, Chorus, Verse, Chorus, Bridge, Chorus", "form: V C V C B C", "Verse - Chorus - Verse - Chorus - Bridge - Chorus",
        "*V, C, V, C, B, C*", "Verse\n\nChorus\n\nBridge\n\nChorus", "(Verse)\n(Chorus)\n(Bridge)\n(Chorus)",
    ];

    public static TheoryData<string> Ways =>
    [
        .. InFront.Select(n => $"front {n}"), .. OnEach.Select(n => $"each {n}"), .. Above.Select(n => $"above {n}"),
        .. Behind.Select(n => $"behind {n}"),
    ];

    [Theory]
    [MemberData(nameof(Ways))]
    public void However_a_row_is_named_its_section_has_its_bars_and_the_order_holds(string way)
    {
        var wrong = new List<string>();
        foreach (var (row, write) in Rows)
            foreach (var order in Orders)
                foreach (var between in (string[])["\n\n", "\n"])
                {
                    // Whose would the second row be, and what is told right below a row might be sung.
                    if (between == "\n" && (way.StartsWith("behind", StringComparison.Ordinal) || way.EndsWith("goes", StringComparison.Ordinal)))
                        continue;
                    var text = $"title: Rain on the Jetty\n\n{string.Join(between, Song.Select(s => Written(way, s.Name, s.Rows, write)))}\n\n{order}";
                    if (Fault(text, order) is { } fault) wrong.Add($"{row}, {order.ReplaceLineEndings(" / ")}: {fault}\n{text}");
                }
        Assert.True(wrong.Count == 0, $"{wrong.Count} are wrong. {string.Join("\n\n", wrong.Take(3))}");
    }

    private static string Written(string way, string name, string[][] rows, Func<string[], string> write)
    {
        var (where, label) = (way[..way.IndexOf(' ')], way[(way.IndexOf(' ') + 1)..]);
        label = label.Contains("erse", StringComparison.OrdinalIgnoreCase)
            ? label.Replace("Verse", name, StringComparison.Ordinal).Replace("VERSE", name.ToUpperInvariant(), StringComparison.Ordinal)
                .Replace("verse", name.ToLowerInvariant(), StringComparison.Ordinal)
            : label.Replace('V', name[0]).Replace('v', char.ToLowerInvariant(name[0]));
        var set = rows.Select(write).ToList();
        return where switch
        {
            "front" => string.Join('\n', set.Select((r, i) => (i == 0 ? label : new string(' ', label.Length)) + r)),
            "each" => string.Join('\n', set.Select(r => label + r)),
            "above" => $"{label}\n{string.Join('\n', set)}",
            _ => string.Join('\n', set.Select((r, i) => r + (i == 0 ? label : ""))),
        };
    }

    private static string? Fault(string text, string order)
    {
        var (chart, problems) = ChartReader.Read(text);
        if (problems.Count > 0) return $"{problems[0].Line}: {problems[0].Message}";
        string Bars(Section s) => string.Join(' ', s.Bars.Select(b => string.Join('+', b.Slots.Select(c => c.Symbol))));
        string Letter(string name) => name.First(char.IsLetter).ToString(CultureInfo.InvariantCulture).ToUpperInvariant();
        var wanted = Song.Select(s => $"{s.Name[..1]}: {string.Join(' ', s.Rows.SelectMany(r => r))}").ToList();
        var read = chart.Sections.Where(s => s.Like is null).Select(s => $"{Letter(s.Name)}: {Bars(s)}").ToList();
        if (!read.SequenceEqual(wanted)) return $"read {string.Join(" / ", read)}";
        var form = chart.Form.SelectMany(p => Enumerable.Repeat(Letter(p.Section), p.Times));
        var played = order.Length == 0 ? ["V", "C", "B"] : order.Contains('\n') ? ["V", "C", "B", "V", "C", "B", "C"] : Played.Select(n => n[..1]);
        return form.SequenceEqual(played) ? null : $"played {string.Join(' ', chart.Form.Select(p => p.Section))}";
    }
}
