using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Teaching;

/// <summary>Ladders of forty progressions in two keys each, gone through as a teacher would: what she would not accept stays
/// rare, and most of it away.</summary>
public sealed class ComplaintTests
{
    // Hands, guitars, wishes and skills that differ in everything.
    private static readonly Player[] Players =
    [
        Of("small", "steel", BarreGoal.Avoid, 40), Of("young-child", "three-quarter", BarreGoal.Avoid, 15),
        Of("medium", "electric", BarreGoal.Neutral, 60, thumb: true), Of("large", "steel", BarreGoal.Seek, 85, thumb: true),
        Of("medium", "classical", BarreGoal.Seek, 30), Of("child", "half", BarreGoal.Neutral, 5),
    ];

    private static Player Of(string hand, string guitar, BarreGoal barres, double skill, bool thumb = false) => new()
    {
        Hand = Hand.Preset(hand), Guitar = Guitar.Preset(guitar), Barres = barres, Thumb = thumb,
        Skills = new Skills
        {
            Fingers = skill, Stretch = skill, ShortBarre = skill, FullBarre = skill, Muting = skill, Thumb = skill,
            Changes = skill, RightHand = skill
        },
    };

    /// <summary>How many in a thousand a teacher lets pass, by kind; what is not here never happens.</summary>
    private static readonly Dictionary<string, double> LetPass = new()
    {
        ["D as D6"] = 500,                            // one way among several
        ["above fret 5 on rungs 1 to 3"] = 4,         // where an inner line asks for it
        ["less close than on the rung below"] = 1,
        ["odd name"] = 2,                             // in F sharp and E flat minor E sharp and C flat are right
        ["other fingers than on the rung below"] = 3, ["other fingers as the usual shape"] = 20,
        ["unheard change on rung 1"] = 8, ["unheard change on rung 2"] = 5,
    };

    [Fact]
    public void What_a_teacher_would_not_accept_stays_rare()
    {
        var tally = new ComplaintTally();
        Parallel.ForEach(ComplaintTally.Progressions(Repository.Folder)
                .SelectMany((chart, i) => new[]
                {
                    (Chart: chart, Player: Players[i % 6]),
                    (Chart: ChartTransposer.Move(chart, chart.Key.Transpose(3 + i % 7), 3 + i % 7), Player: Players[(i + 3) % 6])
                }), new ParallelOptions { MaxDegreeOfParallelism = 2 }, song =>
            tally.Judge(new StudentLadder(
                    Known.Builder.Build(new ArrangementRequest { Chart = song.Chart, Kind = song.Player.Kind, HighestCapo = 7 }),
                    song.Player), song.Player));
        // Nothing passes because it was never looked at.
        Assert.All(LetPass.Keys, kind => Assert.Contains(kind, tally.Counts));
        Assert.All(tally.Counts,
            kind => Assert.True(kind.Value.All >= 20, $"{kind.Key}: looked at {kind.Value.All} times only"));
        Assert.All(tally.Counts,
            kind => Assert.True(kind.Value.Bad <= LetPass.GetValueOrDefault(kind.Key) * kind.Value.All / 1000,
            $"{kind.Key}: {kind.Value.Bad} of {kind.Value.All}, among them "
                + $"{string.Join("; ", kind.Value.Examples.Distinct().Take(5))}"));
        Assert.True(tally.Counts.Count >= 25, $"{tally.Counts.Count} kinds");
    }
}
