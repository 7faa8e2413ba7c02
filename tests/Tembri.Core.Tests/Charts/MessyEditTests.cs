using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Strums;
using static Tembri.Core.Tests.Charts.MessyCharts;

namespace Tembri.Core.Tests.Charts;

/// <summary>What a teacher does to a chart's sections on the page, done to each chart as people paste them: what was asked for
/// is there and all else is what it was.</summary>
public sealed class MessyEditTests
{
    public static TheoryData<string> Names => MessyCharts.Names;

    private static List<string> Sections(Chart chart) => [.. chart.Sections.Select(s => $"{s.Name}: {Bars(s)}")];

    private static List<string> Hands(Chart chart) => [.. chart.Sections.Select(s => s.Strum)];

    /// <summary>The chart and its text; null where nothing was read or a line was not understood.</summary>
    private static (string Text, Chart Chart)? Known(string name)
    {
        var (chart, problems) = ChartReader.Read(All[name].Text);
        return chart.Sections.Count > 0 && problems.Count == 0 ? (All[name].Text, chart) : null;
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void Any_form_can_be_given(string name)
    {
        if (Known(name) is not var (text, chart)) return;
        List<FormPart> form = [.. chart.Sections.Select(s => new FormPart(s.Name, 2)).Reverse(), new(chart.Sections[0].Name, 1)];
        var (changed, problems) = ChartReader.Read(ChartEdits.Form(text, form).Apply(text));
        Assert.Empty(problems);
        Assert.Equal(form, changed.Form);
        Assert.Equal(Sections(chart), Sections(changed));
        Assert.Equal((chart.Title, chart.Tempo, chart.Meter, chart.RecordCapo),
            (changed.Title, changed.Tempo, changed.Meter, changed.RecordCapo));
        // Where it is not said the key is guessed from what is played, and how often.
        if (chart.KeyIsGiven) Assert.Equal(chart.Key, changed.Key);
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_section_is_copied_or_followed(string name)
    {
        if (Known(name) is not var (text, chart)) return;
        foreach (var i in Some(chart.Sections.Count, 3))
            foreach (var edit in new[] { SectionEdits.Variant(text, i), SectionEdits.Copy(text, i) })
            {
                Assert.Null(edit.Fault);
                var (longer, problems) = ChartReader.Read(edit.Text!);
                Assert.Empty(problems);
                Assert.Equal(Sections(chart), Sections(longer).SkipLast(1));
                Assert.Equal(Bars(chart.Sections[i]), Bars(longer.Sections[^1]));
                Assert.Equal([.. Hands(chart), chart.Sections[i].Strum], Hands(longer));
            }
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void A_section_comes_and_each_one_goes(string name)
    {
        if (Known(name) is not var (text, chart)) return;
        var added = ChartReader.Read(SectionEdits.NewSection(text, "Landing").Text!);
        Assert.Empty(added.Problems);
        Assert.Equal(Sections(chart), Sections(added.Chart).SkipLast(1));
        Assert.Equal([.. chart.Form, new FormPart("Landing", 1)], added.Chart.Form);
        foreach (var i in Some(chart.Sections.Count, 3))
        {
            var gone = SectionEdits.Without(text, i);
            if (gone.Text is not { } shorter) { Assert.True(gone.Fault!.Length > 10); continue; }
            var (rest, problems) = ChartReader.Read(shorter);
            Assert.Empty(problems);
            // The second of a name is called by it when the first is gone.
            Assert.Equal(Sections(chart).Where((_, at) => at != i).Select(Unnumbered), Sections(rest).Select(Unnumbered));
            if (chart.Form.Where(p => p.Section != chart.Sections[i].Name).ToList() is { Count: > 0 } form)
                Assert.Equal(form.Select(p => (Unnumbered(p.Section), p.Times)),
                    rest.Form.Select(p => (Unnumbered(p.Section), p.Times)));
        }

        static string Unnumbered(string section) => section.Replace(" (2)", "", StringComparison.Ordinal);
    }

    [Theory]
    [MemberData(nameof(Names))]
    public void The_hand_of_one_section_is_said_and_taken_back(string name)
    {
        if (Known(name) is not var (text, chart)) return;
        foreach (var i in Some(chart.Sections.Count, 3))
        {
            var said = ChartEdits.Hand(text, i, new SectionHand("D-du-udu"));
            if (said.Text is not { } other) { Assert.True(said.Fault!.Length > 10); continue; }
            var (changed, problems) = ChartReader.Read(other);
            Assert.Empty(problems);
            Assert.Equal(Sections(chart), Sections(changed));
            // Who follows another section plays as that one does.
            bool Follows(Section s) => s.Like is { } like
                && (like == chart.Sections[i].Name || chart.SectionNamed(like) is { } other && Follows(other));
            List<string> Wanted(string strum) =>
                [.. chart.Sections.Select((s, at) => at == i || Follows(s) ? strum : s.Strum)];
            Assert.Equal(Wanted("D-du-udu"), Hands(changed));
            Assert.Equal(FormOf(chart), FormOf(changed));
            var none = ChartReader.Read(ChartEdits.Hand(other, i, SectionHand.None).Text!).Chart;
            Assert.Equal(Wanted(chart.Sections[i].Like is { } like ? chart.SectionNamed(like)!.Strum : ""), Hands(none));
            Assert.Equal(Sections(chart), Sections(none));
        }
    }
}
