using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Web.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class OpenModel(AccountDoor door, SessionBook sessions, SignInDelays delays) : PageModel
{
    [BindProperty, Required(ErrorMessage = "Give the studio a name."),
        StringLength(80, ErrorMessage = "80 letters are the most for a name.")]
    public string StudioName { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Give an email."), Email]
    public string Email { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Choose a password.")]
    public string Password { get; set; } = "";

    public void OnGet()
    {
    }

    public async Task<IActionResult> OnPostAsync()
    {
        if (!ModelState.IsValid) return Page();
        // Whoever has the password is let in here as well, so this is no place to guess faster than at the sign-in.
        if (await delays.HoldOffAsync(Email, HttpContext) is { } wait)
        {
            ModelState.AddModelError("", wait);
            return Page();
        }
        await delays.CountAsync(Email, HttpContext);
        var (teacher, faults) = await door.OpenAsync(StudioName, Email, Password);
        foreach (var fault in faults) ModelState.AddModelError("", fault);
        if (teacher is null) return Page();
        if (teacher.TwoFactorEnabled) return RedirectToPage("SignIn");
        await sessions.StartAsync(teacher, remember: false);
        return LocalRedirect("/");
    }
}
