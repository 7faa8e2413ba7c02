using System.Globalization;
using System.Text;
using System.Xml.Linq;
using CsCheck;
using Tembri.Core;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Ladders;

namespace Tembri.Formats.Tests;

/// <summary>Documents are held against the standard here, by its own names and orders, not by the writer's.</summary>
public sealed class MusicXmlTests
{
    private static readonly string[] Kinds =
    [
        "major", "minor", "augmented", "diminished", "dominant", "major-seventh", "minor-seventh", "diminished-seventh",
        "augmented-seventh", "half-diminished", "major-minor", "major-sixth", "minor-sixth",
        "dominant-ninth", "major-ninth", "minor-ninth", "dominant-11th", "major-11th", "minor-11th", "dominant-13th",
        "major-13th", "minor-13th", "suspended-second", "suspended-fourth", "Neapolitan", "Italian",
        "French", "German", "pedal", "power", "Tristan", "other", "none",
    ];

    // The order of children the schema asks for, of the elements that are used.
    private static readonly Dictionary<string, string[]> Order = new()
    {
        ["score-partwise"] = ["work", "movement-number", "movement-title", "identification", "defaults", "credit", "part-list",
            "part"],
        ["note"] = ["grace", "chord", "pitch", "unpitched", "rest", "duration", "tie", "voice", "type", "dot", "accidental",
            "time-modification", "stem", "notehead", "staff", "beam", "notations", "lyric"],
        ["harmony"] = ["root", "kind", "inversion", "bass", "degree", "frame", "offset", "staff"],
        ["attributes"] = ["divisions", "key", "time", "staves", "part-symbol", "instruments", "clef", "staff-details",
            "transpose", "measure-style"],
        ["staff-details"] = ["staff-type", "staff-lines", "staff-tuning", "capo", "staff-size"],
        ["accord"] = ["tuning-step", "tuning-alter", "tuning-octave"],
        ["direction"] = ["direction-type", "offset", "voice", "staff", "sound"],
        ["frame"] = ["frame-strings", "frame-frets", "first-fret", "frame-note"],
        ["frame-note"] = ["string", "fret", "fingering", "barre"],
        ["barline"] = ["bar-style", "editorial", "wavy-line", "segno", "coda", "fermata", "ending", "repeat"],
        ["degree"] = ["degree-value", "degree-alter", "degree-type"],
        ["metronome"] = ["beat-unit", "beat-unit-dot", "per-minute"],
        ["lyric"] = ["syllabic", "text", "elision"],
        ["identification"] = ["creator", "rights", "encoding", "source", "relation", "miscellaneous"],
    };

    internal static void Check(byte[] bytes)
    {
        var document = XDocument.Parse(Encoding.UTF8.GetString(bytes));
        Assert.Equal("score-partwise", document.Root!.Name);
        Assert.Equal("4.0", document.Root.Attribute("version")!.Value);
        Assert.Equal(document.Root.Element("part-list")!.Elements("score-part").Select(p => p.Attribute("id")!.Value),
            document.Root.Elements("part").Select(p => p.Attribute("id")!.Value));
        foreach (var element in document.Descendants())
        {
            if (!Order.TryGetValue(element.Name.LocalName, out var order)) continue;
            var places = element.Elements().Select(e => Array.IndexOf(order, e.Name.LocalName)).ToList();
            Assert.True(places.All(p => p >= 0) && places.Zip(places.Skip(1)).All(p => p.First <= p.Second),
                $"{element.Name}: {string.Join(' ', element.Elements().Select(e => e.Name))}");
        }
        Assert.All(document.Descendants("kind"), k => Assert.Contains(k.Value, Kinds));
        Assert.All(document.Descendants("degree-type"), d => Assert.Contains(d.Value, new[] { "add", "alter", "subtract" }));
        int divisions = 0, beats = 0, unit = 0, number = 0;
        foreach (var measure in document.Descendants("measure"))
        {
            Assert.Equal((++number).ToString(CultureInfo.InvariantCulture), measure.Attribute("number")!.Value);
            if (measure.Element("attributes") is { } attributes)
            {
                divisions = attributes.Element("divisions") is { } d ? (int)d : divisions;
                (beats, unit) =
                    ((int)attributes.Element("time")!.Element("beats")!, (int)attributes.Element("time")!.Element("beat-type")!);
            }
            var length =
                measure.Elements("note").Where(n => n.Element("voice")?.Value == "1").Sum(n => (int)n.Element("duration")!);
            // A riff goes back to the bar line and fills the bar a second time, each note with its string and fret where they
            // are known.
            var second = measure.Elements()
                .Where(e => e.Name.LocalName is "note" or "forward" && e.Element("voice")?.Value == "2").ToList();
            if (second.Count > 0)
                Assert.Equal(length * measure.Elements("backup").Count(b => (int)b.Element("duration")! == length),
                    second.Sum(n => (int)n.Element("duration")!));
            Assert.Equal(measure.Attribute("implicit")?.Value == "yes", length != divisions * beats * 4 / unit);
            foreach (var note in measure.Elements("note"))
                Assert.Equal((int)note.Element("duration")!, Written(note, divisions), 1e-6);
        }
        foreach (var frame in document.Descendants("frame-note"))
            Assert.True((int)frame.Element("string")! is >= 1 and <= 6 && (int)frame.Element("fret")! is >= 0 and <= 24);
    }

    /// <summary>What type, dots and tuplets of a note add up to.</summary>
    private static double Written(XElement note, int divisions)
    {
        var whole = note.Element("type")!.Value switch
        {
            "whole" => 4,
            "half" => 2,
            "quarter" => 1,
            "eighth" => 0.5,
            "16th" => 0.25,
            "32nd" => 0.125,
            _ => 0.0625
        };
        return divisions * whole * (note.Element("dot") is null ? 1 : 1.5)
            * (note.Element("time-modification") is null ? 1 : 2 / 3.0);
    }

    [Fact]
    public void Every_chart_is_written_as_the_standard_asks()
    {
        Gen.Select(Gen.Bool, Gen.Bool).SelectMany((words, tune) => SampleCharts.Charts(words, tune))
            .Sample(chart => Check(ChartFiles.Write(chart, ChartFormat.MusicXml).Bytes), iter: 200, threads: 2);
        foreach (var meter in new[] { "3/4", "6/8", "2/2", "12/8", "5/4", "3/8" })
            Check(ChartFiles.Write(ChartReader.Read($"meter: {meter}\nkey: Bb\n| Bb | Eb F | Gm7 |").Chart,
                ChartFormat.MusicXml).Bytes);
    }

    [Fact]
    public void A_rung_carries_frames_with_fingers_the_capo_and_how_far_it_sounds_higher()
    {
        var chart = ChartReader.Read("key: Bm\ntempo: 90\ntuning: -1\n| Bm | F#m | G | A |").Chart;
        var ladder = new LadderBuilder(new ResultCache())
            .Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 3 });
        foreach (var rung in ladder.Playable)
        {
            var bytes = ChartFiles.Write(new VersionChart(ladder, rung), ChartFormat.MusicXml).Bytes;
            Check(bytes);
            var document = XDocument.Parse(Encoding.UTF8.GetString(bytes));
            Assert.Equal(3, (int)document.Descendants("capo").Single());
            Assert.Equal(2, (int)document.Descendants("transpose").Single().Element("chromatic")!);
            Assert.Equal("-1",
                document.Descendants("miscellaneous-field").Single(f => f.Attribute("name")!.Value == "tuning").Value);
            foreach (var (frame, chord) in document.Descendants("frame").Zip(rung.Played))
            {
                var shape = chord.Choice.Fingering.Shape;
                Assert.Equal(shape.Sounding, frame.Elements("frame-note").Count());
                Assert.All(frame.Elements("frame-note"),
                    n => Assert.Equal(shape[6 - (int)n.Element("string")!], (int)n.Element("fret")!));
                Assert.Equal(chord.Choice.Fingering.Barres.Count,
                    frame.Descendants("barre").Count(b => b.Attribute("type")!.Value == "start"));
            }
        }
    }

    internal static ChartReading Read(string measures, string before = "") => ChartFiles.Read($"""
        <?xml version="1.0"?>
        <!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 3.1 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">
        <score-partwise version="3.1">{before}<part-list><score-part id="P1"><part-name>Voice</part-name></score-part></part-list><part id="P1">{measures}</part></score-partwise>
        """.Trim()).Reading;

    internal static string Harmony(string step, string kind, string rest = "") =>
        $"<harmony><root><root-step>{step}</root-step></root><kind>{kind}</kind>{rest}</harmony>";

    internal const string Whole = "<note><rest/><duration>8</duration><voice>1</voice></note>";

    [Fact]
    public void Repeats_endings_meters_and_degrees_of_other_programs_are_followed()
    {
        const string Begin =
            "<attributes><divisions>2</divisions><key><fifths>1</fifths><mode>major</mode></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>";
        var (chart, problems) = Read($"""
            <measure number="1">{Begin}<barline location="left"><repeat direction="forward"/></barline>{Harmony("G", "major")}{Whole}</measure>
            <measure number="2"><barline location="left"><ending number="1" type="start"/></barline>{Harmony("D", "dominant", "<degree><degree-value>9</degree-value><degree-alter>-1</degree-alter><degree-type>add</degree-type></degree>")}{Whole}<barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline></measure>
            <measure number="3"><barline location="left"><ending number="2" type="start"/></barline>{Harmony("E", "minor-seventh", "<bass><bass-step>B</bass-step></bass>")}{Whole}</measure>
            <measure number="4"><attributes><time><beats>2</beats><beat-type>4</beat-type></time></attributes>{Harmony("C", "suspended-fourth")}<note><rest/><duration>4</duration></note></measure>
            """);
        Assert.Empty(problems);
        Assert.Equal(["G", "D7♭9", "G", "Em7/B", "Csus4"], chart.Played().Select(s => s.Chord!.Name));
        Assert.Equal([4.0, 4, 4, 4, 2], chart.Played().Select(s => s.Beats));
        Assert.Equal("G", chart.Key.ToString());
    }

    private const string Begin =
        "<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>";

    /// <summary>A measure of one chord, with what stands before and after its note.</summary>
    private static string Bar(int number, string chord, string before = "", string after = "", string words = "") =>
        $"<measure number=\"{number}\">{(number == 1 ? Begin : "")}{before}{Harmony(chord, "major")}{(words.Length == 0 ? Whole : $"<note><pitch><step>E</step><octave>4</octave></pitch><duration>8</duration>{words}</note>")}{after}</measure>";

    private static string Words(string text, string sound = "") =>
        $"<direction><direction-type><words>{text}</words></direction-type>{(sound.Length > 0 ? $"<sound {sound}/>" : "")}</direction>";

    private static string Sign(string name) => $"<direction><direction-type><{name}/></direction-type></direction>";

    private const string Forward = "<barline location=\"left\"><repeat direction=\"forward\"/></barline>",
        Backward = "<barline location=\"right\"><repeat direction=\"backward\"/></barline>";

    private static string Opens(string number) =>
        $"<barline location=\"left\"><ending number=\"{number}\" type=\"start\"/></barline>";

    private static string Closes(string number, bool repeats) =>
        $"<barline location=\"right\"><ending number=\"{number}\" "
            + $"type=\"{(repeats ? "stop" : "discontinue")}\"/>{(repeats ? "<repeat direction=\"backward\"/>" : "")}</barline>";

    private static string Played(string measures)
    {
        var (chart, problems) = Read(measures);
        Assert.Empty(problems);
        return string.Concat(chart.Played().Select(s => s.Symbol));
    }

    public static TheoryData<string, string> Orders => new()
    {
        { "CDECDF",
            Bar(1, "C") + Bar(2, "D", after: Words("To Coda")) + Bar(3, "E", after: Words("D.C. al Coda"))
                + Bar(4, "F", Words("Coda")) },
        { "CDEFDEG",
            Bar(1, "C") + Bar(2, "D", "<direction><direction-type><segno/></direction-type><sound segno=\"a\"/></direction>")
                + Bar(3, "E", after: "<sound tocoda=\"b\"/>") + Bar(4, "F", after: Words("D.S. al Coda", "dalsegno=\"a\""))
                + Bar(5, "G", "<sound coda=\"b\"/>") },
        { "CDECD",
            Bar(1, "C") + Bar(2, "D", after: Words("Fine")) + Bar(3, "E", after: Words("D.C. al Fine", "dacapo=\"yes\"")) },
        { "CDEFDEG",
            Bar(1, "C") + Bar(2, "D", Sign("segno")) + Bar(3, "E", after: Sign("coda"))
                + Bar(4, "F", after: Words("Dal segno al coda")) + Bar(5, "G", Sign("coda")) },
        // After the jump repeats are played once, with their last ending.
        { "CDCECDCEFCECE",
            Bar(1, "C", Forward) + Bar(2, "D", Opens("1"), Closes("1", true)) + Bar(3, "E", Opens("2"), Closes("2", false))
                + Bar(4, "C", Forward) + Bar(5, "D", Opens("1"), Closes("1", true))
                + Bar(6, "E", Opens("2") + Words("Fine"), Closes("2", false)) + Bar(7, "F", after: Words("D.C. al Fine")) },
        { "CDCDCEF",
            Bar(1, "C", Forward) + Bar(2, "D", Opens("1, 2"), Closes("1, 2", true)) + Bar(3, "E", Opens("3"), Closes("3", false))
                + Bar(4, "F") },
        // Endings of two measures; the second with a repeat sign of its own.
        { "CDECFG",
            Bar(1, "C", Forward) + Bar(2, "D", Opens("1")) + Bar(3, "E", after: Closes("1", true)) + Bar(4, "F", Opens("2"))
                + Bar(5, "G", after: Closes("2", true)) },
        { "CDCEABAB",
            Bar(1, "C") + Bar(2, "D", Opens("1"), Closes("1", true)) + Bar(3, "E", Opens("2"), Closes("2", false)) + Bar(4, "A")
                + Bar(5, "B", after: Backward) },
    };

    [Theory]
    [MemberData(nameof(Orders))]
    public void A_score_is_played_in_its_order(string order, string measures) =>
        Assert.Equal(order, Played(measures));

    [Fact]
    public void Signs_that_lead_nowhere_verses_and_keys_that_have_no_room_are_said()
    {
        Assert.Contains("no sign", Assert.Single(Read(Bar(1, "C") + Bar(2, "D", after: Words("D.S."))).Problems).Message,
            StringComparison.Ordinal);
        Assert.Contains("none follows",
            Assert.Single(
                Read(Bar(1, "C", after: Words("To Coda")) + Bar(2, "D", after: Words("D.C. al Coda"))).Problems).Message,
            StringComparison.Ordinal);
        Assert.Contains("E♭",
            Assert.Single(Read(Bar(1, "C")
                + Bar(2, "D", "<attributes><key><fifths>-3</fifths><mode>major</mode></key></attributes>")).Problems).Message,
            StringComparison.Ordinal);
        const string Verses =
            "<lyric number=\"1\"><syllabic>single</syllabic><text>salt</text></lyric><lyric "
                + "number=\"2\"><syllabic>single</syllabic><text>sill</text></lyric>";
        Assert.Contains("verse 2", Assert.Single(Read(Bar(1, "C", words: Verses)).Problems).Message, StringComparison.Ordinal);
        var (chart, problems) = Read(Bar(1, "C", Forward, words: Verses) + Bar(2, "G", after: Backward));
        Assert.Empty(problems);
        Assert.Equal(["salt", "", "sill", ""], chart.Played().Select(s => s.Lyric));
    }

    [Theory]
    [InlineData("", "Am")]
    [InlineData("<mode>none</mode>", "Am")]
    [InlineData("<mode>major</mode>", "C")]
    [InlineData("<mode>aeolian</mode>", "Am")]
    public void A_signature_without_a_mode_is_told_by_the_chords(string mode, string key) =>
        Assert.Equal(key, Read($"<measure number=\"1\"><attributes><divisions>2</divisions><key><fifths>0</fifths>{mode}</key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>"
            + $"{Harmony("A", "minor")}{Whole}</measure><measure number=\"2\">{Harmony("E", "dominant")}{Whole}</measure><measure number=\"3\">{Harmony("A", "minor")}{Whole}</measure>").Chart.Key.ToString());

    [Theory]
    [InlineData(-7, "C♭")]
    [InlineData(7, "C♯")]
    [InlineData(8, "C")]   // no signature has eight
    public void Signatures_go_up_to_seven(int fifths, string key) =>
        Assert.Equal(key, Read($"<measure number=\"1\"><attributes><divisions>2</divisions><key><fifths>{fifths}</fifths><mode>major</mode></key><time><beats>4</beats><beat-type>4</beat-type></time></attributes>{Harmony("C", "major")}{Whole}</measure>").Chart.Key.ToString());

    [Fact]
    public void A_note_altered_twice_has_its_simpler_name() =>
        Assert.Equal(["G4", "A♯3"], Read($"<measure number=\"1\">{Begin}{Harmony("C", "major")}"
            + string.Concat(new[] { ("F", 2, 4), ("C", -2, 4) }.Select(n => $"<note><pitch><step>{n.Item1}</step><alter>{n.Item2}</alter><octave>{n.Item3}</octave></pitch><duration>4</duration></note>"))
            + "</measure>").Chart.PlayedBars().Single().Melody.Select(n => n.Pitch.ToString()));

    [Theory]
    [InlineData("Am Gm", "Am:4 Gm:4")]
    [InlineData("Am slow", "N.C.:4 N.C.:4")]
    [InlineData("A B", "N.C.:4 N.C.:4")]  // names of sections
    [InlineData("A D A E", "A:4 D:4 A:4 E:4")]
    public void Words_are_chords_where_they_can_be_nothing_else(string words, string chords) =>
        Assert.Equal(chords, string.Join(' ', Read(string.Concat(words.Split(' ').Select((w, i) =>
            $"<measure number=\"{i + 1}\">{(i == 0 ? Begin : "")}{Words(w)}{Whole}</measure>"))).Chart.Played().Select(s => $"{s.Symbol}:{s.Beats}")));

    [Fact]
    public void A_sign_for_the_two_measures_before_stands_for_their_chords()
    {
        string Sign(string type, string back) =>
            $"<attributes><measure-style><measure-repeat type=\"{type}\">{back}</measure-repeat></measure-style></attributes>";
        Assert.Equal("CDCDE", Played(Bar(1, "C") + Bar(2, "D") + $"<measure number=\"3\">{Sign("start", "2")}{Whole}</measure><measure number=\"4\">{Whole}</measure>"
            + Bar(5, "E", Sign("stop", ""))));
    }

    [Fact]
    public void Inversions_are_basses_and_altered_dominants_are_read()
    {
        string Degree(int value, int alter, string type) =>
            $"<degree><degree-value>{value}</degree-value><degree-alter>{alter}</degree-alter><degree-type>{type}</degree-type></degree>";
        var measures = new[]
        {
            ("E", "C/E", Harmony("C", "major", "<inversion>1</inversion>")),
            ("", "Gm/D", Harmony("G", "minor", "<inversion>2</inversion>")),
            ("", "A7/G", Harmony("A", "dominant", "<inversion>3</inversion>")),
            ("", "C7♭5♯9", Harmony("C", "dominant", Degree(5, -1, "alter") + Degree(9, 1, "add"))),
            ("", "C7♯5♭9", Harmony("C", "dominant", Degree(5, 1, "alter") + Degree(9, -1, "add"))),
            ("", "C7♭5♭9", Harmony("C", "dominant", Degree(9, -1, "alter") + Degree(5, -1, "alter"))),
            ("", "D9♯5", Harmony("D", "dominant-ninth", Degree(5, 1, "alter"))),
        };
        var (chart, problems) = Read(string.Concat(
            measures.Select((m, i) => $"<measure number=\"{i + 1}\">{(i == 0 ? Begin : "")}{m.Item3}{Whole}</measure>")));
        Assert.Empty(problems);
        Assert.Equal(measures.Select(m => m.Item2), chart.Played().Select(s => s.Chord!.Name));
    }

    [Theory]
    [InlineData("<transpose><chromatic>0</chromatic><octave-change>-1</octave-change></transpose>", "D", "E3")]
    [InlineData("<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic></transpose>", "C", "D4")]
    [InlineData("<transpose><diatonic>-1</diatonic><chromatic>-2</chromatic><octave-change>-1</octave-change></transpose>", "C",
        "D3")]
    public void What_a_part_is_written_away_from_its_sound_is_undone(string transpose, string chord, string note)
    {
        string Part(string at) =>
            $"<attributes><divisions>2</divisions><key><fifths>2</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time>{at}</attributes>";
        const string Note =
            "<note><pitch><step>E</step><octave>4</octave></pitch><duration>8</duration><lyric><text>oh</text></lyric></note>";
        var (one, _) = Read($"<measure number=\"1\">{Part(transpose)}{Harmony("D", "major")}{Note}</measure>");
        Assert.Equal((chord, note), (one.Played().Single().Symbol, one.PlayedBars().Single().Melody.Single().Pitch.ToString()));
        // The tune in a part of its own: chords stay where their own part has them.
        var (two, _) = Read($"<measure number=\"1\">{Part("")}{Harmony("D", "major")}{Whole}</measure></part><part "
            + $"id=\"P2\"><measure number=\"1\">{Part(transpose)}{Note}</measure>");
        Assert.Equal(("D", note), (two.Played().Single().Symbol, two.PlayedBars().Single().Melody.Single().Pitch.ToString()));
    }

    [Fact]
    public void Words_and_tune_come_from_the_voice_and_a_capo_moves_what_sounds()
    {
        var (chart, _) = Read($"""
            <measure number="1"><attributes><divisions>1</divisions><time><beats>4</beats><beat-type>4</beat-type></time><staff-details><capo>2</capo></staff-details><transpose><chromatic>2</chromatic></transpose></attributes>
            {Harmony("G", "major")}<note><pitch><step>B</step><octave>3</octave></pitch><duration>2</duration><lyric><syllabic>begin</syllabic><text>ket</text></lyric></note>
            <note><pitch><step>D</step><octave>4</octave></pitch><duration>2</duration><lyric><syllabic>end</syllabic><text>tle</text></lyric></note></measure>
            """, "<work><work-title>Kettle</work-title></work>");
        Assert.Equal(("Kettle", "A", 2), (chart.Title, chart.Played().Single().Chord!.Name, chart.RecordCapo));
        Assert.Equal("kettle", chart.Played().Single().Lyric);
        Assert.Equal(["C♯4", "E4"], chart.Sections[0].Bars[0].Melody.Select(n => n.Pitch.ToString()));
    }

    [Fact]
    public void What_cannot_be_read_is_listed_and_the_rest_is_kept()
    {
        var (chart, problems) = Read($"<measure number=\"1\">{Harmony("G", "Tristan")}<note><rest/><duration>4</duration></note></measure><measure "
            + $"number=\"2\">{Harmony("C", "major")}<note><rest/><duration>4</duration></note></measure>");
        Assert.Contains("not known here", Assert.Single(problems).Message, StringComparison.Ordinal);
        Assert.Equal("C", chart.Played().Last().Chord!.Name);
        Assert.True(chart.Played().First().IsUnread);
    }
}
