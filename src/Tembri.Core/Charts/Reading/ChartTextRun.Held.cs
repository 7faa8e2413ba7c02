using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <content>Strokes and dashes behind chords, one a beat: <c>C / / /</c>, <c>C///</c>, <c>C ////</c>, <c>C - - -</c>.</content>
internal sealed partial class ChartTextRun
{
    private static bool IsDash(string text) => text is "-" or "–" or "—";

    /// <summary>Several strokes, or several dashes, without a blank.</summary>
    private static bool IsRow(string text) =>
        text.Length > 1 && text[0] is '/' or '-' && text.AsSpan().TrimStart(text[0]).Length == 0;

    /// <summary>Strokes or dashes close behind a chord hold it, one each.</summary>
    private bool TryHeld(string piece, int column, List<(string Text, int Column)> pieces)
    {
        if (piece is not ([.., '/', '/'] or [.., '-', '-'] or [_, .., '/'])) return false;
        var chord = piece.TrimEnd(piece[^1]);
        // One stroke alone may part chords that have another bass: G/B/C.
        if (chord.Length == 0 || !IsChord(chord) || chord.Length + 1 == piece.Length && chord.Contains('/')) return false;
        pieces.Add((chord, column));
        for (var i = chord.Length; i < piece.Length; i++) pieces.Add((piece[^1..], column + i));
        return true;
    }

    /// <summary>Rows of strokes or dashes that stand apart hold the chords before them, one a sign, where every chord has some
    /// or where rows that differ fill bars; else they only part the chords.</summary>
    private void TakeRows(List<(string Text, int Column)> pieces)
    {
        if (pieces.Count < 2 || !pieces.Exists(p => IsRow(p.Text))) return;
        var lengths = new List<int>();
        foreach (var (text, _) in pieces)
            if (IsRow(text) && lengths.Count > 0) lengths[^1] += text.Length;
            else if (IsHeld(text) && lengths.Count > 0) lengths[^1]++;
            else lengths.Add(1);
        var beats = MeterHere.Beats;
        // Drawn alike wide, by signs or by letters, each is a bar.
        var isDrawn = pieces.TrueForAll(p => !IsHeld(p.Text)) && AreDrawnAlike(pieces);
        var hold = !isDrawn && (lengths.TrueForAll(l => l > 1) || lengths.Distinct().Count() > 2 && lengths.Sum() % beats == 0);
        for (var i = pieces.Count - 1; i >= 0; i--)
        {
            var (row, column) = pieces[i];
            if (!IsRow(row)) continue;
            pieces.RemoveAt(i);
            if (hold) pieces.InsertRange(i, row.Select((sign, at) => (sign.ToString(), column + at)));
        }
    }

    /// <summary>True for chords of names that are not alike long, each with dashes to the same width but for the last.</summary>
    private static bool AreDrawnAlike(List<(string Text, int Column)> pieces) =>
        AreAlikeApart([.. pieces.Where(p => !IsRow(p.Text)).Select(p => (p.Column, p.Text.Length))])
            && pieces.TrueForAll(p => !IsRow(p.Text) || p.Text[0] == '-');

    /// <summary>True for chords of names that are not alike long, all as far from each other: dashes behind them are drawn to
    /// that width and count no beats.</summary>
    /// <param name="chords">Where each stands and how long it is, from left to right.</param>
    internal static bool AreAlikeApart(IReadOnlyList<(int Column, int Length)> chords) =>
        chords.Zip(chords.Skip(1), (from, to) => to.Column - from.Column).Distinct().ToList() is [> 4]
            && chords.DistinctBy(c => c.Length).Count() > 1;

    /// <summary>Where dashes part the chords, a stroke between two chords parts them as well: <c>G - A - D / G -
    /// A</c>.</summary>
    private static void DropStrokes(List<(string Text, int Column)> pieces)
    {
        if (pieces.Count(p => IsDash(p.Text)) < Math.Max(2, pieces.Count(p => p.Text == "/"))) return;
        for (var i = pieces.Count - 2; i > 0; i--)
            if (pieces[i].Text == "/" && !IsHeld(pieces[i - 1].Text) && !IsHeld(pieces[i + 1].Text)) pieces.RemoveAt(i);
    }

    /// <summary>A line of groups of chords, one stroke between every two and none at either end, of which some are longer than
    /// others: where most are single chords each group is a bar, <c>Am / F / G E7</c>, where all have several, or strokes for
    /// beats would fill no whole bars, they are rows behind each other, <c>G D Em C / G D</c>. Any other line as it
    /// is.</summary>
    /// <param name="line">The line.</param>
    /// <param name="isSung">True when words stand under it.</param>
    private string WithoutStrokes(string line, bool isSung)
    {
        if (line.AsSpan().ContainsAny('|', '[')) return line;
        var groups = new List<int> { 0 };
        var (strokes, dashes) = (new List<int>(), new List<int>());
        foreach (var (word, at) in LinePatterns.WordsOf(WithoutRemarks(WithoutCount(line), null)))
            if (IsDash(word)) dashes.Add(at);
            else if (word != "/" && !IsChord(word.TrimEnd(',', ';'))) return line;
            else if (word != "/") groups[^1]++;
            else
            {
                groups.Add(0);
                strokes.Add(at);
            }
        var single = groups.Count(g => g == 1);
        var areBars = groups.Count > 2 && 2 * single > groups.Count && groups.TrueForAll(g => g > 0 && MeterHere.Beats % g == 0);
        var areRows = groups.TrueForAll(g => g > 1) || groups.TrueForAll(g => g > 0) && groups.Exists(g => g > 2)
            && (groups.Sum() + strokes.Count) % MeterHere.Beats != 0;
        if (groups.Distinct().Count() < 2 || !(areBars && !isSung || areRows)) return line;
        var parted = line.ToCharArray();
        foreach (var at in strokes) parted[at] = areBars ? '|' : ' ';
        foreach (var at in dashes) parted[at] = ' ';
        return new string(parted);
    }

    /// <summary>The last chord of a row in which all others are held as long, with none of its beats written, fills its bar like
    /// them: <c>Am - - - F - - - G</c>.</summary>
    private static void HoldLast(List<Token> items, Meter meter)
    {
        if (items is not [{ Units: > 1 and var held }, .., { Units: 1 }] || items.SkipLast(1).Any(i => i.Units != held)) return;
        var beats = held * (items.Count - 1) + 1;
        if (beats % meter.Beats != 0 && (beats - 1 + held) % meter.Beats == 0) items[^1] = items[^1] with { Units = held };
    }

    /// <summary>Strokes may stand for all beats of a chord, its own among them, <c>C ////</c>: where they fill bars so and not
    /// otherwise.</summary>
    private static void CountStrokes(List<Token> items, List<(string Text, int Column)> pieces, Meter meter)
    {
        if (!pieces.Exists(p => p.Text == "/") || items.Exists(i => i.Units < 2)) return;
        if (Fill(items, meter.Beats, 0) || Fill(items, meter.Beats * meter.Division, 0) || !Fill(items, meter.Beats, -1)) return;
        for (var i = 0; i < items.Count; i++) items[i] = items[i] with { Units = items[i].Units - 1 };
    }

    /// <summary>True when chords of these lengths, each so much longer, fill bars of their own.</summary>
    private static bool Fill(List<Token> items, int beats, int longer)
    {
        var filled = 0;
        foreach (var item in items)
        {
            filled += item.Units + longer;
            if (filled > beats) return false;
            filled %= beats;
        }
        return filled == 0;
    }
}
