using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Tembri.Web.Accounts;
using Tembri.Web.Mail;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>Asks for a new password by mail; the answer is the same whoever asks.</summary>
[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class ForgotModel(AccountMails mails, MailSetup mail) : PageModel
{
    [BindProperty, Required(ErrorMessage = "Give your email."), Email]
    public string Email { get; set; } = "";

    public bool Sent { get; private set; }

    public MailSetup Mail => mail;

    public void OnGet()
    {
    }

    public IActionResult OnPost()
    {
        if (!ModelState.IsValid) return Page();
        mails.ForgotPassword(Email, Request);
        Sent = true;
        return Page();
    }
}
