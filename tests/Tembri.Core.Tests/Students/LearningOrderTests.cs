using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;

namespace Tembri.Core.Tests.Students;

/// <summary>The order in which a version is learnt.</summary>
public sealed class LearningOrderTests
{
    [Fact]
    public void Everything_is_learnt_once_known_shapes_first_and_each_next_one_opens_most_for_its_work()
    {
        Gen.Select(LadderTests.Songs, Gen.Int[0, 90], Gen.Int[1, 5]).Sample((chart, skill, number) =>
        {
            var ladder = Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 });
            if (ladder.Find(number) is not PlayableRung rung) return;
            var player = new Player
            {
                Skills = new Skills
                {
                    Fingers = skill, Stretch = skill, ShortBarre = skill, FullBarre = skill / 2.0, Muting = skill,
                    Changes = skill, RightHand = skill
                }
            };
            var fit = new VersionFit(VersionOutline.Of(rung, chart.Tempo), player);
            var order = LearningOrder.Of(rung, fit);
            var played = rung.Played.Where(c => rung.Flow.Beats[c.Index] > 0).Select(c => c.Index).ToList();
            Assert.Equal(played.Order(), order.Shapes.Select(s => s.Chord).Order());
            Assert.Equal(order.Shapes.OrderByDescending(s => s.IsKnown).Select(s => s.Chord), order.Shapes.Select(s => s.Chord));
            Assert.Equal(1, order.Shapes.Sum(s => s.Share), 1e-6);
            // Worked out anew: no shape that was still to come opened more for its work.
            var count = Math.Max(1, rung.Changes.Sum(c => c.Count));
            for (var i = order.Shapes.Count(s => s.IsKnown); i < order.Shapes.Count; i++)
            {
                var before = order.Shapes.Take(i).Select(s => s.Chord).ToHashSet();
                double Opens(int c) =>
                    (rung.Flow.Beats[c] / rung.Flow.TotalBeats
                            + rung.Changes.Where(
                                        x => x.From == c && before.Contains(x.To) || x.To == c && before.Contains(x.From))
                                    .Sum(x => x.Count) / (double)count) / (1 - fit.Clean[c] + 0.05);
                Assert.All(order.Shapes.Skip(i + 1),
                    later => Assert.True(Opens(order.Shapes[i].Chord) >= Opens(later.Chord) - 1e-9));
            }
            Assert.All(order.Changes, c => Assert.True(c.InTime < 0.9));
            Assert.Equal(order.Changes.Select(c => c.LateInForm).OrderDescending(), order.Changes.Select(c => c.LateInForm));
            Assert.Equal(order.Sections.Select(s => s.Good).OrderDescending(), order.Sections.Select(s => s.Good));
            Assert.Equal(chart.Form.Select(f => f.Section)
                    .Where(n => chart.SectionNamed(n)!.Bars.Any(b => b.Slots.Any(s => s.Chord is not null))).Distinct().Count(),
                order.Sections.Count);
            // How good a section is, from all that is played in a row: clean beats, less what a late change spoils.
            var row = chart.PlayedPlaces()
                .SelectMany((place, played) => rung.Song.Chart.Sections[place.Section].Bars[place.Bar].Slots.Select(
                    (slot, i) => (place.Section, Chord: rung.Flow.ChordAt(played, i), slot.Beats)))
                .Where(x => x.Chord >= 0).ToList();
            double Spoilt(int k) =>
                k == 0
                        || rung.Changes.ToList()
                            .FindIndex(c => c.From == row[k - 1].Chord && c.To == row[k].Chord) is not (>= 0 and var change)
                    ? 0
                : fit.Clean[row[k].Chord] * (1 - fit.Changes[change].InTime)
                    * Math.Min(row[k].Beats, rung.Hand.In(row[k].Section).BeatsAStroke);
            foreach (var section in row.Select((x, k) => (x.Section, x.Beats, Good: x.Beats * fit.Clean[x.Chord] - Spoilt(k)))
                .GroupBy(x => x.Section))
                Assert.Equal(Math.Clamp(section.Sum(x => x.Good) / section.Sum(x => x.Beats), 0, 1),
                    order.Sections.Single(s => s.Section == section.Key).Good, 9);
            // A shape the student does not have is new in the section that needs it first, once.
            var met = order.Sections.SelectMany(s => s.NewShapes).ToList();
            Assert.Equal(met.Distinct().Count(), met.Count);
            Assert.Equal(order.Shapes.Where(s => !s.IsKnown).Select(s => s.Chord).Order(), met.Order());
        }, iter: 30, threads: 2);
    }
}
