using System.Globalization;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;

namespace Tembri.Bench;

/// <summary>How far the shapes that are chosen depend on the pace of changes: the share that differs between paces so many steps
/// apart, at one place and over all.</summary>
internal static class PaceCheck
{
    public static int Run(IReadOnlyList<string> files)
    {
        var builder = new LadderBuilder(new ResultCache());
        var charts = files.Select(f => ChartReader.Read(File.ReadAllText(f)).Chart).ToList();
        int[] from = [10, 20, 28, 36, 44, 52, 60, 70];
        Console.WriteLine(
            "| points of skill apart | shapes that differ, at the same capo | ladders with another capo |\n|---|---|---|");
        foreach (var apart in new[] { 1, 2, 3, 5, 8, 10 })
        {
            int shapes = 0, differ = 0, ladders = 0, moved = 0;
            foreach (var chart in charts)
                foreach (var skill in from)
                {
                    Ladder At(int points, int? capo = null) =>
                        builder.Build(new ArrangementRequest
                        {
                            Chart = chart, Kind = PlayerKind.Usual with { Pace = ChangePace.Of(points) }, Capo = capo
                        });
                    var (a, b) = (At(skill), At(skill + apart));
                    ladders++;
                    if (a.Capo != b.Capo) { moved++; b = At(skill + apart, a.Capo); }
                    foreach (var (x, y) in a.Rungs.Zip(b.Rungs))
                    {
                        if (x is not PlayableRung p || y is not PlayableRung q) continue;
                        for (var i = 0; i < a.Flow.Chords.Count; i++)
                        {
                            if (p.Chords[i] is LeftOutChord || q.Chords[i] is LeftOutChord) continue;
                            shapes++;
                            if (!p.PlayedAs(i).Choice.SameAs(q.PlayedAs(i).Choice)) differ++;
                        }
                    }
                }
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"| {apart} | {100.0 * differ / shapes:0.0} % of {shapes} | {100.0 * moved / ladders:0.0} % of {ladders} |"));
        }
        return 0;
    }
}
