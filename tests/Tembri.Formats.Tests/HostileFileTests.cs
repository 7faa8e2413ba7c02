using System.IO.Compression;
using System.Text;
using CsCheck;
using Tembri.Core.Charts;
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
        Refused("<html/>"u8.ToArray(), "not MusicXML");
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
        var xml = $"<?xml version=\"1.0\"?><!DOCTYPE score-partwise [<!ENTITY x SYSTEM \"file://{secret}\"><!ENTITY lol \"lol\"><!ENTITY lol2 \"&lol;&lol;\">]><score-partwise><work><work-title>&x;&lol2;</work-title></work></score-partwise>";
        var fault = Assert.Throws<FormatException>(() => ChartFiles.Read(xml));
        Assert.DoesNotContain("Am", fault.Message, StringComparison.Ordinal);
        File.Delete(secret);
    }

    [Fact]
    public void Cut_and_garbled_files_give_a_chart_or_a_sentence_never_a_fault()
    {
        var chart = ChartReader.Read("title: Salt\nkey: C\ntempo: 90\n[Verse]\n| C | Am . F . | 2/4 G7 | C |\n~ | C4 E4 | - | G4 | - |\n").Chart;
        var ladder = LadderBuilder.Build(new LadderRequest { Chart = chart, Player = new Player(), HighestCapo = 0 });
        var version = new VersionChart(ladder, ladder.Rungs[4]);
        byte[][] files = [.. new[] { ChartFormat.MusicXml, ChartFormat.Mxl, ChartFormat.Midi, ChartFormat.Json, ChartFormat.Bars }.Select(f => ChartFiles.Write(version, f).Bytes)];
        Gen.Select(Gen.Int[0, files.Length - 1], Gen.Int[0, 1_000_000], Gen.Int[0, 1_000_000].Array[0, 12], Gen.Byte.Array[12]).Sample((file, cut, places, values) =>
        {
            var data = files[file].AsSpan(0, cut % 3 == 0 ? cut % files[file].Length : files[file].Length).ToArray();
            for (var i = 0; i < places.Length && data.Length > 0; i++) data[places[i] % data.Length] = values[i];
            try { Assert.NotNull(ChartFiles.Read(data).Reading.Chart); }
            catch (FormatException e) { Assert.True(e.Message.Length > 10); }
        }, iter: 6_000, threads: 2);
    }

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
