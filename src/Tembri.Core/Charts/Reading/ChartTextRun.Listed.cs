using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>Lists of the chords a song has, <c>Chords used: G C D Em</c>, which are not played where they stand.</content>
internal sealed partial class ChartTextRun
{
    private const string OfTheSong =
        @"(?:\s(?:used|needed|required|to\slearn|list|(?:that\s)?(?:you|we|i)(?:'ll|\swill)?\s(?:need|use)|(?:in|for|of)\s(?:this|the)\s(?:song|tune|piece)))?";

    /// <summary>What such a list is called, alone or in front of its chords.</summary>
    [GeneratedRegex(@"^[\s\[(*_#=~–—-]*(?:(?:all\s|the\s|used\s|guitar\s|open\s){0,3}chords" + OfTheSong
            + @"|chord\s(?:list|shapes|diagrams)|(?:you(?:'ll|\swill)?|we)\sneed|akkorde|accords|acordes|accordi|akkoorden|ackord)(?:\s?\([0-9]{1,2}\))?[\s\])*_#=~]*(?:[:=–—-][\s*_]*(?<chords>[^|]*))?$",
        LinePatterns.AnyCase)]
    private static partial Regex ListOfChords();

    /// <summary>Leaves out a list of the chords of the song, each of them once and none in bars, where the song itself follows;
    /// it is said.</summary>
    private bool TryListOfChords(List<(string Text, int Number)> lines, ref int at)
    {
        var (line, number) = lines[at];
        if (_lists == MostLists || line.Length > LongestList || ListOfChords().Match(line) is not { Success: true } list)
            return false;
        _lists++;
        var (to, listed) = (at, new Dictionary<string, Slot>());
        var isSung = false;
        var behind = list.Groups["chords"];
        if (behind.Length > 0 && !TakeListed(lines[at], behind.Index, listed)) return false;
        // Under the name alone, or behind a comma, there may be more of them.
        for (var i = at + 1; i < lines.Count && (behind.Length == 0 || line.EndsWith(',') && i == to + 1); i++)
        {
            var text = lines[i].Text;
            if (text.Length == 0 && listed.Count > 0) break;
            if (text.Length == 0) continue;
            if (text.Length > LongestList || text.Contains('|') || !TakeListed(lines[i], 0, listed))
            {
                // Right below a row of them another that has one again: both are played.
                if (i == to + 1 && to > at && IsChordLine(text)) return false;
                break;
            }
            // With words under them they may be sung.
            isSung |= i + 1 < lines.Count
                && lines[i + 1].Text is { Length: > 0 and <= ChartLimits.LongestLine } sung && IsLyrics(sung);
            to = i;
        }
        if (listed.Count == 0 || isSung && !AreAllOf(lines, to + 1, listed)) return false;
        if (lines.FindIndex(to + 1, l => l.Text.Length <= ChartLimits.LongestLine && HasBars(l.Text)) >= 0)
        {
            Problem(number, 1, "This is a list of the chords of the song and is left out; they are read where they are played.");
            at = to;
            _listed.AddRange(listed.Values);
            return true;
        }
        if (_bars == 0)
            Problem(number, 1, "This reads like a list of the chords of the song, and nothing else is written: each is read as a bar. "
                + "Write the bars they are played in.");
        return false;
    }

    private const int MostLists = 4;   // a song has one; each looks at all lines behind it
    private const int MostLookedAt = 500;   // lines behind one, for chords that are not in it
    private int _lists;
    private readonly List<Slot> _listed = [];   // chords of lists, which move with the song

    /// <summary>True where the lines from one on have chords, and none but these.</summary>
    private bool AreAllOf(List<(string Text, int Number)> lines, int from, Dictionary<string, Slot> listed)
    {
        var chords = lines.Skip(from).Take(MostLookedAt).Where(l => l.Text.Length <= ChartLimits.LongestLine)
            .SelectMany(l => l.Text.Contains('|') ? l.Text.Split(['|', ' ', ':'], StringSplitOptions.RemoveEmptyEntries)
                : IsChordLine(l.Text) ? ChordsOf(l.Text).Select(c => c.Text)
                : InSquares().Matches(l.Text).Select(m => m.Groups["inside"].Value))
            .Where(IsChord).ToHashSet();
        return chords.Count > 1 && chords.IsSubsetOf(listed.Keys);
    }

    private const int LongestList = 300;
    private const int Strings = 6;

    private static readonly char[] BetweenListed = [.. " ,;-–—/•·&+.()[]"];

    private static readonly char[] BehindListed = [',', ';', '.', ')', ']'];   // a dash may be the chord's own

    /// <summary>Adds the chords of a line to those of the list; false where something else stands there, or a chord is listed
    /// twice, as a row that is played would have it.</summary>
    private bool TakeListed((string Text, int Number) line, int from, Dictionary<string, Slot> listed)
    {
        foreach (Match piece in PiecesListed().Matches(line.Text, from))
        {
            var name = piece.Value.TrimStart(BetweenListed).TrimEnd(BehindListed);
            if (name.Length == 0 || name.Equals("and", StringComparison.OrdinalIgnoreCase)
                // Its shape, a fret for each string.
                || name.Length == Strings && !name.AsSpan().ContainsAnyExcept("0123456789xX"))
                continue;
            var column = line.Text.IndexOf(name, piece.Index, StringComparison.Ordinal) + 1;
            if (ReadChord(name).Chord is not { } chord
                || !listed.TryAdd(name, new Slot(name, chord, 1, "", line.Number, column) { Length = name.Length }))
                return false;
        }
        return true;
    }

    [GeneratedRegex(@"[^\s,]+")]
    private static partial Regex PiecesListed();
}
