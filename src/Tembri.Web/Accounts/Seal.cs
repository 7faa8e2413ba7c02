using System.Security.Cryptography;
using Microsoft.AspNetCore.DataProtection;

namespace Tembri.Web.Accounts;

/// <summary>Seals texts before they are stored, so that who reads the database, or a backup of it, has nothing of
/// them.</summary>
/// <param name="keys">Where the keys come from.</param>
/// <param name="purpose">What is sealed: what was sealed for another purpose cannot be opened.</param>
internal sealed class Seal(IDataProtectionProvider keys, string purpose)
{
    private const string Mark = "sealed:";
    private readonly IDataProtector _keys = keys.CreateProtector(purpose);

    /// <summary>True for a text that was sealed, whoever did it.</summary>
    public static bool IsOn(string text) => text.StartsWith(Mark, StringComparison.Ordinal);

    /// <summary>Seals a text.</summary>
    public string Put(string text) => Mark + _keys.Protect(text);

    /// <summary>What was sealed, or a text that was written before it was sealed, as it is; null when the keys are
    /// others'.</summary>
    public string? Opened(string text)
    {
        if (!IsOn(text)) return text;
        try { return _keys.Unprotect(text[Mark.Length..]); }
        catch (CryptographicException) { return null; }
    }
}
