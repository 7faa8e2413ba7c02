using Tembri.Core.Music;

namespace Tembri.Core.Figures;

/// <summary>How a note of a figure comes from the one before.</summary>
public enum Ornament
{
    /// <summary>It is picked.</summary>
    None,
    /// <summary>A finger hammers it on, on the same string, higher.</summary>
    Hammer,
    /// <summary>It sounds as a finger pulls off the same string, lower.</summary>
    Pull,
    /// <summary>The finger slides to it on its string.</summary>
    Slide,
    /// <summary>The string is bent up to it.</summary>
    Bend,
    /// <summary>It is held over the bar line and not struck again.</summary>
    Held,
}

/// <summary>Where a note is played, as somebody wrote it down.</summary>
/// <param name="String">Index of the string, 0 the lowest.</param>
/// <param name="Fret">Fret from the capo; 0 for the open string.</param>
public readonly record struct StringFret(int String, int Fret);

/// <summary>A note of a figure.</summary>
/// <param name="Pitch">Its pitch.</param>
/// <param name="At">Beats from the start of the figure's first bar.</param>
/// <param name="Beats">Length in beats, above 0.</param>
/// <param name="How">How it comes from the one before.</param>
/// <param name="Where">String and fret where they were written, at the record's place; null to be found.</param>
public readonly record struct FigureNote(Pitch Pitch, double At, double Beats, Ornament How = Ornament.None,
    StringFret? Where = null);

/// <summary>A riff, a run or a lick: notes one after another, in place of the strum.</summary>
/// <param name="Bar">The bar of its section in which it begins, from 0.</param>
/// <param name="Notes">Its notes in order, not overlapping.</param>
public sealed record Figure(int Bar, IReadOnlyList<FigureNote> Notes)
{
    /// <summary>The most notes of a figure.</summary>
    public const int MostNotes = 256;

    /// <summary>The fret over which the index finger stays, counted at the record's place; null where the way is free.</summary>
    public int? Position { get; init; }

    /// <summary>Where it begins, in beats from the start of its first bar.</summary>
    public double From => Notes.Count == 0 ? 0 : Notes[0].At;

    /// <summary>Where it ends.</summary>
    public double To => Notes.Count == 0 ? 0 : Notes[^1].At + Notes[^1].Beats;

    /// <summary>The same figure somewhere else; where it is on the neck has to be found anew.</summary>
    /// <param name="move">What becomes of a pitch.</param>
    /// <param name="keepPlaces">True when strings and frets stay, because only their names move.</param>
    public Figure Moved(Func<Pitch, Pitch> move, bool keepPlaces = false) =>
        this with { Notes = [.. Notes.Select(n => n with { Pitch = move(n.Pitch), Where = keepPlaces ? n.Where : null })],
            Position = keepPlaces ? Position : null };

    /// <inheritdoc/>
    public bool Equals(Figure? other) =>
        other is not null && Bar == other.Bar && Position == other.Position && Notes.SequenceEqual(other.Notes);

    /// <inheritdoc/>
    public override int GetHashCode() => Notes.Aggregate(Bar, (hash, n) => HashCode.Combine(hash, n));
}
