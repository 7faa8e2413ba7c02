using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Hearing;

/// <summary>Writes a first chart from a recording alone. It is a draft, and its certainties say how far to trust it.</summary>
/// <remarks>
/// Beats by the tempo the sound repeats itself at; a chord for each beat by the likeliest row of chords (Viterbi 1967), in which
/// a change costs something; bars where chords change and something strong begins; parts from
/// bars that come again, whose chords are then told from all the times they come.
/// </remarks>
internal static class ChartDrafter
{
    private static readonly HearingWeights W = HearingWeights.Default;
    private static readonly HeardKind[] Kinds =
        [HeardKind.Major, HeardKind.Minor, HeardKind.Dominant, HeardKind.MinorSeventh, HeardKind.MajorSeventh];
    private static readonly HeardChord[] Known = [.. HeardChord.All.Where(c => Kinds.Contains(c.Kind))];
    private const double Change = 0.16;          // logarithm, of a change from beat to beat
    private const double ThreeMustBeat = 1.15;   // what 3/4 must be better by
    private const int LongestPart = 16, ShortestPart = 4;
    private const double SamePart = 0.75;        // of the bars
    // how far chords stand out from one another, below which nothing is played that has any
    private const double LeastMusic = 0.22;
    private const float Audible = 0.08f;

    /// <summary>Drafts.</summary>
    public static HearingResult Draft(IReadOnlyList<Chroma> chroma, NoteTrack notes, OnsetTrack onsets, double seconds,
        CancellationToken cancel)
    {
        var tempo = TempoFinder.Candidates(onsets, 1) is [var first, ..] ? first.Tempo : 90;
        var beats = Audibly(TempoFinder.Beats(onsets, tempo), notes);
        if (beats.Count < 9) return Nothing(notes, seconds);
        var between = Enumerable.Range(0, beats.Count - 1).Select(b => Mean(chroma, beats[b], beats[b + 1])).ToList();
        cancel.ThrowIfCancellationRequested();
        var row = Row([.. between.Select(b => b.Scaled())]);
        var (meter, phase) = Bars(row, beats, onsets);
        var bars = (row.Count - phase) / meter;
        if (bars < 2) return Nothing(notes, seconds);
        var parts = Parts(
            [.. Enumerable.Range(0, bars).Select(b => row.Skip(phase + b * meter).Take(meter).Select(c => c.Triad).ToArray())]);
        var key = KeyFinder.Guess([.. row.Select(c => Spelled(c, null))]);
        var chart = ChartOf(parts, between, phase, meter, tempo, key);
        // Held against its own form, it says how certain each chord is.
        var times = new List<HeardBar>();
        foreach (var (part, start, length, pass) in parts)
            for (var b = 0; b < length; b++)
                times.Add(
                    new HeardBar(part, b, pass, beats[phase + (start + b) * meter], beats[phase + (start + b + 1) * meter]));
        var places = new PlaceJudge(chart, chroma, 0).Judge(times);
        var measured = 60 * (beats.Count - 1) / (beats[^1] - beats[0]);
        return new HearingResult
        {
            Cents = notes.Cents, Semitones = 0, Tempo = measured, Drift = (1, 1),
            Matches = places.Count > 0 && Spread(between) >= LeastMusic, Agreement = 0, Standing = 0, Bars = times,
            Places = places, FormChanges = [],
            Draft = chart with { Tempo = Math.Round(measured) }, Seconds = seconds,
        };
    }

    private static HearingResult Nothing(NoteTrack notes, double seconds) =>
        new()
        {
            Cents = notes.Cents, Semitones = 0, Tempo = 0, Drift = (1, 1), Matches = false, Agreement = 0, Standing = 0,
            Bars = [], Places = [], FormChanges = [], Seconds = seconds
        };

    private static List<double> Audibly(IReadOnlyList<double> beats, NoteTrack notes)
    {
        var loud = Audible * notes.Loudness.Order().ElementAt((int)(0.9 * (notes.Frames - 1)));
        bool Sounds(double at) => notes.Loudness[Math.Clamp((int)(at / NoteTrack.Step), 0, notes.Frames - 1)] > loud;
        return [.. beats.SkipWhile(b => !Sounds(b + 0.1)).Reverse().SkipWhile(b => !Sounds(b - 0.1)).Reverse()];
    }

    private static Chroma Mean(IReadOnlyList<Chroma> chroma, double from, double to)
    {
        var first = Math.Clamp((int)Math.Ceiling((from + 0.04) / NoteTrack.Step), 0, chroma.Count - 1);
        return Chroma.Mean(chroma, first,
            Math.Clamp((int)Math.Floor((to - 0.02) / NoteTrack.Step) + 1, first + 1, chroma.Count));
    }

    /// <summary>How far the likeliest chord stands out from the middle one, on the average.</summary>
    private static double Spread(IReadOnlyList<Chroma> beats) => beats.Average(b =>
    {
        var scaled = b.Scaled();
        var values = Known.Select(c => ChordLikelihood.Of(ChordLikelihood.Expected(c), scaled)).Order().ToList();
        return values[^1] - values[values.Count / 2];
    });

    private static List<HeardChord> Row(IReadOnlyList<Chroma> beats)
    {
        var expected = Known.Select(c => (Value: ChordLikelihood.Expected(c), Rare: W.Rare.GetValueOrDefault(c.Kind))).ToArray();
        var score = new double[Known.Length];
        var back = new int[beats.Count, Known.Length];
        for (var b = 0; b < beats.Count; b++)
        {
            var best = Array.IndexOf(score, score.Max());
            var next = new double[Known.Length];
            for (var c = 0; c < Known.Length; c++)
            {
                var stays = b == 0 || score[c] >= score[best] - Change;
                back[b, c] = stays ? c : best;
                next[c] = (stays ? score[c] : score[best] - Change) + ChordLikelihood.Of(expected[c].Value, beats[b])
                    - expected[c].Rare;
            }
            score = next;
        }
        var row = new HeardChord[beats.Count];
        for (int b = beats.Count - 1, c = Array.IndexOf(score, score.Max()); b >= 0; c = back[b, c], b--) row[b] = Known[c];
        return [.. row];
    }

    /// <summary>Beats a bar, and the beat the first bar starts with: where chords change, and something strong begins.</summary>
    private static (int Meter, int Phase) Bars(List<HeardChord> row, List<double> beats, OnsetTrack onsets)
    {
        var begins = Enumerable.Range(0, row.Count)
            .Select(b => (b > 0 && row[b].Triad != row[b - 1].Triad ? 3.0 : 0) + 0.25 * Math.Min(4, onsets.Near(beats[b])))
            .ToArray();
        double Share(int meter, int phase)
        {
            var on = Enumerable.Range(0, row.Count).Where(b => b >= phase && (b - phase) % meter == 0).Average(b => begins[b]);
            return on / Math.Max(1e-6, begins.Average());
        }
        var four = Enumerable.Range(0, 4).MaxBy(p => Share(4, p));
        var three = Enumerable.Range(0, 3).MaxBy(p => Share(3, p));
        return Share(3, three) > ThreeMustBeat * Share(4, four) ? (3, three) : (4, four);
    }

    /// <summary>A part where it comes.</summary>
    /// <param name="Part">Which part.</param>
    /// <param name="Start">The bar it starts with.</param>
    /// <param name="Length">Its bars.</param>
    /// <param name="Pass">The how-manieth time it comes, from 1.</param>
    private readonly record struct PlacedPart(int Part, int Start, int Length, int Pass);

    private static List<PlacedPart> Parts(IReadOnlyList<HeardTriad[]> bars)
    {
        // The stretch that saves most bars by coming again is a part; then the next, among what is left. What never comes again
        // stands between.
        var owner = Enumerable.Repeat(-1, bars.Count).ToArray();
        var starts = new List<(int Start, int Length)>();
        while (Repeated(bars, owner) is { Length: > 0 } found)
        {
            foreach (var at in found.Starts)
            {
                Array.Fill(owner, starts.Count, at, found.Length);
                starts.Add((at, found.Length));
            }
        }
        for (var b = 0; b < bars.Count; b++)
        {
            if (owner[b] >= 0) continue;
            var end = b;
            while (end < bars.Count && owner[end] < 0) end++;
            Array.Fill(owner, starts.Count, b, end - b);
            starts.Add((b, end - b));
        }
        var placed = new List<PlacedPart>();
        var firsts = new List<(int Start, int Length)>();
        foreach (var (start, length) in starts.OrderBy(s => s.Start))
        {
            var part = firsts.FindIndex(f => f.Length == length && Same(bars, f.Start, start, length));
            if (part < 0) { part = firsts.Count; firsts.Add((start, length)); }
            placed.Add(new PlacedPart(part, start, length, placed.Count(p => p.Part == part) + 1));
        }
        return placed;
    }

    private static bool Same(IReadOnlyList<HeardTriad[]> bars, int a, int b, int length) =>
        Enumerable.Range(0, length).Average(i => Alike(bars[a + i], bars[b + i])) >= SamePart;

    /// <summary>The stretch among the bars nobody has yet that comes again most profitably; of length 0 when none
    /// does.</summary>
    private static (int Length, IReadOnlyList<int> Starts) Repeated(IReadOnlyList<HeardTriad[]> bars, int[] owner)
    {
        (int Length, IReadOnlyList<int> Starts, int Saved) best = (0, [], 0);
        for (var length = Math.Min(LongestPart, bars.Count / 2); length >= ShortestPart; length--)
            for (var first = 0; first + 2 * length <= bars.Count; first++)
            {
                if (!Free(first, length)) continue;
                var at = new List<int> { first };
                for (var next = first + length; next + length <= bars.Count;)
                    if (Free(next, length) && Same(bars, first, next, length)) { at.Add(next); next += length; }
                    else next++;
                // Whole lines of four are how songs are built.
                var saved = (at.Count - 1) * length * (length % 4 == 0 ? 2 : 1);
                if (at.Count > 1 && saved > best.Saved) best = (length, at, saved);
            }
        return (best.Length, best.Starts);

        bool Free(int start, int length)
        {
            for (var b = start; b < start + length; b++) if (owner[b] >= 0) return false;
            return true;
        }
    }

    private static double Alike(HeardTriad[] a, HeardTriad[] b) => a.Zip(b, (x, y) => x == y ? 1.0 : 0).Average();

    private static Chart ChartOf(List<PlacedPart> parts, List<Chroma> beats, int phase, int meter, double tempo, Key key)
    {
        var sections = new List<Section>();
        foreach (var part in parts.GroupBy(p => p.Part).OrderBy(g => g.Key))
        {
            var length = part.First().Length;
            // The chords of all the times together, and in a bar of four at most two.
            var together = Enumerable.Range(0, length * meter)
                .Select(b => Chroma.Median([.. part.Select(p => beats[phase + p.Start * meter + b])]).Scaled()).ToList();
            var row = Row(together);
            sections.Add(new Section($"Part {(char)('A' + part.Key % 26)}{(part.Key >= 26 ? (part.Key / 26).ToString(System.Globalization.CultureInfo.InvariantCulture) : "")}",
                [.. Enumerable.Range(0, length).Select(b => BarOf(row.GetRange(b * meter, meter), meter, key, b % 4 == 0))]));
        }
        var form = new List<FormPart>();
        foreach (var (part, _, _, _) in parts)
        {
            var name = sections[part].Name;
            if (form.Count > 0 && form[^1].Section == name) form[^1] = form[^1] with { Times = form[^1].Times + 1 };
            else form.Add(new FormPart(name, 1));
        }
        return new Chart
        {
            Title = "", Key = key, KeyIsGiven = true, Tempo = Math.Round(tempo), Meter = new Meter(meter, 4),
            Sections = sections, Form = form
        };
    }

    private static Bar BarOf(List<HeardChord> beats, int meter, Key key, bool startsLine)
    {
        var slots = new List<(HeardChord Chord, int Beats)>();
        foreach (var chord in beats)
            if (slots.Count > 0 && slots[^1].Chord == chord) slots[^1] = (chord, slots[^1].Beats + 1);
            else slots.Add((chord, 1));
        return new Bar(new Meter(meter, 4),
            [.. slots.Select(s => Spelled(s.Chord, key) is var chord ? new Slot(chord.Name, chord, s.Beats) : default!)],
            startsLine);
    }

    private static Chord Spelled(HeardChord heard, Key? key) =>
        Chord.Parse((key is { } k ? k.Spell(heard.Root).ToAscii() : Names[heard.Root]) + heard.Suffix);

    private static readonly string[] Names = ["C", "Db", "D", "Eb", "E", "F", "Gb", "G", "Ab", "A", "Bb", "B"];
}
