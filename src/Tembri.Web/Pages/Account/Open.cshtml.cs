using System.ComponentModel.DataAnnotations;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Studios;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class OpenModel(TembriDbContext context, UserManager<Teacher> users, SignInManager<Teacher> signIn, TimeProvider clock) : PageModel
{
    [BindProperty, Required(ErrorMessage = "Give the studio a name."), StringLength(80)]
    public string StudioName { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Give an email."), EmailAddress(ErrorMessage = "That is not an email address.")]
    public string Email { get; set; } = "";

    [BindProperty, Required(ErrorMessage = "Choose a password.")]
    public string Password { get; set; } = "";

    public async Task<IActionResult> OnPostAsync()
    {
        if (!ModelState.IsValid) return Page();
        var studio = new Studio { Name = StudioName.Trim(), CreatedAt = clock.GetUtcNow() };
        var teacher = new Teacher { UserName = Email, Email = Email, StudioId = studio.Id };
        var result = await context.Database.CreateExecutionStrategy().ExecuteAsync(async () =>
        {
            await using var transaction = await context.Database.BeginTransactionAsync();
            context.Studios.Add(studio);
            await context.SaveChangesAsync();
            var created = await users.CreateAsync(teacher, Password);
            if (created.Succeeded) await transaction.CommitAsync();
            return created;
        });
        if (!result.Succeeded)
        {
            foreach (var message in result.Errors.Where(e => e.Code != "DuplicateUserName").Select(e => e.Description)) ModelState.AddModelError("", message);
            return Page();
        }
        await signIn.SignInAsync(teacher, isPersistent: false);
        return LocalRedirect("/");
    }
}
