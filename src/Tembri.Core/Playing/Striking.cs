using Tembri.Core.Fretboard;
using Tembri.Core.Shapes;
using Tembri.Core.Strums;

namespace Tembri.Core.Playing;

/// <summary>What a step of the right hand sounds on a shape, and how loud.</summary>
public static class Striking
{
    /// <summary>Quarter notes a damped stroke is heard.</summary>
    public const double DampedLength = 0.12;

    private const int UpStrings = 4;         // an up-stroke meets the treble strings
    private const double Accent = 1.0;
    private const double Plain = 0.78;
    private const double Light = 0.62;

    /// <summary>MIDI numbers in the order the hand meets the strings.</summary>
    /// <param name="step">A step that sounds.</param>
    /// <param name="shape">The shape.</param>
    /// <param name="raised">Semitones it sounds above its open strings without capo.</param>
    /// <param name="strings">The open strings; standard when null.</param>
    public static IReadOnlyList<int> Notes(HandStep step, Shape shape, int raised, Tuning? strings = null)
    {
        strings ??= Tuning.Standard;
        if (step.Stroke == Stroke.Pick)
            return [.. HandSteps.Strings(step.Picks, shape.Frets).Select(s => strings.Strings[s] + shape[s] + raised)];
        var pitches = Performance.Pitches(shape, raised, strings);
        return step.Stroke == Stroke.Up ? [.. pitches.Reverse().Take(UpStrings)] : pitches;
    }

    /// <summary>How loud a step is, 0 to 1.</summary>
    public static double Strength(HandStep step) => step switch
    {
        { Accent: true } => Accent,
        { Stroke: Stroke.Pick } => step.HasThumb ? Accent : Plain,
        { Stroke: Stroke.Up or Stroke.Muted } => Light,
        _ => Plain,
    };
}
