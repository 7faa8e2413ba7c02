using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Wishes;

/// <summary>What a rung allows that a teacher took in between.</summary>
public sealed class OwnRungTests
{
    [Fact]
    public void A_rung_in_between_allows_what_either_neighbour_does()
    {
        var rungs = new ArrangementRequest { Chart = ChartReader.Read("| C |").Chart, Kind = PlayerKind.Usual }.Rungs;
        var book = new FingeringBook(Known.Results, PlayerKind.Usual.Guitar, PlayerKind.Usual.Hand, true, 0);
        var candidates = new[] { "F", "Bm", "G/B", "Cmaj7", "D/F#", "E7" }
            .SelectMany(c => new CandidateFinder(Known.Results).For(Chord.Parse(c), book, Accompaniment.Alone)).ToList();
        foreach (var (below, above) in rungs.Zip(rungs.Skip(1)))
        {
            var between = OwnRungs.Of(rungs, [new RungWish(OwnRungs.Between(below.Number)) { AimsAtLoad = 30 }])
                .Single(r => r.Number == OwnRungs.Between(below.Number));
            Assert.All(candidates.Where(c => below.Allows(c) || above.Allows(c)),
                c => Assert.True(between.Allows(c), $"{between.Name}: {c.Fingering} {between.Objection(c)}"));
            Assert.Equal(below.WholeTriads && above.WholeTriads, between.WholeTriads);
            Assert.Equal(below.SlashBass && above.SlashBass, between.SlashBass);
            Assert.Equal(Math.Max(below.MostFingers, above.MostFingers), between.MostFingers);
            Assert.Equal(below.ClosenessWeight / between.ClosenessWeight, between.ClosenessWeight / above.ClosenessWeight, 1e-9);
        }
    }
}
