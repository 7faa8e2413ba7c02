using Tembri.Core.Music;

namespace Tembri.Core.Charts.Reading;

/// <summary>A chart and the places in its text that need the teacher's eye.</summary>
/// <param name="Chart">What could be read.</param>
/// <param name="Problems">In order of line and column; empty when all is well.</param>
public sealed record ChartReading(Chart Chart, IReadOnlyList<ChartProblem> Problems)
{
    /// <summary>By which names the text calls its chords; the chart has the names used here.</summary>
    public ChartNaming Naming { get; init; }

    /// <summary>True when a header line says so; false when only the chords show it.</summary>
    public bool NamesAreSaid { get; init; }

    /// <summary>The line, from 1, that tells in which order the sections are played; 0 when none does.</summary>
    public int FormLine { get; init; }

    /// <summary>True when that line has letters for sections that nothing calls so.</summary>
    internal bool FormIsByOrder { get; init; }

    /// <summary>Where the text lists the chords of the song, which is not played.</summary>
    internal IReadOnlyList<Slot> Listed { get; init; } = [];

    /// <summary>The lines, from 1, in which a section begins whose name stands nowhere and that other lines of the text
    /// show.</summary>
    internal IReadOnlyList<int> BeginsUnnamed { get; init; } = [];
}

/// <summary>Reads chart text: header lines, sections in their own line, bar grids, lyrics with chords in square brackets, chords
/// above lyrics.</summary>
/// <remarks>Whatever cannot be read is kept in its place and listed; the rest of the chart is read all the same.</remarks>
public static class ChartReader
{
    /// <summary>Reads a chart. The work grows with the length of the text and no faster.</summary>
    /// <param name="text">Chart text, at most <see cref="ChartLimits.LongestText"/> characters.</param>
    /// <param name="cancel">Ends the reading between two lines.</param>
    /// <exception cref="ArgumentException">The text is too long.</exception>
    /// <exception cref="OperationCanceledException">It was cancelled.</exception>
    public static ChartReading Read(string text, CancellationToken cancel = default)
    {
        if (text.Length > ChartLimits.LongestText)
            throw new ArgumentException(
                $"A chart has at most {ChartLimits.LongestText:N0} characters; this one has {text.Length:N0}.", nameof(text));
        var lines = PlainText.Clean(text).Replace("\r\n", "\n", StringComparison.Ordinal).Replace('\r', '\n');
        var (reading, run) = Read(lines, null, cancel);
        return run.MeterOfBars(reading.Chart) is { } shown ? Read(lines, shown, cancel).Reading : reading;
    }

    private static (ChartReading Reading, ChartTextRun Run) Read(string lines, Meter? assumed, CancellationToken cancel)
    {
        var run = new ChartTextRun(assumed);
        run.ReadAll(lines, cancel);
        return (run.Finish(), run);
    }

    /// <summary>True for a line that states something of the whole song.</summary>
    internal static bool IsHeaderLine(string line) => ChartHeader.IsHeader(line) || line.TrimStart().StartsWith('{');
}
