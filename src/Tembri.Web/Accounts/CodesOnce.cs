using Microsoft.AspNetCore.Identity;
using OtpNet;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>Codes of an authenticator app (RFC 6238: 30 seconds, 6 digits, SHA-1), each good for one time: who looks over a
/// shoulder cannot use the code again (§5.2).</summary>
/// <remarks>A code of the step before or after is taken as well, for clocks that are a little off. Of two tries with one code at
/// the same moment the store lets one through, by the account's concurrency stamp.</remarks>
internal sealed class CodesOnce(TimeProvider clock) : AuthenticatorTokenProvider<Teacher>
{
    private static readonly VerificationWindow Window = new(previous: 1, future: 1);

    public override async Task<bool> ValidateAsync(string purpose, string token, UserManager<Teacher> manager, Teacher user)
    {
        if (await manager.GetAuthenticatorKeyAsync(user) is not { Length: > 0 } key) return false;
        if (!new Totp(Base32Encoding.ToBytes(key)).VerifyTotp(clock.GetUtcNow().UtcDateTime, token, out var step, Window)
            || step <= user.LastCodeStep)
            return false;
        user.LastCodeStep = step;
        return (await manager.UpdateAsync(user)).Succeeded;
    }
}
