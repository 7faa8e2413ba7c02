using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Stanzas that begin a section without a name behind a chorus or a bridge that has one.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"^\s*\{\s*chorus\b[^{}]*\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex PlaysChorus();

    [GeneratedRegex(@"^\s*\{\s*verse\b[^{}]*\}\s*$", LinePatterns.AnyCase)]
    private static partial Regex MarkOfVerse();

    /// <summary>True for a mark that plays the chorus, where there is one above.</summary>
    internal static bool IsMarkOfChorus(string line) => PlaysChorus().IsMatch(line);

    private const int MostStanzas = 300;   // more than a song has
    private const int LongestSong = 20_000;   // characters; in a longer text nobody could tell what belongs together
    private readonly List<int> _beginsUnnamed = [];

    /// <summary>Finds where a verse without a name begins behind a section that it is no part of; that is said.</summary>
    private void FindUnnamed(List<(string Text, int Number)> lines)
    {
        if (lines.Sum(l => l.Text.Length) > LongestSong || StanzasIn(lines) is not { } parts) return;
        if (parts.Count == 1)
        {
            FindSungAlike(lines, parts[0].Stanzas);
            return;
        }
        FindNamedLater(lines, parts);
        foreach (var (at, above, like, why) in UnnamedStanzas.In(parts))
        {
            if (_numbered.ContainsKey(at)) continue;
            _numbered[at] = like is null or Unnamed ? Unnamed : HeadingLine.KindOf(like);
            if (why == PartedBy.EndMark) continue;
            _beginsUnnamed.Add(lines[at].Number);
            var shown = why switch
            {
                PartedBy.FurtherLeft => $"These lines stand further left than {above}, so they are no part of it",
                PartedBy.ChordsOfAnother => $"These lines have the chords with which {like} begins, so they are no part of {above}",
                PartedBy.LinesOfAnother => $"These lines are words alone, as many as {like} begins with, so they are no part of {above}",
                PartedBy.Repetition => $"{above} comes again below without these lines, so they are no part of it",
                _ => $"{above} has other bars above, so these lines are no part of it",
            };
            Problem(lines[at].Number, 1,
                $"{shown} but a section of their own. Write its name in a line above, such as Verse 2.");
        }
    }

    /// <summary>Where the head of a chart has stanzas of two kinds without names, and only later on the chorus is named, without
    /// bars, the second kind is it; that is said.</summary>
    private void FindNamedLater(List<(string Text, int Number)> lines, List<NamedStanzas> parts)
    {
        var above = parts[0].Stanzas.FindAll(s => s.Rows > 0);
        // What nobody sings is an intro.
        var head = above.FindAll(s => s.Words > 0);
        if (parts[0].At >= 0 || head.Find(s => s.Chords != head[0].Chords) is not { } second
            || head.Exists(s => s.Chords != head[0].Chords && s.Chords != second.Chords)
            || parts.Exists(p => p.Kind == SectionKind.Chorus && p.HasChords && !IsBare(p))
            || parts.Find(p => p.Kind == SectionKind.Chorus) is not { } chorus
            || lines.Exists(l => l.Text.Length > 0 && NamedBehind(l.Text) is var (_, name, _)
                && SectionNames.KindOf(name) != SectionKind.Intro))
            return;
        foreach (var stanza in head)
            _numbered[stanza.At] = stanza.Chords == second.Chords ? HeadingLine.KindOf(chorus.Name) : Verse;
        foreach (var part in parts.Skip(1))
            if (IsBare(part) || part.IsApart && part.Name.EndsWith($", as {Verse}", StringComparison.OrdinalIgnoreCase))
                foreach (var stanza in part.Stanzas.Where(s => s.Rows > 0 && s.Chords != second.Chords))
                    _numbered[stanza.At] = stanza.Chords == head[0].Chords ? Verse : Unnamed;
        _beginsUnnamed.AddRange(head.Select(s => lines[s.At].Number));
        Problem(lines[second.At].Number, 1,
            $"{chorus.Name} is named below and has no bars there, so these lines are taken for it. Write its name in a line above them.");

        // A name that plays the chorus, and a verse or the intro again a blank line away.
        bool IsBare(NamedStanzas part) =>
            part.IsApart && above.Exists(s => s.Chords == part.Stanzas[0].Chords && s.Chords != second?.Chords);
    }

    private const string Verse = "Verse";

    /// <summary>In a chart without names, finds verses of words alone that have as many lines as the first one has under its
    /// chords; that is said.</summary>
    private void FindSungAlike(List<(string Text, int Number)> lines, List<Stanza> stanzas)
    {
        var first = stanzas.FindIndex(s => s.Rows > 0);
        if (first < 0 || stanzas[first].Words is not (> 1 and var sung)) return;
        var more = stanzas[(first + 1)..];
        // A chorus with chords of its own would be part of what is played again.
        if (more.Exists(s => s.Rows > 0 || s.Words > 1 && s.Words != sung)) return;
        var alike = more.FindAll(s => s.Words == sung
            && lines.Skip(s.At).TakeWhile(l => l.Text.Length is > 0 and <= ChartLimits.LongestLine).All(l => IsLyrics(l.Text)));
        if (alike.Count == 0) return;
        foreach (var stanza in alike)
        {
            _numbered[stanza.At] = Unnamed;
            _beginsUnnamed.Add(lines[stanza.At].Number);
        }
        Problem(lines[alike[0].At].Number, 1,
            "These lines are words alone, as many as the first ones have, so they are sung to the same chords. Write Verse 2 in a line "
                + "above them.");
    }

    /// <summary>All stanzas by the names they stand under; null where a chart has more stanzas than any song.</summary>
    private List<NamedStanzas>? StanzasIn(List<(string Text, int Number)> lines)
    {
        var (parts, stanzas) = (new List<NamedStanzas> { new(Unnamed, SectionKind.Own, -1, false, []) }, 0);
        Stanza? open = null;
        var (indent, held) = (0, 0);   // of the last name, and lines below it that stand as far right
        for (var i = 0; i < lines.Count; i++)
        {
            var line = lines[i].Text;
            if (line.Length is 0 or > ChartLimits.LongestLine || PageDebris.IsRule(line))
            {
                Close();
                continue;
            }
            if (TabBegins().IsMatch(line)
                && lines.FindIndex(i + 1, l => TabEnds().IsMatch(l.Text) || TabBegins().IsMatch(l.Text)) is > 0 and var tab
                && TabEnds().IsMatch(lines[tab].Text))
            {
                i = tab;
                continue;
            }
            if (HeadingLine.IsEndOfSection(line))
            {
                Close();
                parts.Add(new(Unnamed, SectionKind.Own, i, true, []));
                continue;
            }
            // Whoever looks below a name looks past what the hand plays.
            if (IsStrum(line) || FigureText.IsFigure(line) || ListOfChords().Match(line).Groups["chords"].Length > 0) continue;
            line = WithoutBrackets(WithoutComment(lines, i));
            if ((_numbered.TryGetValue(i, out var verse) ? new(verse, 1, 0) : NameOn(lines, i, line) ?? NameAgain(line)) is
                { } named)
            {
                Close();
                parts.Add(new(named.Name, new Section(named.Name, []).Kind, i, false, []));
                (indent, held) = (IndentOf(lines[i].Text), 0);
                // A mark that plays the chorus again has nothing below it.
                if (IsMarkOfChorus(line) && parts.Exists(p => p is { Kind: SectionKind.Chorus, HasChords: true })
                    && !lines.Exists(l => MarkOfVerse().IsMatch(l.Text)))
                    parts.Add(new(Unnamed, SectionKind.Own, i, true, []));
                if (named.RestAt >= line.Length) continue;
                line = new string(' ', named.RestAt) + line[named.RestAt..];
            }
            else if (indent >= LeastIndent)
            {
                // Only where chords stand among the words, or bars, does the place of a line say something.
                var isLeft = IndentOf(line) <= indent - LeastIndent;
                if (isLeft && held > 0 && line.AsSpan().ContainsAny('[', '|') && ChordsOn(line).Length > 0)
                {
                    Close();
                    parts.Add(new(Unnamed, SectionKind.Own, i, true, []) { IsOutdented = true });
                    indent = 0;
                }
                else if (isLeft) indent = 0;
                else held++;
            }
            if (stanzas > MostStanzas || parts.Count > MostStanzas) return null;
            if (line.AsSpan().TrimStart() is ['{', ..] && WithRoundChords(line) is null || IsRemark(line)
                || PageDebris.Of(line, IsChord) is not null)
                continue;
            open ??= new(i, "", 0, 0);
            var chords = ChordsOn(line);
            var hasWords = (chords.Length == 0 || line.Contains('['))
                && LinePatterns.SmallLetters().IsMatch(ChordsInBrackets().Replace(line, ""));
            if (chords.Length > 0)
                open = open with
                {
                    Chords = open.Chords + chords, Rows = open.Rows + 1, Words = open.Rows == 0 ? 0 : open.Words,
                };
            if (hasWords) open = open with { Words = open.Words + 1 };
        }
        Close();
        return parts;

        HeadingLine? NameAgain(string line) =>
            line.Trim(' ', '.', ':', '(', ')', '-', '*') is { Length: > 0 and <= LongestNaming } name
                && parts.Exists(p => p.At >= 0 && !p.IsBehindEnd && p.Name.Equals(name, StringComparison.OrdinalIgnoreCase))
                ? new(name, 1, line.Length)
                : null;

        void Close()
        {
            if (open is not null) parts[^1].Stanzas.Add(open);
            if (open is not null) stanzas++;
            open = null;
        }
    }

    private const int LeastIndent = 2;   // blanks

    private static int IndentOf(string line) => line.Length - line.AsSpan().TrimStart().Length;

    private HeadingLine? NameOn(List<(string Text, int Number)> lines, int at, string line) =>
        HeadingLine.Alone(line, IsChord, NextHasBars(lines, at)) ?? InShortAboveWords(lines, at, line)
            ?? EndAbove(lines, at, line)
            ?? (HeadingLine.WithBars(line, IsChord, IsChordLine) is { } front && !IsChordInFront(line, front) ? front : null)
            ?? HeadingLine.WithWords(line);

    /// <summary>The chords of a line in their order, each in square brackets; empty for a line of words.</summary>
    private string ChordsOn(string line)
    {
        var symbols = line.Contains('[') ? InSquares().Matches(line).Select(m => m.Groups["inside"].Value.Trim())
            : line.Contains('|') ? line.Split([' ', '|', ':', '.'], StringSplitOptions.RemoveEmptyEntries)
            : WithRoundChords(line) is { } squared ? InSquares().Matches(squared).Select(m => m.Groups["inside"].Value.Trim())
            : IsChordLine(line) ? ChordsOf(line).Select(c => c.Text)
            : [];
        return string.Concat(symbols.Where(IsChord).Select(s => $"[{s}]"));
    }
}
