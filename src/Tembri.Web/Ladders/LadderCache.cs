using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.Caching.Memory;
using Tembri.Core.Ladders;
using Tembri.Web.Computing;

namespace Tembri.Web.Ladders;

/// <summary>Ladders already built, by the stamp of everything they were built from. Only a saving of work: losing it changes nothing.</summary>
internal sealed class LadderCache(ComputeLanes lanes) : IDisposable
{
    /// <summary>Goes up when the model gives other numbers; stored grades of older versions are computed anew.</summary>
    public const int ModelVersion = 12;

    private const long MostBytes = 96_000_000;
    private const long BytesAtLeast = 60_000;
    private const long BytesPerChord = 30_000;    // choices at ten positions on five rungs
    private const long BytesPerBar = 900;
    private readonly SemaphoreSlim[] _turns = [.. Enumerable.Range(0, 32).Select(_ => new SemaphoreSlim(1, 1))];
    private readonly MemoryCache _cache = new(new MemoryCacheOptions { SizeLimit = MostBytes });

    /// <summary>The ladder for a request, built now unless it was built before.</summary>
    /// <exception cref="TooBusyException">Too many wait for theirs, or it took too long.</exception>
    public async Task<Ladder> GetAsync(string stamp, LadderRequest request, CancellationToken leaving)
    {
        if (_cache.TryGetValue(stamp, out Ladder? known)) return known!;
        var ladder = await BuildAsync(request, leaving);
        var bars = request.Chart.Sections.Sum(s => s.Bars.Count) + request.Chart.PlayedBars().Count();
        _cache.Set(stamp, ladder, new MemoryCacheEntryOptions { Size = BytesAtLeast + BytesPerChord * ladder.Flow.Chords.Count + BytesPerBar * bars, SlidingExpiration = TimeSpan.FromMinutes(30) });
        return ladder;
    }

    /// <summary>Builds a ladder that is not kept.</summary>
    public Task<Ladder> BuildAsync(LadderRequest request, CancellationToken leaving) => lanes.ForPageAsync(work => LadderBuilder.Build(request, work), leaving);

    /// <summary>One song is graded by one request at a time; others wait and then find the work done.</summary>
    public SemaphoreSlim GradingTurn(Guid songId) => _turns[(songId.GetHashCode() & int.MaxValue) % _turns.Length];

    /// <summary>A short text that stands for a chart's text in stamps.</summary>
    public static string Digest(string chartText) => Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(chartText)));

    /// <summary>A short text that changes whenever the ladder could.</summary>
    /// <param name="chart">The <see cref="Digest"/> of the chart's text.</param>
    /// <param name="tuning">The tuning decided on; null for the chart's own.</param>
    /// <param name="request">All else it depends on.</param>
    public static string Stamp(string chart, int? tuning, LadderRequest request)
    {
        var parts = JsonSerializer.Serialize(new
        {
            ModelVersion, chart, tuning, request.Aim, request.HighestCapo, request.Company, request.Capo,
            Hand = request.Player.Hand.Id, Guitar = request.Player.Guitar.Id, request.Player.Thumb, request.Player.Barres, request.Player.Skills,
            Locks = request.Locks.Select(l => $"{l.Rung} {l.Chord} {l.Capo} {l.Shape} {string.Join("", l.Fingers?.Select(f => (int)f) ?? [])}").Order(StringComparer.Ordinal),
        });
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(parts)));
    }

    public void Dispose() => _cache.Dispose();
}
