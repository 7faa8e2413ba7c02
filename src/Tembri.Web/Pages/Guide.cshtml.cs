using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Tembri.Web.Pages;

/// <summary>The guide: the text of docs/guide.md, which ships with the application.</summary>
internal sealed class GuideModel : PageModel
{
    public void OnGet() { }
}
