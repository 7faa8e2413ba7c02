using System.Globalization;
using Tembri.Core.Chords;
using Tembri.Core.Ladders;

namespace Tembri.Web.Ladders;

/// <summary>Which chords of a ladder stand side by side: all of them, or, when they are more than fit, those of a
/// section.</summary>
/// <param name="Chords">The chords shown, by their number in the song.</param>
/// <param name="HasSections">True when the song has more chords than fit, so that sections can be chosen.</param>
/// <param name="Section">The section shown, by its place in the chart; null for the whole song.</param>
internal sealed record LadderColumns(IReadOnlyList<int> Chords, bool HasSections, int? Section)
{
    /// <summary>Chords that stand side by side on a screen of 1280 pixels.</summary>
    public const int Most = 14;

    /// <summary>The whole song, in the address of a long ladder.</summary>
    private const string WholeSong = "all";

    private const int MostRoomy = 8;

    public bool IsDense => Chords.Count > MostRoomy;

    /// <summary>The section shown, as addresses and forms have it.</summary>
    public string Name => NameOf(Section);

    public static string NameOf(int? section) => section?.ToString(CultureInfo.InvariantCulture) ?? WholeSong;

    /// <summary>The columns of a ladder.</summary>
    /// <param name="ladder">The ladder.</param>
    /// <param name="asked">The section asked for by its name in addresses; the first one when it is none of the song's.</param>
    public static LadderColumns Of(Ladder ladder, string? asked)
    {
        var (chords, sections) = (ladder.Flow.Chords, ladder.Chart.Sections);
        var hasSections = chords.Count > Most && sections.Count > 1;
        var all = Enumerable.Range(0, chords.Count);
        if (!hasSections || asked == WholeSong) return new LadderColumns([.. all], hasSections, null);
        var section = int.TryParse(asked, NumberStyles.None, CultureInfo.InvariantCulture, out var number)
                && number < sections.Count
            ? number
            : 0;
        var played = sections[section].Bars.SelectMany(b => b.Slots).Select(s => s.Chord).OfType<Chord>().ToHashSet();
        return new LadderColumns([.. all.Where(c => played.Contains(chords[c]))], hasSections, section);
    }
}
