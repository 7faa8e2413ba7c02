using System.Text;
using System.Xml.Linq;
using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Figures;
using Tembri.Core.Ladders;
using static Tembri.Formats.Tests.MusicXmlTests;

namespace Tembri.Formats.Tests;

/// <summary>Riffs, tablature, tunings and dynamics of a score.</summary>
public sealed class MusicXmlFigureTests
{
    [Fact]
    public void A_riff_is_written_as_notes_with_string_fret_and_finger_where_the_version_plays_it()
    {
        var chart = ChartReader.Read("key: C\ntempo: 90\n[Intro]\nfigure: | C3 . D3 hE3 | F3 . . . |\n| C | F |").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        var bytes = ChartFiles.Write(new VersionChart(ladder, ladder.Played(5)), ChartFormat.MusicXml).Bytes;
        MusicXmlTests.Check(bytes);
        var notes = XDocument.Parse(Encoding.UTF8.GetString(bytes)).Descendants("note")
            .Where(n => n.Element("voice")?.Value == "2").ToList();
        Assert.Equal(["C3", "D3", "E3", "F3"],
            notes.Select(n => n.Element("pitch")!.Element("step")!.Value + n.Element("pitch")!.Element("octave")!.Value));
        // Where string and fret say they are, the pitch is.
        Assert.All(notes, n =>
        {
            var technical = n.Element("notations")!.Element("technical")!;
            var midi = new[] { 64, 59, 55, 50, 45, 40 }[(int)technical.Element("string")! - 1] + (int)technical.Element("fret")!;
            Assert.Equal(midi,
                12 * ((int)n.Element("pitch")!.Element("octave")! + 1)
                    + "C D EF G A B".IndexOf(n.Element("pitch")!.Element("step")!.Value, StringComparison.Ordinal));
        });
        Assert.Equal(["start", "stop"],
            notes.SelectMany(n => n.Descendants("hammer-on")).Select(h => h.Attribute("type")!.Value));
        Assert.Contains(notes, n => n.Descendants("fingering").Any());
    }

    [Fact]
    public void A_riff_of_another_program_is_read_from_its_tablature_with_tuning_capo_and_ornaments()
    {
        static string Tab(int number, int fret, int duration, string more = "", string tie = "", string chord = "") =>
            $"<note>{chord}<pitch><step>C</step><octave>4</octave></pitch><duration>{duration}</duration>{tie}<voice>5</voice><staff>2</staff><notations><technical><string>{number}</string><fret>{fret}</fret>{(more.StartsWith("<slide", StringComparison.Ordinal) ? "" : more)}</technical>{(more.StartsWith("<slide", StringComparison.Ordinal) ? more : "")}</notations></note>";
        static string Type(string name, string type) => $"<{name} type=\"{type}\"/>";
        const string Back = "<backup><duration>16</duration></backup>";
        const string Rest = "<note><rest/><duration>16</duration><voice>1</voice><staff>1</staff></note>";
        string[] open = ["D2", "A2", "D3", "G3", "B3", "E4"];
        var tunings = string.Concat(open.Select((o, i) =>
            $"<staff-tuning line=\"{i + 1}\"><tuning-step>{o[0]}</tuning-step><tuning-octave>{o[1]}</tuning-octave></staff-tuning>"));
        var (chart, problems) = Read($"""
            <measure number="1"><attributes><divisions>4</divisions><key><fifths>1</fifths><mode>major</mode></key><time><beats>4</beats><beat-type>4</beat-type></time><staves>2</staves><staff-details number="2"><staff-lines>6</staff-lines>{tunings}<capo>2</capo></staff-details></attributes>
            {Harmony("G", "major")}{Rest}{Back}{Tab(6, 0, 4)}{Tab(6, 3, 2, Type("hammer-on", "stop"))}{Tab(5, 0, 2)}{Tab(4, 4, 4, "<slide type=\"stop\"/>")}{Tab(3, 2, 4, "", Type("tie", "start"))}</measure>
            <measure number="2">{Harmony("D", "major")}{Rest}{Back}{Tab(3, 2, 4, "", Type("tie", "stop"))}{Tab(2, 3, 8, "<bend><bend-alter>2</bend-alter></bend>")}{Tab(1, 0, 4)}{Tab(4, 2, 4, "", "", "<chord/>")}</measure>
            <measure number="3">{Harmony("C", "major")}{Rest}{Back}{Tab(5, 3, 16)}{Tab(4, 2, 16, "", "", "<chord/>")}{Tab(3, 0, 16, "", "", "<chord/>")}</measure>
            <measure number="4">{Harmony("G", "major")}{Rest}{Back}<forward><duration>8</duration></forward>{Tab(6, 5, 8, Type("pull-off", "stop"))}</measure>
            """);
        Assert.Equal(("drop D", 0, 2), (chart.Strings.Name, chart.TuningShift, chart.RecordCapo));
        var section = Assert.Single(chart.Sections);
        // The measure in which three strings are struck together is a strum; it parts two figures.
        Assert.Equal(["figure: | 6/0 . h6/3 5/0 s4/4 . 3/2 . | . 2/3 bF♯4 1/0 |", "figure at bar 4: | - p6/5 |"],
            section.Figures.Select(f => FigureText.Write(f, section.Bars)));
        // With the capo on, string 6 sounds E; bent up by two from the third fret of string 2: B3 and 2, 3 and 2 more.
        Assert.Equal([40, 43, 47, 56, 59, 59, 64, 66, 66], section.Figures[0].Notes.Select(n => n.Pitch.Midi));
        Assert.Contains("two strings are picked together", Assert.Single(problems).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Figures_come_back_from_their_notes_alone()
    {
        var note = Gen.Select(Gen.Int[0, 5], Gen.Int[0, 12], Gen.Int[1, 6], Gen.Int[0, 5]);
        Gen.Select(note.Array[1, 10], Gen.Int[0, 5], Gen.Int[0, Core.Fretboard.Tuning.Known.Count - 1], Gen.Int[-2, 0])
            .Sample((notes, rest, tuning, shift) =>
        {
            var chart = ChartReader.Read(
                    "key: G\ntempo: 90\n| G | D | C | G | D | C | G | G | Em | C | D | G | G | C | D | G |").Chart
                with { Strings = Core.Fretboard.Tuning.Known[tuning].Tuning, TuningShift = shift };
            var (section, at) = (chart.Sections[0], rest * 0.5);
            var written = new List<FigureNote>();
            foreach (var (s, fret, halves, how) in notes)
            {
                // A note stays in its bar here; what rings over a bar line is tied, which is told apart below.
                var beats = Math.Min(halves * 0.5, 4 - at % 4);
                var ornament = written.Count == 0 ? Ornament.None : (Ornament)Math.Min(how, 3);
                written.Add(new FigureNote(Core.Music.Pitch.FromMidi(chart.StringsAtRecord.Strings[s] + fret, chart.Key), at,
                    beats, ornament, new StringFret(s, fret)));
                at += beats;
            }
            // A figure is cut where a measure has none of its notes: begin where it begins.
            var figure = new Figure(0, written);
            var bytes =
                ChartFiles.Write(chart with { Sections = [section with { Figures = [figure] }] }, ChartFormat.MusicXml).Bytes;
            var document = XDocument.Parse(Encoding.UTF8.GetString(bytes));
            MusicXmlTests.Check(bytes);
            document.Descendants("miscellaneous").Remove();
            var read = ChartFiles.Read(document.ToString()).Reading;
            Assert.Empty(read.Problems);
            Assert.Equal((chart.Strings.Name, chart.TuningShift), (read.Chart.Strings.Name, read.Chart.TuningShift));
            var back = Assert.Single(read.Chart.Sections[0].Figures);
            var offset = section.Bars.Take(back.Bar).Sum(b => b.Beats);
            Assert.Equal(written, back.Notes.Select(n => n with { At = n.At + offset }));
        }, iter: 200);
    }

    [Fact]
    public void Loud_and_soft_sections_have_their_dynamics_where_they_change()
    {
        var chart = ChartReader.Read("key: C\nform: Verse, Chorus, Bridge, Chorus\n[Verse]\nstrum: D-du, soft\n| C "
            + "|\n[Chorus]\nstrum: D-du, loud\n| F |\n[Bridge]\n| G |").Chart;
        var bytes = ChartFiles.Write(chart, ChartFormat.MusicXml).Bytes;
        MusicXmlTests.Check(bytes);
        Assert.Equal(["p", "f", "mf", "f"],
            XDocument.Parse(Encoding.UTF8.GetString(bytes)).Descendants("dynamics")
                .Select(d => d.Elements().Single().Name.LocalName));
    }

    private static string Fretted(int number, int fret, int duration) =>
        $"<note><pitch><step>C</step><octave>4</octave></pitch><duration>{duration}</duration><voice>1</voice><notations><technical><string>{number}</string><fret>{fret}</fret></technical></notations></note>";

    private static ChartReading ReadParts(params string[] parts) => ChartFiles.Read($"""
        <?xml version="1.0"?>
        <score-partwise version="4.0"><part-list>{string.Concat(parts.Select((_, i) => $"<score-part id=\"P{i}\"><part-name>Part {i}</part-name></score-part>"))}</part-list>{string.Concat(parts.Select((p, i) => $"<part id=\"P{i}\">{p}</part>"))}</score-partwise>
        """.Trim()).Reading;

    private static string BeginWith(string details) =>
        $"<attributes><divisions>4</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time>{details}</attributes>";

    private static string StaffTuning(params string[] open) =>
        string.Concat(open.Select((o, i) =>
            $"<staff-tuning line=\"{i + 1}\"><tuning-step>{o[0]}</tuning-step><tuning-octave>{o[1..]}</tuning-octave></staff-tuning>"));

    [Fact]
    public void A_bass_is_no_guitar_and_the_capo_is_found_wherever_the_guitars_staff_says_it()
    {
        var song =
            $"<measure number=\"1\">{BeginWith("")}{Harmony("C", "major")}<note><rest/><duration>16</duration></note></measure>";
        var bass =
            $"<measure number=\"1\">{BeginWith($"<staff-details><staff-lines>4</staff-lines>{StaffTuning("E1", "A1", "D2", "G2")}</staff-details>")}{string.Concat(Enumerable.Range(0, 8).Select(i => Fretted(1 + i % 4, i % 5, 2)))}</measure>";
        var guitar =
            $"<measure number=\"1\">{BeginWith($"<staves>2</staves><staff-details number=\"1\"><staff-lines>5</staff-lines></staff-details><staff-details number=\"2\"><staff-lines>6</staff-lines><capo>3</capo></staff-details>")}{Fretted(5, 3, 8)}{Fretted(2, 1, 8)}</measure>";
        var (chart, problems) = ReadParts(song, bass, guitar);
        Assert.Empty(problems);
        Assert.Equal((3, "standard"), (chart.RecordCapo, chart.Strings.Name));
        Assert.Equal("figure: | 5/3 2/1 |", FigureText.Write(Assert.Single(chart.Sections[0].Figures), chart.Sections[0].Bars));
        // With the capo at 3 string 5 at 3 sounds E♭3, string 2 at 1 sounds E♭4.
        Assert.Equal([51, 63], chart.Sections[0].Figures[0].Notes.Select(n => n.Pitch.Midi));
        Assert.Empty(ReadParts(song, bass).Chart.Sections[0].Figures);
        // A riff is no tune, and a tune that somebody sings is no riff, though its strings are written below it.
        Assert.Empty(ReadParts(guitar.Replace("</attributes>", $"</attributes>{Harmony("C", "major")}",
            StringComparison.Ordinal)).Chart.Sections[0].Bars[0].Melody);
        var sung = ReadParts(guitar.Replace("</attributes>", $"</attributes>{Harmony("C", "major")}", StringComparison.Ordinal)
            .Replace("</note>", "<lyric><text>la</text></lyric></note>", StringComparison.Ordinal)).Chart.Sections[0];
        Assert.Empty(sung.Figures);
        Assert.Equal(2, sung.Bars[0].Melody.Count);
    }

    [Fact]
    public void A_tuning_is_read_without_frets_and_one_that_no_guitar_has_is_said()
    {
        static string Accords(params string[] open) =>
            $"<direction><direction-type><scordatura>{string.Concat(open.Select((o, i) => $"<accord string=\"{6 - i}\"><tuning-step>{o[0]}</tuning-step><tuning-octave>{o[1..]}</tuning-octave></accord>"))}</scordatura></direction-type></direction>";
        static string Song(string strings, string notes) =>
            $"<measure number=\"1\">{BeginWith("")}{strings}{Harmony("D", "major")}{notes}</measure>";
        const string Rest = "<note><rest/><duration>16</duration></note>";
        Assert.Equal(("D-A-D-G-A-D", 0),
            ReadParts(Song(Accords("D2", "A2", "D3", "G3", "A3", "D4"), Rest)).Chart is var chart
                ? (chart.Strings.Name, chart.TuningShift)
                : default);
        // Five of six is not a tuning; the guitar stays as it is.
        Assert.Equal("standard", ReadParts(Song(Accords("D2", "A2", "D3", "G3", "A3"), Rest)).Chart.Strings.Name);
        var (low, problems) = ReadParts(Song(Accords("B0", "E1", "A1", "D2", "G2", "C3"), Fretted(6, 3, 16)));
        Assert.Contains("no guitar", Assert.Single(problems).Message, StringComparison.Ordinal);
        Assert.Equal("standard", low.Strings.Name);
        Assert.Empty(low.Sections[0].Figures);
        Assert.Equal("D", low.Played().Single().Chord!.Name);
    }

    [Fact]
    public void A_note_altered_twice_is_the_note_that_sounds()
    {
        var (chart, problems) = Read($"<measure number=\"1\">{BeginWith("")}{Harmony("D", "major")}<note><pitch><step>F</step><alter>2</alter><octave>4</octave></pitch><duration>8</duration></note><note><pitch><step>B</step><alter>-2</alter><octave>3</octave></pitch><duration>8</duration></note></measure>");
        Assert.Empty(problems);
        Assert.Equal([67, 57], chart.Sections[0].Bars[0].Melody.Select(n => n.Pitch.Midi));
    }
}
