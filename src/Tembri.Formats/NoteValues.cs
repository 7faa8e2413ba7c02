using Tembri.Core.Music;
namespace Tembri.Formats;

/// <summary>Lengths as notation writes them. A quarter note has 24 parts.</summary>
internal static class NoteValues
{
    /// <summary>Parts of a quarter note.</summary>
    public const int Quarter = 24;

    /// <summary>A written note value.</summary>
    /// <param name="Parts">Its length.</param>
    /// <param name="Type">The standard's name of the value.</param>
    /// <param name="Dotted">True when it carries a dot.</param>
    /// <param name="Triplet">True when three stand for two.</param>
    public readonly record struct Value(int Parts, string Type, bool Dotted = false, bool Triplet = false);

    private static readonly Value[] Values =
    [
        new(96, "whole"), new(72, "half", Dotted: true), new(48, "half"), new(36, "quarter", Dotted: true), new(24, "quarter"),
        new(18, "eighth", Dotted: true), new(12, "eighth"),
        new(9, "16th", Dotted: true), new(6, "16th"), new(3, "32nd"), new(32, "half", Triplet: true),
        new(16, "quarter", Triplet: true), new(8, "eighth", Triplet: true), new(4, "16th", Triplet: true),
        new(2, "32nd", Triplet: true), new(1, "64th", Triplet: true),
    ];

    /// <summary>Written values that add up to a length, the longest first; to be tied where they sound.</summary>
    public static IReadOnlyList<Value> Of(int parts)
    {
        var values = new List<Value>();
        while (parts > 0)
        {
            var exact = Array.FindIndex(Values, v => v.Parts == parts);
            var value = exact >= 0
                ? Values[exact]
                : Values.Where(v => v.Parts < parts && !v.Triplet).Concat(Values.Where(v => v.Parts < parts)).First();
            values.Add(value);
            parts -= value.Parts;
        }
        return values;
    }

    /// <summary>Parts of one beat of a meter.</summary>
    public static int OfBeat(Core.Music.Meter meter) =>
        meter.IsCompound ? 3 * Quarter * 4 / meter.Unit : Quarter * 4 / meter.Unit;

    /// <summary>Parts of a bar as its meter has it.</summary>
    public static int OfBar(Core.Music.Meter meter) => meter.Beats * OfBeat(meter);
}
