using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Core.Tests.Ladders;

/// <summary>A version made by hand is scored as the arranger's own would be.</summary>
public sealed class HandMadeTests
{
    private static HandMade Made(Ladder ladder, ArrangementRequest request, Chart chart, int capo,
        IReadOnlyDictionary<string, Fingering>? shapes = null) =>
        HandMade.Of(new HandWriting("mine", chart, capo, shapes ?? new Dictionary<string, Fingering>(), 3), request, ladder,
            Known.Results);

    [Fact]
    public void A_rung_written_out_by_hand_scores_what_the_rung_scores()
    {
        var compared = 0;
        Gen.Select(LadderTests.Songs, Gen.Int[0, 5], Gen.Int[1, 5]).Sample((chart, capo, number) =>
        {
            var request = new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = capo };
            var ladder = Known.Builder.Build(request);
            if (ladder.Find(number) is not PlayableRung rung) return;
            // One name, one shape; what stands in twice under one name cannot be written without a doubt, and what is left out
            // is scored as left out.
            if (rung.Chords.Any(c => c.IsSecond || c is LeftOutChord)
                || rung.Played.GroupBy(c => c.Choice.Played.Name)
                    .Any(g => g.Select(c => c.Choice.Fingering.ToString()).Distinct().Count() > 1) || rung.Song.Kept < 1)
                return;
            if (rung.Played.GroupBy(c => c.Choice.Played.Name).Any(g => g.Count() > 1)) return;
            var written = ChartReader.Read(ChartWriter.Write(new VersionChart(ladder, rung).Chart)).Chart;
            var made = Made(ladder, request, written, rung.Capo,
                rung.Played.ToDictionary(c => c.Choice.Played.Name, c => c.Choice.Fingering));
            Assert.Equal(0, made.Semitones);
            Assert.Equal(rung.Load, made.Rung.Load, 1e-6);
            Assert.Equal(0, made.LeftOutBars + made.AddedBars);
            // The tune is not in the version, so it cannot clash there.
            if (rung.Song.Flow.Melody.All(m => m == 0)) Assert.Equal(rung.Closeness, made.Rung.Closeness, 1e-6);
            Assert.All(made.Bars, b => Assert.True(made.Beside != rung || !b.IsHeavier && !b.IsPoorer));
            Interlocked.Increment(ref compared);
        }, iter: 60, threads: 2);
        Assert.True(compared > 4, $"{compared} rungs could be compared");
    }

    private static readonly ArrangementRequest Song = new()
    {
        Chart = ChartReader.Read("key: G\ntempo: 90\n| G | D7 | C | D7 | G | Em | C | D7 |").Chart, Kind = PlayerKind.Usual,
        Capo = 0
    };
    private static readonly Ladder Its = Known.Builder.Build(Song);

    /// <summary>Suspensions without a third are those of other chords as well: what says the record's key is with it, and what
    /// says none, or another, is where its tones are.</summary>
    [Theory]
    [InlineData("key: D\n| Dsus2 | Asus2 |", 0)]
    [InlineData("| Dsus2 | Asus2 |", -5)]
    [InlineData("key: D\n| D | A |", 0)]
    [InlineData("key: F\n| F | C |", 3)]
    [InlineData("key: D\n| F# | C# |", 4)]
    public void A_version_that_says_the_key_of_the_record_is_with_it(string version, int semitones)
    {
        var song = new ArrangementRequest
        {
            Chart = ChartReader.Read("key: Eb\n| Ebsus4 | Bb |").Chart, Kind = PlayerKind.Usual, Capo = 1
        };
        Assert.Equal(semitones, Made(Known.Builder.Build(song), song, ChartReader.Read(version).Chart, 1).Semitones);
    }

    [Fact]
    public void A_bar_left_out_is_found_and_counts_as_silence()
    {
        var whole = Made(Its, Song, Song.Chart, 0);
        var less = Made(Its, Song, ChartReader.Read("key: G\n| G | D7 | C | D7 | G | C | D7 |").Chart, 0);
        Assert.Equal((1, 0), (less.LeftOutBars, less.AddedBars));
        Assert.Equal([(0, 5)], less.Bars.Where(b => b.Own is null).Select(b => (b.Section, b.Bar)));
        Assert.True(less.Rung.Closeness < whole.Rung.Closeness - 0.08, $"{less.Rung.Closeness} {whole.Rung.Closeness}");
        var more = Made(Its, Song, ChartReader.Read("key: G\n| G | D7 | C | D7 | A7 | G | Em | C | D7 |").Chart, 0);
        Assert.Equal((0, 1), (more.LeftOutBars, more.AddedBars));
    }

    /// <summary>Set beside each other by what they have in common, the first bar would be left out and one put in at the
    /// end.</summary>
    [Fact]
    public void A_version_of_as_many_bars_is_taken_bar_by_bar()
    {
        var turned = Made(Its, Song, ChartReader.Read("key: G\n| D7 | C | D7 | G | Em | C | D7 | G |").Chart, 0);
        Assert.Equal((0, 0), (turned.LeftOutBars, turned.AddedBars));
        Assert.Equal(Enumerable.Range(0, 8).Select(i => (int?)i), turned.Bars.Select(b => b.Own));
    }

    [Fact]
    public void A_run_of_a_version_by_hand_stays_on_its_strings_behind_a_capo()
    {
        // High on the lowest strings, where nobody would look for these notes first.
        var chart = ChartReader.Read("key: G\n[Verse]\nfigure: | 6/8 6/10 5/7 5/9 |\n| G | D7 | C | D7 |").Chart;
        foreach (var capo in new[] { 0, 3 })
            Assert.Equal([8, 10, 7, 9], Made(Its, Song, chart, capo).Rung.Figures[0].Path!.Places.Select(p => p.Fret));
    }

    [Fact]
    public void A_change_nobody_hears_takes_from_the_sound()
    {
        var made = Made(Its, Song, ChartReader.Read("key: G\n| G | G | C | C | G | G | C | C |").Chart, 0);
        // Every bar is as long as the others; of seven changes four are not heard.
        var bars = made.Bars.Average(b => b.Closeness);
        Assert.Equal(bars * (1 - ArrangerWeights.Default.UnheardChange * 4 / 7.0), made.Rung.Closeness, 1e-9);
    }

    [Fact]
    public void A_version_in_another_key_is_said_to_be_so_and_graded_moved()
    {
        var here = Made(Its, Song, Song.Chart, 0);
        var moved = Made(Its, Song, ChartTransposer.Move(Song.Chart, Song.Chart.Key.Transpose(5), 5), 0);
        Assert.Equal(5, moved.Semitones);
        Assert.True(moved.Rung.Closeness > 0.8 * here.Rung.Closeness);
        Assert.Equal(-2, Made(Its, Song, ChartTransposer.Move(Song.Chart, Song.Chart.Key.Transpose(-2), -2), 0).Semitones);
    }

    [Fact]
    public void What_is_heavier_or_poorer_is_told_bar_by_bar()
    {
        var heavy = new FingeringFinder(new Core.Fretboard.NeckGeometry(Song.Kind.Guitar, 0), Song.Kind.Hand, Song.Kind.Thumb)
            .Best(Shape.Parse("355433"))!;
        var made = Made(Its, Song, ChartReader.Read("key: G\n| G | Bb | C | D7 | G | Em | C | D7 |").Chart, 0,
            new Dictionary<string, Fingering> { ["G"] = heavy });
        Assert.Equal([0, 4], made.Bars.Where(b => b.IsHeavier && b.Bar is 0 or 4).Select(b => b.Bar));
        Assert.True(made.Bars[1].IsPoorer && made.Bars[1].Closeness < 0.6);
        Assert.NotNull(made.Better);
        Assert.True(made.Better!.Load <= made.Rung.Load && made.Better.Closeness >= made.Rung.Closeness);
        // It is a ladder like any other: it can be graded and written.
        var fit = new StudentLadder(made.Ladder, new Player()).FitOf(made.Rung)!;
        Assert.InRange(fit.Value, 0, 1);
        Assert.Equal("Bb",
            new VersionChart(made.Ladder, made.Rung).Chart.Sections[0].Bars[1].Slots[0].Chord!.ToString().Replace('♭', 'b'));
    }
}
