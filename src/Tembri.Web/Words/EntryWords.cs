using Tembri.Core.Arranging;
using Tembri.Data.Students;
using Tembri.Web.Practice;

namespace Tembri.Web.Words;

/// <summary>Says what was noted, counted or tried.</summary>
internal static class EntryWords
{
    /// <summary>How hard it felt, 1 to 5.</summary>
    public static readonly IReadOnlyList<string> Felt = ["easy", "fine", "some work", "hard", "too hard"];

    /// <summary>An entry in one line.</summary>
    public static string Say(PracticeEntry entry, IFormatProvider numbers)
    {
        var parts = new List<string> { What(entry, numbers) };
        if (entry.Minutes is { } minutes) parts.Add(string.Create(numbers, $"{minutes} minutes"));
        if (entry.Felt is >= 1 and <= PracticeEntry.MostFelt and var felt) parts.Add($"felt {Felt[felt - 1]}");
        if (entry.Hurt) parts.Add("something hurt");
        return string.Join(", ", parts.Where(p => p.Length > 0));
    }

    private static string What(PracticeEntry entry, IFormatProvider numbers) => entry.Kind switch
    {
        PracticeKind.Changes => string.Create(numbers,
            $"{entry.Text}: {entry.Count} clean in {entry.Seconds} "
                + $"s{(entry.Seconds == 60 ? "" : $", {60.0 * entry.Count!.Value / entry.Seconds!.Value:0} a minute")}"),
        PracticeKind.Clean => string.Create(numbers,
            $"{entry.Text} {(entry.Went == false ? "did not go yet" : "went clean")}{(entry.Rung > 0 ? $" on rung {RungLimits.LabelOf(entry.Rung)}" : "")}{(entry.Tempo is { } tempo ? $" at {tempo} a minute" : "")}"),
        PracticeKind.Shape => string.Create(numbers, $"{entry.Text}: {entry.Count} of {entry.Tries} tries clean"),
        PracticeKind.Strum => string.Create(numbers,
            $"{(entry.Text.Length > 0 ? entry.Text : EntryCheck.PatternOf(entry.Pattern, entry.Meter, entry.Swing) is { } pattern ? StrumWords.Name(pattern) : "a strum")} "
                + $"{(entry.Went == false ? "broke off" : "went")} at {entry.Tempo} a minute"),
        _ => entry.Text,
    };
}
