using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Music;
using Tembri.Core.Students;

namespace Tembri.Core.Classes;

/// <summary>One song for several players who sound together: one key and one tempo, a capo and a rung for each.</summary>
public sealed record ClassSheet
{
    /// <summary>The song in the key it sounds in, at the tempo it is played.</summary>
    public required Chart Chart { get; init; }

    /// <summary>How far it lies from the record, −5 to 6 semitones.</summary>
    public required int Semitones { get; init; }

    /// <summary>Beats a minute.</summary>
    public double Tempo => Chart.Tempo;

    /// <summary>Beats a minute on the record.</summary>
    public required double RecordTempo { get; init; }

    /// <summary>The players, as they were given.</summary>
    public required IReadOnlyList<ClassPart> Parts { get; init; }

    /// <summary>Every key that was looked at, from the record's outwards.</summary>
    public required IReadOnlyList<ClassKey> Keys { get; init; }

    /// <summary>The fit of whoever is worst off, 0 to 1.</summary>
    public double WorstFit => Parts.Min(p => p.Fit.Value);
}

/// <summary>What one key gives a class.</summary>
/// <param name="Semitones">How far it lies from the record.</param>
/// <param name="Key">The key that sounds.</param>
/// <param name="Worst">The fit of whoever is worst off, 0 to 1; null when somebody can play nothing there.</param>
/// <param name="Sum">All fits together.</param>
/// <param name="Unreached">True when the tune lies farther beyond the singer's voice than it must.</param>
public sealed record ClassKey(int Semitones, Key Key, double? Worst, double Sum, bool Unreached);

/// <summary>What one player plays.</summary>
/// <param name="Id">See <see cref="ClassPlayer.Id"/>.</param>
/// <param name="Ladder">The version as a ladder of one rung, at the player's capo, for whoever draws, writes or plays
/// it.</param>
/// <param name="Fit">How it fits at the tempo of the class.</param>
/// <param name="Sections">How each section that is played goes, and what is advised there, in the chart's order.</param>
public sealed record ClassPart(string Id, Ladder Ladder, VersionFit Fit, IReadOnlyList<ClassSection> Sections)
{
    /// <summary>The version.</summary>
    public PlayableRung Rung { get; } = Ladder.Playable.Single();

    /// <summary>The key of the shapes.</summary>
    public Key ShapeKey => Ladder.ShapeKey;

    /// <summary>The version as it is played: one stroke a change where more does not go yet, or the teacher wants no more. Where
    /// the player rests it is as it was.</summary>
    public PlayableRung Eased => Sections.Any(s => s.Does == SectionPart.OneStroke)
        ? Rung.Struck(Rung.Hand.With(Rung.Song.Chart,
            Sections.Where(s => s.Does == SectionPart.OneStroke)
                .ToDictionary(s => s.Section, _ => Strums.StrumLadder.OneStroke)))
        : Rung;

    /// <summary>The changes that need more time than there is, those first that lack most.</summary>
    public IEnumerable<FittedChange> Late =>
        Fit.Changes.Where(c => c.NeededSeconds > c.AvailableSeconds)
            .OrderByDescending(c => c.NeededSeconds - c.AvailableSeconds);
}

/// <summary>What a player does in a section.</summary>
public enum SectionPart
{
    /// <summary>Plays it.</summary>
    Plays,
    /// <summary>Strikes once where the chord changes.</summary>
    OneStroke,
    /// <summary>Rests and listens.</summary>
    Rests,
}

/// <summary>A section for one player.</summary>
/// <param name="Section">Its place in the chart.</param>
/// <param name="Good">Share of its beats expected clean and in time, 0 to 1.</param>
/// <param name="WithOneStroke">The same with one stroke a change, 0 to 1.</param>
/// <param name="Advice">What is advised.</param>
/// <param name="Wanted">What the teacher wants instead; null to follow the advice.</param>
public sealed record ClassSection(int Section, double Good, double WithOneStroke, SectionPart Advice, SectionPart? Wanted = null)
{
    /// <summary>What the player does.</summary>
    public SectionPart Does => Wanted ?? Advice;
}
