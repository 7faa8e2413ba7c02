using Tembri.Core.Music;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts;

/// <content>Endings of a repeat: what differs from pass to pass.</content>
internal sealed partial class ChartTextRun
{
    /// <summary>The passes an ending is for: <c>1.</c>, <c>2</c>, <c>1.2.</c>, <c>1, 2)</c>.</summary>
    [GeneratedRegex(@"^\s*(?<passes>[0-9](?:\s?[.,]\s?[0-9]){0,3})\s*[.)\]]?\s+(?=\S)", RegexOptions.CultureInvariant)]
    private static partial Regex Ending();

    /// <summary>The same where numbers are chords: only a dot or a bracket right behind it makes an ending of one.</summary>
    [GeneratedRegex(@"^\s*(?<passes>[0-9](?:[.,]\s?[0-9]){0,3})[.)\]]\s+(?=\S)", RegexOptions.CultureInvariant)]
    private static partial Regex MarkedEnding();

    private Match EndingIn(string cell) => (Naming.IsByDegree ? MarkedEnding() : Ending()).Match(cell);

    /// <summary>A bar that begins an ending: what was played before it is played again first, unless it is the first
    /// ending.</summary>
    /// <returns>How much of the cell the mark takes; null where there is none.</returns>
    private int? TakeEnding(OpenSection section, string cell, int line)
    {
        if (EndingIn(cell) is not { Success: true } match || Meter.TryParse(cell.Trim().Split(' ')[0], out _))
        {
            // After the closing sign of an ending everything goes on behind the last pass.
            if (section.Ending is { IsClosed: true } && cell.Trim().Length > 0) CloseEndings(section);
            return null;
        }
        var passes = match.Groups["passes"].Value.Count(char.IsAsciiDigit);
        if (section.Ending is not { } ending)
        {
            section.Ending = new PassEndings
            {
                From = section.OpenRepeat?.Bar ?? 0, To = section.Bars.Count, Passes = passes, Here = section.Bars.Count,
                Line = line
            };
            section.OpenRepeat = null;
            return match.Length;
        }
        PlayMore(section, ending);
        Copy(section, ending.From, ending.To, line);
        (ending.Here, ending.Passes, ending.IsClosed, ending.HasSecond) = (section.Bars.Count, passes, false, true);
        return match.Length;
    }

    /// <summary>An ending for several passes is played that often.</summary>
    private void PlayMore(OpenSection section, PassEndings ending)
    {
        var end = section.Bars.Count;
        for (var pass = 1; pass < ending.Passes; pass++)
        {
            Copy(section, ending.From, ending.To, ending.Line);
            Copy(section, ending.Here, end, ending.Line);
        }
        ending.Passes = 1;
    }

    private void CloseEndings(OpenSection section)
    {
        if (section.Ending is not { } ending) return;
        section.Ending = null;
        PlayMore(section, ending);
        // A first ending that goes back, and no second one: the last pass leaves it out.
        if (ending is { IsClosed: true, HasSecond: false }) Copy(section, ending.From, ending.To, ending.Line);
    }

    private void Copy(OpenSection section, int from, int to, int line)
    {
        for (var b = from; b < to && !IsFull; b++) AddBar(section.Bars[b], line, section.Repeats[b]);
    }
}
