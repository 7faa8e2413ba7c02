using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <content>The outline of a rung.</content>
public sealed partial class VersionOutline
{
    /// <summary>Takes the outline of a rung.</summary>
    /// <param name="rung">A rung that can be played.</param>
    /// <param name="tempo">The song's tempo, beats a minute.</param>
    public static VersionOutline Of(PlayableRung rung, double tempo)
    {
        var spells = new int[rung.Chords.Count];
        foreach (var spell in rung.Flow.Sequence) spells[spell.Chord]++;
        var under = BeatsUnderFigures(rung);
        return new VersionOutline(
            tempo, OutlinedHand.Of(rung.Hand),
            [
                .. rung.Chords.Select((c, i) => c is PlayedChord { Choice.Fingering: var fingering }
                    ? new OutlinedChord(c.ShapeChord.Name, Math.Max(0, rung.Flow.Beats[i] - under[i]),
                        spells[i] == 0 ? 0 : rung.Flow.Beats[i] / spells[i], [.. FitModel.Demands(fingering)], fingering.Shape)
                    : new OutlinedChord(c.ShapeChord.Name, 0, 0, [])),
                // A riff is something to play like a chord, for as long as it lasts.
                .. rung.Figures.Where(f => f is { Played: not null, Times: > 0 }).Select(f => new OutlinedChord(
                    RungFigure.NameIn(rung.Song.Chart.Sections[f.Section].Name), f.Times * (f.Played!.To - f.Played.From),
                    f.Played.To - f.Played.From, [new Demand(Technique.Fingers, f.Load)])),
            ],
            [.. rung.Changes.Select(c => new OutlinedChange(c.From, c.To, c.Count, c.TimedSeconds ?? c.Change.Seconds,
                c.TimedSeconds is not null, c.FreeBeats))]);
    }

    /// <summary>Beats over the whole form in which a figure is played in a chord's place, by chord.</summary>
    private static double[] BeatsUnderFigures(PlayableRung rung)
    {
        var under = new double[rung.Chords.Count];
        var figures = rung.Figures.Where(f => f is { Played: not null, Times: > 0 }).ToLookup(f => f.Section, f => f.Played!);
        if (figures.Count == 0) return under;
        var (played, begun) = (0, 0.0);   // bars of the form, and beats since the section began
        foreach (var (section, bar) in rung.Song.Chart.PlayedPlaces())
        {
            var slots = rung.Song.Chart.Sections[section].Bars[bar].Slots;
            if (bar == 0) begun = 0;
            var at = begun;
            for (var i = 0; i < slots.Count; at += slots[i].Beats, i++)
            {
                if (rung.Flow.ChordAt(played, i) is not (>= 0 and var chord)) continue;
                foreach (var figure in figures[section])
                {
                    var from = BeatOf(rung.Song.Chart.Sections[section], figure.Bar) + figure.From;
                    under[chord] += Math.Max(0,
                        Math.Min(at + slots[i].Beats, from + figure.To - figure.From) - Math.Max(at, from));
                }
            }
            begun = at;
            played++;
        }
        return under;

        static double BeatOf(Charts.Section section, int bar) => section.Bars.Take(bar).Sum(b => b.Slots.Sum(s => s.Beats));
    }
}
