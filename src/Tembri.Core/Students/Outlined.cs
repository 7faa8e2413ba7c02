using Tembri.Core.Arranging;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Students;

/// <summary>How much a shape asks of one technique.</summary>
/// <param name="Technique">The technique.</param>
/// <param name="Points">0 to 100, on the scale of the load.</param>
public readonly record struct Demand(Technique Technique, double Points);

/// <summary>A chord of a version, as the fit sees it.</summary>
/// <param name="Name">At the pitch of the shapes.</param>
/// <param name="Beats">Beats it sounds over the whole form; 0 for a chord that is left out.</param>
/// <param name="SpellBeats">Beats it sounds at a time, on the average.</param>
/// <param name="Demands">What its shape asks.</param>
/// <param name="Shape">Its shape; null for a figure.</param>
public sealed record OutlinedChord(string Name, double Beats, double SpellBeats, Demands Demands,
    Shape? Shape = null);

/// <summary>A change of a version, as the fit sees it.</summary>
/// <param name="From">Index of the chord left.</param>
/// <param name="To">Index of the chord reached.</param>
/// <param name="Count">Times in the form.</param>
/// <param name="Seconds">What the reference player needs, s; or what was timed.</param>
/// <param name="IsTimed">True when it was timed for this student.</param>
/// <param name="FreeBeats">Beats the strum leaves for it.</param>
public readonly record struct OutlinedChange(int From, int To, int Count, double Seconds, bool IsTimed, double FreeBeats);

/// <summary>What the right hand does in a version, as the fit sees it.</summary>
/// <param name="BeatsAStroke">Beats from a stroke to the next, on the average.</param>
/// <param name="Patterns">What each pattern asks, with its share of the time.</param>
public sealed record OutlinedHand(double BeatsAStroke, IReadOnlyList<(StrumEffort Effort, double Share)> Patterns)
{
    /// <summary>Takes the outline of a right hand.</summary>
    public static OutlinedHand Of(RightHand hand) =>
        new(hand.BeatsAStroke, [.. hand.Shares.Select(s => (s.Pattern.Effort, s.Share))]);

    /// <summary>The outline of one pattern.</summary>
    public static OutlinedHand Of(StrumPattern pattern) => new(pattern.BeatsAStroke, [(pattern.Effort, 1)]);
}
