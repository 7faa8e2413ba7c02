using System.Diagnostics;
using Tembri.Core.Arranging;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>Times the parts a ladder is made of against their targets.</summary>
internal static class CoreTimes
{
    public static int Run()
    {
        var shapes = GripLibrary.All.Where(g => g.Movable).SelectMany(g => Enumerable.Range(0, 8).Select(k => g.Shape.Move(k))).Concat(GripLibrary.All.Select(g => g.Shape)).ToList();
        while (shapes.Count < 2_000) shapes.AddRange(shapes.Take(2_000 - shapes.Count).ToList());
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true);
        Console.WriteLine($"fingerings ranked for 2,000 shapes, top 5: {Median(() => { foreach (var s in shapes) finder.Find(s); }):0.0} ms; top 1: {Median(() => { foreach (var s in shapes) finder.Find(s, 1); }):0.0} ms");
        string[] kinds = ["", "m", "7", "m7", "maj7", "sus4", "add9", "dim7", "9", "m7b5", "6", "7b9"];
        var chords = kinds.SelectMany(k => new[] { "C", "Db", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B" }.Select(r => Chord.Parse(r + k))).ToList();
        // A capo and hand nobody used yet make each chord cold; the runtime is warm by then.
        var times = new List<double>();
        foreach (var (capo, measure) in new[] { (7, false), (8, false), (9, true) })
        {
            var book = FingeringBook.For(Guitar.Steel, Hand.Preset("large"), true, capo);
            foreach (var chord in chords)
            {
                var respelt = new Chord(chord.Root, chord.Kind + (measure ? " " : capo.ToString(System.Globalization.CultureInfo.InvariantCulture)), chord.Degrees); // a name nobody asked for
                var clock = Stopwatch.StartNew();
                CandidateFinder.For(respelt, book, Company.Record);
                if (measure) times.Add(clock.Elapsed.TotalMilliseconds);
            }
        }
        Console.WriteLine("slowest: " + string.Join(", ", times.Select((t, i) => (t, chords[i])).OrderByDescending(x => x.t).Take(6).Select(x => $"{x.Item2} {x.t:0.0}")));
        times.Sort();
        Console.WriteLine($"all candidates of one chord at one capo, cold: median {times[times.Count / 2]:0.00} ms, greatest {times[^1]:0.00} ms over {times.Count} chords");
        return 0;
    }

    private static double Median(Action action)
    {
        action();
        return Enumerable.Range(0, 9).Select(_ => { var clock = Stopwatch.StartNew(); action(); return clock.Elapsed.TotalMilliseconds; }).Order().ElementAt(4);
    }
}
