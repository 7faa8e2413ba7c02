namespace Tembri.Core.Figures;

/// <summary>A piece of a figure that is practised by itself: one note further than it goes, so that pieces join.</summary>
/// <param name="From">Its first note.</param>
/// <param name="To">The note after its last.</param>
public readonly record struct FigurePiece(int From, int To);

/// <summary>The pieces in which a figure is practised.</summary>
public static class FigurePieces
{
    private const int FewestNotes = 6;      // less is practised at once
    private const int MostNotes = 10;

    /// <summary>Cuts a figure at its bar lines, long bars in their middle, and goes one note over each cut.</summary>
    /// <param name="figure">The figure.</param>
    /// <param name="beatsOf">Length in beats of each bar, counted from the figure's first.</param>
    public static IReadOnlyList<FigurePiece> Of(Figure figure, Func<int, double?> beatsOf)
    {
        var notes = figure.Notes;
        if (notes.Count < FewestNotes) return [new FigurePiece(0, notes.Count)];
        var cuts = new List<double>();
        var start = 0.0;
        for (var bar = 0; start < figure.To - 1e-6 && beatsOf(bar) is { } beats; bar++)
        {
            var inside = notes.Count(n => n.At >= start - 1e-6 && n.At < start + beats - 1e-6);
            if (inside > MostNotes || notes[^1].At < beats) cuts.Add(start + Math.Ceiling(beats / 2));
            cuts.Add(start += beats);
        }
        var pieces = new List<FigurePiece>();
        var from = 0;
        foreach (var cut in cuts)
        {
            var to = notes.TakeWhile(n => n.At < cut - 1e-6).Count();
            if (to - from < 2) continue;
            pieces.Add(new FigurePiece(from, Math.Min(notes.Count, to + 1)));
            from = to;
        }
        if (from < notes.Count && pieces.Count > 0) pieces[^1] = pieces[^1] with { To = notes.Count };
        return pieces.Count > 0 ? pieces : [new FigurePiece(0, notes.Count)];
    }
}
