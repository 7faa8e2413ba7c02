using Tembri.Core.Music;

namespace Tembri.Core.Charts;

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
        if (!piece.EndsWith("//", StringComparison.Ordinal) && !piece.EndsWith("--", StringComparison.Ordinal)) return false;
        var chord = piece.TrimEnd(piece[^1]);
        if (chord.Length == 0 || !IsChord(chord)) return false;
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
        var hold = lengths.TrueForAll(l => l > 1) || lengths.Distinct().Count() > 2 && lengths.Sum() % beats == 0;
        for (var i = pieces.Count - 1; i >= 0; i--)
        {
            var (row, column) = pieces[i];
            if (!IsRow(row)) continue;
            pieces.RemoveAt(i);
            if (hold) pieces.InsertRange(i, row.Select((sign, at) => (sign.ToString(), column + at)));
        }
    }

    /// <summary>Where dashes part the chords, a stroke between two chords parts them as well: <c>G - A - D / G -
    /// A</c>.</summary>
    private static void DropStrokes(List<(string Text, int Column)> pieces)
    {
        if (pieces.Count(p => IsDash(p.Text)) < Math.Max(2, pieces.Count(p => p.Text == "/"))) return;
        for (var i = pieces.Count - 2; i > 0; i--)
            if (pieces[i].Text == "/" && !IsHeld(pieces[i - 1].Text) && !IsHeld(pieces[i + 1].Text)) pieces.RemoveAt(i);
    }

    /// <summary>Strokes may stand for all beats of a chord, its own among them, <c>C ////</c>: where they fill bars so and not
    /// otherwise.</summary>
    private static void CountStrokes(List<Token> items, List<(string Text, int Column)> pieces, Meter meter)
    {
        if (!pieces.Exists(p => p.Text == "/") || items.Exists(i => i.Units < 2)) return;
        var units = items.Sum(i => i.Units);
        if (units % meter.Beats == 0 || (units - items.Count) % meter.Beats != 0) return;
        for (var i = 0; i < items.Count; i++) items[i] = items[i] with { Units = items[i].Units - 1 };
    }
}
