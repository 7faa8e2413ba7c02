using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Core.Changes;

/// <summary>Weights of the change model, read from <c>change-weights.data.json</c>. Times in s, lengths in mm.</summary>
public sealed record ChangeWeights
{
    private static readonly Lazy<ChangeWeights> Shipped =
        new(() => EmbeddedData.Json<ChangeWeights>("change-weights.data.json"));

    /// <summary>The weights that ship with Tembri.</summary>
    public static ChangeWeights Default => Shipped.Value;

    /// <summary>What a counted change contains besides the way of the fingers: the stroke that sounds and the look, s.</summary>
    public required double Dwell { get; init; }

    /// <summary>Time to start any movement, s.</summary>
    public required double Start { get; init; }

    /// <summary>Time per bit of the slowest movement, s (Fitts 1954).</summary>
    public required double PerBit { get; init; }

    /// <summary>Width of the target on the string, mm.</summary>
    public required double TargetWidth { get; init; }

    /// <summary>How far a finger in the air is from its string, mm.</summary>
    public required double Hover { get; init; }

    /// <summary>Share of the distance that counts for a finger that keeps contact with its string.</summary>
    public required double GuideShare { get; init; }

    /// <summary>Time per further block, s.</summary>
    public required double PerBlock { get; init; }

    /// <summary>Time to set a short barre, s.</summary>
    public required double ShortBarre { get; init; }

    /// <summary>Time to set a full barre, s.</summary>
    public required double FullBarre { get; init; }

    /// <summary>Time to bring the thumb over the neck, s.</summary>
    public required double Thumb { get; init; }

    /// <summary>Time to take fingers off, s.</summary>
    public required double Lift { get; init; }

    /// <summary>Time per point of load of the shape that is reached beyond 20, s.</summary>
    public required double PerLoad { get; init; }
}

/// <summary>Computes what happens between two fingered shapes and how long it takes.</summary>
/// <remarks>
/// A finger with the same string and fret is an anchor; with the same string, a guide. Fingers displaced alike form one block,
/// one decision.
/// The slowest block takes a + b·log2(1 + D/W) (Fitts, 1954, in Shannon's form by MacKenzie, 1992), each further block a step
/// more.
/// </remarks>
public sealed class ChangeModel(NeckGeometry neck, ChangeWeights? weights = null)
{
    private const double ShortestMove = 0.5;   // of the hover: a finger that changes strings leaves them first
    private readonly ChangeWeights _w = weights ?? ChangeWeights.Default;
    private readonly double _guideShare = Square((weights ?? ChangeWeights.Default).GuideShare);
    private readonly double _leastMove = Square(ShortestMove * (weights ?? ChangeWeights.Default).Hover);
    private readonly double _landing = Square((weights ?? ChangeWeights.Default).Hover);

    private static double Square(double length) => length * length;

    /// <summary>The change between two fingered shapes.</summary>
    public Change Between(Fingering from, Fingering to)
    {
        List<Finger> anchors = [], guides = [], moving = [], landing = [], lifting = [];
        var before = from.Spots;
        var after = to.Spots;
        for (var f = 1; f <= 5; f++)
        {
            var list = Kind(before[f], after[f]) switch
            {
                Motion.Anchor => anchors,
                Motion.Guide => guides,
                Motion.Move => moving,
                Motion.Land => landing,
                Motion.Lift => lifting,
                _ => null,
            };
            list?.Add((Finger)f);
        }
        var seconds = Time(before, after, to, out var blocks);
        return new Change(from, to, seconds, anchors, guides, moving, landing, lifting, blocks,
            Math.Abs(HandAt(after) - HandAt(before)));
    }

    /// <summary>Only the time of a change, s; the same number as <see cref="Between"/> gives.</summary>
    public double Seconds(Fingering from, Fingering to) => Time(from.Spots, to.Spots, to, out _);

    private const double LoadPointsPerSecond = 20;   // what a second of change is worth against load when fingers are free

    /// <summary>The time of a change, and what decides between pairs of fingerings of the same two shapes: time and load
    /// together.</summary>
    public (double Seconds, double Cost) Easiness(Fingering from, Fingering to)
    {
        var seconds = Seconds(from, to);
        return (seconds, seconds * LoadPointsPerSecond + from.Load.Value + to.Load.Value);
    }

    private enum Motion { None, Anchor, Guide, Move, Land, Lift }

    private static Motion Kind(FingerSpot before, FingerSpot after)
    {
        if (after.Packed == before.Packed) return after.Packed == 0 ? Motion.None : Motion.Anchor;
        if (after.Packed == 0) return Motion.Lift;
        if (before.Packed == 0) return Motion.Land;
        // A lying finger that only shortens by rolling stays on its fret; one that turns into a fingertip has to stand up.
        if (before.Fret == after.Fret && before.Low <= after.Low && before.High >= after.High && after.High > after.Low)
            return Motion.Anchor;
        return before.Low == after.Low && before.High == after.High ? Motion.Guide : Motion.Move;
    }

    private double HandAt(ReadOnlySpan<FingerSpot> places)
    {
        for (var f = 1; f <= 4; f++) if (places[f].Fret > 0) return neck.Landing(places[f].Fret);
        return 0;
    }

    private double Time(ReadOnlySpan<FingerSpot> before, ReadOnlySpan<FingerSpot> after, Fingering to, out int blocks)
    {
        // Displacements already counted as a block: fret and string differences packed into one number each.
        Span<int> seen = stackalloc int[5];
        var seenCount = 0;
        blocks = 0;
        var farthest = 0.0;   // squared, so that one root is enough
        bool anyLift = false, barreMoves = false;
        var landings = 0;
        for (var f = 1; f <= 5; f++)
        {
            var (a, b) = (before[f], after[f]);
            if (a.Packed == b.Packed) continue;
            var kind = Kind(a, b);
            if (kind == Motion.Anchor) continue;
            if (kind == Motion.Lift)
            {
                anyLift = true;
                continue;
            }
            // A barre that slides along is set already.
            barreMoves |= b.High > b.Low && kind != Motion.Guide;
            if (kind == Motion.Land)
            {
                landings++;
                continue;
            }
            var along = neck.Landing(b.Fret) - neck.Landing(a.Fret);
            var across = (b.Low - a.Low) * neck.StringSpacing(b.Fret);
            var distance = along * along + across * across;
            distance = kind == Motion.Guide ? distance * _guideShare : Math.Max(distance, _leastMove);
            farthest = Math.Max(farthest, distance);
            var displacement = (b.Fret - a.Fret) * 64 + (b.Low - a.Low);
            if (!seen[..seenCount].Contains(displacement))
            {
                seen[seenCount++] = displacement;
                blocks++;
            }
        }
        if (landings > 0) farthest = Math.Max(farthest, _landing);
        blocks += (landings + 1) / 2; // two fingers in the air are set down together
        if (blocks == 0) return anyLift ? _w.Lift : 0;
        var time = _w.Start + _w.PerBit * Math.Log2(1 + Math.Sqrt(farthest) / _w.TargetWidth) + _w.PerBlock * (blocks - 1);
        if (barreMoves) time += to.LongestBarre > Barre.LongestShort ? _w.FullBarre : _w.ShortBarre;
        if (after[(int)Finger.Thumb].Packed != 0 && after[(int)Finger.Thumb] != before[(int)Finger.Thumb]
            && !IsAnchor(before[(int)Finger.Thumb], after[(int)Finger.Thumb]))
            time += _w.Thumb;
        return time + _w.PerLoad * Math.Max(0, to.Load.Value - EasyLoad);
    }

    private static bool IsAnchor(FingerSpot before, FingerSpot after) => Kind(before, after) == Motion.Anchor;

    private const double EasyLoad = 20;   // what is reached takes no longer below this load
}
