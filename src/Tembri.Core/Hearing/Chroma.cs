namespace Tembri.Core.Hearing;

/// <summary>How strong each of the twelve pitch classes sounds, in the middle and in the bass.</summary>
internal readonly struct Chroma
{
    private const double TrebleFrom = 40, TrebleFull = 45, TrebleFades = 76, TrebleTo = 91;
    private const double BassFull = 46, BassTo = 55;

    private const float Pressed = 0.35f;   // exponent

    private static readonly float[] TrebleWeight = [.. Notes()
        .Select(n => (float)(n < TrebleFrom ? 0
            : n < TrebleFull ? (n - TrebleFrom) / (TrebleFull - TrebleFrom)
            : n <= TrebleFades ? 1
            : Math.Max(0, (TrebleTo - n) / (TrebleTo - TrebleFades))))];
    private static readonly float[] BassWeight =
        [.. Notes().Select(n => (float)(n <= BassFull ? 1 : Math.Max(0, (BassTo - n) / (BassTo - BassFull))))];

    private static IEnumerable<double> Notes() => Enumerable.Range(NoteTrack.LowestNote, NoteTrack.Notes).Select(n => (double)n);

    /// <summary>Twelve strengths of the middle, then twelve of the bass.</summary>
    public float[] Values { get; }

    private Chroma(float[] values) => Values = values;

    /// <summary>Strength of a pitch class in the middle.</summary>
    public float Treble(int pitchClass) => Values[pitchClass];

    /// <summary>Strength of a pitch class in the bass.</summary>
    public float Bass(int pitchClass) => Values[12 + pitchClass];

    /// <summary>From the strengths of notes; loud notes are pressed together, so that one does not hide the rest.</summary>
    public static Chroma Of(ReadOnlySpan<float> notes)
    {
        var values = new float[24];
        for (var n = 0; n < notes.Length; n++)
        {
            if (notes[n] <= 0) continue;
            var strength = MathF.Pow(notes[n], Pressed);
            var pitchClass = (n + NoteTrack.LowestNote) % 12;
            values[pitchClass] += strength * TrebleWeight[n];
            values[12 + pitchClass] += strength * BassWeight[n];
        }
        return new Chroma(values);
    }

    /// <summary>Each strength the middle one of several.</summary>
    public static Chroma Median(IReadOnlyList<Chroma> several)
    {
        var (values, column) = (new float[24], new float[several.Count]);
        for (var i = 0; i < values.Length; i++)
        {
            for (var s = 0; s < several.Count; s++) column[s] = several[s].Values[i];
            Array.Sort(column);
            values[i] = (column[(column.Length - 1) / 2] + column[column.Length / 2]) / 2;
        }
        return new Chroma(values);
    }

    /// <summary>The mean over stretches.</summary>
    /// <param name="all">A chroma for each stretch.</param>
    /// <param name="from">The first stretch.</param>
    /// <param name="to">One past the last.</param>
    public static Chroma Mean(IReadOnlyList<Chroma> all, int from, int to)
    {
        var values = new float[24];
        for (var f = from; f < to; f++) for (var i = 0; i < 24; i++) values[i] += all[f].Values[i];
        for (var i = 0; i < 24; i++) values[i] /= Math.Max(1, to - from);
        return new Chroma(values);
    }

    /// <summary>The same with the middle and the bass each summing to 1; all alike where nothing sounds.</summary>
    public Chroma Scaled()
    {
        var values = (float[])Values.Clone();
        foreach (var part in new[] { 0, 12 })
        {
            var sum = 0f;
            for (var i = part; i < part + 12; i++) sum += values[i];
            for (var i = part; i < part + 12; i++) values[i] = sum > 1e-6f ? values[i] / sum : 1f / 12;
        }
        return new Chroma(values);
    }
}
