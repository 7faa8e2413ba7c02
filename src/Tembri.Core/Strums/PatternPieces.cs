namespace Tembri.Core.Strums;

/// <summary>A piece of a pattern that is learnt by itself.</summary>
/// <param name="From">Its first step.</param>
/// <param name="To">The step after its last.</param>
/// <param name="SameAs">The piece before that is played alike, so that nothing is new; null when there is none.</param>
public sealed record PatternPiece(int From, int To, int? SameAs);

/// <summary>The pieces in which a pattern is learnt: two or three, cut at beats where it comes apart most easily.</summary>
/// <remarks>
/// Every way to cut is weighed and the lightest is taken: pieces of like weight, a piece that repeats an earlier one is for
/// nothing, a cut at the bar line is better than one inside, and a push is not
/// cut off from the beat it stands for.
/// </remarks>
public static class PatternPieces
{
    private const double FewestStrokes = 4.5;  // less is learnt at once
    private const double CutAtPush = 0.4;     // strokes' worth of trouble
    private const double CutInBar = 0.5;
    private const double EachNewPiece = 1.5;

    /// <summary>Cuts a pattern.</summary>
    public static IReadOnlyList<PatternPiece> Of(StrumPattern pattern)
    {
        var n = pattern.Steps.Count;
        if (pattern.IsFree || Work(pattern, new PatternPiece(0, n, null)) < FewestStrokes) return [new PatternPiece(0, n, null)];
        var cuts = Enumerable.Range(1, n - 1).Where(i => pattern.Level(i) <= 1).ToList();
        var ways = cuts.Select(c => new[] { 0, c, n })
            .Concat(cuts.SelectMany(a => cuts.Where(b => b > a).Select(b => new[] { 0, a, b, n })));
        var best = ways.Select(w => (Way: w, Price: Price(pattern, w))).OrderBy(x => x.Price).ThenBy(x => x.Way.Length)
            .FirstOrDefault();
        return best.Way is null ? [new PatternPiece(0, n, null)] : Pieces(pattern, best.Way);
    }

    private static List<PatternPiece> Pieces(StrumPattern pattern, int[] way)
    {
        var pieces = new List<PatternPiece>();
        for (var i = 0; i + 1 < way.Length; i++)
        {
            var (from, to) = (way[i], way[i + 1]);
            var same = pieces.FindIndex(p => p.SameAs is null && p.To - p.From == to - from
                && Enumerable.Range(0, to - from).All(k => pattern.Steps[p.From + k] == pattern.Steps[from + k]));
            pieces.Add(new PatternPiece(from, to, same < 0 ? null : same));
        }
        return pieces;
    }

    /// <summary>Work of the heaviest new piece, trouble at the cuts, and each new piece.</summary>
    private static double Price(StrumPattern pattern, int[] way)
    {
        var pieces = Pieces(pattern, way);
        var perBar = pattern.StepsPerBeat * pattern.Meter.Beats;
        var heaviest = pieces.Where(p => p.SameAs is null).Max(p => Work(pattern, p));
        var cuts = way[1..^1].Sum(c => (c % perBar == 0 ? 0 : CutInBar) + (IsPushed(pattern, c) ? CutAtPush : 0));
        return heaviest + cuts + EachNewPiece * pieces.Count(p => p.SameAs is null);
    }

    /// <summary>Strokes, plain ones on a beat by half; a beat that is passed is as much as a stroke.</summary>
    private static double Work(StrumPattern pattern,
        PatternPiece piece) => Enumerable.Range(piece.From, piece.To - piece.From).Sum(i => pattern.Steps[i] switch
    {
        { Stroke: Stroke.Down } when pattern.Level(i) <= 1 => 0.5,
        { Sounds: true } => 1,
        { Stroke: Stroke.Miss } when pattern.IsDownward(i) => 1,
        _ => 0,
    });

    private static bool IsPushed(StrumPattern pattern, int beat)
    {
        for (var i = beat - 1; i >= 0 && i > beat - pattern.StepsPerBeat; i--)
            if (StrumFeel.PushedBeat(pattern, i) == beat) return true;
        return false;
    }
}
