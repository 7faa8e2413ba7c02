using Tembri.Core.Charts;
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
public sealed record PlayedBar(string Section, int SectionIndex, int BarIndex, double At, double Length, Meter Meter, double Pace);

/// <summary>A chord as it is played.</summary>
/// <param name="Name">As it sounds.</param>
/// <param name="ShapeName">As the hand sees it.</param>
/// <param name="At">Quarter notes from the start of the song.</param>
/// <param name="Length">Length in quarter notes.</param>
/// <param name="Bass">MIDI number of its lowest sounding note.</param>
public sealed record PlayedChord(string Name, string ShapeName, double At, double Length, int Bass);

/// <summary>A stroke over the strings.</summary>
/// <param name="At">Quarter notes from the start of the song.</param>
/// <param name="Length">Quarter notes until the strings are struck again or let go.</param>
/// <param name="Up">True from the treble side.</param>
/// <param name="Strength">0 to 1.</param>
/// <param name="Notes">MIDI numbers in the order the stroke meets them.</param>
public sealed record PlayedStroke(double At, double Length, bool Up, double Strength, IReadOnlyList<int> Notes);

/// <summary>A version as it sounds: bars, chords and strokes on the true pitches of its shapes, in order of time.</summary>
public sealed class Performance
{
    private const int UpStrings = 4;         // an up-stroke meets the treble strings
    private const double Accent = 1.0;
    private const double Plain = 0.78;
    private const double Light = 0.62;
    private const double DampedLength = 0.12;   // quarter notes a damped stroke is heard
    private const int LongestRing = 256;     // strokes after which nobody hears a picked string any more
    private const double SlowPace = 0.85;
    private const double HeldPace = 0.5;
    private readonly List<PlayedBar> _bars = [];
    private readonly List<PlayedChord> _chords = [];
    private readonly List<PlayedStroke> _strokes = [];

    /// <summary>Plays a version.</summary>
    /// <param name="version">The version.</param>
    public Performance(VersionChart version)
    {
        var chart = version.Chart;
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
        AddStrokes(version);
    }

    /// <summary>Quarter notes a minute.</summary>
    public double QuarterTempo { get; }

    /// <summary>Length in quarter notes.</summary>
    public double Length { get; }

    /// <summary>The bars.</summary>
    public IReadOnlyList<PlayedBar> Bars => _bars;

    /// <summary>The chords; silence lies between them where the song has it.</summary>
    public IReadOnlyList<PlayedChord> Chords => _chords;

    /// <summary>The strokes.</summary>
    public IReadOnlyList<PlayedStroke> Strokes => _strokes;

    /// <summary>Quarter notes a beat of a meter lasts.</summary>
    public static double Quarters(Meter meter) => meter.BeatInQuarters;

    private readonly List<(Fingering Fingering, int Raised)> _shapes = [];

    private void AddBar(Section section, int sectionIndex, int barIndex, Bar bar, double at, double beat)
    {
        var pace = bar.Remarks.Contains(Bar.Hold) || bar.Remarks.Contains(Bar.Pause) ? HeldPace : bar.Remarks.Contains(Bar.Slow) ? SlowPace : 1;
        _bars.Add(new PlayedBar(section.Name, sectionIndex, barIndex, at, bar.Beats * beat, bar.Meter, pace));
    }

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
                    start -= Math.Min(beat / bar.Meter.Division, silence > 1e-9 ? silence : before.Length / 2);
                    if (silence <= 1e-9) _chords[^1] = before with { Length = start - before.At };
                }
                var raised = version.RaisedIn(section);
                _chords.Add(new PlayedChord(version.Sounding(chord, section).Name, chord.Name, start, at + length - start, Pitches(fingering, raised).Min()));
                _shapes.Add((fingering, raised));
            }
            at += length;
        }
    }

    /// <summary>A chord that goes on into the next bar is one chord.</summary>
    private void JoinRepeats()
    {
        var kept = 0;
        for (var i = 0; i < _chords.Count; i++)
        {
            var here = _chords[i];
            var goesOn = kept > 0 && _chords[kept - 1] is var before && before.Name == here.Name && _shapes[kept - 1].Fingering.SameAs(_shapes[i].Fingering) && Math.Abs(before.At + before.Length - here.At) <= 1e-9;
            if (goesOn) _chords[kept - 1] = _chords[kept - 1] with { Length = _chords[kept - 1].Length + here.Length };
            else (_chords[kept], _shapes[kept++]) = (here, _shapes[i]);
        }
        _chords.RemoveRange(kept, _chords.Count - kept);
        _shapes.RemoveRange(kept, _shapes.Count - kept);
    }

    /// <summary>A moment the hand strikes: a stroke, or strings picked.</summary>
    private readonly record struct Hit(double At, Stroke Stroke, string Picks, int Chord);

    private void AddStrokes(VersionChart version)
    {
        var chord = 0;
        var hits = new List<Hit>();
        foreach (var bar in _bars)
        {
            foreach (var hit in HitsOf(version, version.Chart.Sections[bar.SectionIndex], bar))
            {
                while (chord < _chords.Count && _chords[chord].At + _chords[chord].Length <= hit.At + 1e-9) chord++;
                if (chord < _chords.Count && _chords[chord].At <= hit.At + 1e-9) hits.Add(hit with { Chord = chord });
            }
        }
        // Each change is heard when it comes, whatever the pattern does there.
        var heard = new bool[_chords.Count];
        foreach (var hit in hits) heard[hit.Chord] |= Math.Abs(hit.At - _chords[hit.Chord].At) < 1e-6;
        for (var i = 0; i < _chords.Count; i++) if (!heard[i]) hits.Add(new(_chords[i].At, Stroke.Down, "", i));
        hits.Sort((a, b) => a.At != b.At ? a.At.CompareTo(b.At) : a.Chord.CompareTo(b.Chord));
        for (var i = 0; i < hits.Count; i++)
        {
            var (at, stroke, picks, index) = hits[i];
            var end = _chords[index].At + _chords[index].Length;
            var pitches = Pitches(_shapes[index].Fingering, _shapes[index].Raised);
            var notes = NotesOf(stroke, picks, index, pitches);
            // A picked string rings on until it is struck again; a stroke ends what rang before it.
            for (var next = i + 1; next < hits.Count && next <= i + LongestRing && hits[next].At < end - 1e-9; next++)
            {
                if (picks.Length > 0 && hits[next].Picks.Length > 0 && !NotesOf(hits[next].Stroke, hits[next].Picks, hits[next].Chord, pitches).Intersect(notes).Any()) continue;
                end = hits[next].At;
                break;
            }
            if (stroke == Stroke.Muted) end = Math.Min(end, at + DampedLength);
            if (end - at > 1e-9) _strokes.Add(new PlayedStroke(at, end - at, stroke == Stroke.Up, Strength(stroke, picks), notes));
        }
    }

    private IReadOnlyList<int> NotesOf(Stroke stroke, string picks, int chord, IReadOnlyList<int> pitches)
    {
        if (picks.Length == 0) return stroke == Stroke.Up ? [.. pitches.Reverse().Take(UpStrings)] : pitches;
        var (fingering, raised) = _shapes[chord];
        var frets = fingering.Shape.Frets;
        return [.. HandSteps.Strings(picks, frets).Select(s => Tuning.Standard.Strings[s] + frets[s] + raised)];
    }

    private static double Strength(Stroke stroke, string picks) => stroke switch
    {
        _ when picks.Length > 0 => picks.AsSpan().IndexOfAny('b', 'a') >= 0 ? Accent : Plain,
        Stroke.DownAccent => Accent,
        Stroke.Up or Stroke.Muted => Light,
        _ => Plain,
    };

    private static IEnumerable<Hit> HitsOf(VersionChart version, Section section, PlayedBar bar)
    {
        var own = version.Rung.Limits.IsRecord && HandSteps.Read(section.Strum) is { } read && read.Count % bar.Meter.Beats == 0 ? read : null;
        var usual = StrumPattern.For(bar.Meter.Beats, version.Rung.Limits.StrumRung, bar.Meter.IsCompound);
        // A pattern for another number of beats is begun anew when it runs out, and breaks off with the bar.
        var pattern = own ?? HandSteps.Read(usual.Steps)!;
        var step = Quarters(bar.Meter) / (own is not null ? own.Count / bar.Meter.Beats : usual.StepsPerBeat);
        for (var i = 0; i * step < bar.Length - 1e-9; i++)
        {
            var (stroke, picks) = pattern[i % pattern.Count];
            if (picks.Length > 0 || stroke is not (Stroke.Miss or Stroke.Ring)) yield return new(bar.At + i * step, stroke, picks, 0);
        }
    }

    /// <summary>MIDI numbers of a shape's strings, the lowest string first.</summary>
    public static IReadOnlyList<int> Pitches(Fingering fingering, int raised) => Pitches(fingering.Shape, raised);

    /// <summary>The same for a shape nobody holds yet.</summary>
    public static IReadOnlyList<int> Pitches(Shape shape, int raised) =>
        [.. Enumerable.Range(0, shape.StringCount).Where(s => shape[s] >= 0).Select(s => Tuning.Standard.Strings[s] + shape[s] + raised)];
}
