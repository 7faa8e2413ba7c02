using System.Globalization;
using System.Text.RegularExpressions;
using Tembri.Core.Music;

namespace Tembri.Core.Strums;

/// <summary>How loud a section is struck.</summary>
public enum Loudness
{
    /// <summary>As the rest.</summary>
    Usual,
    /// <summary>Softer.</summary>
    Soft,
    /// <summary>Louder.</summary>
    Loud,
}

/// <summary>What a chart says of a section's right hand: a pattern, how much it swings, how loud it is.</summary>
/// <param name="Steps">The pattern as <see cref="StrumPattern.TryParse"/> reads it; empty when only the rest is said.</param>
/// <param name="Swing">See <see cref="StrumPattern.Swing"/>.</param>
/// <param name="Loudness">How loud.</param>
public sealed partial record SectionHand(string Steps, int Swing = StrumPattern.Straight, Loudness Loudness = Loudness.Usual)
{
    /// <summary>Nothing was taken down.</summary>
    public static readonly SectionHand None = new("");

    [GeneratedRegex(@"^(?<steps>[^,;]*?)(?:[,;\s]+(?:swing\s*(?<swing>[0-9]{1,3})\s*%?|(?<shuffle>shuffle)|(?<loud>soft|loud|softly|loudly)))*[,;\s]*$",
        RegexOptions.IgnoreCase | RegexOptions.NonBacktracking)]
    private static partial Regex Said();

    private const int Shuffle = 67;

    /// <summary>Reads such as <c>D-du-udu, swing 60, soft</c>.</summary>
    /// <param name="text">The text.</param>
    /// <returns>What it says, the steps as they are written; null when the swing is out of reach.</returns>
    public static SectionHand? Read(string text)
    {
        if (Said().Match(" " + text) is not { Success: true } match) return new SectionHand(text.Trim());
        var swing = match.Groups["shuffle"].Success ? Shuffle
            : match.Groups["swing"].Success ? int.Parse(match.Groups["swing"].Value, CultureInfo.InvariantCulture)
            : StrumPattern.Straight;
        if (swing is < StrumPattern.Straight or > StrumPattern.MostSwing) return null;
        var loud = match.Groups["loud"].Value.ToLowerInvariant();
        return new SectionHand(match.Groups["steps"].Value.Trim(), swing,
            loud.StartsWith("soft", StringComparison.Ordinal) ? Loudness.Soft
                : loud.Length > 0 ? Loudness.Loud
                : Loudness.Usual);
    }

    /// <summary>The pattern for a meter; null when none was taken down, or it does not fit the meter.</summary>
    public StrumPattern? In(Meter meter) =>
        Steps.Length > 0 && StrumPattern.TryParse(Steps, meter, out var pattern, out _, Swing) ? pattern : null;

    /// <summary>As it is written in a chart.</summary>
    public override string ToString() => string.Join(", ", new[]
    {
        Steps, Swing == StrumPattern.Straight ? "" : string.Create(CultureInfo.InvariantCulture, $"swing {Swing}"),
        Loudness == Loudness.Usual ? "" : Loudness == Loudness.Soft ? "soft" : "loud",
    }.Where(s => s.Length > 0));
}
