using Ical.Net;
using Ical.Net.CalendarComponents;
using Ical.Net.DataTypes;
using Ical.Net.Serialization;
using Tembri.Core.Music;
using Tembri.Core.Planning;
using Tembri.Web.Words;

namespace Tembri.Web.Practice;

/// <summary>A plan as a calendar (RFC 5545): an all-day event a day, with what to do in its description.</summary>
internal static class PlanFile
{
    /// <summary>Writes it.</summary>
    /// <param name="practice">The practice.</param>
    /// <param name="names">How notes are named.</param>
    /// <param name="now">When it is written.</param>
    public static string Ics(StudentPractice practice, NoteNames names, DateTimeOffset now)
    {
        var calendar = new Calendar { ProductId = "-//Tembri//Practice//EN" };
        foreach (var day in practice.Plan.Where(d => d.Items.Count > 0))
            calendar.Events.Add(new CalendarEvent
            {
                // The same day of the same student replaces itself when a newer plan is brought into a calendar.
                Uid = $"{practice.Student.Id:N}-{day.On:yyyyMMdd}@tembri", Start = new CalDateTime(day.On),
                End = new CalDateTime(day.On.AddDays(1)), DtStamp = new CalDateTime(now.UtcDateTime, "UTC"),
                Summary = $"Guitar, {day.Minutes} minutes", Description = Text(day, names),
                Transparency = TransparencyType.Transparent,
            });
        return new CalendarSerializer().SerializeToString(calendar)!;
    }

    /// <summary>A day as plain text, a line an item, with why.</summary>
    public static string Text(PlanDay day, NoteNames names)
    {
        var lines = new List<string>();
        foreach (var (item, i) in day.Items.Select((x, i) => (x, i)))
        {
            lines.Add($"{item.Minutes} min  {PlanWords.Title(item, names)}{(item.Tempo is { } tempo && item.Kind is PlanKind.Section or PlanKind.Form ? $" at {tempo:0}" : "")}. {PlanWords.Why(item)}".TrimEnd());
            if (day.BreaksAfter.Contains(i)) lines.Add(PlanWords.Break);
        }
        lines.Add(PlanWords.Caution);
        return string.Join("\n", lines);
    }
}
