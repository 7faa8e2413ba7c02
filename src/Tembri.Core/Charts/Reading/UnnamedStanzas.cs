namespace Tembri.Core.Charts.Reading;

/// <summary>Lines that stand together, parted from others by a blank line or a name.</summary>
/// <param name="At">The index of its first line.</param>
/// <param name="Chords">Its chords in their order, as they are written, each in square brackets; empty where it has none.</param>
/// <param name="Rows">How many of its lines have chords.</param>
/// <param name="Words">How many of its lines have words, those above its first chords aside.</param>
internal sealed record Stanza(int At, string Chords, int Rows, int Words);

/// <summary>What stands below one name, at the head of a chart without any, or behind a mark that ends a section.</summary>
/// <param name="Name">The name; <see cref="ChartTextRun.Unnamed"/> where there is none.</param>
/// <param name="Kind">What part it plays by its name.</param>
/// <param name="At">The index of the name's line, or of the mark; -1 at the head.</param>
/// <param name="IsBehindEnd">Whether a mark ends what stands above, or it stands further left.</param>
/// <param name="Stanzas">Its stanzas in their order.</param>
internal sealed record NamedStanzas(string Name, SectionKind Kind, int At, bool IsBehindEnd, List<Stanza> Stanzas)
{
    /// <summary>Whether it ends what stands above by standing further left than its name.</summary>
    public bool IsOutdented { get; init; }

    private const int HeadRows = 2;   // one row may have the chords of any section

    public bool HasChords => Stanzas.Exists(s => s.Rows > 0);

    /// <summary>Its chords from one stanza up to another, in their order.</summary>
    public string Chords(int from, int to) => string.Concat(Stanzas[from..to].Select(s => s.Chords));

    /// <summary>The chords of a stanza, and of as many behind it as make two rows; null where there are fewer.</summary>
    public string? Head(int from)
    {
        var rows = 0;
        var to = Stanzas.FindIndex(from, s => (rows += s.Rows) >= HeadRows);
        return to < 0 ? null : Chords(from, to + 1);
    }

    /// <summary>Whether a blank line stands between the name and what is below it.</summary>
    public bool IsApart => Stanzas is [var first, ..] && first.At > At + 1;

    public bool Has(string chords) => Chords(0, Stanzas.Count).Contains(chords, StringComparison.Ordinal);

    public bool IsNamesakeOf(NamedStanzas other) =>
        Name.Equals(other.Name, StringComparison.OrdinalIgnoreCase) || HeadingLine.AreOfOneKind(Name, other.Name);
}

/// <summary>Why a stanza begins a section that the text does not name.</summary>
internal enum PartedBy
{
    /// <summary>A mark ends the one above.</summary>
    EndMark,
    /// <summary>It stands further left than the section above and its name.</summary>
    FurtherLeft,
    /// <summary>It has the chords with which another section begins.</summary>
    ChordsOfAnother,
    /// <summary>It is words alone, as many lines as another section begins with.</summary>
    LinesOfAnother,
    /// <summary>The section comes again right below without it.</summary>
    Repetition,
    /// <summary>The name above it, a blank line away, plays a section again that has other bars.</summary>
    OwnBarsAbove,
}

/// <summary>Where a chart names its chorus or its bridge alone: the verse that follows without a name belongs to
/// neither.</summary>
/// <remarks>Where a chart names what would begin, or a section has the same chords each time it is written out, nothing is
/// parted.</remarks>
internal static class UnnamedStanzas
{
    private const int FewestWords = 2;   // one line may be a remark

    /// <summary>A stanza that begins a section.</summary>
    /// <param name="At">The index of its first line.</param>
    /// <param name="Above">The section it would belong to.</param>
    /// <param name="Like">The one it is like; null for none.</param>
    /// <param name="Why">What shows it.</param>
    public readonly record struct Found(int At, string Above, string? Like, PartedBy Why);

    /// <summary>A section above, with what it begins.</summary>
    private readonly record struct Begun(string Name, SectionKind Kind, Stanza First, string? Head);

    /// <summary>The stanzas that begin a section without saying so, in their order.</summary>
    /// <param name="parts">All stanzas by the names they stand under; the work grows with their number squared.</param>
    public static IEnumerable<Found> In(IReadOnlyList<NamedStanzas> parts)
    {
        var (begun, parted) = (new List<Begun>(), new HashSet<string>());
        var hasBlanksBelowNames = parts.Where((o, p) => o is { IsApart: true, HasChords: true, At: >= 0, IsBehindEnd: false }
            && !parts.Take(p).Any(b => b.HasChords && b.Name.Equals(o.Name, StringComparison.OrdinalIgnoreCase))).Any();
        for (var p = 0; p < parts.Count; p++)
        {
            var part = parts[p];
            if (part.IsBehindEnd)
            {
                if (part.Stanzas.Find(s => s.Rows > 0 || LikeByLines(s, begun) is not null) is { } behind)
                    yield return part.IsOutdented
                        ? new(behind.At, parts[p - 1].Name, null, PartedBy.FurtherLeft)
                        : new(behind.At, part.Name, null, PartedBy.EndMark);
            }
            else if (IsWritten(part))
                foreach (var found in Within(parts, p, begun, parted, mayPlayAgain: !hasBlanksBelowNames))
                {
                    if (found.Like is { } like && begun.Find(o => o.Name == like).Head is { } head) parted.Add(head);
                    yield return found;
                }
            // An intro ends where words begin.
            var first = part.Stanzas.FindIndex(s => s.Rows > 0 && s.Words > 0);
            if (first < 0) continue;
            var isPlayed = part.Kind is SectionKind.Intro or SectionKind.Interlude or SectionKind.Solo;
            begun.Add(new(isPlayed ? ChartTextRun.Unnamed : part.Name, isPlayed ? SectionKind.Own : part.Kind,
                part.Stanzas[first], part.Head(first)));
        }
    }

    /// <summary>Sections that charts name where they leave their verses without names.</summary>
    private static bool IsWritten(NamedStanzas part) =>
        part.Kind is SectionKind.Chorus or SectionKind.PreChorus or SectionKind.PostChorus or SectionKind.Bridge
            // A tag, a hook.
            || part is { Kind: SectionKind.Own, At: >= 0 } && HeadingLine.IsKnown(part.Name);

    private static IEnumerable<Found> Within(IReadOnlyList<NamedStanzas> parts, int at, List<Begun> begun,
        HashSet<string> parted, bool mayPlayAgain)
    {
        var part = parts[at];
        var chords = part.Chords(0, part.Stanzas.Count);
        var itself = new Begun(part.Name, part.Kind, part.Stanzas is [var begin, ..] ? begin : new(0, "", 0, 0), part.Head(0));
        var again = at + 1 < parts.Count && parts[at + 1].IsNamesakeOf(part) ? parts[at + 1] : null;
        var end = again is null ? -1 : EndOf(parts, part, again);
        var (owner, ownerAt, here) = (itself, 0, 0);
        for (var k = 0; k < part.Stanzas.Count; k++)
        {
            var stanza = part.Stanzas[k];
            var isParted = owner != itself;
            Begun? like = null;
            PartedBy? why = null;
            if (k == 0 ? !PlaysAgain(part, begun) : stanza.Words == 0 || k < end) why = null;
            else if (stanza.Rows == 0)
            {
                like = isParted || again is null ? null : LikeByLines(stanza, begun);
                if (like is not null) why = PartedBy.LinesOfAnother;
            }
            else if (begun.Append(itself).FirstOrDefault(o => !AreAlike(o, owner) && Begins(o, stanza, isParted)) is
                { Name: not null } other)
                (like, why) = (other, PartedBy.ChordsOfAnother);
            else if (k == 0) why = mayPlayAgain ? PartedBy.OwnBarsAbove : null;
            else if (k == end) why = PartedBy.Repetition;
            var from = here;
            here += stanza.Chords.Length;
            if (why is not { } sign) continue;
            yield return new(stanza.At, owner.Name, like?.Name, sign);
            (owner, ownerAt) = (like ?? new(ChartTextRun.Unnamed, SectionKind.Own, stanza, null), from);
        }

        bool Begins(Begun other, Stanza stanza, bool isParted) =>
            other.Head is { } head && (chords.AsSpan(here).StartsWith(head)
                    // A chorus is not followed by a chorus.
                    ? isParted || again is not null || !IsNamedBelow(parts, at, other.Kind)
                        && (parted.Contains(head) || IsLackedBySome(parts, part, head))
                    : isParted && stanza.Rows > 1 && head.StartsWith(stanza.Chords, StringComparison.Ordinal))
                && chords.AsSpan(ownerAt, here - ownerAt).IndexOf(head) < 0;
    }

    /// <summary>How many of its stanzas a section has that comes again right below: as many as there, or those above the ones
    /// that a bare name has below it as well. Where it is only named, and no verse is, the second of two is a verse. -1 where
    /// nothing shows it.</summary>
    private static int EndOf(IReadOnlyList<NamedStanzas> parts, NamedStanzas part, NamedStanzas again)
    {
        if (part.Stanzas.Count < 2) return -1;
        if (again is { HasChords: true } && again.Stanzas.Count < part.Stanzas.Count
            && again.Chords(0, again.Stanzas.Count) == part.Chords(0, again.Stanzas.Count))
            return again.Stanzas.Count;
        var belowNames = parts.Where(o => o != part && o is { IsApart: true, HasChords: true } && o.IsNamesakeOf(part)
            && o.Stanzas[0].Chords != part.Stanzas[0].Chords).Select(o => o.Stanzas[0].Chords).ToHashSet();
        if (part.Stanzas.FindIndex(1, s => belowNames.Contains(s.Chords)) is > 0 and var shared) return shared;
        return part.Stanzas is [{ Rows: > 0 }, { Rows: > 0 }] && !again.HasChords
            && !parts.Any(o => o.Kind == SectionKind.Verse) ? 1 : -1;
    }

    private static bool AreAlike(Begun one, Begun other) =>
        one.Kind == other.Kind && (one.Kind != SectionKind.Own || one.Name == other.Name);

    /// <summary>True for a name that plays a section again and has something else below it, a blank line away.</summary>
    private static bool PlaysAgain(NamedStanzas part, List<Begun> begun) =>
        part.IsApart && begun.Find(o => o.Name.Equals(part.Name, StringComparison.OrdinalIgnoreCase)) is { First: { } first }
            && first.Chords != part.Stanzas[0].Chords;

    /// <summary>The verse above that words alone are sung to: it begins with as many lines.</summary>
    private static Begun? LikeByLines(Stanza stanza, List<Begun> begun) =>
        stanza.Rows == 0 && stanza.Words >= FewestWords
            && begun.Find(o => o.Kind is SectionKind.Verse or SectionKind.Own && o.First.Words == stanza.Words) is
                { First: not null } verse
                ? verse
                : null;

    private static bool IsNamedBelow(IReadOnlyList<NamedStanzas> parts, int at, SectionKind kind) =>
        parts.Skip(at + 1).Any(o => !o.IsBehindEnd && o.Kind == (kind == SectionKind.Own ? SectionKind.Verse : kind));

    /// <summary>False where a section has these chords each time it is written out.</summary>
    private static bool IsLackedBySome(IReadOnlyList<NamedStanzas> parts, NamedStanzas part, string chords)
    {
        var others = parts.Where(o => o != part && o.HasChords && o.IsNamesakeOf(part)).ToList();
        return others.Count == 0 || others.Exists(o => !o.Has(chords));
    }
}
