using BitFaster.Caching.Lru;
using Tembri.Core;
using Tembri.Core.Charts;
using Tembri.Core.Ladders;
using Tembri.Core.Students;
using Tembri.Web.Computing;

namespace Tembri.Web.Ladders;

/// <summary>Ladders and outlines already made, by the stamp of everything they were made of. Only a saving of work: losing it changes nothing.</summary>
internal sealed class LadderShelf
{
    private const long MostLadderBytes = 96_000_000;
    private const long MostOutlineBytes = 32_000_000;
    private const int MostLadders = 4_000;
    private const int MostOutlines = 60_000;
    private readonly LadderBuilder _builder;
    private readonly ByteBound<ArrangementStamp, Ladder> _ladders = new(MostLadders, MostLadderBytes, BytesOf);
    private readonly ByteBound<ArrangementStamp, LadderOutline> _outlines = new(MostOutlines, MostOutlineBytes, BytesOf);

    public LadderShelf(LadderBuilder builder) => _builder = builder;

    /// <summary>The ladder of a stamp, when it is known.</summary>
    public bool TryGet(in ArrangementStamp stamp, out Ladder? ladder) => _ladders.TryGet(stamp, out ladder);

    /// <summary>The ladder for a request, built now unless it was built before. Computes where it is called: within a lane.</summary>
    public Ladder Get(in ArrangementStamp stamp, ArrangementRequest request, WorkLimits work)
    {
        if (_ladders.TryGet(stamp, out var known)) return known!;
        var ladder = _builder.Build(request, work);
        _ladders.Put(stamp, ladder);
        return ladder;
    }

    /// <summary>The same for a chart text that is not stored.</summary>
    public Ladder Get(string chartText, ArrangementRequest request, WorkLimits work) =>
        Get(ArrangementStamp.Of(ArrangementStamp.DigestOf(chartText), request), request, work);

    /// <summary>The outline of a stamp, when it is known.</summary>
    public LadderOutline? OutlineOf(in ArrangementStamp stamp) => _outlines.TryGet(stamp, out var known) ? known : null;

    /// <summary>Remembers an outline.</summary>
    public void Put(in ArrangementStamp stamp, LadderOutline outline) => _outlines.Put(stamp, outline);

    // Measured (bench kinds): about 97 kB for a song of nine chords and forty bars.
    private static long BytesOf(Ladder ladder) =>
        20_000 + 7_000L * ladder.Flow.Chords.Count + 260L * (ladder.Flow.PlayedBars + ladder.Chart.Sections.Sum(s => s.Bars.Count)) + 48L * ladder.TradeOffs.Count;

    private static long BytesOf(LadderOutline outline) => 200 + outline.Rungs.Sum(r => r is null ? 0 : 240 + 150L * r.Chords.Count + 40L * r.Changes.Count);

    /// <summary>What was not asked for lately goes when the bytes are over.</summary>
    private sealed class ByteBound<TKey, TValue> where TKey : notnull where TValue : class
    {
        private const int FewestKept = 4;
        private readonly ConcurrentLru<TKey, TValue> _values;
        private readonly long _most;
        private readonly Func<TValue, long> _size;
        private long _bytes;

        public ByteBound(int mostValues, long mostBytes, Func<TValue, long> size)
        {
            (_values, _most, _size) = (new ConcurrentLru<TKey, TValue>(mostValues), mostBytes, size);
            _values.Events.Value!.ItemRemoved += (_, removed) => Interlocked.Add(ref _bytes, -(removed.Value is null ? 0 : _size(removed.Value)));
        }

        public bool TryGet(in TKey key, out TValue? value) => _values.TryGet(key, out value);

        public void Put(in TKey key, TValue value)
        {
            if (!ReferenceEquals(_values.GetOrAdd(key, _ => value), value)) return;
            if (Interlocked.Add(ref _bytes, _size(value)) <= _most) return;
            while (Interlocked.Read(ref _bytes) > _most && _values.Count > FewestKept) _values.Policy.Eviction.Value!.Trim(1 + _values.Count / 32);
        }
    }
}
