using System.IO.Compression;
using System.Text;
using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;
using Tembri.Core.Students;

namespace Tembri.Formats.Tests;

/// <summary>Files that are damaged, too large or meant to harm end in one clear sentence.</summary>
public sealed class HostileFileTests
{
    private static void Refused(byte[] file, string words)
    {
        var fault = Assert.Throws<FormatException>(() => ChartFiles.Read(file));
        Assert.Contains(words, fault.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Large_deep_and_bombing_files_are_refused()
    {
        Refused([], "empty");
        Refused(new byte[ChartFiles.LargestFile + 1], "5 MB is the most");
        Refused(Encoding.UTF8.GetBytes("<score-partwise>" + string.Concat(Enumerable.Repeat("<a>", 500))), "nested more than");
        Refused("<opus/>"u8.ToArray(), "not MusicXML");
        Refused("<html><body><p>Am C</p></body></html>"u8.ToArray(), "web page");
        Refused("{\"format\":\"other\"}"u8.ToArray(), "not a chart");
        Refused([0, 1, 2, 0, 255], "neither text nor");
        using var bytes = new MemoryStream();
        using (var zip = new ZipArchive(bytes, ZipArchiveMode.Create, true))
        {
            using var entry = zip.CreateEntry("score.musicxml").Open();
            var zeros = new byte[1_000_000];
            for (var i = 0; i < 60; i++) entry.Write(zeros);
        }
        Refused(bytes.ToArray(), "unpacks to more than");
    }

    [Fact]
    public void Entities_are_neither_fetched_nor_expanded()
    {
        var secret = Path.GetTempFileName();
        File.WriteAllText(secret, "Am");
        var xml =
            $"<?xml version=\"1.0\"?><!DOCTYPE score-partwise [<!ENTITY x SYSTEM \"file://{secret}\"><!ENTITY lol "
                + "\"lol\"><!ENTITY lol2 \"&lol;&lol;\">]><score-partwise><work><work-title>&x;&lol2;</work-title></work></score-partwise>";
        var fault = Assert.Throws<FormatException>(() => ChartFiles.Read(xml));
        Assert.DoesNotContain("Am", fault.Message, StringComparison.Ordinal);
        File.Delete(secret);
    }

    [Fact]
    public void Cut_and_garbled_files_give_a_chart_or_a_sentence_never_a_fault()
    {
        var chart = ChartReader.Read(
            "title: Salt\nkey: C\ntempo: 90\n[Verse]\n| C | Am . F . | 2/4 G7 | C |\n~ | C4 E4 | - | G4 | - |\n").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, HighestCapo = 0 });
        var version = new VersionChart(ladder, ladder.Played(5));
        byte[][] files = [.. new[]
        {
            ChartFormat.MusicXml, ChartFormat.Mxl, ChartFormat.Midi, ChartFormat.Json, ChartFormat.Bars
        }.Select(f => ChartFiles.Write(version, f).Bytes)];
        Gen.Select(Gen.Int[0, files.Length - 1], Gen.Int[0, 1_000_000], Gen.Int[0, 1_000_000].Array[0, 12], Gen.Byte.Array[12])
            .Sample((file, cut, places, values) =>
        {
            var data = files[file].AsSpan(0, cut % 3 == 0 ? cut % files[file].Length : files[file].Length).ToArray();
            for (var i = 0; i < places.Length && data.Length > 0; i++) data[places[i] % data.Length] = values[i];
            try { Assert.NotNull(ChartFiles.Read(data).Reading.Chart); }
            catch (FormatException e) { Assert.True(e.Message.Length > 10); }
        }, iter: 3_000, threads: 2);
    }

    private static string Repository { get; } = Find(AppContext.BaseDirectory);

    private static string Find(string from) =>
        File.Exists(Path.Combine(from, "Tembri.slnx")) ? from : Find(Path.GetDirectoryName(from)!);

    /// <summary>Reads as the application does, writes in every format, reads again and looks for doubts; answers the most memory
    /// a single step asked for.</summary>
    private static double MostMegabytes(byte[] data)
    {
        var most = 0.0;
        T Step<T>(Func<T> act)
        {
            var before = GC.GetAllocatedBytesForCurrentThread();
            var result = act();
            most = Math.Max(most, (GC.GetAllocatedBytesForCurrentThread() - before) / 1e6);
            return result;
        }
        ChartReading reading;
        try { reading = Step(() => ChartFiles.Read(data).Reading); }
        catch (FormatException e)
        {
            Assert.True(e.Message.Length > 10);
            return most;
        }
        Assert.All(reading.Problems, p => Assert.True(p.Line >= 1 && p.Column >= 1 && p.Message.Length > 10));
        Assert.True(reading.Problems.Count <= ChartLimits.MostProblems + 1);
        Assert.True(reading.Chart.Sections.Sum(s => s.Bars.Count) <= ChartLimits.MostBars
            && reading.Chart.PlayedBars().Count() <= ChartLimits.MostPlayedBars);
        var text = "";
        foreach (var format in Enum.GetValues<ChartFormat>().Where(f => f != ChartFormat.Midi))
        {
            var written = Step(() => ChartFiles.Write(reading.Chart, format).Bytes);
            if (format == ChartFormat.Bars) text = Encoding.UTF8.GetString(written);
        }
        if (text.Length <= ChartLimits.LongestText) Step(() => ChartReader.Read(text));
        Step(() => Tembri.Core.Checking.DoubtFinder.Find(text, reading.Chart));
        return most;
    }

    [Fact]
    public void Every_kept_input_ends_in_a_chart_or_a_sentence_within_100_megabytes() =>
        Assert.All(Hostile.HostileInputs.Kept(Repository), input => Assert.True(MostMegabytes(input.Data) < 100, input.Name));

    [Fact]
    public void Generated_inputs_end_in_a_chart_or_a_sentence_within_100_megabytes()
    {
        var inputs = new Hostile.HostileInputs();
        for (var number = 0; number < 600; number++)
        {
            var input = inputs.Make(number);
            Assert.True(MostMegabytes(input.Data) < 100, input.Name);
        }
    }

    [Fact]
    public void What_goes_beyond_a_limit_is_left_out_and_said_at_its_place()
    {
        static (ChartReading Reading, string Said) Read(string text) =>
            ChartReader.Read(text) is var reading
                ? (reading, string.Join('\n', reading.Problems.Select(p => $"{p.Line}: {p.Message}")))
                : default;
        var (form, said) = Read("[Q]\n| C | G |\nform: Q x20" + string.Concat(Enumerable.Repeat(", Q x20", 299)));
        Assert.Contains("3: A form has at most 100 parts", said, StringComparison.Ordinal);
        Assert.Equal((100, 4_000), (form.Chart.Form.Count, form.Chart.PlayedBars().Count()));
        (form, said) = Read("[Q]\n" + string.Concat(Enumerable.Repeat("| C | G | Am | F | x20\n", 3)) + "form: Q x20");
        Assert.Contains("A form plays at most 4,000 bars", said, StringComparison.Ordinal);
        Assert.Equal(16 * 240, form.Chart.PlayedBars().Count());
        Assert.Contains("201: A chart has at most 4,000 bars", Read(string.Concat(Enumerable.Repeat("| C | x20\n", 201))).Said,
            StringComparison.Ordinal);
        Assert.Contains("201",
            string.Join(' ',
                ChartReader.Read(string.Concat(Enumerable.Range(1, 201).Select(i => $"[Part {i}]\n| C |\n"))).Problems.Select(
                    p => (p.Line + 1) / 2)), StringComparison.Ordinal);
        (_, said) = Read("| C " + string.Concat(Enumerable.Repeat(". ", 200)) + "| G |");
        Assert.Contains("1: A bar has at most 32 chords and 96 beats", said, StringComparison.Ordinal);
        Assert.Contains("1: This line has 8,001 characters", Read(new string('x', 8_001)).Said, StringComparison.Ordinal);
        // The rest of the chart is read all the same.
        Assert.Equal(2,
            Read("| C " + string.Concat(Enumerable.Repeat(". ", 200)) + "| G |").Reading.Chart.Sections[0].Bars.Count);
    }

    [Fact]
    public void A_packed_file_with_a_wrong_checksum_is_refused()
    {
        var chart = ChartReader.Read("| C | F |").Chart;
        var packed = ChartFiles.Write(chart, ChartFormat.Mxl).Bytes;
        // The checksum of the score stands at offset 16 of its entry in the directory, the last one.
        var directory = packed.AsSpan().LastIndexOf("PK\x01\x02"u8);
        packed[directory + 16] ^= 0xFF;
        Refused(packed, "checksum");
    }

    [Fact]
    public void Empty_places_and_numbers_from_elsewhere_in_json_are_left_out_and_said()
    {
        const string Json = """
            {"format":"tembri chart","version":1,"title":"a\u0000b\nc","sections":[null,{"name":"A]|","as":"Nobody","ownBars":[7],"bars":[null,{"slots":[null,{"chord":"C","beats":4}],"melody":[null,{"pitch":"C4","at":1e300,"beats":1},{"pitch":"E4","at":1,"beats":99}],"remarks":[null]}]}],"form":[null,{"section":"A)/","times":99}],"takes":[null,{"name":"live","capo":99,"tuning":-99,"tempo":1e9}]}
            """;
        var (reading, _) = ChartFiles.Read(Encoding.UTF8.GetBytes(Json));
        var section = Assert.Single(reading.Chart.Sections);
        Assert.Equal(("ab c", "A)/", null), (reading.Chart.Title, section.Name, section.Like));
        Assert.Equal([(1.0, 3.0)], section.Bars[0].Melody.Select(n => (n.At, n.Beats)));
        Assert.Equal(new Recording("live", 11, -7, null), Assert.Single(reading.Chart.Recordings));
        Assert.Equal(new FormPart("A)/", 20), Assert.Single(reading.Chart.Form));
        Assert.Contains(reading.Problems, p => p.Message.Contains("empty place among the sections", StringComparison.Ordinal));
        // And its text comes back the same.
        var again = ChartReader.Read(ChartWriter.Write(reading.Chart)).Chart;
        Assert.Equal((1, "C"), (again.Sections.Count, again.Sections[0].Bars[0].Slots[0].Symbol));
    }

    [Theory]
    [InlineData("a🎸b", 2, "a")]
    [InlineData("a🎸b", 3, "a🎸")]
    [InlineData("e\u0301x", 1, "")]
    [InlineData("plain", 10, "plain")]
    public void Text_is_never_cut_inside_what_a_reader_sees_as_one_letter(string text, int longest, string cut) =>
        Assert.Equal(cut, PlainText.Cut(text, longest));

    [Fact]
    public void Block_chords_without_names_are_named_by_their_notes()
    {
        var events = new NAudio.Midi.MidiEventCollection(1, 96);
        void Chord(int bar, params int[] pitches)
        {
            foreach (var p in pitches)
            {
                events.AddEvent(new NAudio.Midi.NoteOnEvent(bar * 384, 1, p, 80, 380), 1);
                events.AddEvent(new NAudio.Midi.NoteEvent(bar * 384 + 380, 1, NAudio.Midi.MidiCommandCode.NoteOff, p, 0), 1);
            }
        }
        events.AddEvent(new NAudio.Midi.TempoEvent(600_000, 0), 0);
        Chord(0, 48, 52, 55, 60);
        Chord(1, 45, 52, 57, 60);
        Chord(2, 47, 50, 55, 62);
        Chord(3, 43, 50, 53, 59);
        events.PrepareForExport();
        using var bytes = new MemoryStream();
        NAudio.Midi.MidiFile.Export(bytes, events);
        var chart = ChartFiles.Read(bytes.ToArray()).Reading.Chart;
        Assert.Equal(["C", "Am", "G/B", "G7"], chart.Played().Select(s => s.Chord!.Name));
        Assert.Equal(100, chart.Tempo);
    }
}
