using Tembri.Core.Ladders;
using Tembri.Core.Strums;
using Tembri.Core.Students;

namespace Tembri.Core.Planning;

/// <summary>What an item of a plan is.</summary>
public enum PlanKind
{
    /// <summary>Loosen and warm the hands.</summary>
    WarmUp,
    /// <summary>A shape by itself.</summary>
    Shape,
    /// <summary>A change against the clock.</summary>
    Pair,
    /// <summary>A pattern of the right hand, in its pieces first.</summary>
    Strum,
    /// <summary>A figure.</summary>
    Figure,
    /// <summary>A section of the song.</summary>
    Section,
    /// <summary>The whole form.</summary>
    Form,
    /// <summary>What the teacher wrote.</summary>
    Own,
}

/// <summary>Why an item is in a plan.</summary>
public abstract record PlanReason;

/// <summary>Every day begins so.</summary>
public sealed record BeginsTheDay : PlanReason;

/// <summary>A shape does not sound clean yet.</summary>
/// <param name="Clean">Chance that it does, 0 to 1.</param>
/// <param name="Share">Share of the song it sounds, 0 to 1.</param>
public sealed record NotCleanYet(double Clean, double Share) : PlanReason;

/// <summary>A change is late.</summary>
/// <param name="InTime">Chance to be in time, 0 to 1.</param>
/// <param name="Times">Times in the form.</param>
/// <param name="NeededSeconds">Seconds the student needs.</param>
/// <param name="AvailableSeconds">Seconds there are.</param>
public sealed record ComesLate(double InTime, int Times, double NeededSeconds, double AvailableSeconds) : PlanReason;

/// <summary>Learnt before; it comes back before it is lost.</summary>
/// <param name="LastOn">When it was practised last.</param>
/// <param name="AfterDays">Days after which it comes back.</param>
public sealed record ComesBack(DateOnly LastOn, int AfterDays) : PlanReason;

/// <summary>The right hand breaks off too often, or a figure does.</summary>
/// <param name="Chance">Chance that it goes, 0 to 1.</param>
/// <param name="Pieces">In how many pieces it is learnt.</param>
public sealed record BreaksOff(double Chance, int Pieces) : PlanReason;

/// <summary>A section whose shapes are there is put together.</summary>
/// <param name="Good">Share of its beats expected clean and in time, 0 to 1.</param>
public sealed record PutTogether(double Good) : PlanReason;

/// <summary>The whole form, a step quicker than is comfortable.</summary>
/// <param name="Comfortable">Beats a minute at which nine of ten changes are in time; null for none.</param>
/// <param name="Record">The record's, beats a minute.</param>
public sealed record TowardTheRecord(double? Comfortable, double Record) : PlanReason;

/// <summary>The teacher put it there.</summary>
public sealed record TeacherWants : PlanReason;

/// <summary>A song a student works on, at a rung.</summary>
/// <param name="Key">Names the song.</param>
/// <param name="Title">Its title.</param>
/// <param name="Rung">The version.</param>
/// <param name="Fit">How it fits.</param>
public sealed record PlanSong(string Key, string Title, PlayableRung Rung, VersionFit Fit)
{
    /// <summary>The quickest tempo at which something of this rung went clean on the last day it was played, beats a minute;
    /// null for none yet.</summary>
    public double? WentAt { get; init; }

    /// <summary>In which order it is learnt.</summary>
    public LearningOrder Order { get; } = LearningOrder.Of(Rung, Fit);
}

/// <summary>One thing to do on a day.</summary>
/// <param name="Key">Names it, see <see cref="PracticeItem"/>.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Minutes">For how long.</param>
/// <param name="Why">Why it is there.</param>
public sealed record PlanItem(string Key, PlanKind Kind, int Minutes, PlanReason Why)
{
    /// <summary>The song it belongs to; null for none.</summary>
    public PlanSong? Song { get; init; }

    /// <summary>The chord of the rung, for a shape.</summary>
    public int? Chord { get; init; }

    /// <summary>The change of the rung, for a pair.</summary>
    public int? Change { get; init; }

    /// <summary>The section, for a section, a figure and a strum.</summary>
    public int? Section { get; init; }

    /// <summary>The figure of the rung, for a figure.</summary>
    public int? Figure { get; init; }

    /// <summary>The pattern, for a strum.</summary>
    public StrumPattern? Pattern { get; init; }

    /// <summary>Beats a minute, for what is played in time.</summary>
    public double? Tempo { get; init; }

    /// <summary>What the teacher wrote, for an own item.</summary>
    public string? Text { get; init; }

    /// <summary>True when it works the hand: barres and stretches, which are dosed.</summary>
    public bool IsHardOnTheHand { get; init; }

    /// <summary>True when barres or stretches come in it, in a section or the whole song: not counted against their minutes, but
    /// left out while something hurts.</summary>
    public bool HasHardShapes { get; init; }

    /// <summary>True when the teacher fixed it.</summary>
    public bool IsFixed { get; init; }
}

/// <summary>A day of practice.</summary>
/// <param name="On">The day.</param>
/// <param name="Items">What to do, in order.</param>
/// <param name="BreaksAfter">After which items to put the guitar down for a few minutes, by place.</param>
public sealed record PlanDay(DateOnly On, IReadOnlyList<PlanItem> Items, IReadOnlyList<int> BreaksAfter)
{
    /// <summary>Minutes of playing.</summary>
    public int Minutes => Items.Sum(i => i.Minutes);

    /// <summary>Of these, minutes of barres and stretches.</summary>
    public int HardMinutes => Items.Where(i => i.IsHardOnTheHand).Sum(i => i.Minutes);
}
