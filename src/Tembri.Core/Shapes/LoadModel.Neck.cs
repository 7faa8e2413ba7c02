using Tembri.Core.Hands;

namespace Tembri.Core.Shapes;

/// <content>What a placement asks of one hand on one neck: height, reach, force, room.</content>
public sealed partial class LoadModel
{
    private const double AcrossShare = 0.35;   // a spread across the strings costs less than one along them
    internal const double LandingSlack = 0.3;   // share of a fret space a finger can give way when the reach is short
    private const double EasySpan = 42;        // mm a medium hand spans without a thought: two fret spaces and a half at the nut
    private const double UsualSpace = 32;      // mm of a fret space near the nut

    /// <summary>Distance between two fingers along the neck, mm.</summary>
    private double Along(in PlacedFingers p, int low, int high) => Neck.Landing(p.Fret(high)) - Neck.Landing(p.Fret(low));

    /// <summary>True when no two fingers are farther apart than this hand can spread them.</summary>
    internal bool WithinReach(in PlacedFingers p)
    {
        for (var high = 2; high <= 4; high++)
        {
            if (p.Fret(high) == 0) continue;
            for (var low = 1; low < high; low++)
            {
                if (p.Fret(low) == 0) continue;
                var slack = LandingSlack * (Neck.FretSpace(p.Fret(low)) + Neck.FretSpace(p.Fret(high)));
                if (Along(p, low, high) - slack > _greatest[low * 5 + high]) return false;
            }
        }
        return true;
    }

    private void WeighOnNeck(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var first = 1;
        while (first <= 4 && p.Fret(first) == 0) first++;
        if (first > 4) return;
        var at = Neck.Capo + p.Fret(first);
        var height = Math.Max(0, at - 5) + 4.0 * Math.Max(0, Neck.Capo + shape.HighestStopped - Neck.Guitar.ReachableFrets);
        if (height > 0) Put(efforts, measures, LoadPartKind.Height, _weights.Height * height, at);
        WeighStretch(p, efforts, measures);
        WeighForce(shape, p, efforts, measures);
        WeighRoom(p, efforts, measures);
    }

    private void WeighStretch(in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        double effort = 0, widest = 0;
        var previous = 0;
        for (var high = 1; high <= 4; high++)
        {
            var fret = p.Fret(high);
            if (fret == 0) continue;
            if (previous > 0 && fret - p.Fret(previous) - (high - previous) is > 0 and var skipped)
                effort += _weights.SkippedFret * skipped * Neck.FretSpace(fret) / UsualSpace;
            for (var low = 1; low < high; low++)
            {
                if (p.Fret(low) == 0) continue;
                var along = Along(p, low, high);
                var strings = Math.Max(0, Math.Max(p.Low(high) - p.High(low), p.Low(low) - p.High(high)));
                var across = AcrossShare * strings * Neck.StringSpacing(p.Fret(low));
                widest = Math.Max(widest, along);
                var comfortable = _comfortable[low * 5 + high];
                var squared = along * along + across * across;
                if (squared <= comfortable * comfortable) continue;
                var excess = (Math.Sqrt(squared) - comfortable) / (_greatest[low * 5 + high] - comfortable);
                effort += _weights.Stretch * excess * Math.Sqrt(excess);
            }
            previous = high;
        }
        // Hands differ in size: the span is taken relative to a medium hand's.
        var span = widest * Hand.MediumSpread / Hand.Spread - EasySpan;
        if (span > 0) effort += _weights.Span * span / 10;
        if (effort > 0 || efforts[(int)LoadPartKind.Stretch] > 0) Put(efforts, measures, LoadPartKind.Stretch, effort, widest);
    }

    /// <summary>The force of fingers that lie across strings.</summary>
    private void WeighForce(Shape shape, in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var newtons = 0.0;
        for (var finger = 1; finger <= 4; finger++)
        {
            var fret = p.Fret(finger);
            if (fret == 0 || p.Low(finger) == p.High(finger)) continue;
            for (var s = p.Low(finger); s <= p.High(finger); s++)
                newtons += (shape[s] >= 0 && p.FingerOn(s) == finger ? 1 : _weights.BarreCoveredShare)
                    * Neck.PressForce(s, fret);
        }
        if (newtons > 0) Put(efforts, measures, LoadPartKind.Barre, _weights.BarreForce * newtons / Hand.Strength, newtons);
    }

    /// <summary>Fingertips side by side on one fret.</summary>
    private void WeighRoom(in PlacedFingers p, Span<double> efforts, Span<double> measures)
    {
        var crowding = 0.0;
        var crowded = 0;
        for (var low = 1; low <= 3; low++)
        {
            var fret = p.Fret(low);
            if (fret == 0) continue;
            for (var high = low + 1; high <= 4; high++)
            {
                if (p.Fret(high) != fret || !AreSideBySide(p, low, high)) continue;
                crowded++;
                crowding += _weights.Crowding * 30 / Neck.FretSpace(fret) * (Hand.FingertipWidth / 13.5)
                    * (7.4 / Neck.StringSpacing(fret));
            }
        }
        if (crowded > 0) Put(efforts, measures, LoadPartKind.Crowding, crowding, crowded);
    }
}
