using Tembri.Web.Mail;

namespace Tembri.Web.Accounts;

/// <summary>What a host of many studios may ask of accounts, and a laptop does not: section <c>Accounts</c>.</summary>
/// <param name="SealPasswords">Digests of passwords are sealed with a key that lies outside the database. Who loses the file of
/// <c>CookieKeyFile</c> then loses every password with it.</param>
/// <param name="Longest">How long a sign-in lasts at most; null for as long as its browser comes back.</param>
/// <param name="LongestIdle">How long a sign-in lasts without anything asked; null for as long as its cookie.</param>
/// <param name="HostCookies">Cookies have names that browsers take over TLS from this very host only.</param>
internal sealed record AccountSettings(bool SealPasswords, TimeSpan? Longest, TimeSpan? LongestIdle, bool HostCookies)
{
    /// <summary>Reads the section.</summary>
    /// <exception cref="FormatException">A value is no number of its range, or asks for what another setting rules out; the
    /// message says which.</exception>
    public static AccountSettings Of(IConfiguration configuration, PublicAddress address)
    {
        var settings = new AccountSettings(Is("SealPasswords"), Span("SessionHours", 24 * 365, TimeSpan.FromHours(1)),
            Span("IdleMinutes", 60 * 24 * 365, TimeSpan.FromMinutes(1)), Is("HostCookies"));
        if (settings.HostCookies && !address.IsSecure)
            throw new FormatException("Accounts:HostCookies wants a PublicAddress that begins with https://, since browsers take "
                + "such cookies over TLS only.");
        if (settings.SealPasswords && string.IsNullOrEmpty(configuration["CookieKeyFile"]))
            throw new FormatException("Accounts:SealPasswords wants a CookieKeyFile: without it the key would lie in the database "
                + "beside what it seals.");
        return settings;

        bool Is(string name) => (configuration[$"Accounts:{name}"] ?? "") switch
        {
            "" => false,
            var set when bool.TryParse(set, out var value) => value,
            _ => throw new FormatException($"Accounts:{name} is true or false."),
        };
        TimeSpan? Span(string name, int most, TimeSpan unit) => (configuration[$"Accounts:{name}"] ?? "") switch
        {
            "" or "0" => null,
            var set when int.TryParse(set, out var number) && number > 0 && number <= most => number * unit,
            _ => throw new FormatException($"Accounts:{name} is a whole number from 0 (no limit) to {most}."),
        };
    }

    /// <summary>True when a sign-in has ended by itself.</summary>
    public bool IsOver(DateTimeOffset startedAt, DateTimeOffset seenAt, DateTimeOffset now) =>
        now - startedAt > Longest || now - seenAt > LongestIdle;

    /// <summary>The name of a cookie.</summary>
    public string CookieName(string plain) => HostCookies ? "__Host-" + plain : plain;

    /// <summary>How long a sign-in lasts here, for whoever signs in; null where nothing limits it.</summary>
    public string? Told => (Longest, LongestIdle) switch
    {
        ({ } longest, { } idle) => $"A sign-in lasts {Words(longest)} here, and {Words(idle)} with nothing done.",
        ({ } longest, null) => $"A sign-in lasts {Words(longest)} here.",
        (null, { } idle) => $"A sign-in lasts {Words(idle)} with nothing done here.",
        _ => null,
    };

    private static string Words(TimeSpan span) => span switch
    {
        { TotalHours: >= 48 } when span.Hours == 0 => $"{span.Days} days",
        { TotalHours: >= 2 } when span.Minutes == 0 => $"{span.TotalHours:0} hours",
        { TotalMinutes: > 1 } => $"{span.TotalMinutes:0} minutes",
        _ => "a minute",
    };
}
