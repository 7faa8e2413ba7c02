using System.Globalization;
using Tembri.Core.Changes;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>Clean changes a minute, as teachers measure them, against the model; with "fit" the constants that come nearest,
/// found by coordinate descent.</summary>
internal static class CountCheck
{
    // Clean changes a minute: the reference player about a year in, and first weeks at a skill of about 10.
    private static readonly (string Name, string From, string To, double Count, double Skill)[] Counts =
    [
        ("Am–E", "x02210", "022100", 70, 50), ("C–Am", "x32010", "x02210", 60, 50), ("D–A", "xx0232", "x02220", 55, 50),
        ("G–C", "320003", "x32010", 45, 50), ("Em–D", "022000", "xx0232", 45, 50),
        ("G–Cadd9, anchors", "320033", "x32033", 80, 50), ("F–G, slide", "133211", "355433", 55, 50),
        ("C–full F", "x32010", "133211", 28, 50), ("C–G, first weeks", "x32010", "320003", 12.5, 10),
        ("Em–Am, first weeks", "022000", "x02210", 20, 10),
    ];

    public static int Run(bool fit)
    {
        var neck = new NeckGeometry(Guitar.Steel, 0);
        var finder = new FingeringFinder(neck, Hand.Medium, thumb: false);
        // With their usual fingers, and with the pair of fingerings that changes quickest among the three most usual of each.
        var cases =
            Counts.Select(c => (c, From: finder.Find(Shape.Parse(c.From), 3), To: finder.Find(Shape.Parse(c.To), 3))).ToList();
        var weights = ChangeWeights.Default;
        var twice = ChangePace.PointsForTwice;
        double Seconds(ChangeWeights w, IReadOnlyList<Fingering> from, IReadOnlyList<Fingering> to, bool best) =>
            best
                ? from.SelectMany(f => to.Select(t => new ChangeModel(neck, w).Seconds(f, t))).Min()
                : new ChangeModel(neck, w).Seconds(from[0], to[0]);
        double Count(ChangeWeights w, double points, double skill, double seconds) =>
            60 / (w.Dwell + seconds * Math.Pow(2, (50 - skill) / points));
        double Loss(ChangeWeights w, double points) =>
            cases.Sum(c => new[] { false, true }.Sum(
                best => Math.Pow(Math.Log(Count(w, points, c.c.Skill, Seconds(w, c.From, c.To, best)) / c.c.Count), 2)));
        if (fit)
        {
            (string Name, Func<ChangeWeights, double> Get, Func<ChangeWeights, double, ChangeWeights> Set,
                double Least, double Most)[] knobs =
            [
                ("dwell", w => w.Dwell, (w, v) => w with { Dwell = v }, 0.3, 0.5),
                ("start", w => w.Start, (w, v) => w with { Start = v }, 0.02, 0.3),
                ("perBit", w => w.PerBit, (w, v) => w with { PerBit = v }, 0.05, 0.4),
                ("guideShare", w => w.GuideShare, (w, v) => w with { GuideShare = v }, 0.3, 0.8),
                ("perBlock", w => w.PerBlock, (w, v) => w with { PerBlock = v }, 0.05, 0.4),
                ("shortBarre", w => w.ShortBarre, (w, v) => w with { ShortBarre = v }, 0.1, 0.3),
                ("fullBarre", w => w.FullBarre, (w, v) => w with { FullBarre = v }, 0.2, 0.9),
                ("perLoad", w => w.PerLoad, (w, v) => w with { PerLoad = v }, 0, 0.008),
            ];
            for (var sweep = 0; sweep < 60; sweep++)
            {
                foreach (var knob in knobs)
                    foreach (var factor in new[] { 1.1, 0.9, 1.02, 0.98 })
                    {
                        var tried = knob.Set(weights,
                            Math.Clamp(knob.Get(weights) * factor + 0.0001 * Math.Sign(factor - 1), knob.Least, knob.Most));
                        if (Loss(tried, twice) < Loss(weights, twice)) weights = tried;
                    }
                foreach (var factor in new[] { 1.05, 0.95 })
                    if (Loss(weights, twice * factor) < Loss(weights, twice)) twice *= factor;
            }
            foreach (var knob in knobs)
                Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{knob.Name} {knob.Get(weights):0.000}"));
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"points for twice {twice:0.0}"));
        }
        Console.WriteLine("| change | wanted | usual fingers | quickest pair |\n|---|---|---|---|");
        foreach (var (c, from, to) in cases)
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"| {c.Name} | {c.Count:0.#} | {Count(weights, twice, c.Skill, Seconds(weights, from, to, false)):0} | "
                    + $"{Count(weights, twice, c.Skill, Seconds(weights, from, to, true)):0} |"));
        return 0;
    }
}
