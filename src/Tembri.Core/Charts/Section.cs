using Tembri.Core.Figures;
using Tembri.Core.Music;
using Tembri.Core.Strums;

namespace Tembri.Core.Charts;

/// <summary>A section of a song.</summary>
/// <param name="Name">Its name, such as Verse 1.</param>
/// <param name="Bars">Its bars.</param>
public sealed record Section(string Name, IReadOnlyList<Bar> Bars)
{
    // By their first letters alone, with or without a number.
    private static readonly (string Word, SectionKind Kind)[] InShort =
    [
        ("v", SectionKind.Verse), ("vs", SectionKind.Verse), ("vrs", SectionKind.Verse), ("vers", SectionKind.Verse),
        ("ch", SectionKind.Chorus), ("chr", SectionKind.Chorus), ("cho", SectionKind.Chorus), ("chor", SectionKind.Chorus),
        ("ref", SectionKind.Chorus), ("pc", SectionKind.PreChorus), ("br", SectionKind.Bridge), ("brg", SectionKind.Bridge),
        ("brdg", SectionKind.Bridge), ("int", SectionKind.Intro), ("out", SectionKind.Outro), ("end", SectionKind.Outro),
    ];

    /// <summary>What part it plays, read off its name.</summary>
    public SectionKind Kind =>
        SectionNames.KindOf(Name) is not SectionKind.Own and var full
            ? full
            : Array.Find(InShort, k => k.Word.Equals(FirstLetters, StringComparison.OrdinalIgnoreCase)).Kind;

    private string FirstLetters => Name.Split(' ')[0].TrimEnd('0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '.');

    /// <summary>Line of its heading in the text it was read from, from 1; 0 when it was not read from text.</summary>
    public int Line { get; init; }

    /// <summary>The section this one is written after: all of its bars but the changed ones follow that section. Null for a
    /// section of its own.</summary>
    public string? Like { get; init; }

    /// <summary>True when nothing in the text says so: the section has no chords, and the other one is the first of its
    /// kind.</summary>
    public bool IsLikeAssumed { get; init; }

    /// <summary>For a section written after another one the bars of its own, counted from 1.</summary>
    public IReadOnlyList<int> OwnBars { get; init; } = [];

    /// <summary>For a section written after another one its own words, a line for each line of bars.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];

    /// <summary>What the record's hand strums or picks here, as <see cref="SectionHand"/> writes it; empty when it was not taken
    /// down.</summary>
    public string Strum { get; init; } = "";

    /// <summary>The same, read.</summary>
    public SectionHand Hand => Strum.Length == 0 ? SectionHand.None : SectionHand.Read(Strum) ?? SectionHand.None;

    /// <summary>The meter most of its bars have.</summary>
    public Meter UsualMeter => Bars.Count == 0 ? Meter.Common : Bars.GroupBy(b => b.Meter).MaxBy(g => g.Count())!.Key;

    /// <summary>The pattern as recorded: as taken down, or what is usual in its meter.</summary>
    public StrumPattern RecordedHand => Hand.In(UsualMeter) ?? ShippedStrum.UsualFor(UsualMeter);

    /// <summary>Riffs, runs and licks in place of the strum, at the pitch of the chords.</summary>
    public IReadOnlyList<Figure> Figures { get; init; } = [];

    /// <summary>Length in beats.</summary>
    public double Beats => Bars.Sum(b => b.Beats);

    /// <summary>The bars in lines as the chart has them, no line longer than a number of bars.</summary>
    /// <param name="longest">Most bars in a line, 1 or more.</param>
    public IEnumerable<IReadOnlyList<Bar>> Lines(int longest)
    {
        var line = new List<Bar>();
        foreach (var bar in Bars)
        {
            if (line.Count > 0 && (bar.StartsLine || line.Count >= longest)) { yield return line; line = []; }
            line.Add(bar);
        }
        if (line.Count > 0) yield return line;
    }
}
