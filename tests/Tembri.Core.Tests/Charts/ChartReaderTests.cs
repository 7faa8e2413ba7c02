using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Chords;
using Tembri.Core.Music;

namespace Tembri.Core.Tests.Charts;

public sealed class ChartReaderTests
{
    private static string Bars(Section section) =>
        string.Join(" | ",
            section.Bars.Select(b => string.Join(" ",
                b.Slots.Select(s =>
                    $"{s.Chord?.Name ?? s.Symbol}:{s.Beats.ToString("0.##", System.Globalization.CultureInfo.InvariantCulture)}"))));

    [Fact]
    public void A_bar_grid_is_read_with_beats_meter_changes_and_repeats()
    {
        var (chart, problems) = ChartReader.Read("title: Tin Roof\nkey: F\ntempo: 96\nmeter: 4/4\n\n[Verse 1]\n| F . . . | C . "
            + "Dm . | 2/4 G7 | % |\n\n[Chorus x2]\n| Bb C | F | x2\n\n[Verse 1]\n");
        Assert.Empty(problems);
        Assert.Equal(("Tin Roof", "F", 96.0), (chart.Title, chart.Key.ToString(), chart.Tempo));
        Assert.Equal("F:4 | C:2 Dm:2 | G7:2 | G7:2", Bars(chart.Sections[0]));
        Assert.Equal(new Meter(2, 4), chart.Sections[0].Bars[2].Meter);
        Assert.Equal("B♭:2 C:2 | F:4 | B♭:2 C:2 | F:4", Bars(chart.Sections[1]));
        Assert.Equal([new FormPart("Verse 1", 1), new FormPart("Chorus", 2), new FormPart("Verse 1", 1)], chart.Form);
    }

    [Theory]
    [InlineData("G | D | Em | C", "Song", "G:4 | D:4 | Em:4 | C:4")]                        // no bar line in front
    [InlineData("C - G - Am - F", "Song", "C:4 | G:4 | Am:4 | F:4")]
    [InlineData("C – G → Am, F", "Song", "C:4 | G:4 | Am:4 | F:4")]
    [InlineData("Intro: G D Em C", "Intro", "G:4 | D:4 | Em:4 | C:4")]
    [InlineData("Verse 1\nG D Em C", "Verse 1", "G:4 | D:4 | Em:4 | C:4")]
    [InlineData("pre-chorus (x2)\n| Am | F |", "pre-chorus", "Am:4 | F:4")]
    [InlineData("Tempo 92\nCapo 3\n| G | C |", "Song", "B♭:4 | E♭:4")]
    [InlineData("Verse: | G | D |", "Verse", "G:4 | D:4")]
    [InlineData("3/4 | C | G |", "Song", "C:3 | G:3")]                                     // the song's meter
    [InlineData("| C |\n3/4 | G | C |", "Song", "C:4 | G:3 | C:4")]                        // one bar's
    [InlineData("|: G | D :| x3", "Song", "G:4 | D:4 | G:4 | D:4 | G:4 | D:4")]             // three times in all
    [InlineData("|: G | D :|", "Song", "G:4 | D:4 | G:4 | D:4")]
    [InlineData("| G | D | (x2)", "Song", "G:4 | D:4 | G:4 | D:4")]
    [InlineData("| G | D | 3x", "Song", "G:4 | D:4 | G:4 | D:4 | G:4 | D:4")]
    [InlineData("| G | D ||", "Song", "G:4 | D:4")]
    public void Lines_as_people_paste_them_are_read(string text, string section, string bars)
    {
        var (chart, problems) = ChartReader.Read(text);
        Assert.Empty(problems);
        var only = Assert.Single(chart.Sections);
        Assert.Equal((section, bars), (only.Name, Bars(only)));
        if (text.Contains("92", StringComparison.Ordinal)) Assert.Equal(92, chart.Tempo);
        if (text.StartsWith("pre", StringComparison.Ordinal)) Assert.Equal([new FormPart(section, 2)], chart.Form);
        // Read and written once more it is the same chart.
        Assert.Equal(bars, Bars(ChartReader.Read(ChartWriter.Write(chart)).Chart.Sections[0]));
    }

    [Fact]
    public void An_empty_bar_lasts_like_the_one_before_and_is_told()
    {
        var (chart, problems) = ChartReader.Read("| C |  | G |");
        Assert.Equal("C:4 | C:4 | G:4", Bars(chart.Sections[0]));
        var problem = Assert.Single(problems);
        Assert.Contains("empty", problem.Message, StringComparison.Ordinal);
        Assert.Equal((1, 6), (problem.Line, problem.Column));
    }

    [Theory]
    [InlineData("Outro: C - G - Am", "G D | C G Am")]
    [InlineData("Verse 2: | C |", "G D | C")]
    [InlineData("Chorus\nC", "G D | C")]
    [InlineData("# softly\nC", "G D C")]
    [InlineData("strum: D-du-udu\nC", "G D C")]
    [InlineData("| C |", "G D C")]
    public void A_line_that_says_something_of_its_own_is_not_taken_for_the_words_under_chords(string below, string sections)
    {
        var (chart, problems) = ChartReader.Read("[Verse]\nG D\n" + below);
        Assert.Empty(problems);
        Assert.Equal(sections,
            string.Join(" | ", chart.Sections.Select(s => string.Join(' ', s.Bars.Select(b => b.Slots[0].Symbol)))));
        Assert.All(chart.Sections[0].Bars.SelectMany(b => b.Slots), s => Assert.Equal("", s.Lyric));
    }

    [Fact]
    public void One_symbol_that_cannot_be_read_does_not_make_words_of_a_line_of_chords()
    {
        var (chart, problems) = ChartReader.Read("G D Xm C\nhere come the words");
        Assert.Equal(["G", "D", "Xm", "C"], chart.Sections[0].Bars.Select(b => b.Slots[0].Symbol));
        var problem = Assert.Single(problems);
        Assert.Equal((1, 5), (problem.Line, problem.Column));
        // Words that happen to hold chords stay words.
        var (song, _) = ChartReader.Read("G C\nAm I a Girl\nD G\nA Day in C");
        Assert.Equal(4, song.Sections[0].Bars.Count);
    }

    [Fact]
    public void Words_with_chords_in_brackets_are_read_with_their_words()
    {
        var (chart, problems) = ChartReader.Read(
            "{title: Salt}\nVerse:\n[Eb]Salt on the [Cm7]sill\n| [Ab]white as a [Bb7]bone | [Eb . .]so [Ab .]what |\n");
        Assert.Equal("Salt", chart.Title);
        Assert.Equal("E♭:4 | Cm7:4 | A♭:2 B♭7:2 | E♭:3 A♭:2", Bars(chart.Sections[0]));
        Assert.Equal("Salt on the", chart.Sections[0].Bars[0].Slots[0].Lyric);
        // Three and two dots and letters are five beats: said, and kept.
        var problem = Assert.Single(problems);
        Assert.Equal(4, problem.Line);
        Assert.Contains("5 beats", problem.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Chords_on_a_line_above_the_words_are_read()
    {
        var (chart, problems) = ChartReader.Read("[Verse]\nG         D/F#      Em7\nOver the  hill the  kettle sings\n");
        Assert.Empty(problems);
        Assert.Equal("G:4 | D/F♯:4 | Em7:4", Bars(chart.Sections[0]));
        Assert.Equal("hill the", chart.Sections[0].Bars[1].Slots[0].Lyric);
    }

    [Fact]
    public void Six_eight_counts_two_beats_a_bar()
    {
        var (chart, problems) = ChartReader.Read("meter: 6/8\n| A . . D . . | E | A . . . . D |");
        Assert.Empty(problems);
        Assert.Equal("A:1 D:1 | E:2 | A:1.67 D:0.33", Bars(chart.Sections[0]));
    }

    [Fact]
    public void What_cannot_be_trusted_is_listed_with_its_place_and_the_rest_is_kept()
    {
        var (chart, problems) = ChartReader.Read("tempo: quick\n[Verse]\n| C . Gx . | F . . | G C D |\n[Bridge]\n");
        Assert.Equal("C:2 Gx:2 | F:3 | G:2 C:1 D:1", Bars(chart.Sections[0]));
        Assert.True(chart.Sections[0].Bars[0].Slots[1].IsUnread);
        Assert.Equal([(1, 8), (3, 8), (3, 14), (3, 22), (4, 1)], problems.Select(p => (p.Line, p.Column)));
        Assert.Contains("beats a minute", problems[0].Message, StringComparison.Ordinal);
        Assert.Contains("did you mean G?", problems[1].Message, StringComparison.Ordinal);
        Assert.Contains("3 beats, but 4/4 has 4", problems[2].Message, StringComparison.Ordinal);
        Assert.Contains("cannot share", problems[3].Message, StringComparison.Ordinal);
        // The advice can be typed as it is and reads to the same bar.
        Assert.Contains("'G . C D'", problems[3].Message, StringComparison.Ordinal);
        Assert.Equal("G:2 C:1 D:1", Bars(ChartReader.Read("| G . C D |").Chart.Sections[0]));
        Assert.Contains("has no bars", problems[4].Message, StringComparison.Ordinal);
    }

    /// <summary>Whoever looks ahead must not look past the same lines from each of them: that would take minutes here.</summary>
    [Theory]
    [InlineData("strum: d\n", "")]
    [InlineData("{sot}\n", "")]
    [InlineData("{c: Verse}\n\n\n\n", "")]
    [InlineData("words of a song\n", "")]
    [InlineData("Verse 2\n", "")]
    [InlineData("Verse 2: and on\nwe go\n", "")]
    [InlineData("(same as verse 1)\n", "")]
    [InlineData("Verse 2\n\n", "form: V C\n")]
    [InlineData("a,", "form: ")]
    [InlineData("V ", "form: ")]
    [InlineData("repeat all x20\n", "")]
    [InlineData("repeat a,a,a,a,a,a,a,a,a,a,a,a,a,a,a,a,a\n", "a:\n| D |\n")]
    [InlineData("Verse, Chorus, Verse\n", "")]
    [InlineData("(1st time) C D\n(2nd time) C G\n", "")]
    [InlineData("| G :|\n1st ending: | D |\n", "")]
    [InlineData("end on D\n", "")]
    [InlineData("Verse 2 as Verse, but end on D\n", "")]
    [InlineData("back to Verse\n", "")]
    [InlineData("Play Verse, Verse 1, Verse\n", "")]
    [InlineData("same chords for verse 2\n\n", "")]
    [InlineData("Verse 2: C D\nx3\n", "")]
    [InlineData("Verse 2 (90 bars)\nC D\n", "")]
    [InlineData("C --- G -- \n", "")]
    [InlineData("Verse chords: D A\n[Verse]\n", "")]
    [InlineData("tempo: 90\ntempo: 91\n", "")]
    public void The_longest_text_is_looked_through_once_whatever_is_repeated_in_it(string piece, string before)
    {
        var text = $"Verse 1\n| C |\nVerse\n{before}";
        text += string.Concat(Enumerable.Repeat(piece, (ChartLimits.LongestText - text.Length) / piece.Length));
        using var soon = new CancellationTokenSource(TimeSpan.FromSeconds(20));
        var (chart, problems) = ChartReader.Read(text, soon.Token);
        Assert.Equal("C", chart.Sections[0].Bars[0].Slots[0].Symbol);
        Assert.All(problems, p => Assert.InRange(p.Line, 1, text.Count(c => c == '\n') + 1));
    }

    [Fact]
    public void A_chart_written_as_shapes_above_a_capo_sounds_higher()
    {
        var (chart, _) = ChartReader.Read("key: Eb\ncapo: 3\n| C | F | G7 | Am |");
        Assert.Equal(["E♭", "A♭", "B♭7", "Cm"], chart.Chords.Select(c => c.Name));
    }

    [Theory]
    [InlineData("| C | G | Am | F |", "C")]
    [InlineData("| Am | F | C | E7 | Am |", "Am")]
    [InlineData("| Eb | Ab | Bb7 | Eb |", "E♭")]
    [InlineData("| F# | B | C#7 | F# |", "F♯")]
    [InlineData("| Dm | Gm | A7 | Dm |", "Dm")]
    public void The_key_is_guessed_from_the_chords(string text, string key)
    {
        var chart = ChartReader.Read(text).Chart;
        Assert.False(chart.KeyIsGiven);
        Assert.Equal(key, chart.Key.ToString());
    }

    [Fact]
    public void The_demo_songs_are_read_without_a_doubt()
    {
        var files = Directory.GetFiles(Path.Combine(Repository.Folder, "demo", "songs"), "*.txt");
        Assert.Equal(10, files.Length);
        foreach (var file in files)
        {
            var (chart, problems) = ChartReader.Read(File.ReadAllText(file));
            Assert.True(problems.Count == 0, $"{file}: {string.Join("; ", problems.Select(p => p.Message))}");
            Assert.True(chart.KeyIsGiven && chart.Title.Length > 0 && chart.Chords.Count >= 4);
        }
    }

    private static readonly Gen<Slot> Slots = from kind in Pick.From("", "m", "7", "maj7", "m7b5", "sus4", "/E", "add9", "dim7")
                                              from root in Pick.From("C", "F#", "Bb", "G")
                                              from words in Pick.From("", "salt on the", "sill, and", "so")
                                              let symbol = root + kind
                                              select new Slot(symbol, Chord.Parse(symbol), 1, words);

    private static readonly Gen<Bar> BarsOf44 =
        from split in Pick.From<double[]>([4], [2, 2], [3, 1], [1, 1, 1, 1], [2, 1, 1], [1.5, 2.5], [0.5, 0.5, 3])
                                                from slots in Slots.Array[split.Length]
                                                from line in Gen.Bool
                                                select new Bar(Meter.Common,
                                                    [.. slots.Select((s, i) => s with { Beats = split[i], Lyric = s.Lyric })],
                                                    line);

    private static readonly Gen<Bar> BarsOf34 =
        from slot in Slots from line in Gen.Bool select new Bar(new Meter(3, 4), [slot with { Beats = 3 }], line);

    private static readonly Gen<Chart> Charts = from tempo in Gen.Int[40, 200]
                                                from key in Pick.From(new Key(Note.Of('E', -1), false),
                                                    new Key(Note.Of('F', 1), true))
                                                from verse in Gen.OneOf(BarsOf44, BarsOf34).Array[1, 6]
                                                from chorus in BarsOf44.Array[1, 5]
                                                from times in Gen.Int[1, 3]
                                                select new Chart
                                                {
                                                    Title = "Any Song", Key = key, KeyIsGiven = true, Tempo = tempo,
                                                    Sections = [new("Verse 1", Clean(verse)), new("Chorus", Clean(chorus))],
                                                    Form = [new("Verse 1", 1), new("Chorus", times), new("Verse 1", 1)],
                                                };

    private static Bar[] Clean(Bar[] bars) => [.. bars.Select((b, i) => i == 0 ? b with { StartsLine = true } : b)];

    [Fact]
    public void Writing_then_reading_any_chart_gives_the_same_chart()
    {
        Charts.Sample(chart =>
        {
            var text = ChartWriter.Write(chart);
            var (again, problems) = ChartReader.Read(text);
            Assert.Empty(problems);
            Assert.Equal(Flat(chart), Flat(again));
            Assert.Equal(text, ChartWriter.Write(again));
        }, iter: 400);
    }

    private static string Flat(Chart chart) =>
        $"{chart.Title} {chart.Key} {chart.Tempo} {chart.Meter}\n{string.Join(",", chart.Form)}\n"
        + string.Join("\n",
            chart.Sections.Select(s =>
                $"{s.Name}: {string.Join(" | ", s.Bars.Select(b => $"{b.Meter} {b.StartsLine} {b.Lead} {string.Join(" ", b.Slots.Select(x => $"{x.Symbol}={x.Chord}:{Math.Round(x.Beats, 6)}:{x.Lyric.Trim()}"))}"))}"));

    [Fact]
    public void Any_text_is_read_without_a_fault_and_every_problem_points_into_it()
    {
        var pieces = Pick.From("|", "[", "]", "C", "Am7", "F#", "%", ".", "2/4", "x3", ":", "\n", "\n", " ", "Verse 1:",
            "[Chorus]", "title: a", "key: Zz", "form: Verse 1, Coda x9", "words", "|:", ":|", "é", "{", "}", "capo: 4", "\t",
            "#");
        pieces.Array[0, 40].Select(p => string.Join("", p)).Sample(text =>
        {
            var (chart, problems) = ChartReader.Read(text);
            var lines = text.Split('\n').Length;
            Assert.All(problems, p => Assert.True(p.Line >= 1 && p.Line <= lines && p.Column >= 1 && p.Message.Length > 10));
            Assert.All(chart.Sections.SelectMany(s => s.Bars),
                b => Assert.True(b.Slots.Count > 0 && b.Slots.All(s => s.Beats > 0)));
        }, iter: 2_500);
        Assert.Throws<ArgumentException>(() => ChartReader.Read(new string('|', ChartLimits.LongestText + 1)));
    }

    /// <summary>Charts as people paste them with lines gone, twice, or from elsewhere: what holds lines together is not
    /// there.</summary>
    [Fact]
    public void Lines_in_any_order_are_read_without_a_fault()
    {
        List<List<string>> charts = [.. MessyCharts.All.Values.Select(c => c.Text.Split('\n').ToList())];
        List<string> lines = [.. charts.SelectMany(c => c).Distinct()];
        for (var number = 0; number < 2_000; number++)
        {
            var random = new Random(number);
            List<string> text = random.Next(2) == 0 ? [.. charts[random.Next(charts.Count)]] : [];
            for (var more = random.Next(1, 8); more > 0; more--)
                if (random.Next(3) == 0 && text.Count > 1) text.RemoveAt(random.Next(text.Count));
                else if (random.Next(4) == 0 && text.Count > 0)
                    text.Insert(random.Next(text.Count + 1), text[random.Next(text.Count)]);
                else text.Insert(random.Next(text.Count + 1), lines[random.Next(lines.Count)]);
            var (chart, problems) = ChartReader.Read(string.Join('\n', text));
            Assert.All(problems, p => Assert.True(p.Line >= 1 && p.Line <= text.Count && p.Column >= 1));
            Assert.All(chart.Sections.SelectMany(s => s.Bars),
                b => Assert.True(b.Slots.Count > 0 && b.Slots.All(s => s.Beats > 0)));
        }
    }
}
