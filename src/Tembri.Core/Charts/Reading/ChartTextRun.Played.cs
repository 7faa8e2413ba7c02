using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Lines that say how the bars above are played and are no words of the song: <c>repeat and fade</c>, <c>vamp till
/// ready</c>, <c>(let ring)</c>.</content>
internal sealed partial class ChartTextRun
{
    private const int LongestHowPlayed = 60;

    /// <summary>What nobody sings, and, in brackets, what somebody may.</summary>
    [GeneratedRegex(@"^[\s*_-]*(?:\(\s*)?(?:(?:and\s|then\s)?(?:repeat|rpt\.?|vamp|loop|jam)(?:\s(?:this|it|all|on\s(?:this|it)))?,?\s(?:ad\s?lib(?:itum)?|(?:and\s|to\s|till\s|til\s|until\s)(?:the\s)?(?:fade(?:s)?(?:\s?-?out)?|ready|cue|end|done)|as\s(?:often\sas\s)?(?:needed|required|wanted|you\slike)|forever)"
            + @"|(?:and\s|then\s)?fade[\s-]?out|ad\slib(?:itum)?|let\s(?:(?:it|them|last\schord|chords?)\s)?ring(?:\sout)?|rit(?:ard(?:ando)?)?|rall(?:entando)?|tacet|palm\smut(?:e|ed|ing)|strum\s(?:once|and\shold|down\sonce))\s*[.!]?\s*\)?[\s*_.!-]*$"
            + @"|^\s*[(\[]\s*(?:hold|stop|pause|fade|slow(?:ly|er|ing)?(?:\sdown)?|soft(?:ly|er)?|quiet(?:ly|er)?|loud(?:ly|er)?|build(?:\sup)?|(?:half|double)[\s-]time|drums?\s(?:in|out|only|stop)|band\s(?:in|out|stops)|no\sdrums|arpeggio|finger\s?pick(?:ed|ing)?|muted|(?:riff|lick|fill)(?:\s[x×]?\s?[0-9]x?)?)\s*[.!]?\s*[)\]]\s*$|^\s*(?:and\s)?then:?\s*$",
        LinePatterns.AnyCase)]
    private static partial Regex HowPlayed();

    private static bool IsHowPlayed(string line) => line.Length <= LongestHowPlayed && HowPlayed().IsMatch(line);

    /// <summary>Takes such a line as a remark of the bar above; apart from it, right above bars, it names those.</summary>
    private bool TryHowPlayed(List<(string Text, int Number)> lines, int at, string line)
    {
        if (_section is not { Bars: [.., var last] bars } || _lead.Length > 0 || !IsHowPlayed(line)) return false;
        var said = line.Trim(' ', '*', '_', '-', '(', ')', '[', ']', '.', '!');
        if (lines[at - 1].Text.Length == 0 && line.AsSpan().TrimStart() is not ['(' or '[', ..] && NextHasBars(lines, at))
        {
            if (!IsFull) Open(said, 1, lines[at].Number);
        }
        else bars[^1] = last with { Remarks = [.. last.Remarks, said] };
        return true;
    }
}
