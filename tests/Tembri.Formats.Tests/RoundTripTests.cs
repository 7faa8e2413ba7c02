using System.Text;
using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Formats.Tests;

/// <summary>What is written is read back, but for what the writer says it cannot hold.</summary>
public sealed class RoundTripTests
{
    private static Chart Back(Chart chart, ChartFormat format)
    {
        var (reading, read) = ChartFiles.Read(ChartFiles.Write(chart, format).Bytes);
        Assert.True(read == format || format is ChartFormat.Brackets or ChartFormat.OverLyrics, $"{format} was taken for {read}");
        Assert.Empty(reading.Problems);
        return reading.Chart;
    }

    [Theory]
    [InlineData(ChartFormat.Json)]
    [InlineData(ChartFormat.Bars)]
    [InlineData(ChartFormat.Brackets)]
    [InlineData(ChartFormat.MusicXml)]
    [InlineData(ChartFormat.Mxl)]
    public void Formats_that_hold_everything_lose_nothing(ChartFormat format)
    {
        foreach (var (words, tune) in new[] { (false, false), (true, false), (false, true) })
            SampleCharts.Charts(words, tune).Sample(chart =>
            {
                var back = Back(chart, format);
                Assert.Equal(SampleCharts.Facts(chart), SampleCharts.Facts(back));
                Assert.Equal((chart.TuningShift, chart.RecordCapo), (back.TuningShift, back.RecordCapo));
                Assert.Equal(chart.Recordings, back.Recordings);
                Assert.Equal(chart.Extra, back.Extra);
                Assert.Equal(chart.Sections.Select(s => s.Strum), back.Sections.Select(s => s.Strum));
            }, iter: 150, threads: 2);
    }

    [Fact]
    public void A_midi_file_keeps_chords_lengths_and_form_and_says_what_it_loses()
    {
        SampleCharts.Charts(words: false, tune: false).Where(c => c.Played().First().Chord is not null && c.Played().Last().Chord is not null).Sample(chart =>
        {
            // Silence inside is not a chord name, so it is told from the chord before it only by its notes; the comparison leaves it out.
            chart = chart with { Sections = [.. chart.Sections.Select(s => s with { Bars = [.. s.Bars.Select(b => b with { Slots = [.. b.Slots.Select(x => x.Chord is null ? x with { Symbol = "C", Chord = Core.Chords.Chord.Parse("C") } : x)] })] })], TuningShift = 0 };
            var ladder = new LadderBuilder(new ResultCache()).Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
            var version = new VersionChart(ladder, ladder.Played(5));
            var (reading, format) = ChartFiles.Read(ChartFiles.Write(version, ChartFormat.Midi).Bytes);
            Assert.Equal(ChartFormat.Midi, format);
            var back = reading.Chart;
            Assert.Equal(Sounds(chart), Sounds(back));
            Assert.Equal((chart.Key, chart.Title), (back.Key, back.Title));
            Assert.Equal(chart.Tempo, back.Tempo * (chart.PlayedBars().First().Remarks.Any(r => r is "hold") ? 2 : chart.PlayedBars().First().Remarks.Contains("slow") ? 1 / 0.85 : 1), 0);
        }, iter: 60, threads: 2);
        Assert.NotEmpty(ChartFiles.Losses(new Chart(), ChartFormat.Midi));
        Assert.Empty(ChartFiles.Losses(new Chart(), ChartFormat.MusicXml));
    }

    /// <summary>The chord that sounds at each eighth of the song.</summary>
    private static string Sounds(Chart chart)
    {
        var sounds = new StringBuilder();
        var flow = new ChordFlow(chart);
        foreach (var spell in flow.Sequence) sounds.Append(flow.Chords[spell.Chord].Name).Append(':').Append(spell.Beats.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture)).Append(' ');
        return sounds.ToString();
    }

    [Fact]
    public void Chords_over_words_keep_chords_and_words()
    {
        var chart = ChartReader.Read("title: Salt\nkey: C\n[Verse]\n| [C]Salt on the [G]sill and | [Am]so the kettle | [F]sings |\n").Chart;
        var losses = ChartFiles.Losses(chart, ChartFormat.OverLyrics);
        Assert.Contains(losses, l => l.Contains("every chord becomes a bar", StringComparison.Ordinal));
        var back = Back(chart, ChartFormat.OverLyrics);
        Assert.Equal(["C", "G", "Am", "F"], back.Played().Select(s => s.Symbol));
        Assert.Equal(["Salt on the", "sill and", "so the kettle", "sings"], back.Played().Select(s => s.Lyric.Trim()));
    }

    [Theory]
    [InlineData(ChartFormat.Bars)]
    [InlineData(ChartFormat.Brackets)]
    [InlineData(ChartFormat.MusicXml)]
    [InlineData(ChartFormat.Json)]
    [InlineData(ChartFormat.Midi)]
    public void A_rung_read_back_sounds_as_it_is_played(ChartFormat format)
    {
        var chart = ChartReader.Read("title: Kites\nkey: Ab\ntempo: 80\n[Verse]\n| Fm7 | Dbadd9 | Ab | Ebsus4 |\n").Chart;
        var ladder = new LadderBuilder(new ResultCache()).Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual });
        Assert.Equal(1, ladder.Capo);
        foreach (var rung in ladder.Playable)
        {
            var version = new VersionChart(ladder, rung);
            var back = ChartFiles.Read(ChartFiles.Write(version, format).Bytes).Reading.Chart;
            Assert.Equal(rung.Chords.Select(c => c.Choice.Played.Transpose(ladder.ShapeKey, chart.Key).PitchClassMask), back.Played().Select(s => s.Chord!.PitchClassMask));
            Assert.Equal("A♭", back.Key.ToString());
        }
    }
}
