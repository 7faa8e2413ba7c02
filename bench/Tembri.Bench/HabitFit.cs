using System.Globalization;
using System.Text.Json;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Shapes;

namespace Tembri.Bench;

/// <summary>
/// Learns which fingering of a shape people write down: a multinomial logit over the features of <see cref="FingerHabits"/>, by
/// gradient descent with a pull to zero. Deterministic.
/// Cross-validated by kind of chord, ten folds: what is told of a kind was learnt from the others. With "write" the weights of
/// all go into their data file.
/// </summary>
internal static class HabitFit
{
    private const int Folds = 10;
    private const int Rounds = 300;
    private const double Pull = 0.7;         // to zero; of 0.25, 0.5, 0.7, 1, 2 and 4 the one that orders unseen kinds best
    private const double GripWeight = 0.5;   // our own grips count half as much as what was published
    private const int Options = 16;          // lightest fingerings that a choice is between

    // Nobody in the data uses the thumb: it is for those who do, on the lowest string and near the index finger.
    private static readonly Dictionary<string, double> Reasoned =
        new() { ["uses.5"] = 2.5, ["thumb.away"] = 1.5, ["thumb.overTwo"] = 3 };

    private sealed record Case(string Kind, double[][] Options, int Chosen, PublishedFingering Published,
        IReadOnlyList<Fingering> Fingerings)
    {
        public double Weight { get; set; } = 1;
    }

    public static int Run(string file, bool write, bool showMisses)
    {
        var finder = new FingeringFinder(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: false);
        var names = FingerHabits.Names;
        Case Read(PublishedFingering p)
        {
            var found = finder.ByLoad(p.Shape).Take(Options).ToList();
            var options = found.Select(f => { var x = new double[names.Count]; FingerHabits.Count(f, x); return x; }).ToArray();
            return new Case(p.Kind, options, found.FindIndex(f => f.Fingers.SequenceEqual(p.Fingers)), p, found);
        }
        List<Case> cases = [.. PublishedFingering.Read(file).Select(Read)];
        // One movable form with its fingers counts by the root of how often it is written down, so that a form printed on every
        // fret does not drown the rest.
        foreach (var form in cases.GroupBy(c => (Frets: string.Join(' ',
                c.Published.Shape.Frets.Select(
                    f => f <= 0 || c.Published.Shape.HasOpenString ? f : f - c.Published.Shape.LowestStopped)),
            Fingers: string.Concat(c.Published.Fingers))))
            foreach (var c in form) c.Weight = 1 / Math.Sqrt(form.Count());
        List<Case> grips = [.. GripLibrary.All.SelectMany(g => (g.Movable ? new[] { 0, 2, 4, 6 } : [0]).Select(up =>
        {
            var c = Read(new PublishedFingering("grip", g.Shape.Move(g.Movable ? up : 0), g.Fingers));
            c.Weight = GripWeight * (g.Movable ? 0.5 : 1);
            return c;
        }))];
        var kinds = cases.Select(c => c.Kind).Distinct().Order(StringComparer.Ordinal).ToList();
        Console.WriteLine($"{cases.Count} shapes of {kinds.Count} kinds, {names.Count} features; "
            + $"{cases.Count(c => c.Chosen < 0)} fingerings of people are not feasible here");
        int first = 0, three = 0;
        var perFold = new double[Folds][];
        Parallel.For(0, Folds,
            fold => perFold[fold] = Learn([.. cases.Where(c => kinds.IndexOf(c.Kind) % Folds != fold), .. grips], names));
        foreach (var c in cases)
        {
            var rank = Rank(c, perFold[kinds.IndexOf(c.Kind) % Folds]);
            if (rank == 0) first++;
            if (rank is >= 0 and < 3) three++;
            if (showMisses && rank != 0)
            {
                var best = Enumerable.Range(0, c.Options.Length)
                    .MinBy(i => Score(c.Options[i], perFold[kinds.IndexOf(c.Kind) % Folds]));
                Console.WriteLine($"{rank,3} {c.Kind,-9} {c.Published.Shape} "
                    + $"{string.Concat(c.Published.Fingers.Select(f => (int)f))} first {c.Fingerings[best]}");
            }
        }
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"cross-validated by kind: first {100.0 * first / cases.Count:0.0} %, among three "
                + $"{100.0 * three / cases.Count:0.0} %"));
        var all = Learn([.. cases, .. grips], names);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"learnt from all: first {100.0 * cases.Count(c => Rank(c, all) == 0) / cases.Count:0.0} %, among three "
                + $"{100.0 * cases.Count(c => Rank(c, all) is >= 0 and < 3) / cases.Count:0.0} %"));
        if (write)
            File.WriteAllText(Path.Combine(WeightFit.Repository(), "src", "Tembri.Core", "Shapes", "finger-habits.data.json"),
                Write(names, all));
        return 0;
    }

    private static double Score(double[] x, double[] w)
    {
        var sum = 0.0;
        for (var i = 0; i < x.Length; i++) sum += x[i] * w[i];
        return sum;
    }

    private static int Rank(Case c, double[] w)
    {
        if (c.Chosen < 0) return -1;
        var mine = Score(c.Options[c.Chosen], w);
        return c.Options.Where((o, i) => i != c.Chosen && Score(o, w) <= mine).Count();
    }

    /// <summary>Weights under which what people chose is likeliest.</summary>
    private static double[] Learn(IReadOnlyList<Case> cases, IReadOnlyList<string> names)
    {
        var features = names.Count;
        var used = cases.Where(c => c.Chosen >= 0 && c.Options.Length > 1).ToList();
        // Adagrad: steps shrink for features that are met often.
        var (w, sums) = (new double[features], new double[features]);
        w[0] = 1;
        for (var round = 0; round < Rounds; round++)
        {
            var gradient = new double[features];
            for (var i = 0; i < features; i++) gradient[i] = Pull * (w[i] - (i == 0 ? 1 : 0));
            foreach (var c in used)
            {
                var scores = Array.ConvertAll(c.Options, o => -Score(o, w));
                var most = scores.Max();
                var odds = Array.ConvertAll(scores, s => Math.Exp(s - most));
                var total = odds.Sum();
                for (var o = 0; o < odds.Length; o++)
                {
                    var share = c.Weight * (odds[o] / total - (o == c.Chosen ? 1 : 0));
                    if (Math.Abs(share) < 1e-6) continue;
                    for (var i = 0; i < features; i++) gradient[i] -= share * c.Options[o][i];
                }
            }
            for (var i = 0; i < features; i++)
            {
                sums[i] += gradient[i] * gradient[i];
                if (sums[i] > 0) w[i] -= 0.6 * gradient[i] / Math.Sqrt(sums[i]);
            }
        }
        for (var i = 0; i < features; i++) if (Reasoned.TryGetValue(names[i], out var reasoned)) w[i] = reasoned;
        return w;
    }

    private static string Write(IReadOnlyList<string> names, double[] w) =>
        "// Learnt by bench habits from published fingerings: how much each feature makes a fingering less usual (log odds). "
            + "See docs/model.md, part 3.\n"
            +
        JsonSerializer.Serialize(Enumerable.Range(0, w.Length).Where(i => Math.Abs(w[i]) >= 0.0005)
                .ToDictionary(i => names[i], i => Math.Round(w[i], 3)), new JsonSerializerOptions { WriteIndented = true })
        + "\n";
}
