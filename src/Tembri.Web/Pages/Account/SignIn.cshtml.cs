using System.ComponentModel.DataAnnotations;
using System.Security.Claims;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Web.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class SignInModel(AccountDoor door, SessionBook sessions, SignInDelays delays, DemoStudio demo,
    AccountSettings settings, ILogger<SignInModel> log) : PageModel
{
    [BindProperty, Required(ErrorMessage = "Give your email."), Email]
    public string Email { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Give your password.")]
    public string Password { get; set; } = "";

    [BindProperty]
    public bool Remember { get; set; }

    /// <summary>How long a sign-in lasts where the host limits it.</summary>
    public string? Limits => settings.Told;

    public bool DemoIsLoaded { get; private set; }

    public bool SignedOut { get; private set; }

    public bool NewPassword { get; private set; }

    public async Task OnGetAsync(bool signedOut = false, bool newPassword = false)
    {
        (SignedOut, NewPassword) = (signedOut, newPassword);
        DemoIsLoaded = await demo.IsLoadedAsync();
    }

    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        if (ModelState.IsValid && await TryAsync(returnUrl) is { } done) return done;
        DemoIsLoaded = await demo.IsLoadedAsync();
        return Page();
    }

    private async Task<IActionResult?> TryAsync(string? returnUrl)
    {
        var isDemo = Email.Trim().Equals(DemoStudio.Email, StringComparison.OrdinalIgnoreCase);
        if (!isDemo && await delays.HoldOffAsync(Email, HttpContext) is { } wait)
        {
            ModelState.AddModelError("", wait);
            return null;
        }
        if (await door.FindAsync(Email, Password) is not { } teacher)
        {
            if (!isDemo) await delays.FailedAsync(Email, HttpContext);
            log.LogWarning("Sign-in failed, from {Address}", HttpContext.Connection.RemoteIpAddress);
            ModelState.AddModelError("", "That email and password do not belong together. Check both and try again.");
            return null;
        }
        if (!isDemo) await delays.SucceededAsync(Email, HttpContext);
        if (await door.IsClosedAsync(teacher))
        {
            ModelState.AddModelError("", "This studio is closed. Nothing in it is lost; ask whoever runs Tembri for you.");
            return null;
        }
        var way = Url.IsLocalUrl(returnUrl) ? returnUrl : "/";
        if (!teacher.TwoFactorEnabled)
        {
            await sessions.StartAsync(teacher, Remember);
            return LocalRedirect(way);
        }
        await HttpContext.SignInAsync(IdentityConstants.TwoFactorUserIdScheme, new ClaimsPrincipal(new ClaimsIdentity(
            [new Claim(ClaimTypes.Name, teacher.Id.ToString()), new Claim("stamp", teacher.SecurityStamp ?? "")],
            IdentityConstants.TwoFactorUserIdScheme)));
        return RedirectToPage("SecondFactor", new { returnUrl = way, remember = Remember });
    }

    public async Task<IActionResult> OnPostDemoAsync()
    {
        if (await demo.TeacherAsync() is not { } teacher) return RedirectToPage();
        await sessions.StartAsync(teacher, remember: false);
        return LocalRedirect("/");
    }
}
