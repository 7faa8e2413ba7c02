namespace Tembri.Core.Chords;

/// <summary>What a chord tone does in its chord.</summary>
public enum DegreeRole
{
    /// <summary>The root.</summary>
    Root,
    /// <summary>The third, or the suspension that stands in its place.</summary>
    ThirdOrSuspension,
    /// <summary>A perfect fifth.</summary>
    Fifth,
    /// <summary>A diminished or augmented fifth.</summary>
    AlteredFifth,
    /// <summary>The seventh (of any size), or a sixth that stands in its place.</summary>
    Seventh,
    /// <summary>A colour: ninth, eleventh, thirteenth, altered or not.</summary>
    Colour,
}

/// <summary>A degree of a chord, counted from its root: 1, ♭3, ♯11.</summary>
/// <param name="Number">1 to 13.</param>
/// <param name="Alteration">Semitones against the major scale: −2 to 1.</param>
/// <param name="Role">What the tone does in its chord.</param>
public readonly record struct Degree(int Number, int Alteration, DegreeRole Role)
{
    private static readonly int[] ScaleSemitones = [0, 2, 4, 5, 7, 9, 11];

    /// <summary>Semitones above the root, 0 to 11.</summary>
    public int Semitones => Music.Note.Modulo(ScaleSemitones[(Number - 1) % 7] + Alteration, 12);

    /// <summary>Steps on the line of fifths above the root; used for spelling.</summary>
    public int Fifths => ((Number - 1) % 7) switch { 0 => 0, 1 => 2, 2 => 4, 3 => -1, 4 => 1, 5 => 3, _ => 5 } + 7 * Alteration;

    /// <summary>Keyboard form, such as <c>b3</c> or <c>#11</c>.</summary>
    public string ToAscii() => Alteration switch { -2 => "bb", -1 => "b", 1 => "#", _ => "" } + Number;

    /// <summary>With real accidentals, such as <c>♭3</c>.</summary>
    public override string ToString() => ToAscii().Replace('b', '♭').Replace('#', '♯');
}
