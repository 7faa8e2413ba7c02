using Tembri.Core.Charts;
using Tembri.Core.Charts.Editing;

namespace Tembri.Core.Checking;

/// <summary>A way to settle a doubt.</summary>
/// <param name="Words">What it does, such as "write A".</param>
/// <param name="Edits">Changes of the text, those further down first.</param>
public sealed record Mend(string Words, IReadOnlyList<TextEdit> Edits);

/// <summary>Something in a chart that may be wrong although it can be read.</summary>
/// <param name="Id">Names the doubt for as long as its reason stands; a chart that says <c>{kept: id}</c> has answered
/// it.</param>
/// <param name="Line">Line of the text, from 1.</param>
/// <param name="Column">Column, from 1.</param>
/// <param name="Message">What is odd, and why.</param>
/// <param name="Mends">Ways to settle it, the likeliest first; may be empty.</param>
public sealed record Doubt(string Id, int Line, int Column, string Message, IReadOnlyList<Mend> Mends);

/// <summary>What a recording has at a written chord.</summary>
/// <param name="Section">The section's name.</param>
/// <param name="Bar">The bar's place in it, from 0.</param>
/// <param name="Slot">The chord's place in the bar, from 0.</param>
/// <param name="Written">The chord as it was written when the recording was listened to.</param>
/// <param name="Chord">The chord that is heard.</param>
/// <param name="Agrees">True when nothing else than the written one is heard for certain.</param>
/// <param name="Message">What is said of it, should it not agree.</param>
public sealed record HeardChordPlace(string Section, int Bar, int Slot, string Written, string Chord, bool Agrees,
    string Message);
