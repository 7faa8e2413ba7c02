using Tembri.Core.Music;
using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

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
        BeginEnding(section, match.Groups["passes"].Value.Count(char.IsAsciiDigit), line);
        return match.Length;
    }

    private void BeginEnding(OpenSection section, int passes, int line)
    {
        if (section.Ending is not { } ending)
        {
            section.Ending = new PassEndings
            {
                From = section.OpenRepeat?.Bar ?? 0, To = section.Bars.Count, Passes = passes, Here = section.Bars.Count,
                Line = line
            };
            section.OpenRepeat = null;
            return;
        }
        PlayMore(section, ending);
        Copy(section, ending.From, ending.To, line);
        (ending.Here, ending.Passes, ending.IsClosed, ending.HasSecond) = (section.Bars.Count, passes, false, true);
    }

    /// <summary>An ending in words in front of its bars, or alone above them: <c>1st ending: | D7 | G :|</c>, <c>(2nd time) C
    /// G</c>.</summary>
    [GeneratedRegex(@"^[\s(\[]*(?:(?<first>1st|first)|2nd|second|3rd|third|4th|fourth)\s+(?:ending|time|pass)[\s)\]:.–—-]*(?=$|\||[A-H(])", LinePatterns.AnyCase)]
    private static partial Regex WordedEnding();

    /// <summary>Begins an ending that is told in words, behind bars that every pass plays.</summary>
    /// <param name="line">The line; after it what stands behind the words, where it stood.</param>
    /// <param name="number">Its number.</param>
    /// <returns>False when the line is no such ending.</returns>
    private bool TryWordedEnding(ref string line, int number)
    {
        if (_section is not { Bars.Count: > 0, Like: null } section || WordedEnding().Match(line) is not { Success: true } said
            || said.Groups["first"].Success != section.Ending is null)
            return false;
        var rest = line[said.Length..];
        if (rest.Length > 0 && rest[0] != '|' && !IsChordLine(rest) && !IsChordLine(rest.Split('|')[0])) return false;
        TakeBack(section);
        BeginEnding(section, 1, number);
        line = new string(' ', said.Length) + rest;
        return true;
    }

    /// <summary>A sign that repeats, right before the first ending, is its own: what it repeated is taken out again.</summary>
    private void TakeBack(OpenSection section)
    {
        if (section.ClosedAt != section.Bars.Count) return;
        var copies = section.Bars.Count;
        while (copies > 0 && section.Repeats[copies - 1] != copies - 1) copies--;
        var from = section.Repeats[copies];
        section.RemoveFrom(copies);
        section.ClosedAt = null;
        section.OpenRepeat = (from, 0, 0);
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
