using System.Globalization;
using Microsoft.AspNetCore.Razor.TagHelpers;

namespace Tembri.Web.Drawings;

/// <summary>Writes a scene as SVG: <c>&lt;scene model="…" /&gt;</c>; its marks are written by <see cref="SceneMarkup"/>.</summary>
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
        output.Content.SetHtmlContent(new SceneMarkup(Model));
    }

    private static string N(double value) => Math.Round(value, 2).ToString(CultureInfo.InvariantCulture);
}
