using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>Ends every session of the teacher, so that no cookie left anywhere is worth anything. The demo's visitors only end
/// their own.</summary>
internal sealed class SignOutModel(SignInManager<Teacher> signIn, UserManager<Teacher> users, SessionBook sessions,
    DemoStudio demo) : PageModel
{
    public IActionResult OnGet() => LocalRedirect("/");

    public async Task<IActionResult> OnPostAsync()
    {
        if (await users.GetUserAsync(User) is { } teacher)
        {
            if (!await demo.IsDemoAsync(teacher)) await sessions.EndAllAsync(teacher);
            else if (sessions.Current is { } session) await sessions.EndAsync(teacher.Id, session);
        }
        await signIn.SignOutAsync();
        return LocalRedirect("/account/sign-in?signedOut=true");
    }
}
