using Tembri.Core.Arranging;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>A shape that several rungs play is held alike on them, as is best for all of them together.</summary>
public sealed class FingerAgreementTests
{
    private const string Song =
        "tempo: 92\nkey: D\n| D | Bm7 | G | A7 | D | F#m | G | A7 |\n| G | A7 | D | Bm7 | G | F#m | G A7 | D |";

    [Fact]
    public void Fingers_are_chosen_for_all_rungs_together()
    {
        var player = new Player { Hand = Hand.Preset("small"), Skills = new Skills { Changes = 36 } };
        var request = new ArrangementRequest
        {
            Chart = ChartReader.Read(Song).Chart, Kind = player.Kind, Capo = 0, HighestCapo = 0,
        };
        var ladder = Known.Builder.Build(request);
        var parts = new CountedParts(player, ladder);
        var a7 = ladder.Played(1).Played.Single(c => c.ShapeChord.Name == "A7").Index;
        // Index and middle finger on all rungs, though the lowest, for which fewest changes speak, would rather have the usual.
        Assert.Equal(5, ladder.Playable.Count());
        Assert.All(ladder.Playable, r => Assert.Equal("x02020 x01020", r.PlayedAs(a7).Choice.Fingering.ToString()));
        var usual = Known.Builder.Alternatives(request, ladder, a7, RungLimits.Defaults[0])
            .Single(c => c.Candidate.Fingering.ToString() == "x02020 x02030").Candidate;
        double Cost(PlayableRung rung, Candidate how) => parts.Of(rung, a7, how,
            0.4 / ladder.Flow.Chords.Count + 0.6 * rung.Flow.Beats[a7] / rung.Flow.TotalBeats);
        var gains = ladder.Playable.Select(r => Cost(r, usual) - Cost(r, r.PlayedAs(a7).Choice)).ToList();
        Assert.True(gains.Sum() > 0 && gains[0] < 0, string.Join(" ", gains));
    }
}
