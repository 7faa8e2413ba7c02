using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

/// <summary>What a section holds besides its bars: tune, remarks, strums, what it takes from another; and charts moved in their
/// own text.</summary>
public sealed class ChartSectionTests
{
    [Fact]
    public void The_tune_stands_under_its_bars_and_round_trips()
    {
        const string Text = "key: G\nmeter: 3/4\n[Verse]\n| G | 2/4 D7 | C |  x2\n~ | D4 . E4 | F#4 - | G4 . . B4 . C5 |\n";
        var (chart, problems) = ChartReader.Read(Text);
        Assert.Empty(problems);
        var bars = chart.Sections[0].Bars;
        Assert.Equal(6, bars.Count);
        Assert.Equal([("D4", 0.0, 2.0), ("E4", 2.0, 1.0)], bars[3].Melody.Select(n => (n.Pitch.ToString(), n.At, n.Beats)));
        Assert.Equal([("F♯4", 0.0, 1.0)], bars[1].Melody.Select(n => (n.Pitch.ToString(), n.At, n.Beats)));
        Assert.Equal([("G4", 0.0, 1.5), ("B4", 1.5, 1.0), ("C5", 2.5, 0.5)],
            bars[2].Melody.Select(n => (n.Pitch.ToString(), n.At, n.Beats)));
        var back = ChartReader.Read(ChartWriter.Write(chart)).Chart;
        Assert.Equal(bars.SelectMany(b => b.Melody), back.Sections[0].Bars.SelectMany(b => b.Melody));
        var up = ChartTransposer.Move(chart, Key.TryParse("Bb", out var key) ? key : default, 3);
        Assert.All(bars.SelectMany(b => b.Melody).Zip(up.Sections[0].Bars.SelectMany(b => b.Melody)),
            p => Assert.Equal(p.First.Pitch.Midi + 3, p.Second.Pitch.Midi));
    }

    [Theory]
    [InlineData("E7 | A7 | E7 | B7\n(repeat 5 times, last bar E7)\n", 4, 5)]
    [InlineData("[Verse]\nE7 A7\nx2, slower\n\n[Chorus]\nG C\n", 4, 1)]
    public void What_is_said_behind_a_count_is_a_remark_of_the_last_bar(string text, int bars, int times)
    {
        var (chart, problems) = ChartReader.Read(text);
        Assert.Empty(problems);
        Assert.Equal((bars, times), (chart.Sections[0].Bars.Count, chart.Form[0].Times));
        Assert.Equal([bars - 1], chart.Sections[0].Bars.Index().Where(b => b.Item.Remarks.Count > 0).Select(b => b.Index));
    }

    /// <summary>Each word heads its bars, counts and numbers with it, and plays a part of its own kind.</summary>
    [Fact]
    public void Sections_have_names_in_other_languages()
    {
        string[] words = [.. SectionNames.Elsewhere.Where(w => w is not "pré")];
        Assert.True(words.Length > 60);
        Assert.All(words, word =>
        {
            var (chart, problems) = ChartReader.Read($"[Verse]\nC G\n\n{word.ToUpperInvariant()} 2 x3\nD A\n");
            Assert.Empty(problems);
            Assert.Equal([word.ToUpperInvariant() + " 2"], chart.Sections.Skip(1).Select(s => s.Name));
            Assert.Equal([1, 3], chart.Form.Select(f => f.Times));
            Assert.NotEqual(SectionKind.Own, chart.Sections[1].Kind);
            Assert.Equal(chart.Sections[1].Kind, new Section(SectionNames.InEnglish(word), []).Kind);
        });
    }

    [Theory]
    [InlineData("key: Fis-Moll", "F♯m")]
    [InlineData("Tonart: Es", "E♭")]
    [InlineData("Tonart: B-Dur", "B♭")]
    [InlineData("Ton : Do dièse mineur", "C♯m")]
    [InlineData("Tonalidad: Fa sostenido menor", "F♯m")]
    [InlineData("Tonalità: Si bemolle maggiore", "B♭")]
    [InlineData("Tom: Ré maior", "D")]
    [InlineData("Tono: Solm", "Gm")]
    [InlineData("Key: E flat minor", "E♭m")]
    [InlineData("Key of F-sharp", "F♯")]
    public void A_key_may_be_said_in_other_languages(string line, string key)
    {
        var (chart, problems) = ChartReader.Read($"{line}\n| N.C. |\n");
        Assert.Empty(problems);
        Assert.Equal(key, chart.Key.ToString());
    }

    [Theory]
    [InlineData("~ | C4 |\n| C |", 1, 1, "write the bars first")]
    [InlineData("| C |\n~ | C4 | D4 |", 2, 10, "what is more is left out")]
    [InlineData("| C |\n~ | C4 H |", 2, 8, "not a note of the tune")]
    [InlineData("voice: low to high\n| C |", 1, 8, "lowest and the highest note")]
    [InlineData("melody: A4 to C3\n| C |", 1, 9, "lowest and its highest note")]
    public void A_faulty_tune_is_told_where_and_how_to_mend(string text, int line, int column, string words)
    {
        var problem = Assert.Single(ChartReader.Read(text).Problems);
        Assert.Equal((line, column), (problem.Line, problem.Column));
        Assert.Contains(words, problem.Message);
    }

    private const string Full = """
        title: The Kettle and the Key
        key: G
        tempo: 96
        tuning: -1
        record capo: 2
        voice: A2 to E4
        recording: live, capo 4, tuning -2, tempo 104
        form: Verse 1, Chorus x2, Verse 2, Chorus, Outro

        [Verse 1]
        strum: D-du-udu
        | G . /F# . | Em7 . . <D | C (slow) | 2/4 D |
        ~ | D4 . E4 . | G4 | - | F#4 A4 |
        | G | Am7 . D7 . | G | G |

        [Chorus]
        | [C]Turn the [D]key, | (hold) the [G]kettle sings |

        [Verse 2: as Verse 1]
        Second words of the first line
        2: | Em . D . |
        8: | [G7 . .]so [<C]long |

        [Outro: as Verse 1]
        | C | G (hold) |
        """;

    [Fact]
    public void A_section_written_after_another_follows_it_but_for_its_own_bars()
    {
        var (chart, problems) = ChartReader.Read(Full);
        Assert.Empty(problems);
        string Bar(string section, int bar) =>
            string.Join(' ', chart.SectionNamed(section)!.Bars[bar - 1].Slots.Select(s => s.Symbol));
        Assert.Equal(["G G/F#", "Em D", "C", "D", "G", "Am7 D7", "G", "G7 C"],
            Enumerable.Range(1, 8).Select(b => Bar("Verse 2", b)));
        Assert.Equal([2, 8], chart.SectionNamed("Verse 2")!.OwnBars);
        Assert.Equal(["C", "G"], new[] { 7, 8 }.Select(b => Bar("Outro", b)));
        Assert.Equal("D-du-udu", chart.SectionNamed("Outro")!.Strum);
        Assert.Equal("Second words of the first line", chart.SectionNamed("Verse 2")!.Bars[0].Lead);
        Assert.Equal([SectionKind.Verse, SectionKind.Chorus, SectionKind.Verse, SectionKind.Outro],
            chart.Sections.Select(s => s.Kind));
        // What the other section changes, this one changes with it.
        var moved = ChartReader.Read(Full.Replace("| G | Am7", "| Bm | Am7", StringComparison.Ordinal)).Chart;
        Assert.Equal("Bm", moved.SectionNamed("Verse 2")!.Bars[4].Slots[0].Symbol);
    }

    [Theory]
    [InlineData("Vs 2", SectionKind.Verse)]
    [InlineData("v1", SectionKind.Verse)]
    [InlineData("Ch", SectionKind.Chorus)]
    [InlineData("Refrain", SectionKind.Chorus)]
    [InlineData("Pre", SectionKind.PreChorus)]
    [InlineData("Br. 1", SectionKind.Bridge)]
    [InlineData("Out", SectionKind.Outro)]
    [InlineData("Change", SectionKind.Own)]
    [InlineData("Vamp", SectionKind.Own)]
    [InlineData("Endless", SectionKind.Own)]
    public void What_part_a_section_plays_is_read_off_its_name_in_full_or_in_short(string name, SectionKind kind) =>
        Assert.Equal(kind, new Section(name, []).Kind);

    [Fact]
    public void Pushes_remarks_bass_runs_takes_and_strums_are_read()
    {
        var chart = ChartReader.Read(Full).Chart;
        var verse = chart.Sections[0].Bars;
        Assert.Equal(6, verse[0].Slots[1].Chord!.BassPitchClass);
        Assert.True(verse[1].Slots[1].IsEarly);
        Assert.Equal(["slow"], verse[2].Remarks);
        Assert.Equal(["hold"], chart.SectionNamed("Chorus")!.Bars[1].Remarks);
        Assert.Equal(new Recording("live", 4, -2, 104), Assert.Single(chart.Recordings));
        // The pushed D takes half a beat from E minor.
        var flow = new ChordFlow(ChartReader.Read("key: G\n| Em7 . . <D | G |").Chart);
        Assert.Equal([2.5, 1.5, 4.0], flow.Sequence.Select(s => s.Beats));
    }

    [Fact]
    public void A_full_chart_round_trips_through_its_text()
    {
        var chart = ChartReader.Read(Full).Chart;
        var text = ChartWriter.Write(chart);
        var back = ChartReader.Read(text);
        Assert.Empty(back.Problems);
        Assert.Equal(text, ChartWriter.Write(back.Chart));
        static IEnumerable<object> Facts(Chart c) =>
            c.PlayedBars()
                .SelectMany(b => b.Slots.Select(s => (object)(s.Symbol, s.Beats, s.IsEarly, s.Lyric.Trim(), b.Lead,
                    string.Join(';', b.Remarks), b.Melody.Count, b.Meter)));
        Assert.Equal(Facts(chart), Facts(back.Chart));
        Assert.Equal(chart.Sections.Select(s => (s.Name, s.Like, s.Strum, string.Join(',', s.OwnBars))),
            back.Chart.Sections.Select(s => (s.Name, s.Like, s.Strum, string.Join(',', s.OwnBars))));
        Assert.Equal((chart.Singer, chart.TuningShift, chart.RecordCapo),
            (back.Chart.Singer, back.Chart.TuningShift, back.Chart.RecordCapo));
    }

    [Theory]
    [InlineData("[A]\n| C | D |\n[B: as A]\n3: | G |", 3, "no bar 3")]
    [InlineData("[Part]\n2: | G |", 2, "only in a section that is written after another")]
    [InlineData("[Part]\nstrum: boom\n| G |", 2, "is not a pattern")]
    [InlineData("take: live, capo 14\n| G |", 1, "capo 0 to 11")]
    public void A_faulty_variant_strum_or_take_is_told_where_it_is(string text, int line, string words)
    {
        var problem = Assert.Single(ChartReader.Read(text.Replace("[A]", "[Part A]", StringComparison.Ordinal)
            .Replace("as A]", "as Part A]", StringComparison.Ordinal)).Problems);
        Assert.Equal(line, problem.Line);
        Assert.Contains(words, problem.Message);
    }

    /// <summary>What stands in brackets behind a fact is kept: as a note where it is read, in its place where the song is
    /// moved.</summary>
    [Theory]
    [InlineData("Key: A (B flat on the record)", "B flat on the record", "Key: B (B flat on the record)")]
    [InlineData("Key of A (sung low)", "sung low", "Key of B (sung low)")]
    [InlineData("{key: A (sung low)}", "sung low", "{key: B (sung low)}")]
    [InlineData("key: A\ncapo: no (was 2)", "was 2", "key: B\ncapo: no (was 2)")]
    [InlineData("key: A\nTempo = 92 (swung)", "swung", "key: B\nTempo = 92 (swung)")]
    public void What_is_remarked_of_a_fact_is_kept(string head, string note, string moved)
    {
        var (chart, problems) = ChartReader.Read($"{head}\n| A | E |");
        Assert.Empty(problems);
        Assert.Contains(("note", note), chart.Extra);
        Assert.Equal($"{moved}\n| B | F# |", ChartTextMover.Move($"{head}\n| A | E |", chart.Key.Transpose(2)));
    }

    [Theory]
    [InlineData("B♭", "| Bb . /A . | Gm7 . . <F |")]
    [InlineData("A", "| A . /G# . | F#m7 . . <E |")]
    public void A_chart_is_moved_to_another_key_in_its_own_text(string name, string line)
    {
        Key.TryParse(name, out var key);
        var moved = ChartTextMover.Move(Full, key);
        Assert.Contains(line, moved, StringComparison.Ordinal);
        var (before, after) = (ChartReader.Read(Full).Chart, ChartReader.Read(moved));
        Assert.Empty(after.Problems);
        Assert.Equal(key, after.Chart.Key);
        Assert.Equal(before.Played().Select(s => s.Chord?.Transpose(before.Key, key).PitchClassMask),
            after.Chart.Played().Select(s => s.Chord?.PitchClassMask));
        var semitones = (key.Tonic.PitchClass - before.Key.Tonic.PitchClass + 17) % 12 - 5;
        Assert.Equal(before.PlayedBars().SelectMany(b => b.Melody).Select(n => n.Pitch.Midi + semitones),
            after.Chart.PlayedBars().SelectMany(b => b.Melody).Select(n => n.Pitch.Midi));
        // There and back is where it began, words and remarks untouched.
        Assert.Equal(ChartReader.Read(Full).Chart.Played().Select(s => s.Lyric), after.Chart.Played().Select(s => s.Lyric));
        Assert.Equal(before.Played().Select(s => s.Chord?.PitchClassMask),
            ChartReader.Read(ChartTextMover.Move(moved, before.Key)).Chart.Played().Select(s => s.Chord?.PitchClassMask));
    }

    [Theory]
    [InlineData("|: C | G :|\n~ | E4 | D4 |", "E4 D4 E4 D4")]                                          // one line
    [InlineData("|: C | G |\n~ | E4 | D4 |\n| Am | F :|\n~ | C4 | A3 |", "E4 D4 C4 A3 E4 D4 C4 A3")]   // over two lines
    [InlineData("| C | G | x3\n~ | E4 | D4 |", "E4 D4 E4 D4 E4 D4")]                                   // a counted line
    [InlineData("| F |: C | G :| Am |\n~ | A4 | E4 | D4 | C4 |", "A4 E4 D4 E4 D4 C4")]                  // within a line
    // bars before and after stay as they are
    [InlineData("| C | G |\n~ | E4 | D4 |\n|: Am :|\n~ | C4 |\n| F |\n~ | A3 |", "E4 D4 C4 C4 A3")]
    public void The_tune_is_sung_in_every_pass_of_a_repeat(string bars, string tune)
    {
        var reading = ChartReader.Read($"key: C\n[Verse]\n{bars}\n");
        Assert.Empty(reading.Problems);
        Assert.Equal(tune.Split(' '), reading.Chart.PlayedBars().Select(b => b.Melody.Single().Pitch.ToString()));
    }

    [Theory]
    [InlineData("[Verse]\n| C |: G | Am |\n[Chorus]\n| F |", 2, 6)]
    [InlineData("[Verse]\n|: C | G |", 2, 2)]
    public void A_repeat_that_is_never_closed_is_told_where_it_begins(string text, int line, int column)
    {
        var problem = Assert.Single(ChartReader.Read(text).Problems);
        Assert.Equal((line, column), (problem.Line, problem.Column));
        Assert.Contains("never closed", problem.Message, StringComparison.Ordinal);
    }
}
