using System.ComponentModel.DataAnnotations;
using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;
using Tembri.Web.Drawings;
using Tembri.Web.Mail;
using Tembri.Web.Setup;

namespace Tembri.Web.Pages.Account;

/// <summary>The teacher's account: email, password, second factor, sessions, removal. Whatever matters asks for the password
/// once more.</summary>
[EnableRateLimiting(TembriServices.SignInRateLimit)]
internal sealed class YoursModel(
    TembriDbContext context, UserManager<Teacher> users, SignInManager<Teacher> signIn, SessionBook sessions,
    OwnPassword ownPassword, AccountMails mails, MailSetup mail, DemoStudio demo,
    IDataProtectionProvider protection, TimeProvider clock) : PageModel
{
    private const int RecoveryCodes = 10;
    private static readonly TimeSpan SettingUp = TimeSpan.FromMinutes(20);
    private readonly ITimeLimitedDataProtector _seal =
        protection.CreateProtector("Tembri.SecondFactor").ToTimeLimitedDataProtector();

    public Teacher Teacher { get; private set; } = null!;
    public string StudioName { get; private set; } = "";
    public IReadOnlyList<Session> Sessions { get; private set; } = [];
    public bool IsDemo { get; private set; }
    public MailSetup Mail => mail;
    public string? Said { get; private set; }
    public Guid? Current => sessions.Current;

    /// <summary>The key to give to the app while the second factor is being set up.</summary>
    public string? AppKey { get; private set; }
    public Scene? AppPicture { get; private set; }

    /// <summary>Shows that the password was given for this key a short while ago; without it a key is neither shown again nor
    /// turned on.</summary>
    public string AppProof { get; private set; } = "";
    public IReadOnlyList<string> NewRecoveryCodes { get; private set; } = [];
    public int RecoveryCodesLeft { get; private set; }

    public string Ago(DateTimeOffset when) => (clock.GetUtcNow() - when) switch
    {
        { TotalMinutes: < 10 } => "just now",
        { TotalHours: < 2 } span => $"{span.TotalMinutes:0} minutes ago",
        { TotalDays: < 2 } span => $"{span.TotalHours:0} hours ago",
        var span => $"{span.TotalDays:0} days ago",
    };

    public async Task<IActionResult> OnGetAsync(string? said) => await LoadAsync() ?? Show(said switch
    {
        "password" => "Your password is changed. Every other session has ended.",
        "session" => "That session has ended.",
        "mail" => "A link is on its way to the new address. Until it is opened you sign in as before.",
        "factor-off" => "The second factor is off.",
        _ => null,
    });

    public async Task<IActionResult> OnPostPasswordAsync(string? password,
        [StringLength(PasswordRules.Longest)] string? newPassword)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (!await MayAsync(password)) return Page();
        var result = await users.ChangePasswordAsync(Teacher, password!, newPassword ?? "");
        if (!result.Succeeded) return Refuse(string.Join(" ", result.Errors.Select(e => e.Description)));
        await sessions.EndAllAsync(Teacher);
        mails.PasswordChanged(Teacher);
        await sessions.StartAsync(Teacher, remember: false);
        return Redirect("/account?said=password");
    }

    public async Task<IActionResult> OnPostEmailAsync(string? password, string? newEmail)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (!await MayAsync(password)) return Page();
        if (string.IsNullOrWhiteSpace(newEmail) || !new EmailAttribute().IsValid(newEmail))
            return Refuse("Give the new address.");
        if (!mail.CanSend)
            return Refuse(
                "This installation has no mail server, so a new address cannot be confirmed. The setting is Mail:Host.");
        mails.ChangeEmail(Teacher, newEmail.Trim(), await users.GenerateChangeEmailTokenAsync(Teacher, newEmail.Trim()),
            Request);
        return Redirect("/account?said=mail");
    }

    public async Task<IActionResult> OnPostSessionAsync(Guid session)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (Sessions.All(s => s.Id != session)) return Redirect("/account");
        await sessions.EndAsync(Teacher.Id, session);
        return session == sessions.Current ? LocalRedirect("/account/sign-in") : Redirect("/account?said=session");
    }

    /// <summary>Shows the key for the authenticator app; nothing holds before a code of it was given.</summary>
    public async Task<IActionResult> OnPostFactorAsync(string? password)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (!await MayAsync(password)) return Page();
        if (Teacher.TwoFactorEnabled) return Refuse("The second factor is on already; turn it off first to set up another app.");
        await users.ResetAuthenticatorKeyAsync(Teacher);
        // A new key is a new stamp, so this browser gets a cookie that knows it.
        await RenewAsync();
        var key = (await users.GetAuthenticatorKeyAsync(Teacher))!;
        ShowKey(key, _seal.Protect(ProofOf(key), SettingUp));
        return Page();
    }

    public async Task<IActionResult> OnPostFactorOnAsync(string? code, string? proof)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (Teacher.TwoFactorEnabled) return Refuse("The second factor is on already; turn it off first to set up another app.");
        if (await users.GetAuthenticatorKeyAsync(Teacher) is not { } key || !IsProof(proof, key))
            return Refuse($"Setting up was left for more than {SettingUp.TotalMinutes:0} minutes, or begun anew elsewhere. Give "
                + "your password and set it up again; nothing was changed.");
        var digits = new string([.. (code ?? "").Where(char.IsAsciiDigit).Take(6)]);
        if (!await users.VerifyTwoFactorTokenAsync(Teacher, users.Options.Tokens.AuthenticatorTokenProvider, digits))
        {
            ShowKey(key, proof!);
            return Refuse("This code does not fit. Look at the app again: it changes every 30 seconds, and the clock of the "
                + "phone must be right.");
        }
        await users.SetTwoFactorEnabledAsync(Teacher, true);
        NewRecoveryCodes = [.. await users.GenerateNewTwoFactorRecoveryCodesAsync(Teacher, RecoveryCodes) ?? []];
        await RenewAsync();
        return Show("The second factor is on. Other sessions have ended.");
    }

    public async Task<IActionResult> OnPostFactorOffAsync(string? password)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (!await MayAsync(password)) return Page();
        await users.SetTwoFactorEnabledAsync(Teacher, false);
        await users.ResetAuthenticatorKeyAsync(Teacher);
        await RenewAsync();
        return Redirect("/account?said=factor-off");
    }

    /// <summary>Removes the account with its studio: songs, students, everything.</summary>
    public async Task<IActionResult> OnPostRemoveAsync(string? password, string? name)
    {
        if (await LoadAsync() is { } elsewhere) return elsewhere;
        if (!await MayAsync(password)) return Page();
        if (name?.Trim() != StudioName) return Refuse($"Write the name of the studio, “{StudioName}”, to remove it.");
        context.MayTakeLong();
        await context.Studios.Where(s => s.Id == Teacher.StudioId).ExecuteDeleteAsync();
        await signIn.SignOutAsync();
        return LocalRedirect("/account/sign-in");
    }

    private async Task<IActionResult?> LoadAsync()
    {
        if (await users.GetUserAsync(User) is not { } teacher) return Challenge();
        Teacher = teacher;
        IsDemo = await demo.IsDemoAsync(teacher);
        StudioName = await context.Studios.Where(s => s.Id == teacher.StudioId).Select(s => s.Name).SingleAsync();
        // The demo's visitors do not see one another.
        Sessions = [.. (await sessions.OfAsync(teacher.Id)).Where(s => !IsDemo || s.Id == sessions.Current)];
        RecoveryCodesLeft = teacher.TwoFactorEnabled ? await users.CountRecoveryCodesAsync(teacher) : 0;
        return null;
    }

    /// <summary>True when the password is right; else, and for the demo, what to do is said.</summary>
    private async Task<bool> MayAsync(string? password)
    {
        if (IsDemo)
        {
            Refuse("The demo's account belongs to all its visitors and stays as it is. Open a studio of your own.");
            return false;
        }
        if (await ownPassword.ObjectionAsync(Teacher, password, HttpContext) is not { } objection) return true;
        Refuse(objection);
        return false;
    }

    private void ShowKey(string key, string proof)
    {
        AppProof = proof;
        AppKey = string.Join(' ', key.Chunk(4).Select(c => new string(c)));
        AppPicture = CodeDrawing.Draw(
            $"otpauth://totp/Tembri:{Uri.EscapeDataString(Teacher.Email!)}?secret={key}&issuer=Tembri&digits=6",
            "Code for the authenticator app");
    }

    private string ProofOf(string key) => $"{Teacher.Id} {key}";

    private bool IsProof(string? proof, string key)
    {
        try { return proof is not null && _seal.Unprotect(proof) == ProofOf(key); }
        catch (CryptographicException) { return false; }
    }

    private async Task RenewAsync()
    {
        await sessions.EndAllAsync(Teacher);
        await sessions.StartAsync(Teacher, remember: false);
        Sessions = await sessions.OfAsync(Teacher.Id);
        RecoveryCodesLeft = Teacher.TwoFactorEnabled ? await users.CountRecoveryCodesAsync(Teacher) : 0;
    }

    private PageResult Show(string? said)
    {
        Said = said;
        return Page();
    }

    private PageResult Refuse(string fault)
    {
        ModelState.Clear();
        ModelState.AddModelError("", fault);
        return Page();
    }
}
