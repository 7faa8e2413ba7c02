using System.ComponentModel.DataAnnotations;
using Tembri.Core.Charts;

namespace Tembri.Web.Accounts;

/// <summary>An email address in any script: something before an @, a domain after it. Whether it exists only a mail can
/// tell.</summary>
/// <remarks>RFC 6531 allows all of Unicode on both sides; 254 octets are the most that RFC 5321 lets through.</remarks>
[AttributeUsage(AttributeTargets.Property)]
internal sealed class EmailAttribute() : ValidationAttribute("That is not an email address.")
{
    private const int Longest = 254;

    public override bool IsValid(object? value)
    {
        if (value is not string { Length: > 0 } text) return true;
        var email = text.Trim();
        var at = email.LastIndexOf('@');
        var isPlain = PlainText.Clean(email) == email
            && !email.Any(c => char.IsWhiteSpace(c) || char.IsControl(c) || c is '<' or '>' or ',' or ';' or '"' or '(' or ')');
        return at > 0 && at < email.Length - 1 && isPlain && System.Text.Encoding.UTF8.GetByteCount(email) <= Longest;
    }
}
