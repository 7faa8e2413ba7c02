using System.Net;
using System.Text.RegularExpressions;
using Markdig;
using Markdig.Renderers;
using Markdig.Syntax;
using Microsoft.AspNetCore.Html;
using Tembri.Web.Practice;
using Tembri.Web.Songs;

namespace Tembri.Web.Words;

/// <summary>The guide, docs/guide.md with its drawings: whole, and each part for the page where it belongs.</summary>
internal static partial class GuideText
{
    private static readonly MarkdownPipeline Pipeline = new MarkdownPipelineBuilder().UseAutoIdentifiers().DisableHtml().Build();
    private static readonly Lazy<(string Whole, IReadOnlyDictionary<string, string> Parts)> Read = new(ReadAll);

    /// <summary>All of it.</summary>
    public static IHtmlContent Whole => new HtmlString(Read.Value.Whole);

    /// <summary>Names of the parts: the headings in small letters, with hyphens.</summary>
    public static IEnumerable<string> Parts => Read.Value.Parts.Keys;

    /// <summary>The part under a heading.</summary>
    /// <param name="name">One of <see cref="Parts"/>.</param>
    public static IHtmlContent Part(string name) => new HtmlString(Read.Value.Parts[name]);

    /// <summary>The part that belongs to a page of the studio.</summary>
    /// <param name="path">The page's path.</param>
    public static string For(PathString path) =>
        path.StartsWithSegments("/songs/new") || path.StartsWithSegments("/songs/bring") ? "the-chart"
        : path.StartsWithSegments("/songs") || path.StartsWithSegments("/find") ? "find"
        : path.StartsWithSegments("/students/new") ? "hand-and-skill"
        : path.StartsWithSegments("/students") ? "find"
        : path.StartsWithSegments("/sets") ? "sets"
        : path.StartsWithSegments("/sheets") ? "sheets"
        : path.StartsWithSegments("/studio/data") ? "in-and-out"
        : path.StartsWithSegments("/studio") ? "the-ladder"
        : path == "/" || path.StartsWithSegments("/lessons") ? "today"
        : "the-first-hour";

    /// <summary>The part that belongs to a page of a song.</summary>
    public static string For(SongTab tab) => tab switch
    {
        SongTab.Record => "the-record",
        SongTab.Chart or SongTab.Files => "the-chart",
        SongTab.Changes or SongTab.RightHand => "changes-and-the-right-hand",
        SongTab.Listen => "hear-and-play",
        SongTab.Sheet => "sheets",
        SongTab.Class => "several-students-on-one-song",
        _ => "the-ladder",
    };

    /// <summary>The part that belongs to a page of a student.</summary>
    public static string For(StudentTab tab) => tab switch
    {
        StudentTab.Practice or StudentTab.Log => "practice",
        StudentTab.Road => "the-road",
        StudentTab.Records => "in-and-out",
        _ => "hand-and-skill",
    };

    private static (string, IReadOnlyDictionary<string, string>) ReadAll()
    {
        var document = Markdown.Parse(Resource("guide.md"), Pipeline);
        var parts = new Dictionary<string, string>();
        var name = "";
        foreach (var block in document)
        {
            if (block is HeadingBlock { Level: 2 } heading)
                parts[name = Markdig.Renderers.Html.HtmlAttributesExtensions.GetAttributes(heading).Id!] = "";
            else if (name.Length > 0) parts[name] += Html(block);
        }
        return (Html(document), parts);
    }

    private static string Html(MarkdownObject block)
    {
        using var text = new StringWriter();
        var renderer = new HtmlRenderer(text);
        Pipeline.Setup(renderer);
        renderer.Render(block);
        // Drawings stand in the page itself, so that they take its ink and its letters.
        return Picture()
            .Replace(text.ToString(),
                m =>
                    "<span class=\"guide-picture\" role=\"img\" "
                        + $"aria-label=\"{WebUtility.HtmlEncode(WebUtility.HtmlDecode(m.Groups[2].Value))}\">{Resource($"guide.{m.Groups[1].Value}.svg")}</span>");
    }

    private static string Resource(string name)
    {
        using var stream = typeof(GuideText).Assembly.GetManifestResourceStream(name)
            ?? throw new InvalidOperationException($"{name} is not embedded.");
        using var reader = new StreamReader(stream);
        return reader.ReadToEnd();
    }

    [GeneratedRegex("""<img src="guide/([a-z]+)\.svg" alt="([^"]*)" />""")]
    private static partial Regex Picture();
}
