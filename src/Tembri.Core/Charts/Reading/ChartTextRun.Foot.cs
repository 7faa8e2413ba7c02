namespace Tembri.Core.Charts.Reading;

/// <content>What is said of the whole song at its foot, apart from the bars.</content>
internal sealed partial class ChartTextRun
{
    private const int MostFootLines = 3;   // more are the words of the song
    private int? _lastBars;   // index of the last line that has any
    private int _footAt = -1;

    /// <summary>Takes words behind all bars, a blank line away, for remarks of the whole song: where they say its meter, its key
    /// or its tempo, or nothing is sung to the bars.</summary>
    private bool TryFoot(List<(string Text, int Number)> lines, int at, string line)
    {
        if (at == 0 || _bars == 0
            || lines[at - 1].Text.Length > 0 && _footAt != at - 1 && !ChartHeader.IsHeader(lines[at - 1].Text))
            return false;
        _lastBars ??= lines.FindLastIndex(l => l.Text.Length is > 0 and <= ChartLimits.LongestLine && HasBars(l.Text));
        if (at < _lastBars) return false;
        var takes = _header.TakeAmongWords(line, lines[at].Number, isAtFoot: true);
        if (!takes && (IsSung() || lines.Skip(_lastBars.Value + 1).Count(l => l.Text.Length > 0) > MostFootLines)) return false;
        _header.AddNote(line.Trim());
        _footAt = at;
        return true;
    }

    private bool IsSung() =>
        _lead.Length > 0 || _sections.Exists(s => s.Words.Count > 0
            || s.Bars.Exists(b => b.Lead.Length > 0 || b.Slots.Any(c => c.Lyric.Length > 0)));
}
