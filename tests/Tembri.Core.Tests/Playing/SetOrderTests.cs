using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Playing;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Playing;

public sealed class SetOrderTests
{
    [Fact]
    public void Songs_of_one_capo_come_together_with_as_few_moves_as_there_are_capos_less_one()
    {
        Gen.Int[0, 4].Array[0, 9].Sample(capos =>
        {
            var order = SetOrder.FewestMoves(capos);
            Assert.Equal(Enumerable.Range(0, capos.Length), order.Order());
            var moves = SetOrder.CapoMoves([.. order.Select(i => capos[i])]);
            Assert.Equal(Math.Max(0, capos.Distinct().Count() - 1), moves);
            Assert.True(moves <= SetOrder.CapoMoves(capos));
            // Among songs of one capo the order stays.
            foreach (var same in order.GroupBy(i => capos[i])) Assert.Equal(same.Order(), same);
        }, iter: 500);
    }

    [Theory]
    [InlineData("tempo: 60\n| C | F | G | C |", 16)]
    [InlineData("tempo: 60\nmeter: 6/8\n| C | F | 3/4 G | C |", 8)]
    [InlineData("tempo: 120\n| C | F (slow) | 2/4 G | C (hold) |", double.NaN)]
    public void A_song_takes_as_long_as_it_is_heard(string text, double seconds)
    {
        var chart = ChartReader.Read(text).Chart;
        var ladder =
            Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var heard = new Performance(new VersionChart(ladder, ladder.Played(5)));
        var lasts = heard.Bars.Sum(b => b.Length / b.Pace) * 60 / heard.QuarterTempo;
        Assert.Equal(lasts, SetOrder.Seconds(chart), 1e-9);
        if (!double.IsNaN(seconds)) Assert.Equal(seconds, lasts, 1e-9);
    }
}
