using Tembri.Core.Figures;
using Tembri.Core.Music;

namespace Tembri.Web.Sound;

/// <summary>A figure, or some notes of it, as something to hear over and over.</summary>
internal static class FigureScore
{
    private const double Slurred = 0.6, Picked = 0.9;

    /// <summary>The score.</summary>
    /// <param name="figure">The figure, at the pitch of the shapes.</param>
    /// <param name="meter">The meter of its bars.</param>
    /// <param name="tempo">Beats a minute.</param>
    /// <param name="raised">Semitones it sounds above that.</param>
    /// <param name="from">The first note that is played.</param>
    /// <param name="to">The note after the last.</param>
    public static SoundScore Of(Figure figure, Meter meter, double tempo, int raised, int from = 0, int to = int.MaxValue)
    {
        var beat = meter.BeatInQuarters;
        var notes = figure.Notes.Skip(from).Take(to - from).ToList();
        var start = notes.Count == 0 ? 0 : Math.Floor(notes[0].At + 1e-9);
        var end = notes.Count == 0 ? meter.Beats : notes[^1].At + notes[^1].Beats;
        // Rounds begin on a beat, with one of rest between them.
        var length = Math.Max(1, Math.Ceiling(end - start - 1e-9) + 1) * beat;
        var strokes = notes.Select((n, i) => (n, i)).Where(x => x.n.How != Ornament.Held).Select(x =>
        {
            var until = x.n.At + x.n.Beats;
            for (var held = x.i + 1; held < notes.Count && notes[held].How == Ornament.Held; held++)
                until = notes[held].At + notes[held].Beats;
            return new SoundScore.StrokeItem(Math.Round((x.n.At - start) * beat, 5), Math.Round((until - x.n.At) * beat, 5), 0,
                x.n.How is Ornament.Hammer or Ornament.Pull ? Slurred : Picked, [x.n.Pitch.Midi + raised], 0);
        }).ToList();
        return new SoundScore(Math.Round(tempo * beat, 4), length, [new SoundScore.BarItem(0, 0, 0, length, beat, 1)],
            new Dictionary<string, SoundScore.VersionItem> { ["record"] = new("the figure", strokes, []) });
    }
}
