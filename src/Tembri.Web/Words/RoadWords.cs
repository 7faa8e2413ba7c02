using System.Globalization;
using Tembri.Core.Music;
using Tembri.Core.Planning;
using Tembri.Core.Roads;
using Tembri.Core.Shapes;
using Tembri.Core.Students;

namespace Tembri.Web.Words;

/// <summary>Says what a road brings and why it goes as it goes.</summary>
internal static class RoadWords
{
    /// <summary>A new thing in a few words, as a version has it.</summary>
    /// <param name="thing">The thing.</param>
    /// <param name="outline">The version: it knows what its shapes are called.</param>
    /// <param name="names">How notes are written.</param>
    public static string Say(RoadThing thing, VersionOutline outline, NoteNames names) => thing switch
    {
        ShapeThing s => $"{NameOf(s.Shape, outline, names)} ({s.Shape})",
        ChangeThing c => string.Create(CultureInfo.InvariantCulture,
            $"{NameOf(c.A, outline, names)} and {NameOf(c.B, outline, names)} within {c.Seconds:0.0#} s"),
        TechniqueThing t => $"{PracticeWords.Name(t.Technique)} up to {t.Level}",
        _ => throw new ArgumentOutOfRangeException(nameof(thing)),
    };

    /// <summary>What a shape is called in a version.</summary>
    public static string NameOf(Shape shape, VersionOutline outline, NoteNames names) =>
        outline.Chords.FirstOrDefault(c => shape.Equals(c.Shape)) is { } chord
            ? NoteNaming.Named(chord.Name, names)
            : shape.ToString();

    /// <summary>The new things of a step, alike ones together: shapes by name, changes as a number, each technique up to its
    /// highest level.</summary>
    public static string Adds(RoadStep step, NoteNames names)
    {
        var things = step.Adds.Select(a => a.Thing).ToList();
        var shapes = things.OfType<ShapeThing>().Select(s => NameOf(s.Shape, step.Version.Outline, names)).Distinct().ToList();
        var changes = things.OfType<ChangeThing>().Select(c => (c.A, c.B)).Distinct().Count();
        var said = new List<string>();
        if (shapes.Count > 0) said.Add($"{(shapes.Count == 1 ? "the shape" : "the shapes")} {Lists.And(shapes)}");
        said.AddRange(things.OfType<TechniqueThing>().GroupBy(t => t.Technique)
            .Select(g => $"{PracticeWords.Name(g.Key)} up to {g.Max(t => t.Level)}"));
        if (changes > 0) said.Add(changes == 1 ? "a change to make quicker" : $"{changes} changes to make quicker");
        return said.Count == 0 ? "nothing new" : Lists.And(said);
    }

    /// <summary>Why a step is taken.</summary>
    public static string Why(RoadStep step, RoadGoal? goal, bool isLast, NoteNames names)
    {
        var repeats = step.Repeats.Select(s => NameOf(s, step.Version.Outline, names)).Distinct().Take(4).ToList();
        var again = repeats.Count == 0
            ? ""
            : $" {Lists.And(repeats)} {(repeats.Count == 1 ? "comes" : "come")} back and "
                + $"{(repeats.Count == 1 ? "stays" : "stay")}.";
        var left = goal is null ? ""
            : isLast ? " This is the goal."
            : step.Left == 1 ? " One thing of the goal is left after it."
            : $" {step.Left} things of the goal are left after it.";
        var wish = step.Version.Wished ? " It is a song that is wished for." : "";
        return $"Adds {Adds(step, names)}.{again}{left}{wish}";
    }

    /// <summary>About how long a road takes, and whether that is soon enough; empty when nothing is new on it.</summary>
    /// <param name="time">The reckoning.</param>
    /// <param name="today">The day it is.</param>
    /// <param name="by">The day by which it is to be done; null for none, and a day that is gone is none.</param>
    public static string Time(RoadForecast time, DateOnly today, DateOnly? by)
    {
        if (time.Total < 1) return "";
        var all =
            $"About {About(time.Total)} of practice in all: at {time.MinutesADay} minutes a day, five days a week, until "
                + $"{Day(today.AddDays(time.DaysUntil(time.Minutes.Count - 1)))}.";
        if (by is not { } day || day <= today) return all;
        var needed = time.MinutesADayFor(day.DayNumber - today.DayNumber);
        return needed <= time.MinutesADay
            ? $"{all} That is in time for {Day(day)}; {needed} minutes a day would do."
            : $"{all} For {Day(day)} it takes {needed} minutes a day; or fewer steps, an easier rung, a later day.";
    }

    /// <summary>Minutes as people say them: in fives up to an hour, then in half hours.</summary>
    public static string About(double minutes) => minutes switch
    {
        < 60 => string.Create(CultureInfo.InvariantCulture, $"{Math.Max(5, Math.Round(minutes / 5) * 5):0} minutes"),
        _ => string.Create(CultureInfo.InvariantCulture,
            $"{Math.Round(minutes / 30) / 2:0.#} {(minutes is >= 45 and < 75 ? "hour" : "hours")}"),
    };

    /// <summary>A day as it stands in a sentence.</summary>
    public static string Day(DateOnly day) => day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>How a road ends, where that needs a word; empty else.</summary>
    public static string End(Road road, int asked) => road.End switch
    {
        RoadEnd.ThereAlready => "Nothing of this goal is new: it is within reach today.",
        RoadEnd.NothingLeadsThere =>
            "No song of the library asks as much of this technique. Bring a song that does, or set the goal lower.",
        RoadEnd.NothingNewLeft when road.Steps.Count == 0 =>
            "The library has nothing that is new for this student. Bring a song that asks more.",
        RoadEnd.NothingNewLeft when road.Steps.Count < asked =>
            $"After {(road.Steps.Count == 1 ? "this step" : $"these {road.Steps.Count} steps")} the library has nothing more "
                + "that is new. Bring a song that asks more.",
        _ => "",
    };
}
