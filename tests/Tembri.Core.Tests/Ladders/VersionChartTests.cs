using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;

namespace Tembri.Core.Tests.Ladders;

/// <summary>A rung written out plays what was weighed, pass for pass.</summary>
public sealed class VersionChartTests
{
    [Fact]
    public void A_second_shape_is_played_where_it_was_weighed()
    {
        var found = 0;
        Gen.Select(LadderTests.Songs, LadderTests.Players).Sample((chart, player) =>
        {
            var ladder =
                Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = player.Kind, Capo = 0, HighestCapo = 0 });
            foreach (var rung in ladder.Playable.Where(r => r.Chords.Any(c => c.IsSecond)))
            {
                Interlocked.Increment(ref found);
                var flow = rung.Flow;
                // Beat for beat, what is heard is the sequence that was weighed.
                var version = new VersionChart(ladder, rung);
                var beats = new double[flow.Chords.Count];
                var played = 0;
                foreach (var bar in version.Chart.PlayedBars())
                {
                    for (var i = 0; i < bar.Slots.Count; i++)
                        if (version.PlayedAt(played, i) is { } chord) beats[chord.Index] += bar.Slots[i].Beats;
                    played++;
                }
                Assert.Equal(flow.PlayedBars, played);
                Assert.All(beats.Zip(flow.Beats), b => Assert.Equal(b.Second, b.First, 1e-6));
                // A second shape comes right before its chord, and nowhere else.
                var order = flow.Sequence.Select(s => s.Chord).ToList();
                foreach (var second in rung.Played.Where(c => c.IsSecond))
                    Assert.All(Enumerable.Range(0, order.Count).Where(i => order[i] == second.Index), i =>
                        Assert.Equal(second.Before?.Name,
                            i + 1 < order.Count ? rung.PlayedAs(order[i + 1]).ShapeChord.Name : null));
                var performance = new Core.Playing.Performance(version);
                Assert.Equal(flow.TotalBeats * Core.Playing.Performance.Quarters(chart.Meter),
                    performance.Chords.Sum(c => c.Length), 1e-6);
                SlotsShowWhatTheirPassesPlay(ladder, version);
            }
        }, iter: 60, threads: 2);
        Assert.True(found > 5, $"only {found} rungs had a second shape");
    }

    /// <summary>A slot is written with the shape all its passes play; where they differ, with the usual one of its
    /// chord.</summary>
    private static void SlotsShowWhatTheirPassesPlay(Ladder ladder, VersionChart version)
    {
        var sections = version.Rung.Song.Chart.Sections;
        var passes =
            version.Chart.PlayedPlaces().Select((place, played) => (place, played)).ToLookup(x => x.place, x => x.played);
        foreach (var place in passes)
            for (var i = 0; i < sections[place.Key.Section].Bars[place.Key.Bar].Slots.Count; i++)
            {
                if (sections[place.Key.Section].Bars[place.Key.Bar].Slots[i].Chord is not { } chord) continue;
                var heard = place.Select(p => version.PlayedAt(p, i)!).DistinctBy(c => c.Index).ToList();
                var shown = heard.Count == 1
                    ? heard[0]
                    : version.Rung.Played.Single(c => !c.IsSecond && ladder.Flow.Chords[c.Index].Equals(chord));
                Assert.Equal(shown.Choice.Fingering.ToString(),
                    version.ShapeOf(version.Chart.Sections[place.Key.Section].Bars[place.Key.Bar].Slots[i])!.ToString());
            }
    }
}
