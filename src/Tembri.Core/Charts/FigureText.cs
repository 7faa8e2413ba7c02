using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Figures;

namespace Tembri.Core.Charts;

/// <summary>A figure as a line of its section: <c>figure at bar 3, position 5: | E3 . G3 A3 | B3 . . - |</c>.</summary>
public static partial class FigureText
{
    /// <summary>The most figures of a section.</summary>
    public const int Most = 16;

    /// <summary>The most figures of a chart.</summary>
    public const int MostInChart = 48;

    [GeneratedRegex(@"^\s*figure(?:\s+(?:at|from)\s+bar\s+(?<bar>[0-9]{1,4}))?(?:\s*(?:,\s*)?position\s+(?<position>[0-9]{1,2}))?\s*:\s*(?<cells>.*)$",
        LinePatterns.AnyCase)]
    private static partial Regex Line();

    /// <summary>A line before the lengths of its bars are known.</summary>
    /// <param name="Bar">Bar of the section, from 0.</param>
    /// <param name="Position">The position it is pinned to; null for none.</param>
    /// <param name="Cells">The notes.</param>
    /// <param name="At">Where they begin in the line, from 0.</param>
    internal sealed record Unread(int Bar, int? Position, string Cells, int At);

    /// <summary>True for a line that is a figure.</summary>
    public static bool IsFigure(string line) =>
        line.Contains("figure", StringComparison.OrdinalIgnoreCase) && Line().IsMatch(line);

    /// <summary>A figure's line with the bar it begins at moved; every other line as it is.</summary>
    /// <param name="line">The line.</param>
    /// <param name="moved">Given the bar of the section, from 0, the bar it is to begin at.</param>
    internal static string Moved(string line, Func<int, int> moved)
    {
        if (Of(line) is not { } figure || moved(figure.Bar) is var bar && bar == figure.Bar) return line;
        var number = Line().Match(line).Groups["bar"];
        var words = (bar + 1).ToString(CultureInfo.InvariantCulture);
        if (number.Success) return string.Concat(line.AsSpan(0, number.Index), words, line.AsSpan(number.Index + number.Length));
        var head = line.IndexOf("figure", StringComparison.OrdinalIgnoreCase) + "figure".Length;
        return line.Insert(head, $" at bar {words}");
    }

    /// <summary>Takes a line apart; null when it is no figure.</summary>
    internal static Unread? Of(string line)
    {
        if (!line.Contains("figure", StringComparison.OrdinalIgnoreCase) || Line().Match(line) is not { Success: true } match)
            return null;
        int? Number(string group) =>
            match.Groups[group].Success ? int.Parse(match.Groups[group].Value, CultureInfo.InvariantCulture) : null;
        return new Unread(Math.Max(0, (Number("bar") ?? 1) - 1), Number("position"), match.Groups["cells"].Value,
            match.Groups["cells"].Index);
    }

    /// <summary>Reads a line that stands by itself; null when it is no figure, or none of its notes could be read.</summary>
    /// <param name="line">The line.</param>
    /// <param name="bars">The bars of its section.</param>
    /// <param name="strings">The open strings where strings and frets are counted.</param>
    /// <param name="problem">Told the column, from 1, of what cannot be read.</param>
    public static Figure? Read(string line, IReadOnlyList<Bar> bars, Fretboard.Tuning strings, Action<int, string> problem) =>
        Of(line) is { } unread ? Read(unread, bars, strings, problem) : null;

    internal static Figure? Read(Unread line, IReadOnlyList<Bar> bars, Fretboard.Tuning strings, Action<int, string> problem)
    {
        if (line.Bar >= bars.Count)
        {
            problem(1, $"The section has {bars.Count} bars, so no figure begins at bar {line.Bar + 1}.");
            return null;
        }
        var notes =
            FigureLine.Read(line.Cells, BeatsOf(line.Bar, bars), strings, (at, message) => problem(line.At + at + 1, message));
        return notes.Count == 0
            ? null
            : new Figure(line.Bar, notes)
            {
                Position = line.Position is >= 1 and <= Fretboard.NeckGeometry.MostFrets ? line.Position : null
            };
    }

    /// <summary>Writes a figure as its line.</summary>
    public static string Write(Figure figure, IReadOnlyList<Bar> bars) =>
        string.Create(CultureInfo.InvariantCulture,
            $"figure{(figure.Bar > 0 ? $" at bar {figure.Bar + 1}" : "")}{(figure.Position is { } p ? $", position {p}" : "")}: "
                + $"{FigureLine.Write(figure, BeatsOf(figure.Bar, bars))}");

    /// <summary>Lengths of a figure's bars in beats.</summary>
    /// <param name="bar">Its first bar.</param>
    /// <param name="bars">The bars of its section.</param>
    public static Func<int, double?> BeatsOf(int bar, IReadOnlyList<Bar> bars) =>
        i => bar + i < bars.Count ? bars[bar + i].Beats : null;
}
