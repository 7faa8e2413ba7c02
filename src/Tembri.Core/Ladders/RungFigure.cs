using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Shapes;

namespace Tembri.Core.Ladders;

/// <summary>A figure as a rung plays it.</summary>
/// <param name="Section">Its section, by its place in the chart.</param>
/// <param name="Number">Which of the section's figures, from 0.</param>
/// <param name="Played">Its notes at the pitch of the shapes, with string and fret; null where the rung leaves it out.</param>
/// <param name="Path">The way over the neck; null where it is left out.</param>
/// <param name="Times">How often the form plays it.</param>
/// <param name="Load">How heavy it is at the song's tempo, 0 to 100; 0 where it is left out.</param>
public sealed record RungFigure(int Section, int Number, Figure? Played, FigurePath? Path, int Times, double Load)
{
    /// <summary>Octaves it is played higher than on the record, because it lies off the neck here; below 0 for lower.</summary>
    public int Octaves { get; init; }

    /// <summary>Its name where it stands among chords.</summary>
    public static string NameIn(string section) => $"figure of {section}";

    /// <summary>The figures of a song on one rung.</summary>
    /// <param name="chart">The song, in the key it sounds in.</param>
    /// <param name="limits">The rung.</param>
    /// <param name="kind">Hand and guitar, tuned as it is played.</param>
    /// <param name="capo">The capo's fret.</param>
    /// <param name="shapeKey">The key of the shapes.</param>
    /// <param name="held">The fingering around a place of the chart, by section and bar; null where there is none.</param>
    /// <param name="cancel">Ends the work.</param>
    public static IReadOnlyList<RungFigure> Of(Chart chart, RungLimits limits, PlayerKind kind, int capo, Key shapeKey,
        Func<int, int, Fingering?> held, CancellationToken cancel = default)
    {
        if (chart.Sections.All(s => s.Figures.Count == 0)) return [];
        var finder = new FigurePathFinder(new NeckGeometry(kind.Guitar, capo), kind.Hand);
        var raised = capo + chart.TuningShift;
        // Strings and frets were written where the record is played.
        var isRecordsPlace = capo == chart.RecordCapo;
        var times = chart.PlayedPlaces().Where(p => p.Bar == 0).GroupBy(p => p.Section).ToDictionary(g => g.Key, g => g.Count());
        var found = new List<RungFigure>();
        for (var s = 0; s < chart.Sections.Count; s++)
            for (var f = 0; f < chart.Sections[s].Figures.Count; f++)
                found.Add(OfOne(s, f, AtPlace(chart.Sections[s].Figures[f]), times.GetValueOrDefault(s)));
        return found;

        // A position stays where it is on the neck, whichever fret it is from this capo.
        Figure AtPlace(Figure recorded) =>
            recorded.Moved(p => p.Move(chart.Key.FifthsTo(shapeKey), -raised), isRecordsPlace)
                with { Position = recorded.Position + chart.RecordCapo - capo is >= 1 and var here ? here : null };

        RungFigure OfOne(int section, int number, Figure recorded, int played)
        {
            var division = chart.Sections[section].UsualMeter.Division;
            RungFigure? above = null;
            // Off the neck it is played an octave away, as everybody does.
            var octaves = new[] { 0, 1, -1 }.FirstOrDefault(o => WayOf(AtOctave(recorded, o), section) is not null, 0);
            recorded = AtOctave(recorded, octaves);
            for (var rung = FigureRungs.Top; rung >= RungOf(limits); rung--)
            {
                cancel.ThrowIfCancellationRequested();
                if (FigureRungs.Of(recorded, rung, division) is not { } simpler)
                    return new RungFigure(section, number, null, null, played, 0);
                if (WayOf(simpler, section) is not { } path) return new RungFigure(section, number, null, null, played, 0);
                var placed = simpler with { Notes = [.. simpler.Notes.Select(
                    (n, i) => n with { Where = new StringFret(path.Places[i].String, path.Places[i].Fret) })] };
                // With notes left out it is never heavier: the way of the whole would do.
                above = new RungFigure(section, number, placed, path, played, Math.Min(path.Load, above?.Load ?? 100))
                {
                    Octaves = octaves
                };
            }
            return above!;
        }

        // What cannot be played as it was written is played where it can.
        FigurePath? WayOf(Figure figure, int section)
        {
            var task = new FigureTask(figure.Notes, chart.Tempo, figure.Position, held(section, figure.Bar));
            return finder.Find(task)
                ?? finder.Find(task with { Position = null, Places = false,
                    Notes = [.. figure.Notes.Select(n => n.How == Ornament.Held ? n : n with { How = Ornament.None })] });
        }
    }

    private static Figure AtOctave(Figure figure, int octaves) =>
        octaves == 0 ? figure : figure.Moved(p => p with { Octave = p.Octave + octaves });

    /// <summary>The rung of figures that a rung of the ladder plays.</summary>
    public static int RungOf(RungLimits limits) =>
        limits.IsRecord ? FigureRungs.Top : Math.Clamp((int)limits.Height, 1, FigureRungs.Top);
}
