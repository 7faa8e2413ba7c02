using System.Globalization;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>How long each chord lasts where nothing stands behind it: behind the name of its section, <c>Verse (2 bars
/// each)</c>, or in a line of its own, <c>each chord 2 beats</c>; and how many bars a section has in all.</content>
internal sealed partial class ChartTextRun
{
    private const string Long = @"(?:(?<beats>[0-9]{1,2}|one|two|four|eight)\s*(?:beats?|counts?|(?<bars>bars?|measures?))|(?<half>half\sa\s(?:bar|measure)))";
    private const string EachLasts =
        "(?:" + Long + @"\s(?:each(?:\schord)?|(?:per|a|(?:for|on)\seach|(?:for|on)\severy)\schord)"
        + @"|(?:(?:play|hold)\s)?(?:each|every)\s(?:chord\s)?(?:(?:is|gets|lasts|=|(?:played\s)?for)\s)?" + Long + ")";

    [GeneratedRegex(@"^[\s(]*" + EachLasts + @"[\s).]*$", LinePatterns.AnyCase)]
    private static partial Regex EachAlone();

    private Match? _each;   // what the whole song says

    /// <summary>How many beats each chord lasts that is said to last so.</summary>
    private int LengthIn(Match said)
    {
        if (said.Groups["half"].Success) return Math.Max(1, MeterHere.Beats / 2);
        var number = said.Groups["beats"].Value.ToLowerInvariant() switch
        {
            "one" => 1, "two" => 2, "four" => 4, "eight" => 8,
            var digits => int.Parse(digits, CultureInfo.InvariantCulture),
        };
        return number * (said.Groups["bars"].Success ? MeterHere.Beats : 1);
    }

    /// <summary>Takes a line that says how long each chord lasts, above the chords it speaks of.</summary>
    private bool TryEach(string line, int number)
    {
        if (line.Length > LongestNaming || EachAlone().Match(line) is not { Success: true } said) return false;
        if (_section is null) _each = said;
        else if (_section.Bars.Count == 0) _section.Each = said;
        else
            Problem(number, 1,
                "This says how long each chord lasts, and stands behind them; write it above, or behind the name of the section.");
        return true;
    }

    /// <summary>What stands in brackets behind a name and says how long each chord lasts is no part of the name.</summary>
    private static (string Name, Match? Each) WithoutEach(string name) =>
        name.EndsWith(')') && LengthOfEach().Match(name) is { Success: true } said
            ? (name[..said.Index].TrimEnd(), said)
            : (name, null);

    /// <summary>Lets each chord of a row last as long as its section or the song says, where the row says nothing
    /// itself.</summary>
    private List<int>? TakeEach(List<Token> items, int number)
    {
        if ((_section?.Each ?? _each) is not { } each || LengthIn(each) is var length && length == MeterHere.Beats
            || items.Exists(i => i.Units > 1))
            return null;
        if (length * items.Count % MeterHere.Beats == 0 && (length % MeterHere.Beats == 0 || MeterHere.Beats % length == 0))
            return TakeBeats(items, items.ConvertAll(_ => length), (each.Value, 1), number);
        Problem(number, items[0].Column,
            $"'{each.Value.Trim(' ', '(', ')', '.')}' does not fill bars of {MeterHere} with these {items.Count} chords, so each has a "
                + "bar of its own here; write bars where they mean something else, such as | C . G . |.");
        return null;
    }

    /// <summary>How many bars a name says its section has: Intro (4 bars).</summary>
    [GeneratedRegex(@"\(\s*(?<bars>[1-9][0-9]?)\s*(?:bars?|measures?)(?<twice>\s*[,;]?\s(?:repeat(?:ed)?|twice|two\stimes|x\s?2|2\s?x))?\s*\)$", LinePatterns.AnyCase)]
    private static partial Regex BarsSaid();

    /// <summary>Plays what is written in a section until it has as many bars as its name says.</summary>
    private void FillBarsSaid(OpenSection section)
    {
        if (section is not { Like: null, BarsSaid: { } said, Bars.Count: > 0 and var written }) return;
        if (said == written && section.IsSaidTwice) said *= 2;
        if (said == written) return;
        if (said % written == 0)
        {
            for (var i = 0; i < said - written && RoomForBar(section.Line); i++)
                section.Add(Repeated(section, i, isAlone: written == 1), section.Repeats[i]);
            return;
        }
        Problem(section.Line, 1,
            $"{section.Name} has {written} bars where it says {said}; write how long each chord lasts, such as C (2 bars) or "
                + "| C | C |, or how often they are played, such as x2.");
    }
}
