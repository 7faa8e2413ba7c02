using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Fretboard;
using Tembri.Core.Hands;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>The ten demo songs, for a beginner and for a strong player: what a teacher would expect to see.</summary>
public sealed class DemoSongTests
{
    private static readonly Player Beginner = new()
    {
        Hand = Hand.Preset("child"), Guitar = Guitar.Preset("three-quarter"), Barres = BarreGoal.Avoid,
        Skills = new Skills
        {
            Fingers = 26, Stretch = 22, ShortBarre = 8, FullBarre = 0, Muting = 20, Thumb = 0, Changes = 22, RightHand = 24
        },
    };

    private static readonly Player Strong = new()
    {
        Thumb = true,
        Skills = new Skills
        {
            Fingers = 88, Stretch = 85, ShortBarre = 90, FullBarre = 88, Muting = 85, Thumb = 70, Changes = 88, RightHand = 85
        },
    };

    public static TheoryData<string> Songs =>
        [.. Directory.GetFiles(Path.Combine(Repository.Folder, "demo", "songs"), "*.txt").Select(f => Path.GetFileName(f))];

    private static StudentLadder Grade(string file, Player player) => new(Build(file, player), player);

    private static Ladder Build(string file, Player player) =>
        Known.Builder.Build(new ArrangementRequest
        {
            Chart = ChartReader.Read(File.ReadAllText(Path.Combine(Repository.Folder, "demo", "songs", file))).Chart,
            Kind = player.Kind
        });

    [Theory]
    [MemberData(nameof(Songs))]
    public void Every_rung_is_possible_at_the_advised_place_and_the_record_keeps_every_note(string file)
    {
        var ladder = Build(file, new Player());
        Assert.All(ladder.Rungs, r => Assert.IsType<PlayableRung>(r));
        Assert.True(ladder.Played(5).Closeness > 0.98, $"closeness of the record rung: {ladder.Played(5).Closeness}");
        Assert.All(ladder.Played(5).Played, c => Assert.Equal(0, c.Choice.Closeness.ForeignMask));
        Assert.True(ladder.Played(1).Load < ladder.Played(5).Load);
        Assert.Equal(10, ladder.Places.Count);
        Assert.Contains(ladder.Places,
            p => p.Capo == ladder.RecommendedCapo && p.Score <= ladder.Places.Min(q => q.Score) + 1e-9);
    }

    [Theory]
    [MemberData(nameof(Songs))]
    public void A_beginner_starts_low_and_a_strong_player_is_ready_for_the_record(string file)
    {
        var (low, high) = (Grade(file, Beginner), Grade(file, Strong));
        Assert.True(low.Fits[4]!.Value < high.Fits[4]!.Value);
        Assert.NotEqual(Verdict.Ready, low.Fits[4]!.Verdict);
        Assert.Equal(Verdict.Ready, high.Fits[4]!.Verdict);
        Assert.NotNull(high.Fits[4]!.ComfortableTempo);
        Assert.True(low.Fits[0]!.Value >= low.Fits[4]!.Value);
        Assert.All(low.Fits, f => Assert.NotNull(f!.Reason));
    }

    [Fact]
    public void Working_on_the_same_song_twice_gives_the_same_ladder()
    {
        foreach (var file in Songs.Select(s => s.Data).Take(4))
        {
            static string Text(Ladder l) =>
                $"{l.Capo} {string.Join(" ", l.Playable.SelectMany(r => r.Played).Select(c => c.Choice.Fingering))} "
                    + $"{string.Join(" ", l.Playable.Select(r => r.Load))}";
            Assert.Equal(Text(Build(file, new Player())), Text(Build(file, new Player())));
        }
    }

    [Fact]
    public void Alone_a_wrong_bass_costs_more_than_with_the_record()
    {
        var chart = ChartReader.Read("key: C\n| C | G/B | Am | C/G |").Chart;
        Ladder With(Core.Shapes.Accompaniment company) =>
            Known.Builder.Build(
                new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, Accompaniment = company });
        int WrongBasses(Ladder l) => l.Playable.Skip(1).SelectMany(r => r.Played).Count(c => c.Choice.Closeness.WrongBass);
        Assert.True(WrongBasses(With(Core.Shapes.Accompaniment.Alone)) <= WrongBasses(With(Core.Shapes.Accompaniment.Record)));
    }
}
