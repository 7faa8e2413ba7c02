using System.Diagnostics;
using System.Runtime.CompilerServices;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Charts.Reading;
using Tembri.Core.Classes;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Data.Ladders;
using Tembri.Web.Computing;
using Tembri.Web.Setup;

namespace Tembri.Web.Ladders;

/// <summary>Ladders and outlines already made, by the stamp of everything they were made of. Only a saving of work: losing it
/// changes nothing.</summary>
internal sealed class LadderShelf
{
    private const long MostLadderBytes = 56_000_000;
    private const long MostOutlineBytes = 26_000_000;
    private const long MostHandBytes = 8_000_000;
    private const long MostChartBytes = 6_000_000;
    private const int UsualChartBytes = 40_000;
    private const int UsualLadderBytes = 80_000;
    private const int UsualOutlineBytes = 2_500;
    private readonly LadderBuilder _builder;
    private readonly BoundedResults<ArrangementStamp, Ladder> _ladders = new(MostLadderBytes, UsualLadderBytes, BytesOf);
    private readonly ConditionalWeakTable<Ladder, LadderOutline> _outlinesOfLadders = [];
    private readonly BoundedResults<ArrangementStamp, LadderOutline> _outlines =
        new(MostOutlineBytes, UsualOutlineBytes, BytesOf);

    private readonly BoundedResults<(Guid Version, uint Row, ArrangementStamp Stamp), HandMade> _hands =
        new(MostHandBytes, UsualLadderBytes / 2, hand => BytesOf(hand.Ladder) + 160L * hand.Bars.Count);

    private readonly BoundedResults<string, ClassSheet> _classes =
        new(MostHandBytes, UsualLadderBytes, sheet => sheet.Parts.Sum(p => BytesOf(p.Ladder)));

    private readonly BoundedResults<string, ChartReading> _charts =
        new(MostChartBytes, UsualChartBytes, read => 2_000 + read.Chart.Sections.Sum(BytesOf));

    public LadderShelf(LadderBuilder builder) => _builder = builder;

    /// <summary>A stored chart as it is read.</summary>
    /// <param name="stamp">Digest of its text.</param>
    /// <param name="text">The text.</param>
    /// <param name="leaving">Ends the work when nobody waits for it.</param>
    public ChartReading Read(string stamp, string text, CancellationToken leaving) =>
        _charts.GetOrAdd(stamp, _ => ChartReader.Read(text, leaving));

    /// <summary>Forgets everything.</summary>
    public void Forget()
    {
        _ladders.Forget();
        _outlines.Forget();
        OutlinePool.Forget();
        _hands.Forget();
        _classes.Forget();
        _charts.Forget();
    }

    /// <summary>A version made by hand beside the ladder of a stamp, when it is known.</summary>
    public HandMade? FindHand(Guid version, uint row, in ArrangementStamp stamp) => _hands.Find((version, row, stamp));

    /// <summary>Remembers a version made by hand.</summary>
    public void PutHand(Guid version, uint row, in ArrangementStamp stamp, HandMade hand) =>
        _hands.Keep((version, row, stamp), hand);

    /// <summary>A class sheet by all it was made of, when it is known.</summary>
    public ClassSheet? FindClass(string key) => _classes.Find(key);

    /// <summary>Remembers a class sheet.</summary>
    public void PutClass(string key, ClassSheet sheet) => _classes.Keep(key, sheet);

    /// <summary>The ladder of a stamp, when it is known.</summary>
    public Ladder? Find(in ArrangementStamp stamp)
    {
        var known = _ladders.Find(stamp);
        // One that is missing is counted when it is made.
        if (known is not null) Measures.LookedUp("ladder", true);
        return known;
    }

    /// <summary>The ladder for a request, built now unless it was built before. Computes where it is called: within a
    /// lane.</summary>
    public Ladder Get(in ArrangementStamp stamp, ArrangementRequest request, WorkLimits work)
    {
        var made = false;
        var ladder = _ladders.GetOrAdd(stamp, _ =>
        {
            made = true;
            using var span = Tracing.Source.StartActivity("make a ladder");
            var began = Stopwatch.GetTimestamp();
            var built = _builder.Build(request, work);
            Measures.LadderMade(Stopwatch.GetElapsedTime(began));
            return built;
        });
        Measures.LookedUp("ladder", !made);
        return ladder;
    }

    /// <summary>The same for a chart text that is not stored.</summary>
    public Ladder Get(string chartText, ArrangementRequest request, WorkLimits work) =>
        Get(ArrangementStamp.Of(ArrangementStamp.DigestOf(chartText), request), request, work);

    /// <summary>The outline of a stamp, when it is known.</summary>
    public LadderOutline? OutlineOf(in ArrangementStamp stamp)
    {
        var known = _outlines.Find(stamp);
        Measures.LookedUp("outline", known is not null);
        return known;
    }

    /// <summary>The outline of a ladder; remembered as long as the ladder is. It does not count as known for its stamp: what is
    /// known is stored too.</summary>
    public LadderOutline OutlineOf(Ladder ladder) => _outlinesOfLadders.GetValue(ladder, LadderOutline.Of);

    /// <summary>What outlines have in common.</summary>
    public OutlinePool OutlinePool { get; } = new();

    /// <summary>Remembers an outline.</summary>
    public void Put(in ArrangementStamp stamp, LadderOutline outline) => _outlines.Keep(stamp, outline);

    // Measured (bench kinds): about 72 kB for a song of nine chords and forty bars.
    private static long BytesOf(Ladder ladder) =>
        12_000 + 5_500L * ladder.Flow.Chords.Count
            + 260L * (ladder.Flow.PlayedBars + ladder.Chart.Sections.Sum(s => s.Bars.Count)) + 48L * ladder.TradeOffs.Count;

    /// <summary>About what a section of a chart takes: a bar with its chords, words and places some 500 bytes, a letter of
    /// the text two.</summary>
    private static long BytesOf(Section section) =>
        500L * section.Bars.Count + 2L * section.Bars.Sum(b => b.Span?.Content.Length ?? 0);

    private static long BytesOf(LadderOutline outline) =>
        200 + outline.Rungs.Sum(r => r is null ? 0 : 240 + 150L * r.Chords.Count + 40L * r.Changes.Count);
}
