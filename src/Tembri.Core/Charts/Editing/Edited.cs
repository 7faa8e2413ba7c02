namespace Tembri.Core.Charts.Editing;

/// <summary>What came of an edit.</summary>
/// <param name="Text">The new text; null when it could not be made.</param>
/// <param name="Fault">Why not and what to do instead; null when it was made.</param>
public readonly record struct Edited(string? Text, string? Fault)
{
    internal static Edited To(string text) => new(text, null);

    internal static Edited Refuse(string fault) => new(null, fault);
}
