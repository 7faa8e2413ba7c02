using System.Xml.Linq;
using Tembri.Core.Fretboard;
using static Tembri.Formats.Scores.ScoreXml;

namespace Tembri.Formats.Scores;

/// <summary>What a part says of its strings where it begins: how many, how they are tuned, where the capo is.</summary>
internal static class ScoreStrings
{
    /// <summary>Strings of a guitar.</summary>
    public const int Guitar = 6;

    private static IEnumerable<XElement> Details(XElement part, string? staff) =>
        part.Elements("measure").Take(1).Elements("attributes").Elements("staff-details")
            .Where(d => staff is null || (d.Attribute("number")?.Value ?? "1") == staff);

    /// <summary>True unless the staff says that it has another number of strings than a guitar, as that of a bass
    /// does.</summary>
    public static bool MayBeGuitar(XElement part, string staff) => Details(part, staff).All(d =>
        (d.Elements("staff-tuning").Count() is 0 or Guitar) && (Whole(d.Element("staff-lines")?.Value) is null or 5 or Guitar));

    /// <summary>The capo, 0 to 11; null where none is named.</summary>
    public static int? CapoOf(XElement part) =>
        Details(part, null).Select(d => Whole(d.Element("capo")?.Value)).FirstOrDefault(c => c is >= 0 and <= 11);

    /// <summary>How the six strings are tuned without the capo, by the staff's details or by a scordatura; null when the part
    /// does not say it of all six.</summary>
    public static Tuning? TuningOf(XElement part, string? staff = null)
    {
        var tab = Details(part, staff)
            .Select(d => d.Elements("staff-tuning")
                .Select(t =>
                    (String: Whole(t.Attribute("line")?.Value) is { } line ? Guitar + 1 - line : 0, PitchOf(t, "tuning-")?.Midi))
                .ToList()).FirstOrDefault(t => t.Count == Guitar);
        var accords = part.Elements("measure").Take(1).Descendants("accord")
            .Select(t => (String: Whole(t.Attribute("string")?.Value) ?? 0, PitchOf(t, "tuning-")?.Midi));
        return Tuned(tab ?? []) ?? Tuned(accords);

        static Tuning? Tuned(IEnumerable<(int String, int? Midi)> strings)
        {
            var open = new int?[Guitar];
            foreach (var (number, midi) in strings) if (number is >= 1 and <= Guitar) open[Guitar - number] = midi;
            return Array.TrueForAll(open, m => m is >= 16 and <= 96) ? new Tuning([.. open.Select(m => m!.Value)]) : null;
        }
    }

    /// <summary>True for a tuning that chart text can name.</summary>
    public static bool IsGuitars(Tuning tuning) => Tuning.Read(tuning.Name) is not null;
}
