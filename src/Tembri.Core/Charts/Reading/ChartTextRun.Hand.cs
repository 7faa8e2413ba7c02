using System.Text.RegularExpressions;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts.Reading;

/// <content>Lines that say what the right hand strums or picks, and figures.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^\s*(?:strum(?:ming)?(?: pattern)?|(?<other>pattern|rhythm))\s*:\s*(?<steps>.*)$|^\s*(?<steps>[↓↑](?:[↓↑\s]|[x.-](?=\s|$))*[↓↑][x.\s-]*)$"
            // Letters alone: D is a chord as well, U is none. Words alone may be sung, so both have to be there.
            + @"|^\s*(?<letters>(?=[^uU]{0,12}[uU])(?:[DUX][\s.-]{0,4}){4,16}|(?=[^uU]{0,80}\bup\b)(?=.{0,80}\bdown\b)(?:(?:down|up)\b[\s,-]{0,3}){4,16})$",
        LinePatterns.AnyCase)]
    private static partial Regex StrumLine();

    /// <summary>True for a line that says what the hand strums.</summary>
    internal static bool IsStrum(string line) =>
        StrumLine().Match(line) is { Success: true } match
            && (!match.Groups["other"].Success && !match.Groups["letters"].Success || HandOf(StepsIn(match)) is not null);

    private static string StepsIn(Match line) =>
        (line.Groups["letters"] is { Success: true } letters ? letters : line.Groups["steps"]).Value.Trim();

    private bool TryStrum(string line, int number)
    {
        if (!line.Contains(':') && !line.AsSpan().ContainsAny('↓', '↑', 'U') && !line.Contains("up", StringComparison.OrdinalIgnoreCase)
            || StrumLine().Match(line) is not { Success: true } match)
            return false;
        var steps = StepsIn(match);
        var hand = HandOf(steps);
        // What is remarked of it stands behind it: D DU UDU (all the way through).
        if (hand is null && steps.EndsWith(')') && steps.LastIndexOf('(') is > 0 and var open
            && HandOf(steps[..open].TrimEnd()) is { } alone)
        {
            hand = alone;
            _header.AddNote(steps[(open + 1)..^1].Trim());
        }
        // Other words for it may say something else.
        if (hand is null && (match.Groups["other"].Success || match.Groups["letters"].Success)) return false;
        // At the head it is that of all sections that say nothing else.
        if (hand is not null && _section is null) _songStrum = hand.ToString();
        else if (hand is not null) Here(number).Strum = hand.ToString();
        else
            Problem(number, match.Groups["steps"].Index + 1,
                $"'{steps}' is not a pattern of the hand; write a letter a step: d down, u up, x damped, in capitals when "
                    + "leaned on, - passed, . ringing, s stopped; or picked: b the bass string, a the other bass, 1 to 6 a "
                    + "string, (b1) both at once; | between two bars; then, if wanted, swing 50 to 75, soft or loud.");
        return true;
    }

    private int _figures;

    private bool TryFigure(string line, int number)
    {
        if (FigureText.Of(line) is not { } figure) return false;
        var here = Here(number).Figures;
        if (here.Count < FigureText.Most && _figures < FigureText.MostInChart)
        {
            here.Add((figure, number));
            _figures++;
        }
        else
            Problem(number, 1,
                $"A section has at most {FigureText.Most} figures, a chart {FigureText.MostInChart}; this one is left out.");
        return true;
    }

    /// <summary>A section's right hand as people write it down; null when it is none.</summary>
    internal static SectionHand? HandOf(string written)
    {
        if (SectionHand.Read(written) is not { } hand) return null;
        var steps = hand.Steps.Equals(StrumPattern.FreeNotation, StringComparison.OrdinalIgnoreCase)
            ? StrumPattern.FreeNotation
            : InLetters(hand.Steps);
        var isRead = steps.Length == 0
            ? hand != SectionHand.None
            : steps == StrumPattern.FreeNotation || HandSteps.Read(steps) is { } read && read.Any(s => s.Sounds);
        return isRead ? hand with { Steps = steps } : null;
    }

    /// <summary>The steps of a bar. A blank between groups of strokes is a step that is passed, where that fills eighths or
    /// sixteenths, <c>D DU UDU</c>; else it says nothing.</summary>
    private static string InSteps(string bar)
    {
        var groups = bar.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        var passed = groups.Any(g => g.Length > 1) && groups.All(g => g.AsSpan().TrimStart("dDuUxX").Length == 0)
            && groups.Sum(g => g.Length) + groups.Length - 1 is 8 or 16;
        return string.Join(passed ? "-" : "", groups);
    }

    /// <summary>A pattern as people jot it down, in words, in capitals or with blanks, in the letters of a pattern.</summary>
    private static string InLetters(string written)
    {
        var words = written.Split([' ', ','], StringSplitOptions.RemoveEmptyEntries)
            .Select(w => w.ToLowerInvariant() switch
            {
                "down" => "d",
                "up" => "u",
                "miss" or "rest" => "-",
                "mute" or "muted" => "x",
                _ => w.Replace('↓', 'd').Replace('↑', 'u')
            });
        var letters = string.Join('|', string.Join(' ', words).Split('|').Select(InSteps));
        // All in capitals, they say nothing of what is leaned on.
        return letters.Contains('U') && !letters.Any(char.IsLower) ? letters.ToLowerInvariant() : letters;
    }
}
