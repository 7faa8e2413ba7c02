using Tembri.Core.Fretboard;
using Tembri.Core.Playing;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Web.Sound;

/// <summary>A pattern of the right hand as something to hear over and over: on damped strings, on a chord, or on two that
/// change.</summary>
internal static class PatternScore
{
    private const int BarsAChord = 1;

    /// <summary>The score.</summary>
    /// <param name="pattern">The pattern.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="shapes">The shapes that take turns, bar by bar; one at least.</param>
    /// <param name="raised">Semitones they sound above standard tuning without capo.</param>
    /// <param name="strings">The open strings.</param>
    /// <param name="damped">True for every stroke on damped strings.</param>
    /// <param name="from">The first step that is played.</param>
    /// <param name="to">The step after the last; those outside are silent.</param>
    public static SoundScore Of(StrumPattern pattern, double tempo, IReadOnlyList<Shape> shapes, int raised, Tuning strings,
        bool damped, int from = 0, int to = int.MaxValue)
    {
        var beat = pattern.Meter.BeatInQuarters;
        // As many bars as bring both pattern and chords round.
        var bars = pattern.Bars == 1 ? Math.Max(2, shapes.Count * BarsAChord) : 2 * shapes.Count * BarsAChord;
        var barLength = pattern.Meter.Beats * beat;
        var perBar = pattern.StepsPerBeat * pattern.Meter.Beats;
        var hits = new List<(double At, HandStep Step, Shape Shape)>();
        for (var bar = 0; bar < bars; bar++)
            for (var i = 0; i < perBar; i++)
            {
                var step = bar % pattern.Bars * perBar + i;
                var played = pattern.Steps[step];
                if (step < from || step >= to || !played.Sounds && played.Stroke != Stroke.Stop) continue;
                hits.Add((bar * barLength + pattern.At(i) * beat, played, shapes[bar / BarsAChord % shapes.Count]));
            }
        var strokes = new List<SoundScore.StrokeItem>();
        for (var i = 0; i < hits.Count; i++)
        {
            var (at, step, shape) = hits[i];
            if (!step.Sounds) continue;
            var notes = Striking.Notes(step, shape, raised, strings);
            // A picked string rings until it is struck again or the hand strums, stops or changes.
            var next = hits.Skip(i + 1)
                .FirstOrDefault(h => step.Stroke != Stroke.Pick || h.Step.Stroke != Stroke.Pick || h.Shape != shape
                    || Striking.Notes(h.Step, h.Shape, raised, strings).Intersect(notes).Any());
            var isDamped = damped || step.Stroke == Stroke.Muted;
            var end = next.Shape is null ? bars * barLength : next.At;
            strokes.Add(new(Math.Round(at, 5), Math.Round(isDamped ? Math.Min(Striking.DampedLength, end - at) : end - at, 5),
                step.Stroke == Stroke.Up ? 1 : 0, Striking.Strength(step), notes, isDamped ? 1 : 0));
        }
        return new SoundScore(
            Math.Round(tempo * beat, 4), bars * barLength,
            [.. Enumerable.Range(0, bars).Select(b => new SoundScore.BarItem(0, b, b * barLength, barLength, beat, 1))],
            new Dictionary<string, SoundScore.VersionItem> { ["record"] = new("the pattern", strokes, []) });
    }
}
