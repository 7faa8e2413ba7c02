using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Microsoft.Extensions.Caching.Memory;
using Tembri.Core.Ladders;

namespace Tembri.Web.Ladders;

/// <summary>Ladders already built, by the stamp of everything they were built from. Only a saving of work: losing it changes nothing.</summary>
internal sealed class LadderCache : IDisposable
{
    /// <summary>Goes up when the model gives other numbers; stored grades of older versions are computed anew.</summary>
    public const int ModelVersion = 11;

    private const int MostLadders = 300;
    private readonly SemaphoreSlim[] _turns = [.. Enumerable.Range(0, 32).Select(_ => new SemaphoreSlim(1, 1))];
    private readonly MemoryCache _cache = new(new MemoryCacheOptions { SizeLimit = MostLadders });

    /// <summary>The ladder for a request, built now unless it was built before.</summary>
    public Ladder Get(string stamp, LadderRequest request) => _cache.GetOrCreate(stamp, entry =>
    {
        entry.Size = 1;
        entry.SlidingExpiration = TimeSpan.FromHours(2);
        return LadderBuilder.Build(request);
    })!;

    /// <summary>One song is graded by one request at a time; others wait and then find the work done.</summary>
    public SemaphoreSlim GradingTurn(Guid songId) => _turns[(songId.GetHashCode() & int.MaxValue) % _turns.Length];

    /// <summary>A short text that changes whenever the ladder could.</summary>
    public static string Stamp(string chartText, LadderRequest request)
    {
        var parts = JsonSerializer.Serialize(new
        {
            ModelVersion, chartText, request.Chart.TuningShift, request.Aim, request.HighestCapo, request.Company, request.Capo,
            Hand = request.Player.Hand.Id, Guitar = request.Player.Guitar.Id, request.Player.Thumb, request.Player.Barres, request.Player.Skills,
            Locks = request.Locks.Select(l => $"{l.Rung} {l.Chord} {l.Capo} {l.Shape} {string.Join("", l.Fingers?.Select(f => (int)f) ?? [])}").Order(StringComparer.Ordinal),
        });
        return Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(parts)));
    }

    public void Dispose() => _cache.Dispose();
}
