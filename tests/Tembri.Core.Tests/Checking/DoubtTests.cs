using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Checking;

namespace Tembri.Core.Tests.Checking;

public sealed class DoubtTests
{
    private static IReadOnlyList<Doubt> Find(string text) => DoubtFinder.Find(text, ChartReader.Read(text).Chart);

    private static string Mended(string text, Doubt doubt) => doubt.Mends[0].Edits.Aggregate(text, (t, e) => e.Apply(t));

    [Theory]
    [InlineData("key: C\n| C . . | F | G | C |", 2, "has 3 beats", "| 3/4 C . . | F")]
    [InlineData("key: Eb\n| Eb | G# | Bb7 | Eb |", 2, "spelt against the key", "| Eb | A♭ | Bb7")]
    [InlineData("key: C\n| C | Am7 | A-7 | Am7 | F | G |", 2, "written two ways", "| Am7 | Am7 | Am7 |")]
    [InlineData("key: G\n[Verse 1]\n| G | C | D | G |\n[Verse 2]\n| G | C | Bm | G |", 5, "where Verse 1 has D",
        "[Verse 2]\n| G | C | D | G |")]
    [InlineData("key: A\n| A | Dsus4 | E | A | F#m | E |", 2, "never resolves", "| A | D | E")]
    [InlineData("key: C\n| C | F | G | C | Am | Fm | C | F | G | C | F | G | C | C | F | C | G | C | F | C |", 2, "foreign to C",
        "| Am | F | C")]
    [InlineData("key: G\n| G | C | Cmaj7 | G | C | D | C | G |", 2, "may be optional", "| G | C | C | G | C")]
    [InlineData("key: C\n[Verse]\n| C | F | G | C |\n[Chorus]\n| F | G | C |\n[Bridge]\n| Am | F | G | G |", 5, "odd number",
        null)]
    [InlineData("key: C\nform: Verse x2\n[Verse]\n| C | F | G | C |\n[Bridge]\n| Am | F | G | G |", 2, "leaves Bridge out",
        "form: Verse x2, Bridge")]
    public void What_may_be_wrong_is_found_and_one_press_mends_it(string text, int line, string words, string? after)
    {
        var doubt = Assert.Single(Find(text), d => d.Message.Contains(words, StringComparison.Ordinal));
        Assert.Equal(line, doubt.Line);
        if (after is null) return;
        var mended = Mended(text, doubt);
        Assert.Contains(after, mended, StringComparison.Ordinal);
        Assert.DoesNotContain(Find(mended), d => d.Id == doubt.Id);
    }

    [Theory]
    [InlineData("key: C\n| C | H7 | Em | Ais |\n", 1, "B7", "Bb", "| C | Bb | Em | Ais |")]
    [InlineData("key: C\n| C | F | B | C |\n| H7 | Em |\n", 2, "Bb", "Bm7b5", "| C | F | Hm7b5 | C |")]
    [InlineData("names: do re mi\nkey: C\n| Do | Sol7 | Do |\n", 1, "G7", "F", "| Do | F | Do |")]
    public void What_a_recording_has_otherwise_is_mended_in_the_names_of_the_text(string text, int bar, string written,
        string heard, string mended)
    {
        var reading = ChartReader.Read(text);
        var doubt = Assert.Single(DoubtFinder.Find(text, reading.Chart, written: reading.Naming,
                heard: [Heard(reading.Chart.Sections[0].Name, bar, written, heard)]),
            d => d.Id.StartsWith("heard ", StringComparison.Ordinal));
        Assert.Contains(mended, Mended(text, doubt), StringComparison.Ordinal);
    }

    private const string Shared =
        "key: C\nform: Verse 1, Verse 2, Verse 1\n[Verse 1]\n| C | Am | F | ? |\n[Verse 2: as Verse 1]\n1: | F |\n";

    private static HeardChordPlace Heard(string section, int bar, string written, string chord, bool agrees = false) =>
        new(section, bar, 0, written, chord, agrees, $"{section}: sounds like {chord}.");

    [Fact]
    public void What_a_recording_has_otherwise_is_mended_where_all_that_share_the_text_have_it()
    {
        IReadOnlyList<Doubt> Of(params HeardChordPlace[] heard) =>
            [.. DoubtFinder.Find(Shared, ChartReader.Read(Shared).Chart, heard: heard)
                .Where(d => d.Id.StartsWith("heard ", StringComparison.Ordinal))];
        // Both sections that follow the same text, the same other chord: one doubt, one edit.
        var both = Assert.Single(Of(Heard("Verse 1", 1, "Am", "Em"), Heard("Verse 2", 1, "Am", "Em")));
        Assert.Contains("| C | Em | F |", Mended(Shared, both), StringComparison.Ordinal);
        // One of them only: writing it anew would spoil the other, so a bar of its own is advised.
        foreach (var other in new[] { Heard("Verse 1", 1, "Am", "Am", agrees: true), Heard("Verse 1", 1, "Am", "F") })
        {
            var one = Assert.Single(Of(Heard("Verse 2", 1, "Am", "Em"), other));
            Assert.Empty(one.Mends);
            Assert.Contains("2: | Em |", one.Message, StringComparison.Ordinal);
        }
        // A bar of its own is its own; an empty place is filled; what was changed since, agrees or is not there raises nothing.
        Assert.Contains("1: | Dm |",
            Mended(Shared, Assert.Single(Of(Heard("Verse 2", 0, "F", "Dm"), Heard("Verse 1", 0, "C", "C", agrees: true)))),
            StringComparison.Ordinal);
        Assert.Contains("| F | G |",
            Mended(Shared, Assert.Single(Of(Heard("Verse 1", 3, "?", "G"), Heard("Verse 2", 3, "?", "G")))),
            StringComparison.Ordinal);
        Assert.Empty(Of(Heard("Verse 1", 0, "G", "F"), Heard("Verse 1", 1, "Am", "Am", agrees: true),
            Heard("Chorus", 0, "C", "F"), Heard("Verse 1", 9, "C", "F")));
        var kept = DoubtFinder.Keep(Shared, both).Apply(Shared);
        Assert.DoesNotContain(DoubtFinder.Find(kept, ChartReader.Read(kept).Chart, heard: [Heard("Verse 1", 1, "Am", "Em")]),
            d => d.Id == both.Id);
    }

    [Theory]
    [InlineData("key: C\n| C | A7 | Dm | G7 | C |")]                                   // a dominant of the second step
    [InlineData("key: Am\n| Am | Dm | E7 | Am |")]                                     // the leading note of minor
    [InlineData("key: C\n| C | C#dim7 | Dm | G | C |")]                                // passing diminished
    [InlineData("key: A\n| A | Asus4 . A . | D | E |")]                                // a suspension that resolves
    [InlineData("key: C\n[Verse 1]\n| C | F |\n[Verse 2]\n| Am | Dm |")]               // verses that are simply different
    public void What_is_right_stays_quiet(string text) => Assert.Empty(Find(text));

    /// <summary>Two chords that share a bar of three or five beats to the half beat are asked about once, and both answers make
    /// whole beats of all such bars and touch no other.</summary>
    [Theory]
    [InlineData(3, "| G D | Em | C D |\n[B]\n| G . D | Am D7 | G |")]
    [InlineData(5, "| G D | Em . . C . | C D (hold) |\n[B]\n| <G D/F# x2 | Am |")]
    [InlineData(3, "names: numbers\n| 1 5/7 | 6m | 4 57 | x2 | 1 |")]
    public void Bars_shared_by_halves_get_whole_beats(int beats, string bars)
    {
        var text = $"meter: {beats}/4\nkey: G\n[A]\n{bars}";
        var before = ChartReader.Read(text).Chart.PlayedBars().ToList();
        var isHalf = before.ConvertAll(b => b.Slots.Any(s => s.Beats % 1 != 0));
        Assert.Contains(true, isHalf);
        var doubt = Assert.Single(Find(text), d => d.Id.StartsWith("shared ", StringComparison.Ordinal));
        for (var longer = 0; longer < 2; longer++)
        {
            var mended = Mended(text, doubt with { Mends = [doubt.Mends[longer]] });
            Assert.DoesNotContain(Find(mended), d => d.Id == doubt.Id);
            var after = ChartReader.Read(mended).Chart.PlayedBars().ToList();
            Assert.Equal(before.Select(b => string.Join(' ', b.Slots.Select(s => s.Chord))),
                after.Select(b => string.Join(' ', b.Slots.Select(s => s.Chord))));
            double[] wanted = longer == 0 ? [beats / 2 + 1, beats / 2] : [beats / 2, beats / 2 + 1];
            for (var i = 0; i < before.Count; i++)
                Assert.Equal(isHalf[i] ? wanted : before[i].Slots.Select(s => s.Beats), after[i].Slots.Select(s => s.Beats));
        }
    }

    [Fact]
    public void What_is_kept_stays_quiet_and_only_that()
    {
        const string Text = "key: A\ntempo: 90\n\n| A | Dsus4 | E | Esus4 |";
        var doubts = Find(Text);
        Assert.Equal(2, doubts.Count);
        var kept = DoubtFinder.Keep(Text, doubts[0]).Apply(Text);
        Assert.StartsWith("key: A\ntempo: 90\n{kept: ", kept, StringComparison.Ordinal);
        Assert.Equal(doubts[1].Id, Assert.Single(Find(kept)).Id);
        Assert.Equal(ChartReader.Read(Text).Chart.Chords, ChartReader.Read(kept).Chart.Chords);
    }

    [Fact]
    public void Every_mend_leaves_a_chart_that_can_be_read_and_one_doubt_fewer()
    {
        string[] symbols = ["C", "F", "G", "G7", "Am", "Dsus4", "Bb", "A#", "Em7", "E", "Fmaj7", "D/F#", "C . F .", "G . ."];
        Gen.Int[0, symbols.Length - 1].Array[4, 12].Array[1, 3].Sample(sections =>
        {
            var text = "key: C\nform: Verse 1\n"
                + string.Concat(
                    sections.Select((s, i) => $"[Verse {i + 1}]\n| {string.Join(" | ", s.Select(b => symbols[b]))} |\n"));
            var problems = ChartReader.Read(text).Problems.Count;
            foreach (var doubt in Find(text).Where(d => d.Mends.Count > 0))
            {
                var mended = Mended(text, doubt);
                Assert.True(ChartReader.Read(mended).Problems.Count <= problems, $"{doubt.Message}\n{mended}");
                Assert.DoesNotContain(Find(mended), d => d == doubt);
                Assert.DoesNotContain(Find(DoubtFinder.Keep(text, doubt).Apply(text)), d => d.Id == doubt.Id);
            }
        }, iter: 300, threads: 2);
    }

    [Fact]
    public void Any_text_is_looked_through_without_a_fault_and_every_edit_fits_it()
    {
        string[] pieces = ["| C ", "| <G . ", "|", "[Verse 1]\n", "[Verse 2: as Verse 1]\n", "3: | F |\n", "\n", "~ | E4 . |\n",
            "form: Verse 1, Chorus\n", "{kept: sus A}\n", "key: Eb\n", "[Am]la ", "(hold) ", "/B ", "% ", "7/8 ", ": ", "x3\n",
            "strum: Du\n", "take: live\n", "voice: A2 to E4\n", "Hm", "\t", "♭", "{", "]"];
        Gen.Int[0, pieces.Length - 1].Array[0, 30].Sample(picks =>
        {
            var text = string.Concat(picks.Select(p => pieces[p]));
            var chart = ChartReader.Read(text).Chart;
            foreach (var doubt in DoubtFinder.Find(text, chart))
            {
                Assert.NotNull(DoubtFinder.Keep(text, doubt).Apply(text));
                Assert.All(doubt.Mends, m => Assert.NotNull(m.Edits.Aggregate(text, (t, e) => e.Apply(t))));
            }
            if (chart.Sections.Count == 0) return;
            Assert.Equal(chart.Form, ChartReader.Read(ChartEdits.Form(text, chart.Form).Apply(text)).Chart.Form);
            Assert.NotNull(ChartTextMover.Move(text, new Core.Music.Key(Core.Music.Note.C, false)));
            Assert.NotNull(ChartWriter.Write(chart));
        }, iter: 2_000, threads: 2);
    }
}
