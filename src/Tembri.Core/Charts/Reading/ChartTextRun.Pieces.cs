using System.Text.RegularExpressions;

namespace Tembri.Core.Charts.Reading;

/// <content>What a bar or a line of chords is made of: chords, held beats, and the signs people put between and behind
/// them.</content>
internal sealed partial class ChartTextRun
{
    [GeneratedRegex(@"(?:[^\s,;(]|(?<=[^\s,;])\([^()\s]*\)|\()+")]
    private static partial Regex Pieces();

    [GeneratedRegex(@"\(([^()]*)\)")]
    private static partial Regex Remark();

    private static readonly char[] SaysNothingBehind = ['*', '?', '!', '~', '†'];

    /// <summary>What people write between two chords without a blank.</summary>
    private const string Joints = "-–—‒―‐‑−>→⇒….";

    private static bool IsHeld(string text) => text is "." or "-" or "·" or "/" or "–" or "—" or "~";

    /// <summary>The chords and signs of a piece of a line, with their columns.</summary>
    /// <param name="text">The piece.</param>
    /// <param name="offset">Where it begins in its line.</param>
    /// <param name="line">The line's number, to say what is doubtful; null to say nothing.</param>
    /// <param name="beats">Beats of the bar it is: where there are as many signs, those between two chords are beats.</param>
    private List<(string Text, int Column)> Pieces(string text, int offset, int? line, int beats = 0)
    {
        var pieces = new List<(string Text, int Column)>();
        foreach (Match match in Pieces().Matches(text))
        {
            var (piece, column) = (match.Value, offset + match.Index + 1);
            // Dots apart from a chord say that it goes on for as long as it does.
            if (piece.Length > 1 && piece.AsSpan().TrimStart('.').Length == 0 || piece is "…") continue;
            if (TryHeld(piece, column, pieces)) continue;
            // Marks of slanted or heavy letters, and dots for how long it rings.
            if (piece is ['*' or '_' or '`', _, ..] && piece.Trim('*', '_', '`') is var marked && IsChord(marked))
                (piece, column) = (marked, column + piece.IndexOf(marked, StringComparison.Ordinal));
            if (piece.EndsWith("..", StringComparison.Ordinal) || piece.EndsWith('…'))
                piece = piece.TrimEnd('.', '…') is var rings && IsChord(rings) ? rings : piece;
            // A chord in brackets of its own is played as well.
            if (piece is ['(', _, .., ')'] or ['{', _, .., '}'] && IsChord(piece[1..^1]))
                (piece, column) = (piece[1..^1], column + 1);
            // Strokes close behind their chords: G/D/.
            if (piece is [.., '/'] && !IsChord(piece)
                && piece.Split('/', StringSplitOptions.RemoveEmptyEntries) is { Length: > 1 } struck
                && Array.TrueForAll(struck, IsChord))
            {
                for (var (from, at) = (0, 0); from < piece.Length; from = at)
                {
                    at = piece[from] == '/' ? from + 1 : piece.IndexOf('/', from);
                    pieces.Add((piece[from..at], column + from));
                }
                continue;
            }
            var isAlone = match.Length == text.AsSpan().Trim().Length;
            if (Naming.IsByDegree && DegreeNames.Joined(piece, isAlone, Naming.Names) is { } joined)
            {
                pieces.AddRange(joined.Select(p => (p.Text, column + p.At)));
                continue;
            }
            if (!IsChord(piece) && piece.Length > 2 && piece.AsSpan(1).ContainsAny(Joints)
                && piece.Split([.. Joints], StringSplitOptions.RemoveEmptyEntries) is { Length: > 1 } parts
                && Array.TrueForAll(parts, p => char.IsAsciiLetterUpper(p[0]) && IsChord(p)))
            {
                var at = 0;
                foreach (var part in parts)
                {
                    var from = at;
                    at = piece.IndexOf(part, at, StringComparison.Ordinal);
                    if (line is null && from > 0 && IsRow(piece[from..at])) pieces.Add((piece[from..at], column + from));
                    pieces.Add((part, column + at));
                    at += part.Length;
                }
                continue;
            }
            pieces.Add(line is { } number ? WithoutDoubt(piece, column, number)
                : piece.TrimEnd(SaysNothingBehind) is var bare && IsChord(bare) ? (bare, column)
                : (piece, column));
        }
        TakeRows(pieces);
        return line is null || pieces.Count == beats ? pieces : WithoutSeparators(pieces);
    }

    /// <summary>A chord with a sign behind it that says nothing here is read without it, and that is said.</summary>
    private (string Text, int Column) WithoutDoubt(string piece, int column, int line)
    {
        var kept = piece.TrimEnd(SaysNothingBehind);
        if (kept.Length == piece.Length || kept.Length == 0 || !IsChord(kept)) return (piece, column);
        Problem(line, column + kept.Length,
            $"'{piece[kept.Length..]}' behind {kept} says nothing here and is left out; write a remark in round brackets, such "
                + $"as {kept} (let ring).");
        return (kept, column);
    }

    /// <summary>One dash or stroke between every two chords and none behind the last parts them; it holds nothing.</summary>
    private static List<(string Text, int Column)> WithoutSeparators(List<(string Text, int Column)> pieces)
    {
        if (ArePartedAlike(pieces)) return [.. pieces.Where(p => p.Text != "/")];
        if (pieces.Count < 3 || pieces.Count % 2 == 0) return pieces;
        for (var i = 0; i < pieces.Count; i++)
            if (pieces[i].Text is "-" or "/" or "–" or "—" != (i % 2 == 1) || i % 2 == 1 && pieces[i].Text != pieces[1].Text)
                return pieces;
        return [.. pieces.Where((_, i) => i % 2 == 0)];
    }

    /// <summary>True for groups of as many chords each, two or more, with one stroke between them: lines of a song written
    /// behind each other.</summary>
    private static bool ArePartedAlike(List<(string Text, int Column)> pieces)
    {
        var chords = pieces.FindIndex(p => p.Text == "/");
        if (chords < 2 || (pieces.Count + 1) % (chords + 1) != 0) return false;
        for (var i = 0; i < pieces.Count; i++)
            if (pieces[i].Text == "/" != (i % (chords + 1) == chords) || pieces[i].Text != "/" && IsHeld(pieces[i].Text))
                return false;
        return true;
    }

    /// <summary>A count as far as a chart may go.</summary>
    private int Times(int times, int line, int column)
    {
        if (times is < 1 or > ChartLimits.MostTimes)
            Problem(line, column,
                $"Bars are played at least once and at most {ChartLimits.MostTimes} times; {times} is read as "
                    + $"{Math.Clamp(times, 1, ChartLimits.MostTimes)}.");
        return Math.Clamp(times, 1, ChartLimits.MostTimes);
    }

    /// <summary>A sign that sends the player elsewhere is no bar.</summary>
    private bool TrySign(string cell, int offset, int line)
    {
        if (!PageDebris.IsSign(cell)) return false;
        Problem(line, offset + cell.Length - cell.TrimStart().Length + 1,
            $"{cell.Trim()} is not followed; write the order of the sections in a line of its own, such as "
                + "form: Verse, Chorus, Verse.");
        return true;
    }

    private static string WithoutCount(string line) => HeadingLine.CountAt(line) is { At: > 0 } count ? line[..count.At] : line;

    /// <summary>What stands between the dashes, arrows and commas of a line of chords, a count behind it aside. Where two dashes
    /// follow each other they are beats.</summary>
    private List<(string Text, int Column)> ChordsOf(string line)
    {
        var pieces = Pieces(WithoutRemarks(Ungrouped(WithoutCount(line)).Line, null), 0, null);
        var areBeats = false;
        for (var i = 1; i < pieces.Count; i++) areBeats |= IsDash(pieces[i].Text) && IsDash(pieces[i - 1].Text);
        if (!areBeats) DropStrokes(pieces);
        pieces.RemoveAll(p => IsDash(p.Text) ? !areBeats
            : p.Text is "‒" or "―" or "->" or "=>" or ">" or "→" or "⇒" or "•" or "·" or "*" or "~");
        return pieces;
    }

    /// <summary>Where the chords of a line begin that stand together in brackets behind its words, <c>Salt on the sill (G
    /// D)</c>; null for any other line.</summary>
    private int? ChordsBehindWords(string line)
    {
        var open = line.LastIndexOf('(');
        if (open < 1 || line.IndexOf(')', open) is not (> 0 and var close) || line[open - 1] != ' '
            || !ThreeLetters().IsMatch(line.AsSpan(0, open)) || !LinePatterns.SmallLetters().IsMatch(line.AsSpan(0, open)))
            return null;
        var rest = line[(close + 1)..];
        if (rest.Trim().Length > 0 && HeadingLine.CountAt(rest) is not { At: 0 }) return null;
        var chords = Pieces(line[(open + 1)..close], 0, null);
        return chords.Count > 1 && chords.TrueForAll(c => IsChord(c.Text)) ? open : null;
    }

    [GeneratedRegex(@"[\[{](?<inside>[^\[\]{}|]*)[\]}]")]
    private static partial Regex OtherBrackets();

    /// <summary>A line whose square or curly brackets all hold several chords, with nothing but counts between them, in round
    /// brackets: <c>[G D Em C] x2</c>, <c>{ G D }</c>.</summary>
    private string Rounded(string line)
    {
        if (line.AsSpan().TrimStart() is not ['[' or '{', ..] || line.Contains(':')) return line;
        var groups = OtherBrackets().Matches(line);
        if (groups.Count == 0 || !groups.All(m => ChordsOf(m.Groups["inside"].Value) is { Count: > 1 } chords
                && chords.TrueForAll(c => IsChord(c.Text)))
            || OtherBrackets().Replace(line, " ").Replace("x ", "x", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries)
                .Any(between => HeadingLine.CountInFront(between) != between.Length))
            return line;
        return line.Replace('[', '(').Replace('{', '(').Replace(']', ')').Replace('}', ')');
    }

    /// <summary>A line without the brackets around several chords, which are played like any others: <c>G D (Em C)
    /// x2</c>.</summary>
    /// <returns>The line, as long as it was, and where the last such bracket opens, when nothing stands behind it.</returns>
    private (string Line, int? LastAt) Ungrouped(string line)
    {
        if (!line.Contains('(')) return (line, null);
        int? last = null;
        var open = Remark().Replace(line, m =>
        {
            var inside = m.Groups[1].Value;
            if (Pieces(inside, 0, null) is not { Count: > 1 } chords || !IsChord(chords[0].Text)
                || !chords.TrueForAll(p => IsChord(p.Text) || IsHeld(p.Text)) || m.Index > 0 && line[m.Index - 1] != ' ')
                return m.Value;
            if (line.AsSpan(m.Index + m.Length).IsWhiteSpace()) last = m.Index;
            return $" {inside} ";
        });
        return (open, last);
    }

    /// <summary>A piece of a line with blanks in place of its remarks: brackets that stand alone and hold no chord.</summary>
    private string WithoutRemarks(string text, List<string>? remarks)
    {
        text = WithoutTail(text, remarks);
        return !text.Contains('(') ? text : Remark().Replace(text, m =>
        {
            var inside = m.Groups[1].Value.Trim();
            if (m.Index > 0 && text[m.Index - 1] != ' ' || inside.Length == 0 || IsChord(inside)) return m.Value;
            remarks?.Add(inside);
            return new string(' ', m.Length);
        });
    }

    private const string TailWords =
        @"(?:and\s+|then\s+)?(?<said>fade(?:\s+out)?|hold|let\s+(?:it\s+)?ring|rit\.?|ritard\.?|stop|end|etc\.?)";

    /// <summary>What is remarked at the end of a line without brackets: how it ends, or what stands behind dots.</summary>
    [GeneratedRegex(@"(?<=\s)(?:(?:\.{3,}|…)(?<said>[^|\[\]]*)|" + TailWords + @"\s*)$", LinePatterns.AnyCase)]
    private static partial Regex Tail();

    [GeneratedRegex("^" + TailWords + "$", LinePatterns.AnyCase)]
    private static partial Regex IsTail();

    /// <summary>The text without what is remarked at its end. Behind one chord and one blank it may be words: "A
    /// hold".</summary>
    private string WithoutTail(string text, List<string>? remarks)
    {
        if (text.Length == 0 || !(char.IsLetter(text[^1]) || text[^1] is '.' or '…' or ' ')
            || Tail().Match(text) is not { Success: true } tail)
            return text;
        var before = text[..tail.Index].TrimEnd();
        var words = before.Split(' ', StringSplitOptions.RemoveEmptyEntries);
        if (words.Length == 0 || words.Length == 1 && tail.Index - before.Length < 2
            || !Array.TrueForAll(words, w => IsChord(w) || IsHeld(w) || HeadingLine.CountInFront(w) == w.Length))
            return text;
        var said = tail.Groups["said"].Value.Trim();
        // Behind the dots it goes on with chords.
        if (said.Split(' ')[0] is { Length: > 0 } next && IsChord(next)) return text;
        if (said.Length > 0) remarks?.Add(said);
        return before;
    }

    /// <summary>For which verses a row is, in short: V1, V2.</summary>
    [GeneratedRegex(@"^\s*\(?V\s?[1-9](?:\s?[,/&+-]\s?V?\s?[1-9]){0,6}\)?\s*$", LinePatterns.AnyCase)]
    private static partial Regex NamesOfVerses();

    /// <summary>What stands behind the last bar line and is neither a bar nor a count nor a sign; it belongs to the last
    /// bar.</summary>
    /// <returns>The line without it, what is said, and where it begins; null when nothing is.</returns>
    private (string Line, string Said, int At)? BehindBars(string line)
    {
        var at = line.LastIndexOf('|') + 1;
        if (!LinePatterns.SmallLetters().IsMatch(line.AsSpan(at)) && !NamesOfVerses().IsMatch(line.AsSpan(at))
            || PageDebris.IsSign(line[at..])
            || line.AsSpan(at).ContainsAny('(', '[') || HeadingLine.CountAt(line[at..]) is { At: 0 })
            return null;
        at += HeadingLine.CountInFront(line[at..]);
        var said = line[at..].Trim(' ', ',', ';', '.', '-', '–', '—');
        if (said.Length == 0 || IsChord(said.Split(' ')[0].TrimEnd('/', '.', '-'))) return null;
        return (line[..at], said, line.IndexOf(said, at, StringComparison.Ordinal));
    }
}
