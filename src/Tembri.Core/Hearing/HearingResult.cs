using Tembri.Core.Charts;
using Tembri.Core.Chords;

namespace Tembri.Core.Hearing;

/// <summary>What a recording tells of a chart.</summary>
public sealed record HearingResult
{
    /// <summary>How far the record is tuned from 440 Hz, −50 to 50 cents.</summary>
    public required double Cents { get; init; }

    /// <summary>How many semitones the record lies above the chart, −5 to 6; 0 when there was no chart.</summary>
    public required int Semitones { get; init; }

    /// <summary>Beats a minute, over the whole.</summary>
    public required double Tempo { get; init; }

    /// <summary>From the slowest to the fastest eighth part of the record, as shares of <see cref="Tempo"/>: 0.98 and 1.03 mean
    /// two in a hundred slower and three quicker.</summary>
    public required (double Slowest, double Fastest) Drift { get; init; }

    /// <summary>True when the record is one of the song; without a chart, when there is music in it.</summary>
    public required bool Matches { get; init; }

    /// <summary>Share of the time laid on the record in which the chart's chords agree, 0 to 1.</summary>
    public required double Agreement { get; init; }

    /// <summary>How the written chords stand between chords drawn at random from the chart (0) and the likeliest of all (1),
    /// each time alone, by likelihood; below 0 when they are worse than chance.</summary>
    public required double Standing { get; init; }

    /// <summary>Bars in the order they are played.</summary>
    public required IReadOnlyList<HeardBar> Bars { get; init; }

    /// <summary>Written chords, in the chart's order; those that are not played are left out.</summary>
    public required IReadOnlyList<HeardPlace> Places { get; init; }

    /// <summary>Where the form that is played differs from the one that is written, in time.</summary>
    public required IReadOnlyList<FormChange> FormChanges { get; init; }

    /// <summary>A first chart, when there was none.</summary>
    public Chart? Draft { get; init; }

    /// <summary>Length of the record, s.</summary>
    public required double Seconds { get; init; }
}

/// <summary>A bar that is played.</summary>
/// <param name="Section">Its section's place in the chart.</param>
/// <param name="Bar">Its place in the section, from 0.</param>
/// <param name="Pass">The how-manieth time its section is played, from 1.</param>
/// <param name="Start">When it starts, s.</param>
/// <param name="End">When it ends, s.</param>
public readonly record struct HeardBar(int Section, int Bar, int Pass, double Start, double End);

/// <summary>A written chord held against all the times it is played.</summary>
/// <param name="Section">Its section's place in the chart.</param>
/// <param name="Bar">Its bar's place in the section, from 0.</param>
/// <param name="Slot">Its place in the bar, from 0.</param>
/// <param name="Written">The chord as written; null where the chart asks what is heard.</param>
/// <param name="Heard">What is heard, in the chart's key.</param>
/// <param name="Agrees">True when nothing else is heard, or not for certain.</param>
/// <param name="Certainty">How certain <paramref name="Heard"/> is, 0 to 1.</param>
/// <param name="Notes">How strong each pitch class of the chart's key sounds there, from C, the strongest 1.</param>
/// <param name="Passes">What each time alone sounds like.</param>
public sealed record HeardPlace(int Section, int Bar, int Slot, Chord? Written, Chord Heard, bool Agrees, double Certainty,
    IReadOnlyList<double> Notes, IReadOnlyList<HeardPass> Passes)
{
    /// <summary>Stretches a bar is divided into for <see cref="Course"/>.</summary>
    public const int Stretches = 16;

    /// <summary>How strong each pitch class sounds in each sixteenth part of the whole bar, over all times it is played:
    /// <see cref="Stretches"/> times twelve from C, the strongest 1. Empty where the record agrees.</summary>
    public IReadOnlyList<IReadOnlyList<double>> Course { get; init; } = [];
}

/// <summary>One time a written chord is played.</summary>
/// <param name="Start">When, s.</param>
/// <param name="End">Until when, s.</param>
/// <param name="Heard">What is heard this once.</param>
/// <param name="Agrees">True when it is what all times together are.</param>
public readonly record struct HeardPass(double Start, double End, Chord Heard, bool Agrees);

/// <summary>Where the form that is played leaves the one that is written.</summary>
/// <param name="Kind">How.</param>
/// <param name="Section">The section's place in the chart.</param>
/// <param name="Bars">How many bars of it.</param>
/// <param name="At">When, s.</param>
public readonly record struct FormChange(FormChangeKind Kind, int Section, int Bars, double At);

/// <summary>How a form differs.</summary>
public enum FormChangeKind
{
    /// <summary>Played though it is not written here.</summary>
    More,
    /// <summary>Written here, and not played.</summary>
    Less,
}
