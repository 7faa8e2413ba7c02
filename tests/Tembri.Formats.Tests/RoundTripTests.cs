using System.Text;
using CsCheck;
using NAudio.Midi;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Formats.Tests;

/// <summary>What is written is read back, but for what the writer says it cannot hold.</summary>
public sealed class RoundTripTests
{
    private static Chart Back(Chart chart, ChartFormat format)
    {
        var (reading, read) = ChartFiles.Read(ChartFiles.Write(chart, format).Bytes);
        Assert.True(read == format || format is ChartFormat.Brackets or ChartFormat.OverLyrics,
            $"{format} was taken for {read}");
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
                Assert.Equal(chart.Sections.SelectMany(s => s.Figures.Select(f => FigureText.Write(f, s.Bars))),
                    back.Sections.SelectMany(s => s.Figures.Select(f => FigureText.Write(f, s.Bars))));
            }, iter: 150, threads: 2);
    }

    [Fact]
    public void A_midi_file_keeps_chords_lengths_and_form_and_says_what_it_loses()
    {
        SampleCharts.Charts(words: false, tune: false)
            .Where(c => c.Played().First().Chord is not null && c.Played().Last().Chord is not null).Sample(chart =>
        {
            chart = chart with { TuningShift = 0 };
            var ladder = new LadderBuilder(new ResultCache())
                .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
            var version = new VersionChart(ladder, ladder.Played(5));
            var (reading, format) = ChartFiles.Read(ChartFiles.Write(version, ChartFormat.Midi).Bytes);
            Assert.Equal(ChartFormat.Midi, format);
            var back = reading.Chart;
            Assert.Equal(Sounds(chart), Sounds(back));
            Assert.Equal((chart.Key, chart.Title, chart.Meter), (back.Key, back.Title, back.Meter));
            Assert.Equal(chart.PlayedBars().First().Beats, back.PlayedBars().First().Beats);
            Assert.Equal(chart.Tempo,
                back.Tempo
                    * (chart.PlayedBars().First().Remarks.Any(r => r is "hold") ? 2
                        : chart.PlayedBars().First().Remarks.Contains("slow") ? 1 / 0.85
                        : 1), 0);
        }, iter: 60, threads: 2);
        Assert.Empty(ChartFiles.Losses(new Chart(), ChartFormat.MusicXml));
    }

    /// <summary>The chord that sounds at each eighth of the song.</summary>
    private static string Sounds(Chart chart)
    {
        var sounds = new StringBuilder();
        var flow = new ChordFlow(chart);
        foreach (var spell in flow.Sequence)
            sounds.Append(flow.Chords[spell.Chord].Name).Append(':')
                .Append(spell.Beats.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture)).Append(' ');
        return sounds.ToString();
    }

    [Theory]
    [InlineData(ChartFormat.MusicXml)]
    [InlineData(ChartFormat.Json)]
    [InlineData(ChartFormat.Midi)]
    public void A_rung_whose_capo_is_moved_up_is_read_back_as_it_sounds(ChartFormat format)
    {
        var chart = ChartReader.Read(
            "title: Up the Hill\nkey: G\nform: A, B\n[A]\n| G | D | Em | C |\n[B]\n| Ab | Eb | Fm | Db |\n").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, CapoUp = true, Capo = 2 });
        Assert.NotNull(ladder.Lift);
        var version = new VersionChart(ladder, ladder.Played(5));
        var back = ChartFiles.Read(ChartFiles.Write(version, format).Bytes).Reading.Chart;
        Assert.Equal(chart.Played().Select(s => s.Chord!.PitchClassMask), back.Played().Select(s => s.Chord!.PitchClassMask));
        Assert.Contains("too low", string.Join(" ", ChartFiles.Losses(version, ChartFormat.Bars)), StringComparison.Ordinal);
    }

    [Fact]
    public void What_a_file_loses_is_listed_one_by_one()
    {
        var chart = ChartReader.Read("title: Salt\nkey: C\ntuning: -1\nrecord capo: 2\nvoice: A2 to E4\nrecording: live, capo "
            + "3\nfrom: the attic\n[Verse]\nstrum: D-du-udu\n| [C]Salt [<G]sill | Am (slow) | N.C. | F (let it ring) |\n").Chart;
        var said = string.Join(" ", ChartFiles.Losses(chart, ChartFormat.Midi));
        foreach (var what in (string[])["Words", "slow-downs", "Remarks", "N.C.", "Pushed", "strums", "tuning", "capo",
            "recordings", "voice", "header"])
            Assert.Contains(what, said, StringComparison.Ordinal);
        Assert.Empty(ChartFiles.Losses(ChartReader.Read("| C | G |").Chart, ChartFormat.Midi));
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 3 });
        var version = new VersionChart(ladder, ladder.Playable.Last());
        Assert.Contains("Capo and tuning", string.Join(" ", ChartFiles.Losses(version, ChartFormat.Midi)),
            StringComparison.Ordinal);
        Assert.Contains("Shapes", Assert.Single(ChartFiles.Losses(version, ChartFormat.Json)), StringComparison.Ordinal);
        string Lost(int tuning, int capo)
        {
            var tuned = new LadderBuilder(new ResultCache())
                .Build(new ArrangementRequest
                {
                    Chart = chart with { TuningShift = tuning }, Kind = PlayerKind.Usual, Capo = capo
                });
            return string.Join(" ", ChartFiles.Losses(new VersionChart(tuned, tuned.Playable.Last()), ChartFormat.Bars));
        }
        Assert.Contains("one capo 2", Lost(-1, 3), StringComparison.Ordinal);
        Assert.Contains("change nothing", Lost(-1, 1), StringComparison.Ordinal);
        Assert.Contains("a semitone too high", Lost(-1, 0), StringComparison.Ordinal);
        Assert.DoesNotContain("apo", Lost(0, 3), StringComparison.Ordinal);
    }

    [Fact]
    public void Titles_and_names_of_sections_come_back_whatever_letters_they_have()
    {
        var chart = ChartReader.Read("title: Śnieg ♯1 – Über Ærø\nkey: C\n[Réfrain]\n| C | G |\n").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 });
        var back = ChartFiles.Read(
            ChartFiles.Write(new VersionChart(ladder, ladder.Playable.Last()), ChartFormat.Midi).Bytes).Reading.Chart;
        Assert.Equal((chart.Title, chart.Sections[0].Name), (back.Title, back.Sections[0].Name));
        Assert.Equal("“Salt” – 7’",
            ChartFiles.Read([.. "title: \u0093Salt\u0094 \u0096 7\u0092\n| C |".Select(c => (byte)c)]).Reading.Chart.Title);
    }

    /// <summary>A MIDI file of single notes: when in quarters, and the MIDI number.</summary>
    private static byte[] Notes(int meter, params (double At, double Length, int Pitch)[] notes)
    {
        var events = new MidiEventCollection(1, 480);
        for (var track = 0; track < 2; track++) events.AddTrack();
        events[0].Add(new TimeSignatureEvent(0, meter, 2, 24, 8));
        foreach (var (at, length, pitch) in notes)
        {
            var on = new NoteOnEvent((long)(480 * at), 1, pitch, 90, (int)(480 * length));
            events[1].Add(on);
            events[1].Add(on.OffEvent!);
        }
        events.PrepareForExport();
        using var bytes = new MemoryStream();
        MidiFile.Export(bytes, events);
        return bytes.ToArray();
    }

    /// <summary>Eighths of an arpeggio that ring until the bar ends.</summary>
    private static IEnumerable<(double, double, int)> Arpeggio(double at, double beats, params int[] pitches) =>
        Enumerable.Range(0, (int)(2 * beats)).Select(i => (at + i / 2.0, beats - i / 2.0, pitches[i % pitches.Length]));

    [Fact]
    public void Broken_chords_of_a_midi_file_are_read_and_said_to_be_told_from_single_notes()
    {
        var (reading, _) = ChartFiles.Read(Notes(4,
            [.. Arpeggio(0, 4, 48, 52, 55, 60), .. Arpeggio(4, 4, 45, 52, 57, 60), .. Arpeggio(8, 2, 41, 48, 53, 57),
                .. Arpeggio(10, 2, 43, 50, 55, 59), .. Arpeggio(12, 4, 48, 55, 60, 64)]));
        Assert.Equal(["C:4", "Am:4", "F:2", "G:2", "C:4"], reading.Chart.Played().Select(s => $"{s.Symbol}:{s.Beats}"));
        Assert.Contains("one after the other", Assert.Single(reading.Problems).Message, StringComparison.Ordinal);
        var waltz = ChartFiles.Read(Notes(3, [.. Arpeggio(0, 3, 40, 55, 59), .. Arpeggio(3, 3, 45, 57, 61, 64)])).Reading.Chart;
        Assert.Equal(["Em:3", "A:3"], waltz.Played().Select(s => $"{s.Symbol}:{s.Beats}"));
        // A scale is none, and that is said instead of naming it.
        var scale = ChartFiles.Read(Notes(4, [.. Enumerable.Range(0, 8).Select(i => ((double)i, 1.0, 60 + i))])).Reading;
        Assert.DoesNotContain(scale.Chart.Played(), s => s.Chord is not null);
        Assert.Contains("make no chord", Assert.Single(scale.Problems).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Chords_over_words_keep_chords_and_words()
    {
        var chart = ChartReader.Read(
            "title: Salt\nkey: C\n[Verse]\n| [C]Salt on the [G]sill and | [Am]so the kettle | [F]sings |\n").Chart;
        var losses = ChartFiles.Losses(chart, ChartFormat.OverLyrics);
        Assert.Contains(losses, l => l.Contains("every chord becomes a bar", StringComparison.Ordinal));
        var back = Back(chart, ChartFormat.OverLyrics);
        Assert.Equal(["C", "G", "Am", "F"], back.Played().Select(s => s.Symbol));
        Assert.Equal(["Salt on the", "sill and", "so the kettle", "sings"], back.Played().Select(s => s.Lyric.Trim()));
    }

    /// <summary>Shapes that look as if they were in the key that sounds; a key of shapes goes by them where nothing says
    /// otherwise.</summary>
    [Theory]
    [InlineData(ChartFormat.Bars)]
    [InlineData(ChartFormat.Brackets)]
    public void A_rung_whose_shapes_look_like_its_key_sounds_in_its_key(ChartFormat format)
    {
        var chart = ChartReader.Read("title: Kites\nkey: C\n| F | Am | C | G |\n| F | Am | C | G |\n| F | C | F | Dm |\n| C | F | F | G |\n| F | Dm | F | Dm |\n| F | Am | C | G |\n")
            .Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 5 });
        var version = new VersionChart(ladder, ladder.Playable.Last());
        var text = Encoding.UTF8.GetString(ChartFiles.Write(version, format).Bytes);
        Assert.Contains("sounding key: C", text, StringComparison.Ordinal);
        Assert.Equal(("C", 5), (ChartReader.Read(text).Chart.Key.ToString(), ChartReader.Read(text).Chart.RecordCapo));
        Assert.Equal("F", ChartReader.Read(text.Replace("sounding ", "", StringComparison.Ordinal)).Chart.Key.ToString());
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
        var ladder =
            new LadderBuilder(new ResultCache()).Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual });
        Assert.Equal(1, ladder.Capo);
        foreach (var rung in ladder.Playable)
        {
            var version = new VersionChart(ladder, rung);
            var back = ChartFiles.Read(ChartFiles.Write(version, format).Bytes).Reading.Chart;
            Assert.Equal(rung.Played.Select(c => c.Choice.Played.Transpose(ladder.ShapeKey, chart.Key).PitchClassMask),
                back.Played().Select(s => s.Chord!.PitchClassMask));
            Assert.Equal("A♭", back.Key.ToString());
        }
    }
}
