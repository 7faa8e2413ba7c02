using System.Collections.Concurrent;
using System.Threading.Channels;
using Microsoft.EntityFrameworkCore;
using Tembri.Data;
using Tembri.Web.Faults;

namespace Tembri.Web.Accounts;

/// <summary>Writes down when sessions were seen last, behind the answers: no page waits for it, and a page that a standby has is
/// shown while nothing can be written.</summary>
internal sealed class SeenSessions(IServiceScopeFactory scopes, TimeProvider clock, ILogger<SeenSessions> log)
    : BackgroundService
{
    private const int AtOnce = 500;

    private readonly Channel<Guid> _waiting = Channel.CreateUnbounded<Guid>(new UnboundedChannelOptions { SingleReader = true });

    // A session waits once, however often it is seen meanwhile; so no more wait than stand.
    private readonly ConcurrentDictionary<Guid, byte> _noted = [];

    /// <summary>A session that stands was seen now.</summary>
    public void See(Guid session)
    {
        if (_noted.TryAdd(session, 0)) _waiting.Writer.TryWrite(session);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (await _waiting.Reader.WaitToReadAsync(stoppingToken))
        {
            var seen = new List<Guid>();
            while (seen.Count < AtOnce && _waiting.Reader.TryRead(out var session)) seen.Add(session);
            try { await WriteAsync(seen, stoppingToken); }
            // Whoever looks again is noted again.
            catch (Exception e) when (DatabaseFaults.IsOutage(e)) { }
            catch (Exception e) when (e is not OperationCanceledException || !stoppingToken.IsCancellationRequested)
            {
                log.LogError("When sessions were seen could not be written: {Fault}", e.GetType().Name);
            }
            foreach (var session in seen) _noted.TryRemove(session, out _);
        }
    }

    private async Task WriteAsync(List<Guid> seen, CancellationToken leaving)
    {
        var now = clock.GetUtcNow();
        await using var scope = scopes.CreateAsyncScope();
        var context = scope.ServiceProvider.GetRequiredService<TembriDbContext>();
        await context.Sessions.Where(s => seen.Contains(s.Id) && s.SeenAt < now)
            .ExecuteUpdateAsync(set => set.SetProperty(s => s.SeenAt, now), leaving);
    }
}
