using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Music;
using Tembri.Core.Charts.Editing;

namespace Tembri.Web.Songs;

/// <summary>A change made on the chart's drawing instead of in its text: a bar, a section or a part of the form.</summary>
internal sealed class ChartAct
{
    /// <summary>What to do: write, split, join, meter, add, remove; section, variant, copy, leave-section; form.</summary>
    public string? Act { get; set; }
    public int Section { get; set; }
    public int Bar { get; set; }

    /// <summary>Chord in the bar, from 0.</summary>
    public int Slot { get; set; }

    /// <summary>The bar as typed; null for as it stands.</summary>
    public string? Content { get; set; }
    public string? Meter { get; set; }

    /// <summary>Name of a new section.</summary>
    public string? Name { get; set; }

    /// <summary>Part of the form, from 0, and where it goes.</summary>
    public int Part { get; set; }
    public int To { get; set; }

    /// <summary>The text with the change made, or why it was not.</summary>
    public Edited On(string text)
    {
        text = text.Replace("\r\n", "\n", StringComparison.Ordinal);
        var at = new BarAddress(Section, Bar);
        return Act switch
        {
            "write" => BarEdits.Write(text, at, Content ?? ""),
            "split" => BarEdits.Split(text, at, Slot, Content),
            "join" => BarEdits.Join(text, at, Slot, Content),
            "meter" => Core.Music.Meter.TryParse(Meter, out var meter)
                ? BarEdits.SetMeter(text, at, meter, Content)
                : new Edited(null, $"'{Meter}' is not a meter; write one such as 2/4 or 6/8."),
            "add" => BarEdits.Add(text, at),
            "remove" => BarEdits.Remove(text, at),
            "section" => SectionEdits.NewSection(text, Name ?? ""),
            "variant" => SectionEdits.Variant(text, Section),
            "copy" => SectionEdits.Copy(text, Section),
            "leave-section" => SectionEdits.Without(text, Section),
            "form" => MoveInForm(text),
            _ => new Edited(null, "This page is from before an update; load it again. Your text is kept."),
        };
    }

    private Edited MoveInForm(string text)
    {
        var form = ChartReader.Read(text).Chart.Form;
        return Part < form.Count && Part >= 0 && ChartEdits.Moved(form, Part, To - Part) is { } moved
            ? new Edited(ChartEdits.Form(text, moved).Apply(text), null)
            : new Edited(null, "This part cannot go there.");
    }
}
