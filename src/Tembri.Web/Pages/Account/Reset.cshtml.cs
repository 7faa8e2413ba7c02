using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Mail;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>Chooses a new password with the link of a mail; every session ends.</summary>
[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class ResetModel(UserManager<Teacher> users, SessionBook sessions, AccountMails mails) : PageModel
{
    [BindProperty(SupportsGet = true, Name = "user")]
    public Guid Teacher { get; set; }

    [BindProperty(SupportsGet = true)]
    public string Token { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Choose a password.")]
    public string Password { get; set; } = "";

    public void OnGet() => ModelState.Clear();

    public async Task<IActionResult> OnPostAsync()
    {
        if (!ModelState.IsValid) return Page();
        var teacher = await users.FindByIdAsync(Teacher.ToString());
        var result = teacher is null ? null : await users.ResetPasswordAsync(teacher, Token, Password);
        if (result is { Succeeded: true })
        {
            await sessions.EndAllAsync(teacher!);
            mails.PasswordChanged(teacher!);
            return LocalRedirect("/account/sign-in?newPassword=true");
        }
        var passwordFaults = result?.Errors.Where(e => e.Code == "Password").Select(e => e.Description).ToList() ?? [];
        foreach (var fault in passwordFaults.DefaultIfEmpty(
            "This link was used, is older than two hours, or was not copied whole. Ask for another one."))
            ModelState.AddModelError("", fault);
        return Page();
    }
}
