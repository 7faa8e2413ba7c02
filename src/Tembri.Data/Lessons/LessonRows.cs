using Tembri.Core.Lessons;
using Tembri.Data.Studios;

namespace Tembri.Data.Lessons;

/// <summary>A lesson of one or several students: a single one, or every so many weeks.</summary>
public sealed class Lesson : IStudioOwned
{
    public const int UsualMinutes = 30;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }

    /// <summary>Its first day.</summary>
    public DateOnly Day { get; set; }
    public TimeOnly At { get; set; }
    public int Minutes { get; set; } = UsualMinutes;

    /// <summary>Weeks from one to the next; 0 for a single lesson.</summary>
    public int EveryWeeks { get; set; } = 1;
    public DateOnly? Until { get; set; }

    public List<LessonStudent> Students { get; set; } = [];
    public List<LessonException> Changes { get; set; } = [];

    /// <summary>Names the request that made the row.</summary>
    public Guid? RequestKey { get; set; }
    public uint Version { get; set; }

    /// <summary>As the calendar reckons with it.</summary>
    public LessonRule ToRule() => new(Day, At, Minutes, EveryWeeks, Until);

    /// <summary>The lessons from a day to a day.</summary>
    public IEnumerable<LessonOn> Between(IReadOnlyCollection<FreeDays> free, DateOnly from, DateOnly to) =>
        LessonCalendar.Between(ToRule(), [.. Changes.Select(c => new LessonChange(c.On, c.MovedTo, c.MovedAt))], free, from, to);
}

/// <summary>Who has a lesson.</summary>
public sealed class LessonStudent : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid LessonId { get; set; }
    public Guid StudentId { get; set; }
}

/// <summary>One lesson of a row that is moved or not held.</summary>
public sealed class LessonException : IStudioOwned
{
    public Guid StudioId { get; set; }
    public Guid LessonId { get; set; }

    /// <summary>The day the rule has.</summary>
    public DateOnly On { get; set; }

    /// <summary>The day it is held instead; null when it is not held.</summary>
    public DateOnly? MovedTo { get; set; }
    public TimeOnly? MovedAt { get; set; }
}

/// <summary>Days without repeated lessons.</summary>
public sealed class Holiday : IStudioOwned
{
    public const int LongestName = 60;

    public Guid Id { get; set; } = Guid.CreateVersion7();
    public Guid StudioId { get; set; }
    public DateOnly From { get; set; }
    public DateOnly To { get; set; }
    public string Name { get; set; } = "";

    public FreeDays ToFreeDays() => new(From, To, Name);
}
