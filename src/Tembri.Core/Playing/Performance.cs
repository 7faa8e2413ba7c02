using Tembri.Core.Charts;
using Tembri.Core.Music;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Playing;

/// <summary>A bar as it is played.</summary>
/// <param name="Section">Name of its section.</param>
/// <param name="SectionIndex">Which section of the chart.</param>
/// <param name="BarIndex">Which bar of the section, from 0.</param>
/// <param name="At">Quarter notes from the start of the song.</param>
/// <param name="Length">Length in quarter notes.</param>
/// <param name="Meter">Its meter.</param>
/// <param name="Pace">The tempo in it against the song's: 1 is the same, 0.85 slower.</param>
public sealed record PlayedBar(string Section, int SectionIndex, int BarIndex, double At, double Length, Meter Meter,
    double Pace);

/// <summary>A chord as it is played.</summary>
/// <param name="Name">As it sounds.</param>
/// <param name="ShapeName">As the hand sees it.</param>
/// <param name="At">Quarter notes from the start of the song.</param>
/// <param name="Length">Length in quarter notes.</param>
/// <param name="Bass">MIDI number of its lowest sounding note.</param>
public sealed record PerformedChord(string Name, string ShapeName, double At, double Length, int Bass);

/// <summary>A stroke over the strings.</summary>
/// <param name="At">Quarter notes from the start of the song.</param>
/// <param name="Length">Quarter notes until the strings are struck again or let go.</param>
/// <param name="Up">True from the treble side.</param>
/// <param name="Strength">0 to 1.</param>
/// <param name="Notes">MIDI numbers in the order the stroke meets them.</param>
public sealed record PlayedStroke(double At, double Length, bool Up, double Strength, IReadOnlyList<int> Notes)
{
    /// <summary>True when the strings are damped: a stroke without pitch.</summary>
    public bool IsDamped { get; init; }
}

/// <summary>A version as it sounds: bars, chords and strokes on the true pitches of its shapes, in order of time.</summary>
public sealed class Performance
{
    private const int LongestRing = 256;     // strokes after which nobody hears a picked string any more
    private const double PickedNote = 0.85;
    private const double SlurredNote = 0.6;
    private const double SoftShare = 0.65;
    private const double LoudShare = 1.25;
    private const double Hair = 1e-9;
    private const double SlowPace = 0.85;
    private const double HeldPace = 0.5;
    private readonly Tuning _strings;
    private readonly List<PlayedBar> _bars = [];
    private readonly List<PerformedChord> _chords = [];
    private readonly List<PlayedStroke> _strokes = [];

    /// <summary>Plays a version.</summary>
    /// <param name="version">The version.</param>
    public Performance(VersionChart version)
    {
        var chart = version.Chart;
        _strings = chart.Strings;
        QuarterTempo = chart.Tempo * Quarters(chart.Meter);
        var (at, played) = (0.0, 0);
        foreach (var (index, b) in chart.PlayedPlaces())
        {
            var section = chart.Sections[index];
            var bar = section.Bars[b];
            var beat = Quarters(bar.Meter);
            AddBar(section, index, b, bar, at, beat);
            AddChords(version, index, bar, played++, at, beat);
            at += bar.Beats * beat;
        }
        Length = at;
        JoinRepeats();
        AddFigures(version);
        AddStrokes(version);
        _strokes.Sort((a, b) => a.At.CompareTo(b.At));
    }

    /// <summary>Quarter notes a minute.</summary>
    public double QuarterTempo { get; }

    /// <summary>Length in quarter notes.</summary>
    public double Length { get; }

    /// <summary>The bars.</summary>
    public IReadOnlyList<PlayedBar> Bars => _bars;

    /// <summary>The chords; silence lies between them where the song has it.</summary>
    public IReadOnlyList<PerformedChord> Chords => _chords;

    /// <summary>The strokes.</summary>
    public IReadOnlyList<PlayedStroke> Strokes => _strokes;

    /// <summary>Quarter notes a beat of a meter lasts.</summary>
    public static double Quarters(Meter meter) => meter.BeatInQuarters;

    private readonly List<(Fingering Fingering, int Raised)> _shapes = [];

    private void AddBar(Section section, int sectionIndex, int barIndex, Bar bar, double at, double beat)
    {
        _bars.Add(new PlayedBar(section.Name, sectionIndex, barIndex, at, bar.Beats * beat, bar.Meter, PaceOf(bar)));
    }

    /// <summary>The tempo in a bar against the song's: slower where it is held, paused after or slowed.</summary>
    internal static double PaceOf(Bar bar) =>
        bar.Remarks.Contains(Bar.Hold) || bar.Remarks.Contains(Bar.Pause) ? HeldPace
            : bar.Remarks.Contains(Bar.Slow) ? SlowPace
            : 1;

    private void AddChords(VersionChart version, int section, Bar bar, int played, double at, double beat)
    {
        for (var i = 0; i < bar.Slots.Count; i++)
        {
            var slot = bar.Slots[i];
            var length = slot.Beats * beat;
            if (version.PlayedAt(played, i) is { } here)
            {
                var (chord, fingering) = (here.Choice.Played, here.Choice.Fingering);
                var start = at;
                if (slot.IsEarly && _chords.Count > 0)
                {
                    // As the flow has it: out of the silence before, or half of a chord at most.
                    var before = _chords[^1];
                    var silence = at - before.At - before.Length;
                    start -= Math.Min(Push(version, section, bar.Meter) * beat, silence > 1e-9 ? silence : before.Length / 2);
                    if (silence <= 1e-9) _chords[^1] = before with { Length = start - before.At };
                }
                var raised = version.RaisedIn(section);
                _chords.Add(new PerformedChord(version.Sounding(chord, section).Name, chord.Name, start, at + length - start,
                    Pitches(fingering, raised, _strings).Min()));
                _shapes.Add((fingering, raised));
            }
            at += length;
        }
    }

    /// <summary>Beats a pushed chord comes early: on the last division of the beat before, which swings as the strum
    /// does.</summary>
    private static double Push(VersionChart version, int section, Meter meter)
    {
        var pattern = version.Rung.Hand.In(section);
        return meter.Division == 2 && pattern.StepsPerBeat % 2 == 0 ? 1 - pattern.Swing / 100.0 : 1.0 / meter.Division;
    }

    /// <summary>A chord that goes on into the next bar is one chord.</summary>
    private void JoinRepeats()
    {
        var kept = 0;
        for (var i = 0; i < _chords.Count; i++)
        {
            var here = _chords[i];
            var goesOn = kept > 0 && _chords[kept - 1] is var before && before.Name == here.Name
                && _shapes[kept - 1].Fingering.SameAs(_shapes[i].Fingering)
                && Math.Abs(before.At + before.Length - here.At) <= 1e-9;
            if (goesOn) _chords[kept - 1] = _chords[kept - 1] with { Length = _chords[kept - 1].Length + here.Length };
            else (_chords[kept], _shapes[kept++]) = (here, _shapes[i]);
        }
        _chords.RemoveRange(kept, _chords.Count - kept);
        _shapes.RemoveRange(kept, _shapes.Count - kept);
    }

    private readonly List<(double From, double To)> _figures = [];   // where notes are played in place of the strum

    private void AddFigures(VersionChart version)
    {
        foreach (var bar in _bars)
            foreach (var figure in version.Chart.Sections[bar.SectionIndex].Figures.Where(f => f.Bar == bar.BarIndex))
            {
                var (beat, raised, loudness) =
                    (Quarters(bar.Meter), version.RaisedIn(bar.SectionIndex), LoudnessOf(version, bar.SectionIndex));
                _figures.Add((bar.At + figure.From * beat, Math.Min(Length, bar.At + figure.To * beat)));
                for (var i = 0; i < figure.Notes.Count; i++)
                {
                    var note = figure.Notes[i];
                    if (note.How == Ornament.Held) continue;
                    var end = note.At + note.Beats;
                    for (var held = i + 1; held < figure.Notes.Count && figure.Notes[held].How == Ornament.Held; held++)
                        end = figure.Notes[held].At + figure.Notes[held].Beats;
                    var (from, to) = (bar.At + note.At * beat, Math.Min(Length, bar.At + end * beat));
                    if (to - from > Hair)
                        _strokes.Add(new PlayedStroke(from, to - from, false,
                            Math.Min(1, (note.How is Ornament.Hammer or Ornament.Pull ? SlurredNote : PickedNote) * loudness),
                            [note.Pitch.Midi + raised]));
                }
            }
    }

    private bool IsInFigure(double at) => _figures.Exists(f => at > f.From - Hair && at < f.To - Hair);

    /// <summary>Where the next figure after a moment begins.</summary>
    private double NextFigure(double at) =>
        _figures.Where(f => f.From > at + Hair).Select(f => f.From).DefaultIfEmpty(double.PositiveInfinity).Min();

    /// <summary>A moment the hand does something to the strings.</summary>
    private readonly record struct Hit(double At, HandStep Step, double Loudness, int Chord);

    private void AddStrokes(VersionChart version)
    {
        var chord = 0;
        var hits = new List<Hit>();
        foreach (var bar in _bars)
        {
            foreach (var hit in HitsOf(version, bar))
            {
                while (chord < _chords.Count && _chords[chord].At + _chords[chord].Length <= hit.At + Hair) chord++;
                if (chord < _chords.Count && _chords[chord].At <= hit.At + Hair) hits.Add(hit with { Chord = chord });
            }
        }
        AddUnheard(version, hits);
        if (_figures.Count > 0) hits.RemoveAll(h => IsInFigure(h.At));
        hits.Sort((a, b) => a.At != b.At ? a.At.CompareTo(b.At) : a.Chord.CompareTo(b.Chord));
        for (var i = 0; i < hits.Count; i++)
        {
            var (at, step, loudness, index) = hits[i];
            if (!step.Sounds) continue;
            var notes = NotesOf(step, index);
            var end = EndOf(hits, i, notes);
            if (_figures.Count > 0) end = Math.Min(end, NextFigure(at));
            if (step.Stroke == Stroke.Muted) end = Math.Min(end, at + Striking.DampedLength);
            if (end - at > Hair)
                _strokes.Add(new PlayedStroke(at, end - at, step.Stroke == Stroke.Up,
                    Math.Min(1, Striking.Strength(step) * loudness), notes)
                {
                    IsDamped = step.Stroke == Stroke.Muted
                });
        }
    }

    /// <summary>Each change is heard when it comes, whatever the pattern does there; a picking hand picks its bass.</summary>
    private void AddUnheard(VersionChart version, List<Hit> hits)
    {
        var heard = new bool[_chords.Count];
        foreach (var hit in hits) heard[hit.Chord] |= hit.Step.Sounds && Math.Abs(hit.At - _chords[hit.Chord].At) < 1e-6;
        var bar = 0;
        for (var i = 0; i < _chords.Count; i++)
        {
            while (bar + 1 < _bars.Count && _bars[bar + 1].At <= _chords[i].At + Hair) bar++;
            if (heard[i]) continue;
            var section = _bars[bar].SectionIndex;
            hits.Add(new(_chords[i].At,
                version.Rung.Hand.In(section).IsPicked ? new HandStep(Stroke.Pick, false, "b") : HandStep.Down,
                LoudnessOf(version, section), i));
        }
    }

    /// <summary>A picked string rings on until it is struck again; a stroke, or a stop, ends what rang before it.</summary>
    private double EndOf(List<Hit> hits, int i, IReadOnlyList<int> notes)
    {
        var end = _chords[hits[i].Chord].At + _chords[hits[i].Chord].Length;
        for (var next = i + 1; next < hits.Count && next <= i + LongestRing && hits[next].At < end - Hair; next++)
        {
            var later = hits[next].Step;
            if (hits[i].Step.Stroke == Stroke.Pick && later.Stroke == Stroke.Pick
                && !NotesOf(later, hits[next].Chord).Intersect(notes).Any())
                continue;
            return hits[next].At;
        }
        return end;
    }

    private IReadOnlyList<int> NotesOf(HandStep step, int chord) =>
        Striking.Notes(step, _shapes[chord].Fingering.Shape, _shapes[chord].Raised, _strings);

    private static double LoudnessOf(VersionChart version, int section) =>
        version.Chart.Sections[section].Hand.Loudness switch { Loudness.Soft => SoftShare, Loudness.Loud => LoudShare, _ => 1 };

    private static IEnumerable<Hit> HitsOf(VersionChart version, PlayedBar bar)
    {
        var pattern = version.Rung.Hand.In(bar.SectionIndex);
        var (beat, loudness) = (Quarters(bar.Meter), LoudnessOf(version, bar.SectionIndex));
        // A pattern for another number of beats is begun anew when it runs out, and breaks off with the bar.
        var perBar = pattern.StepsPerBeat * pattern.Meter.Beats;
        var first = pattern.Bars == 2 && bar.BarIndex % 2 == 1 ? perBar : 0;
        for (var i = 0; ; i++)
        {
            var at = (i / perBar * pattern.Meter.Beats + pattern.At(i % perBar)) * beat;
            if (at >= bar.Length - Hair) yield break;
            var step = pattern.Steps[first + i % perBar];
            if (step.Sounds || step.Stroke == Stroke.Stop) yield return new(bar.At + at, step, loudness, 0);
        }
    }

    /// <summary>MIDI numbers of a shape's strings, the lowest string first.</summary>
    public static IReadOnlyList<int> Pitches(Fingering fingering, int raised, Tuning? strings = null) =>
        Pitches(fingering.Shape, raised, strings);

    /// <summary>The same for a shape nobody holds yet.</summary>
    public static IReadOnlyList<int> Pitches(Shape shape, int raised, Tuning? strings = null) =>
        [.. Enumerable.Range(0, shape.StringCount).Where(s => shape[s] >= 0)
            .Select(s => (strings ?? Tuning.Standard).Strings[s] + shape[s] + raised)];
}
