using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Data.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>Takes the new email address with the link of the mail that was sent there.</summary>
[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class AddressModel(UserManager<Teacher> users) : PageModel
{
    [BindProperty(SupportsGet = true, Name = "user")]
    public Guid Teacher { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Email { get; set; } = "";

    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    public bool? Taken { get; private set; }

    public void OnGet()
    {
    }

    public async Task<IActionResult> OnPostAsync()
    {
        Taken = ModelState.IsValid && await users.FindByIdAsync(Teacher.ToString()) is { } teacher
            && (await users.ChangeEmailAsync(teacher, Email, Token)).Succeeded;
        return Page();
    }
}
