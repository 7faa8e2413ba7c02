using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>Weighs a fingered shape for one hand on one guitar with one capo.</summary>
/// <remarks>
/// Effort is a sum of named parts (see <see cref="LoadPartKind"/>), each monotone in what it measures. Distances come from
/// <see cref="NeckGeometry"/>, spreads and strength from <see cref="Hand"/>, weights from <see cref="LoadWeights"/>.
/// </remarks>
public sealed class LoadModel
{
    private const double AcrossShare = 0.35;   // a spread across the strings costs less than one along them
    private const double LandingSlack = 0.3;   // share of a fret space a finger can give way when the reach is short
    private const int Kinds = 10;
    private readonly LoadWeights _weights;
    private readonly double[] _comfortable = new double[25];
    private readonly double[] _greatest = new double[25];

    /// <summary>Prepares the model.</summary>
    public LoadModel(NeckGeometry neck, Hand hand, LoadWeights weights)
    {
        (Neck, Hand, _weights) = (neck, hand, weights);
        for (var low = 1; low <= 3; low++)
            for (var high = low + 1; high <= 4; high++)
            {
                _comfortable[low * 5 + high] = hand.Comfortable(low, high);
                _greatest[low * 5 + high] = hand.Greatest(low, high);
            }
    }

    /// <summary>Guitar and capo.</summary>
    public NeckGeometry Neck { get; }

    /// <summary>The hand.</summary>
    public Hand Hand { get; }

    /// <summary>Distance between two fingers along the neck, mm.</summary>
    private double Along(in PlacedFingers p, int low, int high) => Neck.Landing(p.Fret(high)) - Neck.Landing(p.Fret(low));

    /// <summary>True when a finger just placed is within the greatest spread of all others.</summary>
    internal bool WithinReach(in PlacedFingers p, int finger)
    {
        for (var other = 1; other <= 4; other++)
        {
            if (other == finger || p.Fret(other) == 0) continue;
            var (low, high) = other < finger ? (other, finger) : (finger, other);
            var slack = LandingSlack * (Neck.FretSpace(p.Fret(low)) + Neck.FretSpace(p.Fret(high)));
            if (Along(p, low, high) - slack > _greatest[low * 5 + high]) return false;
        }
        return true;
    }

    /// <summary>The least effort a placement can end with, without what the shape asks of any fingering: its fingers and what already lies across.</summary>
    internal double Floor(in PlacedFingers p)
    {
        var count = 0;
        var floor = 0.0;
        for (var finger = 1; finger <= 4; finger++)
        {
            if (p.Fret(finger) == 0) continue;
            count++;
            if (finger > 1 && p.High(finger) > p.Low(finger)) floor += _weights.LyingFinger[finger];
        }
        if (p.Fret(3) != 0) floor += _weights.RingFinger;
        if (p.Fret(4) != 0) floor += _weights.LittleFinger;
        if (p.Fret(5) != 0) floor += _weights.Thumb;
        if (p.Fret(3) != 0 && p.Fret(3) == p.Fret(4)) floor -= _weights.PairedFingers;
        return floor + _weights.Fingers[count];
    }

    /// <summary>What a shape asks of any fingering, by <see cref="LoadPartKind"/>: strings to keep silent, open strings beside stopped ones, the pattern across the strings.</summary>
    internal double[] EffortsOfShape(Shape shape)
    {
        var efforts = new double[Kinds];
        WeighShape(shape, efforts, stackalloc double[Kinds]);
        return efforts;
    }

    /// <summary>The effort of a complete placement, or infinity when the thumb is out of place or the effort is beyond a limit.</summary>
    /// <param name="shape">The shape.</param>
    /// <param name="p">The placement.</param>
    /// <param name="ofShape">See <see cref="EffortsOfShape"/>.</param>
    /// <param name="limit">Efforts above this need not be known.</param>
    internal double Effort(Shape shape, in PlacedFingers p, ReadOnlySpan<double> ofShape, double limit)
    {
        Span<double> efforts = stackalloc double[Kinds];
        Span<double> measures = stackalloc double[Kinds];
        ofShape.CopyTo(efforts);
        return WeighPlacement(shape, p, efforts, measures, limit) ? Sum(efforts) : double.PositiveInfinity;
    }

    internal static double Sum(ReadOnlySpan<double> efforts)
    {
        var sum = 0.0;
        foreach (var effort in efforts) sum += effort;
        return sum;
    }

    /// <summary>Builds the fingering object for packed fingers that are known to be feasible.</summary>
    internal Fingering Describe(Shape shape, ulong packed)
    {
        Span<double> efforts = stackalloc double[Kinds];
        Span<double> measures = stackalloc double[Kinds];
        Weigh(shape, packed, efforts, measures);
        return new Fingering(shape, packed, Sum(efforts), this);
    }

    /// <summary>The parts of a fingering's effort, those above 0 only.</summary>
    internal IReadOnlyList<LoadPart> PartsOf(Shape shape, ulong packed)
    {
        var (efforts, measures) = (new double[Kinds], new double[Kinds]);
        Weigh(shape, packed, efforts, measures);
        return [.. Enumerable.Range(0, Kinds).Where(k => efforts[k] > 0).Select(k => new LoadPart((LoadPartKind)k, efforts[k], measures[k], Unit((LoadPartKind)k)))];
    }

    private void Weigh(Shape shape, ulong packed, Span<double> efforts, Span<double> measures)
    {
        efforts.Clear();
        measures.Clear();
        var p = PlacedFingers.Of(shape, packed);
        WeighShape(shape, efforts, measures);
        WeighPlacement(shape, p, efforts, measures, double.PositiveInfinity);
    }

    private static string Unit(LoadPartKind kind) => kind switch
    {
        LoadPartKind.Fingers or LoadPartKind.WeakFingers or LoadPartKind.Thumb => "fingers",
        LoadPartKind.Stretch => "mm",
        LoadPartKind.Barre => "N",
        LoadPartKind.Crowding or LoadPartKind.Crossing => "pairs",
        LoadPartKind.Height => "fret",
        _ => "strings",
    };

    private bool WeighPlacement(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures, double limit)
    {
        if (!WeighThumb(p, efforts, measures)) return false;
        WeighFingers(shape, p, efforts, measures);
        WeighBarres(shape, p, efforts, measures);
        // Parts only add up, so a placement already beyond the limit need not be weighed to the end.
        if (Sum(efforts) > limit) return false;
        WeighStretch(p, efforts, measures);
        WeighNeighbours(shape, p, efforts, measures);
        return true;
    }

    private void WeighShape(Shape shape, Span<double> efforts, Span<double> measures)
    {
        var open = 0;
        for (var s = 1; s < shape.StringCount; s++) if (shape[s] == 0 && shape[s - 1] > 0) open++;
        if (open > 0) Put(efforts, measures, LoadPartKind.OpenStrings, _weights.OpenNeighbour * open, open);
        WeighPattern(shape, efforts, measures);
        WeighSilence(shape, efforts, measures);
    }

    private static void Put(Span<double> efforts, Span<double> measures, LoadPartKind kind, double effort, double measure)
    {
        efforts[(int)kind] += effort;
        measures[(int)kind] = measure;
    }

    private bool WeighThumb(in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var thumb = p.Fret(5);
        if (thumb == 0) return true;
        var lowest = 0;
        for (var finger = 1; finger <= 4 && lowest == 0; finger++) lowest = p.Fret(finger);
        var distance = lowest == 0 ? 0 : Math.Abs(thumb - lowest);
        if (distance > 2) return false;
        var strings = p.High(5) - p.Low(5) + 1;
        var effort = (_weights.Thumb + _weights.ThumbDistance * distance * distance) * strings;
        if (p.High(5) > 0) effort += _weights.ThumbSecondString;
        for (var finger = 1; finger <= 4; finger++) if (p.High(finger) > p.Low(finger)) effort += _weights.ThumbWithBarre;
        Put(efforts, measures, LoadPartKind.Thumb, effort, 1);
        return true;
    }

    private void WeighFingers(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var count = 0;
        var first = 0;
        for (var finger = 1; finger <= 4; finger++)
        {
            if (p.Fret(finger) == 0) continue;
            count++;
            if (first == 0) first = finger;
        }
        // Ring and little finger side by side go down as one.
        var paired = p.Fret(3) > 0 && p.Fret(3) == p.Fret(4) && p.Low(4) == p.High(3) + 1 && p.High(3) == p.Low(3) && p.High(4) == p.Low(4) ? _weights.PairedFingers : 0;
        if (count > 0) Put(efforts, measures, LoadPartKind.Fingers, _weights.Fingers[count] - paired, count);
        var weak = (p.Fret(3) > 0 ? _weights.RingFinger : 0) + (p.Fret(4) > 0 ? _weights.LittleFinger : 0);
        if (weak > 0) Put(efforts, measures, LoadPartKind.WeakFingers, weak, (p.Fret(3) > 0 ? 1 : 0) + (p.Fret(4) > 0 ? 1 : 0));
        if (first == 0) return;
        var fret = p.Fret(first);
        var height = Math.Max(0, Neck.Capo + fret - 5) + 4.0 * Math.Max(0, Neck.Capo + shape.HighestStopped - Neck.Guitar.ReachableFrets);
        if (height > 0) Put(efforts, measures, LoadPartKind.Height, _weights.Height * height, Neck.Capo + fret);
        // Open position: the hand waits with a finger a fret.
        if (shape.HasOpenString && shape.HighestStopped <= 4 && fret <= 2 && first != fret)
            Put(efforts, measures, LoadPartKind.Stretch, _weights.OpenFrame * Math.Abs(fret - first), measures[(int)LoadPartKind.Stretch]);
    }

    private void WeighStretch(in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        double effort = 0, widest = 0;
        int previous = 0, first = 0;
        for (var high = 1; high <= 4; high++)
        {
            if (p.Fret(high) == 0) continue;
            if (first == 0) first = high;
            if (previous > 0)
            {
                var skipped = p.Fret(high) - p.Fret(previous) - (high - previous);
                if (skipped < 0 && p.Fret(high) > p.Fret(previous)) effort -= _weights.IdleFinger * skipped;
                if (skipped > 0) effort += _weights.SkippedFret * skipped * Neck.FretSpace(p.Fret(high)) / 32;
            }
            for (var low = 1; low < high; low++)
            {
                if (p.Fret(low) == 0) continue;
                var along = Along(p, low, high);
                var strings = Math.Max(0, Math.Max(p.Low(high) - p.High(low), p.Low(low) - p.High(high)));
                var across = AcrossShare * strings * Neck.StringSpacing(p.Fret(low));
                var distance = Math.Sqrt(along * along + across * across);
                widest = Math.Max(widest, along);
                var comfortable = _comfortable[low * 5 + high];
                if (distance <= comfortable) continue;
                var excess = (distance - comfortable) / (_greatest[low * 5 + high] - comfortable);
                effort += _weights.Stretch * excess * Math.Sqrt(excess);
            }
            previous = high;
        }
        if (first == 0) return;
        // Hands differ in size: the span is taken relative to a medium hand's two fret spaces at the nut.
        var span = widest * Hand.MediumSpread / Hand.Spread - 42;
        if (span > 0) effort += _weights.Span * span / 10;
        if (effort > 0) Put(efforts, measures, LoadPartKind.Stretch, effort, widest);
    }

    private void WeighBarres(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        double effort = 0, newtons = 0;
        var lying = 0;
        for (var finger = 1; finger <= 4; finger++)
        {
            var fret = p.Fret(finger);
            if (fret == 0 || p.Low(finger) == p.High(finger)) continue;
            var length = p.High(finger) - p.Low(finger) + 1;
            double force = 0;
            var muted = 0;
            for (var s = p.Low(finger); s <= p.High(finger); s++)
            {
                var press = Neck.PressForce(s, fret);
                if (shape[s] < 0) { muted++; force += _weights.BarreCoveredShare * press; }
                else force += p.FingerOn(s) == finger ? press : _weights.BarreCoveredShare * press;
            }
            newtons += force;
            var index = Math.Min(length, _weights.BarreLength.Count - 1);
            effort += _weights.BarreLength[index] * (length > index ? length / (double)index : 1)
                + _weights.BarreForce * force / Hand.Strength
                + _weights.BarreJoint * (length >= 6 ? 2 : length >= 4 ? 1 : 0)
                + _weights.MutedUnderBarre * muted;
            if (p.High(finger) + 1 < shape.StringCount && shape[p.High(finger) + 1] == 0) effort += _weights.OpenBesideBarre;
            if (finger > 1) effort += _weights.LyingFinger[finger];
            if (lying++ > 0) effort += _weights.SecondBarre;
            if (length <= Barre.LongestShort) continue;
            for (var other = finger + 1; other <= 4; other++) if (p.Fret(other) > fret) effort += _weights.BarreStack;
        }
        if (effort > 0) Put(efforts, measures, LoadPartKind.Barre, effort, newtons);
    }

    private void WeighNeighbours(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        double crowding = 0;
        int crowded = 0, crossed = 0;
        for (var low = 1; low <= 4; low++)
        {
            if (p.Fret(low) == 0) continue;
            for (var high = low + 1; high <= 4; high++)
            {
                if (p.Fret(high) != p.Fret(low)) continue;
                // A lying finger leaves no room for another at its own fret.
                if (p.Low(high) < p.Low(low) || p.High(low) > p.Low(low) && p.Low(high) > p.High(low) + 1) crossed++;
                if (low == 1) crowding += BarreSpared(shape, p, high);
                if (p.Low(high) != p.High(low) + 1 && p.Low(low) != p.High(high) + 1) continue;
                crowded++;
                var fret = p.Fret(low);
                crowding += _weights.Crowding * 30 / Neck.FretSpace(fret) * (Hand.FingertipWidth / 13.5) * (7.4 / Neck.StringSpacing(fret));
            }
        }
        if (crowding > 0) Put(efforts, measures, LoadPartKind.Crowding, crowding, crowded);
        if (crossed > 0) Put(efforts, measures, LoadPartKind.Crossing, _weights.Crossing * crossed, crossed + measures[(int)LoadPartKind.Crossing]);
    }

    /// <summary>The pattern across the strings: both outer strings held around open ones, and fingers that alternate between frets.</summary>
    private void WeighPattern(Shape shape, Span<double> efforts, Span<double> measures)
    {
        int first = -1, last = -1, stopped = 0, turns = 0, direction = 0, previous = 0;
        for (var s = 0; s < shape.StringCount; s++)
        {
            if (shape[s] <= 0) continue;
            if (first < 0) first = s;
            last = s;
            stopped++;
            if (previous > 0 && shape[s] != previous)
            {
                var now = Math.Sign(shape[s] - previous);
                if (direction != 0 && now != direction) turns++;
                direction = now;
            }
            previous = shape[s];
        }
        var span = last - first + 1;
        if (stopped >= 2 && span >= 5 && stopped < span && shape.HasOpenString) Put(efforts, measures, LoadPartKind.Stretch, _weights.WideOpen, measures[(int)LoadPartKind.Stretch]);
        if (turns > 0) Put(efforts, measures, LoadPartKind.Crossing, _weights.Alternating * turns, measures[(int)LoadPartKind.Crossing] + turns);
    }

    /// <summary>What it costs to spend another finger on the highest sounding string where the index finger could lie across.</summary>
    private double BarreSpared(Shape shape, in PlacedFingers p, int finger)
    {
        if (p.High(finger) != shape.TrebleString || p.Low(finger) < p.High(1)) return 0;
        for (var s = p.High(1) + 1; s < p.Low(finger); s++)
            if (shape[s] < p.Fret(1)) return 0;
        if (p.High(1) > p.Low(1)) return _weights.CrowdingBarreSpared[4];
        int used = 0, besides = 0;
        var lying = false;
        for (var f = 1; f <= 4; f++)
        {
            if (p.Fret(f) > 0) used++;
            if (f > 1 && p.Fret(f) == p.Fret(1)) besides++;
            lying |= f > 1 && p.High(f) > p.Low(f);
        }
        var adjacent = p.Low(finger) == p.High(1) + 1;
        return lying ? 2 * _weights.CrowdingBarreSpared[4] : adjacent || besides > 1 || used == 4 ? besides * _weights.CrowdingBarreSpared[used] : 0;
    }

    private void WeighSilence(Shape shape, Span<double> efforts, Span<double> measures)
    {
        var bass = shape.BassString;
        var treble = shape.StringCount - 1 - shape.TrebleString;
        var interior = shape.InteriorMutes;
        var effort = _weights.BassMute * bass + _weights.TrebleMute * treble + _weights.InteriorMute * interior;
        if (effort > 0) Put(efforts, measures, LoadPartKind.Mutes, effort, bass + treble + interior);
    }
}
