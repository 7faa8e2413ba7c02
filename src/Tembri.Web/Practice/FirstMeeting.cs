using Tembri.Core.Arranging;
using Tembri.Core.Changes;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Planning;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Data.Students;

namespace Tembri.Web.Practice;

/// <summary>What can be tried at a first meeting: shapes that are taught, changes between the commonest, a few patterns of the
/// right hand.</summary>
internal sealed class FirstMeeting
{
    /// <summary>Tries of a meeting: ten minutes.</summary>
    public const int Tries = 8;

    private const int HighestFret = 5;
    private static readonly string[] Commonest = ["C", "G", "D", "A", "E", "Am", "Em", "Dm", "F"];
    private static readonly int[] Tempos = [60, 80, 100, 120];
    private static readonly HashSet<string> Kinds = ["", "m", "7", "m7", "maj7", "sus4"];   // what everybody has met
    private const int Strums = 4;
    private readonly IReadOnlyList<TryOut> _all;

    /// <summary>For one student.</summary>
    /// <param name="student">The student.</param>
    public FirstMeeting(Student student)
    {
        var player = student.ToPlayer();
        var neck = new NeckGeometry(player.Guitar, 0);
        var finder = new FingeringFinder(neck, player.Hand, player.Thumb);
        var changes = new ChangeModel(neck);
        // Nobody is asked for a barre while something hurts.
        var hurts = student.Progress?.Hurts ?? false;
        var shapes = GripLibrary.All.Where(g => !g.Rare && Kinds.Contains(g.Chord.Name[g.Chord.Root.ToString().Length..])
            && g.Shape.StringCount == 6 && g.Shape.HighestStopped <= HighestFret)
            .Select(g => (Grip: g, Fingering: finder.Weigh(g.Shape, g.Fingers)))
            .Where(g => g.Fingering is not null && !(hurts && PracticePlan.IsHardOnTheHand(g.Fingering))).ToList();
        var open = Commonest.Select(name => shapes.Where(
                s => s.Grip.Chord.Name == name && !s.Grip.Movable || name == "F" && s.Grip.Shape.ToString() == "xx3211")
            .Select(s => s.Fingering).FirstOrDefault(f => f is not null))
            .Zip(Commonest).Where(x => x.First is not null).ToList();
        _all =
        [
            .. shapes.Select(s => (TryOut)new ShapeTryOut(s.Grip.Chord.Name, s.Fingering!)),
            .. open.SelectMany(a => open.Where(b => b.Second != a.Second)
                    .Select(b => (TryOut)new ChangeTryOut($"{a.Second} to {b.Second}", a.First!, b.First!,
                        changes.Seconds(a.First!, b.First!)))).Where(t => ((ChangeTryOut)t).ReferenceSeconds > 0.4),
            .. EvenlyHard().SelectMany(s => Tempos.Select(t => (TryOut)new StrumTryOut(s.Name, s.In(Meter.Common), t))),
        ];
    }

    /// <summary>A few patterns from the easiest to the hardest, evenly apart.</summary>
    private static IEnumerable<ShippedStrum> EvenlyHard()
    {
        var byLoad = ShippedStrum.For(Meter.Common).OrderBy(s => s.In(Meter.Common).LoadAt(Tempos[1])).ToList();
        return Enumerable.Range(0, Strums).Select(i => byLoad[i * (byLoad.Count - 1) / (Strums - 1)]).Distinct();
    }

    /// <summary>The try that tells most.</summary>
    /// <param name="belief">What is believed.</param>
    /// <param name="done">Keys of what was tried or passed over already.</param>
    public TryOut? Next(SkillBelief belief, IReadOnlyCollection<string> done) =>
        _all.Where(t => !done.Contains(KeyOf(t))).ToList() is { Count: > 0 } left ? NextTry.Best(belief, left) : null;

    /// <summary>The try of a key; null when there is none.</summary>
    public TryOut? Find(string? key) => _all.FirstOrDefault(t => KeyOf(t) == key);

    /// <summary>Names a try.</summary>
    public static string KeyOf(TryOut what) => what switch
    {
        ShapeTryOut s => $"shape {s.Fingering}",
        ChangeTryOut c => $"change {c.From} {c.To}",
        StrumTryOut s => $"strum {s.Pattern.Notation} {s.Tempo}",
        _ => what.Name,
    };

    /// <summary>What a result is as an entry of the log.</summary>
    public static NewEntry Entry(TryOut what, int result, int seconds) => what switch
    {
        ShapeTryOut s => new NewEntry
        {
            Kind = "shape", Text = $"{s.Name} by itself", To = Fingered(s.Fingering), Tries = NextTry.Tries, Count = result
        },
        ChangeTryOut c => new NewEntry
        {
            Kind = "changes", Text = c.Name, From = Fingered(c.From), To = Fingered(c.To), Count = result, Seconds = seconds
        },
        StrumTryOut s => new NewEntry
        {
            Kind = "strum", Text = s.Name, Pattern = s.Pattern.Notation, Meter = s.Pattern.Meter.ToString(),
            Swing = s.Pattern.Swing, Tempo = (int)s.Tempo, Went = result > 0
        },
        _ => throw new ArgumentOutOfRangeException(nameof(what), what, "There is no entry for this try."),
    };

    private static EntryShape Fingered(Fingering fingering) =>
        new([.. fingering.Shape.Frets], [.. fingering.Fingers.Select(f => (int)f)]);
}
