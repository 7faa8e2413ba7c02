namespace Tembri.Core.Strums;

/// <summary>A rung of the right hand.</summary>
/// <param name="Number">1, one stroke a change, to 5, as recorded.</param>
/// <param name="Pattern">What is played.</param>
/// <param name="Kept">Share of the record's feel that is kept, 0 to 1.</param>
/// <param name="SameAsBelow">True when the rung below plays the same.</param>
public sealed record StrumRung(int Number, StrumPattern Pattern, double Kept, bool SameAsBelow);

/// <summary>The right hand's own ladder: a pattern made simpler rung by rung, each from the one above, so that most of the feel
/// is kept.</summary>
/// <remarks>The load never falls from rung to rung, at any tempo.</remarks>
public sealed class StrumLadder
{
    /// <summary>The rung that plays the record.</summary>
    public const int Top = 5;

    /// <summary>In place of a rung's number: the hand keeps swinging and strikes as it likes.</summary>
    public const int Free = 0;

    /// <summary>The rung with one stroke a change.</summary>
    public const int OneStroke = 1;

    private StrumLadder(StrumPattern record, IReadOnlyList<StrumRung> rungs) => (Record, Rungs) = (record, rungs);

    /// <summary>As recorded.</summary>
    public StrumPattern Record { get; }

    /// <summary>Five rungs, 1 first.</summary>
    public IReadOnlyList<StrumRung> Rungs { get; }

    /// <summary>What a rung plays.</summary>
    /// <param name="rung">1 to 5, or <see cref="Free"/>.</param>
    public StrumPattern At(int rung) => rung == Free ? StrumPattern.Free(Record.Meter, Record.Swing) : Rungs[rung - 1].Pattern;

    /// <summary>Reduces a pattern.</summary>
    /// <param name="record">As recorded.</param>
    /// <param name="cache">Keeps what was worked out.</param>
    public static StrumLadder Of(StrumPattern record, ResultCache? cache = null) =>
        cache is null ? Reduce(record) : cache.GetOrAdd(Kept, record, Reduce);

    private static readonly ResultKind<StrumPattern, StrumLadder> Kept = new("right hands", 0.01, _ => UsualBytes, UsualBytes);
    private const int UsualBytes = 6_000;

    private static StrumLadder Reduce(StrumPattern record)
    {
        var shortest = record.Shortest();
        var patterns = new StrumPattern[Top];
        patterns[Top - 1] = shortest;
        for (var rung = Top - 1; rung >= 1; rung--)
            patterns[rung - 1] = record.IsFree ? shortest : Below(shortest, patterns[rung], rung);
        var whole = StrumFeel.Kept(shortest, shortest);
        return new StrumLadder(record, [.. patterns.Select((p, i) => new StrumRung(
            i + 1, i == Top - 1 ? record : p, Math.Clamp(StrumFeel.Kept(shortest, p) / whole, 0, 1),
            i > 0 && p.Equals(patterns[i - 1])))]);
    }

    /// <summary>The rung below; where that would be heavier, as when all strings are plucked at once in place of one, there is
    /// none.</summary>
    private static StrumPattern Below(StrumPattern record, StrumPattern above, int rung)
    {
        var best = StrumReduction.Of(record, new StrumRules(record, above, rung));
        return IsLighter(best, above) && best.Steps.Any(s => s.Sounds) ? best : above;
    }

    private static bool IsLighter(StrumPattern pattern, StrumPattern than) =>
        pattern.LoadAt(Slow) <= than.LoadAt(Slow) + Hair && pattern.LoadAt(Quick) <= than.LoadAt(Quick) + Hair;

    private const double Slow = 20, Quick = 320, Hair = 1e-9;   // beats a minute
}
