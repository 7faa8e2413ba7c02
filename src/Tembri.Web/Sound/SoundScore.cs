using Tembri.Core.Charts;
using Tembri.Core.Classes;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;

namespace Tembri.Web.Sound;

/// <summary>What the browser needs to play a song: the bars, and for the record and for a rung the strokes with their pitches.
/// Times in quarter notes.</summary>
/// <param name="Tempo">Quarter notes a minute.</param>
/// <param name="Length">Length of the song.</param>
/// <param name="Bars">The bars as they are played.</param>
/// <param name="Versions">The versions, by name: <c>record</c> and <c>rung</c>.</param>
internal sealed record SoundScore(double Tempo, double Length, IReadOnlyList<SoundScore.BarItem> Bars,
    IReadOnlyDictionary<string, SoundScore.VersionItem> Versions)
{
    /// <summary>A bar: which section and bar of the chart, where, how long, its beats, and its pace.</summary>
    public sealed record BarItem(int Section, int Bar, double At, double Length, double Beat, double Pace);

    /// <summary>Strokes as time, length, 1 for up, strength, pitches, 1 for damped; chords as time, length and name.</summary>
    public sealed record VersionItem(string Title, IReadOnlyList<StrokeItem> Strokes, IReadOnlyList<ChordItem> Chords);

    public sealed record StrokeItem(double At, double Length, int Up, double Strength, IReadOnlyList<int> Notes, int Damped);

    public sealed record ChordItem(double At, double Length, string Name, string Shape);

    /// <summary>The score of a ladder's record and of one rung. The record plays its own shapes, where the ladder
    /// plays.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="rung">The rung.</param>
    /// <param name="against">Another rung to be heard in place of the record; null for the record.</param>
    public static SoundScore Of(Ladder ladder, PlayableRung rung, PlayableRung? against = null)
    {
        var record = new Performance(new VersionChart(ladder, against ?? ladder.Rungs[^1] as PlayableRung ?? rung));
        var version = new Performance(new VersionChart(ladder, rung));
        return new SoundScore(
            Math.Round(record.QuarterTempo, 4), record.Length,
            [.. record.Bars.Select(b =>
                new BarItem(b.SectionIndex, b.BarIndex, Round(b.At), Round(b.Length), Performance.Quarters(b.Meter), b.Pace))],
            new Dictionary<string, VersionItem>
            {
                ["record"] = Item(against is null ? "the record" : $"rung {against.Limits.Label}", record),
                ["rung"] = Item($"rung {rung.Limits.Label}", version)
            });
    }

    /// <summary>The record against everybody of a class together, as the class sheet advises them; each comes in a hair after
    /// the other, as people do.</summary>
    /// <param name="record">The song as recorded, in the key and at the tempo of the class.</param>
    /// <param name="sheet">The class.</param>
    public static SoundScore Of(Ladder record, ClassSheet sheet)
    {
        var alone = Of(record, record.Playable.Last());
        var strokes = new List<StrokeItem>();
        VersionItem? last = null;
        for (var i = 0; i < sheet.Parts.Count; i++)
        {
            var part = sheet.Parts[i];
            var performance = new Performance(new VersionChart(part.Ladder, part.Eased));
            var rests = part.Sections.Where(s => s.Does == SectionPart.Rests).Select(s => s.Section).ToHashSet();
            var silent = performance.Bars.Where(b => rests.Contains(b.SectionIndex)).ToList();
            last = Item("the class", performance);
            var late = i * Apart * sheet.Tempo / 60;
            strokes.AddRange(last.Strokes.Where(s => !silent.Exists(b => s.At >= b.At - 1e-4 && s.At < b.At + b.Length - 1e-4))
                .Select(s =>
                    s with { At = Round(s.At + late), Strength = Math.Round(s.Strength / Math.Sqrt(sheet.Parts.Count), 4) }));
        }
        return alone with { Versions = new Dictionary<string, VersionItem>
        {
            ["record"] = alone.Versions["record"], ["rung"] = last! with { Strokes = [.. strokes.OrderBy(s => s.At)] }
        } };
    }

    private const double Apart = 0.012;   // s between one player and the next

    private static VersionItem Item(string title, Performance performance) => new(
        title,
        [.. performance.Strokes.Select(s =>
            new StrokeItem(Round(s.At), Round(s.Length), s.Up ? 1 : 0, Math.Round(s.Strength, 4), s.Notes, s.IsDamped ? 1 : 0))],
        [.. performance.Chords.Select(c => new ChordItem(Round(c.At), Round(c.Length), c.Name, c.ShapeName))]);

    private static double Round(double quarters) => Math.Round(quarters, 5);
}
