namespace Tembri.Core.Figures;

/// <summary>A figure made simpler: left out, the first notes of the beats, a simpler rhythm, as recorded.</summary>
public static class FigureRungs
{
    /// <summary>The rung that plays the record.</summary>
    public const int Top = 5;

    /// <summary>What a rung plays of a figure; null when it leaves it out.</summary>
    /// <param name="figure">As recorded.</param>
    /// <param name="rung">1, left out; 2, the first note of each beat; 3 and 4, a note a half beat at most and no ornaments; 5,
    /// as recorded.</param>
    /// <param name="division">Parts a beat is naturally divided in, 2 or 3.</param>
    public static Figure? Of(Figure figure, int rung, int division) => rung switch
    {
        >= Top => figure,
        3 or 4 => Thinned(figure, division),
        2 => Thinned(figure, 1),
        _ => null,
    };

    /// <summary>The first note in each part of a beat, moved to where the part begins, as long as up to the next; where silence
    /// is, it stays.</summary>
    private static Figure? Thinned(Figure figure, int parts)
    {
        var kept = figure.Notes.Where(n => n.How != Ornament.Held).GroupBy(n => (int)Math.Floor(n.At * parts + 1e-6))
            .Select(g => g.First() with { At = g.Key / (double)parts, How = Ornament.None }).ToList();
        if (kept.Count == 0) return null;
        for (var i = 0; i < kept.Count; i++)
        {
            // It rings as long as what it stands for.
            var end = figure.Notes.Where(n => n.At < (i + 1 < kept.Count ? kept[i + 1].At : double.PositiveInfinity) - 1e-6)
                .Max(n => n.At + n.Beats);
            var last = Math.Ceiling(end * parts - 1e-6) / parts;
            var until = i + 1 < kept.Count ? Math.Min(kept[i + 1].At, last) : last;
            kept[i] = kept[i] with { Beats = Math.Max(1.0 / parts, until - kept[i].At) };
        }
        return figure with { Notes = kept };
    }
}
