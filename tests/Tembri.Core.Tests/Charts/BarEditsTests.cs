using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Charts.Editing;

namespace Tembri.Core.Tests.Charts;

public sealed class BarEditsTests
{
    // Every notation, repeats, a section that follows another, a tune, a bar in another meter, a line that is written twice.
    private const string Text = """
        title: Slow Tide
        key: C
        form: Verse 1, Chorus x2, Bridge, Verse 2, Outro

        [Verse 1]
        | C . F . | G7 (hold) | % | 2/4 Am |
        ~ | E4 . G4 . | - | B4 | A4 |
        | Dm G | C | x2

        [Chorus]
        so | [F]Carry the | 2/4 [G]lamp [Am]and | (slow) low [C . .]lamp [F]light |
        oh [Dm]down the [G]cellar [C]stair

        [Bridge]
        Am      F   C
        Salt on the sill again
        Dm G C

        [Verse 2: as Verse 1]
        Words of its own
        2: | E7 |
        5: | Dm | E7 . . <Am |

        [Outro]
        |: C | F :|
        | G |
        """;

    private static readonly string[] Contents = ["Am", "D7", "C F", "C . F .", "2/4 G", "C . . <G", "3/4 Dm . G", "F (hold)",
        "N.C.", "Em | A7", "am7 d", "C/E . /D .", "%"];

    private static Chart Read(string text)
    {
        var reading = ChartReader.Read(text);
        Assert.True(reading.Problems.Count == 0, string.Join("\n", reading.Problems) + "\n" + text);
        return reading.Chart;
    }

    private static string Chords(Bar bar) =>
        $"{bar.Meter} {string.Join(' ', bar.Slots.Select(s => $"{(s.IsEarly ? "<" : "")}{s.Symbol}:{s.Beats:0.###}"))} "
            + $"({string.Join(',', bar.Remarks)})";

    private static string Words(Bar bar) =>
        string.Join(' ',
            (bar.Lead + " " + string.Join(' ', bar.Slots.Select(s => s.Lyric)))
                .Split(' ', StringSplitOptions.RemoveEmptyEntries));

    private static string Tune(Bar bar) => string.Join(' ', bar.Melody.Select(n => n.Pitch));

    private static string All(Bar bar) => $"{Chords(bar)} {Words(bar)} {Tune(bar)}";

    private static readonly Gen<(int Section, int Bar)> AnyBar =
        Pick.From<(int, int)>([.. Read(Text).Sections.SelectMany((s, i) => s.Bars.Select((_, b) => (i, b)))]);

    /// <summary>The bars that a change of one bar may touch: repeats of it, and what follows it in a later verse.</summary>
    private static bool Shares(Chart chart, (int Section, int Bar) changed, int section, int bar)
    {
        var place = chart.Sections[changed.Section].Bars[changed.Bar].Span;
        return chart.Sections[section].Bars[bar].Span == place
            && (chart.Sections[changed.Section].Like is null || (section, bar) == changed);
    }

    [Fact]
    public void A_bar_is_written_where_it_stands_and_every_other_bar_keeps_chords_words_and_tune()
    {
        var before = Read(Text);
        Gen.Select(AnyBar, Pick.From(Contents)).Sample((at, content) =>
        {
            var (section, number) = at;
            if (before.Sections[section].Like is not null && content.Contains('|')) return;
            // What is repeated is repeated from where it is written.
            var first =
                before.Sections[section].Bars.TakeWhile(b => b.Span != before.Sections[section].Bars[number].Span).Count();
            if (first == 0 && content == "%") return;
            var edited = BarEdits.Write(Text, new(section, number), content);
            Assert.Null(edited.Fault);
            var after = Read(edited.Text!);
            var more = content.Count(c => c == '|');
            // Read by the grid's own reader, beside the bar before for the sign that repeats it.
            var expected = content == "%"
                ? [Chords(after.Sections[section].Bars[first - 1])]
                : Read($"key: C\n| {BarEdits.Tidy(content)} |").Sections[0].Bars.Select(Chords).ToArray();
            Assert.Equal(before.Form, after.Form);
            for (var s = 0; s < before.Sections.Count; s++)
            {
                var now = after.Sections[s].Bars;
                var i = 0;
                for (var b = 0; b < before.Sections[s].Bars.Count; b++)
                {
                    var was = before.Sections[s].Bars[b];
                    if (!Shares(before, at, s, b))
                    {
                        if (was.Span?.Content == "%")
                            Assert.Equal(
                                Chords(before.Sections[s].Like is null ? now[i - 1] : after.Sections[0].Bars[i]).Split('(')[0],
                                Chords(now[i]).Split('(')[0]);
                        else Assert.Equal(All(was), All(now[i]));
                        i += before.Sections[s].Like is not null && section == 0 && Shares(before, at, 0, b) ? more + 1 : 1;
                        continue;
                    }
                    if (content == "%") Assert.Equal(expected[0].Split('(')[0], Chords(now[i]).Split('(')[0]);
                    else Assert.Equal(expected, now.Skip(i).Take(more + 1).Select(Chords));
                    // A bar of its own in a later verse brings its own words, here none.
                    if (before.Sections[s].Like is null) Assert.Equal(Words(was), Words(now[i]));
                    i += more + 1;
                }
                Assert.Equal(now.Count, i);
            }
        }, iter: 500);
    }

    [Fact]
    public void A_figure_stays_with_its_bar_when_bars_before_it_come_and_go()
    {
        const string Sung = """
            key: C
            form: Intro, Verse, Verse 2

            [Intro]
            figure: | C3 D3 E3 F3 |
            figure at bar 3, position 2: | G3 . A3 . | B3 . C4 . |
            | C | F . G . | Am | Em | x2

            [Verse]
            figure from bar 2: | E3 . G3 . |
            | Dm | G | C |

            [Verse 2: as Verse]
            figure at bar 3: | A3 . E3 . |
            """;
        string Place(Chart chart, Section section, Core.Figures.Figure figure) =>
            $"{section.Name}: {string.Join(' ', section.Bars[figure.Bar].Slots.Select(c => c.Symbol))} "
                + $"{string.Join(' ', figure.Notes.Select(n => n.Pitch))} {figure.Position}";
        List<string> Places(Chart chart) => [.. chart.Sections.SelectMany(s => s.Figures.Select(f => Place(chart, s, f)))];
        var before = Read(Sung);
        Assert.Equal(4, Places(before).Count);
        foreach (var (section, bar) in before.Sections.Take(2).SelectMany((s, i) => s.Bars.Select((_, b) => (i, b))))
        {
            var grown = Read(BarEdits.Add(Sung, new(section, bar)).Text!);
            Assert.Equal(Places(before), Places(grown));
            // Back again it is what it was.
            var first = before.Sections[section].Bars.TakeWhile(b => b.Span != before.Sections[section].Bars[bar].Span).Count();
            Assert.Equal(Places(before),
                Places(Read(BarEdits.Remove(BarEdits.Add(Sung, new(section, bar)).Text!, new(section, first + 1)).Text!)));
            var shorter = Read(BarEdits.Remove(Sung, new(section, bar)).Text!);
            // Only a figure of the bar that goes begins elsewhere: at the next one, or the last.
            var stays = before.Sections.SelectMany(s => s.Figures.Where(
                        f => s.Bars[f.Bar].Span != before.Sections[section].Bars[bar].Span).Select(f => Place(before, s, f)))
                .ToList();
            Assert.Empty(stays.Except(Places(shorter)));
            Assert.Equal(4, Places(shorter).Count);
        }
    }

    [Fact]
    public void A_bar_taken_out_leaves_all_others_as_they_were_and_in_a_following_verse_follows_again()
    {
        var before = Read(Text);
        foreach (var (section, number) in before.Sections.SelectMany((s, i) => s.Bars.Select((_, b) => (i, b))))
        {
            var edited = BarEdits.Remove(Text, new(section, number));
            var follows = before.Sections[section].Like is not null;
            if (follows && !before.Sections[section].OwnBars.Contains(number + 1))
            {
                Assert.Contains("follows Verse 1", edited.Fault!, StringComparison.Ordinal);
                continue;
            }
            var after = ChartReader.Read(edited.Text!).Chart;
            if (follows)
            {
                Assert.Equal(before.Sections[section].OwnBars.Where(n => n != number + 1), after.Sections[section].OwnBars);
                Assert.Equal(Chords(before.Sections[0].Bars[number]), Chords(after.Sections[section].Bars[number]));
                continue;
            }
            // Also a bar that was written "as before" keeps its chords when the one before goes.
            var expected =
                before.Sections[section].Bars.Where((_, b) => !Shares(before, (section, number), section, b)).ToList();
            // Words before the first chord of a line stay there, whichever chord is now the first.
            var left = after.Sections[section].Bars;
            Assert.Equal(expected.Count, left.Count);
            foreach (var (was, now) in expected.Zip(left))
            {
                Assert.Equal((Chords(was), Tune(was)), (Chords(now), Tune(now)));
                Assert.EndsWith(Words(was), Words(now), StringComparison.Ordinal);
            }
        }
        // A verse that follows keeps its own bars in their places, when the one it follows grows or shrinks before them.
        Assert.EndsWith("6: | Dm | E7 . . <Am |", BarEdits.Add(Text, new(0, 1)).Text!.Split("\n\n[Outro]")[0],
            StringComparison.Ordinal);
        Assert.EndsWith("1: | E7 |\n4: | Dm | E7 . . <Am |", BarEdits.Remove(Text, new(0, 0)).Text!.Split("\n\n[Outro]")[0],
            StringComparison.Ordinal);
        Assert.EndsWith("as Verse]\n3: | Dm |",
            BarEdits.Remove("[Verse]\n| C | D | E | F |\n[Verse 2: as Verse]\n3: | G | Dm |", new(0, 2)).Text!,
            StringComparison.Ordinal);
        Assert.Contains("at least one bar", BarEdits.Remove("[Verse]\n| C |", new(0, 0)).Fault!, StringComparison.Ordinal);
    }

    [Fact]
    public void Chords_are_split_and_joined_with_their_beats_and_a_bar_is_added_or_given_a_meter()
    {
        string Bar(Edited edited, int bar) => Chords(Read(edited.Text!).Sections[0].Bars[bar]);
        const string two = "key: C\n| C . F . | G | Am |";
        Assert.Equal("4/4 C:1 C:1 F:2 ()", Bar(BarEdits.Split(two, new(0, 0), 0), 0));
        Assert.Equal("4/4 C:4 ()", Bar(BarEdits.Join(two, new(0, 0), 0), 0));
        Assert.Equal("4/4 D:2 D:2 ()", Bar(BarEdits.Split(two, new(0, 1), 0, "d"), 1));
        Assert.Equal("4/4 C:2 C:1 F:1 ()", Bar(BarEdits.Split("| C . . F |", new(0, 0), 0), 0));
        Assert.Equal("3/4 C:2 C:1 ()", Bar(BarEdits.Split("meter: 3/4\n| C |", new(0, 0), 0), 0));
        Assert.Equal("4/4 C:0.5 C:0.5 F:3 ()", Bar(BarEdits.Split("| C F . . |", new(0, 0), 0), 0));
        Assert.Contains("shortest", BarEdits.Split("| C . . . . . . F |", new(0, 0), 1).Fault!, StringComparison.Ordinal);
        Assert.Contains("no chord after", BarEdits.Join(two, new(0, 1), 0).Fault!, StringComparison.Ordinal);
        Assert.Equal("2/4 C:1 F:1 ()", Bar(BarEdits.SetMeter(two, new(0, 0), new Meter(2, 4)), 0));
        Assert.Equal("3/4 C:2 F:1 ()", Bar(BarEdits.SetMeter("| C . F . |", new(0, 0), new Meter(3, 4)), 0));
        Assert.Equal("6/8 G:2 ()", Bar(BarEdits.SetMeter(two, new(0, 1), new Meter(6, 8)), 1));
        Assert.Contains("no room", BarEdits.SetMeter("| C D E F |", new(0, 0), new Meter(1, 4)).Fault!,
            StringComparison.Ordinal);
        var added = Read(BarEdits.Add(two, new(0, 1)).Text!).Sections[0].Bars;
        Assert.Equal(["C F", "G", "G", "Am"], added.Select(b => string.Join(' ', b.Slots.Select(s => s.Symbol))));
        // The next new bar goes behind the last; a line of four is full.
        Assert.EndsWith("| C . F . | G | Am | F |", BarEdits.Write(two, new(0, 3), "F").Text!, StringComparison.Ordinal);
        Assert.EndsWith("| C | F | G | C |\n| Am |", BarEdits.Write("| C | F | G | C |", new(0, 4), "Am").Text!,
            StringComparison.Ordinal);
        Assert.EndsWith("[C]salt [G]sill\n| Am |", BarEdits.Write("[C]salt [G]sill", new(0, 2), "Am").Text!,
            StringComparison.Ordinal);
        foreach (var bad in new[] { "", "   ", "[C]la", new string('C', 300) })
            Assert.NotNull(BarEdits.Write(two, new(0, 0), bad).Fault);
        Assert.NotNull(BarEdits.Write(two, new(3, 0), "C").Fault);
        Assert.NotNull(BarEdits.Write(two, new(0, 9), "C").Fault);
        // "As before" needs something before it.
        Assert.Contains("no bar before", BarEdits.Write(two, new(0, 0), "%").Fault!, StringComparison.Ordinal);
        Assert.Contains("no bar before", BarEdits.Write("[C]salt [G]sill", new(0, 0), "%").Fault!, StringComparison.Ordinal);
        // A section that begins with it has silence before: no bar leads back to itself for ever.
        foreach (var first in new[] { "| % | % | C |", "| [%]x | [%]y | [C]z |", "| % |\n| % |" })
            for (var bar = 0; bar < 2; bar++)
                foreach (var edited in new[]
                {
                    BarEdits.Remove(first, new(0, bar)), BarEdits.Split(first, new(0, bar), 0), BarEdits.Add(first, new(0, bar))
                })
                    Assert.True(edited.Text is null != edited.Fault is null);
        // A bar without a readable chord gets a neighbour all the same.
        Assert.EndsWith("| [%]x | [N.C.] |", BarEdits.Add("| [%]x |", new(0, 0)).Text!, StringComparison.Ordinal);
    }

    /// <summary>Whatever is done to whatever text: it is done, or refused with a reason, in each way of writing bars.</summary>
    [Fact]
    public void Every_edit_of_every_text_is_made_or_refused()
    {
        string[] begins =
        [
            "| C | F . G . | % |\n~ | E4 G4 | A4 | - |",
            "[Verse]\n[C]Out on the [F]sill the [G]salt\n[Am]and more\n[Verse 2: as Verse]\n2: | Dm |",
            "C      F      G\nOut on the sill it\nAm   F\nis there",
            "| [C]Out on [F]the | (slow) [G]sill | x2", "| [%]x | ? |\n| 2/4 G7 | N.C. |", "C (slow) F  G7sus4   Am",
            "| % | % | C |\n| [%]x | [%]y |",
        ];
        string[] contents = ["C", "%", "F . G .", "2/4 G7", "Am | F", "(slow) Em", "c g", "N.C.", "", ".", "?", "(x)"];
        (from begin in Gen.Int[0,
                begins.Length
                            - 1] from acts in Gen.Select(Gen.Int[0, 5], Gen.Int[0, 2], Gen.Int[0, 6],
                                Gen.Int[0, contents.Length - 1]).List[1, 12] select (begin, acts)).Sample(x =>
        {
            var text = begins[x.begin];
            foreach (var (act, section, bar, content) in x.acts)
            {
                var at = new BarAddress(section, bar);
                var edited = act switch
                {
                    0 or 1 => BarEdits.Write(text, at, contents[content]), 2 => BarEdits.Remove(text, at),
                    3 => BarEdits.Add(text, at), 4 => BarEdits.Split(text, at, content % 3),
                    _ => BarEdits.Join(text, at, content % 3),
                };
                Assert.True(edited.Text is null != edited.Fault is null);
                text = edited.Text ?? text;
                if (text.Length > 2_000) return;
            }
        }, iter: 1_200);
    }

    [Fact]
    public void Chords_over_words_keep_their_places()
    {
        const string over = "Am      F   C\nSalt on the sill again";
        Assert.Equal("F#m7b5  F   C\nSalt on the sill again", BarEdits.Write(over, new(0, 0), "F#m7b5").Text);
        Assert.Equal("Am      F   D\nSalt on the sill again", BarEdits.Write(over, new(0, 2), "D").Text);
        Assert.Equal("| [Am]Salt on | [F .]the[G .] | [C]sill again |", BarEdits.Write(over, new(0, 1), "F . G .").Text);
        // A long symbol pushes what follows, words and chords alike.
        Assert.Equal("Am      F#m7b5 C\nSalt on the    sill again", BarEdits.Write(over, new(0, 1), "F#m7b5").Text);
    }

    private static string Bars(string text) => MessyCharts.Bars(ChartReader.Read(text).Chart.Sections[0]);

    /// <summary>Chords above bars of strokes are written into the bars before one of them changes.</summary>
    [Fact]
    public void A_bar_whose_chords_stand_above_its_strokes_can_be_changed()
    {
        const string text = "Mill Pond\n\n    Dm7    G7     Cmaj7\n||: / /    / /  | / / / /  :||\nFm7\n| / / / / |";
        Assert.Equal("Dm7:2 G7:2 | Cmaj7:4 | Dm7:2 G7:2 | Cmaj7:4 | Fm7:4", Bars(text));
        Assert.Equal("Dm7 G7", BarEdits.Content(ChartReader.Read(text).Chart, new(0, 0)));
        string Now(Edited edited) { Assert.Null(edited.Fault); return Bars(edited.Text!); }
        Assert.Equal("Dm7:2 G7:2 | Am:3 E7:1 | Dm7:2 G7:2 | Am:3 E7:1 | Fm7:4", Now(BarEdits.Write(text, new(0, 1), "Am . . E7")));
        Assert.Equal("Dm7:2 G7:2 | Cmaj7:4 | Dm7:2 G7:2 | Cmaj7:4 | Fm7:4 | Fm7:4", Now(BarEdits.Add(text, new(0, 4))));
        Assert.Equal("Dm7:2 G7:2 | Dm7:2 G7:2 | Fm7:4", Now(BarEdits.Remove(text, new(0, 1))));
        Assert.Equal("Dm7:2 G7:2 | Cmaj7:2 Cmaj7:2 | Dm7:2 G7:2 | Cmaj7:2 Cmaj7:2 | Fm7:4", Now(BarEdits.Split(text, new(0, 1), 0)));
    }

    /// <summary>Where a small letter is a minor chord it stays one, typed, split or copied; and what only the chords showed is
    /// said before they change.</summary>
    [Theory]
    [InlineData("| C | a | F | G |")]
    [InlineData("names: english, small letters minor\n| C | a | F | G |")]
    [InlineData("C    a    F    G")]
    public void Small_letters_stay_minor_in_a_bar_that_is_changed(string text)
    {
        string Now(Edited edited) { Assert.Null(edited.Fault); return Bars(edited.Text!); }
        Assert.Equal("C:4 | Dm:4 | F:4 | G:4", Now(BarEdits.Write(text, new(0, 1), "d")));
        Assert.Equal("C:4 | Em7:4 | F:4 | G:4", Now(BarEdits.Write(text, new(0, 1), "Em7")));
        Assert.Equal("C:4 | Am:2 Am:2 | F:4 | G:4", Now(BarEdits.Split(text, new(0, 1), 0)));
        Assert.Equal("C:4 | Am:4 | Am:4 | F:4 | G:4", Now(BarEdits.Add(text, new(0, 1))));
        Assert.Equal("C:4 | C:4 | F:4 | G:4", Now(BarEdits.Write(text, new(0, 1), "C")));
        Assert.Equal("D:4 | Bm:4 | G:4 | A:4", Bars(ChartTextMover.Move(text, ChartReader.Read(text).Chart.Key.Transpose(2))));
    }

    /// <summary>A key that ends the title moves with the chart and stays a title; words that sound like one stay words, and a
    /// line for the key counts before both.</summary>
    [Theory]
    [InlineData("Waltz in A minor\n\nAm    E\nsung in D major", "Waltz in B minor\n\nBm    F#\nsung in D major")]
    [InlineData("Waltz in A minor\nkey: Am\n| Am | E |", "Waltz in A minor\nkey: Bm\n| Bm | F# |")]
    [InlineData("Song\n\nC F G C\nsung in D major", "key: D\nSong\n\nD G A D\nsung in D major")]
    public void A_key_in_the_title_is_moved_with_its_chart(string text, string moved)
    {
        var key = ChartReader.Read(text).Chart.Key;
        Assert.Equal(moved, ChartTextMover.Move(text, key.Transpose(2)));
        Assert.Equal(key.Transpose(2), ChartReader.Read(moved).Chart.Key);
    }
}
