using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class SignInModel(SignInManager<Teacher> signIn, DemoStudio demo) : PageModel
{
    [BindProperty, Required, EmailAddress]
    public string Email { get; set; } = "";

    [BindProperty, Required]
    public string Password { get; set; } = "";

    [BindProperty]
    public bool Remember { get; set; }

    public bool DemoIsLoaded { get; private set; }

    public async Task OnGetAsync() => DemoIsLoaded = await demo.IsLoadedAsync();

    public async Task<IActionResult> OnPostAsync(string? returnUrl)
    {
        if (ModelState.IsValid)
        {
            var result = await signIn.PasswordSignInAsync(Email, Password, Remember, lockoutOnFailure: true);
            if (result.Succeeded) return LocalRedirect(Url.IsLocalUrl(returnUrl) ? returnUrl : "/");
            ModelState.AddModelError("", result.IsLockedOut
                ? "There were too many attempts for this account. Wait ten minutes, then try again."
                : "That email and password do not belong together. Check both and try again.");
        }
        DemoIsLoaded = await demo.IsLoadedAsync();
        return Page();
    }

    public async Task<IActionResult> OnPostDemoAsync()
    {
        if (!await demo.IsLoadedAsync()) return RedirectToPage();
        await signIn.PasswordSignInAsync(DemoStudio.Email, DemoStudio.Password, isPersistent: false, lockoutOnFailure: false);
        return LocalRedirect("/");
    }
}
