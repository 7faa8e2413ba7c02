using System.Numerics;
using Tembri.Core.Chords;

namespace Tembri.Core.Substitutions;

/// <summary>What is wrong with a chord in place of another.</summary>
public enum GuardBreak
{
    /// <summary>A suspension stands where one is to resolve.</summary>
    NothingResolves,
    /// <summary>A dominant at a cadence loses its leading tone.</summary>
    NoLeadingTone,
    /// <summary>A bass that moves by step is broken.</summary>
    BrokenBassLine,
    /// <summary>Home turns into a dominant.</summary>
    HomeAsksToGoOn,
    /// <summary>An inner line that moves by semitones is broken.</summary>
    BrokenInnerLine,
    /// <summary>Fewer than half of the chord's tones are kept.</summary>
    FewTonesKept,
}

/// <summary>Looks at a chord that somebody wants in place of another.</summary>
public static class GuardBreaks
{
    /// <summary>What speaks against it, the gravest first; empty when nothing does.</summary>
    /// <param name="guard">What the chart says about the chord.</param>
    /// <param name="asked">The chord of the record.</param>
    /// <param name="played">The chord wanted, at the same pitch.</param>
    public static IReadOnlyList<GuardBreak> Of(Guard guard, Chord asked, Chord played)
    {
        var breaks = new List<GuardBreak>();
        var tones = played.PitchClassMask;
        bool Sounds(int above) => (tones & 1 << (asked.Root.PitchClass + above) % 12) != 0;
        if (guard.NoSuspension && played.IsSuspended) breaks.Add(GuardBreak.NothingResolves);
        if (guard.KeepsThird && asked.Has(4) && !Sounds(4)) breaks.Add(GuardBreak.NoLeadingTone);
        if (guard.IsTonic && !asked.Has(10) && played.Root.PitchClass == asked.Root.PitchClass && played.IsDominant)
            breaks.Add(GuardBreak.HomeAsksToGoOn);
        if (guard.Line != 0 && Enumerable.Range(0, 12).Any(above => (guard.Line >> above & 1) != 0 && !Sounds(above)))
            breaks.Add(GuardBreak.BrokenInnerLine);
        if (guard.StepwiseBass && played.BassPitchClass != asked.BassPitchClass) breaks.Add(GuardBreak.BrokenBassLine);
        if (2 * BitOperations.PopCount((uint)(tones & asked.PitchClassMask))
            < BitOperations.PopCount((uint)asked.PitchClassMask))
            breaks.Add(GuardBreak.FewTonesKept);
        return breaks;
    }
}
