using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <content>Lines that say how the song goes on without bars of their own: <c>Repeat verse and chorus</c>, <c>Repeat all
/// x2</c>, <c>End on D</c>.</content>
internal sealed partial class ChartTextRun
{
    private const int LongestOnward = 80;

    private static readonly string[] Everything =
        ["all", "everything", "it all", "song", "whole song", "entire song", "from top", "from beginning", "from start"];

    [GeneratedRegex(@"^[\s(*_-]*(?:(?:and|then|and then)\s+)?repeat(?>\s+)(?<what>[^|\[\]{}]+)$", LinePatterns.AnyCase)]
    private static partial Regex Repeated();

    [GeneratedRegex(@",?\s(?:and|to)\s+fade(?:\s+out)?$", LinePatterns.AnyCase)]
    private static partial Regex Fading();

    [GeneratedRegex(@"(?<!\s)\s*[,;&+]\s*(?:and\s|then\s)?|(?<!\s)\s(?:and|then)\s", LinePatterns.AnyCase)]
    private static partial Regex Listed();

    /// <summary>The sections a line asks for once more, each with how often, in order, and how often all of it; null for any
    /// other line.</summary>
    private (List<(string Name, int Times)> Once, int Times)? AskedAgain(string line)
    {
        if (line.Length > LongestOnward || !line.Contains("repeat", StringComparison.OrdinalIgnoreCase)
            || Repeated().Match(line) is not { Success: true } match)
            return null;
        var (what, times) = HeadingLine.Counted(Fading().Replace(match.Groups["what"].Value.Trim(' ', '.', '*', '_', ')', '-'), ""));
        var once = new List<(string, int)>();
        if (Everything.Contains(WithoutArticles(what), StringComparer.OrdinalIgnoreCase))
            once.AddRange(_sections.Select(s => (s.Name, s.Times)));
        else
            foreach (var piece in Listed().Split(what))
            {
                if (Above(WithoutArticles(piece)) is not { } name) return null;
                once.Add((name, 1));
            }
        return (once, Math.Clamp(times, 1, ChartLimits.MostTimes));
    }

    /// <summary>Tells lines that ask for sections of these names once more.</summary>
    internal static Func<string, bool> RepeatsAmong(IEnumerable<string> names)
    {
        var run = new ChartTextRun();
        foreach (var name in names)
        {
            run._names.Add(name);
            run._sections.Add(new OpenSection(name, 1, 0));
        }
        return line => run.AskedAgain(LineTidy.Of(line).TrimEnd()) is not null && !HeadingLine.IsKnown(line);
    }

    private static string WithoutArticles(string words) =>
        string.Join(' ', words.Split(' ', StringSplitOptions.RemoveEmptyEntries).Where(w => !w.Equals("the", StringComparison.OrdinalIgnoreCase)));

    [GeneratedRegex(@"^[\s(*_-]*(?:(?:and|then|and then)\s+)?(?:ends?|finish(?:es)?)\s+(?:on|with)\s+(?:an?\s+)?(?<chord>[A-H]\S{0,11}?)[\s.)*_]*$", LinePatterns.AnyCase)]
    private static partial Regex EndOn();

    /// <summary>Where the chord stands that a line ends the song on; null for any other line.</summary>
    private Group? LastChord(string line) =>
        line.Length <= LongestOnward && EndOn().Match(line) is { Success: true } match && match.Groups["chord"] is var chord
            && char.IsAsciiLetterUpper(chord.Value[0]) && IsChord(chord.Value)
                ? chord
                : null;

    private bool IsOnward(string line) => AskedAgain(line) is not null || LastChord(line) is not null;

    /// <summary>The section that has just been named, where it has no bars yet and nothing says what it is; null for any
    /// other.</summary>
    private OpenSection? NewWithoutBars() =>
        _section is { Bars.Count: 0 } here && (here.Like is null || here.IsLikeAssumed)
                && !_sections.Exists(s => s != here && s.Name.Equals(here.Name, StringComparison.OrdinalIgnoreCase))
            ? here
            : null;

    private bool TryOnward(string line, int number)
    {
        if (_sections.Count == 0 || IsFull) return false;
        if (AskedAgain(line) is var (again, times))
        {
            // Under the name of a section without bars it says what that is.
            if (times == 1 && again is [(var alone, 1)] && NewWithoutBars() is { } named && named.Name != alone)
            {
                (named.Like, named.IsLikeAssumed) = (alone, false);
                return true;
            }
            for (var time = 0; time < times && !IsFull; time++)
                foreach (var (name, often) in again) Open(name, often, number);
            return true;
        }
        if (LastChord(line) is not { } chord) return false;
        Open("Ending", 1, number);
        ReadOver(new string(' ', chord.Index) + chord.Value, "", number);
        return true;
    }
}
