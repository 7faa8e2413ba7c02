using System.Globalization;
using Microsoft.AspNetCore.Identity;
using Tembri.Core.Charts;
using Tembri.Data.Accounts;

namespace Tembri.Web.Accounts;

/// <summary>A password is long and not one of those that everybody tries first; which letters it has is nobody's business.</summary>
/// <remarks>Length and a list instead of kinds of letters: NIST SP 800-63B (2017), §5.1.1.2. The list and the patterns are those of zxcvbn (Wheeler 2016), shipped with its library.</remarks>
internal sealed class PasswordRules : IPasswordValidator<Teacher>
{
    /// <summary>Characters as a reader counts them. Passwords of 10 and 11, chosen before this was asked, go on working.</summary>
    public const int Shortest = 12;

    /// <summary>UTF-16 units; longer ones would only cost time.</summary>
    public const int Longest = 200;

    private const int Estimated = 64;              // what comes after is not estimated, which only makes a password look weaker
    private const double FewestBits = 20;          // about a million guesses

    public Task<IdentityResult> ValidateAsync(UserManager<Teacher> manager, Teacher user, string? password) =>
        Task.FromResult(Objection(password ?? "") is { } objection ? IdentityResult.Failed(new IdentityError { Code = "Password", Description = objection }) : IdentityResult.Success);

    /// <summary>What is wrong with a password; null when nothing is.</summary>
    public static string? Objection(string password)
    {
        if (password.Length > Longest) return $"A password has at most {Longest} characters.";
        if (new StringInfo(password).LengthInTextElements < Shortest) return $"A password has at least {Shortest} characters; a few words make a good one.";
        if (password.All(c => c == password[0]) || Zxcvbn.Zxcvbn.MatchPassword(PlainText.Cut(password, Estimated)).Entropy < FewestBits)
            return "This password is one of those that are tried first. Choose another; a few words that do not belong together make a good one.";
        return null;
    }
}
