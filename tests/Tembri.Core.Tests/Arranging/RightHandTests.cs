using CsCheck;
using Tembri.Core.Arranging;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Checking;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Strums;
using Tembri.Core.Students;
using Tembri.Core.Tests.Ladders;
using Tembri.Core.Wishes;

namespace Tembri.Core.Tests.Arranging;

/// <summary>The right hand of a song: section by section, on every rung, in the chart's text, and what it does to time and
/// fit.</summary>
public sealed class RightHandTests
{
    private const string Song =
        "key: C\ntempo: 90\nform: Verse, Chorus\n\n[Verse]\nstrum: D-du-udu\n| C | G | C | G |\n\n[Chorus]\nstrum: b3212321, "
            + "swing 60, soft\n| Am | F | C G | <C |";

    private static Chart Read(string text)
    {
        var reading = ChartReader.Read(text);
        Assert.Empty(reading.Problems);
        return reading.Chart;
    }

    private static RungLimits Rung(int number) => RungLimits.Defaults[number - 1];

    [Fact]
    public void Each_section_plays_its_own_pattern_on_the_rung_of_the_hand_and_another_where_the_teacher_wants_it()
    {
        var chart = Read(Song);
        var wishes = TeacherWishes.None with { Hands = [new HandWish("chorus", 5, RungSpan.Only(2)),
            new HandWish("Verse", StrumLadder.Free, RungSpan.All)] };
        Assert.Equal(["D.d.d.d.", "b...(321)..."], new[] { 0, 1 }.Select(s => new RightHand(chart, Rung(2)).In(s).Notation));
        Assert.Equal(["free", "b3212321"], new[] { 0, 1 }.Select(s => new RightHand(chart, Rung(2), wishes).In(s).Notation));
        Assert.Equal(["free", "b321...."], new[] { 0, 1 }.Select(s => new RightHand(chart, Rung(3), wishes).In(s).Notation));
        // Rung 4 brings the first barres; the hand stays where it was.
        Assert.Equal(new RightHand(chart, Rung(3)).In(0), new RightHand(chart, Rung(4)).In(0));
        var record = new RightHand(chart, Rung(5));
        Assert.Equal((60, "b3212321"), (record.In(1).Swing, record.In(1).Notation));
        Assert.Equal([0.5, 0.5], record.Shares.Select(s => s.Share));
        Assert.Equal((record.In(0).LoadAt(90) + record.In(1).LoadAt(90)) / 2, record.LoadAt(90), 1e-9);
    }

    [Fact]
    public void A_change_has_the_time_its_hardest_place_leaves_and_a_push_takes_some_away()
    {
        // D-du-udu: over the bar line from the up after 3, 1.5 beats; pushed over the bar line, half a beat less; of a chord of
        // one beat three quarters.
        ChordStep Step(string bars, string from, string to)
        {
            var flow = new ChordFlow(Read($"key: C\nstrum: D-du-udu\n{bars}"));
            int At(string name) => flow.Chords.ToList().FindIndex(c => c.Name == name);
            return flow.Steps.Single(s => s.From == At(from) && s.To == At(to));
        }
        double Free(string bars, string from, string to) =>
            new RightHand(Read($"key: C\nstrum: D-du-udu\n{bars}"), Rung(5)).FreeBeats(Step(bars, from, to));
        Assert.Equal(1.5, Free("| C | G | C | G |", "C", "G"), 1e-9);
        // On the up-stroke before 1: the down on 4 is let go, so it is from the up after 3 still, which leaves one beat.
        Assert.Equal(1.0, Free("| C | <G | Am | Am |", "C", "G"), 1e-9);
        Assert.Equal(0.75, Free("| C G Am F |", "G", "Am"), 1e-9);
        // A quicker place elsewhere counts for all.
        Assert.Equal(0.75, Free("| C | G | C | G | C G Am F |", "C", "G"), 1e-9);
        Assert.Equal(2, Step("| C | G | C | G | C G Am F |", "C", "G").Places.Select(p => p.Beats).Distinct().Count());
    }

    [Fact]
    public void A_lighter_hand_never_lowers_the_fit_and_never_takes_time_from_a_change() =>
        Gen.Select(Gen.Int[0, 4], Gen.Int[5, 95], Gen.Int[60, 160]).Sample((pattern, skill, tempo) =>
        {
            var steps = new[] { "D-du-udu", "d-Xud-Xu", "D--u--du", "b3212321", "D---d-du-udud-du" }[pattern];
            var chart = Read($"key: C\ntempo: {tempo}\nstrum: {steps}\n| C | G | Am | F |");
            var hands = Enumerable.Range(1, 5).Select(r => new RightHand(chart, Rung(5) with { RightHand = r })).ToList();
            var fits = hands.Select(h => FitModel.Strummed(h.LoadAt(tempo), skill)).ToList();
            foreach (var (lower, higher) in fits.Zip(fits.Skip(1))) Assert.True(lower >= higher - 1e-12);
            Assert.All(new ChordFlow(chart).Steps, s => Assert.True(hands[0].FreeBeats(s) >= hands[4].FreeBeats(s) - 1e-9));
        }, iter: 40);

    [Theory]
    [InlineData("down down up up down up", "dduudu")]
    [InlineData("D D U U D U", "dduudu")]
    [InlineData("↓ - ↓ ↑", "d-du")]
    [InlineData("D-du-Udu, shuffle", "D-du-Udu, swing 67")]
    [InlineData("soft", "soft")]
    [InlineData("free, loud", "free, loud")]
    [InlineData("d.du|d.d., swing 55 %, softly", "d.du|d.d., swing 55, soft")]
    public void A_strum_is_read_as_people_write_it(string written, string kept)
    {
        var chart = Read($"key: C\nmeter: 4/4\n[Verse]\nstrum: {written}\n| C | G |");
        Assert.Equal(kept, chart.Sections[0].Strum);
        Assert.Equal(kept, ChartReader.Read(ChartWriter.Write(chart)).Chart.Sections[0].Strum);
    }

    [Theory]
    [InlineData("strum: dq")]
    [InlineData("strum: ----")]
    [InlineData("strum: du, swing 90")]
    public void What_is_no_strum_is_said_where_it_stands(string line) =>
        Assert.Contains("not a pattern of the hand",
            ChartReader.Read($"key: C\n[Verse]\n{line}\n| C | G |").Problems.Single(p => p.Line == 3).Message,
            StringComparison.Ordinal);

    [Fact]
    public void A_strum_that_does_not_share_the_bars_of_its_section_is_a_doubt_and_the_usual_one_is_played()
    {
        const string Text = "key: C\nmeter: 3/4\n[Verse]\nstrum: D-du-udu\n| C | G |";
        var chart = ChartReader.Read(Text).Chart;
        Assert.Contains(DoubtFinder.Find(Text, chart),
            d => d.Message.Contains("is not played", StringComparison.Ordinal)
                && d.Message.Contains("8 steps do not share the 3 beats", StringComparison.Ordinal));
        Assert.Equal("D-dudu", new RightHand(chart, Rung(5)).In(0).Notation);
    }

    [Fact]
    public void Strums_and_figures_are_written_into_the_text_of_their_section_and_move_with_its_key()
    {
        const string Text =
            "key: C\nrecord capo: 2\n[Verse]\n| C | G |\n[Chorus: as Verse]\n[End]\nfigure at bar 2: | 6/1 h6/3 |\n| F | C |";
        var edited = ChartEdits.Hand(Text, 0, new SectionHand("Dudu", 60, Loudness.Loud)).Text!;
        Assert.Contains("[Verse]\nstrum: Dudu, swing 60, loud\n| C | G |", edited, StringComparison.Ordinal);
        Assert.Equal(Text, ChartEdits.Hand(edited, 0, SectionHand.None).Text);
        edited = ChartEdits.Figure(edited, 2, 1, "figure: | E3 |").Text!;
        Assert.Equal([1, 0], Read(edited).Sections[2].Figures.Select(f => f.Bar));
        Assert.Equal(Text, ChartEdits.Figure(ChartEdits.Hand(edited, 0, SectionHand.None).Text!, 2, 1, null).Text);
        // String 6, frets 1 and 3 above capo 2: G2 and A2; a tone higher A2 and B2, by their pitch.
        Assert.Equal([43, 45], Read(Text).Sections[2].Figures[0].Notes.Select(n => n.Pitch.Midi));
        Assert.True(Key.TryParse("D", out var d));
        var moved = Read(ChartTextMover.Move(Text, d));
        Assert.Equal([45, 47], moved.Sections[2].Figures[0].Notes.Select(n => n.Pitch.Midi));
        Assert.Equal(Core.Figures.FigureLine.PitchOf(45), moved.Sections[2].Figures[0].Notes[0].Pitch);
        // A section that follows another has its hand and its figures.
        Assert.Equal(Read(edited).Sections[0].Strum, Read(edited).Sections[1].Strum);
    }

    /// <summary>Said once at the head it is that of every section; when one is changed each says its own.</summary>
    [Theory]
    [InlineData("strum: D-du-udu\n[Verse]\n| C | G |\n[Chorus]\n| F |\n[Verse 2: as Verse]\n[End]\nstrum: D-D-\n| C |",
        "D-du-udu D-du-udu D-du-udu D-D-", "D-du-udu Dudu D-du-udu D-D-", "D-du-udu  D-du-udu D-D-")]
    [InlineData("strum: D-du-udu\n| C | G |\n[Chorus]\n| F |", "D-du-udu D-du-udu", "D-du-udu Dudu", "D-du-udu ")]
    [InlineData("key: C\n[Verse]\n| C | G |\n[Chorus]\n| F |", " ", " Dudu", " ")]
    public void A_hand_said_at_the_head_can_be_another_or_none_in_one_section(string text, string all, string other, string none)
    {
        Assert.Equal(all, Hands(text));
        var edited = ChartEdits.Hand(text, 1, new SectionHand("Dudu")).Text!;
        Assert.Equal(other, Hands(edited));
        Assert.Equal(none, Hands(ChartEdits.Hand(text, 1, SectionHand.None).Text!));
        Assert.Equal(none, Hands(ChartEdits.Hand(edited, 1, SectionHand.None).Text!));
        // Nothing else of the chart changes.
        Assert.Equal(Plain(text), Plain(edited));

        static string Hands(string t) => string.Join(' ', Read(t).Sections.Select(s => s.Strum));
        static IEnumerable<string> Plain(string t) => t.Split('\n').Where(l => !l.StartsWith("strum", StringComparison.Ordinal));
    }

    /// <summary>Bars without a heading have their hand and figures where they were written, and lose them again.</summary>
    [Theory]
    [InlineData("strum: D-du-udu\n| C | G |", "strum: Dudu\n| C | G |", "| C | G |")]
    [InlineData("title: Low Bridge\n\n| C | G |\n| F |", "title: Low Bridge\n\nstrum: Dudu\n| C | G |\n| F |",
        "title: Low Bridge\n\n| C | G |\n| F |")]
    public void A_chart_without_headings_has_one_hand(string text, string other, string none)
    {
        Assert.Equal(other, ChartEdits.Hand(text, 0, new SectionHand("Dudu")).Text);
        Assert.Equal(none, ChartEdits.Hand(text, 0, SectionHand.None).Text);
        Assert.Equal(none, ChartEdits.Hand(other, 0, SectionHand.None).Text);
    }

    [Fact]
    public void A_version_written_out_carries_its_own_hand_and_is_as_heavy_as_its_rung()
    {
        var ladder = Known.Builder.Build(
            new ArrangementRequest { Chart = Read(Song), Kind = PlayerKind.Usual, Capo = 0, HighestCapo = 0 });
        foreach (var rung in ladder.Playable)
        {
            var written = Read(ChartWriter.Write(new VersionChart(ladder, rung).Chart));
            Assert.Equal(Enumerable.Range(0, 2).Select(rung.Hand.In), written.Sections.Select(s => s.RecordedHand));
            Assert.Equal(rung.StrumLoad, new RightHand(written, Rung(5)).LoadAt(written.Tempo), 1e-9);
            Assert.Equal(Loudness.Soft, written.Sections[1].Hand.Loudness);
        }
        var loads = ladder.Playable.Select(r => r.StrumLoad).ToList();
        Assert.Equal(loads.Order(), loads);
    }

    [Fact]
    public void A_figure_stands_in_the_place_of_the_chords_under_it()
    {
        // The figure fills the bars of the first C and of F: 8 beats a verse, and the verse is played twice; the last C and G
        // are left as they are.
        var chart = ChartReader.Read(
            "key: C\ntempo: 80\nform: Verse x2\n[Verse]\nfigure: | C4 E4 G4 E4 | F4 A4 |\n| C | F | G | C |").Chart;
        var ladder = Known.Builder.Build(new ArrangementRequest { Chart = chart, Kind = PlayerKind.Usual, Capo = 0 });
        var rung = (PlayableRung)ladder.Rungs[^1];
        var outline = VersionOutline.Of(rung, chart.Tempo);
        Assert.Equal(32, outline.TotalBeats, 1e-6);
        Assert.Equal(new[] { 8.0, 8, 16 }, outline.Chords.Select(c => c.Beats).Where(b => b > 0).Order());
        Assert.Equal(16, outline.Chords.Single(c => c.Shape is null).Beats);
    }
}
