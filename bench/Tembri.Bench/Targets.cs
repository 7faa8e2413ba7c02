using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Columns;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Loggers;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;
using Tembri.Core.Tests.Arranging;

namespace Tembri.Bench;

/// <summary>Measures every row of the core's targets, and how the times grow.</summary>
internal static class Targets
{
    public static int Run(string[] filters)
    {
        var config = ManualConfig.CreateEmpty()
            .AddLogger(ConsoleLogger.Ascii).AddColumnProvider(DefaultColumnProviders.Instance)
            .AddExporter(BenchmarkDotNet.Exporters.MarkdownExporter.GitHub)
            .AddJob(Job.Default.WithToolchain(InProcessEmitToolchain.Instance).WithWarmupCount(5).WithIterationCount(15))
            .WithArtifactsPath(Path.Combine(Path.GetTempPath(), "tembri-bench")).WithOptions(ConfigOptions.JoinSummary);
        BenchmarkSwitcher.FromTypes([typeof(CoreTargets), typeof(ColdTargets), typeof(Growth)])
            .Run(["--filter", .. filters.DefaultIfEmpty("*")], config);
        return 0;
    }
}

/// <summary>Charts to measure with.</summary>
internal static class Samples
{
    private static readonly string[] Chords = ["C", "Am", "F", "G7", "Em", "Dm", "Bb", "E7", "Fmaj7", "G/B", "Am7", "D7", "Fm",
        "A7", "Cmaj7", "Dm7", "Eb", "Gsus4", "C7", "Ab", "Em7", "D/F#", "Bm7b5", "Cadd9"];

    /// <summary>A song of so many different chords, each used in two ways.</summary>
    public static Chart Song(int chords, string? first = null)
    {
        var names = Chords.Take(chords).Select((c, i) => i == 0 && first is not null ? first : c).ToList();
        var back = names.Where((_, i) => i % 2 == 0).Concat(names.Where((_, i) => i % 2 == 1)).Reverse();
        return ChartReader.Read(
            $"key: C\ntempo: 96\n[Verse]\n| {string.Join(" | ", names)} |\n[Chorus]\n| {string.Join(" | ", back)} |\n").Chart;
    }

    public static ArrangementRequest Request(Chart chart, int highest = ArrangementRequest.DefaultHighestCapo) =>
        new() { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = highest };
}

/// <summary>Work that starts from what is known already.</summary>
public class CoreTargets
{
    private readonly LadderBuilder _builder = new(new ResultCache());
    private readonly FingeringFinder _finder = new(new NeckGeometry(Guitar.Steel, 0), Hand.Medium, thumb: true);
    private List<Shape> _shapes = [];
    private ArrangementRequest _song = null!;
    private IReadOnlyList<Player> _players = [];
    private List<VersionOutline> _versions = [];

    [GlobalSetup]
    public void Prepare()
    {
        _shapes = [.. GripLibrary.All.Where(g => g.Movable).SelectMany(g => Enumerable.Range(0, 8).Select(k => g.Shape.Move(k)))
            .Concat(GripLibrary.All.Select(g => g.Shape))];
        while (_shapes.Count < 2_000) _shapes.AddRange(_shapes.Take(2_000 - _shapes.Count).ToList());
        _song = Samples.Request(Samples.Song(12));
        var random = new Random(3);
        double Skill() => 100 * random.NextDouble();
        _players = [.. Enumerable.Range(0, 200).Select(_ => new Player
        {
            Skills = new Skills
            {
                Fingers = Skill(), Stretch = Skill(), ShortBarre = Skill(), FullBarre = Skill(), Muting = Skill(),
                Thumb = Skill(), Changes = Skill(), RightHand = Skill()
            },
        })];
        var rungs =
            Enumerable.Range(4, 9).SelectMany(n => _builder.Build(Samples.Request(Samples.Song(n), 2)).Playable).ToList();
        _versions = [.. Enumerable.Range(0, 2_000).Select(i => VersionOutline.Of(rungs[i % rungs.Count], 96))];
    }

    [Benchmark(Description = "fingerings ranked for 2,000 shapes, one core, < 60 ms")]
    public int Fingerings() => _shapes.Sum(s => _finder.Find(s).Count);

    [Benchmark(Description = "whole ladder again, all chords known, 12 chords")]
    public Ladder LadderAgain() => _builder.Build(_song);

    [Benchmark(Description = "fit of 200 students x 2,000 versions, < 300 ms")]
    public double[][] Fit() => VersionOutline.Grade(_players, _versions);
}

/// <summary>Work that starts from nothing known: everything kept is forgotten before each call.</summary>
[InvocationCount(1), IterationCount(25), WarmupCount(8)]
public class ColdTargets
{
    private readonly ResultCache _cache = new();
    private LadderBuilder _builder = null!;
    private static readonly Chord F = Chord.Parse("F");
    private ArrangementRequest _before = null!;
    private ArrangementRequest _after = null!;

    [GlobalSetup]
    public void Prepare()
    {
        _builder = new LadderBuilder(_cache);
        _before = Samples.Request(Samples.Song(12));
        _after = Samples.Request(Samples.Song(12, "C#m7"));
    }

    [IterationSetup(Targets = [nameof(Shapes), nameof(LadderCold)])]
    public void Forget() => _cache.Forget();

    [IterationSetup(Target = nameof(LadderAfterEdit))]
    public void KnowTheSongBefore()
    {
        _cache.Forget();
        _builder.Build(_before);
    }

    [Benchmark(Description = "every teachable shape of F, cold, < 3 ms")]
    public int Shapes() =>
        new CandidateFinder(_cache)
            .For(F, new FingeringBook(_cache, Guitar.Steel, Hand.Medium, true, 0), Accompaniment.Record).Count;

    [Benchmark(Description = "whole ladder, cold, 12 chords, < 150 ms")]
    public Ladder LadderCold() => _builder.Build(_before);

    [Benchmark(Description = "whole ladder after one chord became one never seen, < 20 ms")]
    public Ladder LadderAfterEdit() => _builder.Build(_after);
}

/// <summary>How the times grow with the song, the candidates and the positions.</summary>
public class Growth
{
    private readonly LadderBuilder _builder = new(new ResultCache());
    private PairwiseProblem _problem = null!;
    private ArrangementRequest _chords = null!;
    private ArrangementRequest _positions = null!;

    [Params(1, 2, 3, 4)]
    public int Step { get; set; }

    [GlobalSetup]
    public void Prepare()
    {
        _problem = CpSat.Song(new Random(7), 12, 10 * Step);
        _chords = Samples.Request(Samples.Song(Step switch { 1 => 4, 2 => 8, 3 => 16, _ => 24 }), 0);
        _positions = Samples.Request(Samples.Song(12), Step switch { 1 => 0, 2 => 3, 3 => 7, _ => 11 });
    }

    [Benchmark(Description = "one rung, 12 chords, 10 / 20 / 30 / 40 candidates")]
    public int[] Candidates() => ExactOptimiser.Solve(_problem).Choice;

    [Benchmark(Description = "ladder at one position again, 4 / 8 / 16 / 24 chords")]
    public Ladder Chords() => _builder.Build(_chords);

    [Benchmark(Description = "ladder again, 12 chords, 1 / 4 / 8 / 12 positions")]
    public Ladder PositionsCompared() => _builder.Build(_positions);
}
