using Markdig;
using Microsoft.AspNetCore.Html;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Tembri.Web.Pages;

/// <summary>The guide: the text of docs/guide.md, which ships with the application.</summary>
internal sealed class GuideModel : PageModel
{
    private static readonly Lazy<string> Written = new(() =>
    {
        using var stream = typeof(GuideModel).Assembly.GetManifestResourceStream("guide.md") ?? throw new InvalidOperationException("The guide is not embedded.");
        using var reader = new StreamReader(stream);
        return Markdown.ToHtml(reader.ReadToEnd(), new MarkdownPipelineBuilder().UseAutoIdentifiers().DisableHtml().Build());
    });

    public void OnGet() { }

    public IHtmlContent Text => new HtmlString(Written.Value);
}
