using System.Text.RegularExpressions;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;

namespace Tembri.Formats;

/// <summary>Names of sections that come back from chart text, which is what a song is kept as: a rehearsal mark may be
/// anything, and E♭ above bars is a chord, 3x a count.</summary>
/// <remarks>Whether a name comes back is not reckoned but tried.</remarks>
internal static partial class KeptNames
{
    private const int MostTried = 40;   // sections whose names are looked at one by one
    private const int MostSaid = 5;

    /// <summary>The chart with names that are kept; what is called otherwise is said.</summary>
    public static ChartReading Of(ChartReading reading)
    {
        var chart = reading.Chart;
        if (IsKept(chart)) return reading;
        var names = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        // What comes back as it is stays; what is called otherwise takes nobody's name.
        foreach (var section in chart.Sections.Take(MostTried)) if (IsKept(section.Name)) names[section.Name] = section.Name;
        var taken = names.Keys.ToHashSet(StringComparer.OrdinalIgnoreCase);
        foreach (var (section, i) in chart.Sections.Select((s, i) => (s, i)))
        {
            if (names.ContainsKey(section.Name)) continue;
            var kept = (i < MostTried ? Candidates(section.Name) : []).FirstOrDefault(n => !taken.Contains(n) && IsKept(n));
            for (var number = i + 1; kept is null || !taken.Add(kept); number++) kept = Numbered(number);
            names[section.Name] = kept;
        }
        var renamed = Renamed(chart, names);
        // What each says alone may mean something else beside the others; what is not kept for other reasons stays as it is.
        if (!IsKept(renamed))
        {
            var numbers = chart.Sections.Select((s, i) => (s, i))
                .ToDictionary(x => x.s.Name, x => Numbered(x.i + 1), StringComparer.OrdinalIgnoreCase);
            if (Renamed(chart, numbers) is var numbered && IsKept(numbered)) (names, renamed) = (numbers, numbered);
        }
        var changed = names.Where(n => Letters(n.Key) != Letters(n.Value)).Select(n => $"{n.Key} is {n.Value}").ToList();
        return changed.Count == 0
            ? reading with { Chart = renamed }
            : reading with
            {
                Chart = renamed,
                Problems = [.. reading.Problems, new ChartProblem(1, 1,
                    $"In a chart these names of sections would be read as something else, so they are changed: "
                        + $"{string.Join(", ", changed.Take(MostSaid))}{(changed.Count > MostSaid ? " and so on" : "")}.")],
            };
    }

    private static string Numbered(int number) => $"Part {number}";

    private static string Letters(string name) => string.Concat(name.Where(char.IsLetterOrDigit));

    /// <summary>What a name says without what chart text has other uses for.</summary>
    private static IEnumerable<string> Candidates(string name)
    {
        var plain = Spaces().Replace(Marks().Replace(name, " "), " ").Trim(' ', '-', '.');
        if (plain.Length == 0) yield break;
        yield return plain;
        if (name.IndexOfAny(['(', '[', '{', ':']) is > 1 and var end) yield return name[..end].Trim();
        yield return $"Part {plain}";
    }

    /// <summary>Whether a name above bars, with and without words, comes back as the name of what stands below it.</summary>
    private static bool IsKept(string name) =>
        new[] { "| C | G |", "| [C]low and | [G]slow |" }.All(bars =>
            ChartReader.Read($"form: {name}, Other, {name}\n\n{ChartWriter.Heading(name)}{bars}\n\n[Other]\n| F |\n")
                is { Problems.Count: 0 } read
            && read.Chart.Sections is [{ Bars.Count: 2 } first, { Name: "Other", Bars.Count: 1 }] && first.Name == name
            && read.Chart.Form.Select(p => p.Section).SequenceEqual([name, "Other", name]));

    private static bool IsKept(Chart chart)
    {
        var (back, problems) = ChartReader.Read(ChartWriter.Write(chart));
        // What could not be read as a chord is said of the text as well.
        return (problems.Count == 0 || chart.Sections.Any(s => s.Bars.Any(b => b.Slots.Any(c => c.IsUnread))))
            && back.Form.SequenceEqual(chart.Form) && Facts(back).SequenceEqual(Facts(chart));
    }

    private static IEnumerable<string> Facts(Chart chart) =>
        chart.Sections.SelectMany(s => s.Bars
            .SelectMany(b => b.Slots.Select(c => c.Chord?.Name ?? c.Symbol).Prepend(b.Lead)).Prepend(s.Name));

    private static Chart Renamed(Chart chart, Dictionary<string, string> names) => chart with
    {
        Sections = [.. chart.Sections.Select(s => s with
            {
                Name = names[s.Name], Like = s.Like is null ? null : names[s.Like]
            })],
        Form = [.. chart.Form.Select(p => p with { Section = names[p.Section] })],
    };

    [GeneratedRegex(@"[^\p{L}\p{N}\p{M}'’♯♭#&+ .-]", RegexOptions.NonBacktracking)]
    private static partial Regex Marks();

    [GeneratedRegex(@"\s+", RegexOptions.NonBacktracking)]
    private static partial Regex Spaces();
}
