using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>The second step of signing in: a code of the authenticator app, or one of the recovery codes.</summary>
[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class SecondFactorModel(UserManager<Teacher> users, SessionBook sessions, SignInDelays delays,
    ILogger<SecondFactorModel> log) : PageModel
{
    [BindProperty]
    public string? Code { get; set; }

    [BindProperty(SupportsGet = true)]
    public string? ReturnUrl { get; set; }

    [BindProperty(SupportsGet = true)]
    public bool Remember { get; set; }

    public async Task<IActionResult> OnGetAsync() => await WhoAsync() is null ? RedirectToPage("SignIn") : Page();

    public async Task<IActionResult> OnPostAsync()
    {
        if (await WhoAsync() is not { } teacher) return RedirectToPage("SignIn");
        var name = $"second factor {teacher.Id}";
        if (await delays.HoldOffAsync(name, HttpContext) is { } wait)
        {
            ModelState.AddModelError("", wait);
            return Page();
        }
        var code = new string([.. (Code ?? "").Where(c => !char.IsWhiteSpace(c)).Take(40)]);
        var isRight = code.Length == 6 && code.All(char.IsAsciiDigit)
            ? await users.VerifyTwoFactorTokenAsync(teacher, users.Options.Tokens.AuthenticatorTokenProvider, code)
            : code.Length > 0 && (await users.RedeemTwoFactorRecoveryCodeAsync(teacher, code.ToUpperInvariant())).Succeeded;
        if (!isRight)
        {
            await delays.FailedAsync(name, HttpContext);
            log.LogWarning("Second factor failed, from {Address}", HttpContext.Connection.RemoteIpAddress);
            ModelState.AddModelError("",
                "This code does not fit. Every code works once: wait for the app's next one, which comes within 30 seconds, or "
                    + "take a recovery code you have not used.");
            return Page();
        }
        await delays.SucceededAsync(name, HttpContext);
        await HttpContext.SignOutAsync(IdentityConstants.TwoFactorUserIdScheme);
        await sessions.StartAsync(teacher, Remember);
        return LocalRedirect(Url.IsLocalUrl(ReturnUrl) ? ReturnUrl : "/");
    }

    /// <summary>Who gave the right password a moment ago; null when nobody did, or when it was changed since.</summary>
    private async Task<Teacher?> WhoAsync()
    {
        var ticket = await HttpContext.AuthenticateAsync(IdentityConstants.TwoFactorUserIdScheme);
        if (ticket.Principal?.FindFirstValue(ClaimTypes.Name) is not { } id || await users.FindByIdAsync(id) is not { } teacher)
            return null;
        return teacher.SecurityStamp == ticket.Principal.FindFirstValue("stamp") ? teacher : null;
    }
}
