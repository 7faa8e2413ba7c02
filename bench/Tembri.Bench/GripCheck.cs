using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>Holds the load model against the anchors and against the usual fingers of the library.</summary>
internal static class GripCheck
{
    public static readonly (string Shape, string Fingers, double Load)[] Anchors =
    [
        ("022000", "", 18), ("020100", "", 20), ("x02010", "", 20), ("x32000", "", 20), ("x20003", "", 24), ("x02220", "", 28),
        ("022100", "", 28), ("x02210", "", 28), ("xx0232", "", 30), ("xx0231", "", 33), ("xx3210", "", 33), ("320003", "", 33),
        ("x32010", "", 34), ("xx0233", "", 31), ("xx321x", "", 34), ("xxx222", "xxx111", 29), ("022033", "", 36),
        ("320033", "", 38),
        ("x32033", "", 38), ("x21202", "", 45), ("xx3211", "", 46), ("xx4432", "", 46), ("2x0232", "Tx0132", 52),
        ("x2444x", "", 52),
        ("244222", "", 65), ("x24432", "", 67), ("x13331", "", 72), ("133211", "", 74),
    ];

    public static int Run()
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true);
        foreach (var (shape, fingers, load) in Anchors)
        {
            var found =
                fingers.Length == 0 ? finder.Best(Shape.Parse(shape)) : finder.Weigh(Shape.Parse(shape), Fingers(fingers));
            Console.WriteLine($"{shape} want {load,3} have {found?.Load.Value,5:0.0} "
                + $"{(Math.Abs((found?.Load.Value ?? 0) - load) > 7 ? "<<<" : "   ")} {found}  "
                + $"{string.Join(" ", found?.Parts.Select(p => $"{p.Kind}:{p.Effort:0.0}") ?? [])}");
        }
        int first = 0, three = 0, all = 0;
        foreach (var grip in GripLibrary.All.SelectMany(
            g => g.Movable ? Enumerable.Range(0, 8).Select(k => g with { Shape = g.Shape.Move(k) }) : [g]))
        {
            var mask = grip.Shape.PitchClassMask(Tuning.Standard);
            if (!grip.Movable && (mask & ~grip.Chord.PitchClassMask) != 0)
                Console.WriteLine($"foreign tone in {grip.Chord} {grip.Shape}");
            if (!grip.Movable && grip.Shape.BassPitchClass(Tuning.Standard) != grip.Chord.BassPitchClass)
                Console.WriteLine($"bass of {grip.Chord} {grip.Shape}");
            var found = finder.Find(grip.Shape, 8);
            var rank = found.ToList().FindIndex(f => f.Fingers.SequenceEqual(grip.Fingers));
            all++;
            if (rank == 0) first++;
            if (rank is >= 0 and < 3) three++;
            if (rank != 0 && grip.Shape.LowestStopped <= 3)
                Console.WriteLine($"rank {rank,2} {grip.Chord,-9} {grip.Shape} usual "
                    + $"{string.Concat(grip.Fingers.Select(f => (int)f))} first {found.FirstOrDefault()} "
                    + $"{found.FirstOrDefault()?.Effort:0.0} vs {(rank < 0 ? double.NaN : found[rank].Effort):0.0}");
        }
        Console.WriteLine($"usual first {first}/{all} = {100.0 * first / all:0.0} %, in three {100.0 * three / all:0.0} %");
        return 0;
    }

    public static Finger[] Fingers(string text) =>
        [.. text.Select(c => c switch { 'T' => Finger.Thumb, 'x' or '0' => Finger.None, _ => (Finger)(c - '0') })];
}
