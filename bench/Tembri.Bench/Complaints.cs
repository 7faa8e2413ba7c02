using System.Globalization;
using System.Text.Json;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Substitutions;

namespace Tembri.Bench;

/// <summary>Builds many ladders and counts what a teacher would not accept, by kind.</summary>
internal static class Complaints
{
    private static readonly Dictionary<string, int> FullStrings = new() { ["C"] = 5, ["G"] = 5, ["D"] = 4, ["A"] = 5, ["E"] = 6, ["Am"] = 5, ["Em"] = 6, ["Dm"] = 4 };

    private sealed class Tally
    {
        private readonly SortedDictionary<string, (int Bad, int All, List<string> Examples)> _counts = new(StringComparer.Ordinal);

        public void Count(string kind, bool bad, Func<string> example)
        {
            lock (_counts)
            {
                var (b, all, examples) = _counts.TryGetValue(kind, out var known) ? known : (0, 0, []);
                if (bad && (examples.Count < 400)) examples.Add(example());
                _counts[kind] = (b + (bad ? 1 : 0), all + 1, examples);
            }
        }

        public void Print(string? only)
        {
            foreach (var (kind, (bad, all, examples)) in _counts)
            {
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{bad,6} of {all,6}  {kind}"));
                if (only is not null && kind.Contains(only, StringComparison.OrdinalIgnoreCase)) foreach (var e in examples.GroupBy(e => e).OrderByDescending(g => g.Count()).Take(60)) Console.WriteLine($"           {e.Count(),4} × {e.Key}");
            }
        }
    }

    public static int Run(string folder, string? only)
    {
        var players = FitCheck.Players(folder);
        var charts = File.ReadLines(Path.Combine(WeightFit.Repository(), "bench", "Tembri.Bench", "progressions.txt")).Where(l => l.Length > 0 && l[0] != '#').SelectMany((line, i) =>
        {
            var cells = line.Split(' ', 4);
            var chart = ChartReader.Read($"key: {cells[0]}\ntempo: {cells[1]}\nmeter: {cells[2]}\n{cells[3]}").Chart;
            return new[] { 0, 2 + i % 3, 6 + i % 2, 9 + i % 3 }.Select(up => up == 0 ? chart : ChartTransposer.Move(chart, chart.Key.Transpose(up), up));
        }).ToList();
        var cache = new ResultCache(400_000_000);
        var builder = new LadderBuilder(cache);
        var tally = new Tally();
        // One pair of players a chart, so that everybody meets every kind of song.
        Parallel.ForEach(charts.SelectMany((c, i) => new[] { i % players.Count, (i + 3) % players.Count }.Select(p => (Chart: c, Player: players[p]))), job =>
        {
            var ladder = builder.Build(new ArrangementRequest { Chart = job.Chart, Kind = job.Player.Kind });
            Judge(new StudentLadder(ladder, job.Player), job.Player, tally);
        });
        tally.Print(only);
        return 0;
    }

    private static string Name(Ladder l) => $"{l.Chart.Key} capo {l.Capo} ({string.Join(" ", l.Flow.Chords.Take(6))})";

    private static void Judge(StudentLadder graded, Player player, Tally tally)
    {
        var ladder = graded.Ladder;
        var tonic = ladder.ShapeKey.Tonic.PitchClass;
        PlayableRung? below = null;
        foreach (var rung in ladder.Rungs)
        {
            tally.Count($"blocked rung {rung.Number}", rung is BlockedRung, () => rung is BlockedRung b ? $"{b.ShapeChord}" : "");
            if (rung is not PlayableRung r || graded.FitOf(r) is not { } fit) continue;
            foreach (var c in r.Played)
            {
                var (name, shape, played) = (c.ShapeChord.Name, c.Choice.Fingering.Shape, c.Choice.Played);
                string Say() => $"{name} {c.Choice.Fingering} as {played} rung {r.Number}";
                if (!c.IsSecond && c.ShapeChord.Root.PitchClass == tonic && c.ShapeChord.Has(4) && c.ShapeChord.Degrees.Count == 3) tally.Count("tonic as a seventh", (shape.PitchClassMask(Tuning.Standard) & 1 << (tonic + 10) % 12) != 0, Say);
                if (r.Number <= 3) tally.Count("above fret 5 on rungs 1 to 3", shape.HighestStopped > 5, Say);
                if (r.Number == 1) tally.Count("no root on rung 1", (shape.PitchClassMask(Tuning.Standard) & 1 << c.ShapeChord.Root.PitchClass) == 0, Say);
                if (r.Number == 1 && name == "D") tally.Count("D as D6", played.Name == "D6", Say);
                if (c.ShapeChord.Bass is not null && r.Number is 3 or 4) tally.Count("slash bass missing on rungs 3 and 4", c.ShapeChord.Bass is not null && c.Choice.Closeness.WrongBass, Say);
                if (r.Number is 3 or 4 && FullStrings.TryGetValue(name, out var full)) tally.Count($"core chord thin on rung {r.Number}", shape.Sounding < full, Say);
                if (r.Number == 2 && FullStrings.TryGetValue(name, out full)) tally.Count("core chord thin on rung 2", shape.Sounding < full && c.ShapeChord.Name is not "G", Say);
                if (c.Choice.Fingering.LongestBarre > 3) tally.Count("lifted or silent inside a full barre", c.Choice.Origin is not { Source: ShapeSource.Library } && (shape.InteriorMutes > 0 || c.Choice.Origin is { Lifted: >= 0 } || shape.HasOpenString), Say);
                if (c.IsSecond) tally.Count("second shape beyond the rung's limits", !r.Limits.IsRecord && r.Limits.Objection(c.Choice) is not null, Say);
                if (c.IsNew && below is not null) tally.Count("new though met on the rung below", below.Played.Any(b => b.Choice.SameAs(c.Choice)), Say);
                if (below is not null && !c.IsSecond && !below.Chords[c.Index].IsLeftOut)
                {
                    var was = below.Chords[c.Index].Choice;
                    tally.Count("other fingers than on the rung below", was.Fingering.Shape.Equals(shape) && !was.SameAs(c.Choice), () => $"{was.Fingering} {Say()}");
                    tally.Count("less close than on the rung below", c.Choice.Closeness.Value < was.Closeness.Value - 1e-9, () => $"{Name(ladder)}: {was.Fingering} {Say()}");
                }
                if (!c.IsSecond) tally.Count("other fingers as the usual shape", c.Choice.Kind == SubstitutionKind.OtherFingering, Say);
                if (!c.IsSecond) tally.Count("usual shape is never played", r.Flow.Beats[c.Index] <= 0, Say);
                foreach (var n in new[] { c.ShapeChord, c.Sounding, played }.SelectMany(x => new[] { x.Root.ToString(), x.Bass?.ToString() ?? "" })) tally.Count("odd name", n is "B♯" or "E♯" or "C♭" or "F♭" || n.Contains("♯♯", StringComparison.Ordinal) || n.Contains("♭♭", StringComparison.Ordinal), () => $"{ladder.Chart.Key} {c.Sounding} {name} {played}");
            }
            foreach (var change in r.Changes)
            {
                var (from, to) = (r.Chords[change.From], r.Chords[change.To]);
                var same = from.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard) == to.Choice.Fingering.Shape.PitchClassMask(Tuning.Standard);
                if (from.ShapeChord.PitchClassMask != to.ShapeChord.PitchClassMask) tally.Count($"unheard change on rung {r.Number}", same, () => $"{from.ShapeChord} {from.Choice.Fingering.Shape} to {to.ShapeChord} {to.Choice.Fingering.Shape}");
            }
            tally.Count("ready without a tempo", fit.Verdict == Verdict.Ready && fit.ComfortableTempo is null, () => Name(ladder));
            if (fit.Verdict == Verdict.Ready) tally.Count("ready with a chord seldom clean", r.Played.Any(c => FitModel.Clean(c.Choice.Fingering, player.Skills) < 2.0 / 3 && r.Flow.Beats[c.Index] > 0), () => $"{Name(ladder)} rung {r.Number}");
            if (player.Barres == BarreGoal.Avoid && graded.WorkingRung == r.Number) tally.Count("full barre for who avoids them", r.Played.Any(c => c.Choice.Fingering.LongestBarre > 3), () => $"{Name(ladder)} rung {r.Number} {string.Join(" ", r.Played.Where(c => c.Choice.Fingering.LongestBarre > 3).Select(c => c.ShapeChord))}");
            below = r;
        }
    }
}
