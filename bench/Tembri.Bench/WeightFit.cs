using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>
/// Fits the weights of the load by coordinate descent: anchors met and in order, the usual fingering of every grip first. Starts
/// from the reasoned
/// weights and stays near them; deterministic. Prints the error table; with "write" puts the weights back into their data file.
/// </summary>
internal static class WeightFit
{
    private const double OrderMargin = 0.7;
    private const double RankMargin = 0.4;
    private const double RankCap = 4;

    /// <summary>A weight with the value reason gives it, from which it only moves for good cause, and its bounds.</summary>
    private sealed record Knob(string Key, int Index, double Reasoned, double Least, double Most);

    private static readonly Knob[] Knobs =
    [
        new("fingers", 1, 6, 5, 9), new("fingers", 2, 10.5, 9.5, 14), new("fingers", 3, 17.2, 14, 21),
        new("fingers", 4, 24, 19, 28),
        new("ringFinger", -1, 0.4, 0, 2), new("littleFinger", -1, 2, 1, 5), new("stretch", -1, 5, 3, 20),
        new("skippedFret", -1, 3, 0.5, 6), new("idleFinger", -1, 0.9, 0.6, 3), new("span", -1, 1.6, 0.5, 3),
        new("barreLength", 2, 2, 1, 8), new("barreLength", 3, 4, 2, 12), new("barreLength", 4, 9, 4, 20),
        new("barreLength", 5, 16, 8, 26), new("barreLength", 6, 21, 12, 34),
        new("barreForce", -1, 2.2, 0.8, 4), new("barreCoveredShare", -1, 0.45, 0.1, 0.7), new("barreJoint", -1, 1, 0.5, 4),
        new("barreStack", -1, 1, 0.3, 4),
        new("lyingFinger", 2, 17, 8, 26), new("lyingFinger", 3, 15, 13, 24), new("lyingFinger", 4, 19, 8, 26),
        new("secondBarre", -1, 9, 8, 20), new("mutedUnderBarre", -1, 4, 1, 12),
        new("crowding", -1, 0.8, 0.6, 4), new("crowdingBarreSpared", 3, 5, 1, 12), new("crowdingBarreSpared", 4, 13, 5, 22),
        new("crossing", -1, 24, 22, 40),
        new("interiorMute", -1, 2.9, 1, 6), new("bassMute", -1, 1.0, 0.2, 2), new("trebleMute", -1, 1.8, 0.5, 3),
        new("openNeighbour", -1, 1.1, 0.2, 2.5),
        new("thumb", -1, 20.5, 14, 26), new("thumbDistance", -1, 5, 2, 10), new("openFrame", -1, 1, 0.9, 4),
        new("openBesideBarre", -1, 7, 4, 14), new("wideOpen", -1, 2.3, 0, 6), new("alternating", -1, 0.8, 0, 8),
    ];

    private sealed record RankCase(Shape Shape, List<IReadOnlyList<Finger>> Usual);

    public static int Run(bool write)
    {
        var path = Path.Combine(Repository(), "src", "Tembri.Core", "Shapes", "load-weights.data.json");
        var json = File.ReadAllText(path);
        var start = Knobs.Select(k => k.Reasoned).ToArray();
        var cases =
            GripLibrary.All.GroupBy(g => (g.Shape, g.Movable)).SelectMany(g => (g.Key.Movable ? new[] { 0, 2, 4, 7 } : [0])
            .Select(up => new RankCase(g.Key.Shape.Move(up), [.. g.Select(x => x.Fingers)]))).ToList();
        var weights = (double[])start.Clone();
        var loss = Loss(Apply(weights), cases, weights, start);
        Console.WriteLine($"start {loss:0.00}");
        for (var sweep = 0; sweep < 12; sweep++)
        {
            var before = loss;
            var step = sweep < 4 ? 0.18 : sweep < 8 ? 0.08 : 0.03;
            for (var k = 0; k < Knobs.Length; k++)
                foreach (var factor in new[] { 1 + step, 1 - step })
                    while (true)
                    {
                        var old = weights[k];
                        weights[k] =
                            Math.Clamp(old * factor + (old < 0.3 ? (factor - 1) * 0.5 : 0), Knobs[k].Least, Knobs[k].Most);
                        var tried = weights[k] == old ? double.PositiveInfinity : Loss(Apply(weights), cases, weights, start);
                        if (tried < loss - 1e-6) { loss = tried; continue; }
                        weights[k] = old;
                        break;
                    }
            Console.WriteLine($"sweep {sweep} {loss:0.00}");
            if (before - loss < 0.01 && sweep > 8) break;
        }
        foreach (var (knob, i) in Knobs.Select((k, i) => (k, i)))
            Console.WriteLine($"{knob.Key}{(knob.Index >= 0 ? $"[{knob.Index}]" : "")} {start[i]:0.##} → {weights[i]:0.##}");
        if (write) File.WriteAllText(path, Write(json, weights));
        return 0;
    }

    private static LoadWeights Apply(double[] w)
    {
        double[] Array(IReadOnlyList<double> shipped, string key)
        {
            var copy = shipped.ToArray();
            for (var i = 0; i < Knobs.Length; i++) if (Knobs[i].Key == key) copy[Knobs[i].Index] = w[i];
            return copy;
        }
        double One(string key) => w[System.Array.FindIndex(Knobs, k => k.Key == key)];
        var d = LoadWeights.Default;
        return d with
        {
            Fingers = Array(d.Fingers, "fingers"), RingFinger = One("ringFinger"), LittleFinger = One("littleFinger"),
            Stretch = One("stretch"), SkippedFret = One("skippedFret"), IdleFinger = One("idleFinger"), Span = One("span"),
            BarreLength = Array(d.BarreLength, "barreLength"), BarreForce = One("barreForce"),
            BarreCoveredShare = One("barreCoveredShare"), BarreJoint = One("barreJoint"), BarreStack = One("barreStack"),
            LyingFinger = Array(d.LyingFinger, "lyingFinger"), SecondBarre = One("secondBarre"),
            MutedUnderBarre = One("mutedUnderBarre"), Crowding = One("crowding"),
            CrowdingBarreSpared = Array(d.CrowdingBarreSpared, "crowdingBarreSpared"), Crossing = One("crossing"),
            InteriorMute = One("interiorMute"), BassMute = One("bassMute"),
            TrebleMute = One("trebleMute"), OpenNeighbour = One("openNeighbour"), Thumb = One("thumb"),
            ThumbDistance = One("thumbDistance"), OpenFrame = One("openFrame"),
            OpenBesideBarre = One("openBesideBarre"), WideOpen = One("wideOpen"), Alternating = One("alternating"),
        };
    }

    private static double Loss(LoadWeights weights, List<RankCase> cases, double[] w, double[] start)
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true, weights);
        var loads = GripCheck.Anchors.Select(a => (a.Load,
                Have: (a.Fingers.Length > 0
                    ? finder.Weigh(Shape.Parse(a.Shape), GripCheck.Fingers(a.Fingers))
                    : finder.Best(Shape.Parse(a.Shape)))!.Load.Value)).ToList();
        var sum = loads.Sum(l => Math.Pow((l.Have - l.Load) / 2, 2));
        foreach (var a in loads)
            foreach (var b in loads)
                if (b.Load - a.Load >= 1) sum += 10 * Math.Pow(Math.Max(0, OrderMargin - (b.Have - a.Have)), 2);
        foreach (var (shape, usual) in cases)
        {
            var found = finder.Find(shape, 6);
            var best = found.FirstOrDefault(f => !usual.Any(u => u.SequenceEqual(f.Fingers)));
            var mine = usual.Min(u => finder.Weigh(shape, u)?.Effort ?? 999);
            if (best is not null) sum += 2 * Math.Clamp(mine - best.Effort + RankMargin, 0, RankCap);
        }
        for (var i = 0; i < w.Length; i++) sum += 1.5 * Math.Pow(Math.Log((w[i] + 0.2) / (start[i] + 0.2)), 2);
        return sum;
    }

    private static Regex Line(string key) => new($"(\"{key}\": )(\\[[^\\]]*\\]|[0-9.]+)");

    private static string Write(string json, double[] weights)
    {
        for (var i = 0; i < Knobs.Length; i++)
        {
            var knob = Knobs[i];
            var text = Math.Round(weights[i], 2).ToString(CultureInfo.InvariantCulture);
            json = Line(knob.Key).Replace(json, m =>
            {
                if (knob.Index < 0) return m.Groups[1].Value + text;
                var values = m.Groups[2].Value.Trim('[', ']').Split(',').Select(v => v.Trim()).ToArray();
                values[knob.Index] = text;
                return $"{m.Groups[1].Value}[{string.Join(", ", values)}]";
            }, 1);
        }
        return json;
    }

    internal static string Repository()
    {
        var folder = AppContext.BaseDirectory;
        while (!File.Exists(Path.Combine(folder, "Tembri.slnx"))) folder = Path.GetDirectoryName(folder)!;
        return folder;
    }
}
