using CsCheck;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Strums;

namespace Tembri.Core.Tests.Charts;

public sealed class ChartEditsTests
{
    private const string Text =
        "title: Slow Tide\nkey: C\n\n[Verse 1]\n| C | F . G . |\n| Am | [G]la la |\n\n[Chorus]\nstrum: D-du-udu\n| F | G |";

    private static Chart Read(string text)
    {
        var reading = ChartReader.Read(text);
        Assert.Empty(reading.Problems);
        return reading.Chart;
    }

    [Fact]
    public void Any_form_is_written_into_the_text_and_read_back_and_all_else_stays()
    {
        Gen.Select(Gen.Int[0, 1], Gen.Int[1, 4]).Array[1, 6].Sample(parts =>
        {
            var form = parts.Select(p => new FormPart(p.Item1 == 0 ? "Verse 1" : "Chorus", p.Item2)).ToList();
            var once = ChartEdits.Form(Text, form).Apply(Text);
            var again = ChartEdits.Form(once, [.. form.AsEnumerable().Reverse()]).Apply(once);
            Assert.Equal(form, Read(once).Form);
            Assert.Equal(form.AsEnumerable().Reverse(), Read(again).Form);
            Assert.Equal(Text.Split('\n'), again.Split('\n').Where(l => !l.StartsWith("form", StringComparison.Ordinal)));
        }, iter: 100);
    }

    [Fact]
    public void Parts_move_repeat_and_leave()
    {
        List<FormPart> form = [new("A", 1), new("B", 2), new("C", 1)];
        Assert.Equal(["B", "A", "C"], ChartEdits.Moved(form, 0, 1)!.Select(p => p.Section));
        Assert.Null(ChartEdits.Moved(form, 0, -1));
        Assert.Equal(3, ChartEdits.Repeated(form, 1, 1)[1].Times);
        Assert.Equal(["B", "C"], ChartEdits.Repeated(form, 0, -1).Select(p => p.Section));
    }

    [Fact]
    public void A_hand_said_at_the_head_is_taken_from_one_section_alone()
    {
        const string Pasted = "The Long Jetty (capo 2)\nstrum: D-du-udu\n\nVerse 1:\nG D Em C\n\nBridge (half time)\n"
            + "| Am | % | D |\n\nA section:\n| F | C |\n\nVerse 2 (same as verse 1)";
        var none = Read(ChartEdits.Hand(Pasted, 1, SectionHand.None).Text!);
        Assert.Equal(("The Long Jetty", 2), (none.Title, none.RecordCapo));
        Assert.Equal(["D-du-udu", "", "D-du-udu", "D-du-udu"], none.Sections.Select(s => s.Strum));
    }

    [Fact]
    public void A_section_is_copied_or_followed_by_a_new_one()
    {
        var chart = Read(Text);
        var variant = Read(SectionEdits.Variant(Text, 0).Text!);
        Assert.Equal(("Verse 2", "Verse 1"), (variant.Sections[2].Name, variant.Sections[2].Like));
        Assert.Equal(variant.Sections[0].Bars.SelectMany(b => b.Slots).Select(s => (s.Symbol, s.Beats)),
            variant.Sections[2].Bars.SelectMany(b => b.Slots).Select(s => (s.Symbol, s.Beats)));
        foreach (var (section, at) in chart.Sections.Select((s, i) => (s, i)))
        {
            var copy = Read(SectionEdits.Copy(Text, at).Text!).Sections[2];
            Assert.Null(copy.Like);
            Assert.Equal(section.Strum, copy.Strum);
            Assert.Equal(section.Bars.SelectMany(b => b.Slots).Select(s => (s.Symbol, s.Beats, s.Lyric.Trim())),
                copy.Bars.SelectMany(b => b.Slots).Select(s => (s.Symbol, s.Beats, s.Lyric.Trim())));
        }
    }

    [Fact]
    public void A_section_comes_and_goes_with_its_part_in_the_form_and_all_else_stays()
    {
        foreach (var text in new[] { Text, "form: Verse 1, Chorus x2\n" + Text, "[C]salt on the [G]sill" })
        {
            var before = Read(text);
            foreach (var name in new[] { "Bridge", "A", "Verse  2 " })
            {
                var longer = SectionEdits.NewSection(text, name).Text!;
                var chart = Read(longer);
                Assert.Equal([.. before.Form, new FormPart(name.Replace("  ", " ", StringComparison.Ordinal).Trim(), 1)],
                    chart.Form);
                Assert.Equal("C", chart.Sections[^1].Bars.Single().Slots.Single().Symbol);
                var back = SectionEdits.Without(longer, chart.Sections.Count - 1).Text!;
                Assert.Equal(text.TrimEnd(), back.TrimEnd());
            }
        }
        Assert.Equal("[Intro]\n| C |", SectionEdits.NewSection("", "Intro").Text);
        Assert.Contains("already", SectionEdits.NewSection(Text, "verse 1").Fault!, StringComparison.Ordinal);
        Assert.NotNull(SectionEdits.NewSection(Text, " ").Fault);
        var followed = Text + "\n\n[Verse 2: as Verse 1]\n";
        Assert.Contains("follows", SectionEdits.Without(followed, 0).Fault!, StringComparison.Ordinal);
        Assert.Contains("only section", SectionEdits.Without("| C |", 0).Fault!, StringComparison.Ordinal);
        // Of two that are called alike the second keeps its bars and takes the name; a name that plays one again needs it.
        const string Twice = "[Verse]\n| G |\n[Chorus]\n| C |\n[Verse]\n| D |";
        Assert.Equal(["Chorus", "Verse"], Read(SectionEdits.Without(Twice, 0).Text!).Sections.Select(s => s.Name));
        Assert.Contains("Without Verse line 3 would not be understood any more: The section Verse has no bars",
            SectionEdits.Without("[Verse]\n| G |\n[Chorus]\n| C |\n[Verse]", 0).Fault!, StringComparison.Ordinal);
    }
}
