using Tembri.Core.Fretboard;
using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <summary>Weighs a fingered shape for one hand on one guitar with one capo.</summary>
/// <remarks>
/// Effort is a sum of named parts (see <see cref="LoadPartKind"/>), each monotone in what it measures. Distances come from
/// <see cref="NeckGeometry"/>, spreads and strength from <see cref="Hand"/>, weights from <see cref="LoadWeights"/>.
/// </remarks>
public sealed partial class LoadModel
{
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

    /// <summary>What a shape asks of any fingering on any neck: strings to keep silent, open strings beside stopped ones, the
    /// pattern across the strings.</summary>
    internal double EffortOfShape(Shape shape)
    {
        Span<double> efforts = stackalloc double[Kinds];
        WeighShape(shape, efforts, stackalloc double[Kinds]);
        return Sum(efforts);
    }

    /// <summary>What a placement asks of any hand on any neck, or infinity when the thumb is out of place.</summary>
    internal double EffortOfFingers(Shape shape, in PlacedFingers p)
    {
        Span<double> efforts = stackalloc double[Kinds];
        return WeighFingers(shape, p, efforts, stackalloc double[Kinds]) ? Sum(efforts) : double.PositiveInfinity;
    }

    /// <summary>What a placement asks of this hand on this neck besides: height, reach, force, room.</summary>
    internal double EffortOnNeck(Shape shape, in PlacedFingers p)
    {
        Span<double> efforts = stackalloc double[Kinds];
        WeighOnNeck(shape, p, efforts, stackalloc double[Kinds]);
        return Sum(efforts);
    }

    private static double Sum(ReadOnlySpan<double> efforts)
    {
        var sum = 0.0;
        foreach (var effort in efforts) sum += effort;
        return sum;
    }

    /// <summary>The parts of a fingering's effort, those above 0 only.</summary>
    internal IReadOnlyList<LoadPart> PartsOf(Shape shape, ulong packed)
    {
        Span<double> efforts = stackalloc double[Kinds];
        Span<double> measures = stackalloc double[Kinds];
        efforts.Clear();
        measures.Clear();
        var p = PlacedFingers.Of(shape, packed);
        WeighShape(shape, efforts, measures);
        WeighFingers(shape, p, efforts, measures);
        WeighOnNeck(shape, p, efforts, measures);
        var count = 0;
        foreach (var effort in efforts) if (effort > 0) count++;
        var parts = new LoadPart[count];
        for (int k = 0, at = 0; k < Kinds; k++)
            if (efforts[k] > 0) parts[at++] = new((LoadPartKind)k, efforts[k], measures[k], Unit((LoadPartKind)k));
        return parts;
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

    private bool WeighFingers(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        if (!WeighThumb(p, efforts, measures)) return false;
        int count = 0, first = 0, previous = 0;
        var idle = 0.0;
        for (var finger = 1; finger <= 4; finger++)
        {
            var fret = p.Fret(finger);
            if (fret == 0) continue;
            count++;
            if (first == 0) first = finger;
            if (previous > 0 && fret > p.Fret(previous))
                idle += _weights.IdleFinger * Math.Max(0, finger - previous - (fret - p.Fret(previous)));
            previous = finger;
        }
        if (count == 0) return true;
        // Ring and little finger side by side go down as one.
        var paired = p.Fret(3) > 0 && p.Fret(3) == p.Fret(4) && p.Low(4) == p.High(3) + 1 && p.High(3) == p.Low(3)
                && p.High(4) == p.Low(4)
            ? _weights.PairedFingers
            : 0;
        Put(efforts, measures, LoadPartKind.Fingers, _weights.Fingers[count] - paired, count);
        var weak = (p.Fret(3) > 0 ? _weights.RingFinger : 0) + (p.Fret(4) > 0 ? _weights.LittleFinger : 0);
        if (weak > 0) Put(efforts, measures, LoadPartKind.WeakFingers, weak, (p.Fret(3) > 0 ? 1 : 0) + (p.Fret(4) > 0 ? 1 : 0));
        // Open position: the hand waits with a finger a fret.
        if (shape.HasOpenString && shape.HighestStopped <= 4 && p.Fret(first) <= 2)
            idle += _weights.OpenFrame * Math.Abs(p.Fret(first) - first);
        if (idle > 0) Put(efforts, measures, LoadPartKind.Stretch, idle, 0);
        WeighLying(shape, p, efforts, measures);
        WeighNeighbours(shape, p, efforts, measures);
        return true;
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

    /// <summary>Fingers that lie across strings, but for the force that takes.</summary>
    private void WeighLying(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var effort = 0.0;
        var lying = 0;
        for (var finger = 1; finger <= 4; finger++)
        {
            var fret = p.Fret(finger);
            if (fret == 0 || p.Low(finger) == p.High(finger)) continue;
            var length = p.High(finger) - p.Low(finger) + 1;
            var muted = 0;
            for (var s = p.Low(finger); s <= p.High(finger); s++) if (shape[s] < 0) muted++;
            var index = Math.Min(length, _weights.BarreLength.Count - 1);
            effort += _weights.BarreLength[index] * (length > index ? length / (double)index : 1)
                + _weights.BarreJoint * (length >= 6 ? 2 : length >= 4 ? 1 : 0)
                + _weights.MutedUnderBarre * muted;
            if (p.High(finger) + 1 < shape.StringCount && shape[p.High(finger) + 1] == 0) effort += _weights.OpenBesideBarre;
            if (finger > 1) effort += _weights.LyingFinger[finger];
            if (lying++ > 0) effort += _weights.SecondBarre;
            if (length <= Barre.LongestShort) continue;
            for (var other = finger + 1; other <= 4; other++) if (p.Fret(other) > fret) effort += _weights.BarreStack;
        }
        if (effort > 0) Put(efforts, measures, LoadPartKind.Barre, effort, 0);
    }

    /// <summary>Fingers that stand on one fret crossed, or where one could lie.</summary>
    private void WeighNeighbours(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var spared = 0.0;
        int crossed = 0, crowded = 0;
        for (var low = 1; low <= 3; low++)
        {
            if (p.Fret(low) == 0) continue;
            for (var high = low + 1; high <= 4; high++)
            {
                if (p.Fret(high) != p.Fret(low)) continue;
                // A lying finger leaves no room for another at its own fret.
                if (p.Low(high) < p.Low(low) || p.High(low) > p.Low(low) && p.Low(high) > p.High(low) + 1) crossed++;
                if (low == 1) spared += BarreSpared(shape, p, high);
                if (AreSideBySide(p, low, high)) crowded++;
            }
        }
        if (spared > 0) Put(efforts, measures, LoadPartKind.Crowding, spared, crowded);
        if (crossed > 0)
            Put(efforts, measures, LoadPartKind.Crossing, _weights.Crossing * crossed,
                crossed + measures[(int)LoadPartKind.Crossing]);
    }

    private static bool AreSideBySide(in PlacedFingers p, int low, int high) =>
        p.Low(high) == p.High(low) + 1 || p.Low(low) == p.High(high) + 1;

    /// <summary>The pattern across the strings: both outer strings held around open ones, and fingers that alternate between
    /// frets.</summary>
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
        if (stopped >= 2 && span >= 5 && stopped < span && shape.HasOpenString)
            Put(efforts, measures, LoadPartKind.Stretch, _weights.WideOpen, measures[(int)LoadPartKind.Stretch]);
        if (turns > 0)
            Put(efforts, measures, LoadPartKind.Crossing, _weights.Alternating * turns,
                measures[(int)LoadPartKind.Crossing] + turns);
    }

    /// <summary>What it costs to spend another finger on the highest sounding string where the index finger could lie
    /// across.</summary>
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
        return lying ? 2 * _weights.CrowdingBarreSpared[4]
            : adjacent || besides > 1 || used == 4 ? besides * _weights.CrowdingBarreSpared[used]
            : 0;
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
