using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Rows of a chart that is written for two guitars or more: the first one's are the song, what another plays meanwhile
/// is no more of it.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^\s*[\[(]?(?<who>(?:gtr|guitar|gt|gitarre|guitare|guitarra|chitarra)\.?\s?(?:(?<first>1|i|one)|[2-6]|i{2,3}|iv|two|three|four))(?![\w/])\s*(?<how>\([^()|]{0,60}\))?\s*[\])]?\s*:?\s*",
        LinePatterns.AnyCase)]
    private static partial Regex ForGuitar();

    private bool _areGuitars;   // a first one and another are named

    private static Match? GuitarIn(string line) =>
        line.Length <= ChartLimits.LongestLine && line.AsSpan().TrimStart() is ['g' or 'G' or 'c' or 'C' or '[' or '(', ..]
            && ForGuitar().Match(line) is { Success: true } guitar ? guitar : null;

    private void FindGuitars(List<(string Text, int Number)> lines)
    {
        var named = lines.Select(l => GuitarIn(l.Text)).OfType<Match>().ToList();
        _areGuitars = named.Exists(g => g.Groups["first"].Success) && named.Exists(g => !g.Groups["first"].Success);
    }

    /// <summary>Takes the name of the first guitar from a line, and leaves out the rows of another, which is said.</summary>
    /// <returns>True when nothing of the line is left to read.</returns>
    private bool TryGuitar(List<(string Text, int Number)> lines, ref int at)
    {
        var (line, number) = lines[at];
        if (!_areGuitars || GuitarIn(line) is not { } guitar) return false;
        var rest = line[guitar.Length..];
        if (guitar.Groups["first"].Success)
        {
            if (guitar.Groups["how"] is { Success: true } how) _header.AddNote($"{guitar.Groups["who"].Value} {how.Value}");
            // What is left is read where it stands.
            lines[at] = (new string(' ', guitar.Length) + rest, number);
            return rest.Length == 0;
        }
        var to = at;
        if (rest.Length == 0)
            while (to + 1 < lines.Count && lines[to + 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } next
                && IsRow(next))
                to++;
        else if (!IsRow(rest)) return false;
        if (rest.Length == 0 && to == at) return false;
        Problem(number, 1,
            $"What {guitar.Groups["who"].Value} plays is left out ({(to == at ? "this line" : $"{to - at + 1} lines")}): a chart is that of one "
                + "guitar, here of the first. Paste it as a song of its own where it is to be learnt.");
        at = to;
        return true;

        bool IsRow(string row) => IsChordLine(row) || row.Contains('|');
    }
}
