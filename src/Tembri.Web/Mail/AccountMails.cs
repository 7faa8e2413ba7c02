using Microsoft.AspNetCore.Identity;
using Tembri.Data.Accounts;
using Tembri.Web.Accounts;

namespace Tembri.Web.Mail;

/// <summary>The mails an account gets: a new password, a new address. Links hold for two hours and once.</summary>
internal sealed class AccountMails(MailRoom room, PublicAddress publicAddress)
{
    /// <summary>Sends links for a new password to every account of an address, if there are any.</summary>
    public void ForgotPassword(string email, HttpRequest request)
    {
        var root = publicAddress.Of(request);
        room.Post(async (services, cancel) =>
        {
            var (door, users, mailer) = (services.GetRequiredService<AccountDoor>(),
                services.GetRequiredService<UserManager<Teacher>>(), services.GetRequiredService<IMailer>());
            foreach (var teacher in await door.OfAsync(email))
            {
                var token = await users.GeneratePasswordResetTokenAsync(teacher);
                await mailer.SendAsync(teacher.Email!, "A new password for Tembri",
                    "Somebody, most likely you, asked for a new password for your studio.\n\nChoose it here within two "
                        + $"hours:\n{root}/account/reset?user={teacher.Id}&token={Uri.EscapeDataString(token)}\n\nIf it was not "
                        + "you, do nothing: your password stays as it is.\n",
                    cancel);
            }
        });
    }

    /// <summary>Sends a link to a new address, which is taken once the link is opened, and tells the old one.</summary>
    public void ChangeEmail(Teacher teacher, string newEmail, string token, HttpRequest request)
    {
        var (root, id, old) = (publicAddress.Of(request), teacher.Id, teacher.Email!);
        room.Post(async (services, cancel) =>
        {
            var mailer = services.GetRequiredService<IMailer>();
            await mailer.SendAsync(newEmail, "Your new address for Tembri",
                "Open this within two hours to sign in with this address from now "
                    + $"on:\n{root}/account/address?user={id}&email={Uri.EscapeDataString(newEmail)}&token={Uri.EscapeDataString(token)}\n",
                cancel);
            await mailer.SendAsync(old, "Your address for Tembri is to change",
                "Somebody who is signed in as you asked to change the address of your studio. If it was not you, sign in, "
                    + "change your password, and end the other sessions.\n",
                cancel);
        });
    }

    /// <summary>Tells that the password was changed.</summary>
    public void PasswordChanged(Teacher teacher)
    {
        var to = teacher.Email!;
        room.Post(
            (services, cancel) => services.GetRequiredService<IMailer>().SendAsync(to, "Your password for Tembri was changed",
            "The password of your studio was changed, and every other session ended. If it was not you, choose a new one with "
                + "“Forgotten password” on the sign-in page.\n",
            cancel));
    }
}

/// <summary>Where this installation is reached from outside; links in mails lead there, and cookies are Secure when it begins
/// with https.</summary>
internal sealed class PublicAddress(IConfiguration configuration)
{
    private readonly string? _set = configuration["PublicAddress"] is { Length: > 0 } set ? set.TrimEnd('/') : null;

    public bool IsSecure => _set?.StartsWith("https://", StringComparison.OrdinalIgnoreCase) == true;

    /// <summary>The host name, to be listed among the allowed ones; null when no address is set.</summary>
    public string? Host => Uri.TryCreate(_set, UriKind.Absolute, out var uri) ? uri.Host : null;

    /// <summary>The address that is set; null when none is.</summary>
    public string? Outside => _set;

    /// <summary>The address for a link: the one that is set, else the one the request came by, whose host was checked.</summary>
    public string Of(HttpRequest request) => _set ?? $"{request.Scheme}://{request.Host}";
}
