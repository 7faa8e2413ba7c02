using System.Globalization;
using Microsoft.AspNetCore.Mvc.Rendering;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Tembri.Web.Drawings;

/// <summary>Writes a scene as SVG: <c>&lt;scene model="…" /&gt;</c>. The only place where drawings become markup.</summary>
[HtmlTargetElement("scene", TagStructure = TagStructure.WithoutEndTag)]
public sealed class SceneTagHelper : TagHelper
{
    /// <summary>The scene.</summary>
    public required Scene Model { get; set; }

    /// <inheritdoc/>
    public override void Process(TagHelperContext context, TagHelperOutput output)
    {
        output.TagName = "svg";
        output.TagMode = TagMode.StartTagAndEndTag;
        output.Attributes.SetAttribute("class", "drawing");
        output.Attributes.SetAttribute("viewBox", $"0 0 {N(Model.Width)} {N(Model.Height)}");
        output.Attributes.SetAttribute("width", N(Model.Width * Model.Scale));
        output.Attributes.SetAttribute("height", N(Model.Height * Model.Scale));
        output.Attributes.SetAttribute("focusable", "false");
        if (Model.Words.Length == 0) output.Attributes.SetAttribute("aria-hidden", "true");
        else
        {
            // A drawing with links in it is a group; without, an image.
            output.Attributes.SetAttribute("role", Model.Marks.Any(m => m is Link) ? "group" : "img");
            output.Attributes.SetAttribute("aria-label", Model.Words);
        }
        foreach (var mark in Model.Marks) output.Content.AppendHtml(Write(mark));
    }

    private static string N(double value) => Math.Round(value, 2).ToString(CultureInfo.InvariantCulture);

    private static string Stroke(Tone tone) => "d-" + tone.ToString().ToLowerInvariant();

    private static string Fill(Tone tone) => "f-" + tone.ToString().ToLowerInvariant();

    private static TagBuilder Tag(string name, params ReadOnlySpan<(string Name, string Value)> attributes)
    {
        var tag = new TagBuilder(name);
        foreach (var (key, value) in attributes) tag.Attributes[key] = value;
        return tag;
    }

    private static TagBuilder Write(Mark mark) => mark switch
    {
        Line l => WithDashes(Tag("line", ("x1", N(l.X1)), ("y1", N(l.Y1)), ("x2", N(l.X2)), ("y2", N(l.Y2)),
                ("stroke-width", N(l.Weight)), ("stroke-linecap", "round"), ("class", Stroke(l.Tone))), l.Broken, l.Weight),
        Disc d => WithPaint(Tag("circle", ("cx", N(d.X)), ("cy", N(d.Y)), ("r", N(d.Radius))), d.Tone, d.Weight),
        Slab s => WithPaint(
            Tag("rect", ("x", N(s.X)), ("y", N(s.Y)), ("width", N(s.Width)), ("height", N(s.Height)), ("rx", N(s.Round))),
            s.Tone, s.Weight),
        Area a => Tag("polygon", ("points", Points(a.Points)), ("class", Fill(a.Tone))),
        Curve c => Tag("polyline", ("points", Points(c.Points)), ("stroke-width", N(c.Weight)), ("class", Stroke(c.Tone))),
        Label l => WriteLabel(l),
        Symbol s => WriteSymbol(s),
        Inset i => WriteInset(i),
        Link l => WriteLink(l),
        _ => throw new InvalidOperationException($"There is no SVG for {mark.GetType().Name}."),
    };

    private static string Points(IReadOnlyList<(double X, double Y)> points) =>
        string.Join(' ', points.Select(p => $"{N(p.X)},{N(p.Y)}"));

    private static TagBuilder WithDashes(TagBuilder tag, bool broken, double weight)
    {
        if (broken) tag.Attributes["stroke-dasharray"] = $"{N(weight * 1.2)} {N(weight * 3.4)}";
        return tag;
    }

    private static TagBuilder WithPaint(TagBuilder tag, Tone tone, double weight)
    {
        tag.Attributes["class"] = weight > 0 ? Stroke(tone) : Fill(tone);
        if (weight > 0) tag.Attributes["stroke-width"] = N(weight);
        return tag;
    }

    private static TagBuilder WriteLabel(Label label)
    {
        var tag = Tag("text", ("x", N(label.X)), ("y", N(label.Y)), ("font-size", N(label.Size)), ("class", Fill(label.Tone)),
            ("text-anchor", label.Anchor.ToString().ToLowerInvariant()));
        if (label.HasHalo) tag.AddCssClass("halo");
        if (label.Bold) tag.Attributes["font-weight"] = "700";
        tag.InnerHtml.Append(label.Text);
        return tag;
    }

    private static TagBuilder WriteSymbol(Symbol symbol)
    {
        var tag = Tag("text", ("x", N(symbol.X)), ("y", N(symbol.Y)), ("font-size", N(symbol.Size)),
            ("class", $"{Fill(symbol.Tone)} serif"), ("text-anchor", "middle"), ("font-weight", "600"));
        var raised = false;
        foreach (var run in ChordText.Runs(symbol.Chord))
        {
            var part = new TagBuilder("tspan");
            if (run.Raised != raised) part.Attributes["dy"] = N((run.Raised ? -Raise : Raise) * symbol.Size);
            if (run.Raised) part.Attributes["font-size"] = N(RaisedSize * symbol.Size);
            raised = run.Raised;
            part.InnerHtml.Append(run.Text);
            tag.InnerHtml.AppendHtml(part);
        }
        return tag;
    }

    private const double Raise = 0.34, RaisedSize = 0.72;

    private static TagBuilder WriteInset(Inset inset)
    {
        var tag = Tag("g", ("transform", $"translate({N(inset.X)} {N(inset.Y)}) scale({N(inset.Scene.Scale)})"),
            ("aria-hidden", "true"));
        foreach (var mark in inset.Scene.Marks) tag.InnerHtml.AppendHtml(Write(mark));
        return tag;
    }

    private static TagBuilder WriteLink(Link link)
    {
        var tag = Tag("a", ("href", link.Address), ("aria-label", link.Name));
        if (link.Key is { } key) tag.Attributes["data-key"] = key;
        if (link.IsCurrent) tag.Attributes["aria-current"] = "true";
        foreach (var mark in link.Marks) tag.InnerHtml.AppendHtml(Write(mark));
        return tag;
    }
}
