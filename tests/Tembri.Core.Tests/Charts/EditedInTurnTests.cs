using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Strums;

namespace Tembri.Core.Tests.Charts;

/// <summary>A song is worked on edit after edit, as a teacher does: each one does what was asked for and nothing else, whatever
/// the ones before it left, and whatever the song was like when it was brought.</summary>
public sealed class EditedInTurnTests
{
    private const int Edits = 8;
    private static readonly string[] Contents =
    [
        "Am", "C G", "F#m7b5", "G . D .", "Bb7 | Eb", "N.C.", "%", "C/E", "e7", "G (let ring)", "<D", "2/4 A", "A7(b9)",
    ];
    private static readonly string[] Messy = [.. MessyCharts.All.Values.Select(c => c.Text)];

    private static string Song(int number) => (number % 3) switch
    {
        0 => Messy[number / 3 * 7 % Messy.Length],
        1 => new PastedSong(number).Text,
        _ => new PastedBars(number).Text,
    };

    private static string Played(Bar bar) => string.Join(' ', bar.Slots.Select(s => $"{s.Chord?.Name ?? s.Symbol}:{s.Beats:0.###}"));

    /// <summary>A bar as it sounds: how its chords are spelt follows the key, which an edit may change where none is
    /// said.</summary>
    private static string Sounding(Bar bar) => string.Join(' ', bar.Slots.Select(s =>
        $"{s.Chord?.PitchClassMask.ToString("x") ?? s.Symbol}/{s.Chord?.Bass?.PitchClass}:{s.Beats:0.###}"));

    private static string Words(Section section) => string.Concat(section.Bars
        .SelectMany(b => b.Slots.Select(s => s.Lyric).Prepend(b.Lead)).SelectMany(w => w.Where(c => !char.IsWhiteSpace(c))));

    /// <summary>All of a section that an edit elsewhere leaves alone; one that follows another changes with that.</summary>
    private static string Whole(Section section) => section.Like is { } like
        ? $"{section.Name}, as {like}"
        : $"{section.Name}: {string.Join(" | ", section.Bars.Select(Sounding))} {Words(section)}";

    private static List<string> Hands(Chart chart) => [.. chart.Sections.Select(s => s.Strum)];

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public void Each_edit_does_what_was_asked_and_nothing_else(int part)
    {
        var made = 0;
        for (var number = 100 * part; number < 100 * (part + 1); number++)
        {
            var (random, text) = (new Random(number), Song(number));
            var (chart, problems) = ChartReader.Read(text);
            for (var edit = 0; edit < Edits && chart.Sections.Count > 0 && problems.Count == 0; edit++)
            {
                if (Next(random, text, chart) is not var (asked, changed)) continue;
                made++;
                var after = ChartReader.Read(changed);
                if (Broken(asked, chart, after.Chart) is { } broken)
                    Assert.Fail($"{broken} (song {number}, edit {edit}: {asked})\n{text}\n--- now\n{changed}");
                (text, chart, problems) = (changed, after.Chart, after.Problems);
            }
        }
        Assert.True(made > 400, $"Only {made} edits were made; most were refused.");
    }

    private sealed record Asked(string What, int Section, int Bar = 0, string Content = "", IReadOnlyList<FormPart>? Form = null);

    /// <summary>Asks for something by chance; null when it was refused, for which there are words.</summary>
    private static (Asked Asked, string Text)? Next(Random random, string text, Chart chart)
    {
        var section = random.Next(chart.Sections.Count);
        var bar = random.Next(chart.Sections[section].Bars.Count);
        var (content, at) = (Contents[random.Next(Contents.Length)], new BarAddress(section, bar));
        (Asked, string)? Made(string what, Edited edited, string content = "")
        {
            Assert.True(edited is { Text: not null } or { Fault.Length: > 10 });
            return edited.Text is { } changed ? (new(what, section, bar, content), changed) : null;
        }
        switch (random.Next(11))
        {
            case 0: return Made("add", BarEdits.Add(text, at));
            case 1 or 2: return Made("remove", BarEdits.Remove(text, at));
            case 3: return Made("split", BarEdits.Split(text, at, 0));
            case 4: return Made("copy", SectionEdits.Copy(text, section));
            case 5: return Made("new", SectionEdits.NewSection(text, $"Landing {random.Next(100)}"));
            case 6: return Made("without", SectionEdits.Without(text, section));
            case 7: return Made("hand", ChartEdits.Hand(text, section, new SectionHand("D-du-udu")));
            case 8:
                var form = chart.Form.Select(p => p with { Times = random.Next(1, 4) }).Reverse().ToList();
                return (new("form", section, Form: form), ChartEdits.Form(text, form).Apply(text));
            default: return Made("write", BarEdits.Write(text, at, content), content);
        }
    }

    /// <summary>What an edit broke; null where it did as asked.</summary>
    private static string? Broken(Asked asked, Chart before, Chart after)
    {
        var at = asked.Section;
        var (was, now) = (before.Sections.Select(Whole).ToList(), after.Sections.Select(Whole).ToList());
        if ((before.Title, before.Tempo, before.Meter, before.RecordCapo)
            != (after.Title, after.Tempo, after.Meter, after.RecordCapo))
            return "The head of the song";
        if (asked.What is not ("form" or "new" or "without" or "copy") && !before.Form.SequenceEqual(after.Form)) return "The form";
        switch (asked.What)
        {
            case "form":
                return !asked.Form!.SequenceEqual(after.Form) ? "The form" : !was.SequenceEqual(now) ? "A section" : null;
            case "new":
                return !was.SequenceEqual(now.SkipLast(1)) ? "A section" : before.Form.SequenceEqual(after.Form.SkipLast(1)) ? null : "The form";
            case "copy":
                return !was.SequenceEqual(now.SkipLast(1)) ? "A section"
                    : before.Sections[at].Bars.Select(Sounding).SequenceEqual(after.Sections[^1].Bars.Select(Sounding)) ? null : "The copy";
            case "without":
                return was.Where((_, i) => i != at).SequenceEqual(now) ? null : "Another section";
            case "hand":
                return !was.SequenceEqual(now) ? "A section" : after.Sections[at].Strum == "D-du-udu" ? null : "The hand";
        }
        if (!was.Where((_, i) => i != at).SequenceEqual(now.Where((_, i) => i != at))) return "Another section";
        if (!Hands(before).SequenceEqual(Hands(after))) return "The hands";
        var (then, here) = (before.Sections[at], after.Sections[at]);
        // Rows that only together are bars have no place in the text until they are written as bars.
        if (then.Like is not null || then.Bars[asked.Bar].Span is null) return null;
        if (asked.What is not "remove" && Words(then) != Words(here)) return "The words";
        // Where bars are repeated, all their repeats come and go.
        var again = then.Bars.Count(b => b.Span == then.Bars[asked.Bar].Span);
        var more = asked.What switch { "add" => again, "remove" => -again, "write" when asked.Content.Contains('|') => again, _ => 0 };
        if (here.Bars.Count != then.Bars.Count + more) return "How many bars there are";
        return asked is { What: "write", Content: "F#m7b5" } && Played(here.Bars[asked.Bar]) is var played && !played.Contains("m7♭5", StringComparison.Ordinal)
            ? "What was written"
            : null;
    }
}
