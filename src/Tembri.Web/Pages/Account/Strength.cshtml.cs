using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Web.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>Says how hard a password is to guess while it is typed; nothing of it is kept.</summary>
[EnableRateLimiting(TembriServices.StrengthRateLimit)]
internal sealed class StrengthModel : PageModel
{
    public IActionResult OnGet() => Redirect("/account/sign-in");

    public IActionResult OnPost(string? password)
    {
        var (step, words) = PasswordRules.Strength(password ?? "");
        return new JsonResult(new { step, words });
    }
}
