namespace Tembri.Core.Shapes;

/// <summary>Which of a shape's fingerings people write down. A fingering can weigh little and still be nobody's habit, so load
/// and order are two things.</summary>
/// <remarks>
/// A sum of counted features, each with a weight: the lower the sum, the more usual. The weights are log odds of a multinomial
/// logit (McFadden 1974) learnt by <c>bench habits</c> from published
/// fingerings and the fingers of our own grips, cross-validated by kind of chord; they are in <c>finger-habits.data.json</c>.
/// Nobody in that data uses the thumb; its weights are set by reason.
/// </remarks>
public sealed class FingerHabits
{
    private static readonly Lazy<FingerHabits> Shipped =
        new(() => new FingerHabits(EmbeddedData.Json<Dictionary<string, double>>("finger-habits.data.json")));
    private static readonly string[] AllNames;
    private const double EffortUnit = 10;

    // Where each group of features begins.
    private static readonly int Effort, FingerCount, Uses, Lies, LiesAtAll, LiesAway, LiesToTreble, LiesInside, LiesOverStopped;
    private static readonly int LiesOverSilent, LiesSounding, OpenAbove, OpenBelow, SeveralLie, Away, AwayUnderBarre, Pair,
        Crossed, CrossedAtAll;
    private static readonly int SideBySide, ApartOnOneFret, CouldLie, Row, TopOverIndex, NoIndex, OffFrame, At, First, ThumbAway,
        ThumbOverTwo;

    static FingerHabits()
    {
        var all = new List<string>();
        int Group(string name, params ReadOnlySpan<int> sizes)
        {
            var from = all.Count;
            var count = 1;
            foreach (var size in sizes) count *= size;
            for (var i = 0; i < count; i++)
            {
                var (rest, label) = (i, "");
                for (var d = sizes.Length - 1; d >= 0; d--) (label, rest) = ($".{rest % sizes[d]}{label}", rest / sizes[d]);
                all.Add(name + label);
            }
            return from;
        }
        Effort = Group("effort");
        FingerCount = Group("fingers", 5);                 // 0 to 4
        Uses = Group("uses", 6);                           // by finger
        Lies = Group("lies", 5, 7);                        // by finger and strings
        LiesAtAll = Group("lies", 5);
        LiesAway = Group("lies.away", 5, 5);               // by finger and frets from the first finger
        LiesToTreble = Group("lies.toTreble", 2);          // index, others
        LiesInside = Group("lies.inside", 2);
        LiesOverStopped = Group("lies.overStopped", 2);
        LiesOverSilent = Group("lies.overSilent", 2);
        LiesSounding = Group("lies.sounding", 2, 5);       // strings it stops itself
        OpenAbove = Group("lies.openAbove");
        OpenBelow = Group("lies.openBelow");
        SeveralLie = Group("lies.several");
        Away = Group("away", 5, 5);                        // by finger and frets from the first finger
        AwayUnderBarre = Group("away.indexLies", 5, 5);
        Pair = Group("pair", 4, 5, 5);                     // by two fingers next in use and frets between
        Crossed = Group("crossed", 4, 5);
        CrossedAtAll = Group("crossed");
        SideBySide = Group("sideBySide");
        ApartOnOneFret = Group("apartOnOneFret");
        CouldLie = Group("couldLie", 2);                   // index, others
        Row = Group("row", 2, 7);                          // closed or open, strings
        // by the finger alone on its fret and on the highest string while the index finger lies, and frets from it
        TopOverIndex = Group("topOverIndex", 5, 5);
        NoIndex = Group("noIndex", 2);
        OffFrame = Group("offFrame");
        At = Group("at", 5, 5);                            // by finger and fret, beside open strings
        First = Group("first", 2, 5, 5);                   // closed or open, finger, fret
        ThumbAway = Group("thumb.away");
        ThumbOverTwo = Group("thumb.overTwo");
        AllNames = [.. all];
    }

    private readonly double[] _weights;

    /// <summary>Takes weights by name of their feature; features without one weigh nothing.</summary>
    public FingerHabits(IReadOnlyDictionary<string, double> weights) =>
        _weights = [.. AllNames.Select(n => weights.GetValueOrDefault(n))];

    /// <summary>The habits that ship with Tembri.</summary>
    public static FingerHabits Default => Shipped.Value;

    /// <summary>The features, in the order <see cref="Count"/> fills them in.</summary>
    public static IReadOnlyList<string> Names => AllNames;

    /// <summary>How unusual a fingering is among those of its shape, its effort aside; no unit, comparable within a shape
    /// only.</summary>
    internal double Of(Shape shape, in PlacedFingers placed)
    {
        var sum = new Sum(_weights, default);
        Walk(ref sum, shape, placed);
        return sum.Total;
    }

    /// <summary>What its effort adds to <see cref="Of"/>.</summary>
    internal double OfEffort(double effort) => _weights[Effort] * effort / EffortUnit;

    /// <summary>Counts the features of a fingering.</summary>
    /// <param name="fingering">The fingering.</param>
    /// <param name="features">As many as <see cref="Names"/>; overwritten.</param>
    public static void Count(Fingering fingering, Span<double> features)
    {
        features.Clear();
        var sum = new Sum(default, features);
        sum.Add(Effort, fingering.Effort / EffortUnit);
        Walk(ref sum, fingering.Shape, PlacedFingers.Of(fingering.Shape, fingering.Packed));
    }

    private ref struct Sum(ReadOnlySpan<double> weights, Span<double> features)
    {
        private readonly ReadOnlySpan<double> _weights = weights;
        private readonly Span<double> _features = features;

        public double Total { get; private set; }

        public void Add(int feature, double measure = 1)
        {
            if (_features.Length > 0) _features[feature] += measure;
            else Total += _weights[feature] * measure;
        }
    }

    private static void Walk(ref Sum sum, Shape shape, in PlacedFingers p)
    {
        var open = shape.HasOpenString ? 1 : 0;
        int used = 0, first = 0, lying = 0, previous = 0;
        for (var f = 4; f >= 1; f--) if (p.Fret(f) > 0) { used++; first = f; }
        var indexLies = p.High(1) > p.Low(1) && p.Fret(1) > 0;
        sum.Add(FingerCount + used);
        for (var f = 1; f <= 4; f++)
        {
            var fret = p.Fret(f);
            if (fret == 0) continue;
            sum.Add(Uses + f);
            var away = Math.Min(fret - p.Fret(first), 4);
            if (p.High(f) > p.Low(f)) { lying++; WalkLying(ref sum, shape, p, f, away); }
            sum.Add(Away + f * 5 + away);
            if (indexLies) sum.Add(AwayUnderBarre + f * 5 + away);
            if (indexLies && f > 1 && p.Low(f) == shape.TrebleString && IsAloneOnFret(p, f))
                sum.Add(TopOverIndex + f * 5 + away);
            if (previous > 0) sum.Add(Pair + (previous * 5 + f) * 5 + Math.Min(fret - p.Fret(previous), 4));
            if (open > 0 && fret <= 4) sum.Add(At + f * 5 + fret);
            previous = f;
        }
        if (lying > 1) sum.Add(SeveralLie, lying - 1);
        WalkNeighbours(ref sum, shape, p);
        WalkRows(ref sum, shape, p, open);
        if (first > 0)
        {
            if (first > 1) sum.Add(NoIndex + open);
            if (open > 0 && p.Fret(first) <= 3) sum.Add(OffFrame, Math.Abs(p.Fret(first) - first));
            sum.Add(First + (open * 5 + first) * 5 + Math.Min(p.Fret(first), 4));
        }
        if (p.Fret(5) == 0) return;
        sum.Add(Uses + 5);
        sum.Add(ThumbAway, first == 0 ? 0 : Math.Abs(p.Fret(5) - p.Fret(first)));
        if (p.High(5) > 0) sum.Add(ThumbOverTwo);
    }

    private static bool IsAloneOnFret(in PlacedFingers p, int finger)
    {
        for (var other = 1; other <= 4; other++) if (other != finger && p.Fret(other) == p.Fret(finger)) return false;
        return true;
    }

    private static void WalkLying(ref Sum sum, Shape shape, in PlacedFingers p, int finger, int away)
    {
        var (low, high, other) = (p.Low(finger), p.High(finger), finger > 1 ? 1 : 0);
        sum.Add(Lies + finger * 7 + Math.Min(high - low + 1, 6));
        sum.Add(LiesAtAll + finger);
        sum.Add(LiesAway + finger * 5 + away);
        sum.Add((high == shape.TrebleString ? LiesToTreble : LiesInside) + other);
        int stopped = 0, silent = 0, own = 0;
        for (var s = low; s <= high; s++)
        {
            if (shape[s] < 0) silent++;
            else if (p.FingerOn(s) == finger) own++;
            else stopped++;
        }
        sum.Add(LiesOverStopped + other, stopped);
        sum.Add(LiesOverSilent + other, silent);
        sum.Add(LiesSounding + other * 5 + Math.Min(own, 4));
        if (high + 1 < shape.StringCount && shape[high + 1] == 0) sum.Add(OpenAbove);
        if (low > 0 && shape[low - 1] == 0) sum.Add(OpenBelow);
    }

    private static void WalkNeighbours(ref Sum sum, Shape shape, in PlacedFingers p)
    {
        for (var low = 1; low <= 3; low++)
        {
            if (p.Fret(low) == 0) continue;
            for (var high = low + 1; high <= 4; high++)
            {
                if (p.Fret(high) != p.Fret(low)) continue;
                if (p.Low(high) < p.Low(low))
                {
                    sum.Add(CrossedAtAll);
                    sum.Add(Crossed + low * 5 + high);
                }
                sum.Add(p.Low(high) == p.High(low) + 1 || p.Low(low) == p.High(high) + 1 ? SideBySide : ApartOnOneFret);
                // Where nothing open or lower stands between them, one finger could lie over both.
                var could = true;
                for (var s = Math.Min(p.Low(low), p.Low(high)); s <= Math.Max(p.High(low), p.High(high)); s++)
                    could &= shape[s] >= p.Fret(low);
                if (could) sum.Add(CouldLie + (low > 1 ? 1 : 0));
            }
        }
    }

    /// <summary>Rows of fingertips on neighbouring strings of one fret.</summary>
    private static void WalkRows(ref Sum sum, Shape shape, in PlacedFingers p, int open)
    {
        var row = 1;
        for (var s = 1; s <= shape.StringCount; s++)
        {
            if (s < shape.StringCount && shape[s] > 0 && shape[s] == shape[s - 1] && p.FingerOn(s) != p.FingerOn(s - 1))
            {
                row++;
                continue;
            }
            if (row > 1) sum.Add(Row + open * 7 + Math.Min(row, 6));
            row = 1;
        }
    }
}
