using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Fretboard;
using Tembri.Core.Music;
using Tembri.Core.Practice;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Web.Words;

/// <summary>Says what practice told of the skills.</summary>
internal static class PracticeWords
{
    private static readonly Key NoKey = Key.TryParse("C", out var c) ? c : throw new InvalidOperationException("C is a key.");

    /// <summary>A technique as a heading.</summary>
    public static string Heading(Technique technique) => technique switch
    {
        Technique.Fingers => "Placing fingers",
        Technique.Stretch => "Reaching across frets",
        Technique.ShortBarre => "Short barre",
        Technique.FullBarre => "Full barre",
        Technique.Muting => "Keeping strings silent",
        Technique.Thumb => "Thumb over the neck",
        Technique.Changes => "Changing in time",
        _ => "Strumming",
    };

    /// <summary>A technique in a sentence.</summary>
    public static string Name(Technique technique) => technique switch
    {
        Technique.Fingers => "placing fingers",
        Technique.Stretch => "reaching",
        Technique.ShortBarre => "short barre",
        Technique.FullBarre => "full barre",
        Technique.Muting => "muting",
        Technique.Thumb => "thumb",
        Technique.Changes => "changing",
        _ => "strumming",
    };

    /// <summary>The likeliest name of a shape in standard tuning; its frets when it has none.</summary>
    public static string NameOf(Shape shape) => shape.PitchClassMask(Tuning.Standard) is var mask && mask != 0
        && ChordNamer.Name(mask, shape.BassPitchClass(Tuning.Standard), NoKey).FirstOrDefault() is { } named
        ? named.Name
        : shape.ToString();

    /// <summary>What an entry told: <c>31 clean C to G: changing 41 → 44, because 24 was expected</c>.</summary>
    /// <param name="what">What was tried and how it came out.</param>
    /// <param name="step">What it did.</param>
    public static string Why(string what, SkillStep step)
    {
        var expected = Expected(step);
        return step.Moves.Count == 0
            ? $"{what}: nothing moves, since {expected}"
            : $"{what}: {Lists.And(step.Moves.Select(Say))}, because {expected}";
    }

    /// <summary>What an entry told, without saying once more what was tried.</summary>
    public static string Told(SkillStep step) =>
        step.Moves.Count == 0
            ? $"nothing new: {Expected(step)}"
            : $"{Lists.And(step.Moves.Select(Say))}, because {Expected(step)}";

    /// <summary>A move: <c>changing 41 → 44</c>; with tenths when whole points would not show it.</summary>
    public static string Say(SkillMove move)
    {
        var format = Math.Round(move.From) == Math.Round(move.To) ? "0.0" : "0";
        return $"{Name(move.Technique)} {move.From.ToString(format, CultureInfo.InvariantCulture)} → "
            + $"{move.To.ToString(format, CultureInfo.InvariantCulture)}";
    }

    private static string Expected(SkillStep step) =>
        step.Place is null && step.Observed is 0 or 1 && step.Expected <= 1
            ? $"it was expected to go {step.Expected.ToString("0 %", CultureInfo.InvariantCulture)} of the time"
        : $"{step.Expected.ToString(step.Expected < 10 ? "0.#" : "0", CultureInfo.InvariantCulture)} "
            + $"{(step.Expected is > 0.95 and < 1.05 ? "was" : "were")} expected";
}
