using Tembri.Core.Music;
using Tembri.Core.Chords;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts;

/// <summary>A step from one chord to a different one, with how often it happens in the form.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="ShortestBeats">The shortest time, in beats, the chord left lasts before this change.</param>
public sealed record ChordStep(int From, int To, int Count, double ShortestBeats)
{
    /// <summary>Where it happens; like places once.</summary>
    public IReadOnlyList<ChangePlace> Places { get; init; } = [];
}

/// <summary>Where a change falls.</summary>
/// <param name="Section">Place of the section in the chart.</param>
/// <param name="OddBar">True in the second, fourth, … bar of the section.</param>
/// <param name="At">Beats from the start of the bar; below 0 when it is pushed over the bar line.</param>
/// <param name="Beats">Beats the chord before it lasts, silence after it as well.</param>
public readonly record struct ChangePlace(int Section, bool OddBar, double At, double Beats)
{
    /// <summary>What a pattern leaves of time for the change here.</summary>
    public ChangeTime TimeWith(StrumPattern pattern) =>
        ChangeTime.Of(pattern, At + (OddBar && pattern.Bars == 2 ? pattern.Meter.Beats : 0), Beats);
}

/// <summary>Where a chord begins.</summary>
/// <param name="Section">Place of the section in the chart.</param>
/// <param name="Bar">Bar of the section, from 0.</param>
/// <param name="At">Beats from the start of the bar; below 0 when it is pushed over the bar line.</param>
public readonly record struct ChordStart(int Section, int Bar, double At);

/// <summary>A chord in playing order.</summary>
/// <param name="Chord">Index of the chord.</param>
/// <param name="Beats">How long it sounds.</param>
/// <param name="Silence">Beats of silence after it.</param>
/// <param name="Start">Where it begins.</param>
public readonly record struct ChordSpell(int Chord, double Beats, double Silence, ChordStart Start = default);

/// <summary>A chart seen as chords and the steps between them: what the arranger works on.</summary>
public sealed class ChordFlow
{
    /// <summary>The different chords.</summary>
    public IReadOnlyList<Chord> Chords { get; }

    /// <summary>Beats each chord sounds over the whole form.</summary>
    public IReadOnlyList<double> Beats { get; }

    /// <summary>All beats with a chord.</summary>
    public double TotalBeats { get; }

    /// <summary>Steps between different chords.</summary>
    public IReadOnlyList<ChordStep> Steps { get; }

    /// <summary>The chords in playing order; immediate repeats joined.</summary>
    public IReadOnlyList<ChordSpell> Sequence { get; }

    /// <summary>For each chord the pitch classes of the tune over it, bit n for pitch class n; 0 where the tune is not
    /// known.</summary>
    public IReadOnlyList<int> Melody { get; }

    /// <summary>The number of a slot that has no chord.</summary>
    public const int Silent = -1;

    private readonly IReadOnlyList<int[]> _spells;   // for each played bar and slot its place in the sequence

    /// <summary>How many bars are played, repeats counted.</summary>
    public int PlayedBars => _spells.Count;

    /// <summary>The chord a slot plays, or <see cref="Silent"/>. Whoever plays, writes or draws the flow asks here, so that all
    /// of them mean the same chord.</summary>
    /// <param name="bar">Which bar, counted as they are played, from 0.</param>
    /// <param name="slot">Which slot of the bar.</param>
    public int ChordAt(int bar, int slot) => _spells[bar][slot] is >= 0 and var spell ? Sequence[spell].Chord : Silent;

    /// <summary>Reads the flow off a chart. Silences and unread symbols interrupt nothing: the hand has time to move.</summary>
    /// <param name="chart">The chart.</param>
    /// <param name="chords">The chords to number by, when they are more than the chart still plays; those it does not play have
    /// 0 beats.</param>
    public ChordFlow(Chart chart, IReadOnlyList<Chord>? chords = null) : this(chords ?? chart.Chords, chart)
    {
    }

    private ChordFlow(IReadOnlyList<Chord> chords, Chart chart)
    {
        var index = chords.Select((c, i) => (c, i)).ToDictionary(x => x.c, x => x.i);
        var (sequence, melody, spells) = (new List<ChordSpell>(), new int[chords.Count], new List<int[]>());
        foreach (var (section, number) in chart.PlayedPlaces())
        {
            var bar = chart.Sections[section].Bars[number];
            var at = 0.0;
            var spellOf = new int[bar.Slots.Count];
            spells.Add(spellOf);
            for (var i = 0; i < bar.Slots.Count; i++)
            {
                var slot = bar.Slots[i];
                spellOf[i] = Silent;
                at += slot.Beats;
                // A pushed chord takes a division of a beat from what is before it: silence, or half of a chord at most.
                var push = 0.0;
                if (slot is { IsEarly: true, Chord: not null } && sequence is [.., var before])
                {
                    push = Math.Min(1.0 / bar.Meter.Division, before.Silence > 0 ? before.Silence : before.Beats / 2);
                    sequence[^1] = before.Silence > 0
                        ? before with { Silence = before.Silence - push }
                        : before with { Beats = before.Beats - push };
                }
                if (slot.Chord is null)
                {
                    if (sequence.Count > 0) sequence[^1] = sequence[^1] with { Silence = sequence[^1].Silence + slot.Beats };
                    continue;
                }
                var chord = index[slot.Chord];
                melody[chord] |= bar.MelodyMask(at - slot.Beats, at);
                if (sequence is [.., { Silence: 0 }] && sequence[^1] is var last && last.Chord == chord)
                    sequence[^1] = last with { Beats = last.Beats + push + slot.Beats };
                else
                    sequence.Add(
                        new ChordSpell(chord, slot.Beats + push, 0, new ChordStart(section, number, at - slot.Beats - push)));
                spellOf[i] = sequence.Count - 1;
            }
        }
        (Chords, Sequence, Melody, _spells) = (chords, sequence, melody, spells);
        (Beats, TotalBeats, Steps) = Summarise();
    }

    private ChordFlow(IReadOnlyList<Chord> chords, IReadOnlyList<ChordSpell> sequence, IReadOnlyList<int> melody,
        IReadOnlyList<int[]> spells)
    {
        (Chords, Sequence, Melody, _spells) = (chords, sequence, melody, spells);
        (Beats, TotalBeats, Steps) = Summarise();
    }

    /// <summary>The chord that follows each spell of the sequence; −1 at the end. A chord that comes again after a silence
    /// follows itself.</summary>
    public int Next(int position) => position + 1 < Sequence.Count ? Sequence[position + 1].Chord : -1;

    /// <summary>The same flow in which a chord before a certain other one counts as a chord of its own, numbered after the
    /// others in the order given.</summary>
    /// <param name="places">Index of a chord and of the chord that follows it.</param>
    public ChordFlow Split(IReadOnlyList<(int Chord, int Next)> places)
    {
        if (places.Count == 0) return this;
        var number = places.Select((p, i) => (p, i)).ToDictionary(x => x.p, x => Chords.Count + x.i);
        return new ChordFlow(
            [.. Chords, .. places.Select(p => Chords[p.Chord])],
            [.. Sequence.Select((s, i) => s with { Chord = number.GetValueOrDefault((s.Chord, Next(i)), s.Chord) })],
            [.. Melody, .. places.Select(p => Melody[p.Chord])],
            _spells);
    }

    private (double[] Beats, double Total, ChordStep[] Steps) Summarise()
    {
        var beats = new double[Chords.Count];
        var steps = new SortedDictionary<(int From, int To), ChordStep>();
        var places = new Dictionary<(int From, int To), HashSet<ChangePlace>>();
        for (var i = 0; i < Sequence.Count; i++)
        {
            var here = Sequence[i];
            beats[here.Chord] += here.Beats;
            if (i == 0 || Sequence[i - 1].Chord == here.Chord) continue;
            var before = Sequence[i - 1];
            var known = steps.GetValueOrDefault((before.Chord, here.Chord),
                new ChordStep(before.Chord, here.Chord, 0, double.PositiveInfinity));
            var lasts = before.Beats + before.Silence;
            steps[(before.Chord, here.Chord)] =
                known with { Count = known.Count + 1, ShortestBeats = Math.Min(known.ShortestBeats, lasts) };
            if (!places.TryGetValue((before.Chord, here.Chord), out var found)) places[(before.Chord, here.Chord)] = found = [];
            found.Add(new ChangePlace(here.Start.Section, here.Start.Bar % 2 == 1, here.Start.At, lasts));
        }
        return (beats, beats.Sum(), [.. steps.Values.Select(s => s with { Places = [.. places[(s.From, s.To)]] })]);
    }
}
