using Tembri.Core.Arranging;
using Tembri.Data.Students;

namespace Tembri.Web.Words;

/// <summary>Says what was noted or counted.</summary>
internal static class EntryWords
{
    /// <summary>An entry in one line.</summary>
    public static string Say(PracticeEntry entry, IFormatProvider numbers) => entry.Kind switch
    {
        PracticeKind.Changes => string.Create(numbers, $"{entry.Text}: {entry.Count} clean in {entry.Seconds} s, {60.0 * entry.Count!.Value / entry.Seconds!.Value:0} a minute"),
        PracticeKind.Clean => string.Create(numbers, $"{entry.Text} went clean on rung {RungLimits.LabelOf(entry.Rung)}{(entry.Tempo is { } tempo ? $" at {tempo} a minute" : "")}"),
        _ => entry.Text,
    };
}
