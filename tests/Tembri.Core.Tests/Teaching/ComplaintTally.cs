using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;

namespace Tembri.Core.Tests.Teaching;

/// <summary>Counts what a teacher would not accept of ladders, by kind, each with the number of places where it could have been.
/// Safe for several threads.</summary>
internal sealed class ComplaintTally
{
    private const int MostExamples = 400;
    private static readonly Dictionary<string, int> FullStrings =
        new() { ["C"] = 5, ["G"] = 5, ["D"] = 4, ["A"] = 5, ["E"] = 6, ["Am"] = 5, ["Em"] = 6, ["Dm"] = 4 };

    private readonly SortedDictionary<string, (int Bad, int All, List<string> Examples)> _counts = new(StringComparer.Ordinal);

    /// <summary>The kinds in order: complaints, places looked at, examples.</summary>
    public IReadOnlyDictionary<string, (int Bad, int All, List<string> Examples)> Counts => _counts;

    /// <summary>Progressions of our own, from the file that is kept beside the measurements.</summary>
    public static IEnumerable<Chart> Progressions(string repository) =>
        File.ReadLines(Path.Combine(repository, "bench", "Tembri.Bench", "progressions.txt"))
            .Where(l => l.Length > 0 && l[0] != '#').Select(line =>
        {
            var cells = line.Split(' ', 4);
            return ChartReader.Read($"key: {cells[0]}\ntempo: {cells[1]}\nmeter: {cells[2]}\n{cells[3]}").Chart;
        });

    private void Count(string kind, bool bad, Func<string> example)
    {
        lock (_counts)
        {
            var (b, all, examples) = _counts.TryGetValue(kind, out var known) ? known : (0, 0, []);
            if (bad && examples.Count < MostExamples) examples.Add(example());
            _counts[kind] = (b + (bad ? 1 : 0), all + 1, examples);
        }
    }

    private static string Name(Ladder l) => $"{l.Chart.Key} capo {l.Capo} ({string.Join(" ", l.Flow.Chords.Take(6))})";

    /// <summary>Goes through a ladder chord by chord.</summary>
    public void Judge(StudentLadder graded, Player player)
    {
        var ladder = graded.Ladder;
        var tonic = ladder.ShapeKey.Tonic.PitchClass;
        PlayableRung? below = null;
        foreach (var rung in ladder.Rungs)
        {
            Count($"blocked rung {rung.Number}", rung is BlockedRung, () => rung is BlockedRung b ? $"{b.ShapeChord}" : "");
            if (rung is not PlayableRung r || graded.FitOf(r) is not { } fit) continue;
            foreach (var c in r.Played)
            {
                var (name, shape, played) = (c.ShapeChord.Name, c.Choice.Fingering.Shape, c.Choice.Played);
                string Say() => $"{name} {c.Choice.Fingering} as {played} rung {r.Number}";
                if (!c.IsSecond && c.ShapeChord.Root.PitchClass == tonic && c.ShapeChord.Has(4)
                    && c.ShapeChord.Degrees.Count == 3)
                    Count("tonic as a seventh", (shape.PitchClassMask(Tuning.Standard) & 1 << (tonic + 10) % 12) != 0, Say);
                if (r.Number <= 3) Count("above fret 5 on rungs 1 to 3", shape.HighestStopped > 5, Say);
                if (r.Number == 1)
                    Count("no root on rung 1", (shape.PitchClassMask(Tuning.Standard) & 1 << c.ShapeChord.Root.PitchClass) == 0,
                        Say);
                if (r.Number == 1 && name == "D") Count("D as D6", played.Name == "D6", Say);
                if (c.ShapeChord.Bass is not null && r.Number is 3 or 4)
                    Count("slash bass missing on rungs 3 and 4", c.ShapeChord.Bass is not null && c.Choice.Closeness.WrongBass,
                        Say);
                if (r.Number is 3 or 4 && FullStrings.TryGetValue(name, out var full))
                    Count($"core chord thin on rung {r.Number}", shape.Sounding < full, Say);
                if (r.Number == 2 && FullStrings.TryGetValue(name, out full))
                    Count("core chord thin on rung 2", shape.Sounding < full && c.ShapeChord.Name is not "G", Say);
                if (c.Choice.Fingering.LongestBarre > 3)
                    Count("lifted or silent inside a full barre",
                        c.Choice.Origin is not { Source: ShapeSource.Library }
                            && (shape.InteriorMutes > 0 || c.Choice.Origin is { Lifted: >= 0 } || shape.HasOpenString), Say);
                if (c.IsSecond)
                    Count("second shape beyond the rung's limits",
                        !r.Limits.IsRecord && r.Limits.Objection(c.Choice) is not null, Say);
                if (c.IsNew && below is not null)
                    Count("new though met on the rung below", below.Played.Any(b => b.Choice.SameAs(c.Choice)), Say);
                if (!c.IsSecond && below?.Chords[c.Index] is PlayedChord { Choice: var was })
                {
                    // A barre that the rung below does not have is what the rung is for.
                    Count("other fingers than on the rung below", was.Fingering.Shape.Equals(shape) && !was.SameAs(c.Choice)
                            && c.Choice.Fingering.LongestBarre <= below.Limits.LongestBarre,
                        () => $"{was.Fingering} {Say()}");
                    Count("less close than on the rung below", c.Choice.Closeness.Value < was.Closeness.Value - 1e-9,
                        () => $"{Name(ladder)}: {was.Fingering} {Say()}");
                }
                if (!c.IsSecond)
                    Count("other fingers as the usual shape", c.Choice.Kind == SubstitutionKind.OtherFingering, Say);
                if (!c.IsSecond) Count("usual shape is never played", r.Flow.Beats[c.Index] <= 0, Say);
                foreach (var n in new[] { c.ShapeChord, c.Sounding, played }.SelectMany(
                    x => new[] { x.Root.ToString(), x.Bass?.ToString() ?? "" }))
                    Count("odd name",
                        n is "B♯" or "E♯" or "C♭" or "F♭" || n.Contains("♯♯", StringComparison.Ordinal)
                            || n.Contains("♭♭", StringComparison.Ordinal),
                        () => $"{ladder.Chart.Key} {c.Sounding} {name} {played}");
            }
            foreach (var change in r.Changes)
            {
                var (from, to) = (r.PlayedAs(change.From), r.PlayedAs(change.To));
                var same = from.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard)
                    == to.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard);
                if (from.ShapeChord.PitchClassMask != to.ShapeChord.PitchClassMask)
                    Count($"unheard change on rung {r.Number}", same,
                        () => $"{from.ShapeChord} {from.Choice.Fingering.Shape} to {to.ShapeChord} {to.Choice.Fingering.Shape}");
            }
            Count("ready without a tempo", fit.Verdict == Verdict.Ready && fit.ComfortableTempo is null, () => Name(ladder));
            if (fit.Verdict == Verdict.Ready)
                Count("ready with a chord seldom clean",
                    r.Played.Any(c => FitModel.Clean(c.Choice.Fingering, player.Skills) < 2.0 / 3 && r.Flow.Beats[c.Index] > 0),
                    () => $"{Name(ladder)} rung {r.Number}");
            if (player.Barres == BarreGoal.Avoid && graded.WorkingRung == r.Number)
                Count("full barre for who avoids them", r.Played.Any(c => c.Choice.Fingering.LongestBarre > 3),
                    () =>
                        $"{Name(ladder)} rung {r.Number} "
                            + $"{string.Join(" ", r.Played.Where(c => c.Choice.Fingering.LongestBarre > 3).Select(c => c.ShapeChord))}");
            below = r;
        }
    }
}
