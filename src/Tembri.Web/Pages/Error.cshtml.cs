using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Tembri.Web.Pages;

/// <summary>Says what went wrong and what to do; never a stack trace.</summary>
[IgnoreAntiforgeryToken]
public sealed class ErrorModel : PageModel
{
    public string Heading { get; private set; } = "";
    public string Advice { get; private set; } = "";

    public void OnGet(int? code) => Say(code);

    public void OnPost(int? code) => Say(code);

    private void Say(int? code) => (Heading, Advice) = code switch
    {
        404 => ("There is nothing here", "The address may be mistyped, or the song or student was taken away. Nothing was changed."),
        400 => ("The page was too old", "The form could not be trusted, most likely because the page had been open for a long time. Go back, reload it and try again."),
        429 => ("That was very often", "Wait a minute, then try again."),
        _ => ("Something went wrong here", "The fault is ours and has been written down. What you saved before is safe; try again, or go back to the desk."),
    };
}
