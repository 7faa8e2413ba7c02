using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.Options;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>Makes and checks the digests that are kept instead of passwords: those of the framework (PBKDF2 with HMAC-SHA512),
/// sealed where <see cref="AccountSettings.SealPasswords"/> says so.</summary>
/// <remarks>
/// A digest from before, of fewer rounds or not sealed, is checked as it is, and made anew when its owner signs in next. What
/// cannot be opened, because the keys are others', fits no password.
/// Checking takes as long for a digest of fewer rounds as for a new one, so that time does not tell which accounts there are.
/// </remarks>
internal sealed class PasswordDigests(IOptions<PasswordHasherOptions> options, IDataProtectionProvider keys,
    AccountSettings settings, ILogger<PasswordDigests> log) : IPasswordHasher<Teacher>
{
    /// <summary>Rounds of PBKDF2 with HMAC-SHA512, as OWASP advises for it (Password Storage Cheat Sheet, 2023).</summary>
    public const int Rounds = 210_000;

    private const int SaltBytes = 16;
    private readonly PasswordHasher<Teacher> _plain = new(options);
    private readonly Seal _seal = new(keys, "Tembri.Passwords");

    public string HashPassword(Teacher user, string password)
    {
        var digest = _plain.HashPassword(user, password);
        return settings.SealPasswords ? _seal.Put(digest) : digest;
    }

    public PasswordVerificationResult VerifyHashedPassword(Teacher user, string hashedPassword, string providedPassword)
    {
        if (_seal.Opened(hashedPassword) is not { Length: > 0 } digest)
        {
            if (Seal.IsOn(hashedPassword))
                log.LogError("A password cannot be checked: it was sealed with other keys. Is CookieKeyFile the file it was?");
            Spend(options.Value.IterationCount, providedPassword);
            return PasswordVerificationResult.Failed;
        }
        Spend(RoundsMissing(digest), providedPassword);
        var result = _plain.VerifyHashedPassword(user, digest, providedPassword);
        return result == PasswordVerificationResult.Success && Seal.IsOn(hashedPassword) != settings.SealPasswords
            ? PasswordVerificationResult.SuccessRehashNeeded
            : result;
    }

    /// <summary>By how many rounds a digest is cheaper to check than a new one.</summary>
    internal int RoundsMissing(string digest) => Math.Max(0, options.Value.IterationCount - RoundsOf(digest));

    /// <summary>Rounds of a digest in Identity's third form: a byte for the form, the kind of digest and the rounds, four bytes
    /// each, high byte first; 0 for another form.</summary>
    internal static int RoundsOf(string digest)
    {
        var bytes = new byte[digest.Length];
        return Convert.TryFromBase64String(digest, bytes, out var length) && length > 9 && bytes[0] == 1
            ? (int)Math.Min(int.MaxValue, BinaryPrimitives.ReadUInt32BigEndian(bytes.AsSpan(5)))
            : 0;
    }

    private static void Spend(int rounds, string password)
    {
        if (rounds <= 0) return;
        Span<byte> salt = stackalloc byte[SaltBytes], digest = stackalloc byte[SHA256.HashSizeInBytes];
        Rfc2898DeriveBytes.Pbkdf2(Encoding.UTF8.GetBytes(password), salt, digest, rounds, HashAlgorithmName.SHA512);
    }
}
