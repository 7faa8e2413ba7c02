using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>How often the fingering a person wrote down is found, comes first, and is among the first three.</summary>
internal static class FingerCheck
{
    public static int Run(string file, bool showMisses)
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true);
        var plain = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: false);
        int found = 0, some = 0, first = 0, three = 0, all = 0, eight = 0;
        foreach (var published in PublishedFingering.Read(file))
        {
            all++;
            var ranked = (published.Fingers.Contains(Finger.Thumb) ? finder : plain).Find(published.Shape, 24).ToList();
            var rank = ranked.FindIndex(f => f.Fingers.SequenceEqual(published.Fingers));
            if (ranked.Count > 0) some++;
            if (rank >= 0) found++;
            if (rank == 0) first++;
            if (rank is >= 0 and < 3) three++;
            if (rank is >= 0 and < 8) eight++;
            if (showMisses && rank != 0)
                Console.WriteLine($"{rank,3} {published.Kind,-9} {published.Shape} "
                    + $"{string.Concat(published.Fingers.Select(f => (int)f))} first {ranked.FirstOrDefault()}");
        }
        Console.WriteLine($"{all} shapes: some fingering {100.0 * some / all:0.0} %, the person's found "
            + $"{100.0 * found / all:0.0} %, first {100.0 * first / all:0.0} %, among three {100.0 * three / all:0.0} %, among "
            + $"eight {100.0 * eight / all:0.0} %");
        return 0;
    }
}
