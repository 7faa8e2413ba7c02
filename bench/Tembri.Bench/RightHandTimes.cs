using System.Diagnostics;
using System.Globalization;
using Tembri.Core.Figures;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Bench;

/// <summary>How long the reductions of patterns and the way of a figure take: every pattern that ships, random ones of two bars,
/// a figure of sixty-four notes.</summary>
internal static class RightHandTimes
{
    private const int Rounds = 200;

    public static int Run()
    {
        var random = new Random(5);
        var shipped = ShippedStrum.All.Select(s => s.In(Meter.TryParse(s.Meter, out var meter) ? meter : Meter.Common)).ToList();
        var long64 = Enumerable.Range(0, Rounds)
            .Select(_ => StrumPattern.Parse(
                new string([.. Enumerable.Range(0, 32).Select(i => i == 0 ? 'D' : "DddUuu--x."[random.Next(10)])]),
                Meter.Common)).ToList();
        var picked = Enumerable.Range(0, Rounds)
            .Select(_ => StrumPattern.Parse(
                new string([.. Enumerable.Range(0, 32).Select(i => i % 8 == 0 ? 'b' : "1233a-."[random.Next(7)])]),
                Meter.Common)).ToList();
        Time("five rungs of a pattern that ships", i => StrumLadder.Of(shipped[i % shipped.Count]));
        Time("five rungs of 32 random steps, two bars", i => StrumLadder.Of(long64[i]));
        Time("five rungs of 32 picked steps, two bars", i => StrumLadder.Of(picked[i]));
        var finder = new FigurePathFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium);
        var figures = Enumerable.Range(0, Rounds)
            .Select(_ => Enumerable.Range(0, 64)
                .Select(i => new FigureNote(FigureLine.PitchOf(random.Next(40, 80)), i * 0.25, 0.25)).ToArray()).ToList();
        Time("the way of 64 notes", i => finder.Find(new FigureTask(figures[i], 100))!);
        Time("the way of 64 notes and other ways", i => finder.Others(new FigureTask(figures[i], 100)));
        return 0;
    }

    private static void Time(string what, Func<int, object> act)
    {
        for (var i = 0; i < 20; i++) act(i);
        var times = new List<double>();
        for (var round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            act(round);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        times.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{what,-42} median {times[Rounds / 2]:0.00} ms, nine of ten within {times[Rounds * 9 / 10]:0.00}, most "
                + $"{times[^1]:0.00}"));
    }
}
