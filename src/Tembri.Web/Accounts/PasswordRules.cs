using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Tembri.Core.Charts;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>A password is long and not one of those that everybody tries first; which letters it has is nobody's
/// business.</summary>
/// <remarks>Length and a list instead of kinds of letters: NIST SP 800-63B (2017), §5.1.1.2. The list and the patterns are those
/// of zxcvbn (Wheeler 2016), shipped with its library.</remarks>
internal sealed class PasswordRules : IPasswordValidator<Teacher>
{
    /// <summary>Characters as a reader counts them. Passwords of 10 and 11, chosen before this was asked, go on
    /// working.</summary>
    public const int Shortest = 12;

    /// <summary>UTF-16 units; longer ones would only cost time.</summary>
    public const int Longest = 200;

    private const int Estimated = 64;              // what comes after is not estimated, which only makes a password look weaker
    private const double FewestBits = 20;          // about a million guesses

    // From where on a password is called good, and very good. Nobody makes 2^35 guesses at the sign-in, which counts them; 2^55,
    // a million times as many, is more than stolen digests are worth.
    private const double GoodBits = 35, VeryGoodBits = 55;

    public Task<IdentityResult> ValidateAsync(UserManager<Teacher> manager, Teacher user, string? password) =>
        Task.FromResult(Objection(password ?? "") is { } objection
            ? IdentityResult.Failed(new IdentityError { Code = "Password", Description = objection })
            : IdentityResult.Success);

    /// <summary>What is wrong with a password; null when nothing is.</summary>
    public static string? Objection(string password)
    {
        if (password.Length > Longest) return $"A password has at most {Longest} characters.";
        if (new StringInfo(password).LengthInTextElements < Shortest)
            return $"A password has at least {Shortest} characters; a few words make a good one.";
        if (Bits(password) < FewestBits)
            return "This password is one of those that are tried first. Choose another; a few words that do not belong together "
                + "make a good one.";
        return null;
    }

    /// <summary>How hard a password is to guess: 0 for one that is refused, to 3, with a word on it.</summary>
    public static (int Step, string Words) Strength(string password)
    {
        if (Objection(password) is { } objection) return (0, objection);
        return Bits(password) switch
        {
            < GoodBits => (1, "This will do. Another word makes it harder to guess."),
            < VeryGoodBits => (2, "A good password."),
            _ => (3, "A very good password."),
        };
    }

    private static double Bits(string password) =>
        password.All(c => c == password[0]) ? 0 : Zxcvbn.Zxcvbn.MatchPassword(PlainText.Cut(password, Estimated)).Entropy;
}
