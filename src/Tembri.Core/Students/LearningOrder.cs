using Tembri.Core.Ladders;

namespace Tembri.Core.Students;

/// <summary>A shape in the order in which it is learnt.</summary>
/// <param name="Chord">Index among the rung's chords.</param>
/// <param name="IsKnown">True when the student has it already.</param>
/// <param name="Clean">Chance that it sounds clean today, 0 to 1.</param>
/// <param name="Share">Share of the song's time it sounds, 0 to 1.</param>
/// <param name="JoinsWith">A chord learnt before, from or to which most changes go; null when there is none.</param>
public sealed record LearntShape(int Chord, bool IsKnown, double Clean, double Share, int? JoinsWith);

/// <summary>A change in the order in which it is practised.</summary>
/// <param name="Change">Index among the rung's changes.</param>
/// <param name="InTime">Chance that it is in time today, 0 to 1.</param>
/// <param name="LateInForm">Times it is expected to be late when the form is played once.</param>
public sealed record LearntChange(int Change, double InTime, double LateInForm);

/// <summary>A section in the order in which it is put together.</summary>
/// <param name="Section">Its place in the chart.</param>
/// <param name="Good">Share of its beats expected clean and in time today, 0 to 1.</param>
/// <param name="NewShapes">Shapes the student does not have that it is the first to need, as indices among the rung's
/// chords.</param>
/// <param name="Chords">All chords it plays, as indices among the rung's.</param>
public sealed record LearntSection(int Section, double Good, IReadOnlyList<int> NewShapes, IReadOnlyList<int> Chords);

/// <summary>In which order a version is learnt: shapes, changes, sections.</summary>
/// <remarks>
/// Shapes the student has come first. Each further one is the one that opens most of the song for the work it takes: its share
/// of the time and of the changes to what is learnt, over the chance
/// that it is not clean yet (Smith's rule for the least weighted waiting, taken anew after each shape since changes join two).
/// Changes come by how often they are expected late, sections by
/// how much of them goes well already.
/// </remarks>
public sealed record LearningOrder(IReadOnlyList<LearntShape> Shapes, IReadOnlyList<LearntChange> Changes,
    IReadOnlyList<LearntSection> Sections)
{
    /// <summary>From this chance on a shape counts as one the student has.</summary>
    public const double KnownFrom = 0.85;

    private const double InTimeFrom = 0.9;
    private const double LeastWork = 0.05;   // a shape that is nearly clean still has to be met

    /// <summary>Works the order out.</summary>
    /// <param name="rung">The version.</param>
    /// <param name="fit">How it fits the student.</param>
    public static LearningOrder Of(PlayableRung rung, VersionFit fit)
    {
        var (flow, total) = (rung.Flow, Math.Max(1e-9, rung.Flow.TotalBeats));
        var all = Math.Max(1, rung.Changes.Sum(c => c.Count));
        double Joins(int a, int b) =>
            rung.Changes.Where(c => c.From == a && c.To == b || c.From == b && c.To == a).Sum(c => c.Count) / (double)all;
        // A shape that plays two chords is learnt once.
        var waiting = rung.Played.Where(c => flow.Beats[c.Index] > 0).Select(c => c.Index).ToList();
        var learnt = new List<LearntShape>();
        void Learn(int chord)
        {
            waiting.Remove(chord);
            int? joins = learnt.Where(l => Joins(l.Chord, chord) > 0).OrderByDescending(l => Joins(l.Chord, chord))
                .ThenBy(l => l.Chord).Select(l => (int?)l.Chord).FirstOrDefault();
            learnt.Add(
                new LearntShape(chord, fit.Clean[chord] >= KnownFrom, fit.Clean[chord], flow.Beats[chord] / total, joins));
        }
        foreach (var known in waiting.Where(c => fit.Clean[c] >= KnownFrom).OrderByDescending(c => flow.Beats[c]).ThenBy(c => c)
            .ToList())
            Learn(known);
        while (waiting.Count > 0)
        {
            double Opens(int chord) =>
                (flow.Beats[chord] / total + learnt.Sum(l => Joins(l.Chord, chord))) / (1 - fit.Clean[chord] + LeastWork);
            Learn(waiting.OrderByDescending(Opens).ThenBy(c => c).First());
        }
        var changes = fit.Changes.Select((c, i) => new LearntChange(i, c.InTime, c.Count * (1 - c.InTime)))
            .Where(c => c.InTime < InTimeFrom && rung.Changes[c.Change].Change.Seconds > 0).OrderByDescending(c => c.LateInForm)
            .ThenBy(c => c.Change).ToList();
        return new LearningOrder(learnt, changes, SectionsOf(rung, fit));
    }

    private static List<LearntSection> SectionsOf(PlayableRung rung, VersionFit fit)
    {
        var chart = rung.Song.Chart;
        var inTime = rung.Changes.Select((c, i) => (c, i)).ToDictionary(x => (x.c.From, x.c.To), x => fit.Changes[x.i].InTime);
        var found = new Dictionary<int, (double Beats, double Good, SortedSet<int> Chords)>();
        var (played, before) = (0, -1);
        foreach (var (section, bar) in chart.PlayedPlaces())
        {
            var slots = chart.Sections[section].Bars[bar].Slots;
            for (var i = 0; i < slots.Count; i++)
            {
                if (rung.Flow.ChordAt(played, i) is not (>= 0 and var chord)) continue;
                var good = slots[i].Beats * fit.Clean[chord];
                // A late change costs about a stroke of what comes.
                if (before >= 0 && inTime.TryGetValue((before, chord), out var chance))
                    good -= fit.Clean[chord] * (1 - chance) * Math.Min(slots[i].Beats, rung.Hand.In(section).BeatsAStroke);
                var so = found.TryGetValue(section, out var known) ? known : (Beats: 0, Good: 0, Chords: []);
                so.Chords.Add(chord);
                found[section] = (so.Beats + slots[i].Beats, so.Good + good, so.Chords);
                before = chord;
            }
            played++;
        }
        var met = new HashSet<int>();
        return [.. found.Where(f => f.Value.Beats > 0).Select(f => (f.Key, Share: f.Value.Good / f.Value.Beats, f.Value.Chords))
            .OrderByDescending(f => f.Share).ThenBy(f => f.Key)
            .Select(f => new LearntSection(f.Key, Math.Clamp(f.Share, 0, 1),
                [.. f.Chords.Where(c => fit.Clean[c] < KnownFrom && met.Add(c))], [.. f.Chords]))];
    }
}
