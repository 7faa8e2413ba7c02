using Tembri.Core.Charts.Reading;

namespace Tembri.Core.Charts.Editing;

/// <summary>How bars are changed in one of the ways a text writes them; the edits themselves know none of them.</summary>
/// <remarks>A line is changed where it stands as long as its way of writing can hold what is wanted; else it is first written
/// with bar lines, see <see cref="WriteWithBarLines"/>.</remarks>
internal abstract class BarWriting
{
    /// <summary>The way of a notation.</summary>
    public static BarWriting Of(BarNotation notation) => notation switch
    {
        BarNotation.Grid => GridBars.Instance,
        BarNotation.Words => WordBars.Instance,
        BarNotation.Bracket => BracketBars.Instance,
        BarNotation.Over => OverBars.Instance,
        _ => throw new ArgumentOutOfRangeException(nameof(notation)),
    };

    /// <summary>True when it has a sign for "as the bar before".</summary>
    public virtual bool KnowsAsBefore => false;

    /// <summary>True when the words stand on a line of their own, below the chords.</summary>
    public virtual bool StandsOverWords => false;

    /// <summary>True when a bar can be written anew where it stands.</summary>
    /// <param name="lines">The text.</param>
    /// <param name="section">The bar's section.</param>
    /// <param name="place">The bar.</param>
    /// <param name="content">What is to stand there, as a cell of a bar grid.</param>
    public abstract bool Holds(ChartLines lines, Section section, BarSpan place, string content);

    /// <summary>Writes a bar anew where it stands.</summary>
    /// <param name="lines">The text.</param>
    /// <param name="place">The bar.</param>
    /// <param name="bars">One bar or, between bar lines, several.</param>
    public abstract void Write(ChartLines lines, BarSpan place, IReadOnlyList<string> bars);

    /// <summary>Writes a line whose chords have a bar each with bar lines, so that a bar can hold more than a chord. A name in
    /// front and a count behind stay.</summary>
    public virtual void WriteWithBarLines(ChartLines lines, Section section, BarSpan place) =>
        throw new InvalidOperationException("This line has bar lines.");

    /// <summary>A new bar at the end of a line; null when it needs a line of its own.</summary>
    public virtual string? Appended(string line, string content) => null;

    /// <summary>What goes with a bar of a line that keeps others: from this index to before that one. Null when none can go as
    /// the line is written.</summary>
    public abstract (int From, int To)? Extent(string line, BarSpan place, bool isLast);

    /// <summary>The bar with the bar line after it; the last one with that before it, so that a repeat sign stays.</summary>
    protected static (int From, int To) WithBarLine(string line, BarSpan place, bool isLast)
    {
        var (from, to) = (place.Column - 1, place.Column - 1 + place.Length);
        if (!isLast && line.IndexOf('|', to) is >= 0 and var next)
        {
            to = next + 1;
            while (to < line.Length && line[to] == ' ') to++;
            return (from, to);
        }
        return (line.LastIndexOf('|', from), to);
    }

    /// <summary>True for a single chord, which also ways without bar lines can write.</summary>
    protected static bool IsOneChord(string content) =>
        !content.Contains(' ', StringComparison.Ordinal) && !content.Contains('|', StringComparison.Ordinal)
            && content[0] is not ('(' or '%' or '.' or '-' or '·') && !Music.Meter.TryParse(content, out _);

    /// <summary>What stands in front of the bars of a line, and a count of repeats behind them.</summary>
    protected static (string Name, string Count) Around(ChartLines lines, string line, List<BarSpan> places) =>
        (line[..lines.BarsAt(line)],
            HeadingLine.CountAt(line) is { At: var at, Times: > 1 } && at >= places[^1].Column ? line[at..] : "");
}
